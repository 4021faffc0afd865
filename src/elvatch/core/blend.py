"""Blend modes, each on the encoding it needs.

On raw numbers 0..1 the modes are those of the W3C's Compositing and Blending (2015): with a backdrop ``b`` and a
source ``s``, screen is 1-(1-b)(1-s), multiply bs, lighten the larger, darken the smaller; overlay is multiply of
2b below half and screen of 2b-1 above, so a source of 0.5 leaves the backdrop. Add and subtract are held to 0..1.
On colours, screen and overlay work on encoded values (sRGB), where half is half to the eye; the others on light.
"""

from __future__ import annotations

from typing import Literal, NamedTuple, get_args

import numpy as np
from numpy.typing import NDArray

from elvatch.core.colour import light_of, srgb_code
from elvatch.core.kernel import inner, kernel

BlendMode = Literal["screen", "multiply", "overlay", "add", "subtract", "lighten", "darken", "replace"]
Tinting = Literal["tint", "multiply", "screen", "overlay", "replace"]
SCREEN, MULTIPLY, OVERLAY, ADD, SUBTRACT, LIGHTEN, DARKEN, REPLACE, TINT = range(9)


class Blending(NamedTuple):
    """A blend mode: its number in compiled code, and what it does."""

    code: int
    hint: str


MODES: dict[BlendMode, Blending] = {
    "screen": Blending(SCREEN, "Screens: 1 − (1 − a)(1 − b)"),
    "multiply": Blending(MULTIPLY, "Multiplies"),
    "overlay": Blending(OVERLAY, "Overlays: half of the range is neutral"),
    "add": Blending(ADD, "Adds, up to 1"),
    "subtract": Blending(SUBTRACT, "Takes away, down to 0"),
    "lighten": Blending(LIGHTEN, "The larger of both"),
    "darken": Blending(DARKEN, "The smaller of both"),
    "replace": Blending(REPLACE, "Puts it in its place"),
}
TINTINGS: dict[Tinting, Blending] = {
    "tint": Blending(TINT, "Takes its hue, keeps the ground's lightness"),
    "multiply": Blending(MULTIPLY, "Darkens by it"),
    "screen": Blending(SCREEN, "Lightens by it"),
    "overlay": Blending(OVERLAY, "More contrast by it; mid grey is neutral"),
    "replace": Blending(REPLACE, "Covers with it"),
}
assert set(MODES) == set(get_args(BlendMode))
assert set(TINTINGS) == set(get_args(Tinting))


@inner
def blended(mode: int, backdrop: float, source: float) -> float:
    """Return one raw number blended with another, both 0..1."""
    if mode == SCREEN:
        return 1.0 - (1.0 - backdrop) * (1.0 - source)
    if mode == MULTIPLY:
        return backdrop * source
    if mode == OVERLAY:
        if backdrop <= 0.5:
            return 2.0 * source * backdrop
        return 1.0 - 2.0 * (1.0 - backdrop) * (1.0 - source)
    if mode == ADD:
        return min(backdrop + source, 1.0)
    if mode == SUBTRACT:
        return max(backdrop - source, 0.0)
    if mode == LIGHTEN:
        return max(backdrop, source)
    if mode == DARKEN:
        return min(backdrop, source)
    return source


@inner
def coloured(mode: int, total: NDArray[np.float32], red: float, green: float, blue: float, amount: float) -> None:
    """Change the colour in ``total[0:3]``, linear, towards what a mode makes of it with a linear colour."""
    light = 0.2126 * total[0] + 0.7152 * total[1] + 0.0722 * total[2]
    own = max(0.2126 * red + 0.7152 * green + 0.0722 * blue, 1e-4)
    for k in range(3):
        backdrop = float(total[k])
        source = red if k == 0 else (green if k == 1 else blue)
        if mode == TINT:
            made = min(source * light / own, 1.0)
        elif mode in (SCREEN, OVERLAY):
            made = light_of(blended(mode, srgb_code(backdrop), srgb_code(source)))
        else:
            made = blended(mode, backdrop, source)
        total[k] = backdrop + (made - backdrop) * amount


@kernel
def _over(mode: int, backdrop: NDArray[np.float64], source: NDArray[np.float64], out: NDArray[np.float64]) -> None:
    for i in range(len(out)):
        out[i] = blended(mode, backdrop[i], source[i])


def over(mode: BlendMode, backdrop: NDArray[np.float64], source: NDArray[np.float64]) -> NDArray[np.float64]:
    """Return raw numbers blended, element by element, as wear does it.

    Parameters
    ----------
    mode : str
        One of :data:`MODES`.
    backdrop, source : ndarray, float64
        Of one shape, 0..1.
    """
    out = np.empty(backdrop.size)
    _over(MODES[mode].code, np.ascontiguousarray(backdrop).ravel(), np.ascontiguousarray(source).ravel(), out)
    return out.reshape(backdrop.shape)
