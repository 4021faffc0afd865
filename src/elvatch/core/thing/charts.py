"""Things cut into charts that are laid out flat, and packed into one texture.

Cutting takes longer than in proportion to the triangles: 82,000 at once take three times as long as in parts
(measured: 35 s and 11 s). Fine things are cut into parts first, along their longest sides, and a stop that is asked
for is noticed between two of them.
"""

from __future__ import annotations

from concurrent.futures import ThreadPoolExecutor
from typing import NamedTuple

import numpy as np
import xatlas
from numpy.typing import NDArray

from elvatch.core.parallel import WORKERS
from elvatch.core.run import Run

AT_ONCE = 15_000
"""Triangles of a thing that is cut whole."""
_A_PART = 2_000
_CHART_PX = 1024
_TRIES = 4


class Charts(NamedTuple):
    """``corner`` (n,) of the thing that each corner of the charts is, ``flat`` (n, 2) where it lies in the texture,
    0..1, ``triangles`` (m, 3) in the thing's order."""

    corner: NDArray[np.int64]
    flat: NDArray[np.float32]
    triangles: NDArray[np.int32]


def charted(
    places: NDArray[np.float32], triangles: NDArray[np.int32], size: int, padding: int, run: Run | None = None
) -> Charts:
    """Return a thing's charts, packed.

    Parameters
    ----------
    places : ndarray, shape (n, 3), float32
        Its corners.
    triangles : ndarray, shape (m, 3), int32
        Its triangles.
    size, padding : int
        Texels along a side of the texture, and between charts.
    run : Run, optional
        Progress and cancelling, between parts.

    Raises
    ------
    CancelledError
        When a stop was asked for.
    """
    if len(triangles) <= AT_ONCE:
        atlas = xatlas.Atlas()
        atlas.add_mesh(np.ascontiguousarray(places), np.ascontiguousarray(triangles, np.uint32))
        atlas.generate(_cutting(), _packing(size, padding), False)
        which, corners, flat = atlas[0]
        return Charts(which.astype(np.int64), np.ascontiguousarray(flat, np.float32), corners.astype(np.int32))
    run, parts = run or Run(), _parts(places, triangles)

    def cut(rows: NDArray[np.int64]) -> Charts:
        run.token.check()
        return _cut(places, triangles[rows])

    cuts = []
    with ThreadPoolExecutor(WORKERS) as pool:
        for one in pool.map(cut, parts):
            cuts.append(one)
            run.at(len(cuts) / len(parts))
    return _packed(cuts, parts, size, padding)


def _cutting() -> xatlas.ChartOptions:
    made = xatlas.ChartOptions()
    made.max_iterations = 1
    return made


def _packing(size: int, padding: int, per_unit: float = 0.0) -> xatlas.PackOptions:
    made = xatlas.PackOptions()
    made.resolution, made.padding, made.bilinear, made.texels_per_unit = size, padding, True, per_unit
    return made


def _parts(places: NDArray[np.float32], triangles: NDArray[np.int32]) -> list[NDArray[np.int64]]:
    """Return rows of triangles that lie together, halved along their longest side until they are few enough."""
    middle = places[triangles].mean(axis=1)
    left, parts = [np.arange(len(triangles))], []
    while left:
        rows = left.pop()
        if len(rows) <= _A_PART:
            parts.append(rows)
            continue
        along = middle[rows][:, int(np.ptp(middle[rows], axis=0).argmax())]
        order, half = np.argsort(along, kind="stable"), len(rows) // 2
        left += [rows[order[half:]], rows[order[:half]]]
    return parts


def _cut(places: NDArray[np.float32], triangles: NDArray[np.int32]) -> Charts:
    """Return a part's charts, ``flat`` in the thing's own unit."""
    corner, local = np.unique(triangles, return_inverse=True)
    atlas = xatlas.Atlas()
    atlas.add_mesh(np.ascontiguousarray(places[corner]), np.ascontiguousarray(local.reshape(-1, 3), np.uint32))
    atlas.generate(_cutting(), _packing(_CHART_PX, 1), False)
    which, corners, flat = atlas[0]
    true = flat * np.array([atlas.width, atlas.height]) / atlas.texels_per_unit
    return Charts(corner[which].astype(np.int64), np.ascontiguousarray(true, np.float32), corners.astype(np.int32))


def _packed(cuts: list[Charts], parts: list[NDArray[np.int64]], size: int, padding: int) -> Charts:
    """Return the charts of all parts in one texture."""
    per_unit = 0.0
    for _ in range(_TRIES):
        atlas = xatlas.Atlas()
        for one in cuts:
            atlas.add_uv_mesh(one.flat, np.ascontiguousarray(one.triangles, np.uint32))
        # with both a size and a density it would go on to another texture
        atlas.generate(_cutting(), _packing(0 if per_unit else size, padding, per_unit), False)
        wide = max(atlas.width, atlas.height)
        if wide <= size:
            break
        # what it takes for the size that is asked for is a guess; padding would be thinner by as much as it is wrong
        per_unit = atlas.texels_per_unit * 0.99 * (size - padding) / (wide - padding)
    triangles = np.empty((sum(map(len, parts)), 3), np.int32)
    corner, flat, first = [], [], 0
    for k, rows in enumerate(parts):
        which, corners, at = atlas[k]
        triangles[rows] = corners.astype(np.int32) + first
        corner.append(cuts[k].corner[which])
        flat.append(at * np.array([atlas.width, atlas.height]) / max(wide, size))
        first += len(which)
    return Charts(np.concatenate(corner), np.concatenate(flat).astype(np.float32), triangles)
