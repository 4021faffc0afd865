"""Courses: valleys, channels and benches cut along a line; banks and dams filled along it."""

from __future__ import annotations

import math
from typing import Annotated, Any, Literal

import numpy as np
from numpy.typing import NDArray
from pydantic import Field

from elvatch.core import digest
from elvatch.core.cache import Cache
from elvatch.core.curve import through
from elvatch.core.ground.heightfield import Heightfield
from elvatch.core.ground.shaped import Map, Shaped
from elvatch.core.ground.step import Extent, StepBase, to_step
from elvatch.core.ground.steps.level import soft_least
from elvatch.core.kernel import kernel
from elvatch.core.noise import fractal_noise
from elvatch.core.parallel import over_bands
from elvatch.core.parts import Elevation, Part, Place, Seed
from elvatch.core.run import Run
from elvatch.core.shown import Shown, metres

_MOST_KNOWN = 4_300_000
"""Samples of the largest ground for which places beside a course are kept: 2049 along a side, 34 MB a course."""


class CoursePoint(Part):
    """A point of a course."""

    east_m: Place
    north_m: Place
    level_m: Annotated[Elevation, Shown("Level", "m", -20_000, 20_000, 0.5, 1, usual=0.0)]
    half_width_m: Annotated[float, Shown("Half width", "m", 0, 10_000, 0.5, 1)] = Field(default=6.0, ge=0, le=10_000)


class CourseStep(StepBase):
    """Cuts a valley, a channel or a bench along a line, or fills a bank or a dam along it."""

    title = "Course"
    about = "cuts a valley or channel along a line, or fills a bank or dam along it"
    order = 120
    cost = 3.0

    kind: Literal["course"] = "course"
    points: tuple[CoursePoint, ...] = Field(min_length=2, max_length=64)
    side_deg: Annotated[float, Shown("Sides", "°", 1, 89, 0.5, 1, hint="Steepness of its sides")] = Field(
        default=30.0, ge=1, le=89, description="Steepness of its sides"
    )
    cut: bool = True
    fill: bool = False
    soft_m: Annotated[float, Shown("Soft over", "m", 0, 100, 0.1, 1)] = Field(default=1.0, ge=0, le=500)
    wander_m: Annotated[float, Shown("Wander", "m", 0, 500, 1, hint="How far the line strays")] = Field(
        default=0.0, ge=0, le=2_000, description="How far the line strays"
    )
    wander_size_m: Annotated[float, metres("Wander size", 5_000, "Size of its bends", 1, 1)] = Field(
        default=120.0, gt=0, le=20_000
    )
    seed: Seed = 1

    @classmethod
    def suiting(cls, extent: Extent) -> dict[str, Any]:
        """Return the numbers of a new one that depend on the ground."""
        level, half_width = to_step(extent.lowest_m + extent.rise_m * 0.3, 0.1), to_step(extent.longest_m / 80, 0.1)
        points = [
            {
                "east_m": to_step(extent.width_m * t, 0.1),
                "level_m": level,
                "half_width_m": half_width,
                "north_m": to_step(extent.depth_m * (0.5 + 0.1 * math.sin(t * 9)), 0.1),
            }
            for t in (0.15, 0.5, 0.85)
        ]
        return {"points": points, "wander_size_m": max(1.0, to_step(extent.longest_m / 10, 1))}

    def apply(self, shaped: Shaped, run: Run) -> Shaped:
        """Return a ground with this step done to all of it."""
        return apply(shaped, self, run)

    def make_ready(self, ground: Heightfield, run: Run) -> None:
        """Find where all places lie beside its line."""
        _beside(ground, self, run)


def _line(step: CourseStep) -> NDArray[np.float64]:
    """Return the course as short pieces (n, 4): a cubic through its points, east, north, level, half width."""
    points = np.array([(p.east_m, p.north_m, p.level_m, p.half_width_m) for p in step.points])
    line = through(points)
    line[:, 3] = np.maximum(line[:, 3], 0.0)
    return line


# columns of a piece: where it begins, how far it goes, what of that a metre is, its level and half width and how much
# more both are at its end
X, Y, LONG_X, LONG_Y, TO_X, TO_Y, LEVEL, MORE_LEVEL, HALF, MORE_HALF = range(10)


def _pieces(line: NDArray[np.float64]) -> NDArray[np.float64]:
    """Return the pieces of a line as compiled code takes them."""
    begins, more = line[:-1], np.diff(line, axis=0)
    long2 = (more[:, :2] ** 2).sum(axis=1, keepdims=True)
    a_metre = np.divide(more[:, :2], long2, out=np.zeros_like(more[:, :2]), where=long2 > 0)
    levels, halves = (np.stack([begins[:, k], more[:, k]], axis=1) for k in (2, 3))
    return np.concatenate([begins[:, :2], more[:, :2], a_metre, levels, halves], axis=1)


@kernel
def _beside_rows(
    pieces: NDArray[np.float64],
    wander: float,
    size: float,
    seed: int,
    width_m: float,
    depth_m: float,
    level: NDArray[np.float32],
    aside: NDArray[np.float32],
    a: int,
    b: int,
) -> None:
    """Fill in each place's level on the course and how far beside its floor it lies, metres."""
    rows, cols = level.shape
    for row in range(a, b):
        north = depth_m * (1.0 - row / (rows - 1))
        for col in range(cols):
            x, y = width_m * col / (cols - 1), north
            if wander > 0.0:
                u, v = x / size, y / size
                x, y = (
                    x + wander * fractal_noise(u, v, seed, 0, 4, 0.5),
                    y + wander * fractal_noise(u + 3.1, v - 8.7, seed + 17, 0, 4, 0.5),
                )
            best, weight_sum, level_sum = math.inf, 0.0, 0.0
            for k in range(pieces.shape[0]):
                dx, dy = x - pieces[k, X], y - pieces[k, Y]
                t = min(max(dx * pieces[k, TO_X] + dy * pieces[k, TO_Y], 0.0), 1.0)
                dx, dy = dx - t * pieces[k, LONG_X], dy - t * pieces[k, LONG_Y]
                away2 = dx * dx + dy * dy
                half = pieces[k, HALF] + t * pieces[k, MORE_HALF]
                # a root only of what can be the nearest
                reach = best + half
                if reach > 0.0 and away2 < reach * reach:
                    best = math.sqrt(away2) - half
                # levels of all pieces count by nearness, so that no seam runs along the inside of a bend
                near = away2 + 0.05 * half * half + 1e-3
                weight = 1.0 / (near * near)
                weight_sum += weight
                level_sum += weight * (pieces[k, LEVEL] + t * pieces[k, MORE_LEVEL])
            aside[row, col] = max(best, 0.0)
            level[row, col] = level_sum / weight_sum


_known = Cache[tuple[Map, Map]](24)


def _beside(ground: Heightfield, step: CourseStep, run: Run) -> tuple[Map, Map]:
    """Return each place's level on the course and how far beside its floor it lies, metres.

    Neither depends on the heights, so an edit of an earlier step finds them again.
    """
    line, size = _line(step), (ground.width_m, ground.depth_m)
    numbers = [step.wander_m, step.wander_size_m, step.seed, ground.rows, ground.cols, ground.width_m, ground.depth_m]

    def make() -> tuple[Map, Map]:
        level, aside, pieces = np.empty_like(ground.heights_m), np.empty_like(ground.heights_m), _pieces(line)
        over_bands(
            ground.rows,
            lambda a, b: _beside_rows(
                pieces, step.wander_m, step.wander_size_m, step.seed, *size, level, aside, a, b
            ),
            run.token,
        )
        return level, aside

    if ground.heights_m.size > _MOST_KNOWN:
        return make()
    return _known.get(digest.of_json([line.tolist(), numbers]), make)


def apply(shaped: Shaped, step: CourseStep, run: Run) -> Shaped:
    """Cut or fill along a course; beyond its half width its sides rise or fall at their angle."""
    ground = shaped.ground
    level, aside = _beside(ground, step, run)
    side = aside * np.float32(math.tan(math.radians(step.side_deg)))
    heights = ground.heights_m
    if step.cut:
        heights = soft_least(heights, level + side, step.soft_m)
    if step.fill:
        heights = -soft_least(-heights, side - level, step.soft_m)
    return shaped.with_heights(heights)
