"""What is wiped, dragged or run over a surface: smears, scuffs, scratches and runs."""

from __future__ import annotations

import math

import numpy as np

from elvatch.core import noise
from elvatch.core.stock import periodic
from elvatch.core.stock.generators.common import Map, Wanted
from elvatch.core.stock.generators.controls import Control
from elvatch.core.stock.overlays import strokes

SMEARS_TILE_M, SCRATCHES_TILE_M, SCUFFS_TILE_M, RUNS_TILE_M = 1.6, 1.2, 1.5, 2.4

SMEARS = (
    Control("amount", "amount", "times", 0.2, 3.0, 1.0, 0.1, "how many there are"),
    Control("length", "length", "cm", 8.0, 90.0, 38.0, 1.0, "of a usual one"),
    Control("width", "width", "cm", 2.0, 30.0, 12.0, 0.5, "of a usual one"),
)
SCRATCHES = (
    Control("amount", "amount", "times", 0.1, 4.0, 1.0, 0.1, "how many there are"),
    Control("length", "length", "cm", 1.0, 60.0, 14.0, 0.5, "of a usual one"),
    Control("width", "width", "mm", 0.3, 8.0, 1.2, 0.1, "of a usual one"),
    Control("direction", "direction", "°", 0.0, 180.0, 20.0, 5.0, "which way they run, counter-clockwise from right"),
    Control("spread", "spread", "°", 0.0, 90.0, 50.0, 5.0, "how far they stray from it"),
)
SCUFFS = (
    Control("amount", "amount", "times", 0.2, 3.0, 1.0, 0.1, "how many there are"),
    Control("size", "size", "cm", 2.0, 30.0, 9.0, 0.5, "of a usual one"),
    Control("direction", "direction", "°", 0.0, 180.0, 0.0, 5.0, "which way they run, counter-clockwise from right"),
    Control("spread", "spread", "°", 0.0, 90.0, 60.0, 5.0, "how far they stray from it"),
)
RUNS = (
    Control("amount", "amount", "times", 0.2, 3.0, 1.0, 0.1, "how many there are"),
    Control("length", "length", "cm", 10.0, 200.0, 70.0, 5.0, "of a usual one"),
    Control("width", "width", "mm", 2.0, 60.0, 14.0, 1.0, "of a usual one"),
    Control("wander", "wander", "", 0.0, 1.0, 0.3, 0.05, "how far they stray from straight down"),
)


def smears(wanted: Wanted) -> Map:
    """Draw wiped bands: fibres side by side along an arc, fading at both ends; seamless over 1.6 m."""
    size, seed, controls, _ = wanted
    rng = np.random.default_rng(seed)
    metre, pieces = size / SMEARS_TILE_M, []
    for _ in range(round(24 * controls["amount"])):
        length = controls["length"] / 100 * metre * rng.lognormal(0, 0.45)
        width = controls["width"] / 100 * metre * rng.lognormal(0, 0.3)
        line = strokes.bent(rng, rng.uniform(0, size, 2), rng.uniform(0, 2 * math.pi), length, 0.5, 14)
        across = np.gradient(line, axis=0)[:, ::-1] * np.array([-1, 1])
        across /= np.maximum(np.linalg.norm(across, axis=1, keepdims=True), 1e-9)
        strong = rng.uniform(0.35, 1.0)
        for offset in rng.uniform(-0.5, 0.5, 34):
            fibre = strong * strokes.tapered(14, 0.8) * rng.uniform(0.15, 1.0) * (1 - 1.4 * offset**2)
            half = np.full(15, 0.008 * width * rng.lognormal(0, 0.8))
            pieces.append(strokes.along(line + across * offset * width, half, fibre, 0.03 * width + 1.0))
    fine = strokes.drawn(size, pieces)
    broad = periodic.blur(fine, 0.02 * metre)
    patchy = 0.75 + 0.5 * noise.periodic(size, 7, seed + 3, 4, 0.6)
    return strokes.held((0.5 * fine + 1.6 * broad) * patchy)


def scratches(wanted: Wanted) -> Map:
    """Draw fine scratches, some in bundles; seamless over 1.2 m."""
    size, seed, controls, _ = wanted
    rng = np.random.default_rng(seed)
    metre, pieces = size / SCRATCHES_TILE_M, []
    for _ in range(round(90 * controls["amount"])):
        angle = -math.radians(controls["direction"] + controls["spread"] * rng.uniform(-1, 1))
        length = controls["length"] / 100 * metre * rng.lognormal(-0.2, 0.6)
        start = rng.uniform(0, size, 2)
        for _ in range(1 if rng.random() < 0.75 else rng.integers(2, 7)):
            line = strokes.bent(rng, start + rng.normal(0, 0.006 * metre, 2), angle, length, 0.10, 10)
            half = 0.0005 * controls["width"] * metre * rng.lognormal(-0.15, 0.5) * strokes.tapered(10, 0.4)
            broken = np.clip(rng.normal(0.75, 0.35, 11), 0.05, 1)
            pieces.append(strokes.along(line, half, broken * rng.uniform(0.3, 1.0), 0.9))
    return strokes.drawn(size, pieces)


def scuffs(wanted: Wanted) -> Map:
    """Draw rubbed patches, as soles and wheels leave them: short marks side by side; seamless over 1.5 m."""
    size, seed, controls, _ = wanted
    rng = np.random.default_rng(seed)
    metre, pieces, patches = size / SCUFFS_TILE_M, [], []
    for _ in range(round(30 * controls["amount"])):
        angle = -math.radians(controls["direction"] + controls["spread"] * rng.uniform(-1, 1))
        reach = controls["size"] / 100 * metre * rng.lognormal(-0.1, 0.45)
        middle, strong = rng.uniform(0, size, 2), rng.uniform(0.3, 1.0)
        way = np.array([math.cos(angle), math.sin(angle)])
        aside = np.array([-way[1], way[0]])
        rub = strokes.bent(rng, middle - way * reach * 0.4, angle, reach * 0.8, 0.3, 6)
        patches.append(strokes.along(rub, np.full(7, 0.10 * reach), 0.4 * strong * strokes.tapered(6), 0.3 * reach))
        for _ in range(rng.integers(10, 34)):
            start = middle + way * reach * rng.normal(-0.25, 0.16) + aside * reach * rng.normal(0, 0.13)
            line = strokes.bent(rng, start, angle + rng.normal(0, 0.08), reach * rng.uniform(0.15, 0.7), 0.15, 5)
            half = 0.0006 * metre * rng.lognormal(0, 0.6) * strokes.tapered(5)
            pieces.append(strokes.along(line, half, strong * rng.uniform(0.2, 1.0) * strokes.tapered(5), 1.2))
    grain = 0.5 + 0.9 * noise.periodic(size, 150, seed + 5, 3, 0.7)
    soft = strokes.drawn(size, patches) * np.clip(grain, 0, 1)
    return strokes.held(np.maximum(strokes.drawn(size, pieces), soft))


def runs(wanted: Wanted) -> Map:
    """Draw what ran down and dried: from a head down the texture, thinner and fainter; seamless over 2.4 m."""
    size, seed, controls, _ = wanted
    rng = np.random.default_rng(seed)
    metre, pieces, broad = size / RUNS_TILE_M, [], []
    for _ in range(round(46 * controls["amount"])):
        length = controls["length"] / 100 * metre * rng.lognormal(-0.25, 0.7)
        width = controls["width"] / 1000 * metre * rng.lognormal(0, 0.45)
        steps = max(8, int(length / (0.02 * metre)))
        line = strokes.bent(rng, rng.uniform(0, size, 2), math.pi / 2, length, 0.0, steps)
        sway = np.cumsum(rng.normal(0, 1, steps + 1)) * 0.006 * metre * controls["wander"]
        line[:, 0] += sway - np.linspace(0, 0.6, steps + 1) * sway[-1]
        t, strong = np.linspace(0, 1, steps + 1), rng.uniform(0.25, 1.0)
        uneven = np.clip(1 + 0.35 * np.convolve(rng.normal(0, 1, steps + 5), np.ones(5) / 2.2, "valid"), 0.25, 1.6)
        half = 0.5 * width * (0.35 + 0.65 * (1 - t) ** 0.6) * uneven
        faint = strong * np.minimum(t / 0.05, 1) * (1 - t) ** 0.7
        # the rims of a run dry last and stay darkest or whitest
        for side in (-1.0, 1.0):
            rim = line + np.column_stack([side * half * 0.8, np.zeros(steps + 1)])
            pieces.append(strokes.along(rim, half * 0.12 + 0.3, faint, 0.15 * width + 0.8))
        broad.append(strokes.along(line, half, 0.62 * faint, 0.35 * width + 1.0))
    made = np.maximum(strokes.drawn(size, pieces), strokes.drawn(size, broad))
    crust = np.clip(0.8 + 0.55 * noise.periodic(size, 60, seed + 3, 4, 0.65), 0, 1.2)
    return strokes.held(made * crust)
