"""Another number of samples over the same ground; heights stay metres."""

from __future__ import annotations

from typing import Annotated, Literal

import numpy as np
from pydantic import Field

from elvatch.core.ground.heightfield import Heightfield
from elvatch.core.ground.sampling import MOST_SAMPLES, grid_of, resampled
from elvatch.core.ground.shaped import Shaped, Traces
from elvatch.core.ground.step import StepBase
from elvatch.core.run import Run
from elvatch.core.shown import Shown


class ResampleStep(StepBase):
    """Changes how many samples the ground has; heights stay metres."""

    title = "Resample"
    about = "more or fewer samples; heights stay metres"
    order = 140

    kind: Literal["resample"] = "resample"
    samples: Annotated[int, Shown("Samples", "", 33, 8193, 1, hint="Along the longer side")] = Field(
        default=2049, ge=33, le=MOST_SAMPLES, description="Along the longer side"
    )

    def apply(self, shaped: Shaped, run: Run) -> Shaped:
        """Return a ground with this step done to all of it."""
        return apply(shaped, self, run)


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
