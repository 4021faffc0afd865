"""Moor peat: dark crumbling peat with roots and fibres, dead stems, patches of moss and standing damp."""

from __future__ import annotations

import math

import numpy as np
from numpy.typing import NDArray

from elvatch.core import noise
from elvatch.core.stock import periodic, scatter
from elvatch.core.stock.generators import common, heap
from elvatch.core.stock.generators.common import Drawing, Wanted
from elvatch.core.stock.generators.controls import Control
from elvatch.core.stock.pebble import PebbleStyle

TILE_M = 2.0
CONTROLS = (
    Control("fibres", "fibres", "times", 0.2, 1.6, 1.0, 0.1, "how many roots and stems lie on it"),
    Control("moss", "moss", "", 0.0, 1.0, 0.35, 0.05, "how much of it is overgrown"),
    Control("wet", "wet", "", 0.0, 1.0, 0.4, 0.05, "how wet the hollows are"),
)
_CLODS = ((0.042, 150), (0.026, 1000), (0.015, 5200), (0.008, 15000))


def draw(wanted: Wanted) -> Drawing:
    """Draw moor peat, seamless over 2 m; see :class:`Wanted`."""
    size, seed, controls, run = wanted
    rng = np.random.default_rng(seed)
    pixel_m = TILE_M / size
    floor = noise.periodic(size, 4, seed, 5, 0.55) * 0.026 + noise.periodic(size, 40, seed + 1, 4, 0.65) * 0.006
    bed = scatter.Scattered.floor(floor, pixel_m)
    radii = heap.stones(
        wanted, rng, bed, _CLODS, lambda radius: PebbleStyle(radius, 1.25, 0.6, 2.0, 0.75, 0.3, 0.3, 0.42)
    )
    first = len(radii)
    crumbs = bed.owner.copy()
    run.at(0.5)
    fibres = _fibres(rng, bed, round(15000 * controls["fibres"]), seed)
    scatter.lay_blades(bed, fibres, first)
    run.at(0.65)
    moss = _moss(rng, bed, controls["moss"], size, seed)
    scatter.lay_blades(bed, moss, first + len(fibres))
    run.at(0.8)
    ends = first, first + len(fibres), first + len(fibres) + len(moss)
    return Drawing(*_paint(rng, bed, crumbs, ends, size, seed, controls), TILE_M)


def _fibres(rng: np.random.Generator, bed: scatter.Scattered, count: int, seed: int) -> common.Map:
    """Roots and stems: many fine, a few thick."""
    size = bed.height.shape[0]
    places = rng.uniform(0, TILE_M, (count, 2))
    at = scatter.pixels(places, size, TILE_M)
    low = periodic.blur(bed.height, 0.02 / bed.pixel_m)
    out = np.zeros((count, scatter.BLADE_NUMBERS), np.float32)
    thick = rng.pareto(2.6, count) + 1
    out[:, 0:2] = places
    out[:, 2] = low[at] + 0.002
    out[:, 3] = np.clip(0.035 * rng.lognormal(0, 0.6, count) * thick**0.6, 0.01, 0.24)
    out[:, 4] = 2 * math.pi * noise.periodic(size, 3, seed + 40, 2)[at] + rng.normal(0, 1.1, count)
    out[:, 5] = rng.normal(0, 1.1, count)
    out[:, 6] = np.clip(0.0011 * thick, 0.001, 0.006)
    out[:, 7] = 0.006 * rng.uniform(0.1, 1.2, count)
    return out


def _moss(rng: np.random.Generator, bed: scatter.Scattered, amount: float, size: int, seed: int) -> common.Map:
    """Short upright tufts where a slow noise lets them grow."""
    places = rng.uniform(0, TILE_M, (140000, 2))
    at = scatter.pixels(places, size, TILE_M)
    patch = noise.periodic(size, 6, seed + 41, 5, 0.6)[at] + 0.25 * noise.periodic(size, 30, seed + 42, 3)[at]
    bare = 0.62 - 1.15 * amount
    places = places[patch > bare]
    at = scatter.pixels(places, size, TILE_M)
    count = len(places)
    cushion = common.smoothstep(bare, bare + 0.4, patch[patch > bare])
    out = np.zeros((count, scatter.BLADE_NUMBERS), np.float32)
    out[:, 0:2] = places
    out[:, 2] = periodic.blur(bed.height, 0.012 / bed.pixel_m)[at] + 0.016 * cushion
    out[:, 3] = 0.011 * rng.lognormal(0, 0.3, count)
    out[:, 4] = rng.uniform(0, 2 * math.pi, count)
    out[:, 5] = rng.normal(0, 0.8, count)
    out[:, 6] = 0.0021
    out[:, 7] = 0.006 * rng.uniform(0.3, 1.2, count)
    return out


def _paint(
    rng: np.random.Generator,
    bed: scatter.Scattered,
    crumbs: NDArray[np.int32],
    ends: tuple[int, int, int],
    size: int,
    seed: int,
    controls: dict[str, float],
) -> tuple[common.Map, common.Map, common.Map]:
    clods, fibres, all_ = ends
    who = np.maximum(bed.owner, 0)
    fibre, moss = (bed.owner >= clods) & (bed.owner < fibres), bed.owner >= fibres
    grain = noise.periodic(size, 200, seed + 50, 3, 0.75)
    tones = common.tone(rng, all_, 0.22)
    peat = np.array([0.046, 0.034, 0.025], np.float32) * (1 + 0.25 * grain)[..., None]
    clod = np.maximum(crumbs, 0)
    peat = peat * (tones[clod] * (0.72 + 0.4 * bed.inner))[..., None]
    dry = common.smoothstep(0.0, 0.5, noise.periodic(size, 5, seed + 51, 4))
    peat = common.mix(peat.astype(np.float32), (0.088, 0.066, 0.047), dry * 0.38)
    bleach = rng.beta(0.8, 2.4, all_).astype(np.float32)[who]
    stem = np.array([0.074, 0.052, 0.036], np.float32) + bleach[..., None] * np.array(
        [0.15, 0.125, 0.092], np.float32
    )
    colour = np.where(fibre[..., None], stem * (0.7 + 0.3 * tones[who])[..., None], peat)
    green = np.array([0.060, 0.060, 0.026], np.float32) + rng.beta(1, 2, all_).astype(np.float32)[who][..., None] * (
        np.array([0.052, 0.042, 0.016], np.float32)
    )
    colour = np.where(moss[..., None], green * (0.5 + 0.6 * bed.inner)[..., None], colour).astype(np.float32)
    height = np.where(moss, periodic.blur(bed.height, 0.0025 / bed.pixel_m), bed.height).astype(np.float32)
    low = common.dust(height, 0.06 / bed.pixel_m, 0.022)
    slow = 0.5 * noise.periodic(size, 4, seed + 52, 3)
    wet = np.clip((low * 1.3 + slow) * controls["wet"] * 1.5 - 0.15, 0, 1) * (1 - 0.5 * moss)
    colour = colour * (1 - 0.4 * wet)[..., None]
    colour = common.to_mean(common.even_out(colour.astype(np.float32), 0.5, 0.12), 0.044 + 0.012 * controls["moss"])
    rough = np.where(moss, 0.9, np.where(fibre, 0.72, 0.92)) * (1 - wet) + 0.24 * wet
    return height, colour, np.clip(rough, 0.15, 1).astype(np.float32)
