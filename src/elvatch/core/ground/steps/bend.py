"""Bending sideways: warping by noise, twisting about a place. What shaping left behind moves along."""

from __future__ import annotations

import math
from typing import Annotated, Any, Literal

import numpy as np
from numpy.typing import NDArray
from pydantic import Field

from elvatch.core.ground.sampling import taken_from
from elvatch.core.ground.shaped import Shaped, Traces
from elvatch.core.ground.step import Extent, StepBase, sized, to_step
from elvatch.core.kernel import kernel
from elvatch.core.noise import fractal_noise
from elvatch.core.parallel import over_bands
from elvatch.core.parts import Place, Seed
from elvatch.core.run import Run
from elvatch.core.shown import Shown, metres


class WarpStep(StepBase):
    """Bends the ground sideways by noise."""

    title = "Warp"
    about = "bends the ground sideways by noise"
    order = 80

    kind: Literal["warp"] = "warp"
    amount_m: Annotated[float, metres("Amount", 2_000, "Farthest that a place is moved, about", step=1)] = Field(
        default=25.0, ge=0, le=5_000, description="Farthest that a place is moved, about"
    )
    size_m: Annotated[float, metres("Size", 20_000, "Size of the bends", step=1)] = Field(
        default=150.0, gt=0, le=100_000
    )
    detail: Annotated[int, Shown("Detail", "", 1, 8, 1)] = Field(default=3, ge=1, le=8)
    seed: Seed = 1

    @classmethod
    def suiting(cls, extent: Extent) -> dict[str, Any]:
        """Return the numbers of a new one that depend on the ground."""
        return {"amount_m": to_step(extent.longest_m / 40, 0.1), "size_m": sized(extent.longest_m / 8, 1)}

    def apply(self, shaped: Shaped, run: Run) -> Shaped:
        """Return a ground with this step done to all of it."""
        return warp(shaped, self, run)


class TwistStep(StepBase):
    """Turns the ground about a place, most in its middle."""

    title = "Twist"
    about = "turns the ground about a place"
    order = 90

    kind: Literal["twist"] = "twist"
    turn_deg: Annotated[float, Shown("Turn", "°", -720, 720, 1, hint="Counter-clockwise seen from above")] = Field(
        default=40.0, ge=-720, le=720, description="Counter-clockwise seen from above"
    )
    radius_m: Annotated[float, metres("Radius", 50_000, "Where the turning ends", step=1)] = Field(
        default=300.0, gt=0, le=100_000
    )
    east_m: Place | None = None
    north_m: Place | None = None

    @classmethod
    def suiting(cls, extent: Extent) -> dict[str, Any]:
        """Return the numbers of a new one that depend on the ground."""
        return {"radius_m": sized(extent.longest_m / 4, 1)}

    def apply(self, shaped: Shaped, run: Run) -> Shaped:
        """Return a ground with this step done to all of it."""
        return twist(shaped, self, run)


@kernel
def _warp_rows(
    rows_at: NDArray[np.float32],
    cols_at: NDArray[np.float32],
    amount: float,
    size: float,
    detail: int,
    seed: int,
    width_m: float,
    depth_m: float,
    a: int,
    b: int,
) -> None:
    rows, cols = rows_at.shape
    for row in range(a, b):
        north = depth_m * (1.0 - row / (rows - 1))
        for col in range(cols):
            east = width_m * col / (cols - 1)
            x = east + amount * fractal_noise(east / size, north / size, seed, 0, detail, 0.5)
            y = north + amount * fractal_noise(east / size + 7.7, north / size - 4.1, seed + 401, 0, detail, 0.5)
            cols_at[row, col] = x / width_m * (cols - 1)
            rows_at[row, col] = (1.0 - y / depth_m) * (rows - 1)


@kernel
def _twist_rows(
    rows_at: NDArray[np.float32],
    cols_at: NDArray[np.float32],
    turn: float,
    radius: float,
    middle_x: float,
    middle_y: float,
    width_m: float,
    depth_m: float,
    a: int,
    b: int,
) -> None:
    rows, cols = rows_at.shape
    for row in range(a, b):
        dy = depth_m * (1.0 - row / (rows - 1)) - middle_y
        for col in range(cols):
            dx = width_m * col / (cols - 1) - middle_x
            near = max(0.0, 1.0 - (dx * dx + dy * dy) / (radius * radius))
            # a place shows what lay where it turned from
            angle = -turn * near * near
            c, s = math.cos(angle), math.sin(angle)
            cols_at[row, col] = (middle_x + c * dx - s * dy) / width_m * (cols - 1)
            rows_at[row, col] = (1.0 - (middle_y + s * dx + c * dy) / depth_m) * (rows - 1)


def _moved(shaped: Shaped, rows_at: NDArray[np.float32], cols_at: NDArray[np.float32], run: Run) -> Shaped:
    moved = shaped.with_heights(taken_from(shaped.ground.heights_m, rows_at, cols_at, run.token))
    if shaped.traces is None:
        return moved
    traces = [np.maximum(taken_from(one, rows_at, cols_at, run.token), 0) for one in shaped.traces]
    return Shaped(moved.ground, Traces(*traces))


def warp(shaped: Shaped, step: WarpStep, run: Run) -> Shaped:
    """Bend a ground sideways by noise."""
    ground = shaped.ground
    rows_at, cols_at = np.empty_like(ground.heights_m), np.empty_like(ground.heights_m)
    over_bands(
        ground.rows,
        lambda a, b: _warp_rows(
            rows_at, cols_at, step.amount_m, step.size_m, step.detail, step.seed, ground.width_m, ground.depth_m, a, b
        ),
        run.token,
    )
    return _moved(shaped, rows_at, cols_at, run)


def twist(shaped: Shaped, step: TwistStep, run: Run) -> Shaped:
    """Turn a ground about a place, most in the middle, not at all at the radius."""
    ground = shaped.ground
    rows_at, cols_at = np.empty_like(ground.heights_m), np.empty_like(ground.heights_m)
    middle_x = ground.width_m / 2 if step.east_m is None else step.east_m
    middle_y = ground.depth_m / 2 if step.north_m is None else step.north_m
    over_bands(
        ground.rows,
        lambda a, b: _twist_rows(
            rows_at,
            cols_at,
            math.radians(step.turn_deg),
            step.radius_m,
            middle_x,
            middle_y,
            ground.width_m,
            ground.depth_m,
            a,
            b,
        ),
        run.token,
    )
    return _moved(shaped, rows_at, cols_at, run)
