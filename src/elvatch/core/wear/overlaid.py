"""What a wear's overlay says at a place: on the ground's planes, along the levels of a measure, or along a path."""

from __future__ import annotations

import math
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from elvatch.core.ground.places import Places
from elvatch.core.kernel import inner, peek_value
from elvatch.core.mapping import fit_row as f
from elvatch.core.mapping.fitting import Fall, downhill
from elvatch.core.mapping.lookup import look_up_sheet
from elvatch.core.mapping.planes import Footprint, axes_of, plane_weights, sheet_on_plane
from elvatch.core.mapping.repeats import NONE, OF_SHEET
from elvatch.core.noise import fractal_noise
from elvatch.core.rules.paths import PathLines, along_and_aside
from elvatch.core.stock.sheet import CHANNELS, RISE_RIGHT, RISE_RMS, RISE_UP, VALUE

_MEAN, _NO_REPEAT = 0.85, 0.45
ON_GROUND, ON_LEVELS, ON_PATH = range(3)
# columns of a wear's numbers
(
    STRENGTH,
    FOLLOWS,
    ROUGH,
    ROUGH_MODE,
    ROUGH_TO,
    METAL,
    METAL_MODE,
    METAL_TO,
    COLOUR,
    COLOUR_MODE,
    RED,
    GREEN,
    BLUE,
    DEPTH,
    WORN,
    RELIEF_WAY,
    RELIEF_LEVEL,
    RELIEF_SOFT,
    FROM,
    SPACING,
    ONCE,
    WOBBLE,
    WOBBLE_SIZE,
    SEED,
    LINE,
    WIDTH,
    LENGTH,
) = range(27)
FIT = LENGTH + 1
NUMBERS = FIT + f.GAIN_DOWN + 1


class Overlays(NamedTuple):
    """All wears' overlays as compiled code takes them.

    ``numbers`` (n, NUMBERS); ``sheets`` (n, 3) address and side of each, and address of the measure its levels are
    of, 0 for elevation; ``means`` (n, 4); ``lines`` the paths; ``fall`` the ground's, with the grid of measures.
    """

    numbers: NDArray[np.float64]
    sheets: NDArray[np.int64]
    means: NDArray[np.float32]
    lines: PathLines
    fall: Fall


@inner
def _along_surface(places: Places, i: int, east: float, north: float, out: NDArray[np.float32]) -> None:
    """Put the gradient along the surface of something that rises by so much a metre on the map into ``out``."""
    gx, gy = float(places.rise_east[i]), float(places.rise_north[i])
    out_of = (gx * east + gy * north) / (1.0 + gx * gx + gy * gy)
    out[RISE_RIGHT], out[RISE_UP] = east - gx * out_of, north - gy * out_of


@inner
def _nothing(out: NDArray[np.float32]) -> None:
    for k in range(CHANNELS):
        out[k] = 0.0


@inner
def _lost(out: NDArray[np.float32]) -> float:
    """Return the variance of slope that filtering took away, in (value per texel) squared."""
    return max(0.0, float(out[RISE_RMS] ** 2 - out[RISE_RIGHT] ** 2 - out[RISE_UP] ** 2))


@inner
def _measured(over: Overlays, w: int, places: Places, i: int) -> tuple[float, float, float]:
    """Return the measure whose levels an overlay follows, and how it rises east and north, a metre."""
    if over.sheets[w, 2] == 0:
        return float(places.elevation_m[i]), float(places.rise_east[i]), float(places.rise_north[i])
    fall, address = over.fall, over.sheets[w, 2]
    right = min(max(places.x_m[i] / fall.cell_x_m, 0.0), fall.cols - 1.0)
    down = min(max((fall.depth_m - places.y_m[i]) / fall.cell_y_m, 0.0), fall.rows - 1.0)
    col, row = min(int(right), fall.cols - 2), min(int(down), fall.rows - 2)
    u, v, at = right - col, down - row, row * fall.cols + col
    a, b = peek_value(address, at), peek_value(address, at + 1)
    c, d = peek_value(address, at + fall.cols), peek_value(address, at + fall.cols + 1)
    top, low = a + (b - a) * u, c + (d - c) * u
    east = ((b - a) + ((d - c) - (b - a)) * v) / fall.cell_x_m
    return top + (low - top) * v, east, (top - low) / fall.cell_y_m


@inner
def _on_levels(over: Overlays, w: int, places: Places, i: int, taps: int, out: NDArray[np.float32]) -> None:
    n, side = over.numbers[w], int(over.sheets[w, 1])
    value, east, north = _measured(over, w, places, i)
    if n[WOBBLE] > 0.0:
        size = n[WOBBLE_SIZE]
        value += n[WOBBLE] * fractal_noise(places.x_m[i] / size, places.y_m[i] / size, int(n[SEED]), 0, 3, 0.5)
    per = 1.0 / n[SPACING]
    v = (value - n[FROM]) * per
    if n[ONCE] > 0.0 and (v <= 0.0 or v >= 1.0):
        _nothing(out)
        return
    rise = math.sqrt(east * east + north * north)
    longer = abs(east * places.along_east_m[i] + north * places.along_north_m[i]) * per
    look_up_sheet(over.sheets[w, 0], side, 0.5, v, rise * places.across_m[i] * per, 0.0, longer, taps, out)
    # rows run down and the measure with them
    a_metre = -out[RISE_UP] * side * per
    lost = _lost(out) * (side * per * rise) ** 2
    _along_surface(places, i, a_metre * east, a_metre * north, out)
    out[RISE_RMS] = lost


@inner
def beside_path(over: Overlays, w: int, places: Places, i: int) -> bool:
    """Whether a place lies within the width of the path that overlay ``w`` follows."""
    n = over.numbers[w]
    aside = along_and_aside(over.lines, int(n[LINE]), places.x_m[i], places.y_m[i])[1]
    return bool(abs(aside) <= 0.5 * n[WIDTH])


@inner
def _on_path(over: Overlays, w: int, places: Places, i: int, taps: int, out: NDArray[np.float32]) -> None:
    n, side = over.numbers[w], int(over.sheets[w, 1])
    along, aside, way_e, way_n = along_and_aside(over.lines, int(n[LINE]), places.x_m[i], places.y_m[i])
    if abs(aside) > 0.5 * n[WIDTH]:
        _nothing(out)
        return
    per_u, per_v = 1.0 / n[LENGTH], 1.0 / n[WIDTH]
    long_e, long_n, across = places.along_east_m[i], places.along_north_m[i], float(places.across_m[i])
    along_u = (long_e * way_e + long_n * way_n) * per_u
    along_v = (long_e * way_n - long_n * way_e) * per_v
    # a round area is longer in the direction in which the overlay is shorter
    if per_u > per_v:
        along_u += math.copysign(across * (per_u - per_v), along_u)
    else:
        along_v += math.copysign(across * (per_v - per_u), along_v)
    look_up_sheet(
        over.sheets[w, 0],
        side,
        along * per_u,
        0.5 + aside * per_v,
        across * min(per_u, per_v),
        along_u,
        along_v,
        taps,
        out,
    )
    onward, right = out[RISE_RIGHT] * side * per_u, -out[RISE_UP] * side * per_v
    lost = _lost(out) * side * side * per_u * per_v
    _along_surface(places, i, onward * way_e + right * way_n, onward * way_n - right * way_e, out)
    out[RISE_RMS] = lost


@inner
def _mean_of(over: Overlays, w: int, out: NDArray[np.float32]) -> None:
    """Fill ``out`` with what is left of an overlay over an area wider than its tile."""
    n, mean = over.numbers[w], over.means[w]
    out[VALUE], out[RISE_RIGHT], out[RISE_UP] = mean[VALUE], 0.0, 0.0
    out[RISE_RMS] = mean[RISE_RMS] ** 2 * n[FIT + f.GAIN_ACROSS] * n[FIT + f.GAIN_DOWN]


@inner
def _on_ground(
    over: Overlays,
    w: int,
    places: Places,
    i: int,
    taps: int,
    out: NDArray[np.float32],
    one: NDArray[np.float32],
    two: NDArray[np.float32],
) -> None:
    n, first, texels, side = over.numbers[w], FIT, over.sheets[w, 0], int(over.sheets[w, 1])
    # how much of a tile is seen as one: all of it is its mean, and of half of it no repeat is seen
    seen = places.across_m[i] / max(n[first + f.TILE], n[first + f.TILE] / n[first + f.ASPECT])
    if seen >= _MEAN:
        _mean_of(over, w, out)
        return
    kind = int(n[first + f.REPEATS]) if seen < _NO_REPEAT else NONE
    gx, gy = float(places.rise_east[i]), float(places.rise_north[i])
    footprint = Footprint(
        n,
        first,
        places.x_m[i] - n[first + f.OFF_EAST],
        places.y_m[i] - n[first + f.OFF_NORTH],
        float(places.elevation_m[i]) - n[first + f.OFF_UP],
        gx,
        gy,
        float(places.across_m[i]),
        float(places.along_east_m[i]),
        float(places.along_north_m[i]),
        1.0 / (1.0 + gx * gx + gy * gy),
        taps,
    )
    projection = n[first + f.PROJECTION]
    if projection == f.DOWNHILL:
        downhill(OF_SHEET, footprint, over.fall, texels, side, over.means[w], out, one, two)
        return
    wx, wy, wz = 0.0, 0.0, 1.0
    if projection == f.TRIPLANAR:
        wx, wy, wz = plane_weights(gx, gy, n[first + f.EDGE])
    _nothing(out)
    for plane in range(3):
        weight = wz if plane == 0 else (wx if plane == 1 else wy)
        if weight == 0.0:
            continue
        axes = axes_of(n, first, 3 if projection == f.SIDE else plane, gx, gy)
        sheet_on_plane(
            footprint,
            texels,
            side,
            over.means[w],
            n[first + f.TILE],
            n[first + f.GAIN_ACROSS],
            n[first + f.GAIN_DOWN],
            kind,
            axes,
            0.0,
            0.0,
            one,
            two,
        )
        part = np.float32(weight)
        for k in range(CHANNELS):
            out[k] += part * one[k]
        if weight == 1.0:
            break


@inner
def overlaid(
    over: Overlays,
    w: int,
    places: Places,
    i: int,
    taps: int,
    out: NDArray[np.float32],
    one: NDArray[np.float32],
    two: NDArray[np.float32],
) -> None:
    """Fill ``out`` with what overlay ``w`` says at a place.

    Parameters
    ----------
    over : Overlays
        All of them.
    w : int
        Which.
    places, i
        Where.
    taps : int
        Most lookups along a stretched area.
    out : ndarray, shape (4,), float32
        The value, 0..1; how it rises along the surface, its horizontal parts, a metre; the variance of that
        which filtering took away.
    one, two : ndarray, shape (4,), float32
        Scratch.
    """
    follows = over.numbers[w, FOLLOWS]
    if follows == ON_LEVELS:
        _on_levels(over, w, places, i, taps, out)
    elif follows == ON_PATH:
        _on_path(over, w, places, i, taps, out)
    else:
        _on_ground(over, w, places, i, taps, out, one, two)
    out[VALUE] = min(max(out[VALUE], np.float32(0.0)), np.float32(1.0))
