"""One way to name a thing by its content."""

from __future__ import annotations

import hashlib
import json

import numpy as np
from numpy.typing import NDArray


def of_bytes(data: bytes) -> str:
    """Return the 40 hex digit content name of ``data`` (BLAKE2b, 160 bits)."""
    return hashlib.blake2b(data, digest_size=20).hexdigest()


def of_array(array: NDArray[np.generic]) -> str:
    """Return the content name of an array: its type, shape and values."""
    head = f"{array.dtype.str}{array.shape}".encode()
    return of_bytes(head + np.ascontiguousarray(array).tobytes())


def of_json(value: object) -> str:
    """Return the content name of a JSON value, whatever the order of its keys."""
    return of_bytes(json.dumps(value, sort_keys=True, separators=(",", ":"), allow_nan=False).encode())
