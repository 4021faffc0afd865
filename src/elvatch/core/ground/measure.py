"""Measures of a ground that rules are made of: gradient, slope, openness."""

from __future__ import annotations

import math

import numpy as np
from numpy.typing import NDArray

from elvatch.core.ground.heightfield import Heightfield
from elvatch.core.kernel import kernel
from elvatch.core.parallel import Token, over_bands


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


def _pad_straight_on(heights: NDArray[np.float32]) -> NDArray[np.float32]:
    """Add one sample on each side that goes straight on, so that a plane stays a plane."""
    padded = np.pad(heights, 1, mode="edge")
    padded[0, :] = 2 * padded[1, :] - padded[2, :]
    padded[-1, :] = 2 * padded[-2, :] - padded[-3, :]
    padded[:, 0] = 2 * padded[:, 1] - padded[:, 2]
    padded[:, -1] = 2 * padded[:, -2] - padded[:, -3]
    return padded


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
    padded = _pad_straight_on(ground.heights_m)
    over_bands(ground.rows, lambda a, b: _gradient_rows(padded, ground.cell_x_m, ground.cell_y_m, out, a, b), token)
    return out


def slope_deg(gradient_map: NDArray[np.float32]) -> NDArray[np.float32]:
    """Return the steepness in degrees, 0..90, of a gradient map of shape (rows, cols, 2)."""
    steep = np.hypot(gradient_map[..., 0], gradient_map[..., 1])
    return np.degrees(np.arctan(steep)).astype(np.float32)


_DIRECTIONS = 8
_REACH_CELLS = 400.0


def _horizon_steps(cell_x: float, cell_y: float) -> NDArray[np.float64]:
    """Return (direction, rows down, columns right, metres away) of each look along the horizon."""
    looks = []
    for k in range(_DIRECTIONS):
        angle = 2.0 * math.pi * (k + 0.5) / _DIRECTIONS
        step = 1.0
        while step < _REACH_CELLS:
            down, right = round(math.sin(angle) * step), round(math.cos(angle) * step)
            looks.append((k, down, right, math.hypot(right * cell_x, down * cell_y)))
            step = step * 1.32 + 0.4
    return np.array(looks)


@kernel
def _sky_rows(
    heights: NDArray[np.float32], looks: NDArray[np.float64], best: NDArray[np.float32], out: NDArray[np.float32],
    a: int, b: int,
) -> None:  # fmt: skip
    rows, cols = heights.shape
    for row in range(a, b):
        out[row, :] = 0.0
        for k in range(_DIRECTIONS):
            best[:] = 0.0
            for i in range(looks.shape[0]):
                r = row + int(looks[i, 1])
                if looks[i, 0] != k or r < 0 or r >= rows:
                    continue
                right, per_metre = int(looks[i, 2]), np.float32(1.0 / looks[i, 3])
                for col in range(max(0, -right), min(cols, cols - right)):
                    best[col] = max(best[col], (heights[r, col + right] - heights[row, col]) * per_metre)
            for col in range(cols):
                # a cosine-weighted slice of sky above horizon angle h counts cos^2 h = 1 / (1 + tan^2 h)
                out[row, col] += np.float32(1.0 / _DIRECTIONS) / (np.float32(1.0) + best[col] * best[col])


def sky_view(ground: Heightfield, token: Token | None = None) -> NDArray[np.float32]:
    """Return the part of the sky that a level surface sees at each sample, 0..1.

    Horizon angles in eight directions at growing steps (after Yokoyama 2002), weighted by the
    cosine to the zenith, as diffuse light is.

    Returns
    -------
    ndarray, shape (rows, cols), float32
        1 on an open plane, towards 0 in a pit.
    """
    out = np.empty((ground.rows, ground.cols), np.float32)
    looks = _horizon_steps(ground.cell_x_m, ground.cell_y_m)
    over_bands(
        ground.rows,
        lambda a, b: _sky_rows(ground.heights_m, looks, np.empty(ground.cols, np.float32), out, a, b),
        token,
    )
    return out
