"""Images from outside as maps of a texture set: their own bits, sizes checked before decoding."""

from __future__ import annotations

import io
import re
import struct
from collections.abc import Callable
from dataclasses import dataclass
from typing import Any

import imagecodecs
import numpy as np
import simplejpeg
import tifffile
from numpy.typing import NDArray
from PIL import Image

from elvatch.core.formats import exr
from elvatch.core.refusal import RefusalError

MOST_BYTES = 512 << 20
MOST_SIDE = 8192
LEAST_SIDE = 4
ENDINGS = ("png", "jpg", "jpeg", "tif", "tiff", "exr", "webp", "tga")
KNOWN = "PNG, JPEG, TIFF, EXR, WebP or TGA"


@dataclass(frozen=True)
class Raster:
    """An image as it stands in its file.

    Parameters
    ----------
    values : ndarray, shape (rows, cols, 1 or 3), uint8, uint16 or float32
        Row 0 first.
    format : str
        What kind of file it was.
    bits : int
        A channel, in the file.
    notes : tuple of str
        What was set right or left out on the way, for the user.
    alpha : ndarray, shape (rows, cols), same dtype, optional
        Transparency, where the file has it; texture sets leave it out.
    """

    values: NDArray[Any]
    format: str
    bits: int
    notes: tuple[str, ...] = ()
    alpha: NDArray[Any] | None = None

    @property
    def linear(self) -> bool:
        """Whether colours are linear light already, as floats are."""
        return bool(self.values.dtype.kind == "f")

    def shares(self) -> NDArray[np.float32]:
        """Return the values as float32, 0..1 for whole numbers, as they are for floats."""
        if self.linear:
            return np.asarray(self.values, np.float32)
        return self.values.astype(np.float32) / np.float32(np.iinfo(self.values.dtype).max)


def decode(name: str, data: bytes) -> Raster:
    """Decode an image of a texture set.

    Parameters
    ----------
    name : str
        For messages only.
    data : bytes
        The whole file.

    Returns
    -------
    Raster
        Grey as one channel, else three; transparency stands apart.

    Raises
    ------
    RefusalError
        When it is empty, of an unknown kind, too large by its header, damaged, or in printing colours.
    """
    if not data:
        raise RefusalError(name, "an empty file", f"an image ({KNOWN})", "copy the file again")
    if len(data) > MOST_BYTES:
        raise RefusalError(name, f"{len(data) / 1e6:.0f} MB", f"at most {MOST_BYTES / 1e6:.0f} MB", "reduce it first")
    try:
        return _reader(data)(name, data)
    except RefusalError:
        raise
    except MemoryError:
        raise
    except Exception as error:  # decoders of damaged files fail in every way there is
        # what a decoder says of its own objects helps nobody
        words = re.sub(r"<[^>]*>", "it", " ".join(str(error).split()))[:100]
        found = f"a damaged or unknown image ({words or type(error).__name__})"
        raise RefusalError(name, found, f"a whole {KNOWN}", "save or copy the file again") from None


def _reader(data: bytes) -> Callable[[str, bytes], Raster]:
    if data.startswith(b"\x89PNG\r\n\x1a\n"):
        return _png
    if exr.looks_like(data):
        return _exr
    if data[:4] in (b"II*\0", b"MM\0*", b"II+\0", b"MM\0+"):
        return _tiff
    return _pillow


def check(name: str, width: int, height: int) -> None:
    """Refuse a size that no map of a set may have."""
    if min(width, height) < LEAST_SIDE or max(width, height) > MOST_SIDE:
        raise RefusalError(
            name,
            f"{width} x {height} pixels",
            f"{LEAST_SIDE} to {MOST_SIDE} a side",
            "resize it before bringing it in",
        )


def _png(name: str, data: bytes) -> Raster:
    if len(data) < 33 or data[12:16] != b"IHDR":
        raise RefusalError(name, "a PNG without a header", "a whole PNG", "save or copy the file again")
    width, height, bits, colour_type = struct.unpack(">IIBB", data[16:26])
    check(name, width, height)
    if colour_type == 3 or bits < 8:
        return _pillow(name, data)
    # a damaged end is told by the missing last chunk; the decoder itself would fill it with nothing
    if b"IEND" not in data[-64:]:
        raise RefusalError(name, "a PNG that ends too early", "a whole PNG", "save or copy the file again")
    return _plain(np.asarray(imagecodecs.png_decode(data)), "PNG", bits)


def _exr(name: str, data: bytes) -> Raster:
    found = exr.planes(name, data, check)
    by_last = {key.rsplit(".", 1)[-1].lower(): key for key in found}
    for wanted in (("r", "g", "b"), ("red", "green", "blue"), ("x", "y", "z")):
        if all(letter in by_last for letter in wanted):
            stack = np.dstack([found[by_last[letter]] for letter in wanted])
            seen = _finite(name, found[by_last["a"]]) if "a" in by_last else None
            notes = ("alpha was left out",) if "a" in by_last else ()
            return Raster(_finite(name, stack), "EXR", 32, notes, seen)
    names = sorted(found)
    chosen = next((by_last[one] for one in ("y", "z", "height", "displacement", "r") if one in by_last), names[0])
    notes = (f"of the channels {', '.join(names)[:120]} only {chosen} was taken",) if len(names) > 1 else ()
    return Raster(_finite(name, found[chosen][..., None]), "EXR", 32, notes)


def _finite(name: str, values: NDArray[Any]) -> NDArray[np.float32]:
    plain = np.asarray(values, np.float32)
    if not np.isfinite(plain).all():
        raise RefusalError(name, "values that are not numbers", "finite values", "mend the image and try again")
    return plain


def _tiff(name: str, data: bytes) -> Raster:
    with tifffile.TiffFile(io.BytesIO(data)) as file:
        page = file.pages[0]
        assert isinstance(page, tifffile.TiffPage)
        check(name, page.imagewidth, page.imagelength)
        kind = tifffile.PHOTOMETRIC(page.photometric)
        if kind == tifffile.PHOTOMETRIC.SEPARATED:
            raise _printing(name)
        if kind == tifffile.PHOTOMETRIC.PALETTE or page.dtype is None or page.bitspersample < 8:
            return _pillow(name, data)
        values = page.asarray()
        if values.ndim == 3 and page.planarconfig == 2 and page.samplesperpixel > 1:
            values = np.moveaxis(values, 0, -1)
        if kind == tifffile.PHOTOMETRIC.MINISWHITE:
            values = np.iinfo(values.dtype).max - values
        notes = (f"the first of {len(file.pages)} pages was taken",) if len(file.pages) > 1 else ()
    if values.dtype.kind == "f":
        return _plain(_finite(name, values), "TIFF", 32, notes)
    if values.dtype not in (np.uint8, np.uint16):
        raise RefusalError(name, f"samples of {values.dtype}", "8 or 16 bits, or floats", "save it with one of these")
    return _plain(values, "TIFF", values.dtype.itemsize * 8, notes)


def _printing(name: str) -> RefusalError:
    return RefusalError(name, "printing colours (CMYK)", "RGB or grey", "save it as an RGB image")


def _pillow(name: str, data: bytes) -> Raster:
    with Image.open(io.BytesIO(data), formats=("PNG", "JPEG", "TIFF", "WEBP", "TGA")) as image:
        check(name, image.width, image.height)
        if image.format == "JPEG":
            check_whole_jpeg(name, data)
        if image.mode in ("CMYK", "YCCK", "LAB", "HSV"):
            raise _printing(name)
        kind, mode = str(image.format), image.mode
        if mode == "1":
            values = np.asarray(image.convert("L"))
            return Raster(values[..., None], kind, 1, ("it has one bit a pixel: black and white only",))
        if mode in ("P", "PA"):
            return _plain(np.asarray(image.convert("RGBA")), kind, 8, ("its palette was spread out to colours",))
        if mode.startswith("I"):
            return Raster(np.asarray(image).astype(np.uint16)[..., None], kind, 16)
        return _plain(np.asarray(image if mode in ("L", "LA", "RGB", "RGBA") else image.convert("RGB")), kind, 8)


def check_whole_jpeg(name: str, data: bytes) -> None:
    """Refuse a JPEG that declares more than it holds; its decoder would fill the rest with grey and say nothing."""
    try:
        simplejpeg.decode_jpeg(data, colorspace="GRAY", min_height=1, min_width=1, min_factor=8, strict=True)
    except ValueError as error:
        if "premature end" in str(error).lower():
            raise RefusalError(
                name, "a damaged JPEG that ends before its last row", "a whole JPEG", "save or copy the file again"
            ) from None


def _plain(values: NDArray[Any], kind: str, bits: int, notes: tuple[str, ...] = ()) -> Raster:
    """Return one or three channels of an image that may have transparency."""
    if values.ndim == 2:
        values = values[..., None]
    count, alpha = values.shape[2], None
    if count in (2, 4):
        alpha = np.ascontiguousarray(values[..., -1])
        if alpha.min() != alpha.max():
            notes = (*notes, "it has transparency, which was left out")
        values = values[..., : count - 1]
    elif count > 4:
        notes = (*notes, f"of {count} channels the first three were taken")
        values = values[..., :3]
    return Raster(np.ascontiguousarray(values), kind, bits, notes, alpha)
