"""Ash and cinder: dark porous clinker in fine ash, some burnt red, drifts of pale ash between."""

from __future__ import annotations

import numpy as np

from elvatch.core.stock import periodic, scatter
from elvatch.core.stock.generators import common, heap
from elvatch.core.stock.generators.common import Drawing, Map, Wanted
from elvatch.core.stock.generators.controls import Control
from elvatch.core.stock.pebble import PebbleStyle

TILE_M = 2.0
CONTROLS = (
    Control("clinker", "clinker", "times", 0.5, 1.6, 1.0, 0.05, "how coarse it is"),
    Control("ash", "ash", "", 0.0, 1.0, 0.4, 0.05, "how far fine ash fills the gaps"),
    Control("burnt", "burnt red", "", 0.0, 1.0, 0.3, 0.05, "how many pieces are rusty red"),
)
_SIZES = ((0.055, 60), (0.036, 300), (0.023, 1100), (0.014, 3400), (0.008, 8500))


def draw(wanted: Wanted) -> Drawing:
    """Draw ash and cinder, seamless over 2 m; see :class:`Wanted`."""
    size, controls = wanted.size, wanted.controls
    rng = np.random.default_rng(wanted.seed)
    bed = scatter.Scattered.floor(wanted.noise(3, 1, 4, 0.5) * 0.02, TILE_M / size)
    radii = heap.stones(
        wanted,
        rng,
        bed,
        _SIZES,
        lambda radius: PebbleStyle(radius, 1.25, 0.8, 2.0, 1.0, 0.5, 0.3, 0.3),
        controls["clinker"],
    )
    wanted.run.at(0.7)
    return Drawing(*_paint(wanted, rng, bed, len(radii)), TILE_M)


def _paint(wanted: Wanted, rng: np.random.Generator, bed: scatter.Scattered, count: int) -> tuple[Map, Map, Map]:
    controls = wanted.controls
    grit, pores = wanted.noise(240, 20, 2, 0.75), wanted.noise(95, 21, 3, 0.75)
    form = periodic.blur(bed.height, 0.05 / bed.pixel_m)
    level = np.percentile(bed.height - form, 3 + 55 * controls["ash"])
    top = form + level + 0.006 * wanted.noise(7, 22, 4, 0.55) + 0.0006 * grit
    loose = (bed.owner < 0) | (bed.height < top)
    # gas left holes in the slag
    hole = common.smoothstep(0.10, 0.42, pores) * ~loose
    height = np.maximum(bed.height - 0.0045 * hole + 0.0018 * pores * ~loose, top).astype(np.float32)
    who = np.maximum(bed.owner, 0)
    tones = common.tone(rng, count, 0.25)[who]
    red = (rng.random(count) < 0.55 * controls["burnt"])[who] * common.smoothstep(-0.3, 0.3, wanted.noise(12, 23, 4))
    slag = np.broadcast_to(np.array([0.058, 0.056, 0.056], np.float32), (*height.shape, 3))
    slag = common.mix(slag, (0.135, 0.062, 0.040), red * 0.75) * (tones * (1 + 0.15 * pores - 0.45 * hole))[..., None]
    ash = np.array([0.098, 0.094, 0.090], np.float32) * (1 + 0.22 * grit + 0.15 * wanted.noise(6, 24, 4))[..., None]
    colour = np.where(loose[..., None], ash, slag).astype(np.float32)
    powder = np.clip(common.dust(height, 0.012 / bed.pixel_m, 0.015) * 0.7, 0, 1)
    colour = common.mix(colour, (0.088, 0.085, 0.082), powder * 0.5)
    colour = common.to_mean(common.even_out(colour, 0.45, 0.12), 0.070)
    rough = np.where(loose, 0.94, 0.66 + 0.12 * hole + 0.05 * pores).astype(np.float32)
    return height, colour, rough
