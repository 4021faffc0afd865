"""Cast concrete: skin with air pits, joints of form panels, tie holes, board marks, clouds, hairlines, bare grit."""

from __future__ import annotations

import math

import numpy as np

from elvatch.core import noise
from elvatch.core.stock import pebble, scatter
from elvatch.core.stock.cells import cells
from elvatch.core.stock.generators import common
from elvatch.core.stock.generators.common import Drawing, Wanted
from elvatch.core.stock.generators.controls import Control

TILE_M = 3.0
_BOARDS = 20
_PANELS = (2, 3)  # form panels across and along: 1.5 m by 1 m
_SHIFTED = 0.37  # how far their joints lie from the edge of the tile, of a panel
CONTROLS = (
    Control("boards", "board marks", "mm", 0.0, 3.0, 0.2, 0.1, "how far the form boards printed through"),
    Control("pits", "air pits", "times", 0.0, 2.5, 1.0, 0.1, "how many bubbles show"),
    Control("worn", "worn", "", 0.0, 1.0, 0.3, 0.05, "how much skin has worn off the grit"),
    Control("stain", "stains", "", 0.0, 1.0, 0.5, 0.05, "cloudy dark and rusty tones"),
)


def draw(wanted: Wanted) -> Drawing:
    """Draw cast concrete, seamless over 3 m; see :class:`Wanted`."""
    size, seed, controls, run = wanted
    rng = np.random.default_rng(seed)
    pixel_m = TILE_M / size
    boards, tone = _boards(rng, size, seed)
    joints, panel_tone = _panels(rng, size, pixel_m, seed)
    run.at(0.2)
    skin = noise.periodic(size, 7, seed + 1, 5, 0.5) * 0.0026 + noise.periodic(size, 150, seed + 2, 4, 0.7) * 0.00032
    base = (skin + boards * controls["boards"] / 1000 + joints).astype(np.float32)
    tone = tone * min(1.0, controls["boards"] * 0.8) + panel_tone
    pits = _pits(rng, size, pixel_m, controls["pits"])
    run.at(0.45)
    pits = np.maximum(pits, _tie_holes(size, pixel_m))
    hair = _hairlines(rng, size, seed)
    run.at(0.6)
    grit = scatter.Scattered.floor(np.full((size, size), -1.0, np.float32), pixel_m)
    places = rng.uniform(0, TILE_M, (9500, 2))
    stones = pebble.PebbleStyle(0.0065, 1.2, 0.5, 2.1, 0.2, 0.5, 0.1, 0.0)
    pebble.lay_pebbles(grit, pebble.pebbles(rng, places, np.zeros(9500), stones), 0)
    run.at(0.75)
    return Drawing(*_paint(rng, base, tone, pits, hair, grit, seed, controls), TILE_M)


def _boards(rng: np.random.Generator, size: int, seed: int) -> tuple[common.Map, common.Map]:
    """Print of the form boards, about -1..1, and each board's own tone."""
    edges = np.sort((np.arange(_BOARDS) + 0.5 + rng.uniform(-0.12, 0.12, _BOARDS)) / _BOARDS)
    x = (np.arange(size) + 0.5) / size
    which = (np.searchsorted(edges, x) - 1) % _BOARDS
    away = np.min(np.abs((x[:, None] - edges[None, :] + 0.5) % 1 - 0.5), axis=1) * TILE_M
    fin = np.exp(-((away / 0.0022) ** 2)) * 1.6
    level = rng.normal(0, 0.45, _BOARDS)[which]
    grain = noise.periodic(size, 220, seed + 6, 3, 0.6)
    # wood grain runs along the boards: averaged down the picture, seamless since it wraps
    streak = sum(np.roll(grain, round(k * size / 90), 0) for k in range(-8, 9)) / 17 * 2.2
    knots = noise.periodic(size, 12, seed + 7, 3)
    print_ = level[None, :] + fin[None, :] + 0.5 * streak * (0.7 + 0.6 * knots)
    tone = rng.normal(0, 0.045, _BOARDS)[which]
    return print_.astype(np.float32), np.broadcast_to(tone[None, :], (size, size)).astype(np.float32)


def _panels(rng: np.random.Generator, size: int, pixel_m: float, seed: int) -> tuple[common.Map, common.Map]:
    """Height in metres that joints of form panels leave, where paste leaks and edges bleed; each panel's own tone."""
    across, along = _PANELS
    height = np.zeros((size, size), np.float32)
    edge = np.full((size, size), np.float32(TILE_M))
    at = (np.arange(size, dtype=np.float32) + 0.5) * np.float32(pixel_m)
    wander = noise.periodic(size, 6, seed + 8, 3) * 0.006
    for axis, count in ((1, across), (0, along)):
        apart = TILE_M / count
        line = at[None, :] if axis else at[:, None]
        away = np.abs((line + wander + _SHIFTED * apart) % apart - apart / 2)
        edge = np.minimum(edge, away)
        broken = common.smoothstep(-0.25, 0.35, noise.periodic(size, 14, seed + 9 + axis, 4))
        height += (
            np.exp(-((away / 0.0022) ** 2)) * 0.0012 * broken - np.exp(-((away / 0.006) ** 2)) * 0.0004
        ).astype(np.float32)
    rows, cols = (np.floor(at * count / TILE_M + _SHIFTED - 0.5).astype(int) % count for count in (along, across))
    level = rng.normal(0, 0.05, (along, across)).astype(np.float32)[np.ix_(rows, cols)]
    bled = np.exp(-edge / 0.03) * (0.5 + noise.periodic(size, 9, seed + 11, 4))
    return height, (level - 0.17 * bled - 0.12 * np.exp(-((edge / 0.005) ** 2))).astype(np.float32)


def _pits(rng: np.random.Generator, size: int, pixel_m: float, amount: float) -> common.Map:
    """Depth of the air pits in metres: many small, few large (power law)."""
    out = np.zeros((size, size), np.float32)
    count = round(5200 * amount)
    radii = np.clip(0.0011 * (1 - rng.random(count)) ** (-1 / 2.3), 0.0011, 0.010) / pixel_m
    crowd = noise.periodic(size, 5, int(rng.integers(1 << 20)), 4)
    for radius in radii:
        row, col = rng.integers(0, size, 2)
        if crowd[row, col] < rng.uniform(-0.6, 0.5):
            continue
        reach = math.ceil(radius * 1.4) + 1
        r, c = np.mgrid[-reach : reach + 1, -reach : reach + 1]
        away = np.hypot(r * rng.uniform(0.75, 1.3), c) / radius
        bowl = np.clip(1 - away**2.6, 0, 1) * radius * pixel_m * 0.75
        at = np.ix_((r[:, 0] + row) % size, (c[0] + col) % size)
        out[at] = np.maximum(out[at], bowl)
    return out


def _tie_holes(size: int, pixel_m: float) -> common.Map:
    """Depth of the holes left by form ties in metres: two in the middle of each panel, as formwork has them."""
    y, x = (np.mgrid[0:size, 0:size].astype(np.float32) + 0.5) * np.float32(pixel_m)
    across, along = TILE_M / _PANELS[0] / 2, TILE_M / _PANELS[1]
    away = np.hypot(
        (x + _SHIFTED * 2 * across) % across - across / 2, (y + _SHIFTED * along + along / 2) % along - along / 2
    )
    return (0.018 * common.smoothstep(0.019, 0.014, away)).astype(np.float32)


def _hairlines(rng: np.random.Generator, size: int, seed: int) -> common.Map:
    """Fine shrinkage cracks, 0..1, in some places only."""
    bend = tuple(noise.periodic(size, 12, seed + 60 + k, 5, 0.62) * 0.02 for k in range(2))
    net = cells(rng, size, 5, (bend[0], bend[1]), left_out=0.3)
    where = common.smoothstep(0.12, 0.42, noise.periodic(size, 4, seed + 62, 4, 0.6))
    return common.smoothstep(1.0, 0.3, net.border * TILE_M / 0.0013) * where


def _paint(
    rng: np.random.Generator,
    base: common.Map,
    tone: common.Map,
    pits: common.Map,
    hair: common.Map,
    grit: scatter.Scattered,
    seed: int,
    controls: dict[str, float],
) -> tuple[common.Map, common.Map, common.Map]:
    size = base.shape[0]
    fine = noise.periodic(size, 240, seed + 70, 3, 0.75)
    cloud = noise.periodic(size, 4, seed + 71, 6, 0.6)
    mottle = noise.periodic(size, 22, seed + 76, 5, 0.62)
    bare_line = 0.50 - 1.05 * controls["worn"]
    worn = common.smoothstep(
        bare_line,
        bare_line + 0.30,
        0.85 * noise.periodic(size, 5, seed + 72, 7, 0.68) + 0.3 * noise.periodic(size, 60, seed + 73),
    )
    worn = worn * min(1.0, controls["worn"] * 4)
    stone = np.clip((grit.height + 0.0004) / 0.0028, 0, 1) * (grit.owner >= 0)
    height = base - pits - 0.0012 * hair - worn * (0.0016 - 0.0024 * stone) + 0.00022 * fine * (1 + 2 * worn)
    grey = np.broadcast_to(np.array([0.364, 0.362, 0.346], np.float32), (size, size, 3))
    colour = grey * (1 + tone + 0.3 * cloud + 0.2 * mottle + 0.07 * fine)[..., None]
    sand = np.array([0.312, 0.300, 0.274], np.float32) * (1 + 0.22 * fine)[..., None]
    colour = colour + (sand - colour) * (worn * 0.6)[..., None]
    who = np.maximum(grit.owner, 0)
    kinds = np.array([[0.24, 0.235, 0.225], [0.33, 0.31, 0.28], [0.19, 0.175, 0.16], [0.40, 0.385, 0.36]], np.float32)
    own = kinds[rng.integers(0, 4, 9500)] * common.tone(rng, 9500, 0.15)[:, None]
    share = (stone > 0.25) * worn
    colour = colour + (own[who].astype(np.float32) - colour) * share[..., None]
    stain = common.smoothstep(0.05, 0.6, noise.periodic(size, 3, seed + 74, 6, 0.58)) * controls["stain"]
    colour = common.mix(colour.astype(np.float32), (0.190, 0.188, 0.176), stain * 0.6)
    rust = common.smoothstep(0.42, 0.66, noise.periodic(size, 9, seed + 75, 5, 0.6)) * controls["stain"]
    colour = common.mix(colour, (0.270, 0.215, 0.155), rust * 0.16)
    hollow = common.smoothstep(0.0002, 0.0022, pits)
    colour = common.mix(colour, (0.165, 0.155, 0.140), np.clip(hollow * 0.6 + hair * 0.55, 0, 1))
    colour = common.to_mean(common.even_out(colour, 0.5, 0.12), 0.335 - 0.05 * controls["stain"])
    rough = 0.70 + 0.06 * cloud + 0.05 * fine + 0.16 * worn + 0.08 * hollow - 0.05 * stain
    return height.astype(np.float32), colour, np.clip(rough, 0.35, 1).astype(np.float32)
