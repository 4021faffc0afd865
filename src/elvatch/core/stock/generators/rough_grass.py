"""Rough grass: tussocks of long arched blades, dry and fresh, earth showing between."""

from __future__ import annotations

import math

import numpy as np

from elvatch.core import noise
from elvatch.core.stock import periodic, scatter
from elvatch.core.stock.generators import common
from elvatch.core.stock.generators.common import Drawing, Wanted
from elvatch.core.stock.generators.controls import Control

TILE_M = 2.0
CONTROLS = (
    Control("length", "blade length", "cm", 4.0, 16.0, 9.5, 0.5, "of a usual blade"),
    Control("dry", "dry", "", 0.0, 1.0, 0.5, 0.05, "how many blades are straw"),
    Control("blades", "blades", "times", 0.4, 1.3, 1.0, 0.05, "how densely they stand"),
)
_TUSSOCKS = 210
_USUAL_BLADES = 78000


def draw(wanted: Wanted) -> Drawing:
    """Draw rough grass, seamless over 2 m; see :class:`Wanted`."""
    size, seed, controls, run = wanted
    rng = np.random.default_rng(seed)
    blades_count = round(_USUAL_BLADES * controls["blades"])
    longer = controls["length"] / 9.5
    pixel_m = TILE_M / size
    floor = noise.periodic(size, 6, seed, 5, 0.55) * 0.012 + noise.periodic(size, 90, seed + 1, 3, 0.7) * 0.003
    bed = scatter.Bed.floor(floor, pixel_m)
    lean_x = noise.periodic(size, 3, seed + 2, 2)
    lean_y = noise.periodic(size, 3, seed + 3, 2)
    centres = rng.uniform(0, TILE_M, (_TUSSOCKS, 2))
    vigour = np.clip(rng.lognormal(0, 0.3, _TUSSOCKS), 0.5, 1.6)
    member = rng.integers(0, _TUSSOCKS, blades_count)
    loose = rng.random(blades_count) < 0.42
    away = np.abs(rng.normal(0, 0.055, blades_count)) * vigour[member]
    round_ = rng.uniform(0, 2 * math.pi, blades_count)
    spot = centres[member] + np.stack([np.cos(round_), np.sin(round_)], 1) * away[:, None]
    spot[loose] = rng.uniform(0, TILE_M, (int(loose.sum()), 2))
    at = scatter.pixels(spot, size, TILE_M)
    # blades fall outwards from their tussock and all lean a little with the wind
    out_x = np.cos(round_) * np.where(loose, 0.2, 1.0) + 1.1 * lean_x[at] + rng.normal(0, 0.5, blades_count)
    out_y = np.sin(round_) * np.where(loose, 0.2, 1.0) + 1.1 * lean_y[at] + rng.normal(0, 0.5, blades_count)
    size_of = np.where(loose, 0.62, vigour[member]) * np.clip(rng.lognormal(0, 0.3, blades_count), 0.4, 2.0)
    blades = np.zeros((blades_count, scatter.BLADE_NUMBERS), np.float32)
    blades[:, 0:2] = spot
    blades[:, 2] = floor[at] + np.where(loose, 0.0, 0.030 * vigour[member] * np.exp(-((away / 0.07) ** 2)))
    blades[:, 3] = 0.095 * longer * size_of
    blades[:, 4] = np.arctan2(out_y, out_x)
    blades[:, 5] = rng.normal(0, 0.75, blades_count)
    blades[:, 6] = 0.0036 * np.clip(rng.lognormal(0, 0.25, blades_count), 0.6, 1.7)
    blades[:, 7] = 0.040 * longer * size_of * rng.uniform(0.25, 1.0, blades_count)
    run.at(0.3)
    scatter.lay_blades(bed, blades, 0)
    run.at(0.6)
    dry = rng.beta(0.9, 1.5, blades_count).astype(np.float32)
    dry = np.clip(
        dry * 0.75 + 0.35 * (noise.periodic(size, 4, seed + 6, 3)[at] + 0.25) + 1.3 * (controls["dry"] - 0.5), 0, 1
    ).astype(np.float32)
    return Drawing(*_paint(bed, dry, common.tone(rng, blades_count, 0.22), size, seed), TILE_M)


def _paint(
    bed: scatter.Bed, dry: common.Map, tones: common.Map, size: int, seed: int
) -> tuple[common.Map, common.Map, common.Map]:
    earth = bed.owner < 0
    who = np.maximum(bed.owner, 0)
    crumb = noise.periodic(size, 140, seed + 11, 3, 0.7)
    fresh = np.array([0.078, 0.090, 0.044], np.float32)
    straw = np.array([0.225, 0.192, 0.120], np.float32)
    blade = fresh + (straw - fresh) * (dry[who] ** 1.35)[..., None]
    depth = common.smoothstep(-0.004, 0.055, bed.height - periodic.blur(bed.height, 0.09 / bed.pixel_m) + 0.02)
    lit = (0.52 + 0.48 * depth) * (0.66 + 0.5 * bed.inner) * tones[who]
    colour = blade * lit[..., None]
    soil = np.array([0.052, 0.040, 0.028], np.float32) * (1.0 + 0.35 * crumb)[..., None]
    moss = np.array([0.058, 0.068, 0.026], np.float32) * (1.0 + 0.3 * crumb)[..., None]
    patch = common.smoothstep(-0.1, 0.35, noise.periodic(size, 9, seed + 12, 4))
    ground = soil + (moss - soil) * patch[..., None]
    colour = np.where(earth[..., None], ground, colour).astype(np.float32)
    colour = common.to_mean(common.even_out(colour, 0.5), 0.096)
    rough = np.where(earth, 0.88, 0.62 + 0.12 * dry[who]).astype(np.float32)
    return _pressed(bed.height, bed.pixel_m), colour, rough


def _pressed(height: common.Map, pixel_m: float) -> common.Map:
    """Blades let light through: as a solid they would shade far too hard, so they are pressed flat."""
    form = periodic.blur(height, 0.022 / pixel_m)
    return (form * 0.8 + (periodic.blur(height, 0.0022 / pixel_m) - form) * 0.26).astype(np.float32)
