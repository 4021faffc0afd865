"""A layer's set brought onto the ground: which planes it is projected on, and what is found there.

A plane is two unit vectors in the world, right and down the texture as one faces it; places are carried
over as they are, the areas they stand for through the ground's lie, slopes as gradients along the
surface (Mikkelsen 2010). So normals come out right on every plane, and a flat set leaves the ground's own.
"""

from __future__ import annotations

import math
from typing import NamedTuple, TypeVar

import numpy as np
from numpy.typing import NDArray

from elvatch.core import digest
from elvatch.core.columns import Columns
from elvatch.core.document.fit import Fit, Lie
from elvatch.core.ground.places import Places
from elvatch.core.kernel import inner, part, peek_value
from elvatch.core.mapping.repeats import (
    OF_SET,
    OF_SHEET,
    at_corner,
    draw,
    gather,
    lattice,
    sample,
    sample_sheet,
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
    Pyramid,
)

ABOVE, TRIPLANAR, DOWNHILL, SIDE = range(4)
_PROJECTIONS = {"above": ABOVE, "triplanar": TRIPLANAR, "downhill": DOWNHILL, "side": SIDE}
_REPEATS = {"none": 0, "shift": 1, "turn": 2, "second": 3}

# columns of a fit's numbers, after the first
(PROJECTION, TILE, ASPECT, MIRROR, COS, SIN, EAST_COS, EAST_SIN, NORTH_COS, NORTH_SIN, OFF_EAST, OFF_NORTH, OFF_UP,
 EDGE, SIDE_X, SIDE_Y, REPEATS, STRENGTH, SECOND, SEED, GAIN_ACROSS, GAIN_DOWN, STEEP_ACROSS, STEEP_DOWN, DETAIL,
 DETAIL_TILE, DETAIL_GAIN, DETAIL_RELIEF, RELIEF, MID, CURVE, STEEP_LEVEL, SIDES, MEETS) = range(34)  # fmt: skip
NUMBERS = MEETS + 1
LEVELLED, ON_TOP, CUT_IN = range(3)
_MEETS = {"levelled": LEVELLED, "on top": ON_TOP, "cut in": CUT_IN}
MAIN, STEEP, FINER = range(3)
"""Which of a layer's three sets: its own, that of its steep planes, that of its near detail."""

_STRETCH = 16.0
_LEAST_SIDE_M = 0.04
"""Lower relief has no sides that could be seen."""
_UNSEEN = 0.02
PATCH_OF_RUNS = 2.2
"""Downhill, from one corner of the lattice to the next, in tiles."""
_LEVEL = 0.015
"""Below this gradient the ground falls nowhere in particular."""


Axes = tuple[float, float, float, float, float, float]
"""Two unit vectors in the world: right and down a texture."""


class Fall(NamedTuple):
    """Where the ground falls: the address of its gradient (rows, cols, 2) float32, and its grid; 0 when not known."""

    gradient: int
    rows: int
    cols: int
    cell_x_m: float
    cell_y_m: float
    depth_m: float


NO_FALL = Fall(0, 2, 2, 1.0, 1.0, 1.0)


H = TypeVar("H", float, NDArray[np.float64])


def curved(height: H, curve: float) -> H:
    """Return heights 0..1 with their tops sharpened (curve above 0) or rounded."""
    power = 4.0 ** abs(curve)
    bent: H = height**power if curve >= 0 else 1.0 - (1.0 - height) ** power
    return bent


def middle(fit: Fit, mean_height: float) -> float:
    """Return the curved height, 0..1, that lies level with what the layer lies on."""
    if fit.relief_mid is not None:
        return curved(fit.relief_mid, fit.relief_curve)
    return {"levelled": curved(mean_height, fit.relief_curve), "on top": 0.0, "cut in": 1.0}[fit.meets]


def risen_m(fit: Fit, heights: NDArray[np.float64], mean_height: float) -> NDArray[np.float64]:
    """Return how far heights 0..1 of a set rise above what its layer lies level with, metres."""
    return fit.relief_m * (curved(heights, fit.relief_curve) - middle(fit, mean_height))


def lie_columns(id: str, lie: Lie) -> Columns:
    """Return how an image is repeated, as compiled code takes it: the columns up to ``SEED``."""
    turn = math.radians(lie.turn_deg)
    east, north = math.radians(lie.steep_turn_east_deg), math.radians(lie.steep_turn_north_deg)
    side = math.radians(lie.side_deg)
    return {
        PROJECTION: _PROJECTIONS[lie.projection], TILE: lie.tile_m, ASPECT: lie.tile_m / lie.down_m,
        MIRROR: -1.0 if lie.mirror else 1.0, COS: math.cos(turn), SIN: math.sin(turn),
        EAST_COS: math.cos(turn + east), EAST_SIN: math.sin(turn + east),
        NORTH_COS: math.cos(turn + north), NORTH_SIN: math.sin(turn + north),
        OFF_EAST: lie.offset_east_m, OFF_NORTH: lie.offset_north_m, OFF_UP: lie.offset_up_m, EDGE: lie.plane_edge,
        SIDE_X: math.sin(side), SIDE_Y: math.cos(side), REPEATS: _REPEATS[lie.repeats.kind],
        STRENGTH: lie.repeats.strength, SECOND: lie.repeats.second_scale, SEED: int(digest.of_json(id)[:4], 16),
    }  # fmt: skip


def columns(layer_id: str, fit: Fit, normal_strength: float, sets: tuple[Pyramid, Pyramid, Pyramid]) -> Columns:
    """Return a fit as compiled code takes it; ``sets`` as in :data:`MAIN`, :data:`STEEP`, :data:`FINER`."""
    main, steep, finer = sets

    def gain(one: Pyramid, tile_m: float, relief_m: float) -> float:
        # a normal map's slopes hold at the set's own size and relief; the fit changes both
        return (relief_m / one.relief_m) * (one.tile_m / tile_m) * normal_strength

    detail = fit.detail
    # another set on the steep planes lies as level as the first
    levelled = fit.relief_mid is None and fit.meets == "levelled"
    return {
        **lie_columns(layer_id, fit),
        GAIN_ACROSS: gain(main, fit.tile_m, fit.relief_m), GAIN_DOWN: gain(main, fit.down_m, fit.relief_m),
        STEEP_ACROSS: gain(steep, fit.tile_m, fit.relief_m), STEEP_DOWN: gain(steep, fit.down_m, fit.relief_m),
        DETAIL: detail.strength if detail else 0.0, DETAIL_TILE: detail.tile_m if detail else 1.0,
        DETAIL_GAIN: gain(finer, detail.tile_m, detail.relief_m) if detail else 0.0,
        DETAIL_RELIEF: detail.relief_m if detail else 0.0,
        RELIEF: fit.relief_m, MID: middle(fit, float(main.mean[HEIGHT])), CURVE: fit.relief_curve,
        STEEP_LEVEL: float(main.mean[HEIGHT] - steep.mean[HEIGHT]) if levelled else 0.0, MEETS: _MEETS[fit.meets],
        SIDES: _sides(fit, normal_strength),
    }  # fmt: skip


def _sides(fit: Fit, normal_strength: float) -> float:
    """Return what the slopes that are shown are multiplied by to be those of the relief, below 0 where its sides are
    not textured by themselves; 0 where no side is seen."""
    if fit.relief_m < _LEAST_SIDE_M or normal_strength <= 0 or fit.projection not in ("above", "triplanar"):
        return 0.0
    return (1.0 if fit.own_sides else -1.0) / normal_strength


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
def _projected(
    values: int, footprint: Footprint, texels: int, side: int, mean: NDArray[np.float32], tile: float, gain_a: float,
    gain_d: float, kind: int, axes: Axes, shift_u: float, shift_v: float, out: NDArray[np.float32],
    one: NDArray[np.float32],
) -> None:  # fmt: skip
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
            texels, side, u, v, across * per, along_u * per, along_v * per, layer[f + ASPECT], gain_a, gain_d, kind,
            layer[f + STRENGTH], layer[f + SECOND], int(layer[f + SEED]), footprint.taps, mean, out, one,
        )  # fmt: skip
    else:
        sample(
            texels, side, u, v, across * per, along_u * per, along_v * per, layer[f + ASPECT], gain_a, gain_d, kind,
            layer[f + STRENGTH], layer[f + SECOND], int(layer[f + SEED]), footprint.taps, mean, out, one,
        )  # fmt: skip
    # along the surface: what points out of it is taken off
    sx, sy = out[values], out[values + 1]
    hx, hy, hz = sx * rx - sy * dx, sx * ry - sy * dy, sx * rz - sy * dz
    out_of = (hz - gx * hx - gy * hy) * footprint.flat
    out[values], out[values + 1] = hx + out_of * gx, hy + out_of * gy


@part
def on_plane(
    footprint: Footprint, texels: int, side: int, mean: NDArray[np.float32], tile: float, gain_a: float,
    gain_d: float, kind: int, axes: Axes, shift_u: float, shift_v: float, out: NDArray[np.float32],
    one: NDArray[np.float32],
) -> None:  # fmt: skip
    """Fill ``out`` with a set's numbers as projected on a plane.

    The slopes come out as the horizontal parts, east and north, of the gradient along the surface.
    """
    _projected(OF_SET, footprint, texels, side, mean, tile, gain_a, gain_d, kind, axes, shift_u, shift_v, out, one)


@part
def sheet_on_plane(
    footprint: Footprint, texels: int, side: int, mean: NDArray[np.float32], tile: float, gain_a: float,
    gain_d: float, kind: int, axes: Axes, shift_u: float, shift_v: float, out: NDArray[np.float32],
    one: NDArray[np.float32],
) -> None:  # fmt: skip
    """Fill ``out`` with an overlay's numbers as :func:`on_plane` does with a set's."""
    _projected(OF_SHEET, footprint, texels, side, mean, tile, gain_a, gain_d, kind, axes, shift_u, shift_v, out, one)


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
    values: int, footprint: Footprint, fall: Fall, texels: int, side: int, mean: NDArray[np.float32],
    out: NDArray[np.float32], one: NDArray[np.float32], two: NDArray[np.float32],
) -> None:  # fmt: skip
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
        if weight < _UNSEEN:
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
            sheet_on_plane(
                footprint, texels, side, mean, tile, gain_a, gain_d, own, axes, shift_u, shift_v, one, two
            )  # fmt: skip
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
    if ratio * ratio < 0.25 * _UNSEEN:
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
    least = _UNSEEN * (wx + wy + wz)
    wx, wy, wz = (0.0 if wx < least else wx), (0.0 if wy < least else wy), (0.0 if wz < least else wz)
    total = 1.0 / (wx + wy + wz)
    return wx * total, wy * total, wz * total


@inner
def _finer(
    footprint: Footprint, sets: NDArray[np.int64], mean: NDArray[np.float32], wx: float, wy: float, wz: float,
    out: NDArray[np.float32], one: NDArray[np.float32], two: NDArray[np.float32],
) -> float:  # fmt: skip
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
        footprint, sets[2 * FINER], sets[2 * FINER + 1], average, tile, gain, gain, 0, axes, 0.0, 0.0,
        one, two,
    )  # fmt: skip
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
    layer: NDArray[np.float64], first: int, sets: NDArray[np.int64], mean: NDArray[np.float32], fall: Fall,
    places: Places, i: int, drift_e: float, drift_n: float, taps: int, out: NDArray[np.float32],
    spare: NDArray[np.float32],
) -> None:  # fmt: skip
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
        layer, first, places.x_m[i] + drift_e - layer[f + OFF_EAST], places.y_m[i] + drift_n - layer[f + OFF_NORTH],
        float(places.elevation_m[i]) - layer[f + OFF_UP], gx, gy, float(places.across_m[i]),
        float(places.along_east_m[i]), float(places.along_north_m[i]), 1.0 / (1.0 + gx * gx + gy * gy), taps,
    )  # fmt: skip
    one, two = spare[0], spare[1]
    projection = layer[f + PROJECTION]
    wx, wy, wz = 0.0, 0.0, 1.0
    if projection == DOWNHILL:
        downhill(OF_SET, footprint, fall, sets[0], sets[1], mean[MAIN], out, one, two)
    else:
        if projection == TRIPLANAR:
            wx, wy, wz = plane_weights(footprint.rise_e, footprint.rise_n, layer[f + EDGE])
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
                footprint, sets[2 * which], sets[2 * which + 1], mean[which], layer[f + TILE], gain_a, gain_d,
                int(layer[f + REPEATS]), axes, 0.0, 0.0, out if alone else one, two,
            )  # fmt: skip
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
