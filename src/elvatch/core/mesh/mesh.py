"""A mesh as it leaves: vertices in metres with what they carry, triangles, for one tile and one level of detail."""

from __future__ import annotations

import math
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from elvatch.core.kernel import kernel
from elvatch.core.mesh.lattice import Heights, Lattice
from elvatch.core.mesh.triangulation import Triangulated

Vectors = NDArray[np.float32]


class Mesh(NamedTuple):
    """A mesh, or a tile of one.

    ``places`` (n, 3) metres: east and north of the site's south-west corner, elevation. ``normals`` (n, 3) unit;
    ``uv`` (n, 2) 0..1 over all that is handed off, v 0 in the north; ``triangles`` (m, 3), counter-clockwise as seen
    from above. ``shares`` (n, layers), without columns where none are carried.
    """

    places: NDArray[np.float64]
    normals: Vectors
    uv: Vectors
    triangles: NDArray[np.int32]
    shares: Vectors

    def tangents(self) -> Vectors:
        """Return unit vectors along the surface to the east, shape (n, 3), upright to the normals."""
        along = np.array([1.0, 0.0, 0.0], np.float32) - self.normals * self.normals[:, :1]
        found: Vectors = (along / np.linalg.norm(along, axis=1, keepdims=True)).astype(np.float32)
        return found


@kernel
def _normals(heights: Heights, vertices: NDArray[np.int32], east_m: float, north_m: float, out: Vectors) -> None:
    rows, cols = heights.shape
    for i in range(len(vertices)):
        r, c = vertices[i, 0], vertices[i, 1]
        w, e, n, s = max(c - 1, 0), min(c + 1, cols - 1), max(r - 1, 0), min(r + 1, rows - 1)
        rise_e = (heights[r, e] - heights[r, w]) / ((e - w) * east_m)
        rise_n = (heights[n, c] - heights[s, c]) / ((s - n) * north_m)
        long = 1.0 / math.sqrt(1.0 + rise_e * rise_e + rise_n * rise_n)
        out[i, 0], out[i, 1], out[i, 2] = -rise_e * long, -rise_n * long, long


def normals_of(lattice: Lattice, heights: Heights, vertices: NDArray[np.int32]) -> Vectors:
    """Return the normals of heights at vertices of their grid, by central differences, shape (n, 3)."""
    out = np.empty((len(vertices), 3), np.float32)
    _normals(heights, vertices, lattice.cell_m[0], lattice.cell_m[1], out)
    return out


def places_of(lattice: Lattice, heights: Heights, vertices: NDArray[np.int32]) -> NDArray[np.float64]:
    """Return where vertices of a grid stand, shape (n, 3)."""
    rows, cols = vertices[:, 0], vertices[:, 1]
    return np.stack([lattice.x_m()[cols], lattice.y_m()[rows], heights[rows, cols].astype(np.float64)], 1)


def uv_of(lattice: Lattice, vertices: NDArray[np.int32]) -> Vectors:
    """Return texture coordinates of vertices over the whole grid, shape (n, 2)."""
    part: Vectors = (vertices[:, ::-1] / np.array([lattice.cols, lattice.rows])).astype(np.float32)
    return part


def with_skirt(mesh: Mesh, of: Triangulated, window: tuple[int, int, int, int], depth_m: float) -> Mesh:
    """Return a tile with a wall hanging down from its border, which hides what a coarser neighbour leaves open.

    Parameters
    ----------
    mesh : Mesh
        The tile.
    of : Triangulated
        Its vertices on the grid.
    window : tuple of int
        Its first and last row and column of samples.
    depth_m : float
        How far down the wall reaches.
    """
    rows, cols = of.vertices[:, 0], of.vertices[:, 1]
    top, bottom, left, right = window
    # each side in the direction that has the tile on its left, seen from above
    sides = (
        (rows == top, -cols),
        (cols == left, rows),
        (rows == bottom, cols),
        (cols == right, -rows),
    )
    uppers, walls, count = [], [], len(mesh.places)
    for on, along in sides:
        at = np.flatnonzero(on)
        at = at[np.argsort(along[at], kind="stable")]
        below = count + np.arange(len(at))
        count += len(at)
        uppers.append(at)
        walls.append(np.stack([at[:-1], below[:-1], below[1:]], 1))
        walls.append(np.stack([at[:-1], below[1:], at[1:]], 1))
    hung = np.concatenate(uppers)
    lower = mesh.places[hung] - np.array([0.0, 0.0, depth_m])
    return Mesh(
        np.concatenate([mesh.places, lower]),
        np.concatenate([mesh.normals, mesh.normals[hung]]),
        np.concatenate([mesh.uv, mesh.uv[hung]]),
        np.concatenate([mesh.triangles, *walls]).astype(np.int32),
        np.concatenate([mesh.shares, mesh.shares[hung]]),
    )


def stood_up(mesh: Mesh, foot_m: float) -> Mesh:
    """Return the mesh of a face as it stands: its width to the east, its foot at an elevation, looking south."""

    def stood(vectors: NDArray[np.floating]) -> NDArray[np.floating]:
        return np.stack([vectors[:, 0], -vectors[:, 2], vectors[:, 1]], 1)

    places = stood(mesh.places) + np.array([0.0, 0.0, foot_m])
    return mesh._replace(places=places.astype(np.float64), normals=stood(mesh.normals).astype(np.float32))


def y_up(vectors: NDArray[np.floating]) -> NDArray[np.floating]:
    """Return vectors of east, north, up as x right, y up, z to the south."""
    return np.stack([vectors[:, 0], vectors[:, 2], -vectors[:, 1]], 1)
