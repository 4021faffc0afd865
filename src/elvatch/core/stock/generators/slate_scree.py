"""Slate scree: loose angular fragments of all sizes, grit between them."""

from __future__ import annotations

import numpy as np

from elvatch.core import noise
from elvatch.core.stock import periodic, scatter
from elvatch.core.stock.generators import common
from elvatch.core.stock.generators.common import Drawing, Wanted
from elvatch.core.stock.generators.controls import Control

TILE_M = 3.0
CONTROLS = (
    Control("stones", "stone size", "times", 0.6, 1.5, 1.0, 0.05, "how large the fragments are"),
    Control("rust", "rusty stones", "", 0.0, 2.0, 1.0, 0.1, "how many fragments are stained by iron"),
    Control("lichen", "lichen", "", 0.0, 2.0, 1.0, 0.1, "how much lichen grows on the stones"),
)
# radius in metres, how many per tile
_CLASSES = ((0.150, 36), (0.115, 190), (0.075, 680), (0.046, 2000), (0.027, 4200), (0.014, 8500))


def draw(wanted: Wanted) -> Drawing:
    """Draw slate scree, seamless over 3 m; see :class:`Wanted`."""
    size, seed, controls, run = wanted
    rng = np.random.default_rng(seed)
    pixel_m = TILE_M / size
    ground = noise.periodic(size, 4, seed, 5, 0.55)
    bed = scatter.Bed.floor(ground * 0.014, pixel_m)
    tones, warmth, first = [], [], 0
    for number, (usual, usual_count) in enumerate(_CLASSES):
        run.at(0.1 + 0.1 * number)
        radius = usual * controls["stones"]
        count = round(usual_count / controls["stones"] ** 2)
        lying = periodic.blur(bed.height, radius * 0.5 / pixel_m)
        # small fragments are drawn towards hollows
        places, base = scatter.hollows(rng, lying, count, TILE_M)
        style = scatter.PlateStyle(
            radius=radius, stretch=1.45, along=None, tilt=0.24, dip=(0.0, 0.0), thickness=radius * 0.30,
            bevel=radius * 0.20, steep=1.5, warp=radius * 0.07, ridge=0.16, ledges=2,
        )  # fmt: skip
        scatter.lay_plates(bed, scatter.plates(rng, places, base, style), first)
        tones.append(common.tone(rng, count, 0.22))
        warmth.append(rng.beta(1.0, 5.5, count).astype(np.float32))
        first += count
    run.at(0.75)
    warm = np.clip(np.concatenate(warmth) * controls["rust"], 0, 1).astype(np.float32)
    return Drawing(*_paint(bed, np.concatenate(tones), warm, size, seed, controls["lichen"]), TILE_M)


def _paint(
    bed: scatter.Bed, tones: common.Map, warmth: common.Map, size: int, seed: int, growth: float
) -> tuple[common.Map, common.Map, common.Map]:
    loose = bed.owner < 0
    who = np.maximum(bed.owner, 0)
    grit = noise.periodic(size, 160, seed + 3, 3, 0.7)
    cleave = noise.periodic(size, 48, seed + 4, 5, 0.62)
    height = bed.height + np.where(loose, 0.0024, 0.0007).astype(np.float32) * grit + 0.0008 * cleave
    light = np.where(loose, 0.9 + 0.3 * grit, tones[who] * (1.0 + 0.15 * cleave + 0.07 * grit)).astype(np.float32)
    grey = np.array([0.150, 0.152, 0.151], np.float32)
    rust = np.array([0.205, 0.160, 0.116], np.float32)
    fines = np.array([0.150, 0.134, 0.112], np.float32)
    colour = common.mix(np.broadcast_to(grey, (size, size, 3)), rust, warmth[who])
    colour = common.mix(colour, fines, loose.astype(np.float32))
    # edges are bruised pale, hollows hold fines
    edge = np.exp(-bed.inner / 0.004).astype(np.float32) * ~loose
    colour = colour * (light * (1.0 + 0.35 * edge))[..., None]
    settled = common.dust(height, 0.02 / bed.pixel_m, 0.03)
    colour = common.mix(colour, tuple(fines * 0.72), settled * 0.6)
    # more of it grows thicker and over more stones
    shift = 0.24 * (growth - 1)
    lichen = (
        common.smoothstep(0.42 - shift, 0.62 - shift, noise.periodic(size, 26, seed + 9, 4, 0.6))
        * (~loose)
        * (warmth[who] < 0.3)
    )
    colour = common.mix(colour, (0.235, 0.238, 0.205), np.clip(lichen.astype(np.float32) * 0.5 * growth, 0, 1))
    colour = common.to_mean(common.even_out(colour, 0.35), 0.145)
    rough = 0.66 + 0.16 * settled + 0.1 * loose + 0.08 * cleave
    return height.astype(np.float32), colour, rough.astype(np.float32)
