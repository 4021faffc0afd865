"""Brick paving: bricks laid on edge in a bond of halves, each its own firing, worn edges, sand and moss between."""

from __future__ import annotations

import numpy as np

from elvatch.core.stock import courses, periodic
from elvatch.core.stock.generators import common
from elvatch.core.stock.generators.common import Drawing, Map, Wanted
from elvatch.core.stock.generators.controls import Control

TILE_M = 2.16
_COURSES, _BRICKS = 20, 10
CONTROLS = (
    Control("joints", "joint width", "mm", 2.0, 14.0, 7.0, 0.5, "between bricks"),
    Control("settled", "settled", "mm", 0.0, 14.0, 4.0, 0.5, "how unevenly they have sunk"),
    Control("moss", "moss", "", 0.0, 1.0, 0.3, 0.05, "how much grows in the joints"),
    Control("worn", "worn", "", 0.0, 1.0, 0.45, 0.05, "how chipped and rounded they are"),
)


def draw(wanted: Wanted) -> Drawing:
    """Draw brick paving, seamless over 2.16 m: twenty courses of ten bricks, as they are made."""
    size, _, controls, run = wanted
    rng = np.random.default_rng(wanted.seed)
    bend = (wanted.noise(5, 1, 4, 0.55) * 0.0016, wanted.noise(5, 2, 4, 0.55) * 0.0016)
    bond = courses.lay(rng, courses.Bond((0, 1), _COURSES, _BRICKS, 0.03, 0.03, shift=0.5), size, bend)
    run.at(0.3)
    number, worn = bond.owner, controls["worn"]
    edge = bond.edge * TILE_M - controls["joints"] / 2000 + 0.0016 * wanted.noise(50, 3, 4, 0.6)
    chipped = common.smoothstep(0.30, 0.55, wanted.noise(30, 4, 4, 0.6)) * worn * 0.014
    rounding = np.clip(1 - np.maximum(edge - chipped, -0.02) / (0.004 + 0.012 * worn), 0, 1) ** 2
    sunk = rng.normal(0, controls["settled"] / 1000, bond.count).astype(np.float32)[number]
    lean = rng.normal(0, controls["settled"] / 1000 * 6, (2, bond.count)).astype(np.float32)
    lie = (lean[0][number] * bond.along + lean[1][number] * bond.across) * np.float32(TILE_M)
    face = 0.0008 * wanted.noise(120, 5, 4, 0.7) + 0.0010 * wanted.noise(30, 6, 4, 0.6)
    pits = common.smoothstep(0.35, 0.6, wanted.noise(150, 7, 3, 0.6)) * 0.0016 * (0.4 + worn)
    brick = sunk + lie + face - pits - rounding * (0.006 + 0.006 * worn)
    sand = -0.011 + 0.003 * wanted.noise(14, 8, 4) + 0.0012 * wanted.noise(200, 9, 3, 0.7)
    slow = 0.5 * controls["settled"] / 1000 * 3 * wanted.noise(3, 10, 3)
    inside = common.smoothstep(-0.0025, 0.0015, edge) * (brick > sand)
    height = (np.where(inside > 0, sand + (np.maximum(brick, sand) - sand) * inside, sand) + slow).astype(np.float32)
    run.at(0.6)
    return Drawing(*_paint(wanted, rng, bond, height, inside, rounding), TILE_M)


def _paint(
    wanted: Wanted, rng: np.random.Generator, bond: courses.Courses, height: Map, inside: Map, rounding: Map
) -> tuple[Map, Map, Map]:
    controls, number = wanted.controls, bond.owner
    fine, cloud = wanted.noise(260, 20, 3, 0.7), wanted.noise(16, 21, 5, 0.6)
    fired = np.array(
        [
            [0.235, 0.098, 0.058],
            [0.195, 0.080, 0.050],
            [0.275, 0.130, 0.078],
            [0.150, 0.070, 0.052],
            [0.120, 0.066, 0.058],
        ],
        np.float32,
    )
    own = (
        fired[rng.choice(5, bond.count, p=(0.36, 0.24, 0.2, 0.13, 0.07))]
        * common.tone(rng, bond.count, 0.12)[:, None]
    )
    colour = own.astype(np.float32)[number] * (1 + 0.10 * fine + 0.14 * cloud)[..., None]
    specks = common.smoothstep(0.42, 0.6, wanted.noise(180, 22, 2, 0.6))
    colour = common.mix(colour, (0.090, 0.050, 0.040), specks * 0.5)
    colour = common.mix(colour, (0.330, 0.190, 0.125), rounding * 0.4 * controls["worn"])
    salt = common.smoothstep(0.30, 0.62, wanted.noise(5, 23, 5, 0.6)) * 0.35
    colour = common.mix(colour, (0.360, 0.325, 0.290), salt * 0.6)
    grime = common.smoothstep(0.0, 0.5, wanted.noise(4, 24, 5, 0.58))
    colour = common.mix(colour, (0.105, 0.080, 0.062), grime * 0.4)
    sand = np.array([0.175, 0.142, 0.102], np.float32) * (1 + 0.35 * fine)[..., None]
    sand = common.mix(sand, (0.070, 0.056, 0.042), common.smoothstep(-0.2, 0.4, cloud) * 0.7)
    grows = common.smoothstep(0.10, 0.30, wanted.noise(7, 25, 5, 0.6) + 0.9 * (controls["moss"] - 0.4))
    leaf = wanted.noise(200, 26, 3, 0.7)
    green = np.array([0.060, 0.078, 0.024], np.float32) * (1 + 0.5 * leaf)[..., None]
    sand = sand + (green - sand) * grows[..., None]
    colour = (sand + (colour - sand) * inside[..., None]).astype(np.float32)
    spread = grows * common.smoothstep(0.012, 0.0, bond.edge * TILE_M - controls["joints"] / 2000) * inside
    colour = common.mix(colour, (0.058, 0.072, 0.026), spread * 0.6)
    height = height + (1 - inside) * grows * (0.004 + 0.0015 * leaf)
    colour = common.to_mean(common.even_out(colour), 0.130)
    rough = 0.74 + 0.05 * fine + 0.16 * (1 - inside) - 0.05 * controls["worn"]
    return periodic.soften(height.astype(np.float32)), colour, np.clip(rough, 0.4, 1).astype(np.float32)
