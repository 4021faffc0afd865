"""Normals that are the gradient of the heights handed off with them."""

from __future__ import annotations

import functools
import math

import numpy as np
from numpy.typing import NDArray

from elvatch.core.kernel import inner, kernel
from elvatch.core.parallel import over_bands

Heights = NDArray[np.float32]


_LEAST_ROWS = 8
"""Of a band that is worth another thread."""


@kernel
def _whole_rows(
    heights: Heights,
    apart: tuple[NDArray[np.float32], NDArray[np.float32]],
    line: NDArray[np.float32],
    out: NDArray[np.float32],
    a: int,
    b: int,
) -> None:
    east, north = apart
    cols = out.shape[1]
    for r in range(a, b):
        up, here, down = heights[r], heights[r + 1], heights[r + 2]
        for c in range(cols):
            line[0, c] = (here[c] - here[c + 2]) / east[c]
        for c in range(cols):
            line[1, c] = (down[c + 1] - up[c + 1]) / north[r]
        for c in range(cols):
            line[2, c] = np.float32(1.0) / np.sqrt(
                np.float32(1.0) + line[0, c] * line[0, c] + line[1, c] * line[1, c]
            )
        for c in range(cols):
            long = line[2, c]
            out[r, c, 0], out[r, c, 1], out[r, c, 2] = line[0, c] * long, line[1, c] * long, long


@inner
def _rise(heights: Heights, r: int, c: int, east_m: float, north_m: float) -> tuple[float, float]:
    east = (float(heights[r, c + 1]) - float(heights[r, c - 1])) / east_m
    return east, (float(heights[r - 1, c]) - float(heights[r + 1, c])) / north_m


@kernel
def _against_rows(
    heights: Heights,
    ground: Heights,
    apart: tuple[NDArray[np.float32], NDArray[np.float32]],
    out: NDArray[np.float32],
    a: int,
    b: int,
) -> None:
    for r in range(a, b):
        for c in range(out.shape[1]):
            east_m, north_m = apart[0][c], apart[1][r]
            he, hn = _rise(heights, r + 1, c + 1, east_m, north_m)
            ge, gn = _rise(ground, r + 1, c + 1, east_m, north_m)
            long = 1.0 / math.sqrt(1.0 + he * he + hn * hn)
            x, y, z = -he * long, -hn * long, long
            # the ground's frame: its normal, its rise to the east, and what is upright to both
            up = 1.0 / math.sqrt(1.0 + ge * ge + gn * gn)
            nx, ny, nz = -ge * up, -gn * up, up
            along = 1.0 / math.sqrt(1.0 + ge * ge)
            tx, tz = along, ge * along
            out[r, c, 0] = x * tx + z * tz
            out[r, c, 1] = x * ny * tz + y * (nz * tx - nx * tz) - z * ny * tx
            out[r, c, 2] = x * nx + y * ny + z * nz


class Normals:
    """Normals of heights by central differences, made when they are asked for.

    Parameters
    ----------
    heights, ground : ndarray, shape (rows + 2, cols + 2), float32
        Metres, of the texels and of those around them; north first. The ground is what lies below the relief.
    east_m : ndarray, shape (cols,), float64
        How far apart each texel's neighbours to the east and west stand.
    north_m : ndarray, shape (rows,), float64
        How far apart those to the north and south stand.
    """

    def __init__(
        self, heights: Heights, ground: Heights, east_m: NDArray[np.float64], north_m: NDArray[np.float64]
    ) -> None:
        self._heights, self._ground = heights, ground
        self._apart = east_m.astype(np.float32), north_m.astype(np.float32)

    @functools.cached_property
    def whole(self) -> NDArray[np.float32]:
        """Unit normals, shape (rows * cols, 3), float32: x east, y north, z up."""
        cols, rows = (len(of) for of in self._apart)
        out = np.empty((rows, cols, 3), np.float32)

        def band(a: int, b: int) -> None:
            _whole_rows(self._heights, self._apart, np.empty((3, cols), np.float32), out, a, b)

        over_bands(rows, band, least=_LEAST_ROWS)
        return out.reshape(-1, 3)

    @functools.cached_property
    def against(self) -> NDArray[np.float32]:
        """The same in the tangent space of the ground (Peercy, Airey & Cabral 1997).

        x along its rise to the east, y upright to that and to its normal, z its normal. A renderer that makes
        tangents of coordinates that run east gets the same frame (Mikkelsen 2008).
        """
        cols, rows = (len(of) for of in self._apart)
        out = np.empty((rows, cols, 3), np.float32)

        def band(a: int, b: int) -> None:
            _against_rows(self._heights, self._ground, self._apart, out, a, b)

        over_bands(rows, band, least=_LEAST_ROWS)
        return out.reshape(-1, 3)
