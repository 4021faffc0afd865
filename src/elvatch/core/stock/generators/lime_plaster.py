"""Lime plaster: trowelled coats over rubble, worn thin, hairlines, damp and flaked places where the wall shows."""

from __future__ import annotations

import numpy as np

from elvatch.core.stock import cells, courses, periodic
from elvatch.core.stock.generators import common
from elvatch.core.stock.generators.common import Drawing, Map, Wanted
from elvatch.core.stock.generators.controls import Control

TILE_M = 2.5
CONTROLS = (
    Control("fallen", "fallen off", "", 0.0, 1.0, 0.25, 0.05, "how much of the coat is gone"),
    Control("cracks", "cracks", "", 0.0, 1.0, 0.45, 0.05, "how cracked it is"),
    Control("damp", "damp", "", 0.0, 1.0, 0.3, 0.05, "how stained it is"),
)


def draw(wanted: Wanted) -> Drawing:
    """Draw lime plaster, seamless over 2.5 m; see :class:`Wanted`."""
    size, _, controls, run = wanted
    rng = np.random.default_rng(wanted.seed)
    # strokes of the trowel, each a shallow arc over those before
    sweep = wanted.noise(5, 1, 3, 0.5)
    strokes = np.abs(wanted.noise(6, 2, 3, 0.55, down=13) + 0.5 * sweep)
    coat = 0.0045 * strokes + 0.006 * wanted.noise(3, 3, 3, 0.5) + 0.0006 * wanted.noise(220, 4, 3, 0.7)
    coat = coat + 0.0009 * wanted.noise(60, 5, 4, 0.6)
    run.at(0.25)
    gone = wanted.noise(7, 6, 6, 0.6) + 0.15 * wanted.noise(40, 7, 3) - 0.66 + 0.72 * controls["fallen"]
    missing = common.smoothstep(0.0, 0.012, gone) * (controls["fallen"] > 0)
    scratch = common.smoothstep(-0.10, -0.085, gone) * (1 - missing) * (controls["fallen"] > 0)
    bend = (wanted.noise(6, 8, 4, 0.5) * 0.006, wanted.noise(6, 9, 4, 0.5) * 0.006)
    wall = courses.lay(rng, courses.Bond((0, 1), 14, 6, 0.35, 0.4), size, bend)
    stone = wall.edge * np.float32(TILE_M) + 0.006 * wanted.noise(24, 10, 4, 0.6)
    level = rng.normal(0, 0.005, wall.count).astype(np.float32)[wall.owner]
    face = level + 0.004 * wanted.noise(40, 11, 4, 0.65)
    wall_m = -0.030 + np.where(stone > 0.009, face, -0.008) + 0.0005 * wanted.noise(220, 4, 3, 0.7)
    hair = _hairlines(wanted, rng) * controls["cracks"]
    run.at(0.6)
    height = coat - 0.006 * scratch - 0.003 * hair
    height = (height * (1 - missing) + wall_m * missing).astype(np.float32)
    return Drawing(*_paint(wanted, rng, height, (missing, scratch, hair, strokes), wall, stone), TILE_M)


def _hairlines(wanted: Wanted, rng: np.random.Generator) -> Map:
    bend = tuple(wanted.noise(10, 40 + k, 5, 0.62) * 0.024 for k in range(2))
    net = cells.cells(rng, wanted.size, 5, (bend[0], bend[1]), left_out=0.25)
    fine = cells.cells(rng, wanted.size, 15, (bend[0], bend[1]), left_out=0.3)
    where = common.smoothstep(-0.15, 0.25, wanted.noise(3, 42, 4, 0.6))
    crazed = common.smoothstep(0.15, 0.4, wanted.noise(4, 43, 4, 0.6))
    hair: Map = np.maximum(
        common.smoothstep(0.0028, 0.0008, net.border * TILE_M) * where,
        common.smoothstep(0.0018, 0.0006, fine.border * TILE_M) * crazed * 0.8,
    )
    return hair


def _paint(
    wanted: Wanted,
    rng: np.random.Generator,
    height: Map,
    coats: tuple[Map, Map, Map, Map],
    wall: courses.Courses,
    stone: Map,
) -> tuple[Map, Map, Map]:
    missing, scratch, hair, strokes = coats
    size, damp = wanted.size, wanted.controls["damp"]
    fine, cloud = wanted.noise(240, 20, 3, 0.7), wanted.noise(4, 21, 6, 0.58)
    lime = np.broadcast_to(np.array([0.585, 0.545, 0.470], np.float32), (size, size, 3))
    colour = lime * (1 + 0.16 * cloud + 0.05 * fine - 0.10 * (strokes - 0.3))[..., None]
    # rain and splash darken it from below and along old runs
    runs = common.smoothstep(0.0, 0.6, wanted.noise(14, 22, 4, 0.6, down=2) + 0.4 * cloud) * damp
    colour = common.mix(colour.astype(np.float32), (0.300, 0.270, 0.215), runs * 0.85)
    algae = common.smoothstep(0.2, 0.6, wanted.noise(5, 23, 5, 0.6)) * damp
    colour = common.mix(colour, (0.200, 0.205, 0.140), algae * 0.6)
    under = np.array([0.420, 0.360, 0.270], np.float32) * (1 + 0.12 * fine)[..., None]
    colour = colour + (under - colour) * scratch[..., None]
    kinds = np.array(
        [[0.215, 0.190, 0.155], [0.260, 0.225, 0.175], [0.165, 0.150, 0.130], [0.235, 0.185, 0.135]], np.float32
    )
    own = (
        kinds[rng.integers(0, 4, wall.count)].astype(np.float32)[wall.owner]
        * (1 + 0.12 * fine + 0.1 * cloud)[..., None]
    )
    mortar = np.array([0.350, 0.310, 0.245], np.float32) * (1 + 0.15 * fine)[..., None]
    bared = np.where((stone > 0.009)[..., None], own, mortar)
    colour = (colour + (bared - colour) * missing[..., None]).astype(np.float32)
    colour = common.mix(colour, (0.160, 0.140, 0.110), np.clip(hair * 0.8, 0, 0.8) * (1 - missing))
    edge = common.dust(height, 0.02 / (TILE_M / size), 0.02)
    colour = common.mix(colour, (0.190, 0.165, 0.130), edge * 0.5)
    colour = common.to_mean(common.even_out(colour, 0.55, 0.12), 0.44 - 0.08 * damp)
    rough = 0.80 + 0.06 * fine + 0.08 * missing - 0.1 * runs
    return periodic.soften(height), colour, np.clip(rough, 0.45, 1).astype(np.float32)
