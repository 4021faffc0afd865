"""Moss: cushions of fine leafy shoots over wet ground, a dead leaf or twig here and there."""

from __future__ import annotations

import math

import numpy as np
from numpy.typing import NDArray

from elvatch.core.stock import pebble, periodic, scatter
from elvatch.core.stock.generators import common
from elvatch.core.stock.generators.common import Drawing, Map, Wanted
from elvatch.core.stock.generators.controls import Control
from elvatch.core.stock.pebble import PebbleStyle

TILE_M = 1.5
CONTROLS = (
    Control("cushions", "cushions", "times", 0.5, 1.8, 1.0, 0.1, "how large they are"),
    Control("fresh", "fresh", "", 0.0, 1.0, 0.55, 0.05, "how green, not brown and dry"),
    Control("bare", "bare", "", 0.0, 0.6, 0.12, 0.02, "how much earth shows"),
)
_SHOOTS = 150000


def draw(wanted: Wanted) -> Drawing:
    """Draw moss, seamless over 1.5 m; see :class:`Wanted`."""
    size, _, controls, run = wanted
    rng = np.random.default_rng(wanted.seed)
    pixel_m = TILE_M / size
    soil = wanted.noise(4, 1, 4, 0.5) * 0.012 + wanted.noise(60, 2, 4, 0.65) * 0.0018
    cushions = scatter.Scattered.floor(soil.astype(np.float32), pixel_m)
    first = 0
    for size_m, usual in ((0.13, 46), (0.075, 150), (0.04, 340), (0.022, 500)):
        radius, count = size_m * controls["cushions"], round(usual / controls["cushions"] ** 2)
        places = rng.uniform(0, TILE_M, (count, 2))
        lying = periodic.blur(cushions.height, radius * 0.5 / pixel_m)
        base = lying[scatter.pixels(places, size, TILE_M)].astype(np.float64)
        style = PebbleStyle(radius, 1.25, 0.34, 2.0, 0.5, 0.0, 0.05, 0.35)
        pebble.lay_pebbles(cushions, pebble.pebbles(rng, places, base, style), first)
        first += count
    run.at(0.35)
    ground = periodic.blur(cushions.height, 0.004 / pixel_m)
    grown = (cushions.owner >= 0) & (wanted.noise(9, 3, 4, 0.6) > -0.62 + 1.3 * controls["bare"])
    bed = scatter.Scattered.floor(np.where(grown, ground, soil - 0.004).astype(np.float32), pixel_m)
    shoots = _shoots(wanted, rng, bed, grown)
    scatter.lay_blades(bed, shoots, 0)
    run.at(0.7)
    return Drawing(*_paint(wanted, rng, bed, cushions, first, len(shoots)), TILE_M)


def _shoots(wanted: Wanted, rng: np.random.Generator, bed: scatter.Scattered, grown: NDArray[np.bool_]) -> Map:
    places = rng.uniform(0, TILE_M, (_SHOOTS, 2))
    places = places[grown[scatter.pixels(places, wanted.size, TILE_M)]]
    at, count = scatter.pixels(places, wanted.size, TILE_M), len(places)
    out = np.zeros((count, scatter.BLADE_NUMBERS), np.float32)
    out[:, 0:2], out[:, 2] = places, bed.height[at]
    out[:, 3] = 0.0085 * np.clip(rng.lognormal(0, 0.35, count), 0.4, 2.2)
    out[:, 4] = rng.uniform(0, 2 * math.pi, count)
    out[:, 5] = rng.normal(0, 1.0, count)
    out[:, 6] = 0.0019 * np.clip(rng.lognormal(0, 0.2, count), 0.7, 1.6)
    out[:, 7] = 0.0055 * rng.uniform(0.2, 1.3, count)
    return out


def _paint(
    wanted: Wanted,
    rng: np.random.Generator,
    bed: scatter.Scattered,
    cushions: scatter.Scattered,
    count: int,
    shoots: int,
) -> tuple[Map, Map, Map]:
    fresh = wanted.controls["fresh"]
    bare = bed.owner < 0
    whose, who = np.maximum(cushions.owner, 0), np.maximum(bed.owner, 0)
    fine = wanted.noise(170, 20, 3, 0.7)
    # each cushion its own kind: yellow green, deep green, or brown and dry
    kind = rng.random(count).astype(np.float32)[whose]
    deep, bright = np.array([0.040, 0.058, 0.016], np.float32), np.array([0.112, 0.124, 0.026], np.float32)
    brown = np.array([0.088, 0.066, 0.034], np.float32)
    green = deep + (bright - deep) * np.clip(kind * 1.2 - 0.1 + 0.3 * wanted.noise(7, 21, 4), 0, 1)[..., None]
    withered = common.smoothstep(0.1, 0.5, wanted.noise(8, 22, 4, 0.6) + 0.9 * (0.5 - fresh) + 0.25 * (kind - 0.5))
    green = green + (brown - green) * withered[..., None]
    depth = np.clip((bed.height - periodic.blur(bed.height, 0.010 / bed.pixel_m)) / 0.006 + 0.5, 0, 1)
    tone = common.tone(rng, shoots, 0.22)[who]
    colour = green * ((0.35 + 0.75 * depth) * (0.7 + 0.45 * bed.inner) * tone)[..., None]
    earth = np.array([0.048, 0.037, 0.026], np.float32) * (1 + 0.4 * fine)[..., None]
    colour = np.where(bare[..., None], earth, colour).astype(np.float32)
    colour = common.to_mean(common.even_out(colour), 0.062)
    form = periodic.blur(bed.height, 0.005 / bed.pixel_m)
    height = form + (bed.height - form) * 0.45
    rough = np.where(bare, 0.85, 0.88 + 0.06 * withered).astype(np.float32)
    return height.astype(np.float32), colour, rough
