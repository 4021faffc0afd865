"""Daylight in twelve bands of wavelength, and how bands become the three numbers of a picture.

Three bands are too few for air: what a clear sky scatters turns green in them. Bands are 30 nm wide.
"""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from elvatch.core.colour import light_of
from elvatch.core.kernel import plainly

Bands = NDArray[np.float64]
Colour = tuple[float, float, float]

NANOMETRES: Bands = np.arange(390.0, 721.0, 30.0)
PRIMARIES_NM = (612.0, 549.0, 465.0)
"""Wavelengths that stand for red, green and blue where one number has to do."""


def _lobe(middle: float, below: float, above: float) -> Bands:
    away = NANOMETRES - middle
    return np.exp(-0.5 * (away / np.where(away < 0, below, above)) ** 2)


def _matching() -> NDArray[np.float64]:
    """Return the colour-matching functions of the CIE 1931 observer (fit of Wyman, Sloan & Shirley 2013)."""
    x = 1.056 * _lobe(599.8, 37.9, 31.0) + 0.362 * _lobe(442.0, 16.0, 26.7) - 0.065 * _lobe(501.1, 20.4, 26.2)
    y = 0.821 * _lobe(568.8, 46.9, 40.5) + 0.286 * _lobe(530.9, 16.3, 31.1)
    z = 1.217 * _lobe(437.0, 11.8, 36.0) + 0.681 * _lobe(459.0, 26.0, 13.8)
    return np.stack([x, y, z])


def _sunlight() -> Bands:
    """Return the sun's light above the air, 1 at 550 nm: that of a black body of 5778 K (Planck)."""
    glow = NANOMETRES**-5.0 / np.expm1(1.4388e7 / (NANOMETRES * 5778.0))
    at_550 = 550.0**-5.0 / np.expm1(1.4388e7 / (550.0 * 5778.0))
    return np.asarray(glow / at_550)


_REC_709 = np.array([[3.2406, -1.5372, -0.4986], [-0.9689, 1.8758, 0.0415], [0.0557, -0.2040, 1.0570]])
SUNLIGHT = _sunlight()
_TO_RGB = (_REC_709 @ _matching()) * SUNLIGHT
_TO_RGB /= _TO_RGB.sum(axis=1, keepdims=True)
# sunlight above the air is white here; what white is in a picture is set by its grey card
LUMINANCE = np.array([0.2126, 0.7152, 0.0722])


def rgb(bands: NDArray[np.float64]) -> NDArray[np.float64]:
    """Return the linear Rec.709 colour of light, given as parts of the sun's light above the air by band.

    Parameters
    ----------
    bands : ndarray, shape (..., 12)
        Part of the sun's light in each band of :data:`NANOMETRES`.

    Returns
    -------
    ndarray, shape (..., 3), float64
        1, 1, 1 for sunlight as it is above the air. Colours outside Rec.709 are clipped at 0.
    """
    return np.maximum(bands @ _TO_RGB.T, 0.0)


def encoded(colour: str) -> Colour:
    """Return the linear colour of ``#rrggbb``."""
    red, green, blue = (plainly(light_of)(int(colour[k : k + 2], 16) / 255) for k in (1, 3, 5))
    return red, green, blue
