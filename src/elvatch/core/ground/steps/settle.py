"""Settling: loose ground slides until nothing is steeper than its angle of repose (Musgrave et al. 1989).

What slides crosses the faces between cells, so that none is lost. A face lets ground through in
proportion to what the whole gradient there, not only its part across the face, exceeds the angle
by; so slopes come to rest alike in all directions. Long slides are settled on a coarser grid
first, whose cells hold the same ground.
"""

from __future__ import annotations

import math
from typing import Annotated, Literal

import numpy as np
from numpy.typing import NDArray
from pydantic import Field

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
_LOOK_EVERY = 12
_ENOUGH_DEG = 0.35
_BELOW_DEG = 0.4
"""Faces settle to this much less than the angle: slopes over three by three samples scatter about them."""


@inner
def _excess(along: np.float32, across: np.float32, most: np.float32) -> np.float32:
    """Return by how much the part of a gradient along a face's normal is too much."""
    steep = np.sqrt(along * along + across * across)
    result: np.float32 = along * max(np.float32(0.0), np.float32(1.0) - most / max(steep, np.float32(1e-12)))
    return result


@kernel
def _slide_rows(
    heights: NDArray[np.float32],
    per_x: NDArray[np.float32],
    per_y: NDArray[np.float32],
    most: float,
    pace: float,
    east: NDArray[np.float32],
    south: NDArray[np.float32],
    a: int,
    b: int,
) -> None:
    """Fill in what crosses each cell's east and south face, m² a metre of face.

    ``per_x[i]`` is one over the distance from column ``i`` to the next, metres; ``per_y`` that of
    rows. The last column has no face in the east, the last row none in the south.
    """
    rows, cols = heights.shape
    limit, speed, half = np.float32(most), np.float32(pace), np.float32(0.5)
    for row in range(a, b):
        first, last = max(row - 1, 0), min(row + 1, rows - 1)
        up, here, down = heights[first], heights[row], heights[last]
        span = np.float32(0.0)
        for r in range(first, last):
            span += np.float32(1.0) / per_y[r]
        span = half / span
        for col in range(cols - 1):
            along = (here[col] - here[col + 1]) * per_x[col]
            across = span * (up[col] + up[col + 1] - down[col] - down[col + 1])
            east[row, col] = speed * _excess(along, across, limit)
        east[row, cols - 1] = 0.0
        if row == rows - 1:
            south[row, :] = 0.0
            continue
        for col in range(1, cols - 1):
            along = (here[col] - down[col]) * per_y[row]
            wide = half * per_x[col - 1] * per_x[col] / (per_x[col - 1] + per_x[col])
            across = wide * (here[col - 1] + down[col - 1] - here[col + 1] - down[col + 1])
            south[row, col] = speed * _excess(along, across, limit)
        for col in (0, cols - 1):
            inward = 1 if col == 0 else cols - 2
            along = (here[col] - down[col]) * per_y[row]
            across = half * per_x[min(col, inward)] * (here[col] + down[col] - here[inward] - down[inward])
            south[row, col] = speed * _excess(along, across, limit)


@kernel
def _move_rows(
    heights: NDArray[np.float32],
    east: NDArray[np.float32],
    south: NDArray[np.float32],
    cell_x: float,
    cell_y: float,
    hold_x: NDArray[np.float32],
    hold_y: NDArray[np.float32],
    a: int,
    b: int,
) -> None:
    """Take what leaves each cell and add what comes; ``hold`` says how large the cells are."""
    cols = heights.shape[1]
    per_x, per_y = np.float32(1.0 / cell_x), np.float32(1.0 / cell_y)
    for row in range(a, b):
        from_west, from_north, away = east[row], south[row - 1] if row > 0 else south[row], south[row]
        open_north = np.float32(1.0) if row > 0 else np.float32(0.0)
        per_row = np.float32(1.0) / hold_y[row]
        heights[row, 0] += (
            ((open_north * from_north[0] - away[0]) * per_y - from_west[0] * per_x) * per_row / hold_x[0]
        )
        for col in range(1, cols):
            gain = (from_west[col - 1] - from_west[col]) * per_x
            gain += (open_north * from_north[col] - away[col]) * per_y
            heights[row, col] += gain * per_row / hold_x[col]


def _per_metre(hold: Map, cell: float) -> Map:
    """Return one over the distance from each block's middle to the next one's."""
    result: Map = (2 / ((hold[1:] + hold[:-1]) * cell)).astype(np.float32)
    return result


def _relax(
    heights: Map, cell_x: float, cell_y: float, most: float, holds: tuple[Map, Map], rounds: int, run: Run
) -> None:
    east, south = np.empty_like(heights), np.empty_like(heights)
    rows, least = len(heights), rows_worth_it(heights.shape[1])
    pace = _PACE * min(cell_x, cell_y) ** 2
    per_x, per_y = _per_metre(holds[0], cell_x), _per_metre(holds[1], cell_y)
    first = 0.0
    for number in range(rounds):
        over_bands(
            rows, lambda a, b: _slide_rows(heights, per_x, per_y, most, pace, east, south, a, b), run.token, least
        )
        if number % _LOOK_EVERY == 0:
            excess = max(float(np.abs(east).max()), float(np.abs(south).max())) / pace
            over = math.degrees(math.atan(most + excess) - math.atan(most))
            first = first or max(over, _ENOUGH_DEG)
            # the rest melts away evenly in its logarithm
            run.at(min(0.99, math.log(first / over) / math.log(first / _ENOUGH_DEG + 1e-9)) if over > 0 else 1.0)
            if over < _ENOUGH_DEG:
                return
        over_bands(
            rows, lambda a, b: _move_rows(heights, east, south, cell_x, cell_y, *holds, a, b), run.token, least
        )


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
