"""Rough grass: a sward of short blades over thatch, tufts that fall over, bare earth, clover and moss."""

from __future__ import annotations

import math

import numpy as np
from numpy.typing import NDArray

from elvatch.core.stock import periodic, scatter
from elvatch.core.stock.generators import common, heap
from elvatch.core.stock.generators.common import Drawing, Map, Wanted
from elvatch.core.stock.generators.controls import Control
from elvatch.core.stock.pebble import PebbleStyle

TILE_M = 2.0
CONTROLS = (
    Control("length", "blade length", "cm", 3.0, 14.0, 7.0, 0.5, "of a usual blade"),
    Control("dry", "dry", "", 0.0, 1.0, 0.5, 0.05, "how many blades are straw"),
    Control("blades", "blades", "times", 0.4, 1.3, 1.0, 0.05, "how densely they stand"),
)
_CRUMBS = ((0.012, 900), (0.006, 5000))


def draw(wanted: Wanted) -> Drawing:
    """Draw rough grass, seamless over 2 m; see :class:`Wanted`."""
    size, run = wanted.size, wanted.run
    rng = np.random.default_rng(wanted.seed)
    pixel_m = TILE_M / size
    tufts = 0.6 * wanted.noise(13, 1, 4, 0.6) + 0.5 * wanted.noise(5, 4, 3, 0.5)
    floor = wanted.noise(4, 2, 4, 0.5) * 0.018 + common.smoothstep(-0.15, 0.5, tufts) * 0.013
    bed = scatter.Scattered.floor(floor.astype(np.float32), pixel_m)
    heap.stones(wanted, rng, bed, _CRUMBS, lambda radius: PebbleStyle(radius, 1.2, 0.6, 2.0, 0.3, 0.0, 0.2, 0.45))
    bed.owner[:] = -1
    crumbs = bed.height.copy()
    # grass stands thick in tufts and leaves bare places between
    thick = np.clip(0.74 + 1.15 * tufts + 0.5 * wanted.noise(4, 3, 3), 0.03, 1.0)
    thatch = _thatch(wanted, rng, crumbs)
    scatter.lay_blades(bed, thatch, 0)
    run.at(0.45)
    blades = _blades(wanted, rng, crumbs, thick, floor)
    scatter.lay_blades(bed, blades, len(thatch))
    run.at(0.7)
    return Drawing(*_paint(wanted, rng, bed, crumbs, len(thatch), len(thatch) + len(blades)), TILE_M)


def _thatch(wanted: Wanted, rng: np.random.Generator, floor: Map) -> NDArray[np.float32]:
    """Dead blades that lie flat under the living."""
    count = 26000
    out = np.zeros((count, scatter.BLADE_NUMBERS), np.float32)
    out[:, 0:2] = rng.uniform(0, TILE_M, (count, 2))
    out[:, 2] = floor[scatter.pixels(out[:, 0:2].astype(np.float64), wanted.size, TILE_M)] + 0.0015
    out[:, 3] = 0.045 * np.clip(rng.lognormal(0, 0.4, count), 0.3, 2.2)
    out[:, 4] = rng.uniform(0, 2 * math.pi, count)
    out[:, 5] = rng.normal(0, 0.9, count)
    out[:, 6] = 0.0026
    out[:, 7] = 0.003 * rng.random(count)
    return out


def _blades(wanted: Wanted, rng: np.random.Generator, ground: Map, thick: Map, floor: Map) -> NDArray[np.float32]:
    """Living blades: short strokes where they stand up, longer where a tuft falls over, leaning by places."""
    size, controls = wanted.size, wanted.controls
    count = round(118000 * controls["blades"])
    places = rng.uniform(0, TILE_M, (count, 2))
    places = places[rng.random(count) < thick[scatter.pixels(places, size, TILE_M)]]
    at, count = scatter.pixels(places, size, TILE_M), len(places)
    longer = controls["length"] / 100 * np.clip(rng.lognormal(-0.1, 0.38, count), 0.3, 2.2) * (0.7 + 0.5 * thick[at])
    fallen = rng.beta(1.5, 1.5, count)
    lean = np.arctan2(wanted.noise(5, 5, 4, 0.6)[at] + 1e-3, wanted.noise(5, 6, 4, 0.6)[at])
    out = np.zeros((count, scatter.BLADE_NUMBERS), np.float32)
    out[:, 0:2], out[:, 2] = places, ground[at] + 0.004
    out[:, 3] = longer * (0.25 + 0.75 * fallen)
    out[:, 4] = lean + rng.normal(0, 1.05, count)
    out[:, 5] = rng.normal(0, 0.7, count)
    out[:, 6] = 0.0030 * np.clip(rng.lognormal(0, 0.3, count), 0.6, 1.9)
    out[:, 7] = longer * (0.95 - 0.62 * fallen) * 0.75
    return out


def _paint(
    wanted: Wanted, rng: np.random.Generator, bed: scatter.Scattered, crumbs: Map, thatch: int, every: int
) -> tuple[Map, Map, Map]:
    dryness = wanted.controls["dry"]
    who = np.maximum(bed.owner, 0)
    earth, dead = bed.owner < 0, (bed.owner >= 0) & (bed.owner < thatch)
    crumb = wanted.noise(150, 20, 3, 0.7)
    slow = wanted.noise(6, 21, 4, 0.55)
    straw_share = rng.beta(0.7, 1.7, every).astype(np.float32)[who]
    dry = np.clip(
        straw_share * 0.75 + 0.55 * slow - 0.25 * wanted.noise(17, 23, 4, 0.6) + 1.2 * (dryness - 0.45), 0, 1
    )
    fresh = np.array([0.070, 0.094, 0.034], np.float32)
    young = np.array([0.118, 0.138, 0.044], np.float32)
    straw = np.array([0.250, 0.212, 0.128], np.float32)
    age = rng.random(every).astype(np.float32)[who]
    blade = fresh + (young - fresh) * (age**2)[..., None]
    blade = blade + (straw - blade) * (dry**1.4)[..., None]
    blade = np.where(
        dead[..., None], np.array([0.150, 0.124, 0.082], np.float32) * (0.6 + 0.7 * age)[..., None], blade
    )
    # deep among the blades it is dark and brown, tips catch the light
    depth = np.clip((bed.height - periodic.blur(bed.height, 0.02 / bed.pixel_m)) / 0.022 + 0.55, 0, 1)
    tone = common.tone(rng, every, 0.2)[who]
    colour = blade * ((0.42 + 0.62 * depth) * (0.72 + 0.42 * bed.inner) * tone)[..., None]
    soil = np.array([0.060, 0.046, 0.032], np.float32) * (0.9 + 0.45 * crumb)[..., None]
    moss = common.smoothstep(0.05, 0.35, wanted.noise(13, 22, 4, 0.6))
    ground = (
        soil + (np.array([0.052, 0.062, 0.022], np.float32) * (1 + 0.5 * crumb)[..., None] - soil) * moss[..., None]
    )
    colour = np.where(earth[..., None], ground, colour).astype(np.float32)
    colour = common.to_mean(common.even_out(colour, 0.5, 0.12), 0.088)
    rough = np.where(earth, 0.92, 0.74 + 0.1 * dry).astype(np.float32)
    # blades let light through: as a solid they would shade far too hard, so they are pressed
    form = periodic.blur(bed.height, 0.016 / bed.pixel_m)
    height = form * 0.6 + (periodic.blur(bed.height, 0.0012 / bed.pixel_m) - form) * 0.3
    return height.astype(np.float32), colour, rough
