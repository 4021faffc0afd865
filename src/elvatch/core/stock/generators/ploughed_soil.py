"""Ploughed soil: furrows turned one way, clods of all sizes, crumbs, stones and last year's stubble."""

from __future__ import annotations

import math

import numpy as np

from elvatch.core.stock import periodic, scatter
from elvatch.core.stock.generators import common, heap
from elvatch.core.stock.generators.common import Drawing, Map, Wanted
from elvatch.core.stock.generators.controls import Control
from elvatch.core.stock.pebble import PebbleStyle

TILE_M = 3.0
_FURROWS = 9
CONTROLS = (
    Control("furrows", "furrow depth", "cm", 2.0, 16.0, 9.0, 0.5, "from ridge to bottom"),
    Control("clods", "clods", "times", 0.5, 1.6, 1.0, 0.05, "how coarse they are"),
    Control("stubble", "stubble", "times", 0.0, 3.0, 1.0, 0.1, "how much straw lies on it"),
    Control("damp", "damp", "", 0.0, 1.0, 0.4, 0.05, "how dark it still is"),
)
_SIZES = ((0.066, 120), (0.048, 420), (0.034, 1300), (0.020, 4200), (0.012, 10000))


def draw(wanted: Wanted) -> Drawing:
    """Draw ploughed soil, seamless over 3 m; furrows run along the picture."""
    size, _, controls, run = wanted
    rng = np.random.default_rng(wanted.seed)
    down = ((np.arange(size, dtype=np.float32) + 0.5) / size)[:, None]
    phase = (_FURROWS * (down + 0.010 * wanted.noise(3, 1, 4, 0.5))) % 1.0
    # the share turns the slice over: steep where it was cut, sloping where it fell
    slice_ = np.where(phase < 0.28, np.sin(phase / 0.28 * math.pi / 2), np.cos((phase - 0.28) / 0.72 * math.pi / 2))
    ridge = (slice_ * (0.8 + 0.4 * wanted.noise(9, 2, 4, 0.6))).astype(np.float32)
    floor = ridge * (controls["furrows"] / 100) + 0.010 * wanted.noise(24, 3, 5, 0.6)
    bed = scatter.Scattered.floor(floor.astype(np.float32), TILE_M / size)
    radii = heap.stones(
        wanted,
        rng,
        bed,
        _SIZES,
        lambda radius: PebbleStyle(radius, 1.2, 0.66, 2.1, 0.6, 0.5, 0.2, 0.5),
        controls["clods"],
    )
    straw = _straw(wanted, rng, bed, round(1300 * controls["stubble"]))
    scatter.lay_blades(bed, straw, len(radii))
    run.at(0.75)
    return Drawing(*_paint(wanted, rng, bed, ridge, len(radii), len(straw)), TILE_M)


def _straw(wanted: Wanted, rng: np.random.Generator, bed: scatter.Scattered, count: int) -> Map:
    places = rng.uniform(0, TILE_M, (count, 2))
    out = np.zeros((count, scatter.BLADE_NUMBERS), np.float32)
    out[:, 0:2] = places
    out[:, 2] = periodic.blur(bed.height, 0.02 / bed.pixel_m)[scatter.pixels(places, wanted.size, TILE_M)] + 0.006
    out[:, 3] = 0.09 * np.clip(rng.lognormal(0, 0.5, count), 0.3, 2.5)
    out[:, 4], out[:, 5] = rng.uniform(0, 2 * math.pi, count), rng.normal(0, 0.15, count)
    out[:, 6], out[:, 7] = 0.0042, 0.006 * rng.random(count)
    return out


def _paint(
    wanted: Wanted, rng: np.random.Generator, bed: scatter.Scattered, ridge: Map, clods: int, straw: int
) -> tuple[Map, Map, Map]:
    who = np.maximum(bed.owner, 0)
    stem = bed.owner >= clods
    crumb, fine = wanted.noise(90, 20, 4, 0.7), wanted.noise(260, 21, 2, 0.7)
    tones = common.tone(rng, clods + straw, 0.17)[who]
    flint = (rng.random(clods + straw) < 0.02)[who] & ~stem & (bed.owner >= 0)
    soil = np.array([0.098, 0.072, 0.050], np.float32) * (tones * (1 + 0.16 * crumb + 0.1 * fine))[..., None]
    # ridges dry first and turn pale
    dry = common.smoothstep(0.2, 0.9, ridge + 0.5 * wanted.noise(6, 22, 4) - 0.6 * (wanted.controls["damp"] - 0.4))
    colour = common.mix(soil, (0.165, 0.128, 0.092), dry * 0.55)
    low = common.dust(bed.height, 0.03 / bed.pixel_m, 0.03)
    colour = common.mix(colour, (0.045, 0.032, 0.023), low * 0.6)
    colour = common.mix(colour, (0.24, 0.225, 0.205), flint * 0.8)
    straws = np.array([0.270, 0.220, 0.130], np.float32) * (0.6 + 0.5 * tones)[..., None]
    colour = np.where(stem[..., None], straws, colour).astype(np.float32)
    height = bed.height + np.where(stem, 0, 0.0022 * crumb + 0.0007 * fine)
    colour = common.to_mean(common.even_out(colour, 0.5, 0.12), 0.088 - 0.025 * wanted.controls["damp"])
    rough = np.where(stem, 0.6, 0.92 - 0.1 * low - 0.12 * wanted.controls["damp"] * (1 - dry)).astype(np.float32)
    return height.astype(np.float32), colour, rough
