"""Colour: sRGB in and out of linear light, and the tone curve of the pictures."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from elvatch.core.kernel import inner, kernel


def to_linear(encoded: NDArray[np.float32]) -> NDArray[np.float32]:
    """Decode sRGB values 0..1 to linear light (IEC 61966-2-1)."""
    low = encoded / 12.92
    high = ((encoded + 0.055) / 1.055) ** 2.4
    return np.where(encoded <= 0.04045, low, high).astype(np.float32)


def to_srgb(linear: NDArray[np.float32]) -> NDArray[np.float32]:
    """Encode linear light 0..1 as sRGB (IEC 61966-2-1)."""
    clipped = np.clip(linear, 0.0, 1.0)
    high = 1.055 * np.power(clipped, 1 / 2.4) - 0.055
    return np.where(clipped <= 0.0031308, clipped * 12.92, high).astype(np.float32)


_BYTES = (to_srgb(np.linspace(0, 1, 65536, dtype=np.float32)) * 255 + 0.5).astype(np.uint8)


@kernel
def _look_up_bytes(linear: NDArray[np.float32], out: NDArray[np.uint8]) -> None:
    for i in range(len(linear)):
        out[i] = _BYTES[
            int(min(max(linear[i], np.float32(0.0)), np.float32(1.0)) * np.float32(65535.0) + np.float32(0.5))
        ]


def srgb_bytes(linear: NDArray[np.float32]) -> NDArray[np.uint8]:
    """Encode linear light 0..1 as 8-bit sRGB, to the nearest code within 0.03 of one."""
    out = np.empty(linear.shape, np.uint8)
    _look_up_bytes(linear.reshape(-1), out.reshape(-1))
    return out


@inner
def srgb_code(linear: float) -> float:
    """Encode one linear value as sRGB, 0..1."""
    linear = min(max(linear, 0.0), 1.0)
    if linear <= 0.0031308:
        return linear * 12.92
    return float(1.055 * linear ** (1.0 / 2.4) - 0.055)


@inner
def light_of(code: float) -> float:
    """Decode one sRGB value 0..1 to linear light; undoes :func:`srgb_code`."""
    if code <= 0.04045:
        return code / 12.92
    return float(((code + 0.055) / 1.055) ** 2.4)


@inner
def tone(r: float, g: float, b: float) -> tuple[float, float, float]:
    """Bring bright light into 0..1 and leave base colours alone (Khronos PBR Neutral, 2024), with a softer toe.

    The published curve takes a mirror's 0.04 off all light, of the dark nearly all there is: shade under a blue sky
    turned into blackish blue. Here it is taken off where it is little.
    """
    start, desaturate = 0.8 - 0.04, 0.15
    least = min(r, g, b)
    offset = 0.04 * least * least / (least * least + 0.0036)
    r, g, b = r - offset, g - offset, b - offset
    peak = max(r, g, b)
    if peak < start:
        return r, g, b
    room = 1.0 - start
    new_peak = 1.0 - room * room / (peak + room - start)
    scale = new_peak / peak
    r, g, b = r * scale, g * scale, b * scale
    grey = 1.0 - 1.0 / (desaturate * (peak - new_peak) + 1.0)
    return r + (new_peak - r) * grey, g + (new_peak - g) * grey, b + (new_peak - b) * grey
