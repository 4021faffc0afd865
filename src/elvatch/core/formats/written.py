"""Files of numbers over the ground, written row by row as they come and read back likewise.

Every format is one entry of :data:`FORMS`: what it can hold, how it is written, how it is read back.
"""

from __future__ import annotations

import os
import struct
from collections.abc import Callable, Iterator
from pathlib import Path
from typing import Any, BinaryIO, Literal, NamedTuple, Protocol

import imagecodecs
import numpy as np
import simplejpeg
import tifffile
from isal import isal_zlib
from numpy.typing import NDArray
from PIL import Image as PillowImage

from elvatch.core.formats import exr_rows, png

FormatName = Literal["png", "tiff", "exr", "jpeg", "webp", "tga", "raw"]
SampleType = Literal["uint8", "uint16", "float16", "float32"]
Rows = NDArray[Any]

_JPEG_QUALITY = 95
_WHOLE_PX = 8192
"""Along a side of what is held whole until it is written: 200 MB of colours."""
_BAND_BYTES = 8 << 20


class WrittenImage(NamedTuple):
    """What a file holds: its size, its channels and their names, the type of its samples, a word about it.

    ``primaries`` are the eight numbers of red, green, blue and white that a format may tell, empty where it has none.
    """

    width: int
    height: int
    channels: int
    type: SampleType
    names: tuple[str, ...] = ()
    about: str = ""
    low_byte_first: bool = True
    primaries: tuple[float, ...] = ()

    @property
    def dtype(self) -> np.dtype[Any]:
        """Samples as they lie in memory."""
        return np.dtype(self.type)

    @property
    def bytes(self) -> int:
        """Of all samples."""
        return self.width * self.height * self.channels * self.dtype.itemsize


class Writer(Protocol):
    """Takes rows, north first, shape (n, width, channels), of the image's type."""

    def write(self, rows: Rows) -> None:
        """Add rows."""

    def finish(self) -> None:
        """Make the file whole, on disk."""

    def close(self) -> None:
        """Let go of the file, whole or not."""


class Form(NamedTuple):
    """A format: what files of it can hold, about how small what is written becomes, how it is written and read.

    ``most_px`` a side may have at most, 0 any; ``lossless`` what is read back is what was written.
    """

    name: FormatName
    label: str
    suffix: str
    types: tuple[SampleType, ...]
    channels: tuple[int, ...]
    shrinks: float
    writer: Callable[[Path, WrittenImage], Writer]
    bands: Callable[[Path, WrittenImage], Iterator[Rows]]
    most_px: int = 0
    lossless: bool = True


def _rows_a_band(image: WrittenImage) -> int:
    return max(1, _BAND_BYTES // max(1, image.bytes // image.height))


class _Plain:
    """Samples as they are behind a header; what RAW, TGA and plain TIFF have in common."""

    def __init__(self, path: Path, image: WrittenImage, header: bytes | int, order: str = "<") -> None:
        self._image, self._left = image, image.height
        self._dtype = image.dtype.newbyteorder(order)  # type: ignore[arg-type]
        # never mapped: on a full disk writing to a map of a file ends the process
        self._stream: BinaryIO = path.open("r+b" if isinstance(header, int) else "wb")
        if isinstance(header, int):
            self._stream.seek(header)
        else:
            self._stream.write(header)

    def write(self, rows: Rows) -> None:
        self._stream.write(np.ascontiguousarray(rows, self._dtype).data)
        self._left -= len(rows)

    def finish(self) -> None:
        if self._left != 0:
            raise ValueError(f"{self._left} rows are missing")
        self._stream.flush()
        os.fsync(self._stream.fileno())
        self._stream.close()

    def close(self) -> None:
        self._stream.close()


def _plain_bands(path: Path, image: WrittenImage, skip: int, order: str = "<") -> Iterator[Rows]:
    dtype, step = image.dtype.newbyteorder(order), _rows_a_band(image)  # type: ignore[arg-type]
    with path.open("rb") as stream:
        stream.seek(skip)
        for first in range(0, image.height, step):
            count = min(step, image.height - first)
            data = stream.read(count * image.width * image.channels * dtype.itemsize)
            rows = np.frombuffer(data, dtype).reshape(count, image.width, image.channels)
            yield rows.astype(image.dtype, copy=False)


class _Png:
    def __init__(self, path: Path, image: WrittenImage) -> None:
        self._stream = path.open("wb")
        bits = image.dtype.itemsize * 8
        self._writer = png.PngWriter(self._stream, image.width, image.height, image.channels, bits)

    def write(self, rows: Rows) -> None:
        self._writer.write(rows)

    def finish(self) -> None:
        self._writer.finish()
        self._stream.close()

    def close(self) -> None:
        self._stream.close()


class _Whole:
    """A format whose coder wants all of an image at once."""

    def __init__(self, path: Path, image: WrittenImage, coded: Callable[[Rows], bytes]) -> None:
        self._path, self._coded, self._row = path, coded, 0
        self._rows = np.empty((image.height, image.width, image.channels), image.dtype)

    def write(self, rows: Rows) -> None:
        self._rows[self._row : self._row + len(rows)] = rows
        self._row += len(rows)

    def finish(self) -> None:
        if self._row != len(self._rows):
            raise ValueError(f"{len(self._rows) - self._row} rows are missing")
        with self._path.open("wb") as stream:
            stream.write(self._coded(self._rows))
            stream.flush()
            os.fsync(stream.fileno())

    def close(self) -> None:
        """Nothing is open."""


def _jpeg(rows: Rows) -> bytes:
    kind = "GRAY" if rows.shape[2] == 1 else "RGB"
    sampling = "Gray" if rows.shape[2] == 1 else "444"
    return bytes(simplejpeg.encode_jpeg(rows, quality=_JPEG_QUALITY, colorspace=kind, colorsubsampling=sampling))


def _webp(rows: Rows) -> bytes:
    import io

    out = io.BytesIO()
    PillowImage.fromarray(rows).save(out, "WEBP", lossless=True, exact=True, quality=30, method=2)
    return out.getvalue()


def _whole_bands(decode: Callable[[bytes], Any]) -> Callable[[Path, WrittenImage], Iterator[Rows]]:
    """Return what reads a format whose coder wants all of an image at once; it is never larger than was written."""

    def bands(path: Path, image: WrittenImage) -> Iterator[Rows]:
        rows = np.asarray(decode(path.read_bytes()))
        yield rows.reshape(image.height, image.width, -1)[..., : image.channels]

    return bands


def _tga_header(image: WrittenImage) -> bytes:
    kind, depth = (3, 8) if image.channels == 1 else (2, 8 * image.channels)
    # 0x20: the first row is the upper one; the low bits tell how many of a texel's are alpha
    told = 0x20 | (8 if image.channels == 4 else 0)
    return struct.pack("<BBBHHBHHHHBB", 0, 0, kind, 0, 0, 0, 0, 0, image.width, image.height, depth, told)


class _Tga(_Plain):
    def __init__(self, path: Path, image: WrittenImage) -> None:
        super().__init__(path, image, _tga_header(image))

    def write(self, rows: Rows) -> None:
        super().write(_turned(rows))


def _turned(rows: Rows) -> Rows:
    """Return rows with red and blue changed places, as the format has them."""
    return rows if rows.shape[2] == 1 else rows[..., [2, 1, 0, *range(3, rows.shape[2])]]


def _tiff(path: Path, image: WrittenImage) -> Writer:
    shape = (image.height, image.width) if image.channels == 1 else (image.height, image.width, image.channels)
    photometric, extra = ("rgb", image.channels - 3) if image.channels >= 3 else ("minisblack", image.channels - 1)
    found = tifffile.imwrite(
        path,
        None,
        shape=shape,
        dtype=image.dtype.newbyteorder("<"),
        photometric=photometric,
        extrasamples=["unspecified"] * extra or None,
        planarconfig="contig" if image.channels > 1 else None,
        description=image.about.encode("ascii", "replace").decode(),
        metadata=None,
        software=False,
        returnoffset=True,
        byteorder="<",
        bigtiff=image.bytes > 4_000_000_000,
    )
    if found is None:
        raise ValueError("the samples of an image stand in one piece")
    return _Plain(path, image, int(found[0]))


def _tiff_bands(path: Path, image: WrittenImage) -> Iterator[Rows]:
    with tifffile.TiffFile(path) as file:
        page = file.pages.first
        if page.dtype != image.dtype or page.imagewidth != image.width or page.imagelength != image.height:
            raise ValueError(f"it reads as {page.shape} of {page.dtype}")
        first = int(page.dataoffsets[0])
    yield from _plain_bands(path, image, first)


_AT_ONCE_BYTES = 4 << 20
"""Of a file that is read back: one part of a wide image, read whole, would be many copies of 25 MB."""


def _png_bands(path: Path, image: WrittenImage) -> Iterator[Rows]:
    """Yield the rows of a PNG that was written by :class:`~elvatch.core.formats.png.PngWriter`."""
    step = image.channels * image.dtype.itemsize
    line = image.width * step + 1
    unpack, left = isal_zlib.decompressobj(), b""
    with path.open("rb") as stream:
        stream.seek(8)
        while head := stream.read(8):
            length, kind = struct.unpack(">I4s", head)
            body = stream.read(length)
            if struct.unpack(">I", stream.read(4))[0] != isal_zlib.crc32(body, isal_zlib.crc32(kind)):
                raise ValueError("a checksum is wrong")
            if kind != b"IDAT":
                continue
            got = unpack.decompress(body, _AT_ONCE_BYTES)
            while got:
                data = left + got
                count = len(data) // line
                left = data[count * line :]
                packed = np.frombuffer(data, np.uint8, count * line).reshape(count, line)
                wide = png.unfiltered(packed, step).view(image.dtype.newbyteorder(">"))
                yield wide.reshape(count, image.width, image.channels).astype(image.dtype)
                got = unpack.decompress(unpack.unconsumed_tail, _AT_ONCE_BYTES)


def _raw(path: Path, image: WrittenImage) -> Writer:
    return _Plain(path, image, b"", "<" if image.low_byte_first else ">")


def _raw_bands(path: Path, image: WrittenImage) -> Iterator[Rows]:
    return _plain_bands(path, image, 0, "<" if image.low_byte_first else ">")


_ALL: tuple[SampleType, ...] = ("uint8", "uint16", "float16", "float32")
FORMS: dict[FormatName, Form] = {
    form.name: form
    for form in (
        Form("png", "PNG", "png", ("uint8", "uint16"), (1, 3, 4), 0.4, _Png, _png_bands),
        Form("tiff", "TIFF", "tif", _ALL, (1, 2, 3, 4), 1.0, _tiff, _tiff_bands),
        Form(
            "exr",
            "EXR",
            "exr",
            ("float16", "float32"),
            (1, 2, 3, 4),
            0.7,
            lambda path, of: exr_rows.ExrWriter(path, of.width, of.height, of.names, of.type, of.primaries),
            lambda path, of: exr_rows.bands(path, of.names, of.type, _rows_a_band(of)),
        ),
        Form(
            "jpeg",
            "JPEG",
            "jpg",
            ("uint8",),
            (1, 3),
            0.2,
            lambda path, of: _Whole(path, of, _jpeg),
            _whole_bands(imagecodecs.jpeg_decode),
            _WHOLE_PX,
            False,
        ),
        Form(
            "webp",
            "WebP",
            "webp",
            ("uint8",),
            (3, 4),
            0.3,
            lambda path, of: _Whole(path, of, _webp),
            _whole_bands(imagecodecs.webp_decode),
            _WHOLE_PX,
        ),
        Form(
            "tga",
            "TGA",
            "tga",
            ("uint8",),
            (1, 3, 4),
            1.0,
            _Tga,
            lambda path, of: (_turned(rows) for rows in _plain_bands(path, of, 18)),
            65_535,
        ),
        Form("raw", "RAW", "raw", _ALL, (1, 2, 3, 4), 1.0, _raw, _raw_bands),
    )
}
