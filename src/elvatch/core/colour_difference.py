"""How far apart two colours look: CIE L*a*b* and CIEDE2000."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

Colours = NDArray[np.floating]
_TO_XYZ = np.array(
    [[0.4123908, 0.3575843, 0.1804808], [0.2126390, 0.7151687, 0.0721923], [0.0193308, 0.1191948, 0.9505322]]
)
"""From linear light of Rec. 709."""
_WHITE = _TO_XYZ.sum(axis=1)


def lab(linear: Colours) -> NDArray[np.float64]:
    """Return CIE L*a*b* (CIE 1976) of linear Rec. 709 colours under their own white, shape (..., 3)."""
    part = np.asarray(linear, np.float64) @ _TO_XYZ.T / _WHITE
    bent = np.where(part > (6 / 29) ** 3, np.cbrt(np.maximum(part, 0)), part / (3 * (6 / 29) ** 2) + 4 / 29)
    x, y, z = bent[..., 0], bent[..., 1], bent[..., 2]
    return np.stack([116 * y - 16, 500 * (x - y), 200 * (y - z)], -1)


def _hue(a: NDArray[np.float64], b: NDArray[np.float64]) -> NDArray[np.float64]:
    found: NDArray[np.float64] = np.degrees(np.arctan2(b, a)) % 360
    return found


def ciede2000(one: NDArray[np.float64], other: NDArray[np.float64]) -> NDArray[np.float64]:
    """Return the CIEDE2000 difference of L*a*b* colours, shape (...).

    Parameters
    ----------
    one, other : ndarray, shape (..., 3), float64
        From :func:`lab`.

    Notes
    -----
    As Sharma, Wu & Dalal 2005, "The CIEDE2000 color-difference formula", with their treatment of hues; 1 is about
    what can just be seen.
    """
    l1, a1, b1, l2, a2, b2 = *np.moveaxis(one, -1, 0), *np.moveaxis(other, -1, 0)
    chroma = (np.hypot(a1, b1) + np.hypot(a2, b2)) / 2
    grey = 0.5 * (1 - np.sqrt(chroma**7 / (chroma**7 + 25.0**7)))
    a1, a2 = a1 * (1 + grey), a2 * (1 + grey)
    c1, c2 = np.hypot(a1, b1), np.hypot(a2, b2)
    h1, h2 = _hue(a1, b1), _hue(a2, b2)
    neither = c1 * c2 == 0
    turn = np.where(neither, 0.0, (h2 - h1 + 180) % 360 - 180)
    d_l, d_c, d_h = l2 - l1, c2 - c1, 2 * np.sqrt(c1 * c2) * np.sin(np.radians(turn) / 2)
    far = np.abs(h1 - h2) > 180
    mean_h = np.where(neither, h1 + h2, (h1 + h2 + np.where(far, np.where(h1 + h2 < 360, 360, -360), 0)) / 2)
    mean_l, mean_c = (l1 + l2) / 2, (c1 + c2) / 2
    of = np.radians
    t = (
        1
        - 0.17 * np.cos(of(mean_h - 30))
        + 0.24 * np.cos(of(2 * mean_h))
        + 0.32 * np.cos(of(3 * mean_h + 6))
        - 0.20 * np.cos(of(4 * mean_h - 63))
    )
    s_l = 1 + 0.015 * (mean_l - 50) ** 2 / np.sqrt(20 + (mean_l - 50) ** 2)
    s_c, s_h = 1 + 0.045 * mean_c, 1 + 0.015 * mean_c * t
    blue = 60 * np.exp(-(((mean_h - 275) / 25) ** 2))
    r = -np.sin(of(blue)) * 2 * np.sqrt(mean_c**7 / (mean_c**7 + 25.0**7))
    parts = (d_l / s_l) ** 2 + (d_c / s_c) ** 2 + (d_h / s_h) ** 2 + r * (d_c / s_c) * (d_h / s_h)
    found: NDArray[np.float64] = np.sqrt(np.maximum(parts, 0))
    return found
