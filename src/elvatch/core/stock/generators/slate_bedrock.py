"""Slate bedrock: upturned beds weathered into ribs, broken at joints, flaked; rubble and soil between, lichen."""

from __future__ import annotations

import numpy as np

from elvatch.core.stock import courses, periodic, scatter
from elvatch.core.stock.generators import common, heap
from elvatch.core.stock.generators.common import Drawing, Map, Wanted
from elvatch.core.stock.generators.controls import Control

TILE_M = 4.0
CONTROLS = (
    Control("sheets", "bed thickness", "times", 0.5, 1.6, 1.0, 0.05, "how thick the beds are that break away"),
    Control("stain", "stains", "", 0.0, 2.0, 1.0, 0.05, "how brown the joints are"),
    Control("lichen", "lichen", "", 0.0, 1.8, 1.0, 0.1, "how much lichen grows on the faces"),
)
_RUBBLE = ((0.055, 70), (0.032, 330), (0.018, 1500), (0.010, 3600))


def draw(wanted: Wanted) -> Drawing:
    """Draw slate bedrock, seamless over 4 m; see :class:`Wanted`."""
    size, _, controls, run = wanted
    rng = np.random.default_rng(wanted.seed)
    pixel_m = TILE_M / size
    rock, block, joint = _rock(wanted, rng)
    run.at(0.3)
    bed = scatter.Scattered.floor(rock, pixel_m)
    low = common.dust(rock, 0.09 / pixel_m, 0.05)
    heap.plates(wanted, rng, bed, _RUBBLE, _fragment, keep=np.clip(low * 1.5 - 0.12, 0, 1))
    run.at(0.75)
    return Drawing(*_paint(wanted, rng, bed, block, joint, controls), TILE_M)


def _fragment(radius: float) -> scatter.PlateStyle:
    return scatter.PlateStyle(
        radius=radius,
        stretch=1.6,
        along=None,
        tilt=0.2,
        dip=(0.0, 0.0),
        thickness=radius * 0.35,
        bevel=radius * 0.2,
        steep=1.2,
        warp=radius * 0.06,
        ridge=0.1,
        ledges=2,
    )


def _rock(wanted: Wanted, rng: np.random.Generator) -> tuple[Map, Map, Map]:
    """Return the height of the rock in metres, each place's own number 0..1, and how open a joint is, 0..1."""
    size, sheets = wanted.size, wanted.controls["sheets"]
    bend = (wanted.noise(3, 2, 5, 0.5) * 0.022, wanted.noise(5, 3, 5, 0.6) * 0.06)
    beds = max(5, round(9 / sheets))
    joints = courses.lay(rng, courses.Bond((1, 3), beds, 3, uneven=0.85, ragged=0.85), size, bend)
    number = joints.owner
    # upturned beds weather into ribs: each as hard as it is, its pieces broken off at joints
    hard = rng.normal(0, 0.030, beds).astype(np.float32)[joints.course]
    broken = -np.clip(rng.exponential(0.020, joints.count) - 0.014, 0, 0.09).astype(np.float32)[number]
    # a rib fades and comes again along its bed
    stands = np.clip(0.75 + 1.3 * wanted.noise(4, 11, 4, 0.6), 0.0, 1.5)
    dip = rng.normal(0.30, 0.14, beds).astype(np.float32)[joints.course] * stands
    lean = rng.normal(0, 0.035, joints.count).astype(np.float32)[number]
    top = (
        hard * stands
        + broken * (0.4 + 0.6 * stands)
        + (dip * joints.across + lean * joints.along) * np.float32(TILE_M)
    )
    top = top + 0.055 * wanted.noise(2, 1, 3, 0.5) + 0.035 * wanted.noise(5, 9, 3, 0.5)
    # the tops come off in flakes, the edges are chipped
    flaked = heap.flakes(wanted.noise(9, 4, 5, 0.55), 6) * 0.030 * sheets
    thin = heap.flakes(wanted.noise(22, 5, 4, 0.58), 5) * 0.007
    grain = wanted.noise(90, 6, 4, 0.65) * 0.0013
    edge = joints.edge * TILE_M
    chipped = np.clip(wanted.noise(26, 7, 4, 0.6) + 0.30, 0, None) * 0.045
    rounding = np.clip(1 - edge / (0.008 + chipped), 0, 1) ** 2 * (0.008 + 0.55 * chipped)
    # most joints are closed: they open where the rock is loose
    loose = common.smoothstep(-0.12, 0.35, wanted.noise(6, 10, 4, 0.6))
    open_ = common.smoothstep(0.012, 0.002, edge + 0.006 * wanted.noise(40, 8, 3)) * loose
    rock = top + flaked + thin + grain - rounding * (0.35 + 0.65 * loose) - open_ * 0.03
    return rock.astype(np.float32), rng.random(joints.count).astype(np.float32)[number], open_


def _paint(
    wanted: Wanted,
    rng: np.random.Generator,
    bed: scatter.Scattered,
    block: Map,
    joint: Map,
    controls: dict[str, float],
) -> tuple[Map, Map, Map]:
    size = wanted.size
    loose = bed.owner >= 0
    who = np.maximum(bed.owner, 0)
    fine = wanted.noise(220, 20, 3, 0.7)
    grit = wanted.noise(110, 21, 3, 0.7)
    low = common.dust(bed.height, 0.10 / bed.pixel_m, 0.05)
    soil = common.smoothstep(0.35, 0.85, low + 0.25 * joint + 0.55 * wanted.noise(14, 22, 5, 0.65)) * ~loose
    height = bed.height + soil * (0.006 + 0.002 * grit)
    tones = common.tone(rng, int(who.max()) + 1, 0.16)[who]
    streak = wanted.noise(24, 23, 5, 0.6, down=90)
    light = np.where(loose, tones, (0.86 + 0.28 * block) * (1 + 0.16 * streak)) * (1 + 0.07 * fine)
    edge = np.clip((height - periodic.blur(height, 0.012 / bed.pixel_m)) / 0.006, 0, 1)
    grey = np.broadcast_to(np.array([0.126, 0.132, 0.137], np.float32), (size, size, 3))
    warm = common.smoothstep(0.72, 1.0, block) * 0.5
    colour = common.mix(grey, (0.160, 0.138, 0.112), warm) * (light * (1 + 0.25 * edge))[..., None]
    stain = common.smoothstep(0.0, 0.55, wanted.noise(5, 24, 5, 0.55) + 0.55 * low - 0.12) * controls["stain"]
    colour = common.mix(colour, (0.170, 0.112, 0.066), np.clip(stain * (0.32 + 0.6 * low), 0, 0.85))
    earth = np.array([0.072, 0.058, 0.042], np.float32) * (1 + 0.4 * grit)[..., None]
    colour = (colour + (earth - colour) * soil[..., None]).astype(np.float32)
    growth = np.clip(controls["lichen"] * common.smoothstep(-0.45, 0.25, wanted.noise(4, 25, 4)), 0, 1)
    for grid, number, tint in (
        (26, 30, (0.30, 0.31, 0.27)),
        (60, 40, (0.245, 0.225, 0.120)),
        (44, 50, (0.06, 0.062, 0.058)),
    ):
        disc, own = heap.spots(wanted, rng, grid, number, 0.65)
        grown = disc * (0.45 + 0.55 * own) * growth * (1 - low) * ~loose
        colour = common.mix(colour, tint, np.clip(grown * 0.75, 0, 1))
    moss = common.smoothstep(0.25, 0.5, wanted.noise(9, 26, 5, 0.6) + 0.5 * (soil - 0.6)) * soil * controls["lichen"]
    colour = common.mix(colour, (0.070, 0.078, 0.028), np.clip(moss, 0, 1) * (0.8 + 0.2 * fine))
    height = height + 0.004 * np.clip(moss, 0, 1) * (1 + fine)
    colour = common.to_mean(common.even_out(colour, 0.45, 0.12), 0.132)
    rough = np.where(loose, 0.62, 0.50 + 0.07 * streak) + 0.3 * soil + 0.1 * growth
    return height.astype(np.float32), colour, np.clip(rough, 0.3, 1).astype(np.float32)
