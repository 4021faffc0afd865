"""Things too small to be shapes in a picture, as a share of what is seen: they hide the ground and shade it."""

from __future__ import annotations

import math
from collections.abc import Callable
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from elvatch.core.document.strew import Strew
from elvatch.core.ground.places import Places, some
from elvatch.core.kernel import inner, kernel, plainly
from elvatch.core.light.harmonics import irradiance
from elvatch.core.light.lighting import Lighting
from elvatch.core.light.spectrum import Colour
from elvatch.core.light.sun import Direction
from elvatch.core.parallel import Token, over_bands
from elvatch.core.picture.fragments import Fragments
from elvatch.core.picture.strewn import FADES_OVER, LEAST_PX, fade
from elvatch.core.strew.field import Field
from elvatch.core.strew.laid import sizes
from elvatch.core.thing.crowd import (
    AROUND_SKY,
    AROUND_SUN,
    ASIDES,
    BOTH,
    DARKENS_M2,
    ELEVATIONS,
    HALF_UP,
    HIDES,
    NUMBERS,
    SIDES,
    SKY_NUMBERS,
    SUN,
    UP,
)

Floats = NDArray[np.float32]
_STEPS = 96
_FINEST, _COARSEST = 1e-3, 1e5
"""Pixels a metre between which the sizes that are too small to be shapes are worked out."""
_STEP = (_COARSEST / _FINEST) ** (1 / (_STEPS - 1))
_SPREAD = 2048
_LEAST = 1e-4
_LOWEST = 0.05


class Crowded(NamedTuple):
    """What things too small to be shapes do to the places that are asked about, row by row; without rows where none.

    ``hides`` of the place from the eye; ``sun`` and ``open`` what they leave of the sun and of the sky on the ground
    between them; ``lit`` (n, 3) what they send of a sun of 1, ``skied`` (n, 3) of the light's own sky.
    """

    hides: Floats
    sun: Floats
    open: Floats
    lit: Floats
    skied: Floats


class SkyLight(NamedTuple):
    """What lights small things: the ``sun``, what falls on ``level`` ground from the sky; ``falls`` (bearings, 2, 3,
    3) for each of some bearings of the eye in the sky's own axes, which are turned by ``cos`` and ``sin``, what falls
    on what stands upright and on what leans back by 45 degrees, and faces to the eye, aside and away."""

    sun: Direction
    level: Colour
    falls: Floats
    cos: float
    sin: float


_BEARINGS = 16


def _skylight(light: Lighting) -> SkyLight:
    turns = np.arange(_BEARINGS) * 2 * np.pi / _BEARINGS
    rings = []
    for lean in (0.0, np.pi / 4):
        flat, up = math.cos(lean), math.sin(lean)
        ways = [(flat * math.cos(turn), flat * math.sin(turn), up) for turn in turns]
        ring = np.array([plainly(irradiance)(light.sky.falling, *way) for way in ways], np.float32)
        quarter = _BEARINGS // 4
        aside = 0.5 * (np.roll(ring, -quarter, 0) + np.roll(ring, quarter, 0))
        rings.append(np.stack([ring, aside, np.roll(ring, 2 * quarter, 0)], 1))
    return SkyLight(light.sun, light.sky.level, np.stack(rings, 1), light.cos, light.sin)


class Small(NamedTuple):
    """Things of a field as compiled code takes them: ``tables`` (e, 5, 5, 4, 8) and ``skies`` (e, 5, 25) of each kind
    of each strew, and ``moments`` (e, steps): mean square of the size of those that are too small, by pixels a metre,
    m²."""

    tables: Floats
    skies: Floats
    moments: Floats


def none() -> Crowded:
    """Return places without small things."""
    empty, flat = np.empty(0, np.float32), np.empty((0, 3), np.float32)
    return Crowded(empty, empty, empty, flat, flat)


def small(field: Field) -> Small:
    """Return a field's things as pictures show those that are too small to be shapes."""
    tables, skies, moments = [], [], []
    chance = (np.arange(_SPREAD) + 0.5) / _SPREAD
    per_m = np.exp(np.linspace(math.log(_FINEST), math.log(_COARSEST), _STEPS))
    for strew in field.strews:
        size = sizes(strew, chance)
        gone = 1 - fade(size[None, :] * per_m[:, None])
        moment = (gone * size**2).mean(axis=1)
        for one in strew.kinds:
            tables.append(field.models[one.thing].crowd.sun)
            skies.append(field.models[one.thing].crowd.sky)
            moments.append(moment)
    shape = (-1, len(ELEVATIONS), len(ELEVATIONS), len(ASIDES), NUMBERS)
    return Small(
        np.array(tables, np.float32).reshape(shape),
        np.array(skies, np.float32).reshape(-1, len(ELEVATIONS), SKY_NUMBERS),
        np.array(moments, np.float32).reshape(-1, _STEPS),
    )


@inner
def _between(knots: NDArray[np.float64], value: float) -> tuple[int, float]:
    """Return which of a few values one lies after, and how far it is to the next, 0..1."""
    k = 0
    while k < knots.shape[0] - 2 and value > knots[k + 1]:
        k += 1
    return k, min(max((value - knots[k]) / (knots[k + 1] - knots[k]), 0.0), 1.0)


@inner
def _angles(
    places: Places, i: int, vx: float, vy: float, vz: float, sun: Direction
) -> tuple[float, float, float, float]:
    """Return how high eye and sun stand over the ground as it lies, the angle between them along it, radians, and how
    much of it there is on a square metre of map."""
    east, north = places.rise_east[i], places.rise_north[i]
    steep = math.sqrt(1.0 + east * east + north * north)
    nx, ny, nz = -east / steep, -north / steep, 1.0 / steep
    up_v, up_s = vx * nx + vy * ny + vz * nz, sun[0] * nx + sun[1] * ny + sun[2] * nz
    ax, ay, az = vx - up_v * nx, vy - up_v * ny, vz - up_v * nz
    bx, by, bz = sun[0] - up_s * nx, sun[1] - up_s * ny, sun[2] - up_s * nz
    long = math.sqrt((ax * ax + ay * ay + az * az) * (bx * bx + by * by + bz * bz)) + 1e-12
    aside = math.acos(min(max((ax * bx + ay * by + az * bz) / long, -1.0), 1.0))
    high_v = math.asin(min(max(up_v, _LOWEST), 1.0))
    high_s = math.asin(min(max(up_s, _LOWEST), 1.0))
    return high_v, high_s, aside, steep


@inner
def _bearing(skylight: SkyLight, vx: float, vy: float) -> tuple[int, float]:
    """Return which of the bearings the eye's lies after, and how far it is to the next, 0..1."""
    x, y = skylight.cos * vx + skylight.sin * vy, skylight.cos * vy - skylight.sin * vx
    at = math.atan2(y, x) / (2.0 * math.pi) * _BEARINGS + _BEARINGS
    return int(at) % _BEARINGS, at - int(at)


@inner
def _falls(skylight: SkyLight, k: int, part: float, sky: Floats, c: int) -> float:
    """Return what falls of the sky on surfaces that lean so, of which so many face to the eye, aside and away."""
    here, next = skylight.falls[k], skylight.falls[(k + 1) % _BEARINGS]
    total = 0.0
    for way in range(3):
        upright, half = sky[SIDES + 3 * way + c], sky[HALF_UP + 3 * way + c]
        total += upright * (here[0, way, c] * (1.0 - part) + next[0, way, c] * part)
        total += half * (here[1, way, c] * (1.0 - part) + next[1, way, c] * part)
    return float(total)


@inner
def _spread(many: float) -> float:
    """Return how much things hide between them, as minus the logarithm of what they leave, that would hide so much
    one by one: a little more than by chance alone, since their places are spread evenly (measured on
    :func:`elvatch.core.strew.candidates.free`)."""
    return many * (1.0 + 0.1 * many / (1.0 + 0.6 * many))


@inner
def _above(hidden: float) -> float:
    """Return how much of things is left, on the mean over their height, by others that hide so much at their feet and
    less the higher they are looked at."""
    return (1.0 - math.exp(-hidden)) / hidden if hidden > 1e-6 else 1.0


@kernel
def _band(
    f: Fragments,
    places: Places,
    rows: NDArray[np.int64],
    density: Floats,
    of: Small,
    pixel: float,
    skylight: SkyLight,
    elevations: NDArray[np.float64],
    asides: NDArray[np.float64],
    sums: Floats,
    sky: Floats,
    out: Crowded,
    a: int,
    b: int,
) -> None:
    per_step = (_STEPS - 1.0) / math.log(_COARSEST / _FINEST)
    sun = skylight.sun
    for i in range(a, b):
        j = rows[i]
        vx, vy, vz = -f.toward[j, 0], -f.toward[j, 1], -f.toward[j, 2]
        any_there = 0.0
        for e in range(density.shape[1]):
            any_there += density[i, e]
        if any_there <= 0.0:
            continue
        high_v, high_s, aside, steep = _angles(places, i, vx, vy, vz, sun)
        v, pv = _between(elevations, high_v)
        s, ps = _between(elevations, high_s)
        k, pk = _between(asides, aside)
        per_m = 1.0 / max(f.depth_m[j] * pixel, 1e-9)
        at = min(max(math.log(per_m / _FINEST) * per_step, 0.0), _STEPS - 1.001)
        step = int(at)
        sums[:], sky[:] = 0.0, 0.0
        shades = 0.0
        for e in range(density.shape[1]):
            if density[i, e] <= 0.0:
                continue
            size2 = of.moments[e, step] + (of.moments[e, step + 1] - of.moments[e, step]) * (at - step)
            many = density[i, e] * size2 / steep
            if many <= 0.0:
                continue
            for corner in range(8):
                weight = (pv if corner & 1 else 1.0 - pv) * (ps if corner & 2 else 1.0 - ps)
                weight *= (pk if corner & 4 else 1.0 - pk) * many
                line = of.tables[e, v + (corner & 1), s + (corner >> 1 & 1), k + (corner >> 2)]
                for n in range(NUMBERS):
                    sums[n] += weight * line[n]
            for n in range(SKY_NUMBERS):
                sky[n] += many * (of.skies[e, v, n] * (1.0 - pv) + of.skies[e, v + 1, n] * pv)
            shaded = of.tables[e, s, 0, 0, HIDES] * (1.0 - ps) + of.tables[e, s + 1, 0, 0, HIDES] * ps
            shades += many * shaded / math.sin(high_s)
        square = 1.0 / math.sin(high_v)
        hidden = _spread(sums[HIDES] * square)
        either = _spread(sums[HIDES] * square + max(shades - sums[BOTH] * square, 0.0))
        out.hides[i] = 1.0 - math.exp(-hidden)
        out.sun[i] = math.exp(hidden - either)
        out.open[i] = math.exp(-sky[DARKENS_M2])
        seen_lit, seen = square * _above(0.7 * either), square * _above(0.7 * hidden + 0.5 * sky[DARKENS_M2])
        up = max(sun[2], 0.0)
        bearing, beyond = _bearing(skylight, vx, vy)
        for c in range(3):
            out.lit[i, c] = seen_lit * (sums[SUN + c] + up * sums[AROUND_SUN + c])
            falls = (sky[UP + c] + sky[AROUND_SKY + c]) * skylight.level[c]
            falls += _falls(skylight, bearing, beyond, sky, c)
            out.skied[i, c] = seen * falls


def crowded(
    of: Small,
    f: Fragments,
    places: Places,
    pixel: float,
    light: Lighting,
    density: Floats,
    token: Token | None = None,
) -> Crowded:
    """Return what things too small to be shapes do at the places of a picture.

    Parameters
    ----------
    of : Small
        What is told of the site's small things.
    f : Fragments
        What is seen.
    places : Places
        Of the fragments that the cover is asked about, in order.
    pixel : float
        How far a ray's end moves from one pixel to the next, at a metre.
    light : Lighting
        Sun and sky.
    density : ndarray, shape (n, e), float32
        Of each kind of each strew at the places, per m².
    token : Token, optional
        Asked between bands.
    """
    rows = np.flatnonzero(f.on_ground())
    n = len(rows)
    flat = [np.zeros((n, 3), np.float32) for _ in range(2)]
    skylight = _skylight(light)
    out = Crowded(np.zeros(n, np.float32), np.ones(n, np.float32), np.ones(n, np.float32), *flat)

    def work(a: int, b: int) -> None:
        sums, sky = np.zeros(NUMBERS, np.float32), np.zeros(SKY_NUMBERS, np.float32)
        _band(f, places, rows, density, of, pixel, skylight, ELEVATIONS, ASIDES, sums, sky, out, a, b)

    over_bands(n, work, token, least=2048)
    return out


def _shapes_from(strew: Strew) -> float:
    """Return from how many pixels a metre on all things of a strew are shapes: between steps a part is not."""
    return float(_STEP * LEAST_PX * (1 + FADES_OVER) / strew.size.from_m)


def density_at(
    field: Field,
    places: Places,
    token: Token | None = None,
    where: Callable[[Strew], NDArray[np.bool_]] | None = None,
) -> Floats:
    """Return how densely each kind of each strew lies at places, (n, e) per m²; 0 but ``where`` a strew is wanted."""
    out = np.zeros((len(places.x_m), sum(len(strew.kinds) for strew in field.strews)), np.float32)
    first = 0
    for k, strew in enumerate(field.strews):
        last = first + len(strew.kinds)
        rows = np.flatnonzero(where(strew)) if where is not None else np.arange(len(out))
        if len(rows):
            out[rows, first:last] = field.densities(k, some(places, rows), token)
        first = last
    return out


def density_of_small(field: Field, f: Fragments, places: Places, pixel: float, token: Token | None = None) -> Floats:
    """Return what :func:`density_at` does, but 0 where all things of a strew are shapes; see :func:`crowded`."""
    per_m = 1.0 / np.maximum(f.depth_m[f.on_ground()] * pixel, 1e-9)
    return density_at(field, places, token, lambda strew: per_m < _shapes_from(strew))


def told(field: Field, density: Floats, covers: bool, only: int | None) -> Floats:
    """Return how many things lie on 100 m², or how much of the ground they cover seen from above, 0..1.

    Parameters
    ----------
    field : Field
        The site's strews.
    density : ndarray, shape (n, e), float32
        Of each kind of each strew, per m².
    covers : bool
        What they cover is wanted.
    only : int, optional
        Index of the one strew that is meant.
    """
    columns, weights = [], []
    chance = (np.arange(_SPREAD) + 0.5) / _SPREAD
    for k, strew in enumerate(field.strews):
        square = float((sizes(strew, chance) ** 2).mean())
        for one in strew.kinds:
            columns.append(only is None or only == k)
            above = field.models[one.thing].crowd.sun[-1, :, :, HIDES].mean() if covers else 1.0
            weights.append(float(above) * (square if covers else 1.0))
    kept = np.array(columns)
    total = density[:, kept] @ np.array(weights, np.float32)[kept]
    return np.asarray(1 - np.exp(-total) if covers else 100 * total, np.float32)
