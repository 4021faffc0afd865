"""Pebbles: water-worn stones of mixed rock by sizes, coarse sand between them."""

from __future__ import annotations

import numpy as np

from elvatch.core import noise
from elvatch.core.stock import scatter
from elvatch.core.stock.generators import common, heap
from elvatch.core.stock.generators.common import Drawing, Wanted
from elvatch.core.stock.generators.controls import Control
from elvatch.core.stock.pebble import PebbleStyle

TILE_M = 1.5
CONTROLS = (
    Control("stones", "stone size", "times", 0.6, 1.6, 1.0, 0.05, "how large the pebbles are"),
    Control("sand", "sand", "", 0.0, 1.0, 0.35, 0.05, "how far sand fills the gaps"),
    Control("wet", "wet", "", 0.0, 1.0, 0.0, 0.05, "how wet they are"),
)
# radius in metres, how many per tile
_CLASSES = ((0.052, 70), (0.038, 260), (0.026, 900), (0.017, 2300), (0.010, 5200), (0.006, 9000))
_ROCKS = np.array(
    [
        [0.205, 0.206, 0.203],
        [0.150, 0.152, 0.156],
        [0.262, 0.246, 0.222],
        [0.300, 0.288, 0.268],
        [0.205, 0.162, 0.126],
        [0.175, 0.182, 0.172],
        [0.390, 0.380, 0.365],
        [0.222, 0.176, 0.155],
    ],
    np.float32,
)
_SHARES = (0.26, 0.2, 0.16, 0.1, 0.08, 0.1, 0.03, 0.07)


def draw(wanted: Wanted) -> Drawing:
    """Draw pebbles, seamless over 1.5 m; see :class:`Wanted`."""
    size, seed, controls, run = wanted
    rng = np.random.default_rng(seed)
    pixel_m = TILE_M / size
    bed = scatter.Scattered.floor(noise.periodic(size, 4, seed, 4, 0.5) * 0.008, pixel_m)
    radii = heap.stones(
        wanted,
        rng,
        bed,
        _CLASSES,
        lambda radius: PebbleStyle(radius, 1.3, 0.62, 2.25, 0.13, 0.0, 0.16, 0.22),
        controls["stones"],
    )
    run.at(0.75)
    return Drawing(*_paint(rng, bed, len(radii), size, seed, controls), TILE_M)


def _paint(
    rng: np.random.Generator, bed: scatter.Scattered, count: int, size: int, seed: int, controls: dict[str, float]
) -> tuple[common.Map, common.Map, common.Map]:
    grit = noise.periodic(size, 230, seed + 3, 3, 0.75)
    level = np.percentile(bed.height, 4 + 42 * controls["sand"])
    sand_top = (level + 0.0035 * noise.periodic(size, 9, seed + 4, 4) + 0.0008 * grit).astype(np.float32)
    loose = (bed.owner < 0) | (bed.height < sand_top)
    height = np.maximum(bed.height, sand_top)
    who = np.maximum(bed.owner, 0)
    kind = rng.choice(len(_ROCKS), count, p=_SHARES)
    own = _ROCKS[kind] * common.tone(rng, count, 0.2)[:, None] * (1 + rng.normal(0, 0.02, (count, 3)))
    mottle = noise.periodic(size, 70, seed + 5, 4, 0.65)
    vein = np.abs(noise.periodic(size, 26, seed + 6, 2))
    veined = ((kind == 1) | (kind == 3)).astype(np.float32)[who] * common.smoothstep(0.045, 0.015, vein)
    colour = own.astype(np.float32)[who] * (1 + 0.12 * mottle + 0.05 * grit)[..., None]
    colour = common.mix(colour, (0.42, 0.41, 0.39), veined * 0.5)
    # worn skins are paler on top, undersides hold a dark film
    colour = colour * (0.80 + 0.26 * bed.inner**0.5)[..., None]
    grains = np.array([0.225, 0.196, 0.158], np.float32) * (1 + 0.30 * grit + 0.1 * mottle)[..., None]
    colour = np.where(loose[..., None], grains, colour).astype(np.float32)
    settled = common.dust(height, 0.012 / bed.pixel_m, 0.012)
    colour = common.mix(colour, (0.120, 0.104, 0.084), settled * 0.65)
    wet = np.clip(
        controls["wet"] * (0.75 + 0.5 * noise.periodic(size, 4, seed + 8)) + 0.5 * settled * controls["wet"], 0, 1
    )
    darkened = colour * (1 - 0.42 * wet)[..., None]
    colour = common.to_mean(common.even_out(darkened, 0.4, 0.12), 0.185 * (1 - 0.35 * controls["wet"]))
    rough = np.where(loose, 0.88, 0.58 + 0.08 * mottle) * (1 - wet) + 0.22 * wet
    return height.astype(np.float32), colour, np.clip(rough, 0.15, 1).astype(np.float32)
