"""TIFF 6.0 (and BigTIFF) as heights: one channel of 8 or 16 bits or 32-bit float."""

from __future__ import annotations

import io
import struct

import numpy as np
import tifffile
from numpy.typing import NDArray

from elvatch.core.formats.limits import check_size
from elvatch.core.refusal import RefusalError

_MAGICS = (b"II*\x00", b"MM\x00*", b"II+\x00", b"MM\x00+")
_TYPES: tuple[type[np.uint8] | type[np.uint16] | type[np.float32], ...] = (np.uint8, np.uint16, np.float32)


def looks_like(data: bytes) -> bool:
    """Whether the bytes begin as a TIFF file."""
    return data[:4] in _MAGICS


def decode_grey(name: str, data: bytes) -> NDArray[np.uint8] | NDArray[np.uint16] | NDArray[np.float32]:
    """Decode the first page of a TIFF as heights."""
    try:
        with tifffile.TiffFile(io.BytesIO(data)) as file:
            page = file.pages[0]
            if not isinstance(page, tifffile.TiffPage):
                raise ValueError("its first page has no tags")
            check_size(name, page.imagewidth, page.imagelength)
            channels, dtype = page.samplesperpixel, page.dtype
            if channels != 1 or page.photometric == tifffile.PHOTOMETRIC.PALETTE:
                found = "a palette" if channels == 1 else f"{channels} channels"
                raise RefusalError(name, found, "one channel of heights", "save the heights as a grey image")
            if dtype not in [np.dtype(t) for t in _TYPES]:
                raise RefusalError(
                    name,
                    f"samples of type {dtype}",
                    "8 or 16 bits or 32-bit float",
                    "save it as one of these",
                )
            values = page.asarray()
    except RefusalError:
        raise
    except (
        ValueError,
        KeyError,
        IndexError,
        TypeError,
        OSError,
        RuntimeError,
        struct.error,
        MemoryError,
    ) as error:
        raise RefusalError(name, f"a damaged TIFF ({error})", "a whole TIFF", "save or copy the file again") from None
    if values.ndim != 2:
        raise RefusalError(name, f"samples of shape {values.shape}", "rows and columns", "save one plain page")
    if dtype == np.uint8:
        return values.astype(np.uint8)
    return values.astype(np.uint16) if dtype == np.uint16 else values.astype(np.float32)
