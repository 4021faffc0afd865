"""Places on the ground: what the cover is asked about."""

from __future__ import annotations

from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from elvatch.core.ground.survey import Survey, ground_at
from elvatch.core.kernel import kernel
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


@kernel
def _settle_grid(
    survey: Survey, places: Places, width: int, height: int, first: int, across: float, a: int, b: int
) -> None:
    for row in range(a, b):
        y = survey.depth_m - (first + row + 0.5) * (survey.depth_m / height)
        for col in range(width):
            i = row * width + col
            places.x_m[i], places.y_m[i] = (col + 0.5) * (survey.width_m / width), y
            places.across_m[i] = across
        _settle(survey, places, row * width, (row + 1) * width)


def on_grid(survey: Survey, width_px: int, height_px: int, first: int, last: int) -> Places:
    """Return the places of the texels of rows ``first`` to ``last - 1`` of a map, row by row.

    Parameters
    ----------
    survey : Survey
        The ground; the map covers it from edge to edge.
    width_px, height_px : int
        Size of the whole map. A texel's place is its middle; row 0 is the north edge.
    first, last : int
        Which rows.
    """
    places = zeros((last - first) * width_px)
    across = max(survey.width_m / width_px, survey.depth_m / height_px)
    over_bands(
        last - first, lambda a, b: _settle_grid(survey, places, width_px, height_px, first, across, a, b), least=4
    )
    return places


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
