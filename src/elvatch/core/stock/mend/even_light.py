"""Evening out the light: broad shading that betrays the repeat goes, the mean colour stays."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from elvatch.core.stock import periodic
from elvatch.core.stock.loaded import luminance

Map = NDArray[np.float32]


def even_light(colour: Map, strength: float = 0.8, broader_than: float = 0.15) -> Map:
    """Return a seamless colour map without most of its broad light and dark.

    Parameters
    ----------
    colour : ndarray, shape (n, n, 3), float32
        Linear.
    strength : float
        How much of the broad shading goes, 0..1.
    broader_than : float
        What counts as broad, as a share of the tile.

    Returns
    -------
    ndarray, shape (n, n, 3), float32
        With the same mean colour.
    """
    light = luminance(colour)
    broad = periodic.blur(light, broader_than / 2.355 * light.shape[0])
    gain = (float(light.mean()) / np.maximum(broad, 1e-4)) ** strength
    out = colour * gain[..., None]
    for _ in range(3):
        # what runs into the limits would shift the mean, so it is brought back
        out = np.clip(out * (colour.mean(axis=(0, 1)) / np.maximum(out.mean(axis=(0, 1)), 1e-6)), 0.0, 1.0)
    result: Map = out.astype(np.float32)
    return result
