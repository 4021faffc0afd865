"""Sample-set generators: materials drawn from things, seamless by construction."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from typing import NamedTuple

from elvatch.core import parallel
from elvatch.core.refusal import RefusalError
from elvatch.core.run import Run
from elvatch.core.stock import loaded, pyramid
from elvatch.core.stock.canonical import KeptMap
from elvatch.core.stock.description import Category
from elvatch.core.stock.generators import (
    cast_concrete,
    common,
    cracked_mud,
    gravel_track,
    moor_peat,
    pebbles,
    rough_grass,
    slate_bedrock,
    slate_scree,
    wet_silt,
)
from elvatch.core.stock.generators.controls import Control, complete
from elvatch.core.stock.pyramid import Pyramid

SIZES = (256, 512, 1024, 2048)


class Generator(NamedTuple):
    """A kind of material that can be made: its title, where it is filed, its controls, what draws it."""

    title: str
    category: Category
    tile_m: float
    controls: tuple[Control, ...]
    draw: Callable[[common.Wanted], common.Drawing]


GENERATORS = {
    "slate-bedrock": Generator(
        "Slate bedrock", "rock", slate_bedrock.TILE_M, slate_bedrock.CONTROLS, slate_bedrock.draw
    ),
    "slate-scree": Generator(
        "Slate scree", "scree and gravel", slate_scree.TILE_M, slate_scree.CONTROLS, slate_scree.draw
    ),
    "pebbles": Generator("Pebbles", "scree and gravel", pebbles.TILE_M, pebbles.CONTROLS, pebbles.draw),
    "gravel-track": Generator(
        "Gravel track", "scree and gravel", gravel_track.TILE_M, gravel_track.CONTROLS, gravel_track.draw
    ),
    "wet-silt": Generator("Wet silt", "soil and mud", wet_silt.TILE_M, wet_silt.CONTROLS, wet_silt.draw),
    "cracked-mud": Generator(
        "Cracked mud", "soil and mud", cracked_mud.TILE_M, cracked_mud.CONTROLS, cracked_mud.draw
    ),
    "moor-peat": Generator("Moor peat", "soil and mud", moor_peat.TILE_M, moor_peat.CONTROLS, moor_peat.draw),
    "rough-grass": Generator(
        "Rough grass", "grass and plants", rough_grass.TILE_M, rough_grass.CONTROLS, rough_grass.draw
    ),
    "cast-concrete": Generator(
        "Cast concrete", "concrete", cast_concrete.TILE_M, cast_concrete.CONTROLS, cast_concrete.draw
    ),
}


def draw(
    kind: str, size_px: int, seed: int, controls: Mapping[str, float] | None = None, run: Run | None = None
) -> common.MadeSet:
    """Draw a sample set.

    Parameters
    ----------
    kind : str
        A key of :data:`GENERATORS`.
    size_px : int
        Pixels along a side, 16 to 2048, even.
    seed : int
        Which one; the same seed and controls give the same set.
    controls : mapping, optional
        Values of its controls by name; the others are as usual.
    run : Run, optional
        Told how far it is.

    Raises
    ------
    RefusalError
        When kind, size or a control is none that it has.
    """
    controls = check(kind, size_px, controls or {})
    run = run or Run()
    wanted = common.Wanted(size_px * common.OVERSAMPLE, seed, controls, run.part(0, 0.9))
    with parallel.watching(run.token):
        drawn = GENERATORS[kind].draw(wanted)
        run.at(0.9)
        return common.finish(drawn)


def check(kind: str, size_px: int, controls: Mapping[str, float]) -> dict[str, float]:
    """Refuse a kind, size or control that there is none of; return a value for every control."""
    if kind not in GENERATORS:
        raise RefusalError("kind", repr(kind[:40]), "one of " + ", ".join(GENERATORS), "choose one of these")
    if not 16 <= size_px <= SIZES[-1] or size_px % 2:
        raise RefusalError("size", f"{size_px} px", f"an even number from 16 to {SIZES[-1]}", "correct it")
    return complete(GENERATORS[kind].controls, controls)


def kept(made: common.MadeSet) -> list[KeptMap]:
    """Return a drawn set as maps to be kept: height and normal in 16 bits, the rest in 8."""
    of = loaded.kept
    return [
        of("colour", made.colour, 8, ""), of("normal", made.normal, 16, ""), of("roughness", made.roughness, 8, ""),
        of("occlusion", made.occlusion, 8, ""), of("height", made.height, 16, ""),
    ]  # fmt: skip


def stored(made: common.MadeSet) -> Pyramid:
    """Return a drawn set stored for lookups."""
    maps = pyramid.Maps(made.colour, made.normal, made.roughness, made.height, made.occlusion)
    return pyramid.build(maps, made.tile_m, made.relief_m)
