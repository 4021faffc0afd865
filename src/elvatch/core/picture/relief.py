"""A ground prepared for rays: its heights under a pyramid of maxima (Tevs, Ihrke & Seidel 2008)."""

from __future__ import annotations

from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from elvatch.core.ground.heightfield import Heightfield


class Relief(NamedTuple):
    """Heights and maxima, as compiled code takes them.

    ``heights`` holds ``rows`` times ``cols`` samples from its number ``first`` on. ``maxima`` holds all
    levels one after the other; level ``k`` begins at ``starts[k]``, is ``widths[k]`` cells wide and each of
    its cells covers ``2**k`` cells of level 0, whose cells are the patches between four samples. West and
    north edge lie at ``west_m`` and ``north_m``.
    """

    heights: NDArray[np.float32]
    first: int
    rows: int
    cols: int
    maxima: NDArray[np.float32]
    starts: NDArray[np.int64]
    widths: NDArray[np.int64]
    west_m: float
    north_m: float
    cell_x_m: float
    cell_y_m: float
    lowest_m: float
    highest_m: float


class Levels(NamedTuple):
    """A pyramid of maxima by itself: see :class:`Relief`."""

    maxima: NDArray[np.float32]
    starts: NDArray[np.int64]
    widths: NDArray[np.int64]


def _halve(level: NDArray[np.float32]) -> NDArray[np.float32]:
    rows, cols = level.shape
    even = np.pad(level, ((0, rows % 2), (0, cols % 2)), mode="edge")
    pairs = np.maximum(even[0::2], even[1::2])
    return np.maximum(pairs[:, 0::2], pairs[:, 1::2])


def maxima_over(
    h: NDArray[np.float32],
) -> tuple[list[NDArray[np.float32]], list[int], list[int]]:
    """Return all levels of maxima over heights, flat, where each begins in their sequence, and its width."""
    level = np.maximum(np.maximum(h[:-1, :-1], h[:-1, 1:]), np.maximum(h[1:, :-1], h[1:, 1:]))
    parts, starts, widths, start = [], [], [], 0
    while True:
        parts.append(level.ravel())
        starts.append(start)
        widths.append(level.shape[1])
        start += level.size
        if level.size == 1:
            return parts, starts, widths
        level = _halve(level)


def prepare(ground: Heightfield, west_m: float = 0.0, south_m: float = 0.0) -> Relief:
    """Build the pyramid of maxima over a ground.

    Parameters
    ----------
    ground : Heightfield
        At least 2 x 2 samples.
    west_m, south_m : float
        Where its south-west corner lies in the world, metres.

    Returns
    -------
    Relief
        Ready for :mod:`elvatch.core.picture.trace`.
    """
    parts, starts, widths = maxima_over(ground.heights_m)
    levels = Levels(np.concatenate(parts), np.array(starts, np.int64), np.array(widths, np.int64))
    return under(ground, levels, west_m, south_m)


def under(ground: Heightfield, levels: Levels, west_m: float = 0.0, south_m: float = 0.0) -> Relief:
    """Return a ground under a pyramid of its maxima that is at hand; see :func:`prepare`."""
    return Relief(
        heights=ground.heights_m.ravel(),
        first=0,
        rows=ground.rows,
        cols=ground.cols,
        maxima=levels.maxima,
        starts=levels.starts,
        widths=levels.widths,
        west_m=west_m,
        north_m=south_m + ground.depth_m,
        cell_x_m=ground.cell_x_m,
        cell_y_m=ground.cell_y_m,
        lowest_m=ground.lowest_m,
        highest_m=ground.highest_m,
    )
