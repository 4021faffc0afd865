"""The standing figure, 1.75 m tall: the eye's measure for every scale.

A rounded mannequin given as a distance to its surface (round cones joined smoothly, Hart 1996
sphere tracing). Its feet stand at the origin, it faces south, z is up.
"""

from __future__ import annotations

import math

import numpy as np

from elvatch.core.kernel import kernel

HEIGHT_M = 1.75
REACH_M = 0.46
"""Radius of the upright cylinder that holds the figure, metres."""

# from x, y, z and radius to x, y, z and radius, metres; arms and legs are mirrored east-west
_PARTS = np.array(
    [
        (0.0, 0.0, 1.655, 0.080, 0.0, 0.01, 1.585, 0.066),  # head
        (0.0, 0.0, 1.42, 0.050, 0.0, 0.0, 1.56, 0.046),  # neck
        (0.0, 0.01, 1.30, 0.125, 0.0, 0.0, 1.08, 0.105),  # chest
        (0.0, 0.0, 1.04, 0.100, 0.0, 0.01, 0.93, 0.115),  # hips
        (0.07, 0.01, 1.375, 0.075, 0.165, 0.01, 1.36, 0.062),  # shoulder
        (0.19, 0.01, 1.355, 0.055, 0.25, 0.03, 1.09, 0.042),  # upper arm
        (0.25, 0.03, 1.09, 0.041, 0.275, -0.03, 0.84, 0.030),  # forearm
        (0.278, -0.035, 0.82, 0.034, 0.280, -0.06, 0.73, 0.026),  # hand
        (0.085, 0.0, 0.90, 0.090, 0.105, -0.01, 0.50, 0.060),  # thigh
        (0.105, -0.01, 0.49, 0.058, 0.115, 0.035, 0.09, 0.038),  # shin
        (0.115, 0.03, 0.045, 0.042, 0.135, -0.13, 0.030, 0.030),  # foot
    ]
)
_JOIN = 0.035


@kernel
def _round_cone(x: float, y: float, z: float, k: int) -> float:
    """Distance to a sphere swept along a segment while its radius changes."""
    ax, ay, az, ra = _PARTS[k, 0], _PARTS[k, 1], _PARTS[k, 2], _PARTS[k, 3]
    bx, by, bz = _PARTS[k, 4] - ax, _PARTS[k, 5] - ay, _PARTS[k, 6] - az
    px, py, pz = x - ax, y - ay, z - az
    along = (px * bx + py * by + pz * bz) / (bx * bx + by * by + bz * bz)
    along = min(max(along, 0.0), 1.0)
    dx, dy, dz = px - along * bx, py - along * by, pz - along * bz
    result: float = math.sqrt(dx * dx + dy * dy + dz * dz) - (ra + (_PARTS[k, 7] - ra) * along)
    return result


@kernel
def distance(x: float, y: float, z: float) -> float:
    """Return the distance to the figure's surface, metres, negative inside."""
    x = abs(x)
    total = _round_cone(x, y, z, 0)
    for k in range(1, _PARTS.shape[0]):
        other = _round_cone(x, y, z, k)
        mix = max(_JOIN - abs(total - other), 0.0) / _JOIN
        total = min(total, other) - mix * mix * _JOIN * 0.25
    return total


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
        a, b = -z / dz, (HEIGHT_M - z) / dz
        near, far = max(near, min(a, b)), min(far, max(a, b))
    t = near
    for _ in range(64):
        if t > far:
            return math.inf
        gap = distance(x + t * dx, y + t * dy, z + t * dz)
        if gap < 0.0006:
            return t
        t += gap * 0.92
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
