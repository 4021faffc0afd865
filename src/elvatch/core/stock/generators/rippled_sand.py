"""Rippled sand: the bed of shallow water laid bare: crests that wander and fork, film in the troughs, shells."""

from __future__ import annotations

import math

import numpy as np

from elvatch.core.stock import periodic, scatter
from elvatch.core.stock.generators import common, heap
from elvatch.core.stock.generators.common import Drawing, Map, Wanted
from elvatch.core.stock.generators.controls import Control
from elvatch.core.stock.pebble import PebbleStyle

TILE_M = 2.0
CONTROLS = (
    Control("ripples", "ripple height", "mm", 2.0, 24.0, 13.0, 0.5, "from trough to crest"),
    Control("wet", "wet", "", 0.0, 1.0, 0.45, 0.05, "how much water is left in the troughs"),
    Control("shells", "shells", "times", 0.0, 3.0, 1.0, 0.1, "how many broken shells lie on it"),
)
_CRESTS = 17
"""Over a tile; a whole number, so that they meet at the seam."""


def draw(wanted: Wanted) -> Drawing:
    """Draw rippled sand, seamless over 2 m; see :class:`Wanted`."""
    size, _, controls, run = wanted
    rng = np.random.default_rng(wanted.seed)
    crest = _crests(wanted)
    grain = wanted.noise(300, 1, 2, 0.7)
    sand = crest * (controls["ripples"] / 1000) + 0.012 * wanted.noise(2, 2, 3, 0.45) + 0.0002 * grain
    sand = sand + 0.0011 * wanted.noise(40, 3, 4, 0.6)
    run.at(0.4)
    bed = scatter.Scattered.floor(sand.astype(np.float32), TILE_M / size)
    heap.stones(
        wanted,
        rng,
        bed,
        ((0.012, 26), (0.007, 110), (0.004, 380)),
        lambda radius: PebbleStyle(radius, 1.5, 0.28, 2.0, 0.3, 0.25, 0.35, 0.2),
        max(0.3, controls["shells"]) ** -0.5,
        keep=np.full((size, size), min(1.0, controls["shells"])),
    )
    run.at(0.75)
    return Drawing(*_paint(wanted, rng, bed, sand.astype(np.float32), grain), TILE_M)


def _crests(wanted: Wanted) -> Map:
    """Long crests nearly alike on both sides, that fork where their number changes; about -0.5..0.5."""
    at = (np.arange(wanted.size, dtype=np.float32) + 0.5) / wanted.size
    wander = 0.045 * wanted.noise(3, 10, 3, 0.5) + 0.008 * wanted.noise(12, 11, 3, 0.5)
    patch = common.smoothstep(-0.22, 0.22, wanted.noise(4, 12, 2))
    total = np.zeros((wanted.size, wanted.size), np.float32)
    for share, count, slant in ((1 - patch, _CRESTS, 3), (patch, _CRESTS + 2, 2)):
        phase = 2 * math.pi * (count * (at[:, None] + wander) + slant * at[None, :])
        wave = np.sin(phase + 0.25 * np.sin(phase))
        # crests are sharper than troughs
        total += share * (0.5 - np.sqrt(np.clip(0.5 - 0.5 * wave, 0, 1)))
    strength = 0.45 + 0.55 * common.smoothstep(-0.5, 0.2, wanted.noise(3, 13, 3))
    return (total * strength).astype(np.float32)


def _paint(
    wanted: Wanted, rng: np.random.Generator, bed: scatter.Scattered, sand: Map, grain: Map
) -> tuple[Map, Map, Map]:
    wetness = wanted.controls["wet"]
    shell = bed.owner >= 0
    who = np.maximum(bed.owner, 0)
    low = common.smoothstep(-0.003, 0.005, periodic.blur(sand, 0.05 / bed.pixel_m) - sand)
    damp = np.clip(0.9 * low + 0.5 * wanted.noise(4, 20, 3) + 1.5 * (wetness - 0.45), 0, 1)
    film = common.smoothstep(0.75, 1.0, damp) * low
    dry = np.array([0.330, 0.268, 0.190], np.float32) * (1 + 0.14 * grain)[..., None]
    colour = common.mix(dry, (0.150, 0.115, 0.078), damp * 0.85)
    # dark heavy grains gather on the lee of the crests
    heavy = common.smoothstep(0.1, 0.5, wanted.noise(18, 21, 4, 0.6) + 0.4 * (0.5 - low)) * 0.3
    colour = common.mix(colour, (0.120, 0.100, 0.080), heavy * (1 - film))
    kinds = np.array([[0.52, 0.49, 0.44], [0.40, 0.35, 0.30], [0.24, 0.22, 0.22], [0.45, 0.37, 0.29]], np.float32)
    own = kinds[rng.integers(0, 4, int(who.max()) + 1)]
    colour = np.where(shell[..., None], own[who] * (0.75 + 0.3 * bed.inner)[..., None], colour).astype(np.float32)
    colour = common.to_mean(common.even_out(colour, 0.55, 0.12), 0.215 - 0.07 * wetness)
    rough = np.where(shell, 0.5, 0.86 - 0.28 * damp - 0.34 * film).astype(np.float32)
    return bed.height, colour, rough
