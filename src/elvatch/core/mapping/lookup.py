"""Filtered lookups in a stored set: two levels, four texels each, more than once where the view grazes."""

from __future__ import annotations

import math

import numpy as np
from numpy.typing import NDArray

from elvatch.core.kernel import Corners, blend_corners, exponent_of, inner, kernel, scale_values
from elvatch.core.stock.pyramid import CHANNELS, SCALE, SHIFT
from elvatch.core.stock.sheet import CHANNELS as SHEET_CHANNELS
from elvatch.core.stock.sheet import SCALE as SHEET_SCALE
from elvatch.core.stock.sheet import SHIFT as SHEET_SHIFT

_POWERS_OF_4 = 0x5555555555555555


@inner
def _corners(base: int, side: int, channels: int, u: float, v: float, weight: float) -> Corners:
    """Return where the four texels about a place begin, and what each weighs; v runs down."""
    x, y = u * side - 0.5, v * side - 0.5
    fx, fy = np.floor(x), np.floor(y)
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
    # side^2 + (side/2)^2 + ... over `level` terms: powers of 4, each a bit of its own
    small = side >> level
    return _POWERS_OF_4 & (4 * side * side - 1) & -(4 * small * small)


@inner
def level_of(texels: float) -> tuple[int, float]:
    """Return the level whose texels are at most as wide as so many of level 0 (1 or more), and how far it is from
    there to the next, 0..1: the logarithm to the base 2, within 2e-6."""
    level, rest = exponent_of(texels)
    t = rest - 1.0
    square = t * t
    bent = (0.44254494 - 0.27560029 * t) + square * ((0.1819488 - 0.09595635 * t) + 0.0258414 * square)
    return level, t + (t - square) * bent


@inner
def _add(texels: int, base: int, side: int, channels: int, u: float, v: float, weight: float, out: int) -> None:
    """Add what lies about a place on one level to ``out``."""
    corners = _corners(base, side, channels, u, v, weight)
    if channels == CHANNELS:
        blend_corners(texels, CHANNELS, corners, out)
    else:
        blend_corners(texels, SHEET_CHANNELS, corners, out)


@inner
def spread(side: int, across: float, along_u: float, along_v: float, most_taps: int) -> tuple[int, float, int, float]:
    """Return how an area is looked up: how many times, what each counts, on which level, and how far that is from
    there to the next; see :func:`look_up`."""
    length = math.sqrt(along_u * along_u + along_v * along_v)
    taps = min(max(int((length + across) / max(across, 1e-9) + 0.5), 1), most_taps) if length > 0.0 else 1
    per = 1.0 / taps
    width = max(across, (length + across) * per)
    # beyond one texel for the whole tile there is nothing coarser
    fine, blend = level_of(min(max(width * side, 1.0), float(side)))
    return taps, per, fine, blend


@inner
def gather_taps(
    texels: int,
    side: int,
    channels: int,
    u: float,
    v: float,
    along_u: float,
    along_v: float,
    how: tuple[int, float, int, float],
    out: NDArray[np.float32],
) -> None:
    """Fill ``out`` with the coded numbers over an area, looked up as :func:`spread` says."""
    taps, per, fine, blend = how
    for k in range(channels):
        out[k] = 0.0
    fine_base, coarse_base = level_base(side, fine), level_base(side, fine + 1)
    # a level that weighs next to nothing is not looked at
    fine_weight, coarse_weight = 1.0 - blend, blend
    if blend <= 0.02:
        fine_weight, coarse_weight = 1.0, 0.0
    elif blend >= 0.98:
        fine_weight, coarse_weight = 0.0, 1.0
    for tap in range(taps):
        shift = (tap + 0.5) * per - 0.5
        pu, pv = u + along_u * shift, v + along_v * shift
        if fine_weight > 0.0:
            _add(texels, fine_base, side >> fine, channels, pu, pv, fine_weight * per, out.ctypes.data)
        if coarse_weight > 0.0:
            _add(texels, coarse_base, side >> (fine + 1), channels, pu, pv, coarse_weight * per, out.ctypes.data)


@inner
def decode(out: NDArray[np.float32]) -> None:
    """Turn a set's ten coded numbers into what they stand for."""
    scale_values(out.ctypes.data, CHANNELS, SCALE.ctypes.data, SHIFT.ctypes.data)


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
    how = spread(side, across, along_u, along_v, most_taps)
    gather_taps(texels, side, CHANNELS, u, v, along_u, along_v, how, out)
    decode(out)


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
    how = spread(side, across, along_u, along_v, most_taps)
    gather_taps(texels, side, SHEET_CHANNELS, u, v, along_u, along_v, how, out)
    scale_values(out.ctypes.data, SHEET_CHANNELS, SHEET_SCALE.ctypes.data, SHEET_SHIFT.ctypes.data)
