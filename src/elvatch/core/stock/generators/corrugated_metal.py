"""Corrugated metal: galvanised sheets in waves, overlapped, their zinc in flakes, screws, rust that runs down."""

from __future__ import annotations

import math

import numpy as np

from elvatch.core.stock import cells
from elvatch.core.stock.generators import common
from elvatch.core.stock.generators.common import Drawing, Map, Wanted
from elvatch.core.stock.generators.controls import Control

TILE_M = 1.52
_WAVES = 20
"""Of 76 mm each, as sheets are rolled."""
CONTROLS = (
    Control("depth", "wave depth", "mm", 8.0, 26.0, 18.0, 1.0, "from trough to crest"),
    Control("rust", "rust", "", 0.0, 1.0, 0.35, 0.05, "how far it has rusted"),
    Control("dents", "dents", "mm", 0.0, 8.0, 2.0, 0.5, "how it was knocked about"),
)


def draw(wanted: Wanted) -> Drawing:
    """Draw corrugated metal, seamless over 1.52 m; waves run down the picture."""
    size, _, controls, run = wanted
    rng = np.random.default_rng(wanted.seed)
    at = (np.arange(size, dtype=np.float32) + 0.5) / size
    x, y = at[None, :] + 0.0007 * wanted.noise(3, 1, 3), at[:, None] + 0.0008 * wanted.noise(4, 2, 2)
    wave = (-0.5 * np.cos(2 * math.pi * _WAVES * x)).astype(np.float32)
    # one sheet ends over the next across the tile, and beside it after ten waves
    over = (((y - 0.37) % 1.0) * TILE_M).astype(np.float32)
    beside = (((x - 0.52) % 0.5) * TILE_M).astype(np.float32)
    lap = 0.0016 * common.smoothstep(0.0, 0.0012, over) * (over < 0.10) + 0.0011 * (beside < 0.045)
    dents = -np.abs(wanted.noise(5, 3, 3, 0.5)) * controls["dents"] / 1000
    bumps = 0.00025 * wanted.noise(60, 4, 3, 0.6)
    screws, washers = _screws(x, y)
    height = wave * controls["depth"] / 1000 + lap + dents + bumps + 0.0035 * screws + 0.0012 * washers
    run.at(0.4)
    return Drawing(*_paint(wanted, rng, height.astype(np.float32), wave, over, beside, screws + washers), TILE_M)


def _screws(x: Map, y: Map) -> tuple[Map, Map]:
    """Heads and washers on every fourth crest, in two rows."""
    across = np.abs((x * (_WAVES / 4) + 0.375) % 1.0 - 0.5) * (4 * TILE_M / _WAVES)
    along = np.abs((y * 2 + 0.16) % 1.0 - 0.5) * (TILE_M / 2)
    away = np.hypot(across, along)
    return common.smoothstep(0.0055, 0.0045, away), common.smoothstep(0.0105, 0.0095, away)


def _paint(
    wanted: Wanted, rng: np.random.Generator, height: Map, wave: Map, over: Map, beside: Map, screws: Map
) -> tuple[Map, Map, Map]:
    size, rusted = wanted.size, wanted.controls["rust"]
    pixel_m = TILE_M / size
    bend = tuple(wanted.noise(60, 30 + k, 3, 0.6) * 0.004 for k in range(2))
    flake = rng.random(60 * 60).astype(np.float32)[cells.cells(rng, size, 60, (bend[0], bend[1])).owner]
    fine = wanted.noise(220, 20, 3, 0.7)
    zinc = np.broadcast_to(np.array([0.405, 0.412, 0.415], np.float32), (size, size, 3))
    colour = zinc * (0.86 + 0.26 * flake + 0.05 * fine)[..., None]
    dull = common.smoothstep(-0.2, 0.5, wanted.noise(5, 21, 5, 0.55, down=3))
    colour = common.mix(colour.astype(np.float32), (0.300, 0.300, 0.296), dull * 0.55)
    # rust begins at edges and screws and is carried down by rain, most in the troughs
    start = np.maximum(np.exp(-(over / 0.02)), np.exp(-(beside / 0.012)) * 0.8)
    start = np.maximum(start * common.smoothstep(-0.1, 0.4, wanted.noise(12, 22, 4, 0.6)), np.clip(screws, 0, 1))
    reach = round(0.30 / pixel_m)
    runs, step = start.copy(), 1
    while step < reach:
        runs = np.maximum(runs, np.roll(runs, step, 0) * np.float32(1 - 0.55 * step / reach))
        step *= 2
    streak = np.clip(0.55 + 0.9 * wanted.noise(90, 23, 4, 0.6, down=3), 0, 1.2)
    patch = common.smoothstep(
        0.35 - 0.5 * rusted, 0.75 - 0.5 * rusted, wanted.noise(4, 24, 6, 0.6, down=2) + 0.12 * fine
    )
    rust = np.clip((runs * streak * 0.9 + patch * 0.9) * min(1.0, rusted * 1.6) - 0.15 * wave * patch, 0, 1)
    deep = np.array([0.125, 0.058, 0.028], np.float32)
    bright = np.array([0.300, 0.145, 0.062], np.float32)
    own = bright + (deep - bright) * common.smoothstep(-0.2, 0.5, wanted.noise(26, 25, 5, 0.65))[..., None]
    colour = (colour + (own - colour) * common.smoothstep(0.15, 0.7, rust)[..., None]).astype(np.float32)
    dirt = common.smoothstep(0.1, 0.5, -wave) * (0.3 + 0.3 * wanted.noise(9, 26, 4))
    colour = common.mix(colour, (0.150, 0.135, 0.115), np.clip(dirt, 0, 0.6))
    colour = common.mix(colour, (0.100, 0.090, 0.085), np.clip(screws - 1, 0, 1) * 0.6)
    height = height + 0.0004 * common.smoothstep(0.3, 0.8, rust) * (1 + fine)
    rough = 0.38 + 0.10 * flake * (1 - dull) + 0.14 * dull + 0.42 * common.smoothstep(0.15, 0.6, rust)
    return height.astype(np.float32), common.even_out(colour, 0.6, 0.12), np.clip(rough, 0.25, 1).astype(np.float32)
