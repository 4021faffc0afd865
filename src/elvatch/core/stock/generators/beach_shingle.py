"""Beach shingle: well-sorted rounded flints and quartz lying on one another, drifted weed and shells between."""

from __future__ import annotations

import numpy as np

from elvatch.core.stock import scatter
from elvatch.core.stock.generators import common, heap
from elvatch.core.stock.generators.common import Drawing, Map, Wanted
from elvatch.core.stock.generators.controls import Control
from elvatch.core.stock.pebble import PebbleStyle

TILE_M = 2.0
CONTROLS = (
    Control("stones", "stone size", "times", 0.6, 1.6, 1.0, 0.05, "how large the stones are"),
    Control("warm", "brown flints", "", 0.0, 1.0, 0.5, 0.05, "how many are brown, not grey"),
    Control("wet", "wet", "", 0.0, 1.0, 0.0, 0.05, "how wet they are"),
)
_SIZES = ((0.060, 120), (0.047, 480), (0.036, 1500), (0.026, 3400), (0.018, 4500))
_GREY = np.array(
    [[0.205, 0.200, 0.192], [0.130, 0.130, 0.132], [0.290, 0.280, 0.262], [0.430, 0.415, 0.390]], np.float32
)
_BROWN = np.array(
    [[0.270, 0.178, 0.100], [0.205, 0.128, 0.076], [0.330, 0.240, 0.150], [0.165, 0.112, 0.078]], np.float32
)


def draw(wanted: Wanted) -> Drawing:
    """Draw beach shingle, seamless over 2 m; see :class:`Wanted`."""
    size, controls = wanted.size, wanted.controls
    rng = np.random.default_rng(wanted.seed)
    bed = scatter.Scattered.floor(wanted.noise(3, 1, 3, 0.5) * 0.016, TILE_M / size)
    radii = heap.stones(
        wanted,
        rng,
        bed,
        _SIZES,
        lambda radius: PebbleStyle(radius, 1.35, 0.5, 2.3, 0.1, 0.0, 0.24, 0.12),
        controls["stones"],
    )
    wanted.run.at(0.75)
    return Drawing(*_paint(wanted, rng, bed, len(radii)), TILE_M)


def _paint(wanted: Wanted, rng: np.random.Generator, bed: scatter.Scattered, count: int) -> tuple[Map, Map, Map]:
    controls = wanted.controls
    who, bare = np.maximum(bed.owner, 0), bed.owner < 0
    mottle, fine = wanted.noise(60, 20, 4, 0.65), wanted.noise(200, 21, 3, 0.7)
    brown = rng.random(count) < controls["warm"]
    grey_own = _GREY[rng.choice(4, count, p=(0.45, 0.25, 0.22, 0.08))]
    own = np.where(brown[:, None], _BROWN[rng.integers(0, 4, count)], grey_own)
    own = own * common.tone(rng, count, 0.16)[:, None]
    colour = own.astype(np.float32)[who] * (0.82 + 0.24 * bed.inner**0.5 + 0.10 * mottle + 0.04 * fine)[..., None]
    # flints keep a pale rind in places
    rind = (rng.random(count) < 0.3)[who] * common.smoothstep(0.15, 0.4, wanted.noise(22, 22, 4, 0.6))
    colour = common.mix(colour, (0.44, 0.42, 0.375), rind * 0.7)
    grit = np.array([0.165, 0.140, 0.108], np.float32) * (1 + 0.4 * fine)[..., None]
    colour = np.where(bare[..., None], grit, colour).astype(np.float32)
    deep = common.dust(bed.height, 0.014 / bed.pixel_m, 0.018)
    colour = common.mix(colour, (0.070, 0.060, 0.048), deep * 0.75)
    wet = np.clip(controls["wet"] * (0.8 + 0.4 * wanted.noise(4, 23)), 0, 1)
    colour = colour * (1 - 0.4 * wet)[..., None]
    colour = common.to_mean(common.even_out(colour), 0.20 * (1 - 0.35 * controls["wet"]))
    rough = np.where(bare, 0.85, 0.55 + 0.08 * mottle + 0.1 * deep) * (1 - wet) + 0.2 * wet
    return bed.height, colour, np.clip(rough, 0.15, 1).astype(np.float32)
