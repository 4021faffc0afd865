"""Touches of the brush, on the ground and on things: how far apart along a stroke, and what each lays down."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from elvatch.core.kernel import inner

_SPACING = 1 / 6
"""Of the brush's size: how far it moves between two touches."""


def spaced(along: NDArray[np.float64], places: int, size: float, most: int) -> NDArray[np.float64]:
    """Return a stroke's touches, evenly spaced between its points.

    Parameters
    ----------
    along : ndarray, shape (n, k)
        Its points: first where each lies, then what goes with it (the pen's pressure).
    places : int
        How many columns say where.
    size : float
        Of the brush, in the unit of the places.
    most : int
        Touches, however long the stroke is.

    Returns
    -------
    ndarray, shape (m, k)
        As ``along``.
    """
    steps = np.linalg.norm(np.diff(along[:, :places], axis=0), axis=1)
    gone = np.concatenate([[0.0], np.cumsum(steps)])
    spacing = max(size * _SPACING, gone[-1] / most)
    at = np.arange(0.0, gone[-1] + spacing * 0.5, spacing)
    return np.stack([np.interp(at, gone, along[:, k]) for k in range(along.shape[1])], axis=1)


@inner
def lays(away: float, core: float, radius: float) -> float:
    """Return what a touch lays down so far from its middle, 0..1: all of it within its core, nothing from its radius
    on."""
    t = 1.0 if away <= core else max(0.0, (radius - away) / (radius - core))
    return t * t * (3.0 - 2.0 * t)
