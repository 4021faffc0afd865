"""What a place sees: horizon angles in eight directions at growing steps (Yokoyama et al. 2002)."""

from __future__ import annotations

import math

import numpy as np
from numpy.typing import NDArray

from elvatch.core.ground.heightfield import Heightfield
from elvatch.core.kernel import inner, kernel
from elvatch.core.parallel import Token, over_bands

DIRECTIONS = 8
_WAYS = ((-1, 0), (-1, 1), (0, 1), (1, 1), (1, 0), (1, -1), (0, -1), (-1, -1))
"""Rows down and columns right, clockwise from north."""
_REACH_CELLS = 400.0
_AT_ONCE = 2048
"""Places of a row, so that what is walked again and again stays in the nearest memory."""


def _grid_steps(cell_x: float, cell_y: float, reach_m: float, growth: float) -> NDArray[np.float64]:
    """Return (direction, rows down, columns right, metres away) of looks along the grid and its diagonals.

    No look is rounded aside: the steepest of looks that scatter about a direction is steeper than what lies in it.
    """
    looks = []
    for k, (down, right) in enumerate(_WAYS):
        one = math.hypot(right * cell_x, down * cell_y)
        count, step = min(int(_REACH_CELLS), max(1, int(min(reach_m, 1e9) / one))), 1.0
        while step <= count:
            cells = round(step)
            looks.append((k, down * cells, right * cells, cells * one))
            step = max(step * growth, step + 1.0)
    return np.array(looks)


def _weights(cell_x: float, cell_y: float) -> NDArray[np.float32]:
    """Return the part of the round that each way stands for: half of the turn to either neighbour."""
    turns = np.array([math.atan2(-down * cell_y, right * cell_x) for down, right in _WAYS])
    ahead = (turns - np.roll(turns, -1)) % (2 * math.pi)
    return np.asarray((ahead + np.roll(ahead, 1)) / (4 * math.pi), np.float32)


@inner
def _highest_look(
    heights: NDArray[np.float32], looks: NDArray[np.float64], k: int, row: int, best: NDArray[np.float32], first: int
) -> None:
    """Raise ``best`` to the steepest rise towards the horizon in direction ``k``, for places of a row from ``first``.

    Both lines are cut out before they are walked: an index that might be negative is asked about at every step, and
    no vector instructions are made of that (measured here: eight times the time).
    """
    rows, cols = heights.shape
    last = first + best.shape[0]
    for i in range(looks.shape[0]):
        r = row + int(looks[i, 1])
        if looks[i, 0] != k or r < 0 or r >= rows:
            continue
        right, per_metre = int(looks[i, 2]), np.float32(1.0 / looks[i, 3])
        start, stop = max(first, -right), min(last, cols - right)
        if start >= stop:
            continue
        there, here = heights[r, start + right : stop + right], heights[row, start:stop]
        rise = best[start - first : stop - first]
        for c in range(rise.shape[0]):
            rise[c] = max(rise[c], (there[c] - here[c]) * per_metre)


@kernel
def _sky_rows(
    heights: NDArray[np.float32],
    looks: NDArray[np.float64],
    weights: NDArray[np.float32],
    scratch: NDArray[np.float32],
    out: NDArray[np.float32],
    a: int,
    b: int,
) -> None:
    for first in range(0, heights.shape[1], scratch.shape[0]):
        for row in range(a, b):
            seen = out[row, first : first + scratch.shape[0]]
            best = scratch[: seen.shape[0]]
            seen[:] = 0.0
            for k in range(DIRECTIONS):
                best[:] = 0.0
                _highest_look(heights, looks, k, row, best, first)
                for c in range(seen.shape[0]):
                    # a cosine-weighted slice of sky above horizon angle h counts cos^2 h = 1 / (1 + tan^2 h)
                    seen[c] += weights[k] / (np.float32(1.0) + best[c] * best[c])


@kernel
def _open_rows(
    heights: NDArray[np.float32],
    looks: NDArray[np.float64],
    scratch: NDArray[np.float32],
    out: NDArray[np.float32],
    a: int,
    b: int,
) -> None:
    for first in range(0, heights.shape[1], scratch.shape[0]):
        for row in range(a, b):
            seen = out[row, first : first + scratch.shape[0]]
            best = scratch[: seen.shape[0]]
            seen[:] = 90.0
            for k in range(DIRECTIONS):
                best[:] = -1e9
                _highest_look(heights, looks, k, row, best, first)
                for c in range(seen.shape[0]):
                    rise = best[c] if best[c] > -1e8 else np.float32(0.0)
                    seen[c] -= np.arctan(rise) * np.float32(180.0 / math.pi / DIRECTIONS)


def sky_view(ground: Heightfield, token: Token | None = None) -> NDArray[np.float32]:
    """Return the part of the sky that a level surface sees at each sample, 0..1.

    Weighted by the cosine to the zenith, as diffuse light is.

    Returns
    -------
    ndarray, shape (rows, cols), float32
        1 on an open plane, towards 0 in a pit.
    """
    out = np.empty((ground.rows, ground.cols), np.float32)
    looks = _grid_steps(ground.cell_x_m, ground.cell_y_m, math.inf, 1.24)
    weights = _weights(ground.cell_x_m, ground.cell_y_m)
    over_bands(
        ground.rows,
        lambda a, b: _sky_rows(ground.heights_m, looks, weights, np.empty(_AT_ONCE, np.float32), out, a, b),
        token,
    )
    return out


def openness_deg(ground: Heightfield, radius_m: float, token: Token | None = None) -> NDArray[np.float32]:
    """Return the mean angle from the zenith down to the ground within a radius, degrees (Yokoyama et al. 2002).

    Parameters
    ----------
    ground : Heightfield
        Heights in metres.
    radius_m : float
        How far is looked, metres; at most 400 cells.
    token : Token, optional
        Asked between bands.

    Returns
    -------
    ndarray, shape (rows, cols), float32
        90 on a plane, more on crests, less in hollows.
    """
    out = np.empty((ground.rows, ground.cols), np.float32)
    looks = _grid_steps(ground.cell_x_m, ground.cell_y_m, radius_m, 1.2)
    over_bands(
        ground.rows,
        lambda a, b: _open_rows(ground.heights_m, looks, np.empty(_AT_ONCE, np.float32), out, a, b),
        token,
    )
    return out
