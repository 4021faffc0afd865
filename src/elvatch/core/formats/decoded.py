"""What a format module gives back: samples as they stand in the file, and what it says of them."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

import numpy as np
from numpy.typing import NDArray

Samples = NDArray[Any]
"""Two dimensions of numbers, of any integer or float type, row 0 first."""


@dataclass(frozen=True)
class Decoded:
    """Samples of one page and channel.

    ``pages`` and ``channels`` say what else the file holds; ``no_data`` which value marks a hole;
    ``cell_m`` the cell's size (x, y) where the file tells it.
    """

    values: Samples
    pages: int = 1
    channels: tuple[str, ...] = ()
    no_data: float | None = None
    cell_m: tuple[float, float] | None = None


def as_plain(values: Samples) -> Samples:
    """Return samples in this machine's byte order; halves and doubles as float32."""
    if values.dtype.kind == "f" and values.dtype.itemsize != 4:
        with np.errstate(over="ignore"):
            return np.ascontiguousarray(values, np.float32)
    return np.ascontiguousarray(values.astype(values.dtype.newbyteorder("="), copy=False))
