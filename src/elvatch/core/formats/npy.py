"""NPY arrays (NumPy's own format, version 1 to 3) as heights; nothing pickled is ever loaded."""

from __future__ import annotations

import io

import numpy as np

from elvatch.core.formats.decoded import Decoded, as_plain
from elvatch.core.formats.limits import check_size
from elvatch.core.formats.reading import Reading
from elvatch.core.refusal import RefusalError

_KINDS = {"u1", "i1", "u2", "i2", "u4", "i4", "f2", "f4", "f8"}


def looks_like(data: bytes) -> bool:
    """Whether the bytes begin as an NPY file."""
    return data.startswith(b"\x93NUMPY")


def decode(name: str, data: bytes, reading: Reading) -> Decoded:
    """Decode a two-dimensional array of numbers."""
    del reading
    stream = io.BytesIO(data)
    try:
        version = np.lib.format.read_magic(stream)
        reader = np.lib.format.read_array_header_1_0 if version == (1, 0) else np.lib.format.read_array_header_2_0
        shape, _, dtype = reader(stream, max_header_size=10_000)
    except Exception as error:  # the header is a Python literal: it fails in every way a parser has
        raise RefusalError(name, f"a damaged NPY header ({error})", "a whole NPY file", "save it again") from None
    kind = dtype.str[1:]
    if len(shape) != 2 or kind not in _KINDS or any(type(side) is not int for side in shape):
        raise RefusalError(
            name,
            f"an array of shape {shape} and type {dtype}",
            "two dimensions of numbers",
            "save one height a sample",
        )
    check_size(name, shape[1], shape[0])
    wanted = shape[0] * shape[1] * dtype.itemsize
    if len(data) - stream.tell() < wanted:
        raise RefusalError(
            name,
            f"{len(data) - stream.tell()} bytes of values",
            f"{wanted} bytes",
            "save or copy the file again",
        )
    stream.seek(0)
    values = np.lib.format.read_array(stream, allow_pickle=False, max_header_size=10_000)
    return Decoded(as_plain(values))
