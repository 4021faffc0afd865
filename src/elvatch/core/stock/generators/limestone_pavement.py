"""Limestone pavement: pale flat blocks parted by deep rounded clefts, runnels and pits, ferns and moss below."""

from __future__ import annotations

import numpy as np

from elvatch.core.stock import courses, periodic
from elvatch.core.stock.generators import common, heap
from elvatch.core.stock.generators.common import Drawing, Map, Wanted
from elvatch.core.stock.generators.controls import Control

TILE_M = 6.0
CONTROLS = (
    Control("clefts", "cleft width", "cm", 4.0, 30.0, 13.0, 1.0, "of a usual cleft between blocks"),
    Control("lichen", "lichen", "", 0.0, 1.8, 1.0, 0.1, "how much grows on the blocks"),
    Control("green", "green clefts", "", 0.0, 1.0, 0.6, 0.05, "how much grows in the clefts"),
)
_DEEP_M = 0.34


def draw(wanted: Wanted) -> Drawing:
    """Draw limestone pavement, seamless over 6 m; see :class:`Wanted`."""
    size, _, controls, run = wanted
    rng = np.random.default_rng(wanted.seed)
    bend = (wanted.noise(3, 1, 6, 0.55) * 0.05, wanted.noise(3, 2, 6, 0.55) * 0.06)
    laid = courses.lay(rng, courses.Bond((1, 2), 2, 3, uneven=0.5, ragged=0.55), size, bend)
    edge = laid.edge * TILE_M
    width = controls["clefts"] / 100 * np.clip(0.8 + 1.5 * wanted.noise(4, 3, 4), 0.12, 2.2)
    own = rng.random(laid.count).astype(np.float32)[laid.owner]
    inside = edge - width / 2 + 0.035 * wanted.noise(20, 4, 4, 0.6)
    cleft = common.smoothstep(0.02, -0.05, inside)
    # water ran down the blocks to the clefts in runnels, and stood in pans
    runnel = np.abs(wanted.noise(9, 5, 4, 0.55))
    runnels = common.smoothstep(0.10, 0.0, runnel) * common.smoothstep(0.55, 0.05, inside)
    pans = common.smoothstep(0.36, 0.5, wanted.noise(11, 6, 3, 0.5))
    run.at(0.4)
    rounding = np.clip(1 - np.maximum(inside, 0) / 0.16, 0, 1) ** 2.5
    layered = heap.flakes(wanted.noise(3, 7, 4, 0.5), 5) * 0.05
    rock = 0.05 * (own - 0.5) + layered - 0.09 * rounding - 0.045 * runnels - 0.03 * pans
    rock = rock + 0.006 * wanted.noise(40, 8, 5, 0.62) + 0.0012 * wanted.noise(280, 9, 2, 0.7)
    floor = -_DEEP_M + 0.08 * wanted.noise(14, 10, 4, 0.6)
    height = (rock * (1 - cleft) + floor * cleft).astype(np.float32)
    run.at(0.65)
    return Drawing(*_paint(wanted, rng, height, cleft, own, runnels, pans), TILE_M)


def _paint(
    wanted: Wanted, rng: np.random.Generator, height: Map, cleft: Map, own: Map, runnels: Map, pans: Map
) -> tuple[Map, Map, Map]:
    size, controls = wanted.size, wanted.controls
    fine, patch = wanted.noise(230, 20, 3, 0.7), wanted.noise(7, 21, 5, 0.58)
    low = common.dust(height, 0.10 / (TILE_M / size), 0.07)
    grey = np.broadcast_to(np.array([0.330, 0.322, 0.300], np.float32), (size, size, 3))
    light = 1 + 0.14 * (own - 0.5) + 0.15 * patch + 0.06 * fine + 0.10 * wanted.noise(60, 22, 4, 0.6)
    colour = grey * light[..., None]
    black = common.smoothstep(0.05, 0.45, wanted.noise(16, 23, 5, 0.62) + 0.4 * pans + 0.35 * runnels)
    colour = common.mix(colour.astype(np.float32), (0.135, 0.132, 0.122), black * 0.5)
    for grid, number, tint in ((40, 30, (0.50, 0.50, 0.46)), (74, 40, (0.42, 0.36, 0.20))):
        disc, kind = heap.spots(wanted, rng, grid, number, 0.5)
        grown = disc * (0.4 + 0.6 * kind) * common.smoothstep(-0.3, 0.3, patch) * controls["lichen"]
        colour = common.mix(colour, tint, np.clip(grown * 0.6 * (1 - cleft), 0, 1))
    soil = common.smoothstep(0.4, 0.9, low) * (1 - cleft) * 0.5
    colour = common.mix(colour, (0.150, 0.128, 0.098), soil)
    leaf = wanted.noise(110, 24, 4, 0.7)
    grows = common.smoothstep(0.05, 0.3, wanted.noise(8, 25, 4) + 0.9 * (controls["green"] - 0.5)) * cleft
    colour = common.mix(colour, (0.060, 0.050, 0.040), cleft * 0.9)
    green = np.array([0.062, 0.082, 0.028], np.float32) * (1 + 0.6 * leaf)[..., None]
    colour = (colour + (green - colour) * grows[..., None]).astype(np.float32)
    height = height + grows * (0.10 + 0.035 * leaf) + 0.0
    moss = common.smoothstep(0.35, 0.6, wanted.noise(13, 26, 5, 0.6) + 0.35 * low) * (1 - cleft) * controls["green"]
    colour = common.mix(colour, (0.080, 0.086, 0.034), moss * 0.7)
    colour = common.to_mean(common.even_out(colour), 0.265)
    rough = 0.72 + 0.06 * fine + 0.16 * cleft + 0.1 * moss
    return periodic.soften(height.astype(np.float32)), colour, np.clip(rough, 0.4, 1).astype(np.float32)
