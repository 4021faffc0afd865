"""A smooth line through points."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

PIECES = 12


def through(points: NDArray[np.float64], pieces: int = PIECES) -> NDArray[np.float64]:
    """Return a line through points as the ends of short straight pieces (Catmull & Rom 1974).

    Parameters
    ----------
    points : ndarray, shape (n, k), float64
        At least two points of any number of coordinates.
    pieces : int
        Straight pieces from one point to the next.

    Returns
    -------
    ndarray, shape ((n - 1) * pieces + 1, k), float64
        The points given are among them.
    """
    ends = np.vstack([2 * points[0] - points[1], points, 2 * points[-1] - points[-2]])
    line = []
    t = (np.arange(pieces) / pieces)[:, None]
    for a, b, c, d in zip(ends, ends[1:], ends[2:], ends[3:], strict=False):
        line.append(b + 0.5 * t * (c - a + t * (2 * a - 5 * b + 4 * c - d + t * (3 * (b - c) + d - a))))
    return np.vstack([*line, points[-1:]])
