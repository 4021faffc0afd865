"""Light of an image of the whole sky: its sun is found and cast as one, the rest lights as a sky."""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray
from scipy.ndimage import label, map_coordinates

from elvatch.core.light.directions import toward
from elvatch.core.light.sky import ASIDES, HEIGHTS, row_heights
from elvatch.core.light.spectrum import LUMINANCE
from elvatch.core.light.sun import Direction

Image = NDArray[np.float32]
_MOST_SHOWN_PX = 4096
_SEARCHED_PX = 1024
_SUN_STANDS_OUT = 12.0
"""How many times as bright as the sky's brighter parts the sun's pixels are."""
_LARGEST_SUN_DEG = 6.0
_LEAST_SUN = 0.04
"""Of all that falls: a brighter patch of cloud is no sun."""


@dataclass(frozen=True)
class Panorama:
    """A panorama ready to light.

    ``image`` (rows, cols, 3) is what is seen behind the ground; ``table`` (40, 64, 3) its upper half without the sun,
    by height and by bearing counted anticlockwise from its middle; ``sun`` the direction to its sun, x towards the
    middle, None where it has none, and ``sun_colour`` what falls from it square on.
    """

    name: str
    image: Image
    table: NDArray[np.float64]
    sun: Direction | None
    sun_colour: NDArray[np.float64]


def directions(rows: int, cols: int) -> tuple[NDArray[np.float64], NDArray[np.float64]]:
    """Return unit vectors to the pixels of a panorama, and the solid angle of a pixel in each row."""
    height = (0.5 - (np.arange(rows) + 0.5) / rows) * math.pi
    aside = (0.5 - (np.arange(cols) + 0.5) / cols) * 2 * math.pi
    return toward(height, aside), np.cos(height) * (math.pi / rows) * (2 * math.pi / cols)


def _reduced(image: Image, most: int) -> Image:
    step = max(1, math.ceil(image.shape[1] / most))
    rows, cols = image.shape[0] // step * step, image.shape[1] // step * step
    # the mean keeps all light, however small the sun
    parts = image[:rows, :cols].reshape(rows // step, step, cols // step, step, 3)
    return np.asarray(parts.mean(axis=(1, 3), dtype=np.float32))


def _sun_pixels(luminance: NDArray[np.float64], toward: NDArray[np.float64]) -> NDArray[np.bool_]:
    """Return the pixels of the sun: what hangs together about the brightest, far brighter than the sky."""
    up = toward[..., 2] > 0
    bright = np.percentile(luminance[up], 90)
    peak = np.unravel_index(np.argmax(np.where(up, luminance, -1)), luminance.shape)
    if luminance[peak] < _SUN_STANDS_OUT * max(bright, 1e-9):
        return np.zeros(luminance.shape, np.bool_)
    near = toward @ toward[peak] > math.cos(math.radians(_LARGEST_SUN_DEG))
    stands_out = (luminance > max(3.0 * bright, 0.02 * luminance[peak])) & near & up
    # the image's left and right edge are one
    wide = np.concatenate([stands_out, stands_out], axis=1)
    parts, _ = label(wide)
    cols = luminance.shape[1]
    mine = parts[peak[0], peak[1]], parts[peak[0], peak[1] + cols]
    both = np.isin(parts, mine) & (parts > 0)
    return np.asarray(both[:, :cols] | both[:, cols:])


def prepare(name: str, image: Image) -> Panorama:
    """Find a panorama's sun and make the rest ready to light.

    Parameters
    ----------
    name : str
        Of its content.
    image : ndarray, shape (rows, cols, 3), float32
        Linear light, twice as wide as high, row 0 the zenith.
    """
    small = _reduced(image, _SEARCHED_PX).astype(np.float64)
    toward, angle = directions(*small.shape[:2])
    luminance = small @ LUMINANCE
    pixels = _sun_pixels(luminance, toward)
    sun, colour = None, np.zeros(3)
    rest = small.copy()
    if pixels.any():
        near = toward @ toward[pixels].mean(axis=0) > math.cos(math.radians(2 * _LARGEST_SUN_DEG))
        about = np.median(small[near & ~pixels], axis=0) if (near & ~pixels).any() else np.zeros(3)
        over = np.maximum(small - about, 0) * angle[:, None, None]
        light = over[pixels].sum(axis=0)
        falls = (small * (angle[:, None] * np.maximum(toward[..., 2], 0))[..., None]).sum(axis=(0, 1))
        if light @ LUMINANCE > _LEAST_SUN * (falls @ LUMINANCE):
            weight = over[pixels] @ LUMINANCE
            middle = (toward[pixels] * weight[:, None]).sum(axis=0)
            middle /= np.linalg.norm(middle)
            sun, colour = (float(middle[0]), float(middle[1]), float(middle[2])), light
            rest[pixels] = about
    return Panorama(name, _reduced(image, _MOST_SHOWN_PX), _table(rest), sun, colour)


def _table(image: NDArray[np.float64]) -> NDArray[np.float64]:
    """Return the upper half by height and bearing, each the mean of what lies about it."""
    rows, cols = image.shape[:2]
    factor = max(1, rows // 128)
    even = image[: rows // factor * factor, : cols // factor * factor]
    even = even.reshape(len(even) // factor, factor, even.shape[1] // factor, factor, 3).mean(axis=(1, 3))
    height = row_heights()
    aside = np.arange(ASIDES) * (2 * math.pi / ASIDES)
    row = (0.5 - height / math.pi) * even.shape[0] - 0.5
    col = (0.5 - aside / (2 * math.pi)) * even.shape[1] - 0.5
    at = np.meshgrid(row, col % even.shape[1], indexing="ij")
    sampled = [map_coordinates(even[..., c], at, order=1, mode="grid-wrap") for c in range(3)]
    return np.stack(sampled, axis=-1).reshape(HEIGHTS, ASIDES, 3)
