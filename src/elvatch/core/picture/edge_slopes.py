"""The slopes of relief where layers meet, from the relief that neighbouring pixels see.

A blend of layers has the blend of their slopes, and that of its own weights beside: where a higher layer ends the
surface goes down, however level both layers are. What the slopes of the layers do not explain of the difference in
relief between a pixel and those beside it is that part.
"""

from __future__ import annotations

import math
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from elvatch.core.cover.material import Material
from elvatch.core.ground.places import Places
from elvatch.core.kernel import inner, kernel
from elvatch.core.parallel import over_bands
from elvatch.core.picture.fragments import GBuffer
from elvatch.core.picture.kinds import GROUND

_APART = 2.5
"""In widths of what a pixel sees: pixels further apart see different things."""
_STEEPEST = 1.2
_LEAST_SHARE = 0.004
"""By which layers' shares must change from pixel to pixel for an edge to lie there."""


class Edged(NamedTuple):
    """What lay where a picture looked, and its slopes with those of the edges in it."""

    material: Material
    slope: NDArray[np.float32]


@kernel
def _firsts(
    pixel: NDArray[np.int32], kind: NDArray[np.uint8], weight: NDArray[np.float32], out: NDArray[np.int64]
) -> None:
    """Fill in for each pixel the row of the ground that has the most of it; -1 where it sees none."""
    for i in range(len(pixel)):
        if kind[i] == GROUND and weight[i] > 0.0:
            before = out[pixel[i]]
            if before < 0 or weight[i] > weight[before]:
                out[pixel[i]] = i


@inner
def _changes(shares: NDArray[np.float32], a: int, b: int) -> float:
    """Return how much of a place other layers have at another."""
    change = 0.0
    for k in range(shares.shape[1]):
        change += abs(float(shares[a, k]) - float(shares[b, k]))
    return 0.5 * change


@kernel
def _changed_band(now: Material, before: Material, changed: NDArray[np.bool_], a: int, b: int) -> None:
    """Say where something else lies than before, of what edges are told by."""
    for i in range(a, b):
        same = (
            now.relief_m[i] == before.relief_m[i]
            and now.slope[i, 0] == before.slope[i, 0]
            and now.slope[i, 1] == before.slope[i, 1]
        )
        for k in range(now.shares.shape[1]):
            same = same and now.shares[i, k] == before.shares[i, k]
        changed[i] = not same


@inner
def _near_change(
    first: NDArray[np.int64], wide: int, index: NDArray[np.int64], changed: NDArray[np.bool_], k: int, pixel: int
) -> bool:
    """Whether something changed where a pixel looks, or one beside it."""
    if changed[k]:
        return True
    row, col, high = pixel // wide, pixel % wide, first.shape[0] // wide
    for way in range(4):
        r, c = row + (way == 0) - (way == 1), col + (way == 2) - (way == 3)
        if 0 <= r < high and 0 <= c < wide:
            j = first[r * wide + c]
            if j >= 0 and changed[index[j]]:
                return True
    return False


@inner
def _explained(places: Places, slope: NDArray[np.float32], i: int, k: int, dx: float, dy: float) -> float:
    """Return the relief that the slopes at a place explain over a way along the ground."""
    east, north = places.rise_east[i], places.rise_north[i]
    up = slope[k, 0] * east + slope[k, 1] * north
    return float((slope[k, 0] + up * east) * dx + (slope[k, 1] + up * north) * dy)


@kernel
def _add_rows(
    first: NDArray[np.int64],
    size: tuple[int, int],
    index: NDArray[np.int64],
    at: Places,
    of: Material,
    before: NDArray[np.float32],
    changed: NDArray[np.bool_],
    pixel: NDArray[np.int32],
    kind: NDArray[np.uint8],
    out: NDArray[np.float32],
    a: int,
    b: int,
) -> None:
    width, height = size
    for i in range(a, b):
        if kind[i] != GROUND:
            continue
        k = index[i]
        if not _near_change(first, width, index, changed, k, pixel[i]):
            out[k, 0], out[k, 1] = before[k, 0], before[k, 1]
            continue
        row, col = pixel[i] // width, pixel[i] % width
        reach = _APART * (at.across_m[i] + math.sqrt(at.along_east_m[i] ** 2 + at.along_north_m[i] ** 2))
        xx, xy, yy, xr, yr, most = 0.0, 0.0, 0.0, 0.0, 0.0, 0.0
        for way in range(4):
            r, c = row + (way == 0) - (way == 1), col + (way == 2) - (way == 3)
            if r < 0 or r >= height or c < 0 or c >= width:
                continue
            j = first[r * width + c]
            if j < 0:
                continue
            dx, dy = at.x_m[j] - at.x_m[i], at.y_m[j] - at.y_m[i]
            long = math.sqrt(dx * dx + dy * dy)
            if long > reach or long <= 0.0:
                continue
            n = index[j]
            most = max(most, _changes(of.shares, k, n))
            told = 0.5 * (_explained(at, of.slope, i, k, dx, dy) + _explained(at, of.slope, j, n, dx, dy))
            left = float(of.relief_m[n]) - float(of.relief_m[k]) - told
            per = 1.0 / (long * long)
            xx, xy, yy = xx + dx * dx * per, xy + dx * dy * per, yy + dy * dy * per
            xr, yr = xr + dx * left * per, yr + dy * left * per
        if most < _LEAST_SHARE:
            continue
        # what is seen along one line only says nothing of what lies across it
        xx, yy = xx + 0.05, yy + 0.05
        whole = xx * yy - xy * xy
        east, north = (yy * xr - xy * yr) / whole, (xx * yr - xy * xr) / whole
        steep = math.sqrt(east * east + north * north)
        if steep > _STEEPEST:
            east, north = east * _STEEPEST / steep, north * _STEEPEST / steep
        re, rn = at.rise_east[i], at.rise_north[i]
        along = (re * east + rn * north) / (1.0 + re * re + rn * rn)
        out[k, 0] += east - re * along
        out[k, 1] += north - rn * along


def with_edges(
    buffer: GBuffer, index: NDArray[np.int64], material: Material, before: Edged | None = None
) -> Material:
    """Return what a picture sees with the slopes of edges between layers added.

    Parameters
    ----------
    buffer : GBuffer
        What its pixels see.
    index : ndarray, shape (fragments,), int64
        Which row of the material a fragment has.
    material : Material
        What lies there.
    before : Edged, optional
        What lay there before: edges are looked for only where it changed.
    """
    f = buffer.fragments
    count = len(material.slope)
    if not count:
        return material
    first = np.full(buffer.width_px * buffer.height_px, -1, np.int64)
    _firsts(f.pixel, f.kind, f.weight, first)
    slope, size = material.slope.copy(), (buffer.width_px, buffer.height_px)
    changed, known = np.ones(count, np.bool_), slope
    if before is not None and before.material.shares.shape == material.shares.shape:
        was, known = before
        over_bands(count, lambda a, b: _changed_band(material, was, changed, a, b), least=8192)

    def add(a: int, b: int) -> None:
        _add_rows(first, size, index, f.places, material, known, changed, f.pixel, f.kind, slope, a, b)

    over_bands(len(f.pixel), add, least=4096)
    return material._replace(slope=slope)
