"""Tangents as programs that draw models work them out, so that normal maps mean the same there (Mikkelsen 2008)."""

from __future__ import annotations

from itertools import pairwise

import numpy as np
from numpy.typing import NDArray

Numbers = NDArray[np.float64]


def _unit(of: Numbers) -> Numbers:
    return np.asarray(of / np.maximum(np.linalg.norm(of, axis=-1, keepdims=True), 1e-20))


def tangents(
    places: NDArray[np.floating],
    normals: NDArray[np.floating],
    uv: NDArray[np.floating],
    triangles: NDArray[np.integer],
) -> NDArray[np.float32]:
    """Return a tangent for each corner of each triangle: its direction and the sign of what is square to it.

    Corners share one where place, normal and texture coordinates are the same, the triangles about them hang together
    by edges, and none of them is mirrored against the others.

    Parameters
    ----------
    places, normals : ndarray, shape (n, 3)
        Of each vertex.
    uv : ndarray, shape (n, 2)
        Texture coordinates, the second upwards.
    triangles : ndarray, shape (m, 3), int
        Corners.

    Returns
    -------
    ndarray, shape (m, 3, 4), float32
        Unit tangent, and 1 or -1: the third direction is that times the normal across the tangent.
    """
    at, facing, st = (np.asarray(of, np.float64) for of in (places, normals, uv))
    corners = np.asarray(triangles, np.int64)
    same = np.unique(np.concatenate([at, facing, st], 1).round(9), axis=0, return_inverse=True)[1].reshape(-1)[
        corners
    ]
    p, t, n = at[corners], st[corners], _unit(facing)[corners]
    d1, d2 = p[:, 1] - p[:, 0], p[:, 2] - p[:, 0]
    s, r = t[:, 1] - t[:, 0], t[:, 2] - t[:, 0]
    area = s[:, 0] * r[:, 1] - s[:, 1] * r[:, 0]
    upright = area > 0
    along = r[:, 1:2] * d1 - s[:, 1:2] * d2
    along = _unit(np.asarray(np.where(upright[:, None], along, -along), np.float64))
    bad = np.abs(area) < 1e-18
    group = _groups(same, upright, bad)
    # of each corner how far it is open, in the plane square to its normal
    before, after = np.roll(p, 1, axis=1) - p, np.roll(p, -1, axis=1) - p
    flat = [_unit(edge - n * (n * edge).sum(axis=-1, keepdims=True)) for edge in (before, after)]
    opens = np.arccos(np.clip((flat[0] * flat[1]).sum(axis=-1), -1, 1))
    mine = _unit(along[:, None] - n * (n * along[:, None]).sum(axis=-1, keepdims=True))
    weight = np.where(bad[:, None], 0.0, opens)
    count = int(group.max()) + 1 if group.size else 0
    total = np.zeros((count, 3))
    np.add.at(total, group, weight[..., None] * mine)
    summed = _unit(total)[group]
    none = np.linalg.norm(summed, axis=-1) < 0.5
    summed[none] = _across(n[none])
    sign = np.where(upright | bad, 1.0, -1.0)[:, None, None] * np.ones((1, 3, 1))
    out: NDArray[np.float32] = np.concatenate([summed, sign], 2).astype(np.float32)
    return out


def _across(normals: Numbers) -> Numbers:
    """Return any direction square to each normal, for corners whose texture coordinates say none."""
    other = np.where(np.abs(normals[:, :1]) < 0.9, [[1.0, 0.0, 0.0]], [[0.0, 1.0, 0.0]]).astype(np.float64)
    return _unit(other - normals * (normals * other).sum(axis=1, keepdims=True))


def _groups(same: NDArray[np.int64], upright: NDArray[np.bool_], bad: NDArray[np.bool_]) -> NDArray[np.int64]:
    """Return which corners share a tangent, (m, 3): those of one vertex whose triangles meet in edges, all of them
    mirrored or none."""
    count = len(same)
    number = np.arange(3 * count).reshape(count, 3)
    parent = np.arange(3 * count)

    def root(i: int) -> int:
        while parent[i] != i:
            parent[i] = parent[parent[i]]
            i = int(parent[i])
        return i

    edges: dict[tuple[int, int], list[tuple[int, int]]] = {}
    for face in range(count):
        for k in range(3):
            a, b = int(same[face, k]), int(same[face, (k + 1) % 3])
            edges.setdefault((min(a, b), max(a, b)), []).append((face, k))
    for sharing in edges.values():
        for (one, i), (two, j) in pairwise(sharing):
            if upright[one] != upright[two] and not bad[one] and not bad[two]:
                continue
            for p in ((one, i), (one, (i + 1) % 3)):
                for q in ((two, j), (two, (j + 1) % 3)):
                    if same[p[0], p[1]] == same[q[0], q[1]]:
                        a, b = root(int(number[p])), root(int(number[q]))
                        parent[max(a, b)] = min(a, b)
    roots = np.array([root(i) for i in range(3 * count)])
    return np.unique(roots, return_inverse=True)[1].reshape(count, 3).astype(np.int64)
