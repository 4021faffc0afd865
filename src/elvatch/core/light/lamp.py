"""A plain lamp in an even room, to look at samples by: white at every height, so that a low one shows relief."""

from __future__ import annotations

import functools
import math

import numpy as np

from elvatch.core.light.panorama import Panorama
from elvatch.core.light.sky import ASIDES, HEIGHTS

_ROOM = 0.3
"""What falls on level ground from the room, against what falls from the lamp."""


@functools.lru_cache(maxsize=64)
def lamp(height_deg: float) -> Panorama:
    """Return a lamp at a height, degrees, in the middle of what is turned; it casts as a sun does."""
    height = math.radians(height_deg)
    room = _ROOM * math.sin(height) / math.pi
    return Panorama(
        f"lamp at {height_deg:g}",
        np.full((1, 2, 3), room, np.float32),
        np.full((HEIGHTS, ASIDES, 3), room),
        (math.cos(height), 0.0, math.sin(height)),
        np.ones(3),
    )
