"""Mending heights, in place or nearly so: holes filled smoothly, quantised steps smoothed within half a level."""

from __future__ import annotations

import itertools
from typing import Any

import numpy as np
from numpy.typing import NDArray

from elvatch.core.ground.blur import blur
from elvatch.core.kernel import kernel
from elvatch.core.parallel import over_bands

Map = NDArray[np.float32]
_ROUNDS = 24
_BANDS = 16
_ROWS_AT_ONCE = 256


@kernel
def _relax_rows(
    values: Map,
    hole: NDArray[np.bool_],
    above: NDArray[np.float32],
    below: NDArray[np.float32],
    here: NDArray[np.float32],
    a: int,
    b: int,
) -> None:
    """Let holes of some rows take the mean of their neighbours, all as they were before.

    ``above`` holds the row over the first as it was, ``below`` the row under the last; both, and ``here``, are
    scratch for one row.
    """
    rows, cols = values.shape
    for row in range(a, b):
        for col in range(cols):
            here[col] = values[row, col]
        for col in range(cols):
            if hole[row, col]:
                north = above[col] if row > 0 else here[col]
                south = (below[col] if row == b - 1 else values[row + 1, col]) if row < rows - 1 else here[col]
                west, east = here[max(col - 1, 0)], here[min(col + 1, cols - 1)]
                values[row, col] = np.float32(0.25) * (north + south + west + east)
        for col in range(cols):
            above[col] = here[col]


def _relax(values: Map, hole: NDArray[np.bool_]) -> None:
    rows, cols = values.shape
    edges = [rows * i // _BANDS for i in range(_BANDS + 1)]
    # what bands see of their neighbours is what stood there before any of them began
    seen = [(values[max(a - 1, 0)].copy(), values[min(b, rows - 1)].copy()) for a, b in itertools.pairwise(edges)]

    def work(first: int, last: int) -> None:
        here = np.empty(cols, np.float32)
        for band in range(first, last):
            _relax_rows(values, hole, *seen[band], here, edges[band], edges[band + 1])

    over_bands(_BANDS, work, least=1)


@kernel
def _halve_rows(values: Map, hole: NDArray[np.bool_], out: Map, empty: NDArray[np.bool_], a: int, b: int) -> None:
    """Average what there is of each two by two samples."""
    rows, cols = values.shape
    for row in range(a, b):
        for col in range(out.shape[1]):
            total, count = 0.0, 0
            for r in range(2 * row, min(2 * row + 2, rows)):
                for c in range(2 * col, min(2 * col + 2, cols)):
                    if not hole[r, c]:
                        total += values[r, c]
                        count += 1
            out[row, col] = total / max(count, 1)
            empty[row, col] = count == 0


@kernel
def _spread_rows(coarse: Map, hole: NDArray[np.bool_], values: Map, a: int, b: int) -> None:
    """Put into each hole what stands there in a map of half the size."""
    for row in range(a, b):
        for col in range(values.shape[1]):
            if hole[row, col]:
                values[row, col] = coarse[row // 2, col // 2]


def fill_holes(values: Map, hole: NDArray[np.bool_]) -> None:
    """Fill holes as a membrane would, coarse to fine.

    Parameters
    ----------
    values : ndarray, shape (rows, cols), float32
        Whatever stands in the holes is not looked at; they are filled in place, other samples stay.
    hole : ndarray of bool, same shape
        Where there is none; some sample must be left.
    """
    if not hole.any():
        return
    rows, cols = values.shape
    if min(rows, cols) > 2:
        half = -(-rows // 2), -(-cols // 2)
        coarse, empty = np.empty(half, np.float32), np.empty(half, bool)
        over_bands(half[0], lambda a, b: _halve_rows(values, hole, coarse, empty, a, b))
        fill_holes(coarse, empty)
        over_bands(rows, lambda a, b: _spread_rows(coarse, hole, values, a, b))
    else:
        values[hole] = np.float32(values[~hole].mean()) if not hole.all() else np.float32(0)
    for _ in range(_ROUNDS):
        _relax(values, hole)


@kernel
def _note_levels(
    keys: NDArray[np.uint32], seen: NDArray[np.uint8], first_ones: NDArray[np.uint32], count: int
) -> int:
    """Count the numbers that were not seen before, the first of them kept."""
    for key in keys:
        at, bit = key >> np.uint32(3), np.uint8(1 << (key & np.uint32(7)))
        if not seen[at] & bit:
            seen[at] |= bit
            if count < first_ones.shape[0]:
                first_ones[count] = key
            count += 1
    return count


class Levels:
    """How many different values there are, found some at a time without sorting them.

    One bit for each number of 32 bits: half a gigabyte of which only those pages are touched whose values occur.

    Parameters
    ----------
    few : int
        Up to as many, the distance between them is told.
    """

    def __init__(self, few: int) -> None:
        self.count = 0
        self._seen = np.zeros(1 << 29, np.uint8)
        self._first_ones = np.zeros(few, np.uint32)
        self._type: np.dtype[Any] = np.dtype(np.float32)

    def add(self, values: NDArray[Any]) -> None:
        """Count some values: one dimension of whole numbers of up to 32 bits, or float32, all of one type."""
        self._type = values.dtype
        # with zero added, for zero less than nothing is zero
        keys = (values + np.float32(0)).view(np.uint32) if values.dtype.kind == "f" else values.astype(np.uint32)
        self.count = _note_levels(keys, self._seen, self._first_ones, self.count)

    @property
    def step(self) -> float:
        """The usual distance between neighbouring levels where there are few, else 0."""
        if not 1 < self.count <= len(self._first_ones):
            return 0.0
        keys = self._first_ones[: self.count]
        levels = keys.view(np.float32) if self._type.kind == "f" else keys.astype(self._type)
        return float(np.median(np.diff(np.sort(levels.astype(np.float64)))))


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
        Distance between levels, from :class:`Levels`.
    """
    half = np.float32(0.499 * step)
    out = values.copy()
    for sigma in _SIGMAS:
        if sigma > min(values.shape) / 4:
            break
        calm = blur(values, sigma, sigma)
        # a level reaches step / rise samples; smoothing further than that bends the land itself
        for a in range(0, len(values), _ROWS_AT_ONCE):
            b = min(a + _ROWS_AT_ONCE, len(values))
            around = slice(max(a - 1, 0), b + 1)
            rise = np.hypot(*np.gradient(calm[around]))[a - around.start :][: b - a]
            flat = rise * np.float32(1.1 * sigma) < np.float32(step)
            out[a:b][flat] = calm[a:b][flat]
    for _ in range(3):
        out = blur(out, 1.0, 1.0)
        for a in range(0, len(values), _ROWS_AT_ONCE):
            rows = slice(a, a + _ROWS_AT_ONCE)
            np.clip(out[rows], values[rows] - half, values[rows] + half, out=out[rows])
    return out
