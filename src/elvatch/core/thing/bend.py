"""How surfaces of triangles bend: mean curvature at each corner, above 0 at edges and below 0 in hollows."""

from __future__ import annotations

import numpy as np
import scipy
from numpy.typing import NDArray

Numbers = NDArray[np.float64]
_APART = 1e-5
"""Corners closer than this share of the whole are one place."""


def mean_curvature(places: NDArray[np.floating], triangles: NDArray[np.integer]) -> NDArray[np.float32]:
    """Return the mean curvature at each corner of a mesh (Meyer, Desbrun, Schroeder & Barr 2003).

    Parameters
    ----------
    places : ndarray, shape (n, 3)
        Corners, metres. Those that lie in one place are one, however often they stand in the list.
    triangles : ndarray, shape (m, 3), int
        Counter-clockwise from outside.

    Returns
    -------
    ndarray, shape (n,), float32
        1/m; one over the radius on a ball, 0 along a mesh's open border.
    """
    at, which = _welded(np.asarray(places, np.float64))
    corners = which[np.asarray(triangles)]
    corners = corners[
        (corners[:, 0] != corners[:, 1]) & (corners[:, 1] != corners[:, 2]) & (corners[:, 2] != corners[:, 0])
    ]
    count = len(at)
    pull, area, facing = np.zeros((count, 3)), np.zeros(count), np.zeros((count, 3))
    p = [at[corners[:, k]] for k in range(3)]
    face = np.cross(p[1] - p[0], p[2] - p[0])
    double = np.maximum(np.linalg.norm(face, axis=1), 1e-30)
    # at each corner of a triangle, how far it is open
    dots = [((p[(k + 1) % 3] - p[k]) * (p[(k + 2) % 3] - p[k])).sum(axis=1) for k in range(3)]
    obtuse: NDArray[np.bool_] = np.stack(dots, 1) < 0
    acute = ~obtuse.any(axis=1)
    for k in range(3):
        a, b, c = corners[:, k], corners[:, (k + 1) % 3], corners[:, (k + 2) % 3]
        cot = dots[k] / double
        side = at[b] - at[c]
        _add(pull, b, cot[:, None] * side)
        _add(pull, c, -cot[:, None] * side)
        # acute triangles share by angles, once for each of their sides; others by area, half a corner a side
        by_angle = cot * (side**2).sum(axis=1) / 8
        for end, j in ((b, (k + 1) % 3), (c, (k + 2) % 3)):
            by_area = np.where(obtuse[:, j], double / 4, double / 8) / 2
            _add(area, end, np.where(acute, by_angle, by_area))
        _add(facing, a, face)
    size = np.linalg.norm(pull, axis=1) / np.maximum(4 * area, 1e-30)
    bent = np.where((pull * facing).sum(axis=1) < 0, -size, size)
    bent[_border(corners, count)] = 0.0
    # no bend is told that the triangles are too large to show
    most = 4 / np.sqrt(np.maximum(area, 1e-30))
    told: NDArray[np.float32] = np.clip(bent, -most, most)[which].astype(np.float32)
    return told


def _welded(places: Numbers) -> tuple[Numbers, NDArray[np.int64]]:
    """Return the places that differ, and which of them each corner is."""
    near = _APART * max(float(np.ptp(places, axis=0).max()), 1e-12)
    pairs = scipy.spatial.cKDTree(places).query_pairs(near, output_type="ndarray")
    parent = np.arange(len(places))
    # pairs are few: corners of seams
    for a, b in np.sort(pairs, axis=1):
        parent[b] = parent[a] if parent[a] < parent[b] else parent[b]
    kept, which = np.unique(parent, return_inverse=True)
    return places[kept], which


def _add(into: Numbers, rows: NDArray[np.int64], values: Numbers) -> None:
    if into.ndim == 1:
        into += np.bincount(rows, values, len(into))
        return
    for k in range(into.shape[1]):
        into[:, k] += np.bincount(rows, values[:, k], len(into))


def _border(corners: NDArray[np.int64], count: int) -> NDArray[np.bool_]:
    """Return which places lie on an edge that has a triangle on one side only."""
    a, b = corners[:, [0, 1, 2]].ravel(), corners[:, [1, 2, 0]].ravel()
    edges = np.minimum(a, b), np.maximum(a, b)
    there = scipy.sparse.coo_matrix((np.ones(len(a)), edges), shape=(count, count)).tocsr().tocoo()
    open_edge = there.data == 1
    out = np.zeros(count, bool)
    out[there.row[open_edge]] = True
    out[there.col[open_edge]] = True
    return out
