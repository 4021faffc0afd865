"""Cutting and filling to a level."""

from __future__ import annotations

import numpy as np

from elvatch.core.ground.description import LevelStep
from elvatch.core.ground.shaped import Map, Shaped
from elvatch.core.run import Run

_SOFTEST_M = 1e-6


def soft_least(a: Map, b: Map, soft_m: float) -> Map:
    """Return the lower of two maps, rounded where they meet within ``soft_m`` (Quilez 2013)."""
    if soft_m < _SOFTEST_M:
        return np.minimum(a, b)
    near = np.maximum(np.float32(soft_m) - np.abs(a - b), 0)
    result: Map = np.minimum(a, b) - near * near * np.float32(0.25 / soft_m)
    return result


def apply(shaped: Shaped, step: LevelStep, run: Run) -> Shaped:
    """Cut what stands above the level and fill what lies below it."""
    run.token.check()
    heights = shaped.ground.heights_m
    level = np.full_like(heights, step.level_m)
    if step.cut:
        heights = soft_least(heights, level, step.soft_m)
    if step.fill:
        heights = -soft_least(-heights, -level, step.soft_m)
    return shaped.with_heights(heights)
