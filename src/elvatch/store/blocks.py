"""Arrays on disk as they lie in memory: mapped, not decoded, and checked block by block before they are used.

A file begins with a header that says what the arrays are and the checksum of every block of them. What a power cut
or a full disk left half written, or filled with zeros behind a whole header, is found when the file is first mapped.
"""

from __future__ import annotations

import contextlib
import json
import mmap
import struct
from collections.abc import Mapping
from pathlib import Path
from typing import Any, BinaryIO

import numpy as np
from isal import isal_zlib
from numpy.typing import NDArray

Arrays = dict[str, NDArray[Any]]
About = dict[str, float]
_MAGIC = b"ELVBLK2\n"
_HEAD = struct.Struct("<8sII")
_BLOCK_BYTES = 4 << 20
_ALIGN_BYTES = 4096
_MOST_HEADER_BYTES = 16 << 20


class DamagedError(ValueError):
    """A file that is not whole, of another kind or of another layout: to be made anew."""


def write(stream: BinaryIO, kind: str, arrays: Mapping[str, NDArray[Any]], about: About) -> None:
    """Write arrays with what is said about them.

    Parameters
    ----------
    stream : binary file
        Where to.
    kind : str
        What lies in the file, with the version of its layout; another kind is not read.
    arrays : mapping
        By name, of any plain type.
    about : dict
        Numbers beside them.
    """
    plain = {name: np.ascontiguousarray(array) for name, array in arrays.items()}
    listed = [
        {"name": name, "type": array.dtype.str, "shape": list(array.shape), "sums": _sums(array)}
        for name, array in plain.items()
    ]
    header = json.dumps({"kind": kind, "about": about, "arrays": listed}).encode()
    stream.write(_HEAD.pack(_MAGIC, len(header), isal_zlib.crc32(header)) + header)
    at = _HEAD.size + len(header)
    for array in plain.values():
        stream.write(b"\0" * (_aligned(at) - at))
        stream.write(array.reshape(-1).view(np.uint8).data)
        at = _aligned(at) + array.nbytes


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
    for entry in header["arrays"]:
        dtype, shape = np.dtype(entry["type"]), tuple(entry["shape"])
        at, count = _aligned(at), int(np.prod(shape, dtype=np.int64)) * dtype.itemsize
        # never mapped beyond its end: touching that would end the process
        if at + count > size:
            raise DamagedError("a file that ends too early")
        # never written to; kernels are compiled for arrays that could be, and once is enough
        mapped = np.memmap(path, dtype, "c", at, shape) if count else np.zeros(shape, dtype)
        if _sums(np.asarray(mapped)) != entry["sums"]:
            raise DamagedError(f"damaged {entry['name']}")
        _let_go_of_pages(mapped)
        arrays[entry["name"]] = np.asarray(mapped)
        at += count
    return arrays, header["about"]


def _let_go_of_pages(mapped: NDArray[Any]) -> None:
    """Take what was read to check it out of this process's memory; what is used comes back page by page."""
    with contextlib.suppress(AttributeError, OSError, ValueError):  # not every system can
        mapped.base.madvise(mmap.MADV_DONTNEED)  # type: ignore[union-attr]


def _sums(array: NDArray[Any]) -> list[int]:
    flat = array.reshape(-1).view(np.uint8)
    return [isal_zlib.crc32(flat[at : at + _BLOCK_BYTES].data) for at in range(0, flat.size, _BLOCK_BYTES)]


def _aligned(at: int) -> int:
    return -(-at // _ALIGN_BYTES) * _ALIGN_BYTES
