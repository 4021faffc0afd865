"""Rivers: valleys in one go by stream power, implicit and O(n) a round (Braun & Willett 2013).

Each round routes the rain over the filled ground to the steepest lower neighbour, then walks
from the outlets upstream and lowers every cell towards the one it drains to. A little roughness
and creep between rounds keep streams from running along the grid.
"""

from __future__ import annotations

import math
from typing import Annotated, Any, Literal

import numpy as np
from numpy.typing import NDArray
from pydantic import Field

from elvatch.core.ground import drainage
from elvatch.core.ground.blur import blur
from elvatch.core.ground.drainage import STEP_COL, STEP_ROW
from elvatch.core.ground.heightfield import Heightfield
from elvatch.core.ground.shaped import Shaped
from elvatch.core.ground.step import Extent, StepBase, to_step
from elvatch.core.kernel import kernel
from elvatch.core.noise import fractal_noise
from elvatch.core.parallel import over_bands
from elvatch.core.parts import Seed, Share
from elvatch.core.run import Run
from elvatch.core.shown import Shown, share


class RiversStep(StepBase):
    """Rivers that cut valleys in one go, while the ground is lifted and creeps."""

    title = "Rivers"
    about = "cuts valleys in one go"
    order = 20
    cost = 3.0

    kind: Literal["rivers"] = "rivers"
    cut: Annotated[Share, share("Cut", "How deep they cut")] = Field(default=0.5, description="How deep they cut")
    branching: Annotated[Share, share("Branching", "From a few large valleys to many small ones")] = Field(
        default=0.5, description="From a few large valleys to many small ones"
    )
    rounds: Annotated[int, Shown("Rounds", "", 1, 100, 1)] = Field(default=10, ge=1, le=200)
    lift_m: Annotated[
        float, Shown("Lift", "m", 0, 1_000, 1, hint="Lift of the land over all rounds, its border aside")
    ] = Field(default=0.0, ge=0, le=2_000, description="Lift of the whole ground over all rounds")
    creep_m: Annotated[float, Shown("Creep", "m", 0, 100, 0.1, 1, hint="Radius over which slopes round off")] = Field(
        default=3.0, ge=0, le=500, description="Radius over which slopes round off"
    )
    seed: Seed = 1

    @classmethod
    def suiting(cls, extent: Extent) -> dict[str, Any]:
        """Return the numbers of a new one that depend on the ground."""
        return {"creep_m": max(0.1, to_step(extent.longest_m / 350, 0.1))}

    def apply(self, shaped: Shaped, run: Run) -> Shaped:
        """Return a ground with this step done to all of it."""
        return apply(shaped, self, run)


_HECTARE_M2 = 1e4
_SILT_M = 0.4
"""Most that a hollow silts up in a round."""


@kernel
def _receive_rows(
    level: NDArray[np.float32],
    way_out: NDArray[np.int32],
    per_away: NDArray[np.float32],
    receiver: NDArray[np.int32],
    a: int,
    b: int,
) -> None:
    """Set each cell's steepest lower neighbour; its way out where there is none."""
    cols = level.shape[1]
    for row in range(a, b):
        for col in range(cols):
            cell = row * cols + col
            down = way_out[cell]
            if down != cell:
                most = np.float32(0.0)
                for k in range(8):
                    fall = (level[row, col] - level[row + STEP_ROW[k], col + STEP_COL[k]]) * per_away[k]
                    if fall > most:
                        most = fall
                        down = cell + STEP_ROW[k] * cols + STEP_COL[k]
            receiver[cell] = down


@kernel
def _order_upstream(
    receiver: NDArray[np.int32], waits: NDArray[np.int8], order: NDArray[np.int32], area: NDArray[np.float32]
) -> None:
    """Put cells in an order in which each comes before the one it drains to, adding areas on the way."""
    n = receiver.shape[0]
    waits[:] = 0
    for cell in range(n):
        if receiver[cell] != cell:
            waits[receiver[cell]] += 1
    done = 0
    for first in range(n):
        cell = first
        # follow a stream down as long as it waits for nobody else
        while waits[cell] == 0:
            waits[cell] = -1
            order[done] = cell
            done += 1
            down = receiver[cell]
            if down == cell:
                break
            area[down] += area[cell]
            waits[down] -= 1
            cell = down


@kernel
def _cut(
    heights: NDArray[np.float32],
    receiver: NDArray[np.int32],
    order: NDArray[np.int32],
    area: NDArray[np.float32],
    cell_x: float,
    cell_y: float,
    erode: float,
    exponent: float,
    lift: float,
) -> None:
    cols = heights.shape[1]
    for i in range(order.shape[0] - 1, -1, -1):
        cell = order[i]
        down = receiver[cell]
        if down == cell:
            continue
        row, col = cell // cols, cell % cols
        d_row, d_col = down // cols, down % cols
        away = math.hypot((row - d_row) * cell_y, (col - d_col) * cell_x)
        below = heights[d_row, d_col]
        raised = heights[row, col] + lift
        if raised > below:
            pull = erode * area[cell] ** exponent / away
            heights[row, col] = (raised + pull * below) / (1.0 + pull)
        else:
            heights[row, col] = min(below, raised + _SILT_M)


@kernel
def _roughen_rows(
    heights: NDArray[np.float32],
    amount: float,
    size: float,
    seed: int,
    width_m: float,
    depth_m: float,
    a: int,
    b: int,
) -> None:
    rows, cols = heights.shape
    for row in range(max(a, 1), min(b, rows - 1)):
        north = depth_m * (1.0 - row / (rows - 1))
        for col in range(1, cols - 1):
            east = width_m * col / (cols - 1)
            heights[row, col] += amount * fractal_noise(east / size, north / size, seed, 0, 3, 0.5)


def _roughened(
    heights: NDArray[np.float32], amount: float, size: float, seed: int, ground: Heightfield
) -> NDArray[np.float32]:
    rough = heights.copy()
    over_bands(
        len(rough), lambda a, b: _roughen_rows(rough, amount, size, seed, ground.width_m, ground.depth_m, a, b)
    )
    return rough


def one_round(
    ground: Heightfield, erode: float, exponent: float, lift_m: float, run: Run
) -> tuple[NDArray[np.float32], NDArray[np.float32]]:
    """Cut once; return heights and the area drained through each cell (m²), both (rows, cols)."""
    network = drainage.fill(ground, run.token)
    n, shape = ground.heights_m.size, ground.heights_m.shape
    receiver, order, waits = np.empty(n, np.int32), np.empty(n, np.int32), np.empty(n, np.int8)
    per_away = (1 / np.hypot(STEP_ROW * ground.cell_y_m, STEP_COL * ground.cell_x_m)).astype(np.float32)
    over_bands(
        ground.rows, lambda a, b: _receive_rows(network.level_m, network.way_out, per_away, receiver, a, b), run.token
    )
    area = np.full(n, ground.cell_x_m * ground.cell_y_m, np.float32)
    _order_upstream(receiver, waits, order, area)
    heights = ground.heights_m.copy()
    _cut(heights, receiver, order, area, ground.cell_x_m, ground.cell_y_m, erode, exponent, lift_m)
    return heights, area.reshape(shape)


def apply(shaped: Shaped, step: RiversStep, run: Run) -> Shaped:
    """Let rivers cut valleys; the border, where water leaves, keeps its height."""
    ground = shaped.ground
    exponent = 0.58 - 0.28 * step.branching
    # a preview takes fewer, longer rounds
    rounds = max(min(3, step.rounds), round(step.rounds * math.sqrt(run.coarse)))
    erode = step.rounds / rounds * (0.05 + 2.4 * step.cut**2) / _HECTARE_M2**exponent
    sigma = 0.5 * step.creep_m / math.sqrt(rounds)
    size, amount = 12.0 + 6.0 * step.creep_m, 0.10 * step.creep_m
    heights, area = ground.heights_m, np.zeros_like(ground.heights_m)
    for number in range(rounds):
        run.at(number / rounds)
        rough = _roughened(heights, amount, size, step.seed + 61 * number, ground)
        now = Heightfield(rough, ground.width_m, ground.depth_m)
        heights, area = one_round(now, erode, exponent, step.lift_m / rounds, run)
        if sigma > 0.0:
            heights = blur(heights, sigma / ground.cell_x_m, sigma / ground.cell_y_m, run.token)
    change = heights - ground.heights_m
    return shaped.with_more(heights, np.maximum(-change, 0), np.maximum(change, 0), area)
