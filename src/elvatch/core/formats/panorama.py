"""Panoramas of the whole sky: Radiance RGBE or OpenEXR, twice as wide as high, linear light."""

from __future__ import annotations

import re
from dataclasses import dataclass

import imagecodecs
import numpy as np
from numpy.typing import NDArray

from elvatch.core.formats import exr
from elvatch.core.refusal import RefusalError

MOST_WIDE_PX = 8192
_EXPECTED = "a panorama of linear light, .hdr or .exr, twice as wide as high"
_SIZE = re.compile(rb"^-Y (\d{1,6}) \+X (\d{1,6})$", re.M)


@dataclass(frozen=True)
class DecodedPanorama:
    """Linear light (rows, cols, 3), row 0 the zenith, all finite and none negative; what was mended."""

    values: NDArray[np.float32]
    notes: tuple[str, ...]


def _check(name: str, width: int, height: int) -> None:
    if width > MOST_WIDE_PX:
        raise RefusalError(
            name, f"a panorama {width} px wide", f"at most {MOST_WIDE_PX} px", "reduce it before bringing it in"
        )
    if width != 2 * height or height < 8:
        raise RefusalError(name, f"{width} x {height} pixels", _EXPECTED, "bring in the whole sky, uncropped")


def _radiance(name: str, data: bytes) -> NDArray[np.float32]:
    size = _SIZE.search(data[:4096])
    if size is None:
        raise RefusalError(
            name, "a Radiance file that is not stored row by row from the top", _EXPECTED, "save it anew"
        )
    height, width = int(size[1]), int(size[2])
    _check(name, width, height)
    try:
        return np.asarray(imagecodecs.rgbe_decode(data), np.float32)
    except (imagecodecs.RgbeError, ValueError, IndexError) as error:
        raise RefusalError(
            name, f"a damaged Radiance file ({str(error)[:60]})", "a whole one", "copy it again"
        ) from None


def _exr(name: str, data: bytes) -> NDArray[np.float32]:
    planes = exr.planes(name, data, _check)
    by_end = {key.rsplit(".", 1)[-1].upper(): value for key, value in planes.items()}
    if not {"R", "G", "B"} <= set(by_end):
        raise RefusalError(name, f"channels {', '.join(sorted(planes))}", "R, G and B", "save it in colour")
    return np.stack([np.asarray(by_end[one], np.float32) for one in "RGB"], axis=-1)


def decode(name: str, data: bytes) -> DecodedPanorama:
    """Decode a panorama.

    Parameters
    ----------
    name : str
        For messages.
    data : bytes
        The whole file.

    Raises
    ------
    RefusalError
        When it is no Radiance or EXR file, not 2:1, wider than 8192 px, black, or mostly no numbers.
    """
    if data[:10].startswith((b"#?RADIANCE", b"#?RGBE")):
        values = _radiance(name, data)
    elif exr.looks_like(data):
        values = _exr(name, data)
    elif data.startswith((b"\x89PNG", b"\xff\xd8\xff", b"RIFF", b"BM")):
        raise RefusalError(name, "an image of 8 bits, which holds no sun", _EXPECTED, "bring in the original")
    else:
        raise RefusalError(name, "another kind of file", _EXPECTED, "choose another file")
    notes = []
    wrong = ~np.isfinite(values)
    if wrong.mean() > 0.5:
        raise RefusalError(name, "mostly no numbers", _EXPECTED, "save it anew")
    if wrong.any():
        values = np.where(wrong, np.float32(0), values)
        notes.append(f"{int(wrong.any(axis=-1).sum())} pixels that were no numbers are black now")
    if (values < 0).any():
        notes.append(f"{int((values < 0).any(axis=-1).sum())} pixels below 0 were lifted to it")
        values = np.maximum(values, np.float32(0))
    if not (values > 0).any():
        raise RefusalError(name, "nothing but black", _EXPECTED, "choose another file")
    # a few pixels of a half float's largest value are a sun that was cut off; more than a float can add up are not
    return DecodedPanorama(np.ascontiguousarray(np.minimum(values, np.float32(1e7))), tuple(notes))
