"""What things look like where they are seen: how they face, their colour, what lies at their foot."""

from __future__ import annotations

import math

import numpy as np
from numpy.typing import NDArray

from elvatch.core.kernel import inner, kernel, part
from elvatch.core.parallel import Token, over_bands
from elvatch.core.picture.fragments import Clad, Fragments
from elvatch.core.picture.kinds import THING
from elvatch.core.thing.grain import noise_3d
from elvatch.core.thing.traced import (
    COLOUR,
    LEAF,
    NORMAL,
    OPEN,
    ROUGH,
    UV,
    TracedThings,
    inside,
    into_shape,
    texel_at,
)

_SEED = 5
_LEAST_TOWARDS = 0.02
"""Cosine between what a thing faces to and the eye: no less is seen."""


@inner
def _fine(x: float, y: float, z: float) -> float:
    return noise_3d(x, y, z, _SEED) + 0.5 * noise_3d(2.03 * x, 2.03 * y, 2.03 * z, _SEED + 1)


@inner
def _seen_from(
    things: TracedThings, i: int, t: int, nx: float, ny: float, nz: float, dx: float, dy: float, dz: float
) -> float:
    """Return 1 where a ray meets a triangle from the side that its corners face to, -1 from the other, as the back of
    a leaf: the triangle itself tells."""
    e = things.shapes.edges
    gx = e[t, 4] * e[t, 8] - e[t, 5] * e[t, 7]
    gy = e[t, 5] * e[t, 6] - e[t, 3] * e[t, 8]
    gz = e[t, 3] * e[t, 7] - e[t, 4] * e[t, 6]
    lx, ly, lz = into_shape(things.stood, i, dx, dy, dz)
    outwards = gx * nx + gy * ny + gz * nz
    along = gx * lx + gy * ly + gz * lz
    return -1.0 if along * outwards > 0.0 else 1.0


@part
def facing(
    things: TracedThings, i: int, t: int, x: float, y: float, z: float, dx: float, dy: float, dz: float, across: float
) -> tuple[float, float, float]:
    """Return how a thing faces where a ray meets it, towards where the ray came from; with its grain where that is
    larger than ``across`` metres."""
    u, v = inside(things, i, t, x, y, z)
    s = things.shapes
    a, b, c = s.corners[t, 0], s.corners[t, 1], s.corners[t, 2]
    w, n = s.vertices, NORMAL
    nx = w[a, n] * (1.0 - u - v) + w[b, n] * u + w[c, n] * v
    ny = w[a, n + 1] * (1.0 - u - v) + w[b, n + 1] * u + w[c, n + 1] * v
    nz = w[a, n + 2] * (1.0 - u - v) + w[b, n + 2] * u + w[c, n + 2] * v
    stood = things.stood
    side = _seen_from(things, i, t, nx, ny, nz, dx, dy, dz)
    shape = stood.shape[i]
    strength, size = s.grain[shape, 0], s.grain[shape, 1]
    seen = size * stood.size[i] / max(across, 1e-6)
    if strength > 0.0 and seen > 2.0:
        px, py, pz = into_shape(stood, i, x - stood.at[i, 0], y - stood.at[i, 1], z - stood.at[i, 2])
        less = 1.0 / (stood.size[i] * size)
        px, py, pz, step = px * less, py * less, pz * less, 0.15
        here = _fine(px, py, pz)
        bump = strength * min((seen - 2.0) / 4.0, 1.0) / step * 0.35
        nx -= bump * (_fine(px + step, py, pz) - here)
        ny -= bump * (_fine(px, py + step, pz) - here)
        nz -= bump * (_fine(px, py, pz + step) - here)
    r = stood.turn
    wx = r[i, 0] * nx + r[i, 1] * ny + r[i, 2] * nz
    wy = r[i, 3] * nx + r[i, 4] * ny + r[i, 5] * nz
    wz = r[i, 6] * nx + r[i, 7] * ny + r[i, 8] * nz
    length = side * (math.sqrt(wx * wx + wy * wy + wz * wz) + 1e-12)
    wx, wy, wz = wx / length, wy / length, wz / length
    # at its outline what is rounded and grained may lean away from the eye: it is seen from the side there
    over = wx * dx + wy * dy + wz * dz + _LEAST_TOWARDS
    if over > 0.0 and dx * dx + dy * dy + dz * dz > 0.0:
        wx, wy, wz = wx - over * dx, wy - over * dy, wz - over * dz
        length = math.sqrt(wx * wx + wy * wy + wz * wz) + 1e-12
        wx, wy, wz = wx / length, wy / length, wz / length
    return wx, wy, wz


@inner
def _linear(code: int) -> float:
    value = code / 255.0
    return value / 12.92 if value <= 0.04045 else ((value + 0.055) / 1.055) ** 2.4


@kernel
def _clad_band(things: TracedThings, f: Fragments, rows: NDArray[np.int64], out: Clad, a: int, b: int) -> None:
    s, stood = things.shapes, things.stood
    for k in range(a, b):
        j = rows[k]
        i, t = f.hit[j] >> 32, f.hit[j] & 0xFFFFFFFF
        x, y, z = f.places.x_m[j], f.places.y_m[j], float(f.height_m[j])
        u, v = inside(things, i, t, x, y, z)
        first, second, third = s.corners[t, 0], s.corners[t, 1], s.corners[t, 2]
        w, o = s.vertices, 1.0 - u - v
        grain = 1.0
        shape = stood.shape[i]
        strength, size = s.grain[shape, 0], s.grain[shape, 1]
        seen = size * stood.size[i] / max(f.places.across_m[j], 1e-6)
        if strength > 0.0 and seen > 1.0:
            px, py, pz = into_shape(stood, i, x - stood.at[i, 0], y - stood.at[i, 1], z - stood.at[i, 2])
            less = 1.0 / (stood.size[i] * size)
            grain += 0.8 * strength * min((seen - 1.0) / 3.0, 1.0) * _fine(px * less, py * less, pz * less)
        for c in range(3):
            value = w[first, COLOUR + c] * o + w[second, COLOUR + c] * u + w[third, COLOUR + c] * v
            out.colour[k, c] = value * grain * stood.tint[i, c]
        image = s.image[t]
        if image >= 0:
            right = w[first, UV] * o + w[second, UV] * u + w[third, UV] * v
            down = w[first, UV + 1] * o + w[second, UV + 1] * u + w[third, UV + 1] * v
            at = texel_at(s, image, right, down)
            for c in range(3):
                out.colour[k, c] *= _linear(s.texels[at, c])
        out.rough[k] = w[first, ROUGH] * o + w[second, ROUGH] * u + w[third, ROUGH] * v
        out.open[k] = w[first, OPEN] * o + w[second, OPEN] * u + w[third, OPEN] * v
        out.leaf[k] = w[first, LEAF] * o + w[second, LEAF] * u + w[third, LEAF] * v
        out.of_ground[k], out.foot_m[k] = stood.ties[i, 0], min(stood.ties[i, 1], 0.5 * stood.ties[i, 2])


def clad(things: TracedThings, f: Fragments, token: Token | None = None) -> Clad:
    """Return what things look like at the fragments of a picture.

    Parameters
    ----------
    things : TracedThings
        All that stand.
    f : Fragments
        What is seen.
    token : Token, optional
        Asked between bands.
    """
    rows = np.flatnonzero(f.kind == THING)
    row = np.full(len(f.kind), -1, np.int64)
    row[rows] = np.arange(len(rows))
    m = len(rows)
    rough, open_sky, leaf, of_ground, foot_m = (np.empty(m, np.float32) for _ in range(5))
    metal = np.zeros(m, np.float32)
    nothing = np.empty((0, 3), np.float32)
    out = Clad(row, np.empty((m, 3), np.float32), rough, open_sky, leaf, of_ground, foot_m, metal, nothing)
    over_bands(m, lambda a, b: _clad_band(things, f, rows, out, a, b), token, least=2048)
    return out
