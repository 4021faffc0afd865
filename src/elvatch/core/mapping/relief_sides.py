"""Steep sides of a layer's own relief: textured across them, by their own lie, instead of drawn out down them.

A texture laid from above is pulled apart on the side of a step as on a cliff. So where relief stands steeper than
the ground, its set is also projected on an upright plane that the side faces, one of eight, with the height of the
relief as the way up; nothing is stretched by more than 1 / cos(47.3 degrees) = 1.48. On planes of a cliff that has
ledges the same is done the other way round.
"""

from __future__ import annotations

import math

import numpy as np
from numpy.typing import NDArray

from elvatch.core.ground.places import Places
from elvatch.core.kernel import inner
from elvatch.core.mapping.fit_row import (
    COS,
    EDGE,
    MAIN,
    MIRROR,
    OFF_EAST,
    OFF_NORTH,
    OFF_UP,
    PROJECTION,
    SIDES,
    SIN,
    STEEP,
    TILE,
    TRIPLANAR,
)
from elvatch.core.mapping.planes import Footprint, on_plane, powered, upright
from elvatch.core.mapping.surface import lift, normal
from elvatch.core.stock.pyramid import BLUE, HEIGHT, RED, ROUGH, SLOPE_X, SLOPE_Y

_FACES = 8
_GENTLEST = 0.4
"""Relief with a smaller gradient has no side of its own."""
_STEEPEST = 4.0
"""Places on a steeper side stand for no larger area."""
_SHARP = 24.0
"""How sharply a side and what lies level meet, at least: a soft meeting would be pulled apart on both."""


@inner
def side_share(steep: float, edge: float) -> float:
    """Return how much what stands at a gradient counts as a side, 0 to 1."""
    if steep <= 1.0:
        share = powered(steep, edge)
        return share / (1.0 + share)
    share = powered(1.0 / steep, edge)
    return 1.0 / (1.0 + share)


@inner
def side_edge(layer: NDArray[np.float64], f: int) -> float:
    """Return how sharply a layer's sides are told from its tops (power of the gradient)."""
    return float(max(layer[f + EDGE], _SHARP))


@inner
def with_relief(
    layer: NDArray[np.float64], f: int, rise_e: float, rise_n: float, slope_e: float, slope_n: float
) -> tuple[float, float]:
    """Return the rise per metre east and north of ground with a layer's relief on it, none beyond what is held."""
    times = abs(layer[f + SIDES])
    nx, ny, nz = normal(rise_e, rise_n, slope_e * times, slope_n * times)
    level = math.sqrt(nx * nx + ny * ny)
    up = max(nz, level / _STEEPEST, 1e-6)
    return -nx / up, -ny / up


@inner
def faced(rise_e: float, rise_n: float) -> tuple[int, float]:
    """Return the face, of eight round the compass, before the direction that ground falls in, and the share 0..1 of
    the one after it."""
    sector = math.atan2(-rise_n, -rise_e) * (_FACES / (2.0 * math.pi)) + _FACES
    before = math.floor(sector)
    t = min(max((sector - before - 0.5) * 8.0 + 0.5, 0.0), 1.0)
    return int(before) % _FACES, t * t * (3.0 - 2.0 * t)


@inner
def has_sides(out: NDArray[np.float32]) -> bool:
    """Return whether what :func:`~elvatch.core.mapping.fitting.fitted` filled in is steep enough for sides."""
    return bool(out[SLOPE_X] * out[SLOPE_X] + out[SLOPE_Y] * out[SLOPE_Y] >= np.float32(_GENTLEST * _GENTLEST))


@inner
def on_sides(
    layer: NDArray[np.float64],
    f: int,
    sets: NDArray[np.int64],
    mean: NDArray[np.float32],
    places: Places,
    i: int,
    drift_e: float,
    drift_n: float,
    taps: int,
    out: NDArray[np.float32],
    one: NDArray[np.float32],
    two: NDArray[np.float32],
) -> None:
    """Give what :func:`~elvatch.core.mapping.fitting.fitted` filled in the colour of its relief's own sides.

    Parameters
    ----------
    layer : ndarray, float64
        A layer's numbers; those of its fit begin at ``f``.
    sets, mean, places, i, drift_e, drift_n, taps
        As fitted took them.
    out : ndarray, shape (10,), float32
        Fitted; colour and roughness change.
    one, two : ndarray, shape (10,), float32
        Scratch.
    """
    sx, sy = float(out[SLOPE_X]), float(out[SLOPE_Y])
    gx, gy = float(places.rise_east[i]), float(places.rise_north[i])
    rx, ry = with_relief(layer, f, gx, gy, sx, sy)
    edge = side_edge(layer, f)
    ground = side_share(math.sqrt(gx * gx + gy * gy), edge)
    extra = side_share(math.sqrt(rx * rx + ry * ry), edge) - ground
    if abs(extra) < 0.02 or (extra < 0.0 and layer[f + PROJECTION] != TRIPLANAR):
        return
    footprint = Footprint(
        layer,
        f,
        places.x_m[i] + drift_e - layer[f + OFF_EAST],
        places.y_m[i] + drift_n - layer[f + OFF_NORTH],
        float(places.elevation_m[i]) - layer[f + OFF_UP] + float(out[HEIGHT]) * lift(gx, gy),
        rx,
        ry,
        float(places.across_m[i]),
        float(places.along_east_m[i]),
        float(places.along_north_m[i]),
        1.0 / (1.0 + rx * rx + ry * ry),
        taps,
    )
    c, s, mirror = layer[f + COS], layer[f + SIN], layer[f + MIRROR]
    if extra < 0.0:
        level = c * mirror, s, 0.0, s * mirror, -c, 0.0
        on_plane(
            footprint,
            sets[2 * MAIN],
            sets[2 * MAIN + 1],
            mean[MAIN],
            layer[f + TILE],
            0.0,
            0.0,
            0,
            level,
            0.0,
            0.0,
            one,
            two,
        )
        _take(out, one, -extra / ground)
        return
    part_of = extra / (1.0 - ground)
    face, after = faced(rx, ry)
    for k in range(2):
        weight = after if k == 1 else 1.0 - after
        if weight < 0.02:
            continue
        angle = (face + k) * (2.0 * math.pi / _FACES)
        axes = upright(math.cos(angle), math.sin(angle), mirror, c, s)
        on_plane(
            footprint,
            sets[2 * STEEP],
            sets[2 * STEEP + 1],
            mean[STEEP],
            layer[f + TILE],
            0.0,
            0.0,
            0,
            axes,
            0.0,
            0.0,
            one,
            two,
        )
        # one after the other, the second over the first: together they count by their weights
        _take(out, one, part_of * weight / (1.0 - part_of * after) if k == 0 else part_of * weight)


@inner
def _take(out: NDArray[np.float32], one: NDArray[np.float32], share: float) -> None:
    for channel in range(RED, BLUE + 1):
        out[channel] += (one[channel] - out[channel]) * share
    out[ROUGH] += (one[ROUGH] - out[ROUGH]) * share
