"""Which way the green axis of a normal map points, found from the map itself.

The slopes of a real surface have no curl: the rise of p = dh/dx along y is the rise of q = dh/dy
along x. With green turned over, the two are opposite. Their correlation therefore says which way
is right, and how surely.
"""

from __future__ import annotations

import math
from dataclasses import dataclass
from typing import Literal

import numpy as np
from numpy.typing import NDArray

Map = NDArray[np.float32]
_SCALES = (1, 2, 4)
_LEAST_CONFIDENCE = 0.12
_LEAST_SIGMAS = 6.0
_LEAST_SLOPE = 1.5 / 255


@dataclass(frozen=True)
class GreenAxis:
    """What was found: ``up`` when green is high on slopes that face up the picture.

    ``confidence`` is the size of the correlation, 0..1; ``by`` what it was found from.
    """

    points: Literal["up", "down", "cannot tell"]
    confidence: float
    by: str


def find(normal: NDArray[np.float32], height: Map | None = None) -> GreenAxis:
    """Find the green axis by the curl of the slopes, and by a height map where there is one.

    Parameters
    ----------
    normal : ndarray, shape (rows, cols, 3), float32
        As it stands in the file, 0..1.
    height : ndarray, shape (rows, cols), float32, optional
        Of the same size, any scale.

    Returns
    -------
    GreenAxis
        "cannot tell" when the map is flat or its slopes go together neither way.
    """
    right, up = slopes(normal)
    if math.sqrt(float((right**2 + up**2).mean())) < _LEAST_SLOPE:
        return GreenAxis("cannot tell", 0.0, "it is flat")
    best, significant, by = 0.0, 0.0, "the curl of its slopes"
    for scale in _SCALES:
        p, q = _coarser(right, scale), _coarser(up, scale)
        if min(p.shape) < 8:
            break
        # inner samples only: what lies beyond the edge may be anything; y runs up, rows run down
        p_along_y = (p[:-2, 1:-1] - p[2:, 1:-1]) / 2
        q_along_x = (q[1:-1, 2:] - q[1:-1, :-2]) / 2
        found = _correlation(p_along_y, q_along_x)
        sigmas = abs(found) * math.sqrt(p_along_y.size / 4)
        if sigmas * abs(found) > significant * abs(best):
            best, significant = found, sigmas
    if height is not None and height.shape == up.shape:
        rise = (height[:-2, 1:-1] - height[2:, 1:-1]) / 2
        found = _correlation(rise, up[1:-1, 1:-1])
        if abs(found) > max(abs(best), 0.3):
            best, significant, by = found, abs(found) * math.sqrt(rise.size / 4), "the slopes of its height map"
    if abs(best) < _LEAST_CONFIDENCE or significant < _LEAST_SIGMAS:
        return GreenAxis("cannot tell", abs(best), "its slopes go together neither way")
    return GreenAxis("up" if best > 0 else "down", min(abs(best), 1.0), by)


def slopes(normal: NDArray[np.float32]) -> tuple[Map, Map]:
    """Return the rise to the right and up the picture that a normal map (0..1) stands for, if green is up."""
    vector = normal * np.float32(2) - np.float32(1)
    out = np.maximum(vector[..., 2], np.float32(0.1))
    return -vector[..., 0] / out, -vector[..., 1] / out


def _coarser(values: Map, scale: int) -> Map:
    rows, cols = values.shape[0] // scale * scale, values.shape[1] // scale * scale
    blocks = values[:rows, :cols].reshape(rows // scale, scale, cols // scale, scale)
    result: Map = blocks.mean(axis=(1, 3))
    return result


def _correlation(a: NDArray[np.floating], b: NDArray[np.floating]) -> float:
    a, b = a - a.mean(), b - b.mean()
    size = math.sqrt(float((a * a).mean()) * float((b * b).mean()))
    return float((a * b).mean()) / size if size > 1e-12 else 0.0
