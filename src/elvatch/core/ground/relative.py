"""Height above the surroundings: over the mean within a radius, metres."""

from __future__ import annotations

import math

import numpy as np
from numpy.typing import NDArray

from elvatch.core.ground.heightfield import Heightfield
from elvatch.core.kernel import kernel
from elvatch.core.parallel import Token, over_bands


@kernel
def _sum_rows(heights: NDArray[np.float32], origin: float, sums: NDArray[np.float64], a: int, b: int) -> None:
    for row in range(a, b):
        sums[row, 0] = 0.0
        for col in range(heights.shape[1]):
            sums[row, col + 1] = sums[row, col] + (heights[row, col] - origin)


@kernel
def _over_mean_rows(
    heights: NDArray[np.float32],
    origin: float,
    sums: NDArray[np.float64],
    spans: NDArray[np.int64],
    total: NDArray[np.float64],
    out: NDArray[np.float32],
    a: int,
    b: int,
) -> None:
    """``spans[d]`` says how many samples the disc reaches to both sides, ``d`` rows from its middle."""
    rows, cols = heights.shape
    reach = spans.shape[0] - 1
    for row in range(a, b):
        total[:] = 0.0
        first, last = max(0, row - reach), min(rows - 1, row + reach)
        for r in range(first, last + 1):
            span = spans[abs(r - row)]
            for col in range(cols):
                total[col] += sums[r, min(col + span + 1, cols)] - sums[r, max(col - span, 0)]
        for col in range(cols):
            count = 0
            for r in range(first, last + 1):
                span = spans[abs(r - row)]
                count += min(col + span + 1, cols) - max(col - span, 0)
            out[row, col] = heights[row, col] - origin - total[col] / count


def relative_height(ground: Heightfield, radius_m: float, token: Token | None = None) -> NDArray[np.float32]:
    """Return each sample's height over the mean of the disc about it, metres.

    Parameters
    ----------
    ground : Heightfield
        Heights in metres.
    radius_m : float
        Of the disc; what lies over the border does not count.
    token : Token, optional
        Asked between bands.

    Returns
    -------
    ndarray, shape (rows, cols), float32
        0 on a plane away from its border, positive on crests.
    """
    reach = int(radius_m / ground.cell_y_m)
    away = np.arange(reach + 1) * ground.cell_y_m
    spans = (np.sqrt(np.maximum(radius_m**2 - away**2, 0.0)) / ground.cell_x_m).astype(np.int64)
    origin = math.floor(ground.lowest_m)
    sums = np.empty((ground.rows, ground.cols + 1))
    over_bands(ground.rows, lambda a, b: _sum_rows(ground.heights_m, origin, sums, a, b), token)
    out = np.empty_like(ground.heights_m)
    over_bands(
        ground.rows,
        lambda a, b: _over_mean_rows(ground.heights_m, origin, sums, spans, np.empty(ground.cols), out, a, b),
        token,
    )
    return out
