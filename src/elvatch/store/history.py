"""Recipes of a history as they lie in the database: whole now and then, else what differs from the one before.

An edit changes a few numbers of a document of some thirty kilobytes. What two documents share at their beginning
and at their end is told by its length, what lies between is packed with the older middle as its dictionary.
"""

from __future__ import annotations

import struct
import zlib
from collections.abc import Iterable

WHOLE_EVERY = 32
"""Revisions from one that is kept whole to the next: so many are read at most to know one."""
_HEAD = struct.Struct(">II")
_WINDOW = 32_000


def packed(text: str) -> bytes:
    """Return a document packed whole."""
    return zlib.compress(text.encode(), 6)


def difference(before: str, after: str) -> bytes:
    """Return what makes ``after`` of ``before``.

    Examples
    --------
    >>> applied("tile 2.0 m", difference("tile 2.0 m", "tile 2.5 m"))
    'tile 2.5 m'
    """
    old, new = before.encode(), after.encode()
    most = min(len(old), len(new))
    start = _alike(old[:most], new[:most])
    end = _alike(old[::-1][: most - start], new[::-1][: most - start])
    packer = zlib.compressobj(9, zdict=old[start : len(old) - end][-_WINDOW:])
    return _HEAD.pack(start, end) + packer.compress(new[start : len(new) - end]) + packer.flush()


def applied(before: str, body: bytes) -> str:
    """Return the document that a difference makes of the one before it."""
    old = before.encode()
    start, end = _HEAD.unpack_from(body)
    unpacker = zlib.decompressobj(zdict=old[start : len(old) - end][-_WINDOW:])
    middle = unpacker.decompress(body[_HEAD.size :]) + unpacker.flush()
    return (old[:start] + middle + old[len(old) - end :]).decode()


def last_of(bodies: Iterable[bytes]) -> str:
    """Return the last document of a line of bodies, of which the first is whole."""
    text: str | None = None
    for body in bodies:
        text = zlib.decompress(body).decode() if text is None else applied(text, body)
    if text is None:
        raise ValueError("a history without a beginning")
    return text


def _alike(one: bytes, other: bytes) -> int:
    """Return how many bytes two texts of the same length share at their beginning."""
    low, high = 0, len(one)
    while low < high:
        middle = (low + high + 1) // 2
        if one[low:middle] == other[low:middle]:
            low = middle
        else:
            high = middle - 1
    return low
