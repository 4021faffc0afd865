"""Lawn: mown blades standing close, cut straight, clover and a daisy here and there, thatch beneath."""

from __future__ import annotations

import math

import numpy as np
from numpy.typing import NDArray

from elvatch.core.stock import periodic, scatter
from elvatch.core.stock.generators import common
from elvatch.core.stock.generators.common import Drawing, Map, Wanted
from elvatch.core.stock.generators.controls import Control

TILE_M = 1.5
CONTROLS = (
    Control("height", "mown to", "cm", 1.5, 7.0, 3.2, 0.1, "how long blades were left"),
    Control("worn", "worn", "", 0.0, 1.0, 0.15, 0.05, "how thin and yellow it is in places"),
    Control("clover", "clover", "times", 0.0, 3.0, 1.0, 0.1, "how much grows between"),
)
_BLADES = 120000


def draw(wanted: Wanted) -> Drawing:
    """Draw a lawn, seamless over 1.5 m; see :class:`Wanted`."""
    size, _, controls, run = wanted
    rng = np.random.default_rng(wanted.seed)
    floor = wanted.noise(4, 1, 3, 0.5) * 0.006 + wanted.noise(90, 2, 3, 0.65) * 0.0016
    bed = scatter.Scattered.floor(floor.astype(np.float32), TILE_M / size)
    thin = np.clip(common.smoothstep(0.0, 0.5, wanted.noise(5, 3, 5, 0.6)) * controls["worn"] * 1.4, 0, 0.92)
    blades = _blades(wanted, rng, floor, thin)
    scatter.lay_blades(bed, blades, 0)
    run.at(0.5)
    leaves = _clover(wanted, rng, round(2600 * controls["clover"]))
    scatter.lay_blades(bed, leaves, len(blades))
    run.at(0.7)
    return Drawing(*_paint(wanted, rng, bed, thin, len(blades), len(blades) + len(leaves)), TILE_M)


def _blades(wanted: Wanted, rng: np.random.Generator, floor: Map, thin: Map) -> NDArray[np.float32]:
    size, long = wanted.size, wanted.controls["height"] / 100
    places = rng.uniform(0, TILE_M, (_BLADES, 2))
    places = places[rng.random(_BLADES) > thin[scatter.pixels(places, size, TILE_M)]]
    at, count = scatter.pixels(places, size, TILE_M), len(places)
    # all were cut at one height: they differ in how far they lean
    lean = rng.beta(2.0, 1.7, count)
    nap = np.arctan2(wanted.noise(3, 5, 3)[at] + 1e-3, wanted.noise(3, 6, 3)[at])
    out = np.zeros((count, scatter.BLADE_NUMBERS), np.float32)
    out[:, 0:2], out[:, 2] = places, floor[at] + 0.3 * long
    out[:, 3] = long * (0.45 + 1.0 * lean)
    out[:, 4] = nap + rng.normal(0, 0.9, count)
    out[:, 5] = rng.normal(0, 0.5, count)
    out[:, 6] = 0.0034 * np.clip(rng.lognormal(0, 0.22, count), 0.6, 1.6)
    out[:, 7] = long * (0.75 - 0.55 * lean) * rng.uniform(0.75, 1.0, count)
    return out


def _clover(wanted: Wanted, rng: np.random.Generator, plants: int) -> NDArray[np.float32]:
    """Three broad leaflets each, in patches."""
    places = rng.uniform(0, TILE_M, (plants, 2))
    patch = wanted.noise(4, 8, 3)[scatter.pixels(places, wanted.size, TILE_M)]
    places = places[patch + rng.normal(0, 0.12, plants) > 0.12]
    count, turn = len(places), rng.uniform(0, 2 * math.pi, len(places))
    out = np.zeros((count, 3, scatter.BLADE_NUMBERS), np.float32)
    for k in range(3):
        out[:, k, 0:2] = places
        out[:, k, 3], out[:, k, 6] = 0.011 * rng.uniform(0.7, 1.3, count), 0.0095
        out[:, k, 4] = turn + k * 2 * math.pi / 3
    out[:, :, 2] = wanted.controls["height"] / 100 * rng.uniform(0.75, 1.05, count)[:, None]
    out[:, :, 7] = 0.001
    return out.reshape(-1, scatter.BLADE_NUMBERS)


def _paint(
    wanted: Wanted, rng: np.random.Generator, bed: scatter.Scattered, thin: Map, blades: int, every: int
) -> tuple[Map, Map, Map]:
    who, earth, clover = np.maximum(bed.owner, 0), bed.owner < 0, bed.owner >= blades
    age = rng.random(max(every, 1)).astype(np.float32)[who]
    slow = wanted.noise(5, 20, 4, 0.55)
    green = np.array([0.056, 0.100, 0.024], np.float32)
    blade = green + (np.array([0.150, 0.185, 0.062], np.float32) - green) * np.clip(age + 0.3 * slow, 0, 1)[..., None]
    yellow = np.clip((age > 0.9) * 0.5 + thin * 1.1 * age, 0, 1)
    blade = common.mix(blade, (0.235, 0.205, 0.110), yellow)
    blade = np.where(
        clover[..., None], np.array([0.066, 0.108, 0.030], np.float32) * (0.85 + 0.4 * age)[..., None], blade
    )
    depth = np.clip((bed.height - periodic.blur(bed.height, 0.012 / bed.pixel_m)) / 0.010 + 0.6, 0, 1)
    colour = blade * ((0.26 + 0.82 * depth) * (0.78 + 0.34 * bed.inner))[..., None]
    crumb = wanted.noise(150, 21, 3, 0.7)
    thatch = np.array([0.100, 0.080, 0.050], np.float32) * (0.9 + 0.5 * crumb)[..., None]
    colour = np.where(earth[..., None], thatch, colour).astype(np.float32)
    colour = common.to_mean(common.even_out(colour, 0.5, 0.12), 0.092)
    form = periodic.blur(bed.height, 0.012 / bed.pixel_m)
    height = form * 0.8 + (periodic.blur(bed.height, 0.0008 / bed.pixel_m) - form) * 0.42
    rough = np.where(earth, 0.9, 0.7 + 0.08 * yellow).astype(np.float32)
    return height.astype(np.float32), colour, rough
