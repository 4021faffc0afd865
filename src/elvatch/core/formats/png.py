"""PNG (W3C, third edition): grey heights in, maps out, row by row."""

from __future__ import annotations

import contextlib
import io
import os
import struct
import zlib
from typing import BinaryIO

import numpy as np
from isal import isal_zlib
from numpy.typing import NDArray
from PIL import Image

from elvatch.core.formats.decoded import Decoded
from elvatch.core.formats.limits import check_size
from elvatch.core.formats.reading import Reading
from elvatch.core.kernel import kernel
from elvatch.core.refusal import RefusalError

_MAGIC = b"\x89PNG\r\n\x1a\n"
_WHOLE_BYTES = 128 << 20
_COLOUR_TYPES = {
    0: "grey",
    2: "3 channels (RGB)",
    3: "a palette",
    4: "grey with alpha",
    6: "4 channels (RGBA)",
}


def looks_like(data: bytes) -> bool:
    """Whether the bytes begin as a PNG file."""
    return data.startswith(_MAGIC)


def decode(name: str, data: bytes, reading: Reading) -> Decoded:
    """Decode a grey PNG of 8 or 16 bits."""
    del reading
    if len(data) < 33 or data[12:16] != b"IHDR":
        raise RefusalError(name, "a PNG without a header", "a whole PNG", "save or copy the file again")
    width, height, bits, colour_type = struct.unpack(">IIBB", data[16:26])
    check_size(name, width, height)
    if colour_type != 0 or bits not in (8, 16):
        found = f"{_COLOUR_TYPES.get(colour_type, 'an unknown kind')}, {bits} bits each"
        raise RefusalError(name, found, "one grey channel of 8 or 16 bits", "save the heights as a grey image")
    try:
        with Image.open(io.BytesIO(data), formats=("PNG",)) as image:
            image.load()
            values = np.asarray(image)
    except (OSError, SyntaxError, ValueError, zlib.error, Image.DecompressionBombError) as error:
        raise RefusalError(name, f"a damaged PNG ({error})", "a whole PNG", "save or copy the file again") from None
    return Decoded(values.astype(np.uint8) if bits == 8 else values.astype(np.uint16))


class PngWriter:
    """Writes a PNG row by row, so that a map of any size needs no more memory than a band of it.

    Parameters
    ----------
    stream : binary file
        Where to; the caller opens and closes it.
    width, height : int
        Size in pixels.
    channels : int
        1 grey, 3 RGB, 4 RGB and alpha.
    bits : int
        8 or 16 a channel.
    """

    def __init__(self, stream: BinaryIO, width: int, height: int, channels: int, bits: int) -> None:
        self._stream, self._channels, self._bits = stream, channels, bits
        self._packer = isal_zlib.compressobj(1)
        self._left = height
        stream.write(_MAGIC)
        self._chunk(b"IHDR", struct.pack(">IIBBBBB", width, height, bits, {1: 0, 3: 2, 4: 6}[channels], 0, 0, 0))

    def _chunk(self, kind: bytes, body: bytes) -> None:
        self._stream.write(struct.pack(">I", len(body)) + kind)
        self._stream.write(body)
        self._stream.write(struct.pack(">I", isal_zlib.crc32(body, isal_zlib.crc32(kind))))

    def write(self, rows: NDArray[np.uint8] | NDArray[np.uint16]) -> None:
        """Add rows of shape (n, width) or (n, width, channels), north first."""
        n, width = rows.shape[:2]
        if rows.dtype.itemsize * 8 != self._bits or rows.size != n * width * self._channels:
            raise ValueError(f"rows of {rows.dtype} and shape {rows.shape} do not fit this file")
        plain = rows.astype(">u2").view(np.uint8) if self._bits == 16 else rows
        flat = np.ascontiguousarray(plain).reshape(n, -1)
        step = self._channels * self._bits // 8
        filtered = np.empty((n, flat.shape[1] + 1), np.uint8)
        filtered[:, 0] = 1  # "Sub": each byte less the one a pixel to the left
        filtered[:, 1 : step + 1] = flat[:, :step]
        np.subtract(flat[:, step:], flat[:, :-step], out=filtered[:, step + 1 :])
        packed = self._packer.compress(filtered.data)
        if packed:
            self._chunk(b"IDAT", packed)
        self._left -= n

    def finish(self) -> None:
        """Write what is left; the file is whole after this."""
        if self._left != 0:
            raise ValueError(f"{self._left} rows are missing")
        self._chunk(b"IDAT", self._packer.flush())
        self._chunk(b"IEND", b"")
        self._stream.flush()
        with contextlib.suppress(OSError):  # what is in memory has no file to be kept
            os.fsync(self._stream.fileno())


@kernel
def _unfilter_rows(packed: NDArray[np.uint8], out: NDArray[np.uint8]) -> None:
    for row in range(out.shape[0]):
        # channel by channel: what a pixel adds to is at hand, not in memory
        for channel in range(out.shape[2]):
            total = 0
            for col in range(out.shape[1]):
                total += packed[row, col, channel]
                out[row, col, channel] = total


def unfiltered(packed: NDArray[np.uint8], step: int) -> NDArray[np.uint8]:
    """Return rows that were filtered by "Sub", as :class:`PngWriter` does it, as they were.

    Parameters
    ----------
    packed : ndarray, shape (rows, 1 + bytes), uint8
        The filter's number and the filtered bytes.
    step : int
        Bytes of a pixel.

    Raises
    ------
    ValueError
        When a row was filtered otherwise.
    """
    if (packed[:, 0] != 1).any():
        raise ValueError("rows that were filtered otherwise")
    pixels = packed[:, 1:].reshape(len(packed), -1, step)
    out = np.empty(pixels.shape, np.uint8)
    _unfilter_rows(pixels, out)
    return out.reshape(len(packed), -1)


def encode(image: NDArray[np.uint8] | NDArray[np.uint16]) -> bytes:
    """Encode a whole image of shape (rows, cols), (rows, cols, 3) or (rows, cols, 4)."""
    out = io.BytesIO()
    channels = 1 if image.ndim == 2 else image.shape[2]
    writer = PngWriter(out, image.shape[1], image.shape[0], channels, image.dtype.itemsize * 8)
    # large ones some rows at a time; how it is cut shows in the bytes, and what is smaller keeps its content name
    rows = len(image) if image.nbytes <= _WHOLE_BYTES else max(1, (_WHOLE_BYTES >> 4) * len(image) // image.nbytes)
    for first in range(0, len(image), rows):
        writer.write(image[first : first + rows])
    writer.finish()
    return out.getvalue()
