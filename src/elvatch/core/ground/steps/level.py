"""Cutting and filling to a level."""

from __future__ import annotations

from typing import Annotated, Any, Literal

import numpy as np
from pydantic import Field

from elvatch.core.ground.shaped import Map, Shaped
from elvatch.core.ground.step import Extent, StepBase, to_step
from elvatch.core.parts import Elevation
from elvatch.core.run import Run
from elvatch.core.shown import Shown


class LevelStep(StepBase):
    """Cuts what stands above a level and fills what lies below it."""

    title = "Cut and fill to a level"
    about = "cuts what stands above a level, fills what lies below"
    order = 110

    kind: Literal["level"] = "level"
    level_m: Annotated[Elevation, Shown("Level", "m", -20_000, 20_000, 0.5, 1)] = 0.0
    cut: bool = True
    fill: bool = True
    soft_m: Annotated[float, Shown("Soft over", "m", 0, 100, 0.1, 1)] = Field(
        default=0.5, ge=0, le=500, description="Height over which it takes hold"
    )

    @classmethod
    def suiting(cls, extent: Extent) -> dict[str, Any]:
        """Return the numbers of a new one that depend on the ground."""
        middle = to_step((extent.lowest_m + extent.highest_m) / 2, 0.5)
        return {"level_m": middle, "soft_m": max(0.1, to_step(extent.rise_m / 60, 0.1))}

    def apply(self, shaped: Shaped, run: Run) -> Shaped:
        """Return a ground with this step done to all of it."""
        return apply(shaped, self, run)


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
