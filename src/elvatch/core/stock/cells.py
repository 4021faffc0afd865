"""Cells about scattered points in a seamless square: whose a place is, and how far to the next cell's border."""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from elvatch.core.kernel import kernel
from elvatch.core.parallel import over_bands

Map = NDArray[np.float32]
_Any = NDArray[np.floating]
_REACH = 3


@dataclass(frozen=True)
class Cells:
    """Cells of a seamless square.

    ``owner`` numbers the cell of each pixel, ``border`` is the distance to the nearest border and
    ``centre_x``, ``centre_y`` the way to the cell's point, all in sides of the square.
    """

    owner: NDArray[np.int32]
    border: Map
    centre_x: Map
    centre_y: Map


@kernel
def _rows(
    padded: Map, warp_x: Map, warp_y: Map, owner: NDArray[np.int32], border: Map, cx: Map, cy: Map, a: int, b: int
) -> None:
    grid, size = padded.shape[0] - 2 * _REACH, owner.shape[1]
    span = 2 * _REACH + 1
    for row in range(a, b):
        for col in range(size):
            x = ((col + 0.5) / size + warp_x[row, col]) * grid
            y = ((row + 0.5) / size + warp_y[row, col]) * grid
            home_x, home_y = math.floor(x), math.floor(y)
            x, y = x - home_x + _REACH, y - home_y + _REACH
            first_i, first_j = home_x % grid, home_y % grid
            nearest, at_i, at_j, near_x, near_y = 1e9, 0, 0, 0.0, 0.0
            for j in range(span):
                for i in range(span):
                    dx = i + padded[first_j + j, first_i + i, 0] - x
                    dy = j + padded[first_j + j, first_i + i, 1] - y
                    away = dx * dx + dy * dy
                    if away < nearest:
                        nearest, at_i, at_j, near_x, near_y = away, i, j, dx, dy
            closest, home = 1e9, math.sqrt(nearest)
            for j in range(span):
                for i in range(span):
                    dx = i + padded[first_j + j, first_i + i, 0] - x
                    dy = j + padded[first_j + j, first_i + i, 1] - y
                    # a border is at least half as far as its two points differ in distance
                    if dx * dx + dy * dy > (2.0 * closest + home) * (2.0 * closest + home):
                        continue
                    across_x, across_y = dx - near_x, dy - near_y
                    apart = math.sqrt(across_x * across_x + across_y * across_y)
                    if apart > 1e-6:
                        to_middle = (0.5 * (dx + near_x) * across_x + 0.5 * (dy + near_y) * across_y) / apart
                        closest = min(closest, to_middle)
            owner[row, col] = (first_j + at_j - _REACH) % grid * grid + (first_i + at_i - _REACH) % grid
            border[row, col] = closest / grid
            cx[row, col], cy[row, col] = near_x / grid, near_y / grid


def cells(
    rng: np.random.Generator,
    size: int,
    grid: int,
    warp: tuple[_Any, _Any],
    left_out: float = 0.0,
    jitter: float = 0.85,
) -> Cells:
    """Divide a seamless square into cells (Voronoi), their borders bent by a warp.

    Parameters
    ----------
    rng : Generator
        Places the points.
    size : int
        Pixels along a side.
    grid : int
        Points along a side, before some are left out.
    warp : tuple of ndarray, shape (size, size), float32
        How far places are moved right and down before they are asked, in sides of the square.
    left_out : float
        Share of points left out, so that cells differ in size; below 0.5.
    jitter : float
        How far a point may stray in its place, 0..1.
    """
    points = (0.5 + (rng.random((grid, grid, 2)) - 0.5) * jitter).astype(np.float32)
    # never so many in one place that a cell would reach out of sight
    gone = rng.random((grid, grid)) < left_out
    gone[::3, ::3] = False
    points[gone] = 1000.0
    right, down = (np.ascontiguousarray(one, np.float32) for one in warp)
    owner = np.empty((size, size), np.int32)
    border, cx, cy = (np.empty((size, size), np.float32) for _ in range(3))
    # a point left out lies too far away to be anybody's; the rim repeats the other side
    padded = np.ascontiguousarray(np.pad(points, ((_REACH, _REACH), (_REACH, _REACH), (0, 0)), mode="wrap"))
    over_bands(size, lambda a, b: _rows(padded, right, down, owner, border, cx, cy, a, b))
    return Cells(owner, border, cx, cy)
