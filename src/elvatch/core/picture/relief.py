"""A ground prepared for rays: its heights under a pyramid of maxima (Tevs, Ihrke & Seidel 2008)."""

from __future__ import annotations

import itertools
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from elvatch.core.ground.heightfield import Heightfield


class TracedHeights(NamedTuple):
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


class MaximaLevels(NamedTuple):
    """A pyramid of maxima by itself: see :class:`TracedHeights`."""

    maxima: NDArray[np.float32]
    starts: NDArray[np.int64]
    widths: NDArray[np.int64]


def _halve(level: NDArray[np.float32], out: NDArray[np.float32]) -> None:
    """Fill ``out`` with the maxima of each 2 x 2 of a level; an odd row or column stands for itself."""
    rows, cols = level.shape[0] // 2, level.shape[1] // 2
    pairs = np.empty((len(out), level.shape[1]), np.float32)
    np.maximum(level[0 : 2 * rows : 2], level[1 : 2 * rows : 2], out=pairs[:rows])
    pairs[rows:] = level[2 * rows :]
    np.maximum(pairs[:, 0 : 2 * cols : 2], pairs[:, 1 : 2 * cols : 2], out=out[:, :cols])
    out[:, cols:] = pairs[:, 2 * cols :]


def _sizes(rows: int, cols: int) -> list[tuple[int, int]]:
    """Return rows and columns of each level of maxima over so many samples."""
    sizes = [(rows - 1, cols - 1)]
    while sizes[-1] != (1, 1):
        sizes.append((-(-sizes[-1][0] // 2), -(-sizes[-1][1] // 2)))
    return sizes


def count_of_maxima(rows: int, cols: int) -> int:
    """Return how many maxima all levels over so many samples hold."""
    return sum(a * b for a, b in _sizes(rows, cols))


def count_of_levels(rows: int, cols: int) -> int:
    """Return how many levels of maxima lie over so many samples."""
    return len(_sizes(rows, cols))


def maxima_over(h: NDArray[np.float32]) -> MaximaLevels:
    """Return all levels of maxima over heights of at least 2 x 2 samples."""
    sizes = _sizes(*h.shape)
    ends = np.cumsum([a * b for a, b in sizes])
    maxima = np.empty(ends[-1], np.float32)
    levels = [part.reshape(size) for part, size in zip(np.split(maxima, ends[:-1]), sizes, strict=True)]
    np.maximum(h[:-1, :-1], h[:-1, 1:], out=levels[0])
    np.maximum(levels[0], h[1:, :-1], out=levels[0])
    np.maximum(levels[0], h[1:, 1:], out=levels[0])
    for level, out in itertools.pairwise(levels):
        _halve(level, out)
    starts = np.array([0, *ends[:-1]], np.int64)
    return MaximaLevels(maxima, starts, np.array([cols for _, cols in sizes], np.int64))


def prepare(ground: Heightfield, west_m: float = 0.0, south_m: float = 0.0) -> TracedHeights:
    """Build the pyramid of maxima over a ground.

    Parameters
    ----------
    ground : Heightfield
        At least 2 x 2 samples.
    west_m, south_m : float
        Where its south-west corner lies in the world, metres.

    Returns
    -------
    TracedHeights
        Ready for :mod:`elvatch.core.picture.trace`.
    """
    return under(ground, maxima_over(ground.heights_m), west_m, south_m)


def under(ground: Heightfield, levels: MaximaLevels, west_m: float = 0.0, south_m: float = 0.0) -> TracedHeights:
    """Return a ground under a pyramid of its maxima that is at hand; see :func:`prepare`."""
    return TracedHeights(
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
