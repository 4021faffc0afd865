"""The surveyor, 1.75 m tall, who holds a two-metre ranging rod: the eye's measure for every scale, and the hand's.

The rod is banded red and white every half metre, as surveyors' rods are, so that heights can be read off. A figure
given as a distance to its surface (round cones joined smoothly; Hart 1996 sphere tracing). Its feet stand at the
origin, it faces south, z is up.
"""

from __future__ import annotations

import math

import numpy as np
from numpy.typing import NDArray

from elvatch.core.kernel import inner, kernel

HEIGHT_M = 1.75
ROD_M = 2.0
REACH_M = 0.52
"""Radius of the upright cylinder that holds the figure, metres."""
_TOP_M = 2.01
_ROD_X, _ROD_Y, _ROD_RADIUS = 0.44, -0.12, 0.018
_BAND_M = 0.5

SKIN, HAT, COAT, TROUSERS, BOOTS, BAG, RED, WHITE = range(8)
COLOURS = np.array(
    [
        (0.36, 0.20, 0.13),
        (0.11, 0.085, 0.06),
        (0.15, 0.115, 0.06),
        (0.06, 0.065, 0.07),
        (0.03, 0.022, 0.018),
        (0.10, 0.055, 0.03),
        (0.42, 0.028, 0.02),
        (0.72, 0.70, 0.66),
    ],
    np.float32,
)
"""Linear colour of each tint."""

# from x, y, z and radius to x, y, z and radius, metres; how softly it joins what comes before; tint
_PARTS = np.array(
    [
        (0.0, 0.00, 1.600, 0.072, 0.0, -0.008, 1.545, 0.060, 0.0, SKIN),  # head
        (0.0, 0.01, 1.47, 0.052, 0.0, 0.005, 1.52, 0.050, 0.03, SKIN),  # neck
        (0.0, 0.00, 1.655, 0.066, 0.0, 0.0, 1.690, 0.050, 0.01, HAT),  # crown of the hat
        (0.0, 0.00, 1.643, 0.128, 0.0, 0.0, 1.640, 0.130, 0.0, HAT),  # its brim, cut flat
        (0.0, 0.01, 1.36, 0.150, 0.0, 0.0, 1.08, 0.142, 0.03, COAT),  # coat, upper part
        (0.0, 0.0, 1.08, 0.140, 0.0, 0.0, 0.72, 0.205, 0.03, COAT),  # coat, its skirt, cut off below
        (-0.115, 0.01, 1.385, 0.078, 0.115, 0.01, 1.385, 0.078, 0.05, COAT),  # shoulders
        (-0.185, 0.01, 1.36, 0.066, -0.235, 0.03, 1.10, 0.054, 0.03, COAT),  # right arm hangs
        (-0.235, 0.03, 1.10, 0.053, -0.235, -0.07, 0.88, 0.043, 0.02, COAT),
        (-0.235, -0.075, 0.855, 0.037, -0.228, -0.10, 0.79, 0.028, 0.0, SKIN),
        (0.185, 0.01, 1.36, 0.066, 0.285, 0.0, 1.17, 0.054, 0.03, COAT),  # left arm holds the rod
        (0.285, 0.0, 1.17, 0.053, 0.405, -0.105, 1.26, 0.042, 0.02, COAT),
        (0.425, -0.118, 1.275, 0.040, 0.44, -0.12, 1.235, 0.036, 0.0, SKIN),
        (-0.085, 0.0, 0.78, 0.086, -0.100, 0.0, 0.26, 0.064, 0.0, TROUSERS),
        (0.085, 0.0, 0.78, 0.086, 0.115, -0.02, 0.26, 0.064, 0.0, TROUSERS),
        (-0.100, 0.0, 0.27, 0.068, -0.102, 0.015, 0.065, 0.056, 0.0, BOOTS),
        (0.115, -0.02, 0.27, 0.068, 0.118, -0.005, 0.065, 0.056, 0.0, BOOTS),
        (-0.102, 0.01, 0.045, 0.050, -0.112, -0.15, 0.036, 0.038, 0.02, BOOTS),
        (0.118, -0.01, 0.045, 0.050, 0.150, -0.165, 0.036, 0.038, 0.02, BOOTS),
        (0.02, 0.155, 1.30, 0.095, 0.02, 0.15, 1.10, 0.105, 0.0, BAG),  # satchel on the back
    ]
)
_BRIM, _SKIRT = 3, 5
_BRIM_HALF_M = 0.011
_HEM_M = 0.74
_DEEP = 1.3
"""A body is less deep than wide."""
_SQUEEZED = (_SKIRT - 1, _SKIRT)
_ALL = (1 << len(_PARTS) + 1) - 1
"""All parts and, last, the rod: a bit of a number each."""


def _boxes() -> NDArray[np.float64]:
    """Return boxes (parts and the rod, 6) that hold each part with all that it bulges where it joins others."""
    ends, radius, soft = _PARTS[:, [0, 1, 2, 4, 5, 6]].reshape(-1, 2, 3), _PARTS[:, [3, 7]], _PARTS[:, 8]
    more = 1.25 * soft + 0.25 * soft.max() + 0.002
    low = (ends - radius[:, :, None]).min(axis=1)
    high = (ends + radius[:, :, None]).max(axis=1)
    low[_SQUEEZED, 1], high[_SQUEEZED, 1] = low[_SQUEEZED, 1] / _DEEP, high[_SQUEEZED, 1] / _DEEP
    wide = _ROD_RADIUS + 0.002
    rod = [[_ROD_X - wide, _ROD_Y - wide, -0.002, _ROD_X + wide, _ROD_Y + wide, ROD_M + 0.002]]
    return np.concatenate([np.concatenate([low - more[:, None], high + more[:, None]], axis=1), rod])


BOXES = _boxes()
"""West, south and bottom, east, north and top of each part and of the rod, from the feet, metres."""


@inner
def _round_cone(x: float, y: float, z: float, k: int) -> float:
    """Distance to a sphere swept along a segment while its radius changes."""
    if k in _SQUEEZED:
        y *= _DEEP
    ax, ay, az, ra = _PARTS[k, 0], _PARTS[k, 1], _PARTS[k, 2], _PARTS[k, 3]
    bx, by, bz = _PARTS[k, 4] - ax, _PARTS[k, 5] - ay, _PARTS[k, 6] - az
    px, py, pz = x - ax, y - ay, z - az
    along = (px * bx + py * by + pz * bz) / (bx * bx + by * by + bz * bz)
    along = min(max(along, 0.0), 1.0)
    dx, dy, dz = px - along * bx, py - along * by, pz - along * bz
    result: float = math.sqrt(dx * dx + dy * dy + dz * dz) - (ra + (_PARTS[k, 7] - ra) * along)
    if k == _BRIM:
        result = max(result, abs(pz) - _BRIM_HALF_M)
    elif k == _SKIRT:
        result = max(result, _HEM_M - z)
    return result


@inner
def _rod(x: float, y: float, z: float) -> float:
    """Distance to the ranging rod, which stands upright."""
    aside = math.hypot(x - _ROD_X, y - _ROD_Y) - _ROD_RADIUS
    return max(aside, -z, z - ROD_M)


@inner
def _away(x: float, y: float, z: float, which: int) -> float:
    """Return the distance to the surface of some of the figure's parts."""
    total = 1e9
    for k in range(_PARTS.shape[0]):
        if which >> k & 1 == 0:
            continue
        other, soft = _round_cone(x, y, z, k), _PARTS[k, 8]
        mix = max(soft - abs(total - other), 0.0) / max(soft, 1e-6)
        total = min(total, other) - mix * mix * soft * 0.25
    return min(total, _rod(x, y, z)) if which >> _PARTS.shape[0] & 1 == 1 else total


@kernel
def distance(x: float, y: float, z: float) -> float:
    """Return the distance to the figure's surface, metres, negative inside; its rod is part of it."""
    return _away(x, y, z, _ALL)


@inner
def _beside(
    x: float, y: float, z: float, dx: float, dy: float, dz: float, near: float, far: float
) -> tuple[int, float, float]:
    """Return which parts a ray comes near to, and between which distances."""
    tiny = 1e-12
    ix = 1.0 / (dx if abs(dx) > tiny else tiny)
    iy = 1.0 / (dy if abs(dy) > tiny else tiny)
    iz = 1.0 / (dz if abs(dz) > tiny else tiny)
    which, first, last = 0, far, near
    for k in range(BOXES.shape[0]):
        a, b = (BOXES[k, 0] - x) * ix, (BOXES[k, 3] - x) * ix
        enter, leave = min(a, b), max(a, b)
        a, b = (BOXES[k, 1] - y) * iy, (BOXES[k, 4] - y) * iy
        enter, leave = max(enter, min(a, b)), min(leave, max(a, b))
        a, b = (BOXES[k, 2] - z) * iz, (BOXES[k, 5] - z) * iz
        enter, leave = max(enter, min(a, b), near), min(leave, max(a, b), far)
        if enter <= leave:
            which |= 1 << k
            first, last = min(first, enter), max(last, leave)
    return which, first, last


@inner
def tint(x: float, y: float, z: float) -> int:
    """Return which of :data:`COLOURS` the surface has near a place."""
    nearest, found = _rod(x, y, z), WHITE
    if math.floor(z / _BAND_M) % 2 == 0:
        found = RED
    for k in range(_PARTS.shape[0]):
        away = _round_cone(x, y, z, k)
        if away < nearest:
            nearest, found = away, int(_PARTS[k, 9])
    return found


@kernel
def meet(x: float, y: float, z: float, dx: float, dy: float, dz: float, nearest: float) -> float:
    """Return how far along a unit ray (start relative to the feet) the figure is met, or infinity."""
    level = dx * dx + dy * dy
    near, far = nearest, 1e9
    if level > 1e-12:
        b = (x * dx + y * dy) / level
        under = b * b - (x * x + y * y - REACH_M * REACH_M) / level
        if under <= 0.0:
            return math.inf
        near, far = max(near, -b - math.sqrt(under)), -b + math.sqrt(under)
    elif x * x + y * y > REACH_M * REACH_M:
        return math.inf
    if dz != 0.0:
        a, b = -z / dz, (_TOP_M - z) / dz
        near, far = max(near, min(a, b)), min(far, max(a, b))
    which, t, far = _beside(x, y, z, dx, dy, dz, near, far)
    if which == 0:
        return math.inf
    for _ in range(96):
        if t > far:
            return math.inf
        gap = _away(x + t * dx, y + t * dy, z + t * dz, which)
        if gap < 0.0006:
            return t
        t += gap * 0.75
    return math.inf


@kernel
def normal(x: float, y: float, z: float) -> tuple[float, float, float]:
    """Return the outward unit normal near the figure's surface."""
    e = 0.002
    nx = distance(x + e, y, z) - distance(x - e, y, z)
    ny = distance(x, y + e, z) - distance(x, y - e, z)
    nz = distance(x, y, z + e) - distance(x, y, z - e)
    length = math.sqrt(nx * nx + ny * ny + nz * nz) + 1e-12
    return nx / length, ny / length, nz / length
