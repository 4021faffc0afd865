"""Things laid out flat: texture coordinates of their own, looked over, or new ones; which texel is which place."""

from __future__ import annotations

import math
from typing import NamedTuple

import numpy as np
import scipy
from numpy.typing import NDArray

from elvatch.core.kernel import inner, kernel
from elvatch.core.parallel import over_bands
from elvatch.core.run import Run
from elvatch.core.thing.charts import charted
from elvatch.core.thing.solid import Solid

Numbers = NDArray[np.float64]
NOWHERE = -1
_LOOKED_PX, _MOST_OVER = 512, 0.005
"""Own coordinates are looked over at so many texels; more than this share of them twice is an overlap."""
_OUTSIDE = 1e-4


class Unwrapped(NamedTuple):
    """``solid`` with ``flat`` (n, 2), where each of its corners lies in a texture, 0..1, the second down, beside its
    own coordinates that its images lie over; ``island`` (m,) of each triangle, counted from 0; ``notes`` what is
    told."""

    solid: Solid
    flat: NDArray[np.float32]
    island: NDArray[np.int64]
    notes: list[str]

    @property
    def islands(self) -> int:
        """How many islands there are."""
        return int(self.island.max()) + 1 if len(self.island) else 0


class Texels(NamedTuple):
    """Which place of a thing each texel is: its ``triangle`` (size, size), -1 where none is near, and how far along
    both edges of it (``along`` (size, size, 2)); ``outside`` how many texels beyond the triangle's edge it lies: then
    it is the nearest place of that edge."""

    triangle: NDArray[np.int32]
    along: NDArray[np.float32]
    outside: NDArray[np.float32]


@inner
def _to_edge(px: float, py: float, ax: float, ay: float, bx: float, by: float) -> tuple[float, float]:
    """Return how far a place of the plane is from a stretch, squared, and how far along it the nearest place lies."""
    ex, ey = bx - ax, by - ay
    t = min(max(((px - ax) * ex + (py - ay) * ey) / max(ex * ex + ey * ey, 1e-20), 0.0), 1.0)
    dx, dy = px - ax - t * ex, py - ay - t * ey
    return dx * dx + dy * dy, t


@inner
def _nearest(
    px: float, py: float, ax: float, ay: float, bx: float, by: float, cx: float, cy: float
) -> tuple[float, float, float]:
    """Return how far a place is from a triangle's edges, and how far along both edges from ``a`` the nearest lies."""
    far, t = _to_edge(px, py, ax, ay, bx, by)
    u, v = t, 0.0
    other, t = _to_edge(px, py, bx, by, cx, cy)
    if other < far:
        far, u, v = other, 1.0 - t, t
    other, t = _to_edge(px, py, cx, cy, ax, ay)
    if other < far:
        far, u, v = other, 0.0, 1.0 - t
    return math.sqrt(far), u, v


@kernel
def _texels_band(
    corners: Numbers,
    reach: float,
    triangle: NDArray[np.int32],
    along: NDArray[np.float32],
    outside: NDArray[np.float32],
    twice: NDArray[np.int64],
    a: int,
    b: int,
) -> None:
    """Fill in rows ``a`` to ``b - 1`` of texels; ``corners`` (m, 6) in texels."""
    wide = triangle.shape[1]
    for t in range(corners.shape[0]):
        ax, ay, bx, by, cx, cy = (
            corners[t, 0],
            corners[t, 1],
            corners[t, 2],
            corners[t, 3],
            corners[t, 4],
            corners[t, 5],
        )
        first = max(int(min(ay, by, cy) - reach - 0.5), a)
        last = min(int(max(ay, by, cy) + reach) + 1, b)
        left = max(int(min(ax, bx, cx) - reach - 0.5), 0)
        right = min(int(max(ax, bx, cx) + reach) + 1, wide)
        det = (bx - ax) * (cy - ay) - (cx - ax) * (by - ay)
        if abs(det) < 1e-12:
            continue
        for row in range(first, last):
            py = row + 0.5
            for col in range(left, right):
                px = col + 0.5
                u = ((px - ax) * (cy - ay) - (cx - ax) * (py - ay)) / det
                v = ((bx - ax) * (py - ay) - (px - ax) * (by - ay)) / det
                if u >= 0.0 and v >= 0.0 and u + v <= 1.0:
                    if (
                        triangle[row, col] >= 0
                        and outside[row, col] == 0.0
                        and u > 1e-6
                        and v > 1e-6
                        and u + v < 1.0 - 1e-6
                    ):
                        twice[row] += 1
                    far = 0.0
                else:
                    far, u, v = _nearest(px, py, ax, ay, bx, by, cx, cy)
                if far <= reach and (triangle[row, col] < 0 or far < outside[row, col]):
                    triangle[row, col], outside[row, col] = t, far
                    along[row, col, 0], along[row, col, 1] = u, v


def _laid(uv: NDArray[np.floating], triangles: NDArray[np.int32], size: int, reach: float) -> tuple[Texels, int]:
    at = uv.astype(np.float64) * size
    corners = np.ascontiguousarray(at[triangles].reshape(-1, 6))
    found = Texels(
        np.full((size, size), NOWHERE, np.int32),
        np.zeros((size, size, 2), np.float32),
        np.zeros((size, size), np.float32),
    )
    twice = np.zeros(size, np.int64)
    over_bands(size, lambda a, b: _texels_band(corners, reach, *found, twice, a, b), least=32)
    return found, int(twice.sum())


def texels(flat: NDArray[np.floating], triangles: NDArray[np.int32], size: int, padding: float) -> Texels:
    """Return which place of a thing each texel of a square texture is.

    Parameters
    ----------
    flat : ndarray, shape (n, 2)
        Where its corners lie in the texture, 0..1, the second down.
    triangles : ndarray, shape (m, 3), int32
        Its corners.
    size : int
        Texels along a side.
    padding : float
        How far beyond its islands texels are still the nearest place of them, texels.
    """
    return _laid(flat, triangles, size, padding)[0]


def looked_over(of: Solid) -> list[str]:
    """Return what is wrong with a solid's own texture coordinates, a sentence each; none where they can be used."""
    uv, found = of.uv, []
    if len(np.unique(uv, axis=0)) < 3:
        return ["it came without texture coordinates"]
    beyond = int(((uv < -_OUTSIDE) | (uv > 1 + _OUTSIDE)).any(axis=1).sum())
    if beyond:
        found.append(f"{beyond:,} of {len(uv):,} corners lie beyond the texture")
    laid, twice = _laid(np.clip(uv, 0, 1), of.triangles, _LOOKED_PX, 0.0)
    covered = int((laid.triangle >= 0).sum())
    if twice > _MOST_OVER * max(covered, 1):
        found.append(f"{100 * twice / max(covered, 1):.3g}% of its texels are used twice")
    a, b, c = (uv[of.triangles[:, k]].astype(np.float64) for k in range(3))
    turned = (b[:, 0] - a[:, 0]) * (c[:, 1] - a[:, 1]) - (c[:, 0] - a[:, 0]) * (b[:, 1] - a[:, 1])
    flipped = int(min((turned > 0).sum(), (turned < 0).sum()))
    if flipped:
        found.append(f"{flipped:,} of {len(turned):,} triangles lie mirrored")
    return found


def _islands(triangles: NDArray[np.int32], corners: int) -> NDArray[np.int64]:
    a, b = triangles[:, [0, 1]].ravel(), triangles[:, [1, 2]].ravel()
    joined = scipy.sparse.coo_matrix((np.ones(len(a), np.int8), (a, b)), shape=(corners, corners))
    piece = scipy.sparse.csgraph.connected_components(joined, directed=False)[1]
    return np.unique(piece[triangles[:, 0]], return_inverse=True)[1].astype(np.int64)


def unwrapped(of: Solid, size: int, padding: int, own: bool = True, run: Run | None = None) -> Unwrapped:
    """Return a solid with a place of the texture for each of its corners.

    Parameters
    ----------
    of : Solid
        The thing.
    size, padding : int
        Texels along a side of the texture that is wanted, and between islands.
    own : bool
        Use its own coordinates where nothing is wrong with them.
    run : Run, optional
        Progress and cancelling of new ones.
    """
    wrong = looked_over(of)
    if own and not wrong:
        return Unwrapped(of, of.uv, _islands(of.triangles, len(of.places)), [])
    which, uv, triangles = charted(of.places, of.triangles, size, padding, run)
    made = of._replace(
        places=of.places[which],
        normals=of.normals[which],
        colours=of.colours[which],
        roughness=of.roughness[which],
        open=of.open[which],
        leaf=of.leaf[which],
        uv=of.uv[which],
        triangles=triangles,
        bend=of.bend[which] if len(of.bend) else of.bend,
    )
    return Unwrapped(made, uv, _islands(triangles, len(which)), wrong)


def areas(of: Unwrapped, size: int, size_m: float) -> tuple[Numbers, Numbers]:
    """Return the area of each triangle in m², for a thing with a longest side of ``size_m``, and in texels."""
    p = [of.solid.places[of.solid.triangles[:, k]].astype(np.float64) * size_m for k in range(3)]
    t = [of.flat[of.solid.triangles[:, k]].astype(np.float64) * size for k in range(3)]
    d, e = t[1] - t[0], t[2] - t[0]
    area = 0.5 * np.linalg.norm(np.cross(p[1] - p[0], p[2] - p[0]), axis=1)
    return np.asarray(area), np.asarray(0.5 * np.abs(d[:, 0] * e[:, 1] - d[:, 1] * e[:, 0]))


def densities(of: Unwrapped, size: int, size_m: float) -> Numbers:
    """Return how many texels a metre each island has, (islands,), for a thing with a longest side of ``size_m``."""
    area, flat = (np.bincount(of.island, each, of.islands) for each in areas(of, size, size_m))
    return np.asarray(np.sqrt(flat / np.maximum(area, 1e-20)))
