"""Several pictures in one answer, in a form that costs little to write and to read.

A frame is the length of its head (4 bytes, little-endian), its head as JSON, then the pictures one after the other.
``plain`` pictures are RGBA as a canvas takes them, for a page on the machine itself; ``jpeg`` and ``png`` for one
further away, the first losing at most a few steps of 255 (quality 92, full colour).
"""

from __future__ import annotations

import io
import json
from collections.abc import Sequence
from typing import Literal

import numpy as np
from numpy.typing import NDArray
from PIL import Image

from elvatch.core.formats import png
from elvatch.core.picture.picture import Picture, View

Codec = Literal["plain", "jpeg", "png"]
_QUALITY = 92


def written(views: Sequence[View], taken: Sequence[Picture], codec: Codec, seconds: float) -> bytes:
    """Return pictures as one frame; ``seconds`` are those that they took to make."""
    parts = [_encoded(one.pixels, codec) for one in taken]
    head = {
        "serverMs": round(seconds * 1000, 1),
        "codec": codec,
        "pictures": [
            {
                "stand": view.stand,
                "widthPx": view.width_px,
                "heightPx": view.height_px,
                "bytes": len(part),
                "distanceM": round(one.facts.distance_m, 3),
                "mmPerPixel": round(one.facts.mm_per_pixel, 3),
                "peg": one.facts.peg,
                "things": one.facts.things,
            }
            for view, one, part in zip(views, taken, parts, strict=True)
        ],
    }
    text = json.dumps(head).encode()
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
