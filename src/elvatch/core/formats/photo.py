"""Colour images from outside: eight bits a channel, sizes checked in the header before decoding."""

from __future__ import annotations

import io

import numpy as np
from numpy.typing import NDArray
from PIL import Image

from elvatch.core.formats.limits import check_size
from elvatch.core.formats.texture import check_whole_jpeg
from elvatch.core.refusal import RefusalError

_FORMATS = ("PNG", "JPEG", "TIFF", "WEBP")
_MODES = {"RGB", "RGBA", "L", "LA", "P", "PA", "1"}
MOST_BYTES = 256 << 20
_MOST_PIXELS = 67_000_000


def decode(name: str, data: bytes) -> NDArray[np.uint8]:
    """Decode a colour image as sRGB, shape (rows, cols, 3); transparency is laid on grey.

    Raises
    ------
    RefusalError
        When it is no PNG, JPEG, TIFF or WebP, too large, broken, or in printing colours.
    """
    if not data:
        raise RefusalError(name, "an empty file", "a colour image", "choose another file")
    if len(data) > MOST_BYTES:
        raise RefusalError(name, f"{len(data) / 1e6:.0f} MB", f"at most {MOST_BYTES / 1e6:.0f} MB", "reduce it first")
    try:
        with Image.open(io.BytesIO(data), formats=_FORMATS) as image:
            check_size(name, image.width, image.height)
            if image.width * image.height > _MOST_PIXELS:
                found = f"{image.width} x {image.height} pixels"
                raise RefusalError(name, found, f"at most {_MOST_PIXELS / 1e6:.0f} million", "reduce it first")
            if image.mode not in _MODES:
                found = f"pixels of kind {image.mode}"
                raise RefusalError(name, found, "RGB or grey of 8 bits a channel", "save it as an RGB image")
            if image.format == "JPEG":
                check_whole_jpeg(name, data)
            shown = image.convert("RGBA")
    except RefusalError:
        raise
    except MemoryError:
        raise
    except Exception as error:  # decoders of damaged files fail in every way there is
        found = f"a damaged or unknown image ({str(error)[:80]})"
        raise RefusalError(name, found, "a PNG, JPEG, TIFF or WebP", "save or copy it again") from None
    under = Image.new("RGBA", shown.size, (128, 128, 128, 255))
    return np.asarray(Image.alpha_composite(under, shown).convert("RGB"))
