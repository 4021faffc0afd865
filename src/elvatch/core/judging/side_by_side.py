"""Two pictures of one view side by side: how far apart they look, as a map and in the mean."""

from __future__ import annotations

from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from elvatch.core import colour
from elvatch.core.colour_difference import ciede2000, lab

MOST = 10.0
"""A difference from which on the map is as strong as it gets."""
_ACCENT = np.array([191.0, 59.0, 28.0])
_SEEN = 1.0


class Difference(NamedTuple):
    """``pixels`` (rows, cols, 3) the map; ``mean`` CIEDE2000, ``seen`` the share of pixels above 1, 0..1."""

    pixels: NDArray[np.uint8]
    mean: float
    seen: float


def difference(one: NDArray[np.uint8], other: NDArray[np.uint8]) -> Difference:
    """Return how far apart two pictures look.

    Parameters
    ----------
    one, other : ndarray, shape (rows, cols, 3), uint8
        Pictures in sRGB of one size.

    Notes
    -----
    CIEDE2000 (Sharma, Wu & Dalal 2005). The map is the first picture in pale grey, and red where they differ, in full
    from :data:`MOST` on.
    """
    first, second = (colour.to_linear((of[..., :3] / np.float32(255)).astype(np.float32)) for of in (one, other))
    apart = ciede2000(lab(first), lab(second))
    pale = 150 + 0.35 * (one[..., :3].astype(np.float64) @ (0.299, 0.587, 0.114))
    strong = np.clip(apart / MOST, 0, 1)[..., None]
    pixels = np.rint(pale[..., None] * (1 - strong) + _ACCENT * strong).astype(np.uint8)
    return Difference(np.ascontiguousarray(pixels), float(apart.mean()), float((apart > _SEEN).mean()))
