"""Places on the ground: what the cover is asked about."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from elvatch.core.ground.survey import Survey, ground_at, ground_on_row, row_at
from elvatch.core.kernel import kernel, unsigned
from elvatch.core.parallel import over_bands


class Places(NamedTuple):
    """``n`` places, each with a position, the ground's lie there and the area it stands for.

    ``x_m, y_m`` world position; ``elevation_m``; ``rise_east, rise_north`` the ground's gradient;
    ``sky`` the part of the sky it sees; ``across_m`` the width of the area; ``along_east_m,
    along_north_m`` the vector by which the area is longer than wide (0 when it is round).
    """

    x_m: NDArray[np.float64]
    y_m: NDArray[np.float64]
    elevation_m: NDArray[np.float32]
    rise_east: NDArray[np.float32]
    rise_north: NDArray[np.float32]
    sky: NDArray[np.float32]
    across_m: NDArray[np.float32]
    along_east_m: NDArray[np.float32]
    along_north_m: NDArray[np.float32]

    def rise(self) -> NDArray[np.float32]:
        """Return the ground's gradient, shape (n, 2)."""
        return np.stack([self.rise_east, self.rise_north], axis=1)


ReliefAt = Callable[[Places], NDArray[np.float32]]
"""Tells how far the cover's relief rises at places, metres along the ground's normal."""


def zeros(count: int) -> Places:
    """Return ``count`` places, all zero, to be filled in."""
    return Places(np.zeros(count), np.zeros(count), *(np.zeros(count, np.float32) for _ in range(7)))


@kernel
def _settle(survey: Survey, places: Places, a: int, b: int) -> None:
    for i in range(a, b):
        z, gx, gy, sky = ground_at(survey, places.x_m[i], places.y_m[i])
        places.elevation_m[i] = z
        places.rise_east[i], places.rise_north[i] = gx, gy
        places.sky[i] = sky


def on_ground(survey: Survey, x_m: NDArray[np.float64], y_m: NDArray[np.float64], across_m: float) -> Places:
    """Return round places of one size standing on the ground.

    Parameters
    ----------
    survey : Survey
        The ground.
    x_m, y_m : ndarray, shape (n,), float64
        World positions.
    across_m : float
        Width of the area each stands for, metres.
    """
    places = zeros(len(x_m))
    places.x_m[:], places.y_m[:], places.across_m[:] = x_m, y_m, across_m
    over_bands(len(x_m), lambda a, b: _settle(survey, places, a, b), least=4096)
    return places


class Grid(NamedTuple):
    """The texels of a map of the whole ground, row 0 in the north.

    They stand in the middles of their cells; with ``corners`` the outermost stand on the ground's edges, as heights
    do.
    """

    width: int
    height: int
    corners: bool = False

    def cell_m(self, survey: Survey) -> tuple[float, float]:
        """Return how far texels stand apart, east and north, metres."""
        less = 1 if self.corners else 0
        return survey.width_m / (self.width - less), survey.depth_m / (self.height - less)


@kernel
def _settle_grid(
    survey: Survey, places: Places, grid: Grid, top: int, left: int, cols: int, across: float, a: int, b: int
) -> None:
    shift = 0.0 if grid.corners else 0.5
    less = 1 if grid.corners else 0
    for row in range(a, b):
        down = min(max(top + row, 0), grid.height - 1)
        y = survey.depth_m - (down + shift) * (survey.depth_m / (grid.height - less))
        r, v = row_at(survey, y)
        for col in range(cols):
            i = unsigned(row * cols + col)
            right = min(max(left + col, 0), grid.width - 1)
            x = (right + shift) * (survey.width_m / (grid.width - less))
            z, gx, gy, sky = ground_on_row(survey, x, r, v)
            places.x_m[i], places.y_m[i], places.across_m[i] = x, y, across
            places.elevation_m[i], places.sky[i] = z, sky
            places.rise_east[i], places.rise_north[i] = gx, gy


def on_window(survey: Survey, grid: Grid, rows: tuple[int, int], cols: tuple[int, int]) -> Places:
    """Return the places of the texels of a part of a map, row by row.

    Parameters
    ----------
    survey : Survey
        The ground; the map covers it from edge to edge.
    grid : Grid
        The whole map.
    rows, cols : tuple of int
        The first of them and the one after the last. What lies outside the map repeats its edge.
    """
    (top, bottom), (left, right) = rows, cols
    wide = right - left
    places = zeros((bottom - top) * wide)
    across = max(grid.cell_m(survey))
    over_bands(bottom - top, lambda a, b: _settle_grid(survey, places, grid, top, left, wide, across, a, b), least=4)
    return places


def size_of(width_m: float, depth_m: float, longer_px: int) -> tuple[int, int]:
    """Return width and height in pixels of maps of a ground whose longer side has ``longer_px``."""
    scale = longer_px / max(width_m, depth_m)
    return max(1, round(width_m * scale)), max(1, round(depth_m * scale))


def on_grid(survey: Survey, width_px: int, height_px: int, first: int, last: int) -> Places:
    """Return the places of the texels of rows ``first`` to ``last - 1`` of a map of the whole ground; see
    :func:`on_window`."""
    return on_window(survey, Grid(width_px, height_px), (first, last), (0, width_px))


def joined(parts: Sequence[Places]) -> Places:
    """Return places one after the other."""
    return Places(*(np.concatenate(column) for column in zip(*parts, strict=True)))


def some(places: Places, rows: NDArray[np.int64]) -> Places:
    """Return the places at ``rows``, in that order."""
    return Places(
        places.x_m[rows],
        places.y_m[rows],
        places.elevation_m[rows],
        places.rise_east[rows],
        places.rise_north[rows],
        places.sky[rows],
        places.across_m[rows],
        places.along_east_m[rows],
        places.along_north_m[rows],
    )
