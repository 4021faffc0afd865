"""Where water goes: depressions filled to their way out, and the area that drains through each place.

Filling is a priority flood (Barnes, Lehman & Mulla 2014) in which cells that only lead uphill
pass through a plain queue (Zhou, Sun & Fu 2016), so that few cells wait in the ordered one. It
leaves every cell a neighbour to drain to, on flats too.
"""

from __future__ import annotations

import math
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from elvatch.core.ground.heightfield import Heightfield
from elvatch.core.kernel import inner, kernel
from elvatch.core.parallel import Token, over_bands

STEP_ROW = np.array([-1, -1, -1, 0, 0, 1, 1, 1])
STEP_COL = np.array([-1, 0, 1, -1, 1, -1, 0, 1])
FREEMAN_POWER = 1.1


class Network(NamedTuple):
    """How a ground drains.

    ``level_m`` (rows, cols) float32: heights with every depression filled to its way out.
    ``way_out`` (rows * cols,) int32: the neighbour by which water that finds no lower one leaves
    a cell, following the flood back; a cell of the border names itself.
    """

    level_m: NDArray[np.float32]
    way_out: NDArray[np.int32]


@inner
def _push(keys: NDArray[np.float32], cells: NDArray[np.int32], count: int, key: float, cell: int) -> None:
    at = count
    while at > 0:
        up = (at - 1) >> 2
        if keys[up] <= key:
            break
        keys[at], cells[at] = keys[up], cells[up]
        at = up
    keys[at], cells[at] = key, cell


@inner
def _sift_down(keys: NDArray[np.float32], cells: NDArray[np.int32], count: int) -> None:
    """Move the last entry to the top of a four-way heap of ``count`` left, and down to its place."""
    key, cell = keys[count], cells[count]
    at = 0
    while True:
        first = 4 * at + 1
        if first >= count:
            break
        child = first
        for other in range(first + 1, min(first + 4, count)):
            if keys[other] < keys[child]:
                child = other
        if keys[child] >= key:
            break
        keys[at], cells[at] = keys[child], cells[child]
        at = child
    keys[at], cells[at] = key, cell


@kernel
def _fill(
    level: NDArray[np.float32],
    way_out: NDArray[np.int32],
    keys: NDArray[np.float32],
    cells: NDArray[np.int32],
    queue: NDArray[np.int32],
) -> None:
    """Raise ``level`` (heights at first) to the flood's level and fill in ``way_out``."""
    rows, cols = level.shape
    waiting = 0
    for cell in range(rows * cols):
        row, col = cell // cols, cell % cols
        way_out[cell] = -1
        if row == 0 or col == 0 or row == rows - 1 or col == cols - 1:
            way_out[cell] = cell
            _push(keys, cells, waiting, level[row, col], cell)
            waiting += 1
    while waiting > 0:
        start = cells[0]
        waiting -= 1
        _sift_down(keys, cells, waiting)
        queue[0] = start
        first, last = 0, 1
        while first < last:
            cell = queue[first]
            first += 1
            row, col = cell // cols, cell % cols
            here = level[row, col]
            flooded = cell == start or level[row, col] <= level[start // cols, start % cols]
            must_wait = False
            for k in range(8):
                r, c = row + STEP_ROW[k], col + STEP_COL[k]
                if r < 0 or c < 0 or r >= rows or c >= cols:
                    continue
                beside = r * cols + c
                if way_out[beside] >= 0:
                    continue
                if level[r, c] <= here:
                    # a hollow: only a cell that the flood itself has reached may let it in
                    if not flooded:
                        must_wait = True
                        continue
                    level[r, c] = here
                way_out[beside] = cell
                queue[last] = beside
                last += 1
            if must_wait:
                _push(keys, cells, waiting, here, cell)
                waiting += 1


def fill(ground: Heightfield, token: Token | None = None) -> Network:
    """Fill depressions and give every cell a way out.

    Parameters
    ----------
    ground : Heightfield
        Heights in metres; water leaves over the border.
    token : Token, optional
        Asked before the work.

    Returns
    -------
    Network
        Filled heights and ways out (Barnes, Lehman & Mulla 2014; Zhou, Sun & Fu 2016).
    """
    if token is not None:
        token.check()
    n = ground.heights_m.size
    level = ground.heights_m.copy()
    way_out = np.empty(n, np.int32)
    _fill(level, way_out, np.empty(n, np.float32), np.empty(n, np.int32), np.empty(n, np.int32))
    return Network(level, way_out)


@kernel
def _givers(level: NDArray[np.float32], way_out: NDArray[np.int32], gives: NDArray[np.uint8], a: int, b: int) -> None:
    """Mark, one bit a neighbour, to whom each cell gives its water."""
    cols = level.shape[1]
    for row in range(a, b):
        for col in range(cols):
            marks, cell = 0, row * cols + col
            if way_out[cell] == cell:
                gives[cell] = 0
                continue
            for k in range(8):
                r, c = row + STEP_ROW[k], col + STEP_COL[k]
                if level[r, c] < level[row, col]:
                    marks |= 1 << k
            if marks == 0:
                for k in range(8):
                    if (row + STEP_ROW[k]) * cols + col + STEP_COL[k] == way_out[cell]:
                        marks = 1 << k
            gives[cell] = marks


@kernel
def _count_givers(gives: NDArray[np.uint8], waits: NDArray[np.int8], rows: int, cols: int, a: int, b: int) -> None:
    for row in range(a, b):
        for col in range(cols):
            count = 0
            for k in range(8):
                r, c = row + STEP_ROW[k], col + STEP_COL[k]
                if 0 <= r < rows and 0 <= c < cols and gives[r * cols + c] & (1 << (7 - k)):
                    count += 1
            waits[row * cols + col] = count


@kernel
def _gather(
    level: NDArray[np.float32],
    gives: NDArray[np.uint8],
    waits: NDArray[np.int8],
    stack: NDArray[np.int32],
    area: NDArray[np.float64],
    away: NDArray[np.float32],
    power: np.float32,
    pull: NDArray[np.float32],
) -> None:
    """Hand each cell's area on once all that give to it have done so."""
    rows, cols = level.shape
    for first in range(rows * cols):
        if waits[first] != 0:
            continue
        stack[0] = first
        waiting = 1
        waits[first] = -1
        while waiting > 0:
            waiting -= 1
            cell = stack[waiting]
            marks = gives[cell]
            row, col = cell // cols, cell % cols
            here = level[row, col]
            total = np.float32(0.0)
            for k in range(8):
                if marks & (1 << k):
                    fall = (here - level[row + STEP_ROW[k], col + STEP_COL[k]]) * away[k]
                    pull[k] = fall**power
                    total += pull[k]
            for k in range(8):
                if not marks & (1 << k):
                    continue
                share = pull[k] / total if total > 0.0 else 1.0
                beside = cell + STEP_ROW[k] * cols + STEP_COL[k]
                area[beside] += share * area[cell]
                waits[beside] -= 1
                if waits[beside] == 0:
                    waits[beside] = -1
                    stack[waiting] = beside
                    waiting += 1


def accumulate(
    ground: Heightfield,
    network: Network,
    own: NDArray[np.float64],
    token: Token | None = None,
    power: float = FREEMAN_POWER,
) -> NDArray[np.float64]:
    """Sum what runs down a ground, each cell giving to all lower neighbours (Freeman 1991).

    Parameters
    ----------
    ground : Heightfield
        For its cell size.
    network : Network
        From :func:`fill`.
    own : ndarray, shape (rows, cols), float64
        What each cell adds: its area for the area drained, its rain for a discharge.
    token : Token, optional
        Asked between parts.
    power : float
        Exponent of the slope in the shares; larger keeps the water together.

    Returns
    -------
    ndarray, shape (rows, cols), float64
        What runs through each cell, its own included.
    """
    rows, cols = network.level_m.shape
    n = rows * cols
    gives, waits = np.empty(n, np.uint8), np.empty(n, np.int8)
    over_bands(rows, lambda a, b: _givers(network.level_m, network.way_out, gives, a, b), token)
    over_bands(rows, lambda a, b: _count_givers(gives, waits, rows, cols, a, b), token)
    area = own.ravel().astype(np.float64, copy=True)
    away = (1 / np.hypot(STEP_ROW * ground.cell_y_m, STEP_COL * ground.cell_x_m)).astype(np.float32)
    stack, pull = np.empty(n, np.int32), np.empty(8, np.float32)
    _gather(network.level_m, gives, waits, stack, area, away, np.float32(power), pull)
    return area.reshape(rows, cols)


def drainage_area(ground: Heightfield, network: Network, token: Token | None = None) -> NDArray[np.float32]:
    """Return the area that drains through each cell, m², its own included.

    The areas that leave over the border sum to the area of the ground's cells.
    """
    cell = ground.cell_x_m * ground.cell_y_m
    own = np.full((ground.rows, ground.cols), cell)
    return accumulate(ground, network, own, token).astype(np.float32)


def wetness(area_m2: NDArray[np.float32], slope_deg: NDArray[np.float32], ground: Heightfield) -> NDArray[np.float32]:
    """Return the topographic wetness ln(a / tan b) (Beven & Kirkby 1979).

    ``a`` is the area drained per metre of contour, ``b`` the slope, not less than 0.1 degrees.
    """
    contour = math.sqrt(ground.cell_x_m * ground.cell_y_m)
    steep = np.tan(np.radians(np.maximum(slope_deg, np.float32(0.1))))
    result: NDArray[np.float32] = np.log(np.maximum(area_m2, 1e-6) / contour / steep).astype(np.float32)
    return result
