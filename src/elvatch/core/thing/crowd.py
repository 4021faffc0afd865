"""What many things are from afar, too small to be told apart: how much of the ground they hide from the eye and from
the sun, and what they send to the eye themselves; measured on the things' own shapes.

A thing stands on a plane. For each height of the eye and of the sun over it, and angle between them, places of the
plane are asked whether the thing hides them from the eye and from the sun; where it does from the eye, what is seen
of it instead is lit. All is told as areas of the plane, square metres for a longest side of 1 m, of a thing turned
any way.
"""

from __future__ import annotations

import math
from collections.abc import Sequence

import numpy as np
from numpy.typing import NDArray

from elvatch.core.kernel import inner, kernel
from elvatch.core.parallel import over_bands
from elvatch.core.thing import traced
from elvatch.core.thing.solid import Solid
from elvatch.core.thing.traced import COLOUR, LEAF, NORMAL, OPEN, Stood, TracedThings, inside, meet_things

Tables = NDArray[np.float32]
ELEVATIONS = np.radians([5.0, 14.0, 28.0, 50.0, 88.0])
ASIDES = np.radians([0.0, 45.0, 100.0, 180.0])
HIDES, BOTH, SUN, SKY, GROUND = 0, 1, 2, 5, 8
NUMBERS = 11
_SPOTS = 1536
_STEP_A, _STEP_B, _STEP_C = 0.8191725133961645, 0.6710436067037893, 0.5497004779019703
_SEEN_LAST = -1
"""Of a thing's levels that from which a picture goes over to a share."""


@inner
def _way(elevation: float, aside: float) -> tuple[float, float, float]:
    return math.cos(elevation) * math.cos(aside), math.cos(elevation) * math.sin(aside), math.sin(elevation)


@inner
def _part(k: int, step: float) -> float:
    """Return one of a row of numbers spread evenly from 0 to 1 (Roberts 2018)."""
    at = 0.5 + (k + 1) * step
    return at - math.floor(at)


@inner
def _seen(
    things: TracedThings,
    hit: int,
    x: float,
    y: float,
    z: float,
    vx: float,
    vy: float,
    vz: float,
    sx: float,
    sy: float,
    sz: float,
    part: float,
    out: Tables,
) -> None:
    """Add what is seen of a thing at a place of it: how it is lit by the sun, and by an even sky."""
    i, t = hit >> 32, hit & 0xFFFFFFFF
    u, v = inside(things, i, t, x, y, z)
    s, w = things.shapes, things.shapes.vertices
    a, b, c = s.corners[t, 0], s.corners[t, 1], s.corners[t, 2]
    o = 1.0 - u - v
    nx = w[a, NORMAL] * o + w[b, NORMAL] * u + w[c, NORMAL] * v
    ny = w[a, NORMAL + 1] * o + w[b, NORMAL + 1] * u + w[c, NORMAL + 1] * v
    nz = w[a, NORMAL + 2] * o + w[b, NORMAL + 2] * u + w[c, NORMAL + 2] * v
    r = things.stood.turn
    wx = r[i, 0] * nx + r[i, 1] * ny + r[i, 2] * nz
    wy = r[i, 3] * nx + r[i, 4] * ny + r[i, 5] * nz
    wz = r[i, 6] * nx + r[i, 7] * ny + r[i, 8] * nz
    side = 1.0 if wx * vx + wy * vy + wz * vz >= 0.0 else -1.0
    wx, wy, wz = side * wx, side * wy, side * wz
    n_l = wx * sx + wy * sy + wz * sz
    leaf = w[a, LEAF] * o + w[b, LEAF] * u + w[c, LEAF] * v
    open_sky = w[a, OPEN] * o + w[b, OPEN] * u + w[c, OPEN] * v
    off = 0.002
    _t, shaded = meet_things(
        things,
        x + off * (sx + 0.5 * wx),
        y + off * (sy + 0.5 * wy),
        z + off * (sz + 0.5 * wz),
        sx,
        sy,
        sz,
        0.0,
        1e3,
        True,
    )
    lit = 1.0 if shaded < 0 else 0.0
    # as pictures light leaves: less is thrown back by what lets light through, and less blue comes through
    front, back = lit * max(n_l, 0.0) * (1.0 - 0.4 * leaf), lit * leaf * max(-n_l, 0.0)
    over, under = open_sky * (0.5 + 0.5 * wz) * (1.0 - 0.4 * leaf), open_sky * 0.5 * leaf * (0.5 - 0.5 * wz)
    for k in range(3):
        colour = w[a, COLOUR + k] * o + w[b, COLOUR + k] * u + w[c, COLOUR + k] * v
        through = 1.0 if k < 2 else 0.6
        out[SUN + k] += part * colour * (front + through * back)
        out[SKY + k] += part * colour * (over + through * under)
        out[GROUND + k] += part * colour * (0.5 - 0.5 * wz)


@kernel
def _entry(
    things: TracedThings,
    high: float,
    elevations: NDArray[np.float64],
    asides: NDArray[np.float64],
    out: Tables,
    a: int,
    b: int,
) -> None:
    """Fill in entries of the table, one for each pair of heights and angle between."""
    many = elevations.shape[0]
    for entry in range(a, b):
        v, s, k = entry // (many * asides.shape[0]), entry // asides.shape[0] % many, entry % asides.shape[0]
        steep = 1.0 / math.tan(elevations[v])
        # what the view of a body a metre across and so high can hide: a strip behind it
        long = 1.0 + high * steep
        part = (1.5 * (long + 0.5)) / _SPOTS
        for spot in range(_SPOTS):
            turn = 2.0 * math.pi * _part(spot, _STEP_A)
            vx, vy, vz = _way(elevations[v], turn)
            sx, sy, sz = _way(elevations[s], turn + asides[k])
            behind = 0.75 - (long + 0.5) * _part(spot, _STEP_B)
            beside = 1.5 * _part(spot, _STEP_C) - 0.75
            cx, cy = math.cos(turn), math.sin(turn)
            x, y = behind * cx - beside * cy, behind * cy + beside * cx
            t, hit = meet_things(things, x + 40.0 * vx, y + 40.0 * vy, 40.0 * vz, -vx, -vy, -vz, 0.0, 39.9999, False)
            if hit < 0:
                continue
            _t, shaded = meet_things(things, x, y, 1e-5, sx, sy, sz, 0.0, 1e3, True)
            out[entry, HIDES] += part
            if shaded >= 0:
                out[entry, BOTH] += part
            left = 40.0 - t
            _seen(things, hit, x + left * vx, y + left * vy, left * vz, vx, vy, vz, sx, sy, sz, part, out[entry])


def table(variants: Sequence[Sequence[Solid]]) -> Tables:
    """Return what a thing of a longest side of 1 m hides and sends, by elevation of the eye, of the sun and the angle
    between, shape (5, 5, 4, 11), m²: hidden from the eye, from both; colours lit by a sun, a sky, a ground of 1."""
    total = np.zeros((len(ELEVATIONS) ** 2 * len(ASIDES), NUMBERS), np.float32)
    for variant in variants:
        shape = variant[_SEEN_LAST]
        stood = Stood(
            np.zeros((1, 3)),
            np.eye(3, dtype=np.float32).reshape(1, 9),
            np.ones(1, np.float32),
            np.zeros(1, np.int32),
            np.ones((1, 3), np.float32),
            np.zeros((1, 3), np.float32),
        )
        things, found = traced.things(stood, traced.shapes([shape])), np.zeros_like(total)
        high = float(shape.places[:, 2].max())

        def work(a: int, b: int, things: TracedThings = things, high: float = high, into: Tables = found) -> None:
            _entry(things, high, ELEVATIONS, ASIDES, into, a, b)

        over_bands(len(found), work, least=2)
        total += found / len(variants)
    return _steadied(total.reshape(len(ELEVATIONS), len(ELEVATIONS), len(ASIDES), NUMBERS))


def _steadied(found: Tables) -> Tables:
    """Return a table in which what the eye sees of a thing does not depend on the sun: chance is averaged away."""
    steady = found.copy()
    hides = found[..., HIDES].mean(axis=(1, 2), keepdims=True)
    scale = hides / np.maximum(found[..., HIDES], 1e-9)
    steady *= scale[..., None]
    steady[..., SKY:] = steady[..., SKY:].mean(axis=(1, 2), keepdims=True)
    # areas square to the view: they change little with its height, and can be read between
    return np.ascontiguousarray(steady * np.sin(ELEVATIONS)[:, None, None, None], np.float32)
