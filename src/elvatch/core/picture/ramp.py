"""Ramps for maps of measures: perceptually even, one hue, as a table of colours (CIE 1976 L*a*b*)."""

from __future__ import annotations

import math

import numpy as np
from numpy.typing import NDArray

from elvatch.core import colour
from elvatch.core.ground.measures import Scale

_TABLE = 256
_HUE_DEG = 235.0
_LIGHT, _DARK = 93.0, 26.0
_CHROMA = 10.0

# D65, linear Rec.709 from XYZ (IEC 61966-2-1)
_WHITE = np.array([0.95047, 1.0, 1.08883])
_FROM_XYZ = np.array(
    [[3.2404542, -1.5371385, -0.4985314], [-0.9692660, 1.8760108, 0.0415560], [0.0556434, -0.2040259, 1.0572252]]
)


def from_lab(lab: NDArray[np.float64]) -> NDArray[np.float32]:
    """Return linear Rec.709 of L*a*b* colours of shape (n, 3)."""
    fy = (lab[:, 0] + 16) / 116
    f = np.stack([fy + lab[:, 1] / 500, fy, fy - lab[:, 2] / 200], axis=1)
    xyz = np.where(f > 6 / 29, f**3, 3 * (6 / 29) ** 2 * (f - 4 / 29)) * _WHITE
    result: NDArray[np.float32] = np.clip(xyz @ _FROM_XYZ.T, 0, 1).astype(np.float32)
    return result


def table(scale: Scale) -> NDArray[np.float32]:
    """Return 256 colours, linear Rec.709, for values from the lowest to the highest shown.

    Even and logarithmic scales run from light to dark in one hue; those about zero from dark
    through a middle grey to light; a compass from light in the north to dark in the south, with
    more colour in the east than in the west, so that no two bearings look alike.
    """
    t = np.linspace(0.0, 1.0, _TABLE)
    if scale == "compass":
        bearing = 2 * math.pi * t
        light, chroma = 60 + 30 * np.cos(bearing), 9 * (1 + np.sin(bearing))
    elif scale == "about zero":
        light, chroma = _DARK + (_LIGHT - _DARK) * t, np.zeros(_TABLE)
    else:
        light, chroma = _LIGHT + (_DARK - _LIGHT) * t, _CHROMA * np.sin(math.pi * np.clip(t * 0.85 + 0.1, 0, 1))
    hue = math.radians(_HUE_DEG)
    return from_lab(np.stack([light, chroma * math.cos(hue), chroma * math.sin(hue)], axis=1))


def strip(scale: Scale) -> NDArray[np.uint8]:
    """Return a ramp as an image of 9 by 256 pixels, low at the left, for legends."""
    return np.repeat(colour.srgb_bytes(table(scale))[None], 9, axis=0)


def limits(values: NDArray[np.float32], scale: Scale) -> tuple[float, float]:
    """Return the lowest and highest value that a ramp shows: the bulk of the map, symmetric about zero where due."""
    if scale == "compass":
        return 0.0, 360.0
    part = values[:: max(1, len(values) // 1024), :: max(1, values.shape[1] // 1024)]
    if scale == "about zero":
        most = float(np.percentile(np.abs(part), 98))
        return -max(most, 1e-6), max(most, 1e-6)
    if scale == "logarithmic":
        low, high = float(np.percentile(part, 2)), float(part.max())
        low = max(low, 1e-3)
        return low, max(high, low * 10)
    low, high = float(part.min()), float(np.percentile(part, 99.7))
    return low, max(high, low + 1e-6)


def positions(values: NDArray[np.float32], scale: Scale, low: float, high: float) -> NDArray[np.float32]:
    """Return where values lie on a ramp, 0..1; those beyond its limits at its ends."""
    if scale == "logarithmic":
        ratio = np.log(np.maximum(values, np.float32(low)) / np.float32(low)) * np.float32(1 / math.log(high / low))
    else:
        ratio = (values - np.float32(low)) * np.float32(1 / (high - low))
    return np.clip(ratio, np.float32(0), np.float32(1))


def colours(values: NDArray[np.float32], scale: Scale, low: float, high: float) -> NDArray[np.float32]:
    """Return linear colours of values, shape (..., 3)."""
    index = (positions(values, scale, low, high) * np.float32(_TABLE - 1) + np.float32(0.5)).astype(np.int64)
    return table(scale)[index]
