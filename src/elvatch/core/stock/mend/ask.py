"""What is asked of a set's mending, and doing it: one kind of request for each way."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Annotated, Literal

import numpy as np
from numpy.typing import NDArray
from pydantic import Field

from elvatch.core.parts import Part, Share
from elvatch.core.refusal import RefusalError
from elvatch.core.run import Run
from elvatch.core.stock import derive, roles
from elvatch.core.stock.canonical import Whole
from elvatch.core.stock.description import Origin
from elvatch.core.stock.loaded import Loaded, luminance, whole
from elvatch.core.stock.mend.even_light import even_light
from elvatch.core.stock.mend.reduce import reduced
from elvatch.core.stock.mend.seamless import Way, seamless
from elvatch.core.stock.roles import Role

Map = NDArray[np.float32]


class Seamless(Part):
    """Make it seamless; ``overlap`` is the share of its size that is laid over itself."""

    kind: Literal["seamless"] = "seamless"
    way: Way = "cut"
    overlap: float = Field(default=0.15, ge=0.02, le=0.5)


class EvenLight(Part):
    """Even out broad light and dark; ``broader_than`` is a share of the tile."""

    kind: Literal["even-light"] = "even-light"
    strength: Share = 0.8
    broader_than: float = Field(default=0.15, ge=0.03, le=0.6)


class Reduce(Part):
    """Make every map at most so many pixels wide."""

    kind: Literal["reduce"] = "reduce"
    px: int = Field(ge=16, le=8192)


class Derive(Part):
    """Derive one map from another, or from a number: roughness ``dark`` to ``light``, both alike for a constant."""

    kind: Literal["derive"] = "derive"
    role: Literal["normal", "height", "occlusion", "roughness"]
    source: Literal["height", "normal", "colour", "constant"]
    dark: Share = 0.7
    light: Share = 0.7


class Turn(Part):
    """Turn one map over: the green axis of a normal map, dark and light of any other."""

    kind: Literal["turn"] = "turn"
    role: Role


class Drop(Part):
    """Leave one map out of the set."""

    kind: Literal["drop"] = "drop"
    role: Role


MendAsk = Annotated[Seamless | EvenLight | Reduce | Derive | Turn | Drop, Field(discriminator="kind")]


@dataclass(frozen=True)
class Mended:
    """What mending gave: the maps, which of them are new with their notes, and what it is called."""

    loaded: Loaded
    notes: dict[Role, str]
    origin: Origin | None
    label: str


def mend(loaded: Loaded, ask: Seamless | EvenLight | Reduce | Derive | Turn | Drop, run: Run | None = None) -> Mended:
    """Mend a set.

    Parameters
    ----------
    loaded : Loaded
        Its maps; they are left as they are.
    ask : Seamless, EvenLight, Reduce, Derive, Turn or Drop
        What is wanted.
    run : Run, optional
        Told how far it is.

    Raises
    ------
    RefusalError
        When the set has not what it takes.
    """
    if isinstance(ask, Seamless):
        words = "cut along the least difference" if ask.way == "cut" else "blended by height"
        made = seamless(loaded, ask.way, ask.overlap, run)
        return Mended(made, dict.fromkeys(made.whole, f"made seamless, {words}"), None, f"made seamless, {words}")
    if isinstance(ask, EvenLight):
        flat = even_light(_need(loaded, "colour"), ask.strength, ask.broader_than)
        return _one(loaded, "colour", flat, loaded.bits["colour"], f"light evened by {ask.strength:.0%}", None)
    if isinstance(ask, Reduce):
        made = reduced(loaded, ask.px)
        changed = [role for role, values in made.whole.items() if values is not loaded.whole.get(role)]
        return Mended(made, dict.fromkeys(changed, f"reduced to {ask.px} px"), None, f"reduced to {ask.px} px")
    if isinstance(ask, Derive):
        return _derive(loaded, ask)
    if isinstance(ask, Turn):
        if roles.FACTS[ask.role].coloured:
            what = f"the {roles.FACTS[ask.role].title} map"
            raise RefusalError(what, "a picture in colours", "a map of directions or shares", "leave it as it is")
        return _turn(loaded, ask.role)
    left = {role: values for role, values in loaded.whole.items() if role != ask.role}
    if len(left) == len(loaded.whole) or not left:
        raise RefusalError("the set", "no such map, or no other", "another map to be left", "keep it")
    return Mended(
        Loaded(left, loaded.tile_m, loaded.relief_m), {}, None, f"{roles.FACTS[ask.role].title} map left out"
    )


def _need(loaded: Loaded, role: Role) -> Map:
    if role not in loaded:
        raise RefusalError("the set", f"no {_title(role)} map", "one to work from", "bring one in or derive it")
    return loaded.numbers(role)


def _one(loaded: Loaded, role: Role, values: Map, bits: int, note: str, origin: Origin | None) -> Mended:
    maps: dict[Role, Whole] = {**loaded.whole, role: whole(role, values, bits)}
    return Mended(Loaded(maps, loaded.tile_m, loaded.relief_m), {role: note}, origin, f"{_title(role)} {note}")


def _title(role: Role) -> str:
    return roles.FACTS[role].title


def _derive(loaded: Loaded, ask: Derive) -> Mended:
    tile, relief = loaded.tile_m, loaded.relief_m
    if ask.role == "roughness" and ask.source in ("colour", "constant"):
        if ask.source == "colour":
            values = derive.roughness_from_colour(luminance(_need(loaded, "colour")), ask.dark, ask.light)
            note = f"derived from base colour, {ask.dark:.2f} dark to {ask.light:.2f} light"
        else:
            size = max(one.shape[0] for one in loaded.whole.values())
            values, note = np.full((size, size), ask.dark, np.float32), f"constant {ask.dark:.2f}"
        return _one(loaded, "roughness", values, 8, note, "derived")
    if ask.role == "normal" and ask.source == "height":
        made = derive.normal_from_height(_need(loaded, "height"), tile, relief)
        return _one(loaded, "normal", made, 16, "derived from height", "derived")
    if ask.role == "occlusion" and ask.source == "height":
        shade = derive.occlusion_from_height(_need(loaded, "height"), tile, relief)
        return _one(loaded, "occlusion", shade, 8, "derived from height", "derived")
    if ask.role == "height" and ask.source == "normal":
        height, found = derive.height_from_normal(_need(loaded, "normal"), tile)
        mended = _one(loaded, "height", height, 16, f"derived from normal, {found * 1000:.0f} mm", "derived")
        # the relief is what the slopes say it is
        sized = Loaded(mended.loaded.whole, tile, float(np.clip(found, 1e-6, 50)))
        return Mended(sized, mended.notes, "derived", mended.label)
    raise RefusalError("derive", f"{ask.role} from {ask.source}", "a way that exists", "choose another source")


def _turn(loaded: Loaded, role: Role) -> Mended:
    _need(loaded, role)
    values = loaded.whole[role]
    turned: Whole = np.iinfo(values.dtype).max - values
    if role == "normal":
        green_turned = values.copy()
        green_turned[..., 1] = turned[..., 1]
        turned = green_turned
    note = "green axis turned over" if role == "normal" else "dark and light turned over"
    maps: dict[Role, Whole] = {**loaded.whole, role: turned}
    return Mended(Loaded(maps, loaded.tile_m, loaded.relief_m), {role: note}, None, f"{_title(role)}: {note}")
