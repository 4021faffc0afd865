"""Tarmac: rolled chippings held by binder, polished where wheels run, cracks sealed and open, a patch, grit."""

from __future__ import annotations

import numpy as np

from elvatch.core.stock import cells, periodic, scatter
from elvatch.core.stock.generators import common, heap
from elvatch.core.stock.generators.common import Drawing, Map, Wanted
from elvatch.core.stock.generators.controls import Control
from elvatch.core.stock.pebble import PebbleStyle

TILE_M = 2.5
CONTROLS = (
    Control("chippings", "chippings", "mm", 4.0, 14.0, 8.0, 0.5, "across a usual stone"),
    Control("worn", "worn", "", 0.0, 1.0, 0.5, 0.05, "how far binder has gone from the stones"),
    Control("cracks", "cracks", "", 0.0, 1.0, 0.35, 0.05, "how cracked it is"),
)


def draw(wanted: Wanted) -> Drawing:
    """Draw tarmac, seamless over 2.5 m; see :class:`Wanted`."""
    size, _, controls, run = wanted
    rng = np.random.default_rng(wanted.seed)
    bed = scatter.Scattered.floor(wanted.noise(3, 1, 3, 0.45) * 0.004, TILE_M / size)
    bed.height += wanted.noise(140, 2, 3, 0.7) * 0.0009
    radius = controls["chippings"] / 2000
    much = round(0.55 * (TILE_M / (2 * radius)) ** 2)
    radii = heap.stones(
        wanted,
        rng,
        bed,
        ((radius * 1.25, much // 6), (radius, much // 2), (radius * 0.6, much)),
        lambda one: PebbleStyle(one, 1.25, 0.7, 2.5, 0.35, 0.8, 0.08, 0.62),
    )
    run.at(0.7)
    return Drawing(*_paint(wanted, rng, bed, len(radii)), TILE_M)


def _cracks(wanted: Wanted, rng: np.random.Generator) -> tuple[Map, Map]:
    """Return open cracks and the seams of binder that others were sealed with, 0..1."""
    bend = tuple(wanted.noise(9, 40 + k, 5, 0.6) * 0.03 for k in range(2))
    net = cells.cells(rng, wanted.size, 3, (bend[0], bend[1]), left_out=0.2)
    fine = cells.cells(rng, wanted.size, 16, (bend[0] * 1.3, bend[1] * 1.3), left_out=0.25)
    where = common.smoothstep(0.05, 0.35, wanted.noise(4, 42, 4, 0.55))
    away = net.border * TILE_M * (1 + 0.4 * wanted.noise(60, 43, 3))
    sealed = common.smoothstep(0.017, 0.012, away) * common.smoothstep(0.2, 0.3, wanted.noise(3, 44, 2))
    crazed = common.smoothstep(0.28, 0.45, wanted.noise(4, 45, 4, 0.55))
    open_ = np.maximum(
        common.smoothstep(0.0040, 0.0018, away) * where * (1 - sealed),
        common.smoothstep(0.0030, 0.0014, fine.border * TILE_M) * crazed,
    )
    return open_, sealed


def _paint(wanted: Wanted, rng: np.random.Generator, bed: scatter.Scattered, count: int) -> tuple[Map, Map, Map]:
    controls = wanted.controls
    open_, sealed = _cracks(wanted, rng)
    some = float(np.clip(controls["cracks"] * 2.4, 0, 1))
    open_, sealed = open_ * some, sealed * some
    who, stone = np.maximum(bed.owner, 0), bed.owner >= 0
    fine, slow = wanted.noise(280, 20, 2, 0.75), wanted.noise(4, 21, 5, 0.55)
    kinds = np.array(
        [[0.185, 0.182, 0.176], [0.125, 0.122, 0.120], [0.270, 0.258, 0.240], [0.160, 0.120, 0.100]], np.float32
    )
    own = kinds[rng.choice(4, count, p=(0.4, 0.3, 0.2, 0.1))] * common.tone(rng, count, 0.2)[:, None]
    up = common.smoothstep(0.1, 0.75, bed.inner)
    bared = np.clip(controls["worn"] * 1.3 + 0.5 * slow, 0, 1) * up * stone
    binder = (
        np.array([0.040, 0.040, 0.042], np.float32)
        * (1 + 0.3 * fine + 0.3 * slow + 0.9 * controls["worn"])[..., None]
    )
    colour = binder + (own.astype(np.float32)[who] - binder) * bared[..., None]
    dirt = np.clip(common.dust(bed.height, 0.008 / bed.pixel_m, 0.004) * 0.8 + 0.4 * slow, 0, 1)
    colour = common.mix(colour, (0.118, 0.108, 0.094), dirt * 0.45 * controls["worn"])
    oil = common.smoothstep(0.42, 0.65, wanted.noise(6, 22, 4, 0.5))
    colour = colour * (1 - 0.45 * oil)[..., None]
    colour = common.mix(colour, (0.020, 0.020, 0.021), np.maximum(sealed * 0.9, open_ * 0.85))
    height = bed.height - 0.010 * open_ + sealed * 0.002
    height = height + sealed * (periodic.blur(bed.height, 0.01 / bed.pixel_m) - bed.height)
    colour = common.to_mean(common.even_out(colour), 0.060 + 0.045 * controls["worn"])
    rough = 0.80 - 0.12 * bared + 0.08 * dirt - 0.28 * oil - 0.25 * sealed
    return height.astype(np.float32), colour, np.clip(rough, 0.35, 1).astype(np.float32)
