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
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from elvatch.core.gloss import AROUND, OWN, SUN_AROUND, facing, mirrored_share, sun_shape
from elvatch.core.kernel import inner, kernel, plainly
from elvatch.core.parallel import over_bands
from elvatch.core.thing import traced
from elvatch.core.thing.solid import Solid
from elvatch.core.thing.traced import (
    COLOUR,
    DARKENS,
    LEAF,
    NORMAL,
    OPEN,
    ROUGH,
    Stood,
    TracedThings,
    hidden_by_ball,
    inside,
    meet_things,
)

Tables = NDArray[np.float32]
ELEVATIONS = np.radians([5.0, 14.0, 28.0, 50.0, 88.0])
ASIDES = np.radians([0.0, 45.0, 100.0, 180.0])
HIDES, BOTH, SUN, AROUND_SUN = 0, 1, 2, 5
NUMBERS = 8
UP, AROUND_SKY, DARKENS_M2, HALF_UP, SIDES = 0, 3, 6, 7, 16
TOWARD, BESIDE, BEYOND = 0, 3, 6
SKY_NUMBERS = 25
_HALF_UP = math.radians(45.0)
_LESS_BELOW = 0.53
"""How much less of the sky falls on what faces down by 45 degrees than on what stands upright."""


class CrowdTables(NamedTuple):
    """What a thing of a longest side of 1 m hides and sends, turned any way, m².

    ``sun`` (5, 5, 4, 8) by the height of the eye, of the sun and the angle between: what it hides from the eye, what
    from both; what its places that the eye sees send of a sun of 1, and of light that ground in that sun throws back.
    ``sky`` (5, 25) by the height of the eye: what they send of light on what faces up, of light that ground under a
    sky of 1 throws back, by how much of the sky, over all the ground about, it darkens that; what they send of light
    on what leans back by 45 degrees and faces to the eye, aside and away, and on what stands upright and faces so.
    All but what it darkens are areas square to the view.
    """

    sun: Tables
    sky: Tables


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
    sun: Tables,
    sky: Tables,
) -> None:
    """Add what is seen of a thing at a place of it: what it sends of a sun, and of a sky by where that is."""
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
    side = math.copysign(math.sqrt(wx * wx + wy * wy + wz * wz) + 1e-12, wx * vx + wy * vy + wz * vz)
    wx, wy, wz = wx / side, wy / side, wz / side
    n_l, n_v = wx * sx + wy * sy + wz * sz, max(wx * vx + wy * vy + wz * vz, 0.02)
    leaf = w[a, LEAF] * o + w[b, LEAF] * u + w[c, LEAF] * v
    rough = w[a, ROUGH] * o + w[b, ROUGH] * u + w[c, ROUGH] * v
    open_sky = w[a, OPEN] * o + w[b, OPEN] * u + w[c, OPEN] * v
    # off the surface as pictures begin their rays: what is thin is lit from behind too
    off = 0.005
    out = 0.5 if n_l > 0.0 else 0.0
    _t, shaded = meet_things(
        things,
        x + off * (sx + out * wx),
        y + off * (sy + out * wy),
        z + off * (sz + out * wz),
        sx,
        sy,
        sz,
        0.0,
        1e3,
        True,
    )
    lit = 1.0 if shaded < 0 else 0.0
    # all as pictures light things, see lit and shade there
    scale, more = mirrored_share(rough, n_v)
    mirrors = max(0.04 * scale + more, 0.0)
    hx, hy, hz = vx + sx, vy + sy, vz + sz
    length = math.sqrt(hx * hx + hy * hy + hz * hz) + 1e-9
    n_h, v_h = max((wx * hx + wy * hy + wz * hz) / length, 0.0), max((vx * hx + vy * hy + vz * hz) / length, 0.0)
    gloss = math.pi * sun_shape(rough, max(n_l, 1e-6), n_v, n_h) * (0.04 + 0.96 * facing(v_h))
    rz = 2.0 * n_v * wz - vz
    rz += (wz - rz) * rough * rough
    upwards = min(max(0.5 + 2.0 * rz / (0.15 + rough), 0.0), 1.0)
    closed, kept = 1.0 - (0.5 + 0.5 * wz) * open_sky, 1.0 - 0.4 * leaf
    told = min(max(4.0 * n_l + 0.5, 0.0), 1.0)
    around = (1.0 + (lit - 1.0) * told) * SUN_AROUND
    flat = math.sqrt(max(1.0 - vz * vz, 1e-9))
    toward, beside = (wx * vx + wy * vy) / flat, (wx * vy - wy * vx) / flat
    # between what stands upright, leans back by 45 degrees and faces up; what faces down is held upright, and less
    lean = math.asin(min(max(wz, -1.0), 1.0)) / _HALF_UP
    up, below = max(lean - 1.0, 0.0), max(1.0 + min(lean, 0.0) * _LESS_BELOW, 0.0)
    half = min(max(lean, 0.0), 1.0) - up
    level = (1.0 - up - half) * below / max(toward * toward + beside * beside, 1e-9)
    half /= max(toward * toward + beside * beside, 1e-9)
    face_on, side_on = toward * toward, beside * beside
    faces, turned = (TOWARD, BEYOND) if toward > 0.0 else (BEYOND, TOWARD)
    for k in range(3):
        colour = w[a, COLOUR + k] * o + w[b, COLOUR + k] * u + w[c, COLOUR + k] * v
        own = colour * (1.0 - mirrors)
        through = leaf * colour * (1.0 if k < 2 else 0.6)
        sun[SUN + k] += part * lit * (max(n_l, 0.0) * (own + gloss) * kept + max(-n_l, 0.0) * through)
        thrown = (AROUND + (colour - AROUND) * OWN) * (own * closed + mirrors * (1.0 - upwards * open_sky)) * kept
        sun[AROUND_SUN + k] += part * thrown * around
        sky[AROUND_SKY + k] += part * thrown * open_sky
        front, back = part * open_sky * (own + mirrors * upwards) * kept, 0.5 * part * open_sky * through
        sky[UP + k] += front * up
        # what comes through a leaf falls on its other side, which is taken to stand upright
        back *= (1.0 - abs(wz)) / max(face_on + side_on, 1e-9)
        sky[HALF_UP + faces + k] += front * half * face_on
        sky[HALF_UP + BESIDE + k] += front * half * side_on
        sky[SIDES + faces + k] += front * level * face_on
        sky[SIDES + BESIDE + k] += front * level * side_on + back * side_on
        sky[SIDES + turned + k] += back * face_on


@kernel
def _entry(
    things: TracedThings,
    high: float,
    elevations: NDArray[np.float64],
    asides: NDArray[np.float64],
    sun: Tables,
    sky: Tables,
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
        # other places for each entry: what an eye sees is told by all of a height of its own together
        for spot in range(entry * _SPOTS, (entry + 1) * _SPOTS):
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
            sun[entry, HIDES] += part
            if shaded >= 0:
                sun[entry, BOTH] += part
            left = 40.0 - t
            px, py, pz = x + left * vx, y + left * vy, left * vz
            _seen(things, hit, px, py, pz, vx, vy, vz, sx, sy, sz, part, sun[entry], sky[entry])


_Pair = tuple[Tables, Tables]


def table(variants: Sequence[Sequence[Solid]]) -> CrowdTables:
    """Return what a thing of a longest side of 1 m hides and sends, over its variants."""
    many = len(ELEVATIONS) ** 2 * len(ASIDES)
    sun, sky = np.zeros((many, NUMBERS), np.float32), np.zeros((many, SKY_NUMBERS), np.float32)
    darkens = 0.0
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
        shapes = traced.shapes([shape])
        things, into = traced.things(stood, shapes), (np.zeros_like(sun), np.zeros_like(sky))
        high = float(shape.places[:, 2].max())

        def work(a: int, b: int, things: TracedThings = things, high: float = high, into: _Pair = into) -> None:
            _entry(things, high, ELEVATIONS, ASIDES, *into, a, b)

        over_bands(many, work, least=2)
        sun += into[0] / len(variants)
        sky += into[1] / len(variants)
        middle, radius, filled = shapes.bulk[0].tolist()
        darkens += _darkens_m2(middle, radius, filled, float(into[0][-1, HIDES])) / len(variants)
    by = len(ELEVATIONS), len(ELEVATIONS), len(ASIDES)
    return _steadied(sun.reshape(*by, NUMBERS), sky.reshape(*by, SKY_NUMBERS), darkens)


def _darkens_m2(middle: float, radius: float, filled: float, covers_m2: float) -> float:
    """Return how much of the sky a thing takes from level ground about it, over all that ground."""
    foot = max(math.sqrt(covers_m2 / math.pi), 1e-3)
    away = np.linspace(foot, max((1.0 + DARKENS) * radius, foot), 200)
    hidden = plainly(hidden_by_ball)
    takes = np.array([hidden(radius, filled, d, middle / max(d, 1e-9)) for d in np.hypot(away, middle)])
    return float(np.trapezoid(takes * 2 * np.pi * away, away))


def _steadied(sun: Tables, sky: Tables, darkens: float) -> CrowdTables:
    """Return tables in which what the eye sees of a thing does not depend on the sun: chance is averaged away."""
    hides = sun[..., HIDES].mean(axis=(1, 2), keepdims=True)
    steady = sun * (hides / np.maximum(sun[..., HIDES], 1e-9))[..., None]
    # areas square to the view: they change little with its height, and can be read between
    square = np.sin(ELEVATIONS)
    skies = sky.mean(axis=(1, 2)) * square[:, None]
    skies[:, DARKENS_M2] = darkens
    return CrowdTables(
        np.ascontiguousarray(steady * square[:, None, None, None], np.float32), skies.astype(np.float32)
    )
