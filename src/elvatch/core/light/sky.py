"""The sky as a table of directions, and what falls from it by the way a surface faces.

All stands in the sky's own axes: x runs level towards the sun (or towards the middle of an image), z up. A sun that
only goes round needs no other sky.
"""

from __future__ import annotations

import functools
import math
from typing import NamedTuple

import numpy as np
import scipy
from numpy.typing import NDArray

from elvatch.core.kernel import inner
from elvatch.core.light import harmonics, spectrum
from elvatch.core.light.atmosphere import atmosphere
from elvatch.core.light.directions import toward
from elvatch.core.light.spectrum import Colour

HEIGHTS, ASIDES = 40, 64
"""Rows from the horizon to the zenith, closer near the horizon; columns all the way round."""
FINER = 2
"""A table is looked up in so many times as many rows and columns, drawn smoothly through those worked out."""
_CLOUD_LETS_THROUGH = 0.3
"""Of what falls under a clear sky, under a closed cover of cloud."""
_SUN_FADES_DEG = 0.27
_PIECES = 2
"""Pieces of the sky that sums are made of, for each row of a table."""


class Sky(NamedTuple):
    """Light from above, linear Rec.709, in parts of the sun's light above the air.

    ``table`` (79, 128, 3) radiance by height and bearing; ``falling`` (18, 3) what falls from it, see
    :mod:`~elvatch.core.light.harmonics`; ``level`` what falls on level ground; ``sun`` the sun's irradiance square to
    it.
    """

    table: NDArray[np.float32]
    falling: NDArray[np.float32]
    level: Colour
    sun: Colour


def row_heights() -> NDArray[np.float64]:
    """Return the height over the horizon of each row of a table, radians: its sine goes with the row's square."""
    return np.arcsin(np.linspace(0.0, 1.0, HEIGHTS) ** 2)


@functools.cache
def _directions() -> tuple[NDArray[np.float64], NDArray[np.float64]]:
    """Return unit vectors to the middles of small pieces of the sky, and their solid angles."""
    fine = (np.arange(_PIECES * HEIGHTS) + 0.5) / (_PIECES * HEIGHTS)
    edges = np.linspace(0.0, 1.0, _PIECES * HEIGHTS + 1) ** 2
    height = np.arcsin(fine**2)
    weight = (edges[1:] - edges[:-1]) * (2 * math.pi / ASIDES)
    aside = np.arange(ASIDES, dtype=np.float64) * (2 * math.pi / ASIDES)
    return toward(height, aside).reshape(-1, 3), np.repeat(weight, ASIDES)


def of_table(table: NDArray[np.float64], sun: NDArray[np.float64]) -> Sky:
    """Return the sky of a table (40, 64, 3) of radiance, with what falls from it."""
    ways, weight = _directions()
    row = (np.arange(_PIECES * HEIGHTS) + 0.5) / (_PIECES * HEIGHTS) * (HEIGHTS - 1)
    low = np.minimum(row.astype(np.int64), HEIGHTS - 2)
    part = (row - low)[:, None, None]
    radiance = (table[low] * (1 - part) + table[low + 1] * part).reshape(-1, 3)
    level = (radiance * (weight * ways[:, 2])[:, None]).sum(axis=0)
    falls = harmonics.leaning(harmonics.falling(radiance, ways, weight), level)
    return Sky(_smooth(table), falls, _colour(level), _colour(sun))


def _smooth(table: NDArray[np.float64]) -> NDArray[np.float32]:
    """Return a finer table: straight lines between few columns show as bands in a clear sky."""
    rows = np.arange((HEIGHTS - 1) * FINER + 1) / FINER
    around = np.concatenate([table, table[:, :1]], axis=1)
    spline = scipy.interpolate.CubicSpline
    turned = spline(np.arange(ASIDES + 1), around, axis=1, bc_type="periodic")(np.arange(ASIDES * FINER) / FINER)
    return np.maximum(spline(np.arange(HEIGHTS), turned, axis=0)(rows), 0.0).astype(np.float32)


def _colour(values: NDArray[np.float64]) -> Colour:
    return float(values[0]), float(values[1]), float(values[2])


def _disc_above(height_deg: float) -> float:
    """Return how much of the sun's disc stands over the horizon, 0..1."""
    return min(max(0.5 + 0.5 * height_deg / _SUN_FADES_DEG, 0.0), 1.0)


@functools.lru_cache(maxsize=64)
def clear(sun_deg: float, visibility_km: float) -> Sky:
    """Return the clear sky for a sun at a height, degrees, through air of a visibility, km."""
    air = atmosphere(visibility_km)
    half = np.arange(ASIDES // 2 + 1, dtype=np.float64) * (2 * math.pi / ASIDES)
    seen = spectrum.rgb(air.sky(sun_deg, row_heights(), half))
    table = np.concatenate([seen, seen[:, -2:0:-1]], axis=1)
    return of_table(table, spectrum.rgb(air.sun(max(sun_deg, 0.0))) * _disc_above(sun_deg))


@functools.lru_cache(maxsize=64)
def with_cloud(sun_deg: float, visibility_km: float, overcast: float, sun: float, sky: float) -> Sky:
    """Return a sky of which a share is cloud, its sun and sky brighter or darker by factors.

    Cloud is the overcast sky of the CIE (Moon & Spencer 1942): three times as bright overhead as at the horizon.
    """
    plain = clear(sun_deg, visibility_km)
    if overcast == 0.0 and sun == 1.0 and sky == 1.0:
        return plain
    up = max(math.sin(math.radians(sun_deg)), 0.0)
    falls = np.array(plain.level) + np.array(plain.sun) * up
    grey = np.full(3, falls @ spectrum.LUMINANCE) * _CLOUD_LETS_THROUGH
    # a horizontal plane under (1 + 2 sin h) / 3 receives 7 pi / 9 of the zenith
    zenith = grey * (9.0 / (7.0 * math.pi))
    cloud = (1 + 2 * np.sin(row_heights())[:, None, None]) / 3 * zenith
    table = (plain.table[::FINER, ::FINER] * (1.0 - overcast) + cloud * overcast) * sky
    return of_table(table, np.array(plain.sun) * (1.0 - overcast) * sun)


@inner
def _turn(x: float, y: float) -> float:
    """Return the angle of a direction in turns, right within some millionths (Hastings 1955)."""
    ax, ay = abs(x), abs(y)
    ratio = min(ax, ay) / max(ax, ay, 1e-30)
    square = ratio * ratio
    high = 0.0286703 + square * (-0.0135494 + square * 0.0033160)
    turn = ratio * (0.1591336 + square * (-0.0525688 + square * high))
    if ay > ax:
        turn = 0.25 - turn
    if x < 0.0:
        turn = 0.5 - turn
    return turn if y >= 0.0 else -turn


@inner
def radiance(table: NDArray[np.float32], x: float, y: float, z: float) -> tuple[float, float, float]:
    """Return the radiance from a direction (unit, the sky's axes); below the horizon that of the horizon."""
    row = math.sqrt(min(max(z, 0.0), 1.0)) * ((HEIGHTS - 1.0) * FINER)
    turn = _turn(x, y)
    col = (turn - math.floor(turn)) * (ASIDES * FINER)
    r, c = min(int(row), (HEIGHTS - 1) * FINER - 1), int(col) % (ASIDES * FINER)
    v, u, d = row - r, col - math.floor(col), (c + 1) % (ASIDES * FINER)
    w00, w01, w10, w11 = (1 - v) * (1 - u), (1 - v) * u, v * (1 - u), v * u
    t = table
    return (
        w00 * t[r, c, 0] + w01 * t[r, d, 0] + w10 * t[r + 1, c, 0] + w11 * t[r + 1, d, 0],
        w00 * t[r, c, 1] + w01 * t[r, d, 1] + w10 * t[r + 1, c, 1] + w11 * t[r + 1, d, 1],
        w00 * t[r, c, 2] + w01 * t[r, d, 2] + w10 * t[r + 1, c, 2] + w11 * t[r + 1, d, 2],
    )
