"""Boards: weathered planks with grain, knots and checks, nailed in pairs, dark gaps between."""

from __future__ import annotations

import numpy as np

from elvatch.core.stock import courses, periodic
from elvatch.core.stock.generators import common
from elvatch.core.stock.generators.common import Drawing, Map, Wanted
from elvatch.core.stock.generators.controls import Control

TILE_M = 2.4
CONTROLS = (
    Control("boards", "boards", "", 8.0, 24.0, 16.0, 1.0, "how many lie over 2.4 m"),
    Control("gap", "gap", "mm", 1.0, 14.0, 6.0, 0.5, "between boards"),
    Control("weathered", "weathered", "", 0.0, 1.0, 0.7, 0.05, "how grey and open the grain is"),
)
_LENGTHS = 2


def draw(wanted: Wanted) -> Drawing:
    """Draw boards, seamless over 2.4 m; they run along the picture."""
    size, _, controls, run = wanted
    rng = np.random.default_rng(wanted.seed)
    bend = (wanted.noise(2, 1, 2, 0.4) * 0.0012, np.zeros((size, size), np.float32))
    laid = courses.lay(rng, courses.Bond((0, 1), round(controls["boards"]), _LENGTHS, 0.08, 0.3), size, bend)
    number, edge = laid.owner, laid.edge * np.float32(TILE_M)
    run.at(0.2)
    rings, knots = _grain(wanted, rng, laid)
    run.at(0.5)
    open_ = 0.4 + 0.9 * controls["weathered"]
    cup = rng.normal(0.0015, 0.0015, laid.count).astype(np.float32)[number]
    level = rng.normal(0, 0.0014, laid.count).astype(np.float32)[number]
    wide = np.float32(TILE_M / round(controls["boards"]))
    face = level - cup * (1 - (laid.across * np.float32(2 * TILE_M) / wide) ** 2)
    # soft wood between the rings weathers away, and splits along the grain
    checks = common.smoothstep(0.60, 0.74, wanted.noise(7, 3, 3, 0.5, down=150)) * open_
    face = face + 0.0011 * rings * open_ + 0.00014 * wanted.noise(60, 4, 3, 0.6, down=420) - 0.003 * checks
    nails = _nails(laid, controls["gap"] / 1000, wide)
    face = face - 0.0016 * (nails > 0) + 0.002 * knots * open_
    rounding = np.clip(1 - (edge - controls["gap"] / 2000) / 0.004, 0, 1) ** 2 * 0.003
    inside = common.smoothstep(-0.0006, 0.0008, edge - controls["gap"] / 2000 + 0.0006 * wanted.noise(40, 5, 3))
    height = (-0.022 * (1 - inside) + (face - rounding) * inside).astype(np.float32)
    return Drawing(*_paint(wanted, rng, laid, height, (rings, knots, checks, nails, inside)), TILE_M)


def _grain(wanted: Wanted, rng: np.random.Generator, laid: courses.Courses) -> tuple[Map, Map]:
    """Return year rings as they run along boards, about -1..1, and knots, 0..1, about which they bend."""
    number = laid.owner
    own = rng.uniform(0, 40, laid.count).astype(np.float32)[number]
    along = laid.along * np.float32(TILE_M)
    across = laid.across * np.float32(TILE_M)
    knots, bulge = np.zeros_like(along), np.zeros_like(along)
    for _ in range(3):
        at = rng.uniform(-0.6, 0.6, laid.count).astype(np.float32)[number]
        aside = rng.uniform(-0.045, 0.045, laid.count).astype(np.float32)[number]
        wide = (rng.uniform(0.006, 0.017, laid.count) * (rng.random(laid.count) < 0.5)).astype(np.float32)[number]
        away = np.hypot((along - at) / 1.6, across - aside) / np.maximum(wide, 1e-4)
        knots = np.maximum(knots, common.smoothstep(1.1, 0.8, away) * (wide > 0))
        bulge += np.exp(-((away / 2.4) ** 2)) * (wide > 0) * np.sign(across - aside) * 1.4
    # a board is cut off the middle of its tree: rings run out in long arches
    slope = rng.uniform(-2.5, 2.5, laid.count).astype(np.float32)[number]
    ring = across * 190 + own + slope * along + 2.2 * wanted.noise(3, 6, 4, 0.5, down=9) - bulge * 2.0
    ring = ring + 0.8 * wanted.noise(14, 7, 3, 0.5, down=70)
    saw = ring - np.floor(ring)
    rings = common.smoothstep(0.0, 0.72, saw) - common.smoothstep(0.86, 1.0, saw)
    return (rings * 2 - 1).astype(np.float32), knots.astype(np.float32)


def _nails(laid: courses.Courses, gap_m: float, wide_m: np.float32) -> Map:
    """Heads of nails, 0..1: two across each board at either end and at every joist, 0.6 m apart."""
    along = laid.along * np.float32(TILE_M)
    from_joist = np.abs((along + 0.3) % 0.6 - 0.3)
    from_pair = np.abs(np.abs(laid.across * np.float32(TILE_M)) - wide_m * np.float32(0.28))
    return common.smoothstep(0.0042, 0.0032, np.hypot(from_joist, from_pair)) * (laid.edge * TILE_M > gap_m)


def _paint(
    wanted: Wanted,
    rng: np.random.Generator,
    laid: courses.Courses,
    height: Map,
    parts: tuple[Map, Map, Map, Map, Map],
) -> tuple[Map, Map, Map]:
    rings, knots, checks, nails, inside = parts
    grey_share, number = wanted.controls["weathered"], laid.owner
    fine = wanted.noise(50, 20, 3, 0.7, down=420)
    tones = common.tone(rng, laid.count, 0.12)[number]
    hue = rng.normal(0, 1, laid.count).astype(np.float32)[number]
    fresh = np.array([0.330, 0.205, 0.105], np.float32) * (1 + 0.05 * hue)[..., None]
    silver = np.array([0.200, 0.186, 0.168], np.float32) * (1 + 0.04 * hue)[..., None]
    share = np.clip(grey_share + 0.35 * wanted.noise(5, 21, 4, 0.5, down=8) * (1 - abs(2 * grey_share - 1)), 0, 1)
    colour = fresh + (silver - fresh) * share[..., None]
    colour = colour * (tones * (1 - 0.27 * rings + 0.08 * fine))[..., None]
    colour = common.mix(colour.astype(np.float32), (0.085, 0.055, 0.034), knots * (0.8 - 0.35 * grey_share))
    stain = common.smoothstep(0.0, 0.6, wanted.noise(4, 22, 5, 0.55, down=11))
    colour = common.mix(colour, (0.095, 0.088, 0.078), stain * 0.35)
    green = common.smoothstep(0.25, 0.6, wanted.noise(6, 23, 5, 0.6)) * 0.25
    colour = common.mix(colour, (0.110, 0.118, 0.062), green)
    colour = common.mix(colour, (0.045, 0.038, 0.032), np.clip(checks * 0.7, 0, 1))
    # rust runs from the nails along the grain
    run = periodic.blur(np.ascontiguousarray(nails, np.float32), 0.008 / (TILE_M / wanted.size)) * 2.2
    colour = common.mix(colour, (0.110, 0.062, 0.034), np.clip(run, 0, 0.6))
    colour = common.mix(colour, (0.075, 0.060, 0.052), nails)
    colour = common.mix(colour, (0.024, 0.021, 0.018), 1 - inside)
    colour = common.to_mean(common.even_out(colour), 0.165)
    rough = 0.62 + 0.16 * share + 0.05 * fine - 0.12 * nails
    return height, colour, np.clip(rough, 0.35, 1).astype(np.float32)
