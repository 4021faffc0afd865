"""Filtered lookups in a stored set: two levels, four texels each, more than once where the view grazes."""

from __future__ import annotations

import math

import numpy as np
from numpy.typing import NDArray

from elvatch.core.kernel import Corners, blend_corners, inner, kernel
from elvatch.core.stock.pyramid import CHANNELS, SCALE, SHIFT


@inner
def _corners(base: int, side: int, u: float, v: float, weight: float) -> Corners:
    """Return where the four texels about a place begin, and what each weighs; v runs down."""
    x, y = u * side - 0.5, v * side - 0.5
    fx, fy = math.floor(x), math.floor(y)
    mask = side - 1
    c0, r0 = int(fx) & mask, int(fy) & mask
    c1, r1 = (c0 + 1) & mask, (r0 + 1) & mask
    s, t, w = np.float32(x - fx), np.float32(y - fy), np.float32(weight)
    w11 = s * t * w
    w10, w01 = s * w - w11, t * w - w11
    up, down = base + r0 * side, base + r1 * side
    return (
        (up + c0) * CHANNELS, (up + c1) * CHANNELS, (down + c0) * CHANNELS, (down + c1) * CHANNELS,
        w - w10 - w01 - w11, w10, w01, w11,
    )  # fmt: skip


@inner
def level_base(side: int, level: int) -> int:
    """Return where a level begins: the sum of the squares of all larger sides."""
    # side^2 + (side/2)^2 + ... over `level` terms
    small = side >> level
    return (4 * side * side - 4 * small * small) // 3


@kernel
def look_up(
    texels: int, side: int, u: float, v: float,
    across: float, along_u: float, along_v: float, most_taps: int, out: NDArray[np.float32],
) -> None:  # fmt: skip
    """Fill ``out`` with a set's ten numbers, filtered for an area.

    Parameters
    ----------
    texels : int
        Memory address of a :class:`~elvatch.core.stock.pyramid.Pyramid`'s texels.
    side : int
        Pixels along a side of level 0.
    u, v : float
        Place in tiles, v downwards (southwards on the unturned texture).
    across, along_u, along_v : float
        The area's width, and the vector it is longer by, in tiles.
    most_taps : int
        Most lookups along a stretched area.
    out : ndarray, shape (10,), float32
        Result, decoded.
    """
    for k in range(CHANNELS):
        out[k] = 0.0
    taps, width = 1, across
    if along_u != 0.0 or along_v != 0.0:
        length = math.sqrt(along_u * along_u + along_v * along_v) + across
        taps = min(max(int(length / max(across, 1e-9) + 0.5), 1), most_taps)
        width = max(across, length / taps)
    # beyond one texel for the whole tile there is nothing coarser
    detail = math.log2(min(max(width, 1.0 / side), 1.0) * side)
    fine = int(detail)
    blend = detail - fine
    fine_base, coarse_base = level_base(side, fine), level_base(side, fine + 1)
    # a level that weighs next to nothing is not looked at
    fine_weight, coarse_weight = 1.0 - blend, blend
    if blend <= 0.02:
        fine_weight, coarse_weight = 1.0, 0.0
    elif blend >= 0.98:
        fine_weight, coarse_weight = 0.0, 1.0
    for tap in range(taps):
        shift = (tap + 0.5) / taps - 0.5
        pu, pv = u + along_u * shift, v + along_v * shift
        if fine_weight > 0.0:
            corners = _corners(fine_base, side >> fine, pu, pv, fine_weight / taps)
            blend_corners(texels, CHANNELS, corners, out.ctypes.data)
        if coarse_weight > 0.0:
            corners = _corners(coarse_base, side >> (fine + 1), pu, pv, coarse_weight / taps)
            blend_corners(texels, CHANNELS, corners, out.ctypes.data)
    for k in range(CHANNELS):
        out[k] = out[k] * SCALE[k] + SHIFT[k]
