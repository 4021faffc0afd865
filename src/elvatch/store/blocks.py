"""Arrays on disk as they lie in memory: mapped, not decoded, and checked block by block before they are used.

A file begins with a header that says what the arrays are and the checksum of every block of them. What a power cut
or a full disk left half written, or filled with zeros behind a whole header, is found when the file is first mapped.
"""

from __future__ import annotations

import json
import struct
from collections.abc import Callable, Mapping
from pathlib import Path
from typing import Any, BinaryIO, NamedTuple

import numpy as np
from isal import isal_zlib
from numpy.typing import NDArray

Arrays = dict[str, NDArray[Any]]
About = dict[str, float]
_MAGIC = b"ELVBLK3\n"
_HEAD = struct.Struct("<8sII")
_BLOCK_BYTES = 4 << 20
_ALIGN_BYTES = 4096
_DIGITS = 8
"""Of a checksum, hexadecimal."""
_MOST_HEADER_BYTES = 16 << 20


class Later(NamedTuple):
    """An array that is made when its turn to be written comes, and let go of again: not all of a large result need
    be in memory at a time."""

    shape: tuple[int, ...]
    dtype: np.dtype[Any]
    make: Callable[[], NDArray[Any]]


class DamagedError(ValueError):
    """A file that is not whole, of another kind or of another layout: to be made anew."""


def write(stream: BinaryIO, kind: str, arrays: Mapping[str, NDArray[Any] | Later], about: About) -> None:
    """Write arrays with what is said about them.

    Parameters
    ----------
    stream : binary file
        Where to; empty, and it can be gone back in.
    kind : str
        What lies in the file, with the version of its layout; another kind is not read.
    arrays : mapping
        By name, of any plain type, some to be made in their turn.
    about : dict
        Numbers beside them.
    """
    listed = [
        {"name": name, "type": one.dtype.str, "shape": list(one.shape), "sums": "0" * _DIGITS * _blocks(one)}
        for name, one in arrays.items()
    ]

    def header() -> bytes:
        text = json.dumps({"kind": kind, "about": about, "arrays": listed}).encode()
        return _HEAD.pack(_MAGIC, len(text), isal_zlib.crc32(text)) + text

    # sums are as long before as after: what is written over is the header alone
    at = stream.write(header())
    for entry, one in zip(listed, arrays.values(), strict=True):
        stream.write(b"\0" * (_aligned(at) - at))
        array = np.ascontiguousarray(one.make() if isinstance(one, Later) else one)
        if array.shape != one.shape or array.dtype != one.dtype:
            raise ValueError(f"{entry['name']} is of {array.dtype} {array.shape}, told was {one.dtype} {one.shape}")
        stream.write(array.reshape(-1).view(np.uint8).data)
        entry["sums"] = _sums(array)
        at = _aligned(at) + array.nbytes
        # let go of before the next is made
        del array
    stream.seek(0)
    stream.write(header())


def open_mapped(path: Path, kind: str) -> tuple[Arrays, About]:
    """Return the arrays of a file, mapped, and what is said about them.

    Raises
    ------
    DamagedError
        When it is not whole or of another kind.
    OSError
        When it is not there.
    """
    with path.open("rb") as stream:
        head = stream.read(_HEAD.size)
        if len(head) < _HEAD.size:
            raise DamagedError("no header")
        magic, length, sum_ = _HEAD.unpack(head)
        if magic != _MAGIC or length > _MOST_HEADER_BYTES:
            raise DamagedError("another kind of file")
        text = stream.read(length)
        size = stream.seek(0, 2)
    if isal_zlib.crc32(text) != sum_:
        raise DamagedError("a damaged header")
    header = json.loads(text)
    if header["kind"] != kind:
        raise DamagedError(f"a file of {header['kind']}")
    arrays: Arrays = {}
    at = _HEAD.size + length
    with path.open("rb", buffering=0) as stream:
        for entry in header["arrays"]:
            dtype, shape = np.dtype(entry["type"]), tuple(entry["shape"])
            at, count = _aligned(at), int(np.prod(shape, dtype=np.int64)) * dtype.itemsize
            # never mapped beyond its end: touching that would end the process
            if at + count > size:
                raise DamagedError("a file that ends too early")
            if _sums_of_file(stream, at, count) != entry["sums"]:
                raise DamagedError(f"damaged {entry['name']}")
            # never written to; kernels are compiled for arrays that could be, and once is enough
            mapped = np.memmap(path, dtype, "c", at, shape) if count else np.zeros(shape, dtype)
            arrays[entry["name"]] = np.asarray(mapped)
            at += count
    return arrays, header["about"]


def _blocks(one: NDArray[Any] | Later) -> int:
    return -(-int(np.prod(one.shape, dtype=np.int64)) * one.dtype.itemsize // _BLOCK_BYTES)


def _sum(block: memoryview) -> str:
    return f"{isal_zlib.crc32(block):0{_DIGITS}x}"


def _sums(array: NDArray[Any]) -> str:
    flat = array.reshape(-1).view(np.uint8)
    return "".join(_sum(flat[at : at + _BLOCK_BYTES].data) for at in range(0, flat.size, _BLOCK_BYTES))


def _sums_of_file(stream: BinaryIO, first: int, count: int) -> str:
    """Return the checksums of a part of a file: read, not mapped, so that none of it stays in memory."""
    buffer, sums = memoryview(bytearray(min(_BLOCK_BYTES, count))), []
    stream.seek(first)
    for at in range(0, count, _BLOCK_BYTES):
        block = buffer[: min(_BLOCK_BYTES, count - at)]
        filled = 0
        while filled < len(block):
            got = stream.readinto(block[filled:])  # type: ignore[attr-defined]
            if not got:
                raise DamagedError("a file that ends too early")
            filled += got
        sums.append(_sum(block))
    return "".join(sums)


def _aligned(at: int) -> int:
    return -(-at // _ALIGN_BYTES) * _ALIGN_BYTES
