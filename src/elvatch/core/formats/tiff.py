"""TIFF 6.0, BigTIFF and GeoTIFF as heights: one channel a page, in strips or tiles."""

from __future__ import annotations

import io
from collections.abc import Callable, Iterator
from typing import BinaryIO

import numpy as np
import tifffile
from numpy.typing import NDArray

from elvatch.core.formats.decoded import Decoded, as_plain
from elvatch.core.formats.limits import check_size
from elvatch.core.formats.reading import Reading
from elvatch.core.refusal import RefusalError

_MAGICS = (b"II*\x00", b"MM\x00*", b"II+\x00", b"MM\x00+")
_TYPES = {"u1", "i1", "u2", "i2", "u4", "i4", "f2", "f4", "f8"}
_NO_DATA_TAG, _CELL_TAG = 42113, 33550


def looks_like(data: bytes) -> bool:
    """Whether the bytes begin as a TIFF file."""
    return data[:4] in _MAGICS


def decode(name: str, data: bytes, reading: Reading) -> Decoded:
    """Decode one page of a TIFF as heights, with its no-data value and cell size where it tells them."""
    try:
        with tifffile.TiffFile(io.BytesIO(data)) as file:
            pages = len(file.pages)
            if pages == 0:
                raise ValueError("it has no page")
            if reading.page >= pages:
                raise RefusalError(name, f"{pages} pages", f"page {reading.page + 1}", "choose a page it has")
            page = file.pages[reading.page]
            if not isinstance(page, tifffile.TiffPage):
                page = page.aspage()
            _check_page(name, page)
            values = page.asarray()
            no_data, cell = _no_data(page), _cell(page)
    except RefusalError:
        raise
    except Exception as error:  # a damaged directory fails in every way there is
        if isinstance(error, MemoryError):
            raise
        raise RefusalError(name, f"a damaged TIFF ({error})", "a whole TIFF", "save or copy the file again") from None
    if values.ndim != 2:
        raise RefusalError(name, f"samples of shape {values.shape}", "rows and columns", "save one plain page")
    return Decoded(as_plain(values), pages=pages, no_data=no_data, cell_m=cell)


def _check_page(name: str, page: tifffile.TiffPage) -> None:
    check_size(name, page.imagewidth, page.imagelength)
    channels, dtype = page.samplesperpixel, page.dtype
    if channels != 1 or page.photometric == tifffile.PHOTOMETRIC.PALETTE:
        found = "a palette" if channels == 1 else f"{channels} channels"
        raise RefusalError(name, found, "one channel of heights", "save the heights as a grey image")
    if dtype is None or np.dtype(dtype).str[1:] not in _TYPES:
        raise RefusalError(
            name, f"samples of type {dtype}", "whole numbers of 8 to 32 bits or floats", "save it as one of these"
        )


def _no_data(page: tifffile.TiffPage) -> float | None:
    tag = page.tags.get(_NO_DATA_TAG)
    try:
        return float(str(tag.value).strip("\x00 ")) if tag is not None else None
    except ValueError:
        return None


def _cell(page: tifffile.TiffPage) -> tuple[float, float] | None:
    """Return the cell's size by ModelPixelScale (GeoTIFF 1.1); degrees are no metres and are left out."""
    tag = page.tags.get(_CELL_TAG)
    if tag is None or len(tag.value) < 2:
        return None
    x, y = float(tag.value[0]), float(tag.value[1])
    return (x, y) if x > 0.01 and y > 0.01 else None


TILE = 256


def write(
    stream: BinaryIO, rows_of: Callable[[int, int], NDArray[np.float32]], width: int, height: int, about: str
) -> None:
    """Write a map of 32-bit floats in tiles, asking for no more than a row of them at a time.

    Parameters
    ----------
    stream : binary file
        Where to; the caller opens and closes it.
    rows_of : callable
        Given the first row and the one after the last, returns them: shape (n, width), float32,
        north first.
    width, height : int
        Size of the whole map.
    about : str
        What the values are, with their unit; kept in the file.
    """

    def tiles() -> Iterator[NDArray[np.float32]]:
        for first in range(0, height, TILE):
            band = rows_of(first, min(first + TILE, height))
            for left in range(0, width, TILE):
                yield np.ascontiguousarray(band[:, left : left + TILE])

    tifffile.imwrite(
        stream,
        tiles(),
        shape=(height, width),
        dtype=np.float32,
        photometric="minisblack",
        tile=(TILE, TILE),
        description=about.encode("ascii", "replace").decode(),
        metadata=None,
        compression="zlib",
        predictor=True,
    )
