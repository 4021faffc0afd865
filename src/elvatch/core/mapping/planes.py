"""Planes that an image is projected on: what is found there, which way each lies, and how much each counts."""

from __future__ import annotations

import math
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from elvatch.core.kernel import inner
from elvatch.core.mapping.fit_row import (
    ASPECT,
    COS,
    EAST_COS,
    EAST_SIN,
    MIRROR,
    NORTH_COS,
    NORTH_SIN,
    SECOND,
    SEED,
    SIDE_X,
    SIDE_Y,
    SIN,
    STRENGTH,
)
from elvatch.core.mapping.repeats import (
    OF_SET,
    OF_SHEET,
    sample,
    sample_sheet,
)

_STRETCH = 16.0
UNSEEN = 0.02
"""What counts less is left out."""

Axes = tuple[float, float, float, float, float, float]
"""Two unit vectors in the world: right and down a texture."""


class Footprint(NamedTuple):
    """What lookups of one layer at one place share: the layer's numbers (those of its fit begin at ``first``),
    and the place's position, lie and area; ``flat`` is the square of its normal's vertical part."""

    layer: NDArray[np.float64]
    first: int
    x: float
    y: float
    z: float
    rise_e: float
    rise_n: float
    across: float
    along_e: float
    along_n: float
    flat: float
    taps: int


@inner
def along_surface(
    values: int, axes: Axes, rise_e: float, rise_n: float, flat: float, out: NDArray[np.float32]
) -> None:
    """Turn slopes to the right and up a texture into the horizontal parts of the gradient along the surface."""
    rx, ry, rz, dx, dy, dz = axes
    sx, sy = out[values], out[values + 1]
    hx, hy, hz = sx * rx - sy * dx, sx * ry - sy * dy, sx * rz - sy * dz
    # what points out of it is taken off
    out_of = (hz - rise_e * hx - rise_n * hy) * flat
    out[values], out[values + 1] = hx + out_of * rise_e, hy + out_of * rise_n


@inner
def _projected(
    values: int,
    footprint: Footprint,
    texels: int,
    side: int,
    mean: NDArray[np.float32],
    tile: float,
    gain_a: float,
    gain_d: float,
    kind: int,
    axes: Axes,
    shift_u: float,
    shift_v: float,
    out: NDArray[np.float32],
    one: NDArray[np.float32],
) -> None:
    """Fill ``out`` with an image's numbers as projected on a plane; see :func:`on_plane`."""
    layer, f = footprint.layer, footprint.first
    rx, ry, rz, dx, dy, dz = axes
    gx, gy = footprint.rise_e, footprint.rise_n
    per = 1.0 / tile
    u = (rx * footprint.x + ry * footprint.y + rz * footprint.z) * per + shift_u
    v = (dx * footprint.x + dy * footprint.y + dz * footprint.z) * per + shift_v
    # a step east or north on the map, on the plane: the ground carries it up as well
    eu, ev, nu, nv = rx + rz * gx, dx + dz * gx, ry + rz * gy, dy + dz * gy
    across, along_u, along_v = footprint.across, 0.0, 0.0
    if rz == 0.0 and dz == 0.0:
        along_u, along_v = (
            eu * footprint.along_e + nu * footprint.along_n,
            ev * footprint.along_e + nv * footprint.along_n,
        )
    else:
        length = math.sqrt(footprint.along_e * footprint.along_e + footprint.along_n * footprint.along_n)
        ae, an = 1.0, 0.0
        if length > 0.0:
            ae, an = footprint.along_e / length, footprint.along_n / length
        full = length + across
        pu, pv = (eu * ae + nu * an) * full, (ev * ae + nv * an) * full
        qu, qv = (nu * ae - eu * an) * across, (nv * ae - ev * an) * across
        # the ellipse that p and q are half-axes of: its axes are their singular values
        pp, qq, pq = pu * pu + pv * pv, qu * qu + qv * qv, pu * qu + pv * qv
        apart = math.sqrt((pp - qq) * (pp - qq) + 4.0 * pq * pq)
        major = math.sqrt(max(0.5 * (pp + qq + apart), 1e-18))
        narrow = max(abs(pu * qv - pv * qu) / major, major / _STRETCH)
        across = narrow
        if footprint.taps == 1 or narrow > 0.9 * major:
            across = major
        elif apart > 0.0:
            half = min(max(0.5 * (1.0 + (pp - qq) / apart), 0.0), 1.0)
            cos, sin = math.sqrt(half), math.copysign(math.sqrt(1.0 - half), pq)
            rest = 1.0 - narrow / major
            along_u, along_v = (pu * cos + qu * sin) * rest, (pv * cos + qv * sin) * rest
    if values == OF_SHEET:
        sample_sheet(
            texels,
            side,
            u,
            v,
            across * per,
            along_u * per,
            along_v * per,
            layer[f + ASPECT],
            gain_a,
            gain_d,
            kind,
            layer[f + STRENGTH],
            layer[f + SECOND],
            int(layer[f + SEED]),
            footprint.taps,
            mean,
            out,
            one,
        )
    else:
        sample(
            texels,
            side,
            u,
            v,
            across * per,
            along_u * per,
            along_v * per,
            layer[f + ASPECT],
            gain_a,
            gain_d,
            kind,
            layer[f + STRENGTH],
            layer[f + SECOND],
            int(layer[f + SEED]),
            footprint.taps,
            mean,
            out,
            one,
        )
    along_surface(values, axes, gx, gy, footprint.flat, out)


@inner
def on_plane(
    footprint: Footprint,
    texels: int,
    side: int,
    mean: NDArray[np.float32],
    tile: float,
    gain_a: float,
    gain_d: float,
    kind: int,
    axes: Axes,
    shift_u: float,
    shift_v: float,
    out: NDArray[np.float32],
    one: NDArray[np.float32],
) -> None:
    """Fill ``out`` with a set's numbers as projected on a plane.

    The slopes come out as the horizontal parts, east and north, of the gradient along the surface.
    """
    _projected(OF_SET, footprint, texels, side, mean, tile, gain_a, gain_d, kind, axes, shift_u, shift_v, out, one)


@inner
def sheet_on_plane(
    footprint: Footprint,
    texels: int,
    side: int,
    mean: NDArray[np.float32],
    tile: float,
    gain_a: float,
    gain_d: float,
    kind: int,
    axes: Axes,
    shift_u: float,
    shift_v: float,
    out: NDArray[np.float32],
    one: NDArray[np.float32],
) -> None:
    """Fill ``out`` with an overlay's numbers as :func:`on_plane` does with a set's."""
    _projected(OF_SHEET, footprint, texels, side, mean, tile, gain_a, gain_d, kind, axes, shift_u, shift_v, out, one)


@inner
def upright(facing_x: float, facing_y: float, mirror: float, c: float, s: float) -> Axes:
    """Return the axes of a texture on an upright plane that faces a horizontal direction."""
    rx, ry = -facing_y * mirror, facing_x * mirror
    return c * rx, c * ry, s, s * rx, s * ry, -c


@inner
def axes_of(layer: NDArray[np.float64], f: int, plane: int, rise_e: float, rise_n: float) -> Axes:
    """Return the axes of a layer's texture on one of its planes: 0 up, 1 east or west, 2 north or south, 3 a wall."""
    mirror = layer[f + MIRROR]
    if plane == 1:
        return upright(math.copysign(1.0, -rise_e), 0.0, mirror, layer[f + EAST_COS], layer[f + EAST_SIN])
    if plane == 2:
        return upright(0.0, math.copysign(1.0, -rise_n), mirror, layer[f + NORTH_COS], layer[f + NORTH_SIN])
    c, s = layer[f + COS], layer[f + SIN]
    if plane == 3:
        return upright(layer[f + SIDE_X], layer[f + SIDE_Y], mirror, c, s)
    return c * mirror, s, 0.0, s * mirror, -c, 0.0


@inner
def powered(ratio: float, edge: float) -> float:
    """Return ``ratio ** edge``, at once where it is plain: most ground faces one plane alone."""
    if ratio >= 1.0:
        return 1.0
    # the least power is 2, and what is below the square of this is not seen
    if ratio * ratio < 0.25 * UNSEEN:
        return 0.0
    whole = int(edge)
    if edge != whole:
        return float(ratio**edge)
    # most edges are whole: squared and multiplied, a quarter of the time of a power
    made, square = 1.0, ratio
    while whole > 0:
        if whole & 1:
            made *= square
        square *= square
        whole >>= 1
    return made


@inner
def plane_weights(rise_e: float, rise_n: float, edge: float) -> tuple[float, float, float]:
    """Return how much the planes facing east or west, north or south, and up count; they sum to 1."""
    # the normal is (-rise_e, -rise_n, 1) and only ratios count
    ax, ay = abs(rise_e), abs(rise_n)
    per = 1.0 / max(ax, ay, 1.0)
    wx, wy, wz = powered(ax * per, edge), powered(ay * per, edge), powered(per, edge)
    least = UNSEEN * (wx + wy + wz)
    wx, wy, wz = (0.0 if wx < least else wx), (0.0 if wy < least else wy), (0.0 if wz < least else wz)
    total = 1.0 / (wx + wy + wz)
    return wx * total, wy * total, wz * total
