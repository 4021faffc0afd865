"""A picture of a mesh as it leaves: its triangles shaded by the way they face, with their sides or without."""

from __future__ import annotations

import math
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from elvatch.core.kernel import kernel
from elvatch.core.mesh.mesh import Mesh
from elvatch.core.parallel import over_bands

_VIEW_DEG = 32.0
_LIGHT = np.array([-0.55, 0.35, 0.76])
_GROUND = np.array([0.80, 0.78, 0.73], np.float32)
_SIDE = np.array([0.13, 0.13, 0.15], np.float32)
_BEHIND = np.array([0.17, 0.17, 0.19], np.float32)
_LEAST_CLEAR_PX = 5.0
"""Sides of triangles that are smaller than this are drawn fainter."""


class MeshEye(NamedTuple):
    """Where a mesh is seen from: the bearing it is looked along and how far down, degrees; how near, 1 shows all."""

    bearing_deg: float
    tilt_deg: float
    nearness: float
    wire: bool


def _projected(mesh: Mesh, seen: MeshEye, width: int, height: int) -> NDArray[np.float64]:
    """Return pixels across and down, and distance, of each vertex, shape (n, 3)."""
    low, high = mesh.places.min(axis=0), mesh.places.max(axis=0)
    across = float(np.hypot(high[0] - low[0], high[1] - low[1]))
    bearing, tilt = math.radians(seen.bearing_deg), math.radians(seen.tilt_deg)
    ahead = np.array([math.sin(bearing) * math.cos(tilt), math.cos(bearing) * math.cos(tilt), -math.sin(tilt)])
    right = np.array([math.cos(bearing), -math.sin(bearing), 0.0])
    up = np.cross(right, ahead)
    half = math.tan(math.radians(_VIEW_DEG) / 2)
    far = 0.43 * across / half / max(seen.nearness, 0.2)
    eye = (low + high) / 2 - ahead * far
    from_eye = mesh.places - eye
    depth = np.maximum(from_eye @ ahead, 1e-3 * far)
    scale = height / 2 / half
    return np.stack(
        [width / 2 + from_eye @ right / depth * scale, height / 2 - from_eye @ up / depth * scale, depth], 1
    )


@kernel
def _rows(
    at: NDArray[np.float64],
    triangles: NDArray[np.int32],
    shade: NDArray[np.float32],
    wire: bool,
    near: NDArray[np.float64],
    out: NDArray[np.float32],
    a: int,
    b: int,
) -> None:
    wide = near.shape[1]
    for t in range(len(triangles)):
        i, j, k = triangles[t, 0], triangles[t, 1], triangles[t, 2]
        xa, ya, xb, yb, xc, yc = at[i, 0], at[i, 1], at[j, 0], at[j, 1], at[k, 0], at[k, 1]
        top, bottom = max(int(min(ya, yb, yc)), a), min(int(max(ya, yb, yc)) + 1, b - 1)
        if top > bottom:
            continue
        area = (xb - xa) * (yc - ya) - (yb - ya) * (xc - xa)
        if abs(area) < 1e-9:
            continue
        left, right = max(int(min(xa, xb, xc)), 0), min(int(max(xa, xb, xc)) + 1, wide - 1)
        per = 1.0 / area
        # heights over the sides, in pixels: how far a pixel lies from each
        long_a = math.sqrt((xc - xb) ** 2 + (yc - yb) ** 2)
        long_b = math.sqrt((xa - xc) ** 2 + (ya - yc) ** 2)
        long_c = math.sqrt((xb - xa) ** 2 + (yb - ya) ** 2)
        size = abs(area) / max(long_a, long_b, long_c)
        ink = min(1.0, size / _LEAST_CLEAR_PX)
        for y in range(top, bottom + 1):
            for x in range(left, right + 1):
                px, py = x + 0.5, y + 0.5
                u = ((xb - px) * (yc - py) - (yb - py) * (xc - px)) * per
                v = ((xc - px) * (ya - py) - (yc - py) * (xa - px)) * per
                w = 1.0 - u - v
                if u < 0.0 or v < 0.0 or w < 0.0:
                    continue
                depth = 1.0 / (u / at[i, 2] + v / at[j, 2] + w / at[k, 2])
                if depth >= near[y, x]:
                    continue
                near[y, x] = depth
                line = 0.0
                if wire:
                    edge = min(u * abs(area) / long_a, v * abs(area) / long_b, w * abs(area) / long_c)
                    line = ink * max(0.0, min(1.0, 1.1 - edge))
                for c in range(3):
                    out[y, x, c] = _GROUND[c] * shade[t] * (1.0 - line) + _SIDE[c] * line


def picture(meshes: list[Mesh], seen: MeshEye, width: int, height: int) -> NDArray[np.uint8]:
    """Return a picture of tiles of one mesh, shape (height, width, 3).

    Parameters
    ----------
    meshes : list of Mesh
        All that are seen together.
    seen : MeshEye
        From where.
    width, height : int
        Pixels.
    """
    counts = np.cumsum([0, *(len(one.places) for one in meshes)])
    whole = Mesh(
        np.concatenate([one.places for one in meshes]),
        np.empty((0, 3), np.float32),
        np.empty((0, 2), np.float32),
        np.concatenate([one.triangles + first for one, first in zip(meshes, counts.tolist(), strict=False)]).astype(
            np.int32
        ),
        np.empty((0, 0), np.float32),
    )
    at = _projected(whole, seen, width, height)
    a, b, c = (whole.places[whole.triangles[:, k]] for k in range(3))
    facing = np.cross(b - a, c - a)
    facing /= np.maximum(np.linalg.norm(facing, axis=1, keepdims=True), 1e-12)
    shade = (0.30 + 0.70 * np.clip(facing @ _LIGHT, 0, 1)).astype(np.float32)
    out = np.empty((height, width, 3), np.float32)
    out[:] = _BEHIND
    near = np.full((height, width), np.inf)
    over_bands(height, lambda a, b: _rows(at, whole.triangles, shade, seen.wire, near, out, a, b), least=64)
    return np.asarray(np.rint(np.clip(out, 0, 1) * 255), np.uint8)
