"""The ground of Vellin Water: a drawn-down reservoir in the hills, made up.

1.2 x 1.2 km, 84 to 226 m: an inlet valley from the north-west, a bowl with a flat silt bed, old
shorelines as benches on its sides, gullied hills about it and a dam across the south-east.
"""

from __future__ import annotations

import math

import numpy as np
from numpy.typing import NDArray
from scipy.ndimage import gaussian_filter, map_coordinates

from elvatch.core import noise
from elvatch.core.ground import measure, rivers
from elvatch.core.ground.heightfield import Heightfield

SIZE_M = 1200.0
LOWEST_M, HIGHEST_M = 84.0, 226.0
HIGH_WATER_M = 141.0
_SAMPLES = 1025
_COARSE = 257
_MIDDLE = 513
Map = NDArray[np.float32]

# the thalweg from the inlet in the north-west to the dam in the south-east: east, north (km), half width, floor
_VALLEY = np.array(
    [
        (-0.02, 1.02, 0.040, 128.0),
        (0.14, 0.92, 0.050, 117.0),
        (0.30, 0.88, 0.070, 107.0),
        (0.42, 0.74, 0.110, 99.0),
        (0.50, 0.58, 0.165, 94.0),
        (0.62, 0.44, 0.190, 91.0),
        (0.76, 0.32, 0.150, 89.0),
        (0.86, 0.22, 0.095, 87.0),
        (0.96, 0.12, 0.060, 85.0),
        (1.03, 0.05, 0.050, 78.0),
    ]
)


def _field(size: int, cells: int, seed: int, octaves: int, gain: float = 0.5) -> Map:
    return noise.periodic(size, cells, seed, octaves, gain)


def _valley(size: int) -> tuple[Map, Map, Map]:
    """Return distance from the thalweg in half widths, its floor elevation, and distance in km."""
    y, x = np.mgrid[0:size, 0:size].astype(np.float32) / (size - 1)
    y = 1 - y
    x = x + 0.030 * _field(size, 3, 5, 4)
    y = y + 0.030 * _field(size, 3, 6, 4)
    steps = np.linspace(0, len(_VALLEY) - 1, 140)
    line = np.stack([np.interp(steps, range(len(_VALLEY)), _VALLEY[:, k]) for k in range(4)], 1)
    best = np.full((size, size), np.inf, np.float32)
    floor, away = np.zeros_like(best), np.zeros_like(best)
    for px, py, half, level in line:
        d = np.hypot(x - px, y - py).astype(np.float32)
        ratio = d / half
        nearer = ratio < best
        best, floor, away = (
            np.where(nearer, ratio, best),
            np.where(nearer, level, floor),
            np.where(nearer, d, away),
        )  # fmt: skip
    return best, gaussian_filter(floor, size / 60).astype(np.float32), away


def _smooth_min(a: Map, b: Map, width: float) -> Map:
    mix = np.clip(0.5 + 0.5 * (b - a) / width, 0, 1)
    result: Map = (b + (a - b) * mix - width * mix * (1 - mix)).astype(np.float32)
    return result


def _hills() -> Map:
    """The land before the lake: a wide valley in rolling hills, cut by rivers."""
    ratio, floor, away = _valley(_COARSE)
    ridged = 1 - np.abs(_field(_COARSE, 3, 11, 6, 0.52)) * 2
    rolling = _field(_COARSE, 2, 12, 5)
    side = 72 * (1 - np.exp(-np.maximum(ratio - 0.55, 0) * 0.52)) + 75 * np.clip(away, 0, 0.6)
    land = floor + side * (0.80 + 0.30 * rolling) + 30 * np.clip(ridged, 0, 1) * np.clip(away * 3, 0, 1)
    heights = land.astype(np.float32)
    lift = (0.9 * np.clip(ratio - 0.8, 0, 1.6) + 0.4 * np.clip(ridged, 0, 1)).astype(np.float32)
    for round_ in range(9):
        # a little roughness and creep between rounds keep streams from running in straight lines
        rough = heights + 0.9 * _field(_COARSE, 30, 70 + round_, 3)
        heights = rivers.carve(Heightfield(rough, SIZE_M, SIZE_M), 0.016, 2, lift).heights_m
        heights = gaussian_filter(heights, 0.75)
    result: Map = heights
    return result


def _gullies(coarse: Map) -> Map:
    """Runoff cuts finer gullies into the upsampled land; creep rounds what is between them."""
    y, x = np.mgrid[0:_MIDDLE, 0:_MIDDLE] * ((_COARSE - 1) / (_MIDDLE - 1))
    heights: Map = map_coordinates(coarse, [y, x], order=3, mode="nearest").astype(np.float32)
    still = np.zeros_like(heights)
    for round_ in range(4):
        rough = heights + 0.55 * _field(_MIDDLE, 64, 90 + round_, 3)
        heights = rivers.carve(Heightfield(rough, SIZE_M, SIZE_M), 0.030, 1, still, exponent=0.36).heights_m
        heights = gaussian_filter(heights, 0.8)
    return heights


def _benches(heights: Map) -> Map:
    """Old shorelines: the lake stood at many levels and cut a small bench at each."""
    spacing = 4.2
    # uneven in level and along the shore, as no two drawdowns were alike
    wander = 1.1 * _field(_SAMPLES, 5, 21, 5) + 1.7 * np.sin(heights / 6.3) + 0.9 * np.sin(heights / 2.9 + 1.0)
    level = (heights + wander) / spacing
    part = level - np.floor(level)
    cut = (np.floor(level) + np.clip((part - 0.62) / 0.30, 0, 1) ** 1.2) * spacing - wander
    within = np.clip((heights - 96) / 8, 0, 1) * np.clip((HIGH_WATER_M + 1 - heights) / 5, 0, 1)
    patchy = 0.10 + 0.42 * np.clip(_field(_SAMPLES, 6, 22, 4) * 1.5 + 0.35, 0, 1)
    result: Map = (heights + (cut - heights) * within * patchy).astype(np.float32)
    return result


def _rock(heights: Map) -> Map:
    """Ledges and knobs where the land is steep: dipping beds that stand out."""
    ground = Heightfield(heights, SIZE_M, SIZE_M)
    steep = gaussian_filter(measure.slope_deg(measure.gradient(ground)), 3)
    crag = np.clip((steep - 17) / 13, 0, 1) * np.clip(_field(_SAMPLES, 9, 31, 5, 0.55) * 1.6 + 0.55, 0, 1)
    y, x = np.mgrid[0:_SAMPLES, 0:_SAMPLES].astype(np.float32)
    bed = (heights + 0.055 * x - 0.03 * y + 2.2 * _field(_SAMPLES, 14, 32, 4)) / 5.2
    part = bed - np.floor(bed)
    ledge = (np.clip(part / 0.75, 0, 1) ** 1.8 - part) * 2.3
    knobs = 0.8 * (1 - np.abs(_field(_SAMPLES, 34, 33, 5, 0.6)) * 2)
    result: Map = (heights + crag * (ledge + knobs)).astype(np.float32)
    return result


def _bed(heights: Map) -> Map:
    """Silt fills the bottom, an inlet stream braids over it, the last water cut a channel."""
    ratio, floor, _ = _valley(_SAMPLES)
    wide = np.clip(1.25 - ratio, 0, 1)
    silt = floor + 4.6 - 1.4 * wide + 0.35 * _field(_SAMPLES, 12, 41, 4)
    filled = -_smooth_min(-heights, -silt.astype(np.float32), 3.0)
    threads = np.zeros_like(heights)
    for k, (cells, seed) in enumerate(((4, 51), (6, 52), (9, 53))):
        track = np.abs(_field(_SAMPLES, cells, seed, 4, 0.45))
        threads += np.exp(-((track / (0.020 + 0.006 * k)) ** 2)) * (1.1 - 0.3 * k)
    main = np.exp(-((ratio / 0.10) ** 2)) * 1.5
    on_bed = np.clip((silt + 3.0 - heights) / 3.0, 0, 1)
    result: Map = (filled - on_bed * np.minimum(threads + main, 1.9)).astype(np.float32)
    return result


def _dam(heights: Map) -> Map:
    """An embankment across the outlet, its crest above the high-water mark."""
    y, x = np.mgrid[0:_SAMPLES, 0:_SAMPLES].astype(np.float32) * (SIZE_M / (_SAMPLES - 1))
    y = SIZE_M - y
    nx, ny = math.cos(math.radians(-46)), math.sin(math.radians(-46))
    off = (x - 1046) * nx + (y - 150) * ny + 0.00035 * ((x - 1046) * -ny + (y - 150) * nx) ** 2
    crest = HIGH_WATER_M + 4.5
    bank = crest - np.maximum(np.abs(off) - 4.0, 0) * np.where(off < 0, 0.62, 0.75)
    result: Map = np.maximum(heights, bank).astype(np.float32)
    return result


def make() -> Heightfield:
    """Make the ground of Vellin Water, always the same."""
    land = _gullies(_hills())
    y, x = np.mgrid[0:_SAMPLES, 0:_SAMPLES] * ((_MIDDLE - 1) / (_SAMPLES - 1))
    # the upsampled land is bent a little, so that no gully keeps the directions of the coarse grid
    x = x + 4.2 * _field(_SAMPLES, 13, 63, 4, 0.55)
    y = y + 4.2 * _field(_SAMPLES, 13, 64, 4, 0.55)
    heights = map_coordinates(land, [y, x], order=3, mode="nearest").astype(np.float32)
    heights = (heights - heights.min()) / (heights.max() - heights.min()) * (HIGHEST_M - LOWEST_M) + LOWEST_M
    heights = heights + 0.8 * _field(_SAMPLES, 22, 61, 5, 0.5)
    heights = _bed(_benches(_rock(heights.astype(np.float32))))
    heights = heights + 0.05 * _field(_SAMPLES, 128, 62, 2, 0.6)
    heights = _dam(heights.astype(np.float32))
    low, high = float(heights.min()), float(heights.max())
    heights = (heights - low) / (high - low) * (HIGHEST_M - LOWEST_M) + LOWEST_M
    return Heightfield(heights.astype(np.float32), SIZE_M, SIZE_M)
