"""Height files in: what they are is told from their first bytes, never from their name.

Sizes are checked in the header before anything is decoded. One module per format stands
behind one registry, :data:`FORMATS`.
"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from elvatch.core.formats import npy, png, tiff
from elvatch.core.formats.limits import MOST_BYTES
from elvatch.core.ground.heightfield import Heightfield
from elvatch.core.refusal import RefusalError

Samples = NDArray[np.uint8] | NDArray[np.uint16] | NDArray[np.float32]


class _Format(NamedTuple):
    name: str
    looks_like: Callable[[bytes], bool]
    decode: Callable[[str, bytes], Samples]


FORMATS = (
    _Format("PNG", png.looks_like, png.decode_grey),
    _Format("TIFF", tiff.looks_like, tiff.decode_grey),
    _Format("NPY", npy.looks_like, npy.decode_grey),
)


@dataclass(frozen=True)
class HeightFile:
    """A height file as it came: values without a unit, and the facts to judge them by.

    ``bits`` per sample; ``levels`` how many different values; ``share_lowest`` and
    ``share_highest`` of the samples that lie at either limit, 0..1.
    """

    format: str
    values: Samples
    bits: int
    levels: int
    lowest: float
    highest: float
    share_lowest: float
    share_highest: float

    @property
    def rows(self) -> int:
        """Samples from north to south."""
        return int(self.values.shape[0])

    @property
    def cols(self) -> int:
        """Samples from west to east."""
        return int(self.values.shape[1])


def read(name: str, data: bytes) -> HeightFile:
    """Read heights from the bytes of a PNG (8 or 16 bit grey), TIFF (8, 16, 32-bit float) or NPY file.

    Parameters
    ----------
    name : str
        What the file is called, for messages only.
    data : bytes
        The whole file.

    Raises
    ------
    RefusalError
        When it is none of these, too large, broken, not one channel, not finite or flat.
    """
    if not data:
        raise RefusalError(name, "an empty file", "a height image (PNG, TIFF or NPY)", "choose another file")
    if len(data) > MOST_BYTES:
        raise RefusalError(
            name,
            f"{len(data) / 1e6:.0f} MB",
            f"at most {MOST_BYTES / 1e6:.0f} MB",
            "reduce it before bringing it in",
        )
    for format_ in FORMATS:
        if format_.looks_like(data):
            return _with_facts(name, format_.name, format_.decode(name, data))
    raise RefusalError(
        name,
        "a file that is no PNG, TIFF or NPY inside",
        "a height image in one of these",
        "save it as one of these",
    )


def _with_facts(name: str, format_name: str, values: Samples) -> HeightFile:
    rows, cols = values.shape
    if rows < 8 or cols < 8:
        raise RefusalError(name, f"{cols} x {rows} samples", "at least 8 x 8", "choose a larger heightmap")
    bits = values.dtype.itemsize * 8
    if values.dtype == np.float32:
        bad = int(values.size - np.count_nonzero(np.isfinite(values)))
        if bad:
            raise RefusalError(
                name,
                f"{bad} samples that are NaN or infinite",
                "finite heights everywhere",
                "fill the holes first",
            )
    lowest, highest = float(values.min()), float(values.max())
    if lowest == highest:
        raise RefusalError(
            name, f"the same value {lowest:g} everywhere", "heights that differ", "choose a file with relief"
        )
    levels = len(np.unique(values))
    return HeightFile(
        format=format_name,
        values=values,
        bits=bits,
        levels=levels,
        lowest=lowest,
        highest=highest,
        share_lowest=float(np.count_nonzero(values == values.min()) / values.size),
        share_highest=float(np.count_nonzero(values == values.max()) / values.size),
    )


def place(file: HeightFile, width_m: float, depth_m: float, lowest_m: float, highest_m: float) -> Heightfield:
    """Give a height file its true size: its lowest value becomes ``lowest_m``, its highest ``highest_m``.

    Parameters
    ----------
    file : HeightFile
        As read.
    width_m, depth_m : float
        Size east-west and north-south, metres, above 0.
    lowest_m, highest_m : float
        Elevations, metres, the second above the first.

    Returns
    -------
    Heightfield
        float32 metres.
    """
    if not (width_m > 0 and depth_m > 0):
        raise RefusalError("size", f"{width_m:g} x {depth_m:g} m", "two lengths above 0 m", "enter the true size")
    if not highest_m > lowest_m:
        raise RefusalError(
            "height range",
            f"{lowest_m:g} to {highest_m:g} m",
            "a highest above the lowest",
            "enter the true range",
        )
    scale = (highest_m - lowest_m) / (file.highest - file.lowest)
    heights = (file.values.astype(np.float64) - file.lowest) * scale + lowest_m
    return Heightfield(np.ascontiguousarray(heights, np.float32), width_m, depth_m)
