"""Colour adjusted: hue, saturation, brightness and range, in linear light."""

from __future__ import annotations

import math

import numpy as np
from numpy.typing import NDArray

from elvatch.core.document.layer import Look
from elvatch.core.kernel import inner

_LUMA = np.array([0.2126, 0.7152, 0.0722])
NUMBERS = 12
"""A matrix of nine, lowest and span of lightness, and whether anything changes but brightness."""


def _turned(hue_deg: float) -> NDArray[np.float64]:
    """Return a turn about the grey axis that keeps luminance (as the feColorMatrix of SVG 1.1 defines it)."""
    c, s = math.cos(math.radians(hue_deg)), math.sin(math.radians(hue_deg))
    luma = np.tile(_LUMA, (3, 1))
    skew = np.array([[-0.213, -0.715, 0.928], [0.143, 0.140, -0.283], [-0.787, 0.715, 0.072]])
    turned: NDArray[np.float64] = luma + c * (np.eye(3) - luma) + s * skew
    return turned


def numbers(look: Look) -> list[float]:
    """Return a look's colour adjustment as compiled code takes it."""
    luma = np.tile(_LUMA, (3, 1))
    saturated = luma + look.saturation * (np.eye(3) - luma)
    matrix = look.brightness * (saturated @ _turned(look.hue_deg))
    low, span = look.colour_lowest, look.colour_highest - look.colour_lowest
    changed = look.hue_deg != 0 or look.saturation != 1 or low != 0 or span != 1
    return [*matrix.ravel().tolist(), low, span, float(changed)]


@inner
def tinted(layer: NDArray[np.float64], first: int, out: NDArray[np.float32], warmth: float) -> None:
    """Adjust the colour in ``out[0:3]``, linear, by the numbers that begin at ``layer[first]``.

    Parameters
    ----------
    layer : ndarray, float64
        A layer's numbers.
    first : int
        Where those of :func:`numbers` begin.
    out : ndarray, float32
        Red, green, blue first; held to 0..1 after.
    warmth : float
        Slow change over the ground: warmer and more saturated above 0.
    """
    if layer[first + 11] > 0.0:
        r, g, b = float(out[0]), float(out[1]), float(out[2])
        for k in range(3):
            m = first + 3 * k
            out[k] = max(layer[m] * r + layer[m + 1] * g + layer[m + 2] * b, 0.0)
        low, span = layer[first + 9], layer[first + 10]
        if low != 0.0 or span != 1.0:
            # lightness is what the eye sees: the remap acts on it, colours keep their hue
            light = 0.2126 * out[0] + 0.7152 * out[1] + 0.0722 * out[2]
            coded = min(max(light, 1e-6), 1.0) ** (1.0 / 2.2)
            wanted = max(low + span * coded, 0.0) ** 2.2
            for k in range(3):
                out[k] = out[k] * wanted / max(light, 1e-6)
    else:
        for k in range(3):
            out[k] *= layer[first]
    if warmth != 0.0:
        out[0] *= math.exp(0.10 * warmth)
        out[2] *= math.exp(-0.16 * warmth)
    for k in range(3):
        out[k] = min(out[k], 1.0)
