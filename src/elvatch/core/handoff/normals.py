"""Normals that are the gradient of the heights handed off with them."""

from __future__ import annotations

import math

import numpy as np
from numpy.typing import NDArray

from elvatch.core.kernel import inner, kernel
from elvatch.core.parallel import over_bands, rows_worth_it

Heights = NDArray[np.float32]


@inner
def _rise(heights: Heights, r: int, c: int, east_m: float, north_m: float) -> tuple[float, float]:
    east = (float(heights[r, c + 1]) - float(heights[r, c - 1])) / east_m
    return east, (float(heights[r - 1, c]) - float(heights[r + 1, c])) / north_m


@kernel
def _normal_rows(
    heights: Heights,
    ground: Heights,
    apart: tuple[NDArray[np.float64], NDArray[np.float64]],
    whole: NDArray[np.float32],
    against: NDArray[np.float32],
    a: int,
    b: int,
) -> None:
    for r in range(a, b):
        for c in range(whole.shape[1]):
            east_m, north_m = apart[0][c], apart[1][r]
            he, hn = _rise(heights, r + 1, c + 1, east_m, north_m)
            ge, gn = _rise(ground, r + 1, c + 1, east_m, north_m)
            long = 1.0 / math.sqrt(1.0 + he * he + hn * hn)
            x, y, z = -he * long, -hn * long, long
            whole[r, c, 0], whole[r, c, 1], whole[r, c, 2] = x, y, z
            # the ground's frame: its normal, its rise to the east, and what is upright to both
            up = 1.0 / math.sqrt(1.0 + ge * ge + gn * gn)
            nx, ny, nz = -ge * up, -gn * up, up
            along = 1.0 / math.sqrt(1.0 + ge * ge)
            tx, tz = along, ge * along
            against[r, c, 0] = x * tx + z * tz
            against[r, c, 1] = x * ny * tz + y * (nz * tx - nx * tz) - z * ny * tx
            against[r, c, 2] = x * nx + y * ny + z * nz


def normals(
    heights: Heights, ground: Heights, east_m: NDArray[np.float64], north_m: NDArray[np.float64]
) -> tuple[NDArray[np.float32], NDArray[np.float32]]:
    """Return the normals of heights by central differences, and the same as seen from the ground below.

    Parameters
    ----------
    heights, ground : ndarray, shape (rows + 2, cols + 2), float32
        Metres, of the texels and of those around them; north first.
    east_m : ndarray, shape (cols,), float64
        How far apart each texel's neighbours to the east and west stand.
    north_m : ndarray, shape (rows,), float64
        How far apart those to the north and south stand.

    Returns
    -------
    whole : ndarray, shape (rows, cols, 3), float32
        Unit normals: x east, y north, z up.
    against : ndarray, shape (rows, cols, 3), float32
        In the tangent space of the ground (Peercy, Airey & Cabral 1997): x along its rise to the east, y upright to
        that and to its normal, z its normal. A renderer that makes tangents of coordinates that run east gets the
        same frame (Mikkelsen 2008).
    """
    shape = (len(north_m), len(east_m), 3)
    whole, against = np.empty(shape, np.float32), np.empty(shape, np.float32)
    apart = (east_m, north_m)
    over_bands(
        shape[0],
        lambda a, b: _normal_rows(heights, ground, apart, whole, against, a, b),
        least=rows_worth_it(shape[1]),
    )
    return whole, against
