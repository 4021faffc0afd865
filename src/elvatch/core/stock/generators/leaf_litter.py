"""Leaf litter: fallen leaves of a few trees in layers, fresh ones on rotten ones, twigs, dark soil beneath."""

from __future__ import annotations

import math

import numpy as np
from numpy.typing import NDArray

from elvatch.core.stock import leaf, periodic, scatter
from elvatch.core.stock.generators import common
from elvatch.core.stock.generators.common import Drawing, Map, Wanted
from elvatch.core.stock.generators.controls import Control

TILE_M = 1.5
CONTROLS = (
    Control("leaves", "leaves", "times", 0.15, 1.5, 1.0, 0.05, "how thick they lie"),
    Control("fresh", "fresh", "", 0.0, 1.0, 0.4, 0.05, "how many have fallen just now"),
    Control("twigs", "twigs", "times", 0.0, 3.0, 1.0, 0.1, "how many lie among them"),
)
# length and width in metres, lobes, share
_TREES = ((0.085, 0.050, 0.05), (0.110, 0.066, 0.42), (0.060, 0.040, 0.12), (0.072, 0.030, 0.0))


def draw(wanted: Wanted) -> Drawing:
    """Draw leaf litter, seamless over 1.5 m; see :class:`Wanted`."""
    size, _, controls, run = wanted
    rng = np.random.default_rng(wanted.seed)
    pixel_m = TILE_M / size
    soil = wanted.noise(4, 1, 4, 0.5) * 0.014 + wanted.noise(70, 2, 4, 0.65) * 0.0022
    bed = scatter.Scattered.floor(soil.astype(np.float32), pixel_m)
    kinds, first = [], 0
    for layer, usual in enumerate((1500, 1300, 900)):
        run.at(0.1 + 0.15 * layer)
        some, kind = _leaves(rng, bed, round(usual * controls["leaves"]), size)
        leaf.lay_leaves(bed, some, first)
        kinds.append(kind + 10 * layer)
        first += len(some)
    twigs = _twigs(rng, bed, round(150 * controls["twigs"]), size)
    scatter.lay_blades(bed, twigs, first)
    run.at(0.7)
    return Drawing(*_paint(wanted, rng, bed, np.concatenate(kinds), len(twigs)), TILE_M)


def _leaves(
    rng: np.random.Generator, bed: scatter.Scattered, count: int, size: int
) -> tuple[NDArray[np.float32], NDArray[np.int64]]:
    places = rng.uniform(0, TILE_M, (count, 2))
    lying = periodic.blur(bed.height, 0.02 / bed.pixel_m)
    kind = rng.choice(len(_TREES), count, p=(0.34, 0.28, 0.2, 0.18))
    trees = np.array(_TREES)
    scale = np.clip(rng.lognormal(0, 0.2, count), 0.6, 1.5)
    out = np.zeros((count, leaf.LEAF_NUMBERS), np.float32)
    out[:, 0:2], out[:, 2] = places, lying[scatter.pixels(places, size, TILE_M)] + 0.003
    out[:, 3], out[:, 4], out[:, 8] = trees[kind, 0] * scale, trees[kind, 1] * scale, trees[kind, 2]
    out[:, 5] = rng.uniform(0, 2 * math.pi, count)
    out[:, 6] = np.clip(rng.normal(0.003, 0.007, count), -0.008, 0.018)
    out[:, 7] = np.clip(rng.normal(0.002, 0.006, count), -0.009, 0.012)
    out[:, 9] = rng.normal(0, 0.13, count)
    return out, kind


def _twigs(rng: np.random.Generator, bed: scatter.Scattered, count: int, size: int) -> NDArray[np.float32]:
    out = np.zeros((count, scatter.BLADE_NUMBERS), np.float32)
    places = rng.uniform(0, TILE_M, (count, 2))
    out[:, 0:2] = places
    out[:, 2] = periodic.blur(bed.height, 0.03 / bed.pixel_m)[scatter.pixels(places, size, TILE_M)] + 0.006
    out[:, 3] = 0.11 * np.clip(rng.lognormal(0, 0.5, count), 0.3, 2.4)
    out[:, 4] = rng.uniform(0, 2 * math.pi, count)
    out[:, 5] = rng.normal(0, 0.25, count)
    out[:, 6] = 0.0042 * np.clip(rng.lognormal(0, 0.3, count), 0.5, 1.8)
    out[:, 7] = 0.004
    return out


def _paint(
    wanted: Wanted, rng: np.random.Generator, bed: scatter.Scattered, kinds: NDArray[np.int64], twigs: int
) -> tuple[Map, Map, Map]:
    every = len(kinds) + twigs
    who = np.maximum(bed.owner, 0)
    bare, twig = bed.owner < 0, bed.owner >= len(kinds)
    fine, blotch = wanted.noise(160, 20, 3, 0.7), wanted.noise(40, 21, 4, 0.6)
    tan = np.array(
        [[0.170, 0.105, 0.052], [0.125, 0.076, 0.040], [0.205, 0.140, 0.058], [0.145, 0.088, 0.048]], np.float32
    )
    fallen = np.array(
        [[0.225, 0.135, 0.050], [0.190, 0.098, 0.040], [0.260, 0.190, 0.055], [0.205, 0.150, 0.062]], np.float32
    )
    layer = np.append(kinds // 10, np.zeros(twigs, np.int64))
    tree = np.append(kinds % 10, np.zeros(twigs, np.int64))
    new = (rng.random(every) < wanted.controls["fresh"] * (0.25 + 0.4 * layer)).astype(np.float32)[:, None]
    own = tan[tree] + (fallen[tree] - tan[tree]) * new
    # what lies beneath is rotten, wet and dark
    own = own * common.tone(rng, every, 0.24)[:, None] * (0.50 + 0.25 * layer)[:, None]
    colour = own.astype(np.float32)[who] * (1 + 0.16 * blotch + 0.06 * fine + 0.22 * bed.inner)[..., None]
    rotten = common.smoothstep(0.22, 0.5, wanted.noise(26, 22, 4, 0.62) + 0.1 * blotch)
    colour = common.mix(colour, (0.050, 0.034, 0.022), rotten * 0.6)
    bark = np.array([0.072, 0.056, 0.042], np.float32) * (1 + 0.35 * fine)[..., None]
    colour = np.where(twig[..., None], bark, colour)
    earth = np.array([0.040, 0.030, 0.022], np.float32) * (1 + 0.4 * fine)[..., None]
    colour = np.where(bare[..., None], earth, colour).astype(np.float32)
    colour = common.mix(colour, (0.034, 0.025, 0.018), common.dust(bed.height, 0.012 / bed.pixel_m, 0.009) * 0.6)
    colour = common.to_mean(common.even_out(colour), 0.088)
    rough = np.where(bare, 0.9, 0.62 + 0.12 * rotten - 0.06 * bed.inner).astype(np.float32)
    return bed.height, colour, rough
