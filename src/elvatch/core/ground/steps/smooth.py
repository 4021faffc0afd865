"""Smoothing over a radius, and its opposite."""

from __future__ import annotations

from typing import Annotated, Any, Literal

import numpy as np
from pydantic import Field

from elvatch.core.ground.blur import blur
from elvatch.core.ground.shaped import Map, Shaped
from elvatch.core.ground.step import Extent, StepBase, to_step
from elvatch.core.run import Run
from elvatch.core.shown import metres


class SmoothStep(StepBase):
    """Smooths; its opposite brings out what it would take away."""

    title = "Smooth"
    about = "smooths over a radius, or brings out what that would take away"
    order = 60
    opposite_title = "bring out detail"

    kind: Literal["smooth"] = "smooth"
    radius_m: Annotated[float, metres("Radius", 2_000, "Over which heights are averaged")] = Field(
        default=8.0, gt=0, le=5_000
    )
    opposite: bool = False

    @classmethod
    def suiting(cls, extent: Extent) -> dict[str, Any]:
        """Return the numbers of a new one that depend on the ground."""
        return {"radius_m": max(0.2, to_step(extent.longest_m / 120, 0.1))}

    def apply(self, shaped: Shaped, run: Run) -> Shaped:
        """Return a ground with this step done to all of it."""
        return apply(shaped, self, run)


def smoothed(shaped: Shaped, radius_m: float, run: Run) -> Map:
    """Return heights averaged over about ``radius_m`` (two standard deviations)."""
    ground = shaped.ground
    sigma = radius_m / 2.0
    return blur(ground.heights_m, sigma / ground.cell_x_m, sigma / ground.cell_y_m, run.token)


def apply(shaped: Shaped, step: SmoothStep, run: Run) -> Shaped:
    """Smooth a ground, or bring out what smoothing would take away."""
    heights = shaped.ground.heights_m
    calm = smoothed(shaped, step.radius_m, run)
    return shaped.with_heights(np.float32(2.0) * heights - calm if step.opposite else calm)
