"""Water at a level: what its surface mirrors, what it lets through, and the wet ground at its edge."""

from __future__ import annotations

import functools
import math
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from elvatch.core.document.water import Water
from elvatch.core.kernel import inner
from elvatch.core.light.spectrum import Colour, encoded

INDEX = 1.333
"""Refractive index of fresh water."""
_DRY = -1e12
# direction off the wind's (radians), wavelength in ripple heights, phase
_WAVES = np.array(
    [
        (0.0, 90.0, 0.0),
        (0.5, 61.0, 2.1),
        (-0.6, 43.0, 4.4),
        (1.1, 27.0, 1.3),
        (-1.0, 19.0, 5.2),
        (0.25, 13.0, 3.3),
        (-0.3, 8.5, 0.7),
        (0.8, 5.7, 2.9),
    ]
)
_STEEP = 0.045
"""Slope of each wave."""
_SCATTERS = 0.05
"""Part of the light that deep water sends back, of its own colour."""


class Pool(NamedTuple):
    """Water as compiled code takes it: ``takes`` of each channel a metre of way (Beer-Lambert); ``deep`` what deep
    water sends back of what falls on it; wet ground up to ``wet_m`` above ``level_m``."""

    level_m: float
    takes: Colour
    deep: Colour
    ripple_m: float
    east: float
    north: float
    wet_m: float


@functools.lru_cache(maxsize=32)
def pool(water: Water) -> Pool:
    """Return the water that a recipe means; far below all ground where it has none."""
    colour = np.clip(np.array(encoded(water.colour)), 1e-3, 0.999)
    takes = -np.log(colour) / water.clarity_m
    deep = colour / colour.max() * _SCATTERS
    bearing = math.radians(water.ripple_bearing_deg)
    return Pool(
        water.level_m if water.on else _DRY,
        (takes[0], takes[1], takes[2]),
        (deep[0], deep[1], deep[2]),
        water.ripple_m,
        math.sin(bearing),
        math.cos(bearing),
        water.wet_m,
    )


@inner
def fresnel(cosine: float) -> float:
    """Return how much of unpolarised light water mirrors that meets it at an angle (Fresnel)."""
    c = min(max(cosine, 0.0), 1.0)
    t = math.sqrt(1.0 - (1.0 - c * c) / (INDEX * INDEX))
    across = (c - INDEX * t) / (c + INDEX * t)
    along = (INDEX * c - t) / (INDEX * c + t)
    return 0.5 * (across * across + along * along)


@inner
def bent(dx: float, dy: float, dz: float) -> tuple[float, float, float]:
    """Return the direction of a unit ray that goes down into level water (Snell)."""
    x, y = dx / INDEX, dy / INDEX
    return x, y, -math.sqrt(1.0 - x * x - y * y)


@inner
def ripples(water: Pool, x: float, y: float, across_m: float) -> tuple[float, float, float]:
    """Return the rise east and north of the surface at a place, and the mean square slope of ripples too small to be
    seen over ``across_m``."""
    if water.ripple_m <= 0.0:
        return 0.0, 0.0, 0.0
    east = north = lost = 0.0
    for k in range(_WAVES.shape[0]):
        turn, length, phase = _WAVES[k, 0], _WAVES[k, 1] * water.ripple_m, _WAVES[k, 2]
        cos, sin = math.cos(turn), math.sin(turn)
        ex, ey = water.east * cos - water.north * sin, water.north * cos + water.east * sin
        wave = 2.0 * math.pi / length
        seen = math.exp(-0.25 * (wave * across_m) ** 2)
        # crests are not quite straight
        bend = 0.6 * math.sin(0.31 * wave * (ey * x - ex * y) + 1.7 * phase)
        steep = _STEEP * math.cos(wave * (ex * x + ey * y) + phase + bend)
        east += ex * steep * seen
        north += ey * steep * seen
        lost += 0.5 * _STEEP * _STEEP * (1.0 - seen * seen)
    return east, north, lost


@inner
def wetness(water: Pool, height_m: float) -> float:
    """Return how wet ground at an elevation is, 0..1: whole at the water, dry at the upper end of the band."""
    above = height_m - water.level_m
    if above <= 0.0:
        return 1.0
    if above >= water.wet_m:
        return 0.0
    dry = above / water.wet_m
    return 1.0 - dry * dry * (3.0 - 2.0 * dry)


@inner
def wetted(wet: float, metallic: float, roughness: float, base: NDArray[np.float32]) -> float:
    """Darken ``base`` and return the roughness of ground that is wet (Lagarde 2013): rough ground is porous."""
    porous = min(max((roughness - 0.5) / 0.4, 0.0), 1.0)
    factor = 1.0 - wet * 0.7 * porous * (1.0 - metallic)
    for c in range(3):
        base[c] *= factor
    return float(roughness * (1.0 - wet * 0.55))
