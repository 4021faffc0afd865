"""Filtered lookups in a stored set: two levels, four texels each, more than once where the view grazes."""

from __future__ import annotations

import math

import numpy as np
from numpy.typing import NDArray

from elvatch.core.kernel import kernel, word_at
from elvatch.core.stock.pyramid import CHANNELS, SCALE, SHIFT


@kernel
def _add_level(
    texels: int, base: int, side: int, u: float, v: float, weight: float, out: NDArray[np.float32]
) -> None:
    """Add one level's bilinear value (still coded) times ``weight``; ``u, v`` in tiles, v down."""
    x, y = u * side - 0.5, v * side - 0.5
    fx, fy = math.floor(x), math.floor(y)
    mask = side - 1
    c0, r0 = int(fx) & mask, int(fy) & mask
    c1, r1 = (c0 + 1) & mask, (r0 + 1) & mask
    s, t = np.float32(x - fx), np.float32(y - fy)
    w = np.float32(weight)
    w11 = s * t * w
    w10 = s * w - w11
    w01 = t * w - w11
    w00 = w - w10 - w01 - w11
    a, b = (base + r0 * side + c0) * CHANNELS, (base + r0 * side + c1) * CHANNELS
    c, d = (base + r1 * side + c0) * CHANNELS, (base + r1 * side + c1) * CHANNELS
    for k in range(CHANNELS):
        out[k] += (
            w00 * np.float32(word_at(texels, a + k)) + w10 * np.float32(word_at(texels, b + k))
            + w01 * np.float32(word_at(texels, c + k)) + w11 * np.float32(word_at(texels, d + k))
        )  # fmt: skip


@kernel
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
    length = math.hypot(along_u, along_v) + across
    taps = min(max(int(length / max(across, 1e-9) + 0.5), 1), most_taps)
    width = max(across, length / taps)
    levels = 0
    while (side >> levels) > 1:
        levels += 1
    detail = min(max(math.log2(max(width * side, 1e-9)), 0.0), float(levels))
    fine = min(int(detail), levels)
    blend = detail - fine
    fine_base, coarse_base = level_base(side, fine), level_base(side, fine + 1)
    for tap in range(taps):
        shift = (tap + 0.5) / taps - 0.5
        pu, pv = u + along_u * shift, v + along_v * shift
        if blend < 0.98:
            _add_level(texels, fine_base, side >> fine, pu, pv, (1.0 - blend) / taps, out)
        if blend > 0.02:
            _add_level(texels, coarse_base, side >> (fine + 1), pu, pv, blend / taps, out)
    whole = np.float32(1.0)
    if blend <= 0.02:
        whole = np.float32(1.0 / (1.0 - blend))
    elif blend >= 0.98:
        whole = np.float32(1.0 / blend)
    for k in range(CHANNELS):
        out[k] = out[k] * whole * SCALE[k] + SHIFT[k]
