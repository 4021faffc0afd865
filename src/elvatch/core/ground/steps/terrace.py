"""Terraces: level benches with steep fronts, cut into whatever ground there is."""

from __future__ import annotations

import math

import numpy as np
from numpy.typing import NDArray

from elvatch.core.ground.description import TerraceStep
from elvatch.core.ground.shaped import Shaped
from elvatch.core.kernel import kernel
from elvatch.core.noise import fractal_noise, gradient_noise
from elvatch.core.parallel import over_bands
from elvatch.core.run import Run

_WANDER_SPACINGS = 30.0


@kernel
def _terrace_rows(
    heights: NDArray[np.float32], spacing: float, offset: float, sharpness: float, irregularity: float, seed: int,
    width_m: float, depth_m: float, out: NDArray[np.float32], a: int, b: int,
) -> None:  # fmt: skip
    rows, cols = heights.shape
    size = spacing * _WANDER_SPACINGS
    front = max(1.0 - sharpness, 1e-3)
    for row in range(a, b):
        north = depth_m * (1.0 - row / (rows - 1))
        for col in range(cols):
            east = width_m * col / (cols - 1)
            level = (heights[row, col] - offset) / spacing
            wander = 0.0
            if irregularity > 0.0:
                # levels are uneven, wander along the slope, and are cut deeper in some places than in others
                wander = irregularity * (
                    0.55 * fractal_noise(east / size, north / size, seed, 0, 4, 0.5)
                    + 0.30 * gradient_noise(level * 0.53 + 11.3, 0.37, seed + 29, 0)
                )
            level += wander
            tread = math.floor(level)
            part = level - tread
            rise = min(max((part - 0.5) / front + 0.5, 0.0), 1.0)
            deep = 1.0
            if irregularity > 0.0:
                patch = fractal_noise(east / size * 0.8 + 5.1, north / size * 0.8 - 3.3, seed + 53, 0, 3, 0.5)
                deep = 1.0 - irregularity * min(max(0.45 - 0.9 * patch, 0.0), 1.0)
            out[row, col] = heights[row, col] + spacing * deep * (rise - part)


def apply(shaped: Shaped, step: TerraceStep, run: Run) -> Shaped:
    """Cut terraces; no height moves by more than half a spacing."""
    ground = shaped.ground
    out = np.empty_like(ground.heights_m)
    over_bands(
        ground.rows,
        lambda a, b: _terrace_rows(
            ground.heights_m, step.spacing_m, step.offset_m, step.sharpness, step.irregularity, step.seed,
            ground.width_m, ground.depth_m, out, a, b,
        ),
        run.token,
    )  # fmt: skip
    return shaped.with_heights(out)
