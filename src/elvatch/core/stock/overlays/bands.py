"""What follows levels and paths: tidemarks, the rims of dried pools, and the tracks of wheels and soles.

Of what follows levels, rows run upwards in the measure from its lowest; of what follows a path, columns run
along it and rows across, from left to right of who walks it.
"""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from elvatch.core import noise
from elvatch.core.stock import periodic
from elvatch.core.stock.generators.common import Map, Wanted, smoothstep
from elvatch.core.stock.generators.controls import Control
from elvatch.core.stock.overlays.strokes import held

TIDEMARKS = (
    Control("lines", "lines", "", 1.0, 12.0, 5.0, 1.0, "how many stands of the water left one"),
    Control("crisp", "crisp", "", 0.0, 1.0, 0.6, 0.05, "how thin their lower edge is"),
)
DRYING = (
    Control("rings", "rings", "", 0.0, 8.0, 3.0, 1.0, "how often it stood still while it dried"),
    Control("rim", "rim", "", 0.0, 1.0, 0.6, 0.05, "how strong the outer rim is"),
)
TYRES = (
    Control("gauge", "gauge", "%", 40.0, 90.0, 70.0, 1.0, "from wheel to wheel, of the track's width"),
    Control("tyre", "tyre", "%", 4.0, 30.0, 14.0, 1.0, "width of a tyre, of the track's width"),
    Control("lugs", "lugs", "", 2.0, 24.0, 9.0, 1.0, "along one repeat"),
)
BOOTS = (Control("blurred", "blurred", "", 0.0, 1.0, 0.3, 0.05, "how far they were trodden over"),)
BARROW = (
    Control("wheel", "wheel", "%", 4.0, 30.0, 11.0, 1.0, "its width, of the track's width"),
    Control("boots", "boots", "", 0.0, 1.0, 0.6, 0.05, "how clear the marks of who pushed it are"),
)


def _rows(size: int, profile: NDArray[np.float64]) -> Map:
    return held(np.repeat(profile[:, None], size, axis=1))


def tidemarks(wanted: Wanted) -> Map:
    """Draw the crusts of falling water, crisp below and fading upwards, lowest first."""
    size, seed, controls, _ = wanted
    rng = np.random.default_rng(seed)
    v, total = (np.arange(size) + 0.5) / size, np.zeros(size)
    count = round(controls["lines"])
    for k in range(count):
        level = (k + 0.5 + rng.uniform(-0.3, 0.3)) / count
        strong, reach = rng.uniform(0.3, 1.0), rng.uniform(0.25, 0.7) / count
        above = (v - level) / reach
        lower = smoothstep(-0.02 - 0.3 * (1 - controls["crisp"]), 0.02, above)
        total = np.maximum(total, strong * lower * np.exp(-np.clip(above, 0, None) * 2.6))
    # none where the tile begins and ends
    ends = np.clip(np.minimum(v, 1 - v) / 0.02, 0, 1)
    return _rows(size, total * ends)


def drying(wanted: Wanted) -> Map:
    """Draw the stain of a pool that dried: from its middle outwards, rings and then the rim."""
    size, seed, controls, _ = wanted
    rng = np.random.default_rng(seed)
    v = (np.arange(size) + 0.5) / size
    total = 0.22 + 0.16 * v
    for _ in range(round(controls["rings"])):
        level, strong = rng.uniform(0.15, 0.85), rng.uniform(0.15, 0.5)
        total = np.maximum(total, strong * np.exp(-(((v - level) / 0.022) ** 2)) + 0.2 * smoothstep(0, level, v))
    rim = np.exp(-(((v - 0.92) / np.where(v < 0.92, 0.06, 0.02)) ** 2))
    total = np.maximum(total, (0.4 + 0.6 * controls["rim"]) * rim)
    return _rows(size, total * smoothstep(1.0, 0.95, v) * smoothstep(0.0, 0.02, v))


def _place(size: int) -> tuple[Map, Map]:
    """Return how far along and how far across a track its pixels lie, -0.5..0.5 across."""
    along, across = np.meshgrid(np.arange(size) + 0.5, np.arange(size) + 0.5)
    return (along / size).astype(np.float32), (across / size - 0.5).astype(np.float32)


def tyres(wanted: Wanted) -> Map:
    """Draw two tyres' tracks: a pressed band each, with lugs set in a chevron."""
    size, seed, controls, _ = wanted
    along, across = _place(size)
    half, out = controls["tyre"] / 200, np.zeros((size, size), np.float32)
    uneven = noise.periodic(size, 5, seed, 4, 0.6)
    for side in (-1.0, 1.0):
        from_middle = (across - side * controls["gauge"] / 200 + 0.006 * uneven) / half
        band = smoothstep(1.08, 0.8, np.abs(from_middle))
        slant = along * controls["lugs"] + 0.5 * np.abs(from_middle)
        lug = smoothstep(0.12, 0.3, np.abs((slant + 0.25 * (from_middle > 0)) % 1 - 0.5))
        groove = smoothstep(0.06, 0.14, np.abs(from_middle))
        pressed = band * (0.42 + 0.58 * lug * groove)
        out = np.maximum(out, pressed * np.clip(0.82 + 0.5 * uneven, 0.2, 1.0))
    return held(out)


def _sole(x: Map, y: Map) -> Map:
    """Return a print about its middle; ``x`` along it in lengths of a sole, ``y`` across in its widths."""
    waist = 0.46 - 0.16 * np.exp(-(((x + 0.12) / 0.13) ** 2)) - 0.04 * np.exp(-(((x + 0.45) / 0.1) ** 2))
    rounded = np.sqrt(np.clip(1 - (2 * x) ** 6, 0, 1))
    body = smoothstep(1.05, 0.9, np.abs(y) / np.maximum(waist * rounded, 1e-3)) * (rounded > 0)
    bars = smoothstep(0.2, 0.34, np.abs((x * 9 + 1.2 * np.abs(y)) % 1 - 0.5))
    arch = smoothstep(0.05, 0.08, np.abs(x + 0.16))
    made: Map = (body * (0.35 + 0.65 * bars) * (0.25 + 0.75 * arch)).astype(np.float32)
    return made


def _prints(size: int, aside: float, length: float, width: float) -> Map:
    """Return a left and a right print in one repeat, of a length and width in shares of the track's."""
    along, across = _place(size)
    out = np.zeros((size, size), np.float32)
    for at, side in ((0.25, -1.0), (0.75, 1.0)):
        out = np.maximum(out, _sole((along - at) / length, (across - side * aside) / width))
    return out


def boots(wanted: Wanted) -> Map:
    """Draw the prints of somebody walking: left and right, a stride apart."""
    size, seed, controls, _ = wanted
    made = _prints(size, 0.22, 0.21, 0.24)
    trodden = np.clip(0.75 + 0.8 * noise.periodic(size, 6, seed, 4, 0.6), 0.1, 1)
    return held(periodic.blur(made, 0.001 * size + 0.02 * size * controls["blurred"]) * trodden)


def barrow(wanted: Wanted) -> Map:
    """Draw a barrow's wheel and the prints of who pushed it."""
    size, seed, controls, _ = wanted
    along, across = _place(size)
    uneven = noise.periodic(size, 4, seed, 4, 0.6)
    from_middle = np.abs(across + 0.015 * uneven) / (controls["wheel"] / 200)
    ribs = smoothstep(0.1, 0.3, np.abs((along * 22) % 1 - 0.5))
    wheel = smoothstep(1.1, 0.75, from_middle) * (0.72 + 0.28 * ribs) * np.clip(0.8 + 0.6 * uneven, 0.2, 1)
    prints = periodic.blur(_prints(size, 0.24, 0.2, 0.2), 0.006 * size) * controls["boots"]
    return held(np.maximum(wheel, prints))
