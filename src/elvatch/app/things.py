"""What can be asked of things: those that are kept, pictures of them beside the surveyor, models brought in."""

from __future__ import annotations

import math
from functools import cached_property

import numpy as np
from numpy.typing import NDArray

from elvatch.app.covers import Covers
from elvatch.app.strews import Strews
from elvatch.core import digest
from elvatch.core.cache import Cache
from elvatch.core.cover import on_thing
from elvatch.core.document import begin_strew
from elvatch.core.document.fit import Fit
from elvatch.core.document.layer import Layer, Look
from elvatch.core.document.light import Light
from elvatch.core.document.recipe import Peg, Recipe, Stand, Stands
from elvatch.core.document.rule import OnNoise, Rule
from elvatch.core.document.strew import Added, Looks, Mixed, Standing, Strew
from elvatch.core.document.thing import BroughtThing, Thing
from elvatch.core.formats import isolated, png
from elvatch.core.ground.description import FlatSource, Ground
from elvatch.core.ground.heightfield import Heightfield
from elvatch.core.light.lamp import lamp
from elvatch.core.parallel import Token
from elvatch.core.picture.camera import FIGURE_ASIDE
from elvatch.core.picture.picture import Renderer, Setting, View
from elvatch.core.picture.terrain import Terrain, terrain
from elvatch.core.refusal import RefusalError
from elvatch.core.results import result
from elvatch.core.rules.evidence import Evidence
from elvatch.core.stock import pyramid
from elvatch.core.stock.pyramid import Pyramid
from elvatch.core.strew.field import Field, stocked
from elvatch.core.strew.laid import On
from elvatch.core.thing import brought
from elvatch.core.thing.brought import Up
from elvatch.core.thing.model import Model
from elvatch.store.store import Store

_SET = "0" * 40
_MOST_SHOWN = 4
_ACROSS_M = 60.0
_NO_FURTHER_ASIDE_M = 12.0
"""From here on a picture looks no further past the figure."""
_LEVEL = Recipe(
    ground=Ground(width_m=_ACROSS_M, depth_m=_ACROSS_M, source=FlatSource(samples=65)),
    peg=Peg(east_m=_ACROSS_M / 2, north_m=_ACROSS_M / 2),
    light=Light(beyond="ground"),
)
"""Bare earth that things are pictured on."""
_BESIDE_M = 0.62
"""From the figure's middle to where a row begins: past its rod or its arm."""


@result
class ThingLine:
    """A thing that is kept, how a strew of it begins, and how large its usual ones are, metres."""

    id: str
    thing: Thing
    begins: Strew
    triangles: list[int]


@result
class BroughtIn:
    """A model that was brought in: the thing, what was told of it, whether its unit and its upright were known."""

    thing: Thing
    triangles: int
    kept_triangles: int
    longest_m: float
    notes: list[str]
    told_up: bool
    told_unit: bool
    begins: Strew
    textures: int


class Things:
    """Things of one store.

    Parameters
    ----------
    store : Store
        Where they are kept.
    strews : Strews
        Who makes their models.
    covers : Covers
        Who knows what is painted on them, and the sheets of their wear.
    """

    def __init__(self, store: Store, strews: Strews, covers: Covers) -> None:
        self._store, self._strews, self._covers = store, strews, covers
        self._renderer = Renderer(4)
        self._pictures = Cache[NDArray[np.uint8]](64)
        self._land = Cache[Terrain](1)
        self._ground = Cache[Pyramid](1)

    @cached_property
    def _evidence(self) -> Evidence:
        """What rules may read there."""
        return self._covers.evidence(_LEVEL)

    def all(self) -> list[ThingLine]:
        """Return what is kept, by name."""
        return [self._line(id, thing) for id, _, thing in self._store.things.all()]

    def _line(self, id: str, thing: Thing) -> ThingLine:
        return ThingLine(id, thing, self.begins(thing), self._strews.model(thing).triangles)

    @staticmethod
    def begins(thing: Thing) -> Strew:
        """Return how a strew of a thing begins."""
        return begin_strew.of(thing)

    def keep(self, thing: Thing) -> ThingLine:
        """Keep a thing under its name, in place of one of the same name."""
        self._strews.model(thing)
        return self._line(self._store.things.keep(thing.name, thing, list(thing.files())), thing)

    def forget(self, id: str) -> None:
        """Keep a thing no longer; sites that strew it stay as they are."""
        self._store.things.remove(id)

    def bring(self, name: str, data: bytes, up: Up | None, unit: str | None, id: str) -> BroughtIn:
        """Read a model, let it stand, keep what was made of it; what the file does not tell is as told here.

        Raises
        ------
        RefusalError
            When it is no model that can be used; nothing is kept then.
        """
        found = isolated.model(name, data)
        known_up: Up = "y" if found.up == "y" else "z"
        stands = brought.upright(found, up or known_up, unit or "m")
        file = self._store.files.put(brought.packed(stands.solid))
        title = name.rsplit("/", 1)[-1].rsplit(".", 1)[0][:80] or "thing"
        thing = Thing(
            id=id, name=title, source=BroughtThing(file=file, file_name=name[-80:], longest_m=stands.longest_m)
        )
        return BroughtIn(
            thing,
            stands.triangles,
            len(stands.solid.triangles),
            stands.longest_m,
            stands.notes,
            found.up is not None,
            found.in_metres,
            self.begins(thing),
            len(stands.solid.images),
        )

    def texture(self, file: str, number: int) -> bytes:
        """Return one of the textures of a model that was brought in, as PNG without its alpha.

        Raises
        ------
        RefusalError
            When there is no such model or texture.
        """
        images = brought.unpacked(self._store.files.get(file)).images
        if not 0 <= number < len(images):
            raise RefusalError("texture", f"number {number}", f"0 to {len(images) - 1}", "choose one that is there")
        return png.encode(np.ascontiguousarray(images[number].texels[..., :3]))

    def portrait(
        self,
        thing: Thing,
        width_px: int,
        height_px: int,
        token: Token | None = None,
        figure: bool = True,
        bearing_deg: float = 345.0,
    ) -> bytes:
        """Return a picture of a thing's variants in a row beside the surveyor, in what covers them, as PNG.

        What a cover asks of a site it finds on level earth: its water, what is strewn and what lies beside are not
        there.

        Raises
        ------
        RefusalError
            When the cover is of a set that is not in the stock.
        """
        seen: list[object] = [width_px, height_px, figure, bearing_deg]
        if thing.cover.shows:
            seen.append(on_thing.name_of(thing.cover, self._store.stock, self._evidence))
        name = digest.of_json([digest.of_part(thing.source), *seen])
        found = self._pictures.get(
            name, lambda: self._taken(thing, (width_px, height_px), figure, bearing_deg, token)
        )
        return png.encode(found)

    def _taken(
        self, thing: Thing, size: tuple[int, int], figure: bool, bearing_deg: float, token: Token | None
    ) -> NDArray[np.uint8]:
        model, begins = self._strews.model(thing), self.begins(thing)
        land = self._land.get("", lambda: terrain(Heightfield(np.zeros((65, 65), np.float32), _ACROSS_M, _ACROSS_M)))
        field, wide = _row(thing, model, begins, land, figure, bearing_deg)
        high = float(model.height.max()) * begins.size.to_m
        bare = _ground_for(size, wide, high, figure, bearing_deg)
        recipe = bare.model_copy(update={"things": (thing,) if thing.cover.shows else ()})
        sets = {name: found for name in thing.cover.uses() if (found := self._store.stock.get(name)) is not None}
        ground = self._ground.get("", _earth)
        view = View("near" if figure else "far", *size, 4)
        taken = self._renderer.take(
            land,
            recipe,
            sets | {_SET: ground},
            view,
            token,
            evidence=self._evidence,
            setting=Setting(lamp(38.0), field),
        )
        return taken.pixels


def _half(model: Model, variant: int) -> float:
    """Return half the width of a variant, at a longest side of 1 m."""
    places = model.variants[variant][0].places
    return float(np.abs(places[:, :2]).max())


def _row(
    thing: Thing, model: Model, begins: Strew, land: Terrain, figure: bool, bearing_deg: float
) -> tuple[Field, float]:
    """Return a thing's variants side by side before the eye, from small to large, and how wide they stand, metres."""
    count = min(len(model.variants), _MOST_SHOWN)
    turn = math.radians(bearing_deg)
    left = -math.cos(turn), math.sin(turn)
    large, small = begins.size.to_m, begins.size.from_m
    reach = [small + (large - small) * (k + 1) / count for k in range(count)]
    whole = sum(2.1 * _half(model, k) * size for k, size in enumerate(reach))
    added, at, middle = [], _BESIDE_M if figure else -whole / 2, _ACROSS_M / 2
    for k, size in enumerate(reach):
        half = _half(model, k) * size
        at += half
        added.append(
            Added(
                number=k * 1_003,
                thing=thing.id,
                east_m=middle + left[0] * at,
                north_m=middle + left[1] * at,
                size_m=size,
            )
        )
        at += 1.1 * half
    strew = Strew(
        id="shown",
        name="shown",
        kinds=(Mixed(thing=thing.id),),
        per_100_m2=0.0,
        size=begins.size,
        stands=Standing(sunk_from=begins.stands.sunk_from, sunk_to=begins.stands.sunk_from, tilt_deg=0.0, leans=0.0),
        looks=Looks(of_ground=0.0, foot_m=begins.looks.foot_m),
        added=tuple(added),
    )
    found = stocked((strew,), {thing.id: model})
    on = On(land.survey, Evidence(_ACROSS_M, _ACROSS_M), (), lambda id: np.zeros((0, 3)), {thing.id: model.wide})
    name = digest.of_json([digest.of_part(thing.source), digest.of_part(strew), bearing_deg])
    return Field((strew,), (name,), found, on, (), name, {thing.id: model}, name), at if figure else whole


def _ground_for(size: tuple[int, int], wide: float, high: float, figure: bool, bearing_deg: float) -> Recipe:
    """Return level earth and a stand from which so much is seen."""
    view_deg = 30.0
    half = math.tan(math.radians(view_deg / 2))
    tall = max(1.1 * high, 2.1 if figure else 0.0)
    # the figure stands a little right of the middle, the row to its left
    across = half * size[0] / size[1]
    wanted = 1.06 * wide + 0.2
    distance = max(wanted / (across + FIGURE_ASIDE), (tall - 0.5) / (0.9 * half), 0.7)
    if distance > _NO_FURTHER_ASIDE_M:
        distance = max((wanted - FIGURE_ASIDE * _NO_FURTHER_ASIDE_M) / across, tall / (0.9 * half))
    if not figure:
        distance = max(0.58 * wide / across, 1.25 * tall / half, 0.35)
    stand = Stand(bearing_deg=bearing_deg, tilt_deg=10.0 if figure else 16.0, distance_m=distance, view_deg=view_deg)
    layer = Layer(
        id="earth",
        name="earth",
        set=_SET,
        fit=Fit(tile_m=3.0, relief_m=0.0),
        look=Look(variation=0.15, variation_size_m=2.0),
        rule=Rule(clauses=(OnNoise(),)),
    )
    return _LEVEL.model_copy(update={"layers": (layer,), "stands": Stands(far=stand, mid=stand, near=stand)})


def _earth() -> Pyramid:
    """Return plain earth for things to stand on."""
    rng = np.random.default_rng(5)
    tone = (0.2 + 0.012 * rng.normal(size=(64, 64, 1))).astype(np.float32) * np.array([1.05, 1.0, 0.92], np.float32)
    level = np.zeros((64, 64, 3), np.float32)
    level[..., 2] = 1.0
    full = np.ones((64, 64), np.float32)
    return pyramid.build(pyramid.Maps(tone, level, full * 0.95, full * 0.5, full), 3.0, 0.01)
