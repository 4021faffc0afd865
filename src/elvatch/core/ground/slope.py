"""How steep a ground is and which way it faces."""

from __future__ import annotations

import math

import numpy as np
from numpy.typing import NDArray

from elvatch.core.ground.heightfield import Heightfield
from elvatch.core.kernel import kernel
from elvatch.core.parallel import Token, over_bands

_LEAST_BAND = 64
"""Rows; the two beside a band are padded with it."""


@kernel
def _gradient_rows(
    padded: NDArray[np.float32], cell_x: float, cell_y: float, out: NDArray[np.float32], a: int, b: int
) -> None:
    for row in range(a, b):
        for col in range(out.shape[1]):
            nw, n, ne = padded[row, col], padded[row, col + 1], padded[row, col + 2]
            w, e = padded[row + 1, col], padded[row + 1, col + 2]
            sw, s, se = padded[row + 2, col], padded[row + 2, col + 1], padded[row + 2, col + 2]
            out[row, col, 0] = ((ne + 2.0 * e + se) - (nw + 2.0 * w + sw)) / (8.0 * cell_x)
            out[row, col, 1] = ((nw + 2.0 * n + ne) - (sw + 2.0 * s + se)) / (8.0 * cell_y)


def pad_straight_on(heights: NDArray[np.float32]) -> NDArray[np.float32]:
    """Add one sample on each side that goes straight on, so that a plane stays a plane."""
    padded = np.pad(heights, 1, mode="edge")
    padded[0, :] = 2 * padded[1, :] - padded[2, :]
    padded[-1, :] = 2 * padded[-2, :] - padded[-3, :]
    padded[:, 0] = 2 * padded[:, 1] - padded[:, 2]
    padded[:, -1] = 2 * padded[:, -2] - padded[:, -3]
    return padded


def _band_gradient(ground: Heightfield, out: NDArray[np.float32], a: int, b: int) -> None:
    """Fill ``out`` with the gradient of rows ``a`` to ``b``: no more of a large ground is padded at a time."""
    heights = ground.heights_m
    first, last = max(a - 1, 0), min(b + 1, ground.rows)
    padded = pad_straight_on(heights[first:last])
    if first == a and last == b:
        band = padded
    elif first == a:
        band = padded[:-1]
    else:
        band = padded[1:] if last == b else padded[1:-1]
    _gradient_rows(band, ground.cell_x_m, ground.cell_y_m, out, 0, b - a)


def gradient(ground: Heightfield, token: Token | None = None) -> NDArray[np.float32]:
    """Return the rise per metre eastwards and northwards (Horn 1981).

    Parameters
    ----------
    ground : Heightfield
        Heights in metres.
    token : Token, optional
        Asked between bands.

    Returns
    -------
    ndarray, shape (rows, cols, 2), float32
        (dz/dx, dz/dy), dimensionless, x east, y north.
    """
    out = np.empty((ground.rows, ground.cols, 2), np.float32)
    over_bands(ground.rows, lambda a, b: _band_gradient(ground, out[a:b], a, b), token, least=_LEAST_BAND)
    return out


@kernel
def _slope_rows(gradient_map: NDArray[np.float32], out: NDArray[np.float32], a: int, b: int) -> None:
    for row in range(a, b):
        for col in range(out.shape[1]):
            x, y = gradient_map[row, col, 0], gradient_map[row, col, 1]
            out[row, col] = np.arctan(np.sqrt(x * x + y * y)) * np.float32(180.0 / math.pi)


def steepness_of(ground: Heightfield, token: Token | None = None) -> NDArray[np.float32]:
    """Return the steepness of a ground in degrees, 0..90, without its gradient held whole.

    Parameters
    ----------
    ground : Heightfield
        Heights in metres.
    token : Token, optional
        Asked between bands.

    Returns
    -------
    ndarray, shape (rows, cols), float32
        As :func:`slope_deg` of :func:`gradient`, bit for bit.
    """
    out = np.empty((ground.rows, ground.cols), np.float32)

    def band(a: int, b: int) -> None:
        lies = np.empty((b - a, ground.cols, 2), np.float32)
        _band_gradient(ground, lies, a, b)
        _slope_rows(lies, out[a:b], 0, b - a)

    over_bands(ground.rows, band, token, least=_LEAST_BAND)
    return out


def slope_deg(gradient_map: NDArray[np.float32]) -> NDArray[np.float32]:
    """Return the steepness in degrees, 0..90, of a gradient map of shape (rows, cols, 2)."""
    out = np.empty(gradient_map.shape[:2], np.float32)
    over_bands(len(out), lambda a, b: _slope_rows(gradient_map, out, a, b))
    return out


LEVEL = -1.0
"""The aspect of level ground, which faces nowhere."""


@kernel
def _aspect_rows(gradient_map: NDArray[np.float32], out: NDArray[np.float32], a: int, b: int) -> None:
    for row in range(a, b):
        for col in range(out.shape[1]):
            x, y = gradient_map[row, col, 0], gradient_map[row, col, 1]
            if x == 0.0 and y == 0.0:
                out[row, col] = LEVEL
                continue
            bearing = math.degrees(math.atan2(-x, -y))
            out[row, col] = bearing + 360.0 if bearing < 0.0 else bearing


def aspect_deg(gradient_map: NDArray[np.float32]) -> NDArray[np.float32]:
    """Return which way the ground falls, compass degrees, 0 north and 90 east; -1 where it is level.

    Parameters
    ----------
    gradient_map : ndarray, shape (rows, cols, 2), float32
        From :func:`gradient`.
    """
    out = np.empty(gradient_map.shape[:2], np.float32)
    over_bands(len(out), lambda a, b: _aspect_rows(gradient_map, out, a, b))
    return out
