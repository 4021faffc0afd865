"""Photographs to judge by: the colour of a patch, how light is spread, a layer's look taken towards it."""

from __future__ import annotations

from collections.abc import Callable
from typing import NamedTuple

import numpy as np
import scipy
from numpy.typing import NDArray
from PIL import Image

from elvatch.core import colour
from elvatch.core.colour_difference import ciede2000, lab
from elvatch.core.document.layer import Look
from elvatch.core.document.reference import Patch
from elvatch.core.kernel import plainly
from elvatch.core.mapping import tint
from elvatch.core.parallel import Token

Colour = NDArray[np.float64]
MOST_PX = 1600
"""Along the longer side of a photograph that is kept: it is looked at, never laid."""
BINS = 40
_TURN_DEG = 60.0
"""Of the colour wheel, that weighs in the search as much as a factor of e on brightness."""
_BRIGHTNESS, _SATURATION = (0.1, 4.0), (0.05, 3.0)
_CHANGE = 0.02
"""What a change of look weighs against L*a*b*: of looks that come as near, the one that changes least."""
_ROUNDS = 4


def kept_px(pixels: NDArray[np.uint8]) -> NDArray[np.uint8]:
    """Return a photograph as it is kept, shape (rows, cols, 3), sRGB: no larger than it is looked at."""
    longest = max(pixels.shape[:2])
    if longest <= MOST_PX:
        return np.ascontiguousarray(pixels)
    size = [max(1, round(side * MOST_PX / longest)) for side in pixels.shape[1::-1]]
    return np.asarray(Image.fromarray(pixels).resize((size[0], size[1]), Image.Resampling.BOX))


def part(pixels: NDArray[np.uint8], patch: Patch | None) -> NDArray[np.uint8]:
    """Return the pixels of a patch, at least one; all of them without a patch."""
    if patch is None:
        return pixels
    rows, cols = pixels.shape[:2]
    row, col = (min(int(at * n), n - 1) for at, n in ((patch.top, rows), (patch.left, cols)))
    last_row = max(row + 1, round(patch.bottom * rows))
    return pixels[row:last_row, col : max(col + 1, round(patch.right * cols))]


def mean_of(pixels: NDArray[np.uint8]) -> Colour:
    """Return the mean of sRGB pixels in linear light, (3,)."""
    linear = colour.to_linear((np.arange(256) / 255).astype(np.float32)).astype(np.float64)
    return np.array([linear[pixels[..., c]].mean() for c in range(3)])


def lightness(pixels: NDArray[np.uint8]) -> NDArray[np.float64]:
    """Return what share of sRGB pixels has each of 40 even steps of lightness (CIE L*, 0 to 100), (40,)."""
    some = pixels.reshape(-1, 3)
    some = some[:: max(1, len(some) // 200_000)]
    counts, _ = np.histogram(lab(colour.to_linear((some / 255).astype(np.float32)))[:, 0], BINS, (0, 100))
    return np.asarray(counts / len(some))


def shown_by(look: Look, texels: NDArray[np.floating]) -> Colour:
    """Return the mean base colour that a look makes of a set's texels, (n, 3) linear."""
    layer, adjust = np.array(tint.numbers(look)), plainly(tint.tinted)
    out = np.array(texels, np.float32)
    for row in out:
        adjust(layer, 0, row, 0.0)
    return np.asarray(out.mean(axis=0), np.float64)


class FittedLook(NamedTuple):
    """A look, and how far its mean colour is from the one that was wanted, CIEDE2000."""

    look: Look
    apart: float


def fitted(look: Look, texels: NDArray[np.floating], wanted: Colour) -> FittedLook:
    """Return the look whose mean base colour is nearest to a wanted one, by the least change.

    Parameters
    ----------
    look : Look
        What is changed: its brightness, colour turn and saturation only.
    texels : (n, 3) float
        Some of the set's base colours, linear.
    wanted : (3,) float
        Linear.
    """
    goal = lab(np.clip(wanted, 0, 1))

    def of(x: NDArray[np.float64]) -> Look:
        brightness, saturation = (
            float(np.clip(np.exp(v), *ends)) for v, ends in ((x[0], _BRIGHTNESS), (x[2], _SATURATION))
        )
        turn = float((x[1] * _TURN_DEG + 180) % 360 - 180)
        return look.model_copy(update={"brightness": brightness, "hue_deg": turn, "saturation": saturation})

    start = np.array([np.log(look.brightness), look.hue_deg / _TURN_DEG, np.log(max(look.saturation, 0.05))])

    def off(change: NDArray[np.float64]) -> NDArray[np.float64]:
        # steps of the search are shares of what is changed: it begins at 1, not at 0
        by = change - 1
        return np.concatenate([lab(shown_by(of(start + by), texels)) - goal, _CHANGE * by])

    half = 180 / _TURN_DEG
    low = np.array([np.log(_BRIGHTNESS[0]), -half, np.log(_SATURATION[0])])
    high = np.array([np.log(_BRIGHTNESS[1]), half, np.log(_SATURATION[1])])
    ends = [np.minimum(low - start, -1e-3) + 1, np.maximum(high - start, 1e-3) + 1]
    found = scipy.optimize.least_squares(off, np.ones(3), bounds=(ends[0], ends[1]), diff_step=[1e-3])
    made = of(start + found.x - 1)
    return FittedLook(made, float(ciede2000(lab(shown_by(made, texels)), goal)))


def untoned(shown: Colour) -> Colour:
    """Return the light that the pictures' tone curve shows as a linear colour, (3,)."""
    tone = plainly(colour.tone)
    held = np.clip(shown, 1e-4, 0.97)

    def off(light: Colour) -> Colour:
        r, g, b = (max(float(value), 1e-6) for value in light)
        return np.array(tone(r, g, b)) - held

    return np.maximum(np.asarray(scipy.optimize.root(off, held + 0.02).x, np.float64), 1e-6)


def towards(
    look: Look,
    texels: NDArray[np.floating],
    photograph: Colour,
    seen: Callable[[Look], Colour],
    token: Token | None = None,
) -> FittedLook:
    """Return the look with which a layer is seen, under the present light, as a photograph's patch is.

    Light is taken to act on each channel by itself: after each round the base colour that is asked for is corrected
    by what was seen.

    Parameters
    ----------
    look : Look
        What is changed.
    texels : (n, 3) float
        Some of the set's base colours, linear.
    photograph : (3,) float
        Mean of the patch, linear.
    seen : callable
        Returns the mean of a picture of the layer with a look, linear.
    token : Token, optional
        Asked between rounds.
    """
    wanted_light, best = untoned(photograph), FittedLook(look, np.inf)
    goal, base, now = lab(photograph), shown_by(look, texels), look
    for _ in range(_ROUNDS):
        if token is not None:
            token.check()
        shown = seen(now)
        apart = float(ciede2000(lab(shown), goal))
        if apart < best.apart:
            best = FittedLook(now, apart)
        base = base * wanted_light / untoned(shown)
        now = fitted(now, texels, base).look
        base = shown_by(now, texels)
    apart = float(ciede2000(lab(seen(now)), goal))
    return FittedLook(now, apart) if apart < best.apart else best


def hex_of(linear: Colour) -> str:
    """Return a linear colour as sRGB in hexadecimal.

    Examples
    --------
    >>> hex_of(np.array([1.0, 0.0, 0.2140]))
    '#ff007f'
    """
    codes = colour.to_srgb(np.clip(linear, 0, 1).astype(np.float32)) * 255
    return "#" + "".join(f"{int(code + 0.5):02x}" for code in codes)
