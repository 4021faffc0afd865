"""Smoothing over a radius, and its opposite."""

from __future__ import annotations

import numpy as np

from elvatch.core.ground.blur import blur
from elvatch.core.ground.description import SmoothStep
from elvatch.core.ground.shaped import Map, Shaped
from elvatch.core.run import Run


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
