"""Normals that are the gradient of the heights handed off with them."""

from __future__ import annotations

import functools
from collections.abc import Callable

import numpy as np
from numpy.typing import NDArray

from elvatch.core.kernel import inner, kernel
from elvatch.core.parallel import over_bands

Heights = NDArray[np.float32]


_LEAST_ROWS = 8
"""Of a band that is worth another thread."""


@inner
def _upright(rise_e: np.float32, rise_n: np.float32) -> np.float32:
    """Return the vertical part of the unit normal of a surface that rises so much a metre."""
    one = np.float32(1.0)
    up: np.float32 = one / np.sqrt(one + rise_e * rise_e + rise_n * rise_n)
    return up


@kernel
def _whole_rows(
    heights: Heights,
    per_m: tuple[NDArray[np.float32], NDArray[np.float32]],
    out: NDArray[np.float32],
    a: int,
    b: int,
) -> None:
    for r in range(a, b):
        up, here, down, row = heights[r], heights[r + 1], heights[r + 2], out[r]
        for c in range(len(per_m[0])):
            x = (here[c] - here[c + 2]) * per_m[0][c]
            y = (down[c + 1] - up[c + 1]) * per_m[1][r]
            z = _upright(x, y)
            row[3 * c], row[3 * c + 1], row[3 * c + 2] = x * z, y * z, z


@kernel
def _against_rows(
    heights: Heights,
    ground: Heights,
    per_m: tuple[NDArray[np.float32], NDArray[np.float32]],
    out: NDArray[np.float32],
    a: int,
    b: int,
) -> None:
    for r in range(a, b):
        up, here, down, row = heights[r], heights[r + 1], heights[r + 2], out[r]
        low_up, low, low_down = ground[r], ground[r + 1], ground[r + 2]
        for c in range(len(per_m[0])):
            x = (here[c] - here[c + 2]) * per_m[0][c]
            y = (down[c + 1] - up[c + 1]) * per_m[1][r]
            z = _upright(x, y)
            x, y = x * z, y * z
            # the ground's frame: its normal, its rise to the east, and what is upright to both
            nx = (low[c] - low[c + 2]) * per_m[0][c]
            ny = (low_down[c + 1] - low_up[c + 1]) * per_m[1][r]
            tx = _upright(nx, np.float32(0.0))
            tz = -nx * tx
            nz = _upright(nx, ny)
            nx, ny = nx * nz, ny * nz
            row[3 * c] = x * tx + z * tz
            row[3 * c + 1] = x * ny * tz + y * (nz * tx - nx * tz) - z * ny * tx
            row[3 * c + 2] = x * nx + y * ny + z * nz


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
        self._per_m = (1 / east_m).astype(np.float32), (1 / north_m).astype(np.float32)

    def _made(self, rows_of: Callable[[NDArray[np.float32], int, int], None]) -> NDArray[np.float32]:
        cols, rows = (len(of) for of in self._per_m)
        out = np.empty((rows, 3 * cols), np.float32)
        over_bands(rows, lambda a, b: rows_of(out, a, b), least=_LEAST_ROWS)
        return out.reshape(-1, 3)

    @functools.cached_property
    def whole(self) -> NDArray[np.float32]:
        """Unit normals, shape (rows * cols, 3), float32: x east, y north, z up."""
        return self._made(lambda out, a, b: _whole_rows(self._heights, self._per_m, out, a, b))

    @functools.cached_property
    def against(self) -> NDArray[np.float32]:
        """The same in the tangent space of the ground (Peercy, Airey & Cabral 1997).

        x along its rise to the east, y upright to that and to its normal, z its normal. A renderer that makes
        tangents of coordinates that run east gets the same frame (Mikkelsen 2008).
        """
        return self._made(lambda out, a, b: _against_rows(self._heights, self._ground, self._per_m, out, a, b))
