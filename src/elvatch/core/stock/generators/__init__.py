"""Sample-set generators: materials drawn from things, seamless by construction."""

from __future__ import annotations

from collections.abc import Callable
from typing import NamedTuple

from elvatch.core.refusal import RefusalError
from elvatch.core.stock import pyramid
from elvatch.core.stock.generators import common, rough_grass, slate_bedrock, slate_scree, wet_silt
from elvatch.core.stock.pyramid import Pyramid


class Generator(NamedTuple):
    """A kind of material that can be made: its title and what draws it."""

    title: str
    draw: Callable[[int, int], common.Drawing]


GENERATORS = {
    "slate-bedrock": Generator("Slate bedrock", slate_bedrock.draw),
    "slate-scree": Generator("Slate scree", slate_scree.draw),
    "wet-silt": Generator("Wet silt", wet_silt.draw),
    "rough-grass": Generator("Rough grass", rough_grass.draw),
}


def make(kind: str, size_px: int, seed: int) -> Pyramid:
    """Make a sample set and store it for lookups.

    Parameters
    ----------
    kind : str
        A key of :data:`GENERATORS`.
    size_px : int
        Pixels along a side, a power of two.
    seed : int
        Which one; the same seed gives the same set.
    """
    if kind not in GENERATORS:
        raise RefusalError("kind", repr(kind), "one of " + ", ".join(GENERATORS), "choose one of these")
    made = common.finish(GENERATORS[kind].draw(size_px * common.OVERSAMPLE, seed))
    maps = pyramid.Maps(made.colour, made.normal, made.roughness, made.height, made.occlusion)
    return pyramid.build(maps, made.tile_m, made.relief_m)
