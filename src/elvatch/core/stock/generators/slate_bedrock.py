"""Slate bedrock: cleaved sheets dipping one way, broken into ledges, fines in the joints."""

from __future__ import annotations

import math

import numpy as np

from elvatch.core import noise
from elvatch.core.stock import periodic, scatter
from elvatch.core.stock.generators import common
from elvatch.core.stock.generators.common import Drawing, Wanted
from elvatch.core.stock.generators.controls import Control

TILE_M = 4.0
CONTROLS = (
    Control("sheets", "sheet thickness", "times", 0.5, 1.6, 1.0, 0.05, "how thick the cleaved sheets are"),
    Control("stain", "stains", "", 0.0, 2.0, 1.0, 0.05, "how brown the joints are"),
    Control("lichen", "lichen", "", 0.0, 1.8, 1.0, 0.1, "how much lichen grows on the faces"),
)
_STRIKE = 0.30
"""Direction of the ledges, radians from east."""
# radius in metres, how many per tile, thickness in metres
_CLASSES = (
    (0.46, 150, 0.060),
    (0.30, 210, 0.045),
    (0.19, 330, 0.028),
    (0.11, 520, 0.016),
    (0.05, 900, 0.007),
)


def draw(wanted: Wanted) -> Drawing:
    """Draw slate bedrock, seamless over 4 m; see :class:`Wanted`."""
    size, seed, controls, run = wanted
    rng = np.random.default_rng(seed)
    pixel_m = TILE_M / size
    bed = scatter.Bed.floor(noise.periodic(size, 3, seed, 4, 0.5) * 0.05, pixel_m)
    swell = noise.periodic(size, 3, seed + 1, 3, 0.5) * 0.085
    dip = (-math.sin(_STRIKE) * 0.20, math.cos(_STRIKE) * 0.20)
    tones, warmth, first = [], [], 0
    for number, (radius, count, usual) in enumerate(_CLASSES):
        run.at(0.1 + 0.12 * number)
        thick = usual * controls["sheets"]
        lying = periodic.blur(bed.height, radius * 0.35 / pixel_m) if first else swell
        places = rng.uniform(0, TILE_M, (count, 2))
        at = scatter.pixels(places, size, TILE_M)
        style = scatter.PlateStyle(
            radius=radius, stretch=1.9, along=_STRIKE, tilt=0.035, dip=dip, thickness=thick,
            bevel=0.014 + radius * 0.16, steep=0.55, warp=0.010 + radius * 0.055, ridge=0.025, ledges=5,
        )  # fmt: skip
        scatter.lay_plates(bed, scatter.plates(rng, places, lying[at].astype(np.float64), style), first)
        tones.append(common.tone(rng, count, 0.12))
        warmth.append(rng.beta(0.8, 6.0, count).astype(np.float32))
        first += count
    run.at(0.75)
    return Drawing(*_paint(bed, np.concatenate(tones), np.concatenate(warmth), size, seed, controls), TILE_M)


def _cleavage(size: int, seed: int) -> common.Map:
    """Fine streaks along the strike, seamless because the shear is a whole number of tiles."""
    base = noise.periodic(size, 72, seed, 4, 0.65)
    # stretch along the strike by averaging a few copies shifted along it
    total = np.zeros_like(base)
    for step in range(-7, 8):
        along, across = round(step * size / 420), round(step * size / 420 * math.tan(_STRIKE))
        total += np.roll(base, (across, along), (0, 1))
    return (total / 15 * 2.4).astype(np.float32)


def _paint(
    bed: scatter.Bed, tones: common.Map, warmth: common.Map, size: int, seed: int, controls: dict[str, float]
) -> tuple[common.Map, common.Map, common.Map]:
    who = np.maximum(bed.owner, 0)
    bare = bed.owner < 0
    streak = _cleavage(size, seed + 5)
    grain = noise.periodic(size, 256, seed + 6, 3, 0.7)
    height = bed.height + 0.0022 * streak + 0.0006 * grain
    grey = np.array([0.128, 0.134, 0.138], np.float32)
    colour = common.mix(np.broadcast_to(grey, (size, size, 3)), (0.175, 0.142, 0.108), warmth[who])
    edge = np.exp(-bed.inner / 0.006).astype(np.float32) * ~bare
    light = tones[who] * (1.0 + 0.20 * streak + 0.06 * grain + 0.30 * edge)
    colour = colour * light[..., None]
    joint = common.dust(height, 0.05 / bed.pixel_m, 0.045)
    spread = 0.5 * (controls["stain"] - 1)
    stain = common.smoothstep(
        0.05 - spread, 0.55 - spread, noise.periodic(size, 5, seed + 8, 4, 0.55)
    ) * common.smoothstep(0.05, 0.5, joint)
    colour = common.mix(colour, (0.165, 0.112, 0.070), np.clip(stain * 0.75 * controls["stain"], 0, 1))
    colour = common.mix(colour, (0.088, 0.080, 0.068), common.smoothstep(0.25, 0.9, joint) * 0.75)
    spots = noise.periodic(size, 22, seed + 9, 5, 0.62)
    # more of it grows thicker and over more of the faces
    shift = 0.16 * (controls["lichen"] - 1)
    lichen = common.smoothstep(0.34 - shift, 0.5 - shift, spots) * common.smoothstep(0.45, 0.1, joint)
    colour = common.mix(colour, (0.225, 0.232, 0.205), np.clip(lichen * 0.55 * controls["lichen"], 0, 1))
    colour = common.to_mean(common.even_out(colour, 0.45), 0.132)
    rough = 0.52 + 0.22 * joint + 0.10 * lichen + 0.07 * streak
    return height.astype(np.float32), colour, rough.astype(np.float32)
