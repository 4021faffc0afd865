"""Levels of detail of a thing: fewer triangles that look alike from further away."""

from __future__ import annotations

import fast_simplification
import numpy as np
import scipy
from numpy.typing import NDArray

from elvatch.core.thing.solid import BARE, Solid, bent, smooth_normals

LEVELS = 3
_KEPT, _PIECES_KEPT = 0.25, 0.4
"""Of a level's triangles, in the next; of its pieces, where it is thinned: much wider ones would be seen as such."""
_FEWEST = 60
_WIDEST, _STEM, _LONG = 4.0, 200, 2.0
_LOOSE = 12
"""A thing of more pieces than this is thinned piece by piece: its pieces are too small to be simplified."""


def levels(of: Solid) -> tuple[Solid, ...]:
    """Return a solid and two that each have a part of the one before; as it is where it is small enough."""
    out = [bent(of)]
    for _ in range(LEVELS - 1):
        before = out[-1]
        count, piece = _pieces(before)
        loose = count > _LOOSE and float(before.leaf.max()) > 0
        if len(before.triangles) * (_PIECES_KEPT if loose else _KEPT) < _FEWEST:
            out.append(before)
            continue
        out.append(_thinned(before, count, piece) if loose else simplified(before, _KEPT))
    return tuple(out)


def _pieces(of: Solid) -> tuple[int, NDArray[np.int32]]:
    """Return how many pieces hang together in a solid, and which one each vertex is of."""
    a, b = of.triangles[:, [0, 1]].ravel(), of.triangles[:, [1, 2]].ravel()
    count = len(of.places)
    joined = scipy.sparse.coo_matrix((np.ones(len(a), np.int8), (a, b)), shape=(count, count))
    found = scipy.sparse.csgraph.connected_components(joined, directed=False)
    return int(found[0]), found[1]


def _thinned(of: Solid, count: int, piece: NDArray[np.int32]) -> Solid:
    """Return a solid with a part of its pieces, each so much larger that they cover as much."""
    size = np.bincount(piece[of.triangles[:, 0]], minlength=count)
    # stems stay; of all other kinds of piece, told by their triangles, as large a part, by lots that never change
    lots = np.random.default_rng(count).random(count)
    kept = size >= _STEM
    for of_kind in (np.flatnonzero(size == one) for one in np.unique(size[~kept])):
        kept[of_kind[np.argsort(lots[of_kind])][: max(round(_PIECES_KEPT * len(of_kind)), 1)]] = True
    vertex = kept[piece]
    chosen = vertex[of.triangles[:, 0]]
    # as much wider, they cover as much as all did; stems stay as they are
    stem = (size >= _STEM)[piece[of.triangles[:, 0]]]
    wider = min(_area(of, ~stem) / max(_area(of, chosen & ~stem), 1e-12), _WIDEST)
    times = np.where(size >= _STEM, 1.0, wider)
    places = _widened(of, piece, times)
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


def _widened(of: Solid, piece: NDArray[np.int32], times: NDArray[np.float64]) -> NDArray[np.float64]:
    """Return the corners of a solid whose pieces are each so many times as large: what is long, across its length and
    along its surface, as a blade that bends; what is not, to both sides."""
    count, corners = len(times), of.places.astype(np.float64)
    a, b, c = (corners[of.triangles[:, k]] for k in range(3))
    normal = _sums(np.cross(b - a, c - a), piece[of.triangles[:, 0]], count)
    about = _sums(corners, piece, count) / np.maximum(np.bincount(piece, minlength=count), 1)[:, None]
    away = corners - about[piece]
    spread = _sums((away[:, :, None] * away[:, None, :]).reshape(-1, 9), piece, count).reshape(-1, 3, 3)
    along = np.linalg.eigh(spread)[1][:, :, 2]
    across = np.cross(normal, along)
    across /= np.maximum(np.linalg.norm(across, axis=1, keepdims=True), 1e-12)
    long, wide = (_extents((away * axis[piece]).sum(axis=1), piece, count) for axis in (along, across))
    is_long = long > _LONG * wide
    grows_across = np.where(is_long, times, np.sqrt(times))
    grows_along = np.where(is_long, 1.0, np.sqrt(times))
    out = corners
    for axis, grows in ((across, grows_across), (along, grows_along)):
        out = out + ((away * axis[piece]).sum(axis=1) * (grows[piece] - 1.0))[:, None] * axis[piece]
    return out


def _sums(values: NDArray[np.float64], piece: NDArray[np.int32], count: int) -> NDArray[np.float64]:
    """Return the sums of rows of numbers over pieces."""
    return np.stack([np.bincount(piece, values[:, k], count) for k in range(values.shape[1])], 1)


def _extents(values: NDArray[np.float64], piece: NDArray[np.int32], count: int) -> NDArray[np.float64]:
    """Return how far apart the lowest and highest of numbers of each piece are."""
    low, high = np.full(count, np.inf), np.full(count, -np.inf)
    np.minimum.at(low, piece, values)
    np.maximum.at(high, piece, values)
    reach: NDArray[np.float64] = high - low
    return reach


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
    _, nearest = scipy.spatial.cKDTree(of.places).query(places)
    image = np.full(len(triangles), BARE, np.int32)
    if of.images:
        middles = of.places[of.triangles].mean(axis=1)
        image = of.image[scipy.spatial.cKDTree(middles).query(places[triangles].mean(axis=1))[1]]
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
