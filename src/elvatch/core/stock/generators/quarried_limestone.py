"""Quarried limestone: broken faces at several scales, fresh and pale, ochre along old joints, dust and chips."""

from __future__ import annotations

import numpy as np

from elvatch.core.stock import cells, scatter
from elvatch.core.stock.generators import common, heap
from elvatch.core.stock.generators.common import Drawing, Map, Wanted
from elvatch.core.stock.generators.controls import Control
from elvatch.core.stock.pebble import PebbleStyle

TILE_M = 5.0
CONTROLS = (
    Control("broken", "broken", "times", 0.4, 1.8, 1.0, 0.1, "how far the faces stand out"),
    Control("stain", "ochre", "", 0.0, 1.0, 0.5, 0.05, "how stained the old joints are"),
    Control("chips", "chips", "times", 0.0, 2.0, 1.0, 0.1, "how many lie in the hollows"),
)


def draw(wanted: Wanted) -> Drawing:
    """Draw quarried limestone, seamless over 5 m; see :class:`Wanted`."""
    size, _, controls, run = wanted
    rng = np.random.default_rng(wanted.seed)
    total, tone = np.zeros((size, size), np.float32), np.zeros((size, size), np.float32)
    lines = np.zeros((size, size), np.float32)
    for number, (grid, level, lean) in enumerate(((7, 0.045, 0.17), (16, 0.014, 0.18), (44, 0.004, 0.17))):
        run.at(0.1 + 0.15 * number)
        faces = _faces(wanted, rng, grid, number)
        count = grid * grid
        tilt = rng.normal(0, lean, (2, count)).astype(np.float32)
        face = rng.normal(0, level, count).astype(np.float32)[faces.owner]
        face += (tilt[0][faces.owner] * faces.centre_x + tilt[1][faces.owner] * faces.centre_y) * np.float32(TILE_M)
        # neighbours meet without a step over most of their border
        total += face * common.smoothstep(0.0, 0.10 / grid, faces.border) if number else face
        tone += rng.normal(0, 0.05, count).astype(np.float32)[faces.owner]
        lines = np.maximum(lines, common.smoothstep(0.012 / grid + 0.0006, 0.0, faces.border) * (1.0 - 0.35 * number))
    rock = total * controls["broken"] + 0.004 * wanted.noise(50, 8, 5, 0.65) - 0.012 * lines
    bed = scatter.Scattered.floor((rock + 0.04 * wanted.noise(2, 9, 3, 0.5)).astype(np.float32), TILE_M / size)
    low = common.dust(bed.height, 0.14 / bed.pixel_m, 0.10)
    heap.stones(
        wanted,
        rng,
        bed,
        ((0.085, 60), (0.055, 300), (0.034, 1200), (0.018, 3600)),
        lambda radius: PebbleStyle(radius, 1.3, 0.75, 2.5, 0.3, 1.0, 0.3, 0.25),
        keep=np.clip((low * 1.6 - 0.05) * controls["chips"], 0, 1),
    )
    run.at(0.8)
    return Drawing(*_paint(wanted, bed, tone, lines), TILE_M)


def _faces(wanted: Wanted, rng: np.random.Generator, grid: int, number: int) -> cells.Cells:
    bend = tuple(wanted.noise(grid * 2, 40 + 2 * number + k, 4, 0.55) * (0.10 / grid) for k in range(2))
    return cells.cells(rng, wanted.size, grid, (bend[0], bend[1]), left_out=0.15)


def _paint(wanted: Wanted, bed: scatter.Scattered, tone: Map, lines: Map) -> tuple[Map, Map, Map]:
    size, controls = wanted.size, wanted.controls
    chip = bed.owner >= 0
    fine, patch = wanted.noise(220, 20, 3, 0.7), wanted.noise(5, 21, 5, 0.55)
    grey = np.broadcast_to(np.array([0.385, 0.362, 0.318], np.float32), (size, size, 3))
    colour = grey * (1 + tone + 0.08 * patch + 0.06 * fine + 0.07 * wanted.noise(40, 22, 4, 0.6))[..., None]
    ochre = common.smoothstep(0.0, 0.5, wanted.noise(4, 23, 5, 0.58) + 0.5 * lines) * controls["stain"]
    colour = common.mix(colour.astype(np.float32), (0.330, 0.225, 0.118), ochre * 0.6)
    weathered = common.smoothstep(0.15, 0.5, wanted.noise(6, 24, 5, 0.6))
    colour = common.mix(colour, (0.215, 0.210, 0.196), weathered * 0.55)
    colour = common.mix(colour, (0.130, 0.112, 0.088), np.clip(lines * 0.75, 0, 0.75))
    low = common.dust(bed.height, 0.12 / bed.pixel_m, 0.08)
    dust = np.clip(low * 0.9 + 0.2 * wanted.noise(14, 25, 4) - 0.2, 0, 1) * ~chip
    colour = common.mix(colour, (0.420, 0.390, 0.335), dust * 0.6)
    colour = common.mix(colour, (0.430, 0.405, 0.360), chip * 0.5)
    colour = common.to_mean(common.even_out(colour, 0.45, 0.12), 0.315)
    rough = 0.74 + 0.05 * fine + 0.18 * dust - 0.06 * ochre
    return bed.height, colour, np.clip(rough, 0.4, 1).astype(np.float32)
