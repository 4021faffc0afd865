"""A layer's set brought onto the ground: which planes it is projected on, and what is found there.

A plane is two unit vectors in the world, right and down the texture as one faces it; places are carried
over as they are, the areas they stand for through the ground's lie, slopes as gradients along the
surface (Mikkelsen 2010). So normals come out right on every plane, and a flat set leaves the ground's own.
"""

from __future__ import annotations

import math
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from elvatch.core.ground.places import Places
from elvatch.core.kernel import inner, peek_value
from elvatch.core.mapping.fit_row import (
    COS,
    CURVE,
    DETAIL,
    DETAIL_GAIN,
    DETAIL_RELIEF,
    DETAIL_TILE,
    DOWNHILL,
    EDGE,
    FINER,
    GAIN_ACROSS,
    GAIN_DOWN,
    MAIN,
    MID,
    MIRROR,
    OFF_EAST,
    OFF_NORTH,
    OFF_UP,
    PROJECTION,
    RELIEF,
    REPEATS,
    SEED,
    SIDE,
    SIN,
    STEEP,
    STEEP_ACROSS,
    STEEP_DOWN,
    STEEP_LEVEL,
    STRENGTH,
    TILE,
    TRIPLANAR,
)
from elvatch.core.mapping.planes import (
    UNSEEN,
    Footprint,
    axes_of,
    on_plane,
    plane_weights,
    sheet_on_plane,
)
from elvatch.core.mapping.repeats import (
    OF_SET,
    OF_SHEET,
    at_corner,
    draw,
    gather,
    lattice,
    settle,
    sharpened,
)
from elvatch.core.stock.pyramid import (
    BLUE,
    CHANNELS,
    HEIGHT,
    OCCLUSION,
    RED,
    ROUGH,
    SLOPE_RMS,
    SLOPE_X,
    SLOPE_Y,
)

PATCH_OF_RUNS = 2.2
"""Downhill, from one corner of the lattice to the next, in tiles."""
_LEVEL = 0.015
"""Below this gradient the ground falls nowhere in particular."""


class Fall(NamedTuple):
    """Where the ground falls: the address of its gradient (rows, cols, 2) float32, and its grid; 0 when not known."""

    gradient: int
    rows: int
    cols: int
    cell_x_m: float
    cell_y_m: float
    depth_m: float


NO_FALL = Fall(0, 2, 2, 1.0, 1.0, 1.0)


@inner
def fall_at(fall: Fall, x: float, y: float) -> tuple[float, float]:
    """Return the ground's rise per metre east and north at the sample nearest a place."""
    if fall.gradient == 0:
        return 0.0, 0.0
    col = min(max(int(x / fall.cell_x_m + 0.5), 0), fall.cols - 1)
    row = min(max(int((fall.depth_m - y) / fall.cell_y_m + 0.5), 0), fall.rows - 1)
    at = (row * fall.cols + col) * 2
    return peek_value(fall.gradient, at), peek_value(fall.gradient, at + 1)


@inner
def downhill(
    values: int,
    footprint: Footprint,
    fall: Fall,
    texels: int,
    side: int,
    mean: NDArray[np.float32],
    out: NDArray[np.float32],
    one: NDArray[np.float32],
    two: NDArray[np.float32],
) -> None:
    """Fill ``out``: patches whose down is the ground's, each laid on the ground's lie at its own middle."""
    layer, f = footprint.layer, footprint.first
    edge = PATCH_OF_RUNS * layer[f + TILE]
    kind, seed = int(layer[f + REPEATS]), int(layer[f + SEED])
    own = 3 if kind == 3 else 0
    x, y = footprint.x / edge, footprint.y / edge
    sum_of = 0.0
    for corner in range(3):
        sum_of += sharpened(lattice(x, y, corner)[2])
    for k in range(values + 3):
        out[k] = 0.0
    squares, together, last_x, last_y = 0.0, 0.0, math.inf, math.inf
    for corner in range(3):
        column, row, weight = lattice(x, y, corner)
        weight = sharpened(weight) / sum_of
        if weight < UNSEEN:
            continue
        cx, cy = at_corner(column, row)
        gx, gy = fall_at(fall, cx * edge + layer[f + OFF_EAST], cy * edge + layer[f + OFF_NORTH])
        steep = math.sqrt(gx * gx + gy * gy)
        down_x, down_y = 0.0, -1.0
        if steep > _LEVEL:
            down_x, down_y = -gx / steep, -gy / steep
        along = 1.0 / math.sqrt(1.0 + steep * steep)
        # facing uphill: right, and down along the surface
        rx, ry = -down_y * layer[f + MIRROR], down_x * layer[f + MIRROR]
        vx, vy, vz = down_x * along, down_y * along, -steep * along
        c, s = layer[f + COS], layer[f + SIN]
        shift_u, shift_v = 0.0, 0.0
        if (kind == 1 or kind == 2) and draw(seed, column, row, 0) < layer[f + STRENGTH]:
            shift_u, shift_v = draw(seed, column, row, 2), draw(seed, column, row, 3)
        axes = c * rx - s * vx, c * ry - s * vy, -s * vz, s * rx + c * vx, s * ry + c * vy, c * vz
        tile, gain_a, gain_d = layer[f + TILE], layer[f + GAIN_ACROSS], layer[f + GAIN_DOWN]
        if values == OF_SHEET:
            sheet_on_plane(footprint, texels, side, mean, tile, gain_a, gain_d, own, axes, shift_u, shift_v, one, two)
        else:
            on_plane(footprint, texels, side, mean, tile, gain_a, gain_d, own, axes, shift_u, shift_v, one, two)
        gather(values, out, one, mean, weight)
        # patches that lie alike are one sample, not several
        if shift_u == 0.0 and abs(gx - last_x) < 1e-3 and abs(gy - last_y) < 1e-3:
            squares += 2.0 * together * weight
            together += weight
        else:
            together = weight
        squares += weight * weight
        last_x, last_y = gx, gy
    settle(values, out, mean, squares)


@inner
def _finer(
    footprint: Footprint,
    sets: NDArray[np.int64],
    mean: NDArray[np.float32],
    wx: float,
    wy: float,
    wz: float,
    out: NDArray[np.float32],
    one: NDArray[np.float32],
    two: NDArray[np.float32],
) -> float:
    """Add the near detail to ``out``, by the plane that counts most; return the height it adds, metres."""
    layer, f = footprint.layer, footprint.first
    tile = layer[f + DETAIL_TILE]
    seen = math.sqrt(footprint.across * (footprint.across + math.hypot(footprint.along_e, footprint.along_n))) / tile
    # it goes while a repeat is still wide enough to be told from its mean
    t = min(max((math.log(max(seen, 1e-9)) - math.log(1 / 16)) / (math.log(1 / 96) - math.log(1 / 16)), 0.0), 1.0)
    part = layer[f + DETAIL] * t * t * (3.0 - 2.0 * t)
    if part <= 0.0:
        return 0.0
    plane = 3 if layer[f + PROJECTION] == SIDE else (1 if wx > wz and wx >= wy else (2 if wy > wz else 0))
    axes = axes_of(layer, f, plane, footprint.rise_e, footprint.rise_n)
    gain, average = layer[f + DETAIL_GAIN], mean[FINER]
    on_plane(
        footprint,
        sets[2 * FINER],
        sets[2 * FINER + 1],
        average,
        tile,
        gain,
        gain,
        0,
        axes,
        0.0,
        0.0,
        one,
        two,
    )
    for channel in range(RED, BLUE + 1):
        out[channel] *= 1.0 + part * (min(one[channel] / max(average[channel], 1e-3), 3.0) - 1.0)
    out[ROUGH] += part * (one[ROUGH] - average[ROUGH])
    out[OCCLUSION] *= 1.0 + part * (min(one[OCCLUSION] / max(average[OCCLUSION], 1e-3), 2.0) - 1.0)
    out[SLOPE_X] += part * one[SLOPE_X]
    out[SLOPE_Y] += part * one[SLOPE_Y]
    out[SLOPE_RMS] += part * part * one[SLOPE_RMS]
    return float(part * (one[HEIGHT] - average[HEIGHT]) * layer[f + DETAIL_RELIEF])


@inner
def fitted(
    layer: NDArray[np.float64],
    first: int,
    sets: NDArray[np.int64],
    mean: NDArray[np.float32],
    fall: Fall,
    places: Places,
    i: int,
    drift_e: float,
    drift_n: float,
    taps: int,
    out: NDArray[np.float32],
    spare: NDArray[np.float32],
) -> None:
    """Fill ``out`` with a layer's ten numbers at a place.

    Height comes out in metres from the layer's middle, slopes as the horizontal parts of the gradient
    along the surface, ``SLOPE_RMS`` as the variance of slope that was averaged away.

    Parameters
    ----------
    layer : ndarray, float64
        A layer's numbers; those of :func:`columns` begin at ``first``.
    sets : ndarray, shape (6,), int64
        Address and side of its three sets.
    mean : ndarray, shape (3, 10), float32
        Their means.
    fall : Fall
        The ground's, for runs downhill.
    places, i
        Where.
    drift_e, drift_n : float
        How far the tiles have drifted there, metres.
    taps : int
        Most lookups along a stretched area.
    out, spare : ndarray, shapes (10,) and (3, 10), float32
        Result, and scratch.
    """
    f = first
    gx, gy = float(places.rise_east[i]), float(places.rise_north[i])
    footprint = Footprint(
        layer,
        first,
        places.x_m[i] + drift_e - layer[f + OFF_EAST],
        places.y_m[i] + drift_n - layer[f + OFF_NORTH],
        float(places.elevation_m[i]) - layer[f + OFF_UP],
        gx,
        gy,
        float(places.across_m[i]),
        float(places.along_east_m[i]),
        float(places.along_north_m[i]),
        1.0 / (1.0 + gx * gx + gy * gy),
        taps,
    )
    one, two = spare[0], spare[1]
    projection = layer[f + PROJECTION]
    wx, wy, wz = 0.0, 0.0, 1.0
    if projection == DOWNHILL:
        downhill(OF_SET, footprint, fall, sets[0], sets[1], mean[MAIN], out, one, two)
    else:
        if projection == TRIPLANAR:
            wx, wy, wz = plane_weights(footprint.rise_e, footprint.rise_n, layer[f + EDGE])
        if max(wx, wy, wz) < 1.0:
            for k in range(CHANNELS):
                out[k] = 0.0
        for plane in range(3):
            weight = wz if plane == 0 else (wx if plane == 1 else wy)
            if weight == 0.0:
                continue
            which = MAIN if plane == 0 else STEEP
            axes = axes_of(layer, f, 3 if projection == SIDE else plane, footprint.rise_e, footprint.rise_n)
            gain_a = layer[f + GAIN_ACROSS] if plane == 0 else layer[f + STEEP_ACROSS]
            gain_d = layer[f + GAIN_DOWN] if plane == 0 else layer[f + STEEP_DOWN]
            alone = weight == 1.0
            on_plane(
                footprint,
                sets[2 * which],
                sets[2 * which + 1],
                mean[which],
                layer[f + TILE],
                gain_a,
                gain_d,
                int(layer[f + REPEATS]),
                axes,
                0.0,
                0.0,
                out if alone else one,
                two,
            )
            if plane > 0:
                (out if alone else one)[HEIGHT] += layer[f + STEEP_LEVEL]
            if alone:
                break
            part = np.float32(weight)
            for k in range(CHANNELS):
                out[k] += part * one[k]
    added = 0.0
    curve = layer[f + CURVE]
    height = float(out[HEIGHT])
    if curve != 0.0:
        power = 4.0 ** abs(curve)
        rest = height if curve > 0.0 else 1.0 - height
        steeper = min(power * max(rest, 1e-6) ** (power - 1.0), 4.0)
        height = rest**power if curve > 0.0 else 1.0 - rest**power
        out[SLOPE_X] *= steeper
        out[SLOPE_Y] *= steeper
        out[SLOPE_RMS] *= steeper * steeper
    if layer[f + DETAIL] > 0.0:
        added = _finer(footprint, sets, mean, wx, wy, wz, out, one, two)
    out[HEIGHT] = (height - layer[f + MID]) * layer[f + RELIEF] + added
