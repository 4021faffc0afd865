"""Colours as somebody else's program wants them: OpenColorIO's own built-in configuration does it."""

from __future__ import annotations

import functools
from collections.abc import Callable
from typing import Any, get_args

import numpy as np
from numpy.typing import NDArray

from elvatch.core import colour
from elvatch.core.document.sheet import Encoding

CONFIG = "ocio://cg-config-v1.0.0_aces-v1.3_ocio-v2.1"
"""One that stays as it is: the same recipe gives the same bytes after an update of the library."""
SPACES: dict[Encoding, str] = {
    "sRGB": "sRGB - Texture",
    "Linear Rec.709": "Linear Rec.709 (sRGB)",
    "ACEScg": "ACEScg",
    "ACES2065-1": "ACES2065-1",
    "ACEScct": "ACEScct",
    "ACEScc": "ACEScc",
    "Linear Rec.2020": "Linear Rec.2020",
    "Linear P3-D65": "Linear P3-D65",
    "sRGB in AP1": "sRGB Encoded AP1 - Texture",
    "Gamma 1.8 Rec.709": "Gamma 1.8 Rec.709 - Texture",
    "Gamma 2.2 Rec.709": "Gamma 2.2 Rec.709 - Texture",
    "Gamma 2.4 Rec.709": "Gamma 2.4 Rec.709 - Texture",
    "Gamma 2.2 AP1": "Gamma 2.2 AP1 - Texture",
}
"""What each encoding is called there."""
_REC709 = (0.64, 0.33, 0.30, 0.60, 0.15, 0.06, 0.3127, 0.3290)
_AP1 = (0.713, 0.293, 0.165, 0.830, 0.128, 0.044, 0.32168, 0.33767)
_AP0 = (0.7347, 0.2653, 0.0, 1.0, 0.0001, -0.0770, 0.32168, 0.33767)
_REC2020 = (0.708, 0.292, 0.170, 0.797, 0.131, 0.046, 0.3127, 0.3290)
_P3 = (0.680, 0.320, 0.265, 0.690, 0.150, 0.060, 0.3127, 0.3290)
_PRIMARIES: dict[Encoding, tuple[float, ...]] = {
    "Linear Rec.709": _REC709,
    "ACEScg": _AP1,
    "ACES2065-1": _AP0,
    "Linear Rec.2020": _REC2020,
    "Linear P3-D65": _P3,
}
Colours = NDArray[np.float32]


def primaries(encoding: Encoding) -> tuple[float, ...]:
    """Return red, green, blue and white of linear light, x and y of each (SMPTE ST 2065, ITU-R BT.709, BT.2020);
    nothing of what is not linear."""
    return _PRIMARIES.get(encoding, ())


@functools.cache
def _processor(encoding: Encoding) -> Any:
    import PyOpenColorIO as ocio  # heavy: only who encodes pays for it

    config = ocio.Config.CreateFromFile(CONFIG)
    return config.getProcessor(SPACES["Linear Rec.709"], SPACES[encoding]).getDefaultCPUProcessor()


def encoded(linear: Colours, encoding: Encoding) -> Colours:
    """Return linear light of Rec. 709, shape (..., 3), in another encoding."""
    if encoding == "Linear Rec.709":
        return linear
    if encoding == "sRGB":
        return colour.to_srgb(linear)
    out = np.ascontiguousarray(linear, np.float32).copy()
    apply: Callable[[Colours], None] = _processor(encoding).applyRGB
    apply(out)
    return out


ENCODINGS: tuple[Encoding, ...] = get_args(Encoding)
