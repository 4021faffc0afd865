"""Red sandstone: thin slanting beds worn into low steps, honeycomb pits, dark varnish, sand in the hollows."""

from __future__ import annotations

import math

import numpy as np
from numpy.typing import NDArray

from elvatch.core.stock import cells
from elvatch.core.stock.generators import common, heap
from elvatch.core.stock.generators.common import Drawing, Map, Wanted
from elvatch.core.stock.generators.controls import Control

TILE_M = 4.0
CONTROLS = (
    Control("beds", "bed steps", "cm", 1.0, 14.0, 6.0, 0.5, "how far worn beds stand over one another"),
    Control("pits", "pits", "", 0.0, 1.0, 0.45, 0.05, "how much honeycomb the wind wore"),
    Control("varnish", "varnish", "", 0.0, 1.0, 0.4, 0.05, "how much dark film grew on old faces"),
)


_BEDS = (9, 8)
"""Of either set, until they come again: both close over a tile after a whole number of rounds."""


def draw(wanted: Wanted) -> Drawing:
    """Draw red sandstone, seamless over 4 m; see :class:`Wanted`."""
    size, _, controls, run = wanted
    rng = np.random.default_rng(wanted.seed)
    at = (np.arange(size, dtype=np.float32) + 0.5) / size
    bend = 0.085 * wanted.noise(2, 1, 4, 0.5) + 0.009 * wanted.noise(14, 2, 5, 0.62)
    # a set of beds lies across another that was cut off: two slants, parted by old surfaces
    cut = common.smoothstep(-0.03, 0.03, wanted.noise(3, 3, 3, 0.5))
    first, second = 2 * at[:, None] + at[None, :] + 2 * bend, 3 * at[:, None] - at[None, :] + 2.4 * bend
    layer = np.where(cut > 0.5, second * _BEDS[1], first * _BEDS[0])
    which = np.floor(layer).astype(np.int64)
    which = np.where(cut > 0.5, which % _BEDS[1], which % _BEDS[0] + _BEDS[1])
    # most of it is planed off, beds are lines there; they stand over one another where it broke lately
    broken = common.smoothstep(-0.05, 0.45, wanted.noise(4, 9, 4, 0.55))
    step = _steps(rng, layer, which, controls["beds"] / 100) * (0.12 + 0.88 * broken)
    run.at(0.35)
    slow = 0.07 * wanted.noise(2, 4, 3, 0.5) + 0.03 * wanted.noise(5, 5, 4, 0.55)
    worn = heap.flakes(wanted.noise(7, 6, 5, 0.55), 4) * 0.35 * controls["beds"] / 100
    grain = wanted.noise(260, 7, 2, 0.7)
    laminae = np.sin(2 * math.pi * layer * 9 + 2 * wanted.noise(6, 8, 3)).astype(np.float32)
    pits = _honeycomb(wanted, rng) * controls["pits"]
    run.at(0.6)
    height = slow + step + worn + 0.0016 * laminae + 0.0006 * grain - 0.04 * pits
    return Drawing(*_paint(wanted, rng, height.astype(np.float32), (layer, which), laminae, grain, pits), TILE_M)


def _steps(rng: np.random.Generator, layer: Map, which: NDArray[np.int64], high_m: float) -> Map:
    """Each bed tilts a little and breaks off to the next; how far differs from bed to bed and repeats with them."""
    within = layer - np.floor(layer)
    high = (0.35 + rng.exponential(0.5, sum(_BEDS))).astype(np.float32)[which]
    back = common.smoothstep(0.94, 1.0, within)
    return (np.clip(high, 0, 1.8) * high_m * (within * 0.75) * (1 - back)).astype(np.float32)


def _honeycomb(wanted: Wanted, rng: np.random.Generator) -> Map:
    bend = tuple(wanted.noise(20, 30 + k, 3, 0.6) * 0.006 for k in range(2))
    net = cells.cells(rng, wanted.size, 62, (bend[0], bend[1]), left_out=0.3)
    deep = rng.random(62 * 62).astype(np.float32)[net.owner]
    where = common.smoothstep(0.0, 0.4, wanted.noise(4, 32, 5, 0.58))
    return common.smoothstep(0.0012, 0.0055, net.border) * (deep > 0.25) * deep * where


def _paint(
    wanted: Wanted,
    rng: np.random.Generator,
    height: Map,
    beds: tuple[Map, NDArray[np.int64]],
    laminae: Map,
    grain: Map,
    pits: Map,
) -> tuple[Map, Map, Map]:
    layer, which = beds
    size = wanted.size
    pixel_m = TILE_M / size
    tone = wanted.noise(5, 20, 4, 0.55)
    rust = np.broadcast_to(np.array([0.285, 0.148, 0.088], np.float32), (size, size, 3))
    pale = 0.5 + 0.5 * np.sin(2 * math.pi * layer + 1.5 * tone)
    colour = common.mix(rust, (0.400, 0.262, 0.172), (pale * 0.5 + 0.12 * laminae + 0.08).clip(0, 1))
    purple = common.smoothstep(0.55, 0.9, rng.random(sum(_BEDS)).astype(np.float32)[which] + 0.2 * tone)
    colour = common.mix(colour, (0.200, 0.098, 0.072), purple * 0.45) * (1 + 0.07 * grain + 0.1 * tone)[..., None]
    low = common.dust(height, 0.07 / pixel_m, 0.04)
    sand = common.smoothstep(0.35, 0.8, low + 0.2 * wanted.noise(12, 21, 4))
    varnish = (
        common.smoothstep(0.0, 0.5, wanted.noise(6, 22, 5, 0.6, down=3) + 0.3 - low) * wanted.controls["varnish"]
    )
    colour = common.mix(colour.astype(np.float32), (0.090, 0.058, 0.045), varnish * 0.55)
    colour = common.mix(colour, (0.120, 0.066, 0.042), np.clip(pits * 0.8, 0, 0.7))
    drift = np.array([0.365, 0.225, 0.140], np.float32) * (1 + 0.15 * grain)[..., None]
    colour = (colour + (drift - colour) * sand[..., None]).astype(np.float32)
    height = height + sand * 0.004
    colour = common.to_mean(common.even_out(colour, 0.5, 0.12), 0.185)
    rough = 0.80 + 0.05 * grain + 0.1 * sand - 0.22 * varnish
    return height.astype(np.float32), colour, np.clip(rough, 0.35, 1).astype(np.float32)
