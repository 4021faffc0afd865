"""Images whose channels say where things lie: taken apart, measured, made ready for lookups. All raw."""

from __future__ import annotations

import math
from dataclasses import dataclass
from typing import NamedTuple, get_args

import numpy as np
from numpy.typing import NDArray

from elvatch.core.document.marks import Placing
from elvatch.core.document.rule import Channel
from elvatch.core.formats import isolated, texture
from elvatch.core.kernel import inner, peek_code
from elvatch.core.refusal import RefusalError
from elvatch.core.results import result

CHANNELS: tuple[Channel, ...] = get_args(Channel)
_LUMA = np.array([0.2126, 0.7152, 0.0722], np.float32)
_CODES = 65535
_ASPECT = 0.01
# columns of a plane's numbers
WEST, NORTH, WIDE, DEEP, FLIP_X, FLIP_Y, LOW, SPAN = range(8)
PLANE_NUMBERS = 8


@result
class ChannelFacts:
    """One channel of an image: its values between ``lowest`` and ``highest`` of 0..1, the mean of its
    values held to 0..1 (the share of the ground it selects when it covers it), how many values there are."""

    channel: Channel
    lowest: float
    highest: float
    share: float
    levels: int


@dataclass(frozen=True)
class PackedImage:
    """An image taken apart: each channel that it has as shares, and what is to be known of it."""

    width_px: int
    height_px: int
    format: str
    bits: int
    planes: dict[Channel, NDArray[np.float32]]
    notes: tuple[str, ...]

    def facts(self) -> list[ChannelFacts]:
        """Return what each channel holds."""
        return [
            ChannelFacts(
                channel,
                float(plane.min()),
                float(plane.max()),
                float(np.clip(plane, 0, 1).mean(dtype=np.float64)),
                len(np.unique(plane)),
            )
            for channel, plane in self.planes.items()
        ]


def apart(name: str, data: bytes) -> PackedImage:
    """Take an image apart into its channels.

    Parameters
    ----------
    name : str
        For messages.
    data : bytes
        PNG, TIFF or EXR of 8, 16 or 32 bits (or JPEG, WebP, TGA).

    Returns
    -------
    PackedImage
        ``R``, ``G``, ``B`` (one grey channel is ``R`` alone), ``A`` where there is one, and ``brightness``
        (Rec. 709 weights on the raw values) of colours; shares 0..1 of whole numbers, floats as they are.

    Raises
    ------
    RefusalError
        When it is empty, damaged, of no known kind, or too small or large.
    """
    image = isolated.texture(name, data)
    shares = image.shares()
    planes: dict[Channel, NDArray[np.float32]] = {}
    letters: tuple[Channel, ...] = ("R", "G", "B")
    for k in range(shares.shape[2]):
        planes[letters[k]] = np.ascontiguousarray(shares[..., k])
    notes = [note for note in image.notes if "transparency" not in note and "alpha" not in note]
    if image.alpha is not None:
        planes["A"] = texture.Raster(image.alpha[..., None], image.format, image.bits).shares()[..., 0]
        if not planes["A"].any():
            notes.append("its alpha is 0 everywhere: it selects nothing; the other channels are read as they are")
    if shares.shape[2] == 3:
        planes["brightness"] = shares @ _LUMA
    if image.format == "JPEG":
        notes.append("it is a JPEG: its values are near what was meant, not exactly that")
    height, width = shares.shape[:2]
    return PackedImage(width, height, image.format, image.bits, planes, tuple(notes))


def plane_of(packed: PackedImage, channel: Channel) -> NDArray[np.float32]:
    """Return one channel of an image; of a grey one brightness is its one channel.

    Raises
    ------
    RefusalError
        When it has no such channel.
    """
    if channel == "brightness" and channel not in packed.planes:
        channel = "R"
    if channel not in packed.planes:
        raise RefusalError(
            "channel", f"no channel {channel}", "one of " + ", ".join(packed.planes), "choose one of these"
        )
    return packed.planes[channel]


def misfit(packed: PackedImage, width_m: float, depth_m: float) -> str | None:
    """Say that an image laid from edge to edge would be stretched, or return None."""
    ratio = (packed.width_px / packed.height_px) / (width_m / depth_m)
    if abs(math.log(ratio)) <= _ASPECT:
        return None
    return (
        f"it is {packed.width_px} x {packed.height_px} pixels, the ground {width_m:g} x {depth_m:g} m: laid from "
        "edge to edge it is stretched; place it by corner and size to keep its shape"
    )


class ChannelPlane(NamedTuple):
    """A channel as compiled code looks it up: 16-bit codes between ``low`` and ``low + span``."""

    codes: NDArray[np.uint16]
    low: float
    span: float


def stored(plane: NDArray[np.float32]) -> ChannelPlane:
    """Return a channel made ready for lookups. What lies within 0..1 keeps 8 and 16 bits exactly."""
    low, high = min(0.0, float(plane.min())), max(1.0, float(plane.max()))
    codes = np.rint((plane.astype(np.float64) - low) / (high - low) * _CODES).astype(np.uint16)
    return ChannelPlane(np.ascontiguousarray(codes), low, high - low)


def over(plane: ChannelPlane, uv: NDArray[np.float32]) -> NDArray[np.float32]:
    """Return a channel's values over a thing's texture coordinates, bilinear between texel middles; beyond 0..1 the
    image begins anew.

    Parameters
    ----------
    plane : ChannelPlane
        The channel.
    uv : ndarray, shape (n, 2), float32
        To the right and down, the whole image from 0 to 1.
    """
    high, wide = plane.codes.shape
    right, down = uv[:, 0] * np.float32(wide) - np.float32(0.5), uv[:, 1] * np.float32(high) - np.float32(0.5)
    c, r = np.floor(right), np.floor(down)
    s, t = right - c, down - r
    col, row = c.astype(np.int64), r.astype(np.int64)

    def texel(down_by: int, right_by: int) -> NDArray[np.float32]:
        codes = plane.codes[(row + down_by) % high, (col + right_by) % wide]
        return np.asarray(codes, np.float32)

    top = texel(0, 0) * (1 - s) + texel(0, 1) * s
    low = texel(1, 0) * (1 - s) + texel(1, 1) * s
    found: NDArray[np.float32] = (plane.low + plane.span * (top + (low - top) * t) / _CODES).astype(np.float32)
    return found


def place_numbers(plane: ChannelPlane, placing: Placing, width_m: float, depth_m: float) -> list[float]:
    """Return where a plane lies, as compiled code takes it."""
    over_all = placing.fit == "ground"
    west, south = (0.0, 0.0) if over_all else (placing.east_m, placing.north_m)
    wide, deep = (width_m, depth_m) if over_all else (placing.width_m, placing.depth_m)
    flips = float(placing.flip_east_west), float(placing.flip_north_south)
    return [west, south + deep, wide, deep, *flips, plane.low, plane.span]


@inner
def value_at(address: int, wide: int, high: int, numbers: NDArray[np.float64], p: int, x: float, y: float) -> float:
    """Return a channel's value at a place, bilinear between texel middles; 0 beyond its edges."""
    u, v = (x - numbers[p, WEST]) / numbers[p, WIDE], (numbers[p, NORTH] - y) / numbers[p, DEEP]
    if not (0.0 <= u <= 1.0 and 0.0 <= v <= 1.0):
        return 0.0
    if numbers[p, FLIP_X] > 0.0:
        u = 1.0 - u
    if numbers[p, FLIP_Y] > 0.0:
        v = 1.0 - v
    right = min(max(u * wide - 0.5, 0.0), wide - 1.0)
    down = min(max(v * high - 0.5, 0.0), high - 1.0)
    c, r = min(int(right), wide - 2), min(int(down), high - 2)
    s, t = right - c, down - r
    first = r * wide + c
    top = peek_code(address, first) * (1.0 - s) + peek_code(address, first + 1) * s
    low = peek_code(address, first + wide) * (1.0 - s) + peek_code(address, first + wide + 1) * s
    return float(numbers[p, LOW] + numbers[p, SPAN] * (top + (low - top) * t) / 65535.0)
