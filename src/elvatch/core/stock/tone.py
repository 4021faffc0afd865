"""The family of colours that a set belongs to, by the mean of its base colour."""

from __future__ import annotations

import colorsys
from collections.abc import Sequence
from typing import Literal, get_args

import numpy as np

from elvatch.core import colour

Tone = Literal["dark", "grey", "pale", "brown", "red", "yellow", "green", "blue", "none"]
TONES: tuple[Tone, ...] = get_args(Tone)


def of(linear: Sequence[float] | None) -> Tone:
    """Return the family of a mean linear colour; "none" for a set without one.

    Examples
    --------
    >>> of((0.14, 0.14, 0.14)), of((0.02, 0.015, 0.01)), of((0.07, 0.09, 0.04)), of((0.2, 0.15, 0.1))
    ('grey', 'dark', 'green', 'brown')
    """
    if linear is None:
        return "none"
    r, g, b = (float(v) for v in colour.to_srgb(np.array(linear, np.float32)))
    hue, saturation, value = colorsys.rgb_to_hsv(r, g, b)
    if value < 0.24:
        return "dark"
    if saturation < 0.09:
        return "pale" if value > 0.68 else "grey"
    turn = hue * 360
    if turn < 18 or turn >= 330:
        return "red" if saturation > 0.35 else "brown"
    if turn < 58:
        return "yellow" if value > 0.6 and turn > 36 else "brown"
    return "green" if turn < 170 else "blue"
