"""Coursed masonry: split blocks of gritstone in level courses, their faces rough and their margins dressed, lime
mortar struck back between them, and what has run out of the joints.
"""

from __future__ import annotations

import numpy as np

from elvatch.core.stock import courses, periodic
from elvatch.core.stock.generators import common
from elvatch.core.stock.generators.common import Drawing, Map, Wanted
from elvatch.core.stock.generators.controls import Control

TILE_M = 4.8
_COURSES, _BLOCKS = 10, 6
_MARGIN_M = 0.035
CONTROLS = (
    Control("joints", "joint width", "mm", 4.0, 30.0, 14.0, 1.0, "between blocks"),
    Control("rough", "rough face", "mm", 0.0, 60.0, 26.0, 1.0, "how far the split faces stand out of their margins"),
    Control("lime", "lime", "", 0.0, 1.0, 0.35, 0.05, "how much has run out of the joints"),
    Control("worn", "worn", "", 0.0, 1.0, 0.4, 0.05, "how far weather has rounded edges and eaten mortar"),
)


def draw(wanted: Wanted) -> Drawing:
    """Draw coursed masonry, seamless over 4.8 m: ten courses of six blocks."""
    size, _, controls, run = wanted
    rng = np.random.default_rng(wanted.seed)
    bend = (wanted.noise(9, 1, 4, 0.55) * 0.0007, wanted.noise(9, 2, 4, 0.55) * 0.0007)
    bond = courses.lay(rng, courses.Bond((0, 1), _COURSES, _BLOCKS, 0.16, 0.34), size, bend)
    run.at(0.3)
    worn, stands = controls["worn"], controls["rough"] / 1000
    chips = common.smoothstep(0.28, 0.6, wanted.noise(40, 4, 4, 0.6)) * (0.004 + 0.016 * worn)
    edge = bond.edge * TILE_M - controls["joints"] / 2000 - chips + 0.002 * wanted.noise(120, 3, 4, 0.6)
    height = _stone(wanted, rng, bond, edge, stands)
    mortar = -(0.008 + 0.014 * worn) + 0.002 * wanted.noise(160, 8, 4, 0.7)
    mortar = mortar - 0.02 * worn * common.smoothstep(0.25, 0.6, wanted.noise(22, 9, 4, 0.6))
    inside = common.smoothstep(-0.004, 0.002, edge)
    height = (mortar + (height - mortar) * inside).astype(np.float32)
    run.at(0.6)
    return Drawing(*_paint(wanted, rng, bond, height, inside, edge), TILE_M)


def _stone(wanted: Wanted, rng: np.random.Generator, bond: courses.Courses, edge: Map, stands: float) -> Map:
    """Return how far the blocks stand out, metres: a dressed margin, and within it a face as the wedge split it."""
    number = bond.owner
    own = rng.uniform(0.35, 1.3, bond.count).astype(np.float32)[number]
    tilt = rng.normal(0, 0.28, (2, bond.count)).astype(np.float32)
    within = common.smoothstep(_MARGIN_M * 0.7, _MARGIN_M * 2.0, edge + 0.034 * wanted.noise(44, 14, 4, 0.6))
    # flats broken off in different directions: the larger of planes that noise tilts
    broad, fine = wanted.noise(26, 5, 3, 0.5), wanted.noise(70, 6, 5, 0.6)
    steps = np.abs(wanted.noise(34, 7, 2, 0.5)) * 1.6
    split = own * (0.62 + 0.30 * broad + 0.30 * steps + 0.16 * fine)
    split = split + tilt[0][number] * bond.along * 4 + tilt[1][number] * bond.across * 8
    margin = 0.0006 * wanted.noise(420, 10, 3, 0.7) + 0.0015 * wanted.noise(60, 11, 4, 0.6)
    rounding = np.clip(1 - np.maximum(edge, 0) / (0.006 + 0.02 * wanted.controls["worn"]), 0, 1) ** 2
    set_out = rng.normal(0, 0.003, bond.count).astype(np.float32)[number]
    grain = 0.0012 * wanted.noise(300, 12, 4, 0.7)
    out = set_out + margin + grain + within * np.maximum(split, 0.05) * stands - rounding * 0.012
    return np.asarray(out, np.float32)


def _paint(
    wanted: Wanted, rng: np.random.Generator, bond: courses.Courses, height: Map, inside: Map, edge: Map
) -> tuple[Map, Map, Map]:
    controls, number = wanted.controls, bond.owner
    fine, cloud = wanted.noise(380, 20, 3, 0.7), wanted.noise(18, 21, 5, 0.6)
    quarried = np.array(
        [
            [0.205, 0.185, 0.150],
            [0.175, 0.165, 0.145],
            [0.235, 0.205, 0.155],
            [0.150, 0.142, 0.128],
            [0.215, 0.180, 0.132],
        ],
        np.float32,
    )
    own = (
        quarried[rng.choice(5, bond.count, p=(0.34, 0.26, 0.16, 0.14, 0.10))]
        * common.tone(rng, bond.count, 0.13)[:, None]
    )
    colour = own.astype(np.float32)[number] * (1 + 0.14 * fine + 0.12 * cloud)[..., None]
    grit = common.smoothstep(0.30, 0.60, wanted.noise(520, 22, 2, 0.6))
    colour = common.mix(colour, (0.300, 0.275, 0.230), grit * 0.30)
    iron = common.smoothstep(0.22, 0.60, wanted.noise(14, 23, 5, 0.6))
    colour = common.mix(colour, (0.190, 0.122, 0.070), iron * 0.34)
    soot = common.smoothstep(-0.05, 0.5, wanted.noise(7, 25, 5, 0.6) + 0.5 * wanted.noise(40, 26, 3, 0.6, down=8))
    colour = common.mix(colour, (0.075, 0.072, 0.064), soot * 0.55)
    # soot and algae lie where rain does not wash: in the hollows of the split face
    hollow = common.smoothstep(0.006, -0.006, height - periodic.blur(height, 0.008 * wanted.size))
    colour = common.mix(colour, (0.070, 0.068, 0.056), hollow * inside * 0.5)
    lime = np.array([0.250, 0.235, 0.200], np.float32) * (1 + 0.18 * fine)[..., None]
    lime = common.mix(lime, (0.150, 0.140, 0.112), common.smoothstep(-0.1, 0.5, wanted.noise(30, 24, 5, 0.6)) * 0.8)
    colour = lime + (colour - lime) * inside[..., None]
    run_out = _run_down(wanted) * controls["lime"]
    near = common.smoothstep(0.10, 0.0, edge)
    shows = np.clip(run_out * (0.35 + 0.65 * near), 0, 1)
    colour = common.mix(colour.astype(np.float32), (0.420, 0.400, 0.355), shows * 0.75)
    colour = common.to_mean(common.even_out(colour), 0.175)
    rough = 0.84 + 0.05 * fine + 0.06 * (1 - inside) - 0.10 * shows
    return periodic.soften(height), colour, np.clip(rough, 0.4, 1).astype(np.float32)


def _run_down(wanted: Wanted) -> Map:
    """Return streaks that run down the face, 0..1: noise drawn out downwards."""
    wide = wanted.noise(70, 30, 3, 0.6, down=5)
    some = common.smoothstep(0.0, 0.4, wanted.noise(6, 31, 4, 0.6))
    return np.asarray(common.smoothstep(0.0, 0.5, wide) * some, np.float32)
