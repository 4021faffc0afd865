"""Directions of the whole sky, and what a table of radiance has in them."""

from __future__ import annotations

import math

import numpy as np
from numpy.typing import NDArray
from scipy.ndimage import map_coordinates

Numbers = NDArray[np.float64]


def toward(height: Numbers, aside: Numbers) -> Numbers:
    """Return unit vectors, shape (heights, asides, 3), of heights over the horizon and bearings counted
    anticlockwise from x, both radians."""
    level, up = np.cos(height)[:, None], np.sin(height)[:, None]
    both = len(height), len(aside)
    return np.stack([level * np.cos(aside), level * np.sin(aside), np.broadcast_to(up, both)], axis=-1)


def looked_up(image: NDArray[np.float32], row: Numbers, col: Numbers) -> Numbers:
    """Return what an image of the sky has at rows and columns, between its pixels; it comes round at its sides."""
    rows = np.clip(row, 0, image.shape[0] - 1)
    found = [map_coordinates(image[..., c], [rows, col], order=1, mode="grid-wrap") for c in range(3)]
    return np.stack(found, axis=-1).astype(np.float64)


def in_table(table: NDArray[np.float32], x: Numbers, y: Numbers, z: Numbers) -> Numbers:
    """Return the radiance (..., 3) from directions in a sky's own axes; below the horizon that of the horizon.

    ``table`` as :class:`elvatch.core.light.sky.Sky` has it: rows go with the root of the height's sine.
    """
    turn = (np.arctan2(y, x) / (2 * math.pi)) % 1.0
    return looked_up(table, np.sqrt(np.clip(z, 0, 1)) * (table.shape[0] - 1), turn * table.shape[1])
