"""Panoramas drawn by code, to begin with: the sky of a sun and a layer of cloud under it."""

from __future__ import annotations

import math
from typing import Literal, NamedTuple, get_args

import numpy as np
from numpy.typing import NDArray
from scipy.ndimage import map_coordinates

from elvatch.core import noise
from elvatch.core.light import sky as skies
from elvatch.core.light.directions import in_table
from elvatch.core.light.panorama import directions
from elvatch.core.light.spectrum import LUMINANCE

DrawnSky = Literal["broken cloud", "thin veil", "low sun"]
NAMES: tuple[DrawnSky, ...] = get_args(DrawnSky)
_ROWS = 512
_TILE = 512
_SUN_DEG = 0.9
"""Across the sun as it is drawn: larger than the true one, as small images must have it, and no brighter in all."""


class _Kind(NamedTuple):
    sun_deg: float
    visibility_km: float
    cover: float
    soft: float
    scale: float
    octaves: int
    seed: int


_KINDS: dict[DrawnSky, _Kind] = {
    "broken cloud": _Kind(41.0, 60.0, 0.56, 0.45, 0.55, 6, 11),
    "thin veil": _Kind(33.0, 30.0, 0.62, 0.8, 0.25, 4, 5),
    "low sun": _Kind(7.0, 45.0, 0.4, 0.3, 0.7, 6, 23),
}


def draw(name: DrawnSky) -> NDArray[np.float32]:
    """Return a panorama (512, 1024, 3) of linear light, its sun in the middle, plain ground below the horizon."""
    kind = _KINDS[name]
    clear = skies.clear(kind.sun_deg, kind.visibility_km)
    toward, _ = directions(_ROWS, 2 * _ROWS)
    up = np.maximum(toward[..., 2], 0.0)
    out = in_table(clear.table, *np.moveaxis(toward, -1, 0))
    sun = np.array([math.cos(math.radians(kind.sun_deg)), 0.0, math.sin(math.radians(kind.sun_deg))])
    near = toward @ sun
    cloud = _cloud(kind, toward)
    grey = (np.array(clear.level) + np.array(clear.sun) * sun[2]) @ LUMINANCE / math.pi
    tint = np.array(clear.sun) / (np.array(clear.sun) @ LUMINANCE) * 0.5 + 0.5
    # the thick of a cloud is darker from below, its edges towards the sun are bright
    g = 0.7
    edge = (1 - g * g) / (1 + g * g - 2 * g * near) ** 1.5
    shade = grey * (0.95 - 0.55 * cloud) + grey * 0.22 * edge * (1 - cloud)
    seen = (cloud**0.7 * np.clip(up * 9, 0, 1))[..., None]
    out = out * (1 - seen) + (shade[..., None] * tint) * seen
    half = math.radians(_SUN_DEG / 2)
    disc = np.clip((np.arccos(np.clip(near, -1, 1)) - half) / (-0.3 * half), 0, 1)
    radiance = np.array(clear.sun) / (math.pi * half * half)
    out += disc[..., None] * radiance * np.exp(-3.5 * cloud)[..., None]
    ground = 0.18 * grey
    return np.asarray(np.where(toward[..., 2:] > 0, out, ground), np.float32)


def _cloud(kind: _Kind, toward: NDArray[np.float64]) -> NDArray[np.float64]:
    """Return how thick cloud lies in each direction, 0..1: one flat layer, closing up towards the horizon."""
    plain = noise.periodic(_TILE, 3, kind.seed, kind.octaves, 0.55)
    low, high = np.percentile(plain, [1, 99])
    even = np.clip((plain - low) / (high - low), 0, 1)
    away = toward[..., :2] / (np.maximum(toward[..., 2:], 0) + 0.1)
    at = (away * kind.scale * _TILE / 3.0) % _TILE
    found = map_coordinates(even, [at[..., 0], at[..., 1]], order=1, mode="grid-wrap")
    t = np.clip((found - (1 - kind.cover)) / kind.soft, 0, 1)
    return np.asarray(t * t * (3 - 2 * t))
