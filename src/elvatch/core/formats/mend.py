"""Mending heights: holes filled smoothly, quantised steps smoothed within half a level."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from elvatch.core.ground.blur import blur
from elvatch.core.kernel import kernel
from elvatch.core.parallel import over_bands

Map = NDArray[np.float32]
_ROUNDS = 24


@kernel
def _relax_rows(values: Map, hole: NDArray[np.bool_], out: Map, a: int, b: int) -> None:
    rows, cols = values.shape
    for row in range(a, b):
        for col in range(cols):
            if not hole[row, col]:
                out[row, col] = values[row, col]
                continue
            north, south = values[max(row - 1, 0), col], values[min(row + 1, rows - 1), col]
            west, east = values[row, max(col - 1, 0)], values[row, min(col + 1, cols - 1)]
            out[row, col] = np.float32(0.25) * (north + south + west + east)


def _relax(values: Map, hole: NDArray[np.bool_], out: Map) -> None:
    over_bands(len(values), lambda a, b: _relax_rows(values, hole, out, a, b))


def fill_holes(values: Map, hole: NDArray[np.bool_]) -> Map:
    """Fill holes as a membrane would, coarse to fine.

    Parameters
    ----------
    values : ndarray, shape (rows, cols), float32
        Whatever stands in the holes is not looked at.
    hole : ndarray of bool, same shape
        Where there is none; some sample must be left.

    Returns
    -------
    ndarray, shape (rows, cols), float32
        Other samples are unchanged.
    """
    known = np.where(hole, np.float32(0), values)
    if not hole.any():
        return values
    rows, cols = values.shape
    if min(rows, cols) > 2:
        even = ((0, rows % 2), (0, cols % 2))
        quads = (-(-rows // 2), 2, -(-cols // 2), 2)
        count = np.pad(~hole, even).reshape(quads).sum(axis=(1, 3))
        total = np.pad(known.astype(np.float64), even).reshape(quads).sum(axis=(1, 3))
        coarse = (total / np.maximum(count, 1)).astype(np.float32)
        below = fill_holes(coarse, count == 0)
        spread = np.repeat(np.repeat(below, 2, axis=0), 2, axis=1)[:rows, :cols]
        known = np.where(hole, spread, known)
    else:
        known = np.where(hole, np.float32(known[~hole].mean()) if not hole.all() else np.float32(0), known)
    spare = np.empty_like(known)
    for _ in range(_ROUNDS):
        _relax(known, hole, spare)
        known, spare = spare, known
    return known


def level_step(values: NDArray[np.generic]) -> float:
    """Return the usual distance between neighbouring levels of quantised values."""
    levels = np.unique(values)
    return float(np.median(np.diff(levels.astype(np.float64)))) if len(levels) > 1 else 0.0


_SIGMAS = (1.0, 2.0, 4.0, 8.0, 16.0, 32.0)


def smooth_steps(values: Map, step: float) -> Map:
    """Smooth quantised heights without moving any sample by more than half a level.

    Each sample is smoothed over about as far as its level reaches: widely on gentle ground,
    hardly where it is so steep that no step shows.

    Parameters
    ----------
    values : ndarray, shape (rows, cols), float32
        As quantised.
    step : float
        Distance between levels, from :func:`level_step`.
    """
    half = np.float32(0.499 * step)
    out = values
    for sigma in _SIGMAS:
        if sigma > min(values.shape) / 4:
            break
        calm = blur(values, sigma, sigma)
        rise = np.hypot(*np.gradient(calm))
        # a level reaches step / rise samples; smoothing further than that bends the land itself
        out = np.where(rise * np.float32(1.1 * sigma) < np.float32(step), calm, out)
    low, high = values - half, values + half
    for _ in range(3):
        out = np.clip(blur(out, 1.0, 1.0), low, high)
    return out
