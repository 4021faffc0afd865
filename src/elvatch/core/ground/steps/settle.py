"""Settling: loose ground slides until nothing is steeper than its angle of repose (Musgrave et al. 1989).

What slides crosses the faces between cells, so that none is lost. A face lets ground through in
proportion to what the whole gradient there, not only its part across the face, exceeds the angle
by; so slopes come to rest alike in all directions. Long slides are settled on a coarser grid
first, whose cells hold the same ground.
"""

from __future__ import annotations

import math
from typing import Annotated, Literal, NamedTuple

import numpy as np
from numpy.typing import NDArray
from pydantic import Field

from elvatch.core.ground.rounds import AT_ONCE, Piece, fronts, halves, play
from elvatch.core.ground.shaped import Map, Shaped
from elvatch.core.ground.step import StepBase
from elvatch.core.kernel import inner, kernel
from elvatch.core.parallel import over_bands, rows_worth_it
from elvatch.core.run import Run
from elvatch.core.shown import Shown


class SettleStep(StepBase):
    """Lets loose ground slide until nothing is steeper than its angle of repose."""

    title = "Settle"
    about = "lets loose ground slide until nothing is steeper than its angle of repose"
    order = 40
    cost = 30.0

    kind: Literal["settle"] = "settle"
    repose_deg: Annotated[
        float, Shown("Repose", "°", 2, 85, 0.5, 1, hint="Angle of repose: scree 35 to 40, sand 33")
    ] = Field(default=36.0, ge=2, le=85)

    def apply(self, shaped: Shaped, run: Run) -> Shaped:
        """Return a ground with this step done to all of it."""
        return apply(shaped, self, run)


_PACE = 0.16
_COARSEST = 20
_COARSE_ROUNDS, _FINEST_ROUNDS = 2000, 3000
_LOOK_EVERY = 3 * AT_ONCE
_ENOUGH_DEG = 0.35
_BELOW_DEG = 0.4
"""Faces settle to this much less than the angle: slopes over three by three samples scatter about them."""


@inner
def _excess(along: np.float32, across: np.float32, most: np.float32) -> np.float32:
    """Return by how much the part of a gradient along a face's normal is too much."""
    steep = np.sqrt(along * along + across * across)
    result: np.float32 = along * max(np.float32(0.0), np.float32(1.0) - most / max(steep, np.float32(1e-12)))
    return result


class Slopes(NamedTuple):
    """Heights on cells of several sizes, and what crosses their faces.

    ``per_x[i]`` is one over the distance from column ``i`` to the next, metres, ``per_y`` that of rows; ``hold_x``
    and ``hold_y`` say how large the cells are, in cells of ``cell_x`` and ``cell_y`` metres. ``east`` and ``south``
    are what crosses each cell's face there, m² a metre of face: the last column has none in the east, the last
    row none in the south. ``most`` is the steepness that holds, ``pace`` what a face lets through of more.
    """

    heights: Map
    per_x: Map
    per_y: Map
    hold_x: Map
    hold_y: Map
    east: Map
    south: Map
    cell_x: float
    cell_y: float
    most: float
    pace: float


@inner
def _slide(on: Slopes, row: int) -> None:
    """Fill in what crosses each face of a row's cells."""
    rows, cols = on.heights.shape
    per_x, per_y = on.per_x, on.per_y
    limit, speed, half = np.float32(on.most), np.float32(on.pace), np.float32(0.5)
    first, last = max(row - 1, 0), min(row + 1, rows - 1)
    up, here, down = on.heights[first], on.heights[row], on.heights[last]
    to_east, to_south = on.east[row], on.south[row]
    span = np.float32(0.0)
    for r in range(first, last):
        span += np.float32(1.0) / per_y[r]
    span = half / span
    for col in range(cols - 1):
        along = (here[col] - here[col + 1]) * per_x[col]
        across = span * (up[col] + up[col + 1] - down[col] - down[col + 1])
        to_east[col] = speed * _excess(along, across, limit)
    to_east[cols - 1] = 0.0
    if row == rows - 1:
        to_south[:] = 0.0
        return
    for col in range(1, cols - 1):
        along = (here[col] - down[col]) * per_y[row]
        wide = half * per_x[col - 1] * per_x[col] / (per_x[col - 1] + per_x[col])
        across = wide * (here[col - 1] + down[col - 1] - here[col + 1] - down[col + 1])
        to_south[col] = speed * _excess(along, across, limit)
    for col in (0, cols - 1):
        inward = 1 if col == 0 else cols - 2
        along = (here[col] - down[col]) * per_y[row]
        across = half * per_x[min(col, inward)] * (here[col] + down[col] - here[inward] - down[inward])
        to_south[col] = speed * _excess(along, across, limit)


@inner
def _move(on: Slopes, row: int) -> None:
    """Take what leaves each cell of a row and add what comes."""
    cols = on.heights.shape[1]
    per_x, per_y = np.float32(1.0 / on.cell_x), np.float32(1.0 / on.cell_y)
    here, hold_x = on.heights[row], on.hold_x
    from_west, from_north, away = on.east[row], on.south[row - 1] if row > 0 else on.south[row], on.south[row]
    open_north = np.float32(1.0) if row > 0 else np.float32(0.0)
    per_row = np.float32(1.0) / on.hold_y[row]
    here[0] += ((open_north * from_north[0] - away[0]) * per_y - from_west[0] * per_x) * per_row / hold_x[0]
    for col in range(1, cols):
        gain = (from_west[col - 1] - from_west[col]) * per_x
        gain += (open_north * from_north[col] - away[col]) * per_y
        here[col] += gain * per_row / hold_x[col]


@kernel
def _too_steep_rows(on: Slopes, worst: Map, a: int, b: int) -> None:
    """Fill in the most that crosses a face of each row's cells."""
    for row in range(a, b):
        _slide(on, row)
        most = np.float32(0.0)
        for across in (on.east[row], on.south[row]):
            for col in range(len(across)):
                most = max(most, abs(across[col]))
        worst[row] = most


@kernel
def _rounds(on: Slopes, count: int, piece: Piece) -> None:
    """Play some rounds on a piece."""
    for front in range(piece.top, fronts(piece, count)):
        for k in range(count):
            row, slides, moves = halves(piece, front, k)
            if slides:
                _slide(on, row)
            if moves:
                _move(on, row - 1)


def _per_metre(hold: Map, cell: float) -> Map:
    """Return one over the distance from each block's middle to the next one's."""
    result: Map = (2 / ((hold[1:] + hold[:-1]) * cell)).astype(np.float32)
    return result


def _relax(
    heights: Map, cell_x: float, cell_y: float, most: float, holds: tuple[Map, Map], rounds: int, run: Run
) -> None:
    on = Slopes(
        heights,
        _per_metre(holds[0], cell_x),
        _per_metre(holds[1], cell_y),
        *holds,
        np.empty_like(heights),
        np.empty_like(heights),
        cell_x,
        cell_y,
        most,
        _PACE * min(cell_x, cell_y) ** 2,
    )
    rows, least, first = len(heights), rows_worth_it(heights.shape[1]), 0.0
    worst = np.empty(rows, np.float32)
    for _ in range(0, rounds, _LOOK_EVERY):
        over_bands(rows, lambda a, b: _too_steep_rows(on, worst, a, b), run.token, least)
        over = math.degrees(math.atan(most + float(worst.max()) / on.pace) - math.atan(most))
        first = first or max(over, _ENOUGH_DEG)
        # the rest melts away evenly in its logarithm
        run.at(min(0.99, math.log(first / over) / math.log(first / _ENOUGH_DEG + 1e-9)) if over > 0 else 1.0)
        if over < _ENOUGH_DEG:
            return
        for _ in range(0, _LOOK_EVERY, AT_ONCE):
            play(rows, lambda piece: _rounds(on, AT_ONCE, piece), run.token)


def _blocks(samples: int) -> NDArray[np.int64]:
    """Return where the blocks of two samples begin; an odd last sample joins the block before it."""
    return np.arange(0, max(samples - 1, 1), 2)


def _in_blocks(values: NDArray[np.float64], rows: NDArray[np.int64], cols: NDArray[np.int64]) -> NDArray[np.float64]:
    result: NDArray[np.float64] = np.add.reduceat(np.add.reduceat(values, rows, axis=0), cols, axis=1)
    return result


def _settled(
    heights: Map, cell_x: float, cell_y: float, most: float, holds: tuple[Map, Map], run: Run, finest: bool
) -> Map:
    """Settle on a grid of half the size first, whose cells hold the same ground, then here."""
    out = heights.copy()
    if min(heights.shape) > _COARSEST:
        rows, cols = _blocks(heights.shape[0]), _blocks(heights.shape[1])
        hold = holds[1][:, None].astype(np.float64) * holds[0]
        coarse = (_in_blocks(heights * hold, rows, cols) / _in_blocks(hold, rows, cols)).astype(np.float32)
        larger = [
            (np.add.reduceat(one, at) / 2).astype(np.float32) for one, at in zip(holds, (cols, rows), strict=True)
        ]
        below = _settled(coarse, 2 * cell_x, 2 * cell_y, most, (larger[0], larger[1]), run, False)
        sizes = [np.diff(at, append=n) for at, n in zip((rows, cols), heights.shape, strict=True)]
        out += np.repeat(np.repeat(below - coarse, sizes[0], axis=0), sizes[1], axis=1)
    quiet = run if finest else Run(run.token)
    _relax(out, cell_x, cell_y, most, holds, _FINEST_ROUNDS if finest else _COARSE_ROUNDS, quiet)
    return out


def apply(shaped: Shaped, step: SettleStep, run: Run) -> Shaped:
    """Let everything steeper than the angle of repose slide.

    The sum of heights is kept; ground neither enters nor leaves over the border. What slid off
    and what came to rest are kept as worn and dropped.
    """
    ground = shaped.ground
    most = math.tan(math.radians(max(step.repose_deg - _BELOW_DEG, 0.5 * step.repose_deg)))
    holds = (np.ones(ground.cols, np.float32), np.ones(ground.rows, np.float32))
    origin = np.float32(ground.lowest_m)
    settled = _settled(ground.heights_m - origin, ground.cell_x_m, ground.cell_y_m, most, holds, run, True) + origin
    change = settled - ground.heights_m
    worn, dropped = np.maximum(-change, 0), np.maximum(change, 0)
    # thousands of rounds each round a little: what came to rest makes up for it
    rest = float(dropped.sum(dtype=np.float64))
    dropped *= np.float32(float(worn.sum(dtype=np.float64)) / rest if rest > 0 else 1.0)
    return shaped.with_more(ground.heights_m + (dropped - worn), worn, dropped, np.zeros_like(change))
