"""Wet silt: a soft bed with ripples and their defects, casts, pits, grit and standing damp."""

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
    Control("ripples", "ripple height", "mm", 0.0, 14.0, 6.2, 0.2, "from trough to crest"),
    Control("damp", "damp", "", 0.0, 1.0, 0.5, 0.05, "how much of it is still wet"),
    Control("grit", "grit", "times", 0.0, 2.0, 1.0, 0.1, "how many small stones lie on it"),
)
_RIPPLES = 23
"""Ripples over a tile; a whole number, so that they meet at the seam."""


def draw(wanted: Wanted) -> Drawing:
    """Draw wet silt, seamless over 2 m; see :class:`Wanted`."""
    size, seed, controls, run = wanted
    rng = np.random.default_rng(seed)
    pixel_m = TILE_M / size
    height = _ripples(size, seed, controls["ripples"] / 1000) + _casts(rng, size, pixel_m)
    height += noise.periodic(size, 3, seed + 20, 3, 0.45) * 0.010
    height += noise.periodic(size, 40, seed + 21, 5, 0.6) * 0.0011
    bed = scatter.Scattered.floor(height.astype(np.float32), pixel_m)
    tones, first = [], 0
    run.at(0.4)
    for radius, usual in ((0.011, 60), (0.0062, 420), (0.0035, 1500)):
        count = round(usual * controls["grit"])
        places = rng.uniform(0, TILE_M, (count, 2))
        at = scatter.pixels(places, size, TILE_M)
        style = scatter.PlateStyle(
            radius=radius,
            stretch=1.25,
            along=None,
            tilt=0.12,
            dip=(0.0, 0.0),
            thickness=radius * 0.22,
            bevel=radius * 0.5,
            steep=0.7,
            warp=radius * 0.1,
            ridge=0.10,
            ledges=0,
        )
        scatter.lay_plates(bed, scatter.plates(rng, places, height[at].astype(np.float64), style), first)
        tones.append(common.tone(rng, count, 0.35))
        first += count
    run.at(0.6)
    # where no grit lies its tones are asked for and not used
    tones.append(np.ones(1, np.float32))
    return Drawing(
        *_paint(bed, np.concatenate(tones), height.astype(np.float32), size, seed, controls["damp"]), TILE_M
    )


def _ripples(size: int, seed: int, crest_m: float) -> common.Map:
    """Low asymmetric crests that wander, fork and fade."""
    y, x = np.mgrid[0:size, 0:size].astype(np.float32) / size
    wander = 0.085 * noise.periodic(size, 3, seed, 3, 0.5) + 0.018 * noise.periodic(size, 11, seed + 1, 3, 0.5)
    phase = 2 * math.pi * (_RIPPLES * (y + wander) + 5.0 * x)
    # a second train of another count, mixed in by patches, makes crests fork
    other = 2 * math.pi * ((_RIPPLES - 4) * (y + wander * 1.25) + 8.0 * x + 0.3)
    patch = common.smoothstep(-0.3, 0.3, noise.periodic(size, 4, seed + 2, 2))
    crest = (1 - patch) * _crest(phase) + patch * _crest(other)
    strength = 0.25 + 0.75 * common.smoothstep(-0.45, 0.35, noise.periodic(size, 3, seed + 3, 3))
    result: common.Map = (crest * strength * crest_m).astype(np.float32)
    return result


def _crest(phase: common.Map) -> common.Map:
    """A ripple's profile, -0.5..0.5: rounded back, steeper lee."""
    return (0.5 * np.sin(phase + 0.42 * np.sin(phase)) + 0.10 * np.cos(2 * phase)).astype(np.float32)


def _casts(rng: np.random.Generator, size: int, pixel_m: float) -> common.Map:
    """Small coiled worm casts and the pits beside them."""
    out = np.zeros((size, size), np.float32)
    for _ in range(170):
        cx, cy = rng.uniform(0, size, 2)
        radius = rng.uniform(0.006, 0.014) / pixel_m
        reach = int(radius * 2.2) + 2
        r, c = np.mgrid[-reach : reach + 1, -reach : reach + 1]
        away = np.hypot(r, c) / radius
        coil = np.cos(9 * away + np.arctan2(r, c) + rng.uniform(0, 6)) * 0.3 + 0.7
        bump = 0.0048 * np.exp(-(away**2) * 1.3) * coil
        if rng.random() < 0.45:
            bump = -0.0042 * np.exp(-(away**2) * 3.0)
        out[np.ix_((r[:, 0] + int(cy)) % size, (c[0] + int(cx)) % size)] += bump.astype(np.float32)
    return out


def _paint(
    bed: scatter.Scattered, tones: common.Map, silt: common.Map, size: int, seed: int, wetness: float
) -> tuple[common.Map, common.Map, common.Map]:
    grit = bed.owner >= 0
    who = np.maximum(bed.owner, 0)
    low = common.smoothstep(-0.0035, 0.0045, periodic.blur(silt, 0.045 / bed.pixel_m) - silt)
    damp = np.clip(low + 0.55 * noise.periodic(size, 4, seed + 30, 4, 0.5) + 1.4 * (wetness - 0.5), 0, 1).astype(
        np.float32
    )
    fine = noise.periodic(size, 200, seed + 31, 3, 0.75)
    cloud = noise.periodic(size, 7, seed + 32, 5, 0.55)
    drab = np.array([0.160, 0.141, 0.117], np.float32)
    wet = np.array([0.090, 0.077, 0.061], np.float32)
    colour = common.mix(np.broadcast_to(drab, (size, size, 3)), tuple(wet), damp * 0.85)
    film = common.smoothstep(0.25, 0.6, noise.periodic(size, 6, seed + 33, 4, 0.6))
    colour = common.mix(colour, (0.128, 0.128, 0.102), film * 0.28)
    colour = colour * (1.0 + 0.06 * fine + 0.07 * cloud)[..., None]
    pebble = np.array([0.150, 0.150, 0.146], np.float32) * (tones[who] * (1 + 0.2 * fine))[..., None]
    colour = np.where(grit[..., None], pebble, colour).astype(np.float32)
    colour = common.to_mean(common.even_out(colour, 0.6, 0.12), 0.115)
    rough = np.where(grit, 0.6, 0.60 - 0.30 * damp + 0.05 * fine).astype(np.float32)
    return bed.height, colour, rough
