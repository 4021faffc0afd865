"""A colour image over the whole ground, stored for filtered lookups like a texture set."""

from __future__ import annotations

from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray
from PIL import Image

from elvatch.core import colour
from elvatch.core.stock import pyramid
from elvatch.core.stock.pyramid import Pyramid

_MOST_SIDE = 2048


class GroundImage(NamedTuple):
    """An image laid from edge to edge of a ground of ``width_m`` by ``depth_m``; ``name`` is its content's."""

    pyramid: Pyramid
    width_m: float
    depth_m: float
    name: str


def prepare(pixels: NDArray[np.uint8], width_m: float, depth_m: float, name: str) -> GroundImage:
    """Store an image for lookups, at most 2048 pixels a side.

    Parameters
    ----------
    pixels : ndarray, shape (rows, cols, 3), uint8
        sRGB, north first.
    width_m, depth_m : float
        The ground's size, metres.
    name : str
        Content name of the file.
    """
    longest = max(pixels.shape[:2])
    side = 1
    while side < min(longest, _MOST_SIDE):
        side *= 2
    square = np.asarray(
        Image.fromarray(pixels).resize((side, side), Image.Resampling.LANCZOS), np.float32
    ) / np.float32(255)
    level = np.zeros((side, side, 3), np.float32)
    level[..., 2] = 1.0
    plain = np.zeros((side, side), np.float32)
    maps = pyramid.Maps(colour.to_linear(square), level, plain, plain, plain)
    return GroundImage(pyramid.build(maps, 1.0, 1.0), width_m, depth_m, name)
