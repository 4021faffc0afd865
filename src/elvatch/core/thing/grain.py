"""Noise in space: the grain of stones and wood, finer than their triangles."""

from __future__ import annotations

import math

import numpy as np
from numpy.typing import NDArray

from elvatch.core.kernel import inner, kernel
from elvatch.core.noise import hash_cell
from elvatch.core.parallel import over_bands

Points = NDArray[np.float64]


@inner
def _slope(ix: int, iy: int, iz: int, seed: int, dx: float, dy: float, dz: float) -> float:
    """Return the share of one corner of a cell in gradient noise (Perlin 2002)."""
    h = hash_cell(ix + 7919 * iz, iy - 104_729 * iz, seed) & 15
    u = dx if h < 8 else dy
    v = dy if h < 4 else (dx if h == 12 or h == 14 else dz)
    return (u if h & 1 == 0 else -u) + (v if h & 2 == 0 else -v)


@inner
def noise_3d(x: float, y: float, z: float, seed: int) -> float:
    """Return noise in about [-1, 1] at a place in space, with features one unit across."""
    fx, fy, fz = math.floor(x), math.floor(y), math.floor(z)
    dx, dy, dz = x - fx, y - fy, z - fz
    u, v, w = (
        dx * dx * dx * (dx * (dx * 6.0 - 15.0) + 10.0),
        dy * dy * dy * (dy * (dy * 6.0 - 15.0) + 10.0),
        dz * dz * dz * (dz * (dz * 6.0 - 15.0) + 10.0),
    )
    ix, iy, iz = int(fx), int(fy), int(fz)
    total = 0.0
    for corner in range(8):
        cx, cy, cz = corner & 1, (corner >> 1) & 1, corner >> 2
        weight = (u if cx else 1.0 - u) * (v if cy else 1.0 - v) * (w if cz else 1.0 - w)
        total += weight * _slope(ix + cx, iy + cy, iz + cz, seed, dx - cx, dy - cy, dz - cz)
    return total


@kernel
def _noise_band(at: Points, seed: int, octaves: int, gain: float, out: Points, a: int, b: int) -> None:
    for i in range(a, b):
        total, weight, norm, scale = 0.0, 1.0, 0.0, 1.0
        for octave in range(octaves):
            total += weight * noise_3d(at[i, 0] * scale, at[i, 1] * scale, at[i, 2] * scale, seed + 131 * octave)
            norm, weight, scale = norm + weight, weight * gain, scale * 2.0
        out[i] = total / norm


def noise_at(places: NDArray[np.floating], seed: int, size: float, octaves: int = 4, gain: float = 0.5) -> Points:
    """Return octaves of noise at places (n, 3) with features of a size, about -1..1."""
    at = np.ascontiguousarray(places, np.float64) / size
    out = np.empty(len(at))
    over_bands(len(at), lambda a, b: _noise_band(at, seed, octaves, gain, out, a, b), least=4096)
    return out
