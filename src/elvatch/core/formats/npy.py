"""NPY arrays (NumPy's own format, version 1 to 3) as heights; nothing pickled is ever loaded."""

from __future__ import annotations

import io
import warnings

import numpy as np
from numpy.typing import NDArray

from elvatch.core.formats.limits import check_size
from elvatch.core.refusal import RefusalError

_KINDS = {"u1": np.uint8, "u2": np.uint16, "i2": np.float32, "u4": np.float32, "i4": np.float32,
          "f2": np.float32, "f4": np.float32, "f8": np.float32}  # fmt: skip


def looks_like(data: bytes) -> bool:
    """Whether the bytes begin as an NPY file."""
    return data.startswith(b"\x93NUMPY")


def decode_grey(name: str, data: bytes) -> NDArray[np.uint8] | NDArray[np.uint16] | NDArray[np.float32]:
    """Decode a two-dimensional array of numbers; 32-bit whole numbers and doubles become float32."""
    stream = io.BytesIO(data)
    try:
        version = np.lib.format.read_magic(stream)
        reader = np.lib.format.read_array_header_1_0 if version == (1, 0) else np.lib.format.read_array_header_2_0
        shape, _, dtype = reader(stream, max_header_size=10_000)
    except (ValueError, EOFError, SyntaxError) as error:
        raise RefusalError(name, f"a damaged NPY header ({error})", "a whole NPY file", "save it again") from None
    kind = dtype.str[1:]
    if len(shape) != 2 or kind not in _KINDS:
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
    with warnings.catch_warnings():
        warnings.simplefilter("ignore", RuntimeWarning)  # doubles beyond float32 become infinite and are refused
        return np.ascontiguousarray(values, _KINDS[kind])
