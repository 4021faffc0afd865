"""Levels of detail of a thing: fewer triangles that look alike from further away."""

from __future__ import annotations

import fast_simplification
import numpy as np
from numpy.typing import NDArray
from scipy.sparse import coo_matrix
from scipy.sparse.csgraph import connected_components
from scipy.spatial import cKDTree

from elvatch.core.thing.solid import BARE, Solid, bent, smooth_normals

LEVELS = 3
_KEPT = 0.25
"""Of a level's triangles, in the next."""
_FEWEST = 60
_WIDEST, _STEM = 4.0, 200
_LOOSE = 12
"""A thing of more pieces than this is thinned piece by piece: its pieces are too small to be simplified."""


def levels(of: Solid) -> tuple[Solid, ...]:
    """Return a solid and two that are each a quarter of the one before; as it is where it is small enough."""
    out = [bent(of)]
    for _ in range(LEVELS - 1):
        before = out[-1]
        if len(before.triangles) * _KEPT < _FEWEST:
            out.append(before)
            continue
        count, piece = _pieces(before)
        loose = count > _LOOSE and float(before.leaf.max()) > 0
        out.append(_thinned(before, count, piece) if loose else simplified(before, _KEPT))
    return tuple(out)


def _pieces(of: Solid) -> tuple[int, NDArray[np.int32]]:
    """Return how many pieces hang together in a solid, and which one each vertex is of."""
    a, b = of.triangles[:, [0, 1]].ravel(), of.triangles[:, [1, 2]].ravel()
    count = len(of.places)
    joined = coo_matrix((np.ones(len(a), np.int8), (a, b)), shape=(count, count))
    found = connected_components(joined, directed=False)
    return int(found[0]), found[1]


def _thinned(of: Solid, count: int, piece: NDArray[np.int32]) -> Solid:
    """Return a solid with a part of its pieces, each so much larger that they cover as much."""
    size = np.bincount(piece[of.triangles[:, 0]], minlength=count)
    # large pieces (stems) stay, small ones are drawn lots for: always the same
    lots = np.random.default_rng(count).random(count) / np.maximum(size, 1)
    order = np.argsort(lots)
    kept = np.zeros(count, bool)
    kept[order[: np.searchsorted(np.cumsum(size[order]), _KEPT * len(of.triangles)) + 1]] = True
    vertex = kept[piece]
    many = np.maximum(np.bincount(piece, minlength=count), 1)
    middle = np.stack([np.bincount(piece, of.places[:, k], count) / many for k in range(3)], 1)
    chosen = vertex[of.triangles[:, 0]]
    # as much larger, they cover as much as all did: those that stand upright grow wider, others to all sides
    times = min(_area(of, ~chosen) / max(_area(of, chosen), 1e-12) + 1, _WIDEST)
    about, span = middle[piece], np.zeros((count, 3))
    for k in range(3):
        low, high = np.full(count, np.inf), np.full(count, -np.inf)
        np.minimum.at(low, piece, of.places[:, k])
        np.maximum.at(high, piece, of.places[:, k])
        span[:, k] = high - low
    upright = span[:, 2] > 0.7 * np.hypot(span[:, 0], span[:, 1])
    wider = np.where(upright[:, None], [times, times, 1.0], [times**0.5] * 3)
    wider[size >= _STEM] = 1.0
    places = about + (of.places - about) * wider[piece]
    number = np.cumsum(vertex) - 1
    return of._replace(
        places=places[vertex].astype(np.float32),
        normals=of.normals[vertex],
        colours=of.colours[vertex],
        roughness=of.roughness[vertex],
        open=of.open[vertex],
        leaf=of.leaf[vertex],
        uv=of.uv[vertex],
        triangles=number[of.triangles[chosen]].astype(np.int32),
        image=of.image[chosen],
        bend=of.bend[vertex],
    )


def _area(of: Solid, chosen: NDArray[np.bool_]) -> float:
    """Return how large some of a solid's triangles are together."""
    a, b, c = (of.places[of.triangles[chosen, k]].astype(np.float64) for k in range(3))
    return float(0.5 * np.linalg.norm(np.cross(b - a, c - a), axis=1).sum())


def simplified(of: Solid, share: float) -> Solid:
    """Return a solid with a share of its triangles, by quadric error (Garland & Heckbert 1997)."""
    places, triangles = fast_simplification.simplify(
        np.ascontiguousarray(of.places, np.float32), np.ascontiguousarray(of.triangles, np.int32), 1.0 - share
    )
    if len(triangles) == 0:
        return of
    _, nearest = cKDTree(of.places).query(places)
    image = np.full(len(triangles), BARE, np.int32)
    if of.images:
        middles = of.places[of.triangles].mean(axis=1)
        image = of.image[cKDTree(middles).query(places[triangles].mean(axis=1))[1]]
    corners = np.ascontiguousarray(triangles, np.int32)
    at = np.ascontiguousarray(places, np.float32)
    return of._replace(
        places=at,
        normals=smooth_normals(at, corners),
        colours=of.colours[nearest],
        roughness=of.roughness[nearest],
        open=of.open[nearest],
        leaf=of.leaf[nearest],
        uv=of.uv[nearest],
        triangles=corners,
        image=np.ascontiguousarray(image, np.int32),
        bend=of.bend[nearest] if len(of.bend) else of.bend,
    )
