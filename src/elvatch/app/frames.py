"""Several pictures in one answer, in a form that costs little to write and to read.

A frame is the length of its head (4 bytes, little-endian), its head as JSON, then the pictures one after the other.
``plain`` pictures are RGBA as a canvas takes them, for a page on the machine itself; ``jpeg`` and ``png`` for one
further away, the first losing at most a few steps of 255 (quality 92, full colour).
"""

from __future__ import annotations

import io
from collections.abc import Sequence
from typing import Literal

import numpy as np
from numpy.typing import NDArray
from PIL import Image
from pydantic import TypeAdapter

from elvatch.core.formats import png
from elvatch.core.picture.picture import Picture, StandName, View
from elvatch.core.results import result

Codec = Literal["plain", "jpeg", "png"]
_QUALITY = 92


@result
class FramePart:
    """One picture of a frame: which, its size, how many bytes it takes, and what is told of it."""

    stand: StandName
    width_px: int
    height_px: int
    bytes: int
    distance_m: float
    mm_per_pixel: float
    peg: tuple[float, float] | None
    things: int


@result
class FrameHead:
    """What stands before the pictures of a frame."""

    server_ms: float
    codec: Codec
    pictures: list[FramePart]


_HEAD = TypeAdapter(FrameHead)


def written(views: Sequence[View], taken: Sequence[Picture], codec: Codec, seconds: float) -> bytes:
    """Return pictures as one frame; ``seconds`` are those that they took to make."""
    parts = [_encoded(one.pixels, codec) for one in taken]
    told = [
        FramePart(
            view.stand,
            view.width_px,
            view.height_px,
            len(part),
            round(one.facts.distance_m, 3),
            round(one.facts.mm_per_pixel, 3),
            one.facts.peg,
            one.facts.things,
        )
        for view, one, part in zip(views, taken, parts, strict=True)
    ]
    text = _HEAD.dump_json(FrameHead(round(seconds * 1000, 1), codec, told), by_alias=True)
    return b"".join([len(text).to_bytes(4, "little"), text, *parts])


def _encoded(pixels: NDArray[np.uint8], codec: Codec) -> bytes:
    if codec == "plain":
        whole = np.full((*pixels.shape[:2], 4), 255, np.uint8)
        whole[..., :3] = pixels
        return whole.tobytes()
    if codec == "png":
        return png.encode(pixels)
    out = io.BytesIO()
    Image.fromarray(pixels).save(out, "JPEG", quality=_QUALITY, subsampling=0)
    return out.getvalue()
