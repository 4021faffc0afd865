"""One way to name a thing by its content."""

from __future__ import annotations

import functools
import hashlib
import json
import threading
from collections import OrderedDict
from datetime import date
from pathlib import Path
from types import ModuleType

import numpy as np
from numpy.typing import NDArray
from pydantic import BaseModel

_MOST_PARTS = 4096
_parts: OrderedDict[tuple[int, tuple[str, ...]], tuple[BaseModel, str]] = OrderedDict()
_lock = threading.Lock()


def of_bytes(data: bytes) -> str:
    """Return the 40 hex digit content name of ``data`` (BLAKE2b, 160 bits)."""
    return hashlib.blake2b(data, digest_size=20).hexdigest()


def of_array(array: NDArray[np.generic]) -> str:
    """Return the content name of an array: its type, shape and values."""
    digest = hashlib.blake2b(f"{array.dtype.str}{array.shape}".encode(), digest_size=20)
    # without a copy: grounds are large
    digest.update(np.ascontiguousarray(array).reshape(-1).view(np.uint8).data)
    return digest.hexdigest()


def _written(value: object) -> str:
    if isinstance(value, date):
        return value.isoformat()
    raise TypeError(f"{type(value).__name__} is no JSON value")


_ENCODER = json.JSONEncoder(sort_keys=True, separators=(",", ":"), allow_nan=False, default=_written)


def of_json(value: object) -> str:
    """Return the content name of a JSON value, whatever the order of its keys; days in it as they are written."""
    return of_bytes(_ENCODER.encode(value).encode())


@functools.cache
def of_package(module: ModuleType) -> str:
    """Return the content name of all code beside a module and below: what it makes depends on that."""
    if module.__file__ is None:
        raise ValueError(f"{module.__name__} has no file")
    folder = Path(module.__file__).parent
    return of_json(
        [[path.relative_to(folder).as_posix(), of_bytes(path.read_bytes())] for path in sorted(folder.rglob("*.py"))]
    )


def of_part(part: BaseModel, *without: str) -> str:
    """Return the content name of a part of a recipe, found once for as long as the part is at hand.

    Parameters
    ----------
    part : BaseModel
        Never changed once made; kept together with its name, so that its identity stands for it.
    without : str
        Fields that do not matter.
    """
    key = id(part), without
    known = _parts.get(key)
    if known is not None:
        return known[1]
    name = of_json(part.model_dump(exclude=set(without)))
    with _lock:
        _parts[key] = part, name
        while len(_parts) > _MOST_PARTS:
            _parts.popitem(last=False)
    return name
