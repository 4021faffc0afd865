"""The surveyor, 1.75 m tall, who holds a two-metre ranging rod: the eye's measure for every scale, and the hand's.

The rod is banded red and white every half metre, as surveyors' rods are, so that heights can be read off. A figure
given as a distance to its surface (round cones joined smoothly; Hart 1996 sphere tracing). Its feet stand at the
origin, it faces south, z is up.
"""

from __future__ import annotations

import math

import numpy as np

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


@inner
def _round_cone(x: float, y: float, z: float, k: int) -> float:
    """Distance to a sphere swept along a segment while its radius changes."""
    if k == _SKIRT or k == _SKIRT - 1:
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


@kernel
def distance(x: float, y: float, z: float) -> float:
    """Return the distance to the figure's surface, metres, negative inside; its rod is part of it."""
    total = _round_cone(x, y, z, 0)
    for k in range(1, _PARTS.shape[0]):
        other, soft = _round_cone(x, y, z, k), _PARTS[k, 8]
        mix = max(soft - abs(total - other), 0.0) / max(soft, 1e-6)
        total = min(total, other) - mix * mix * soft * 0.25
    return min(total, _rod(x, y, z))


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
    t = near
    for _ in range(96):
        if t > far:
            return math.inf
        gap = distance(x + t * dx, y + t * dy, z + t * dz)
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
