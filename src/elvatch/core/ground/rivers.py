"""Valleys in one go: stream power on a grid, implicit and O(n) a step (Braun & Willett 2013).

Flow order and receivers come from a priority flood (Barnes 2014): cells are taken in the order
in which rising water would reach them from the border, so every cell has a way out and the
order itself runs from the outlets upstream.
"""

from __future__ import annotations

import math

import numpy as np
from numpy.typing import NDArray

from elvatch.core.ground.heightfield import Heightfield
from elvatch.core.kernel import kernel
from elvatch.core.parallel import Token

_STEP_ROW = np.array([-1, -1, -1, 0, 0, 1, 1, 1])
_SILT_M = 1e-3
_STEP_COL = np.array([-1, 0, 1, -1, 1, -1, 0, 1])


@kernel
def _push(keys: NDArray[np.float64], cells: NDArray[np.int64], count: int, key: float, cell: int) -> None:
    at = count
    while at > 0:
        up = (at - 1) >> 1
        if keys[up] <= key:
            break
        keys[at], cells[at] = keys[up], cells[up]
        at = up
    keys[at], cells[at] = key, cell


@kernel
def _sift_down(keys: NDArray[np.float64], cells: NDArray[np.int64], count: int) -> None:
    """Move the last entry to the top of a heap of ``count`` left, and down to its place."""
    key, cell = keys[count], cells[count]
    at = 0
    while True:
        child = 2 * at + 1
        if child >= count:
            break
        if child + 1 < count and keys[child + 1] < keys[child]:
            child += 1
        if keys[child] >= key:
            break
        keys[at], cells[at] = keys[child], cells[child]
        at = child
    keys[at], cells[at] = key, cell


@kernel
def _flood(
    heights: NDArray[np.float64], keys: NDArray[np.float64], cells: NDArray[np.int64],
    order: NDArray[np.int64], receiver: NDArray[np.int64],
) -> None:  # fmt: skip
    """Fill in ``order`` (outlets first) and each cell's ``receiver`` (itself at the border)."""
    rows, cols = heights.shape
    waiting, done = 0, 0
    for cell in range(rows * cols):
        row, col = cell // cols, cell % cols
        receiver[cell] = -1
        if row == 0 or col == 0 or row == rows - 1 or col == cols - 1:
            _push(keys, cells, waiting, heights[row, col], cell)
            receiver[cell] = cell
            waiting += 1
    while waiting > 0:
        level, cell = keys[0], cells[0]
        waiting -= 1
        _sift_down(keys, cells, waiting)
        order[done] = cell
        done += 1
        row, col = cell // cols, cell % cols
        for k in range(8):
            r, c = row + _STEP_ROW[k], col + _STEP_COL[k]
            if r < 0 or c < 0 or r >= rows or c >= cols or receiver[r * cols + c] >= 0:
                continue
            receiver[r * cols + c] = cell
            _push(keys, cells, waiting, max(level, heights[r, c]), r * cols + c)
            waiting += 1


@kernel
def _carve(
    heights: NDArray[np.float64], order: NDArray[np.int64], receiver: NDArray[np.int64], area: NDArray[np.float64],
    cell_m: float, strength: float, exponent: float, uplift: NDArray[np.float32],
) -> None:  # fmt: skip
    cols = heights.shape[1]
    n = order.shape[0]
    for i in range(n):
        area[i] = cell_m * cell_m
    for i in range(n - 1, -1, -1):
        cell = order[i]
        if receiver[cell] != cell:
            area[receiver[cell]] += area[cell]
    for i in range(n):
        cell = order[i]
        down = receiver[cell]
        if down == cell:
            continue
        row, col = cell // cols, cell % cols
        d_row, d_col = down // cols, down % cols
        away = cell_m * math.hypot(row - d_row, col - d_col)
        pull = strength * area[cell] ** exponent / away
        below = heights[d_row, d_col]
        raised = heights[row, col] + uplift[row, col]
        # a hollow silts up to its way out
        heights[row, col] = (raised + pull * below) / (1.0 + pull) if raised > below else below + _SILT_M


def carve(
    ground: Heightfield, strength: float, steps: int, uplift_m: NDArray[np.float32], token: Token | None = None,
    exponent: float = 0.45,
) -> Heightfield:  # fmt: skip
    """Let rivers cut valleys while the ground is lifted.

    Parameters
    ----------
    ground : Heightfield
        Square cells; its border is where water leaves and does not move.
    strength : float
        Erodibility times the duration of a step, metres^(1 - 2 * exponent).
    steps : int
        How many steps.
    uplift_m : ndarray, shape (rows, cols), float32
        Lift a step, metres.
    token : Token, optional
        Asked between steps.
    exponent : float
        Of the contributing area in the stream power law.

    Returns
    -------
    Heightfield
        The carved ground.
    """
    heights = ground.heights_m.astype(np.float64)
    n = heights.size
    keys, cells = np.empty(n), np.empty(n, np.int64)
    order, receiver, area = np.empty(n, np.int64), np.empty(n, np.int64), np.empty(n)
    for _ in range(steps):
        if token is not None:
            token.check()
        _flood(heights, keys, cells, order, receiver)
        _carve(heights, order, receiver, area, ground.cell_x_m, strength, exponent, uplift_m)
    return Heightfield(heights.astype(np.float32), ground.width_m, ground.depth_m)
