"""What a model of a thing is once it was read, and how large one may be; its reader takes seconds to load."""

from __future__ import annotations

from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

MOST_BYTES = 512 << 20
MOST_TRIANGLES = 20_000_000
MOST_KEPT = 200_000
"""Triangles of a model as it is kept; one with more is reduced."""


class ReadModel(NamedTuple):
    """A model as it was read, in the file's own axes and unit.

    ``places``, ``normals``, ``colours`` (n, 3) linear, ``roughness`` (n,), ``uv`` (n, 2), ``triangles`` (m, 3),
    ``image`` (m,) index in ``images`` of each, -1 without; ``images`` (height, width, 4) 8 bit; ``notes`` what was
    left out; ``up`` where the format says it, else None; ``in_metres`` whether it says that.
    """

    places: NDArray[np.float64]
    normals: NDArray[np.float64]
    colours: NDArray[np.float64]
    roughness: NDArray[np.float64]
    uv: NDArray[np.float64]
    triangles: NDArray[np.int64]
    image: NDArray[np.int64]
    images: list[NDArray[np.uint8]]
    notes: list[str]
    up: str | None
    in_metres: bool
