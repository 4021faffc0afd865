"""Files as they come from outside, made by code."""

from __future__ import annotations

import io
import zipfile
from typing import Any

import numpy as np
from numpy.typing import NDArray
from PIL import Image

from elvatch.core import noise
from elvatch.core.formats import png
from elvatch.core.stock import derive, intake
from elvatch.core.stock.intake import Proposal

Values = NDArray[Any]


def relief(size: int = 128, seed: int = 1) -> NDArray[np.float32]:
    """A seamless height, 0..1."""
    height = noise.periodic(size, 5, seed, 4, 0.55)
    return np.asarray(((height - height.min()) / np.ptp(height)).astype(np.float32))


def whole(shares: Values, bits: int = 8) -> Values:
    """0..1 as whole numbers."""
    most = 2**bits - 1
    return np.asarray(np.rint(np.clip(shares, 0, 1) * most), np.uint8 if bits == 8 else np.uint16)


def normal_of(height: NDArray[np.float32], relief_m: float = 0.05) -> NDArray[np.float32]:
    """The normal map of a height over a tile of 1 m, as 0..1 with green up."""
    return derive.normal_from_height(height, 1.0, relief_m) * 0.5 + 0.5


def colours(size: int = 128, seed: int = 3) -> NDArray[np.float32]:
    """A brown picture with grain."""
    light = noise.periodic(size, 9, seed, 4) * 0.15 + 0.4
    return light[..., None] * np.array([1.0, 0.8, 0.6], np.float32)


def files() -> dict[str, bytes]:
    """A whole set of five maps, plainly named."""
    height = relief()
    return {
        "mud_basecolor.png": png.encode(whole(colours())),
        "mud_normal.png": png.encode(whole(normal_of(height), 16)),
        "mud_roughness.png": png.encode(whole(0.6 + 0.3 * relief(seed=5))),
        "mud_ao.png": png.encode(whole(0.7 + 0.3 * height)),
        "mud_height.png": png.encode(whole(height, 16)),
    }


def propose(given: dict[str, bytes], title: str = "drop") -> Proposal:
    """What the stock makes of files."""
    return intake.propose([(path, lambda data=data: data) for path, data in given.items()], title)  # type: ignore[misc]


def zipped(given: dict[str, bytes], method: int = zipfile.ZIP_STORED) -> bytes:
    """Files as a zip."""
    stream = io.BytesIO()
    with zipfile.ZipFile(stream, "w", method) as out:
        for path, data in given.items():
            out.writestr(path, data)
    return stream.getvalue()


def saved(image: Image.Image, kind: str, **more: Any) -> bytes:
    """An image as a file of a kind that Pillow writes."""
    stream = io.BytesIO()
    image.save(stream, kind, **more)
    return stream.getvalue()
