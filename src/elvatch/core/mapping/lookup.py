"""Filtered lookups in a stored set: two levels, four texels each, more than once where the view grazes."""

from __future__ import annotations

import math

import numpy as np
from numpy.typing import NDArray

from elvatch.core.kernel import Corners, blend_corners, inner, kernel
from elvatch.core.stock.pyramid import CHANNELS, SCALE, SHIFT
from elvatch.core.stock.sheet import CHANNELS as SHEET_CHANNELS
from elvatch.core.stock.sheet import SCALE as SHEET_SCALE
from elvatch.core.stock.sheet import SHIFT as SHEET_SHIFT


@inner
def _corners(base: int, side: int, channels: int, u: float, v: float, weight: float) -> Corners:
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
        (up + c0) * channels,
        (up + c1) * channels,
        (down + c0) * channels,
        (down + c1) * channels,
        w - w10 - w01 - w11,
        w10,
        w01,
        w11,
    )


@inner
def level_base(side: int, level: int) -> int:
    """Return where a level begins: the sum of the squares of all larger sides."""
    # side^2 + (side/2)^2 + ... over `level` terms
    small = side >> level
    return (4 * side * side - 4 * small * small) // 3


@inner
def _add(texels: int, base: int, side: int, channels: int, u: float, v: float, weight: float, out: int) -> None:
    """Add what lies about a place on one level to ``out``."""
    corners = _corners(base, side, channels, u, v, weight)
    if channels == CHANNELS:
        blend_corners(texels, CHANNELS, corners, out)
    else:
        blend_corners(texels, SHEET_CHANNELS, corners, out)


@inner
def _gathered(
    texels: int,
    side: int,
    channels: int,
    u: float,
    v: float,
    across: float,
    along_u: float,
    along_v: float,
    most_taps: int,
    out: NDArray[np.float32],
) -> None:
    """Fill ``out`` with the coded numbers over an area; see :func:`look_up`."""
    for k in range(channels):
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
            _add(texels, fine_base, side >> fine, channels, pu, pv, fine_weight / taps, out.ctypes.data)
        if coarse_weight > 0.0:
            _add(texels, coarse_base, side >> (fine + 1), channels, pu, pv, coarse_weight / taps, out.ctypes.data)


@kernel
def look_up(
    texels: int,
    side: int,
    u: float,
    v: float,
    across: float,
    along_u: float,
    along_v: float,
    most_taps: int,
    out: NDArray[np.float32],
) -> None:
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
    _gathered(texels, side, CHANNELS, u, v, across, along_u, along_v, most_taps, out)
    for k in range(CHANNELS):
        out[k] = out[k] * SCALE[k] + SHIFT[k]


@inner
def look_up_sheet(
    texels: int,
    side: int,
    u: float,
    v: float,
    across: float,
    along_u: float,
    along_v: float,
    most_taps: int,
    out: NDArray[np.float32],
) -> None:
    """Fill ``out`` with the four numbers of a :class:`~elvatch.core.stock.sheet.Sheet`; see :func:`look_up`."""
    _gathered(texels, side, SHEET_CHANNELS, u, v, across, along_u, along_v, most_taps, out)
    for k in range(SHEET_CHANNELS):
        out[k] = out[k] * SHEET_SCALE[k] + SHEET_SHIFT[k]
