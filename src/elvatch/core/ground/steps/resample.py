"""Another number of samples over the same ground; heights stay metres."""

from __future__ import annotations

import numpy as np

from elvatch.core.ground.description import ResampleStep
from elvatch.core.ground.heightfield import Heightfield
from elvatch.core.ground.sampling import grid_of, resampled
from elvatch.core.ground.shaped import Shaped, Traces
from elvatch.core.run import Run


def to_samples(shaped: Shaped, samples: int, run: Run) -> Shaped:
    """Return a ground whose longer side has ``samples`` samples."""
    ground = shaped.ground
    rows, cols = grid_of(samples, ground.width_m, ground.depth_m)
    heights = resampled(ground.heights_m, rows, cols, run.token)
    traces = shaped.traces
    if traces is not None:
        traces = Traces(*(np.maximum(resampled(one, rows, cols, run.token), 0) for one in traces))
    return Shaped(Heightfield(heights, ground.width_m, ground.depth_m), traces)


def apply(shaped: Shaped, step: ResampleStep, run: Run) -> Shaped:
    """Change the sampling as the step says."""
    return to_samples(shaped, step.samples, run)
