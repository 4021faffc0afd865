"""Slate scree: loose angular fragments of all sizes lying on one another, grit and dust between them."""

from __future__ import annotations

import numpy as np

from elvatch.core.stock import periodic, scatter
from elvatch.core.stock.generators import common, heap
from elvatch.core.stock.generators.common import Drawing, Map, Wanted
from elvatch.core.stock.generators.controls import Control

TILE_M = 3.0
CONTROLS = (
    Control("stones", "stone size", "times", 0.6, 1.5, 1.0, 0.05, "how large the fragments are"),
    Control("rust", "rusty stones", "", 0.0, 2.0, 1.0, 0.1, "how many fragments are stained by iron"),
    Control("lichen", "lichen", "", 0.0, 2.0, 1.0, 0.1, "how much lichen grows on the stones"),
)
_SIZES = ((0.130, 34), (0.095, 130), (0.062, 520), (0.040, 1700), (0.024, 4200), (0.013, 9000))


def draw(wanted: Wanted) -> Drawing:
    """Draw slate scree, seamless over 3 m; see :class:`Wanted`."""
    size, controls = wanted.size, wanted.controls
    rng = np.random.default_rng(wanted.seed)
    bed = scatter.Scattered.floor(wanted.noise(3, 1, 4, 0.5) * 0.03, TILE_M / size)
    radii = heap.plates(wanted, rng, bed, _SIZES, _fragment, controls["stones"])
    wanted.run.at(0.75)
    return Drawing(*_paint(wanted, rng, bed, radii), TILE_M)


def _fragment(radius: float) -> scatter.PlateStyle:
    """Slate breaks thin and long, with clean edges; what is small lies steeper."""
    return scatter.PlateStyle(
        radius=radius,
        stretch=1.5,
        along=None,
        tilt=0.22,
        dip=(0.0, 0.05),
        thickness=radius * 0.42,
        bevel=radius * 0.14,
        steep=2.2,
        warp=radius * 0.05,
        ridge=0.09,
        ledges=3,
    )


def _paint(wanted: Wanted, rng: np.random.Generator, bed: scatter.Scattered, radii: Map) -> tuple[Map, Map, Map]:
    size, controls = wanted.size, wanted.controls
    grit = wanted.noise(170, 20, 3, 0.7)
    cleave = wanted.noise(30, 21, 5, 0.62, down=70)
    # grit lies in the deepest hollows
    form = periodic.blur(bed.height, 0.06 / bed.pixel_m)
    top = form - 0.022 + 0.006 * wanted.noise(9, 22, 4) + 0.0022 * grit
    loose = (bed.owner < 0) | (bed.height < top)
    height = np.maximum(bed.height, top) + np.where(loose, 0, 0.0008 * cleave + 0.0004 * grit)
    who = np.maximum(bed.owner, 0)
    # a large stone of another colour would be found again in every repeat
    rusty = rng.beta(0.55, 5.0, len(radii)) * np.clip(1.5 - radii / 0.07, 0.1, 1)
    warmth = np.clip(rusty * controls["rust"] * 1.3, 0, 1).astype(np.float32)[who]
    tones = common.tone(rng, len(radii), 0.26)[who] * (1 + 0.14 * cleave + 0.06 * grit)
    grey = np.array([0.138, 0.141, 0.142], np.float32)
    colour = common.mix(np.broadcast_to(grey, (size, size, 3)), (0.215, 0.158, 0.104), warmth)
    # edges are bruised pale; undersides and hollows hold dust
    edge = np.exp(-bed.inner / 0.003) * ~loose
    colour = colour * (tones * (1 + 0.32 * edge))[..., None]
    fines = np.array([0.148, 0.130, 0.106], np.float32) * (0.9 + 0.35 * grit)[..., None]
    colour = np.where(loose[..., None], fines, colour).astype(np.float32)
    settled = common.dust(height, 0.02 / bed.pixel_m, 0.028)
    colour = common.mix(colour, (0.098, 0.087, 0.072), settled * 0.6)
    lichen, own = heap.spots(wanted, rng, 40, 30, np.clip(0.48 * controls["lichen"], 0, 1))
    grown = lichen * ~loose * (1 - settled) * (warmth < 0.3) * common.smoothstep(-0.3, 0.2, wanted.noise(5, 33, 3))
    colour = common.mix(colour, (0.262, 0.268, 0.228), grown * (0.35 + 0.4 * own))
    colour = common.to_mean(common.even_out(colour), 0.145)
    rough = 0.60 + 0.2 * settled + 0.16 * loose + 0.06 * cleave
    return height.astype(np.float32), colour, np.clip(rough, 0.3, 1).astype(np.float32)
