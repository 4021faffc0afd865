"""Heights mapped by a rising curve over their own range."""

from __future__ import annotations

from typing import Literal, Self

import numpy as np
import scipy
from pydantic import Field, model_validator

from elvatch.core.ground.shaped import Map, Shaped
from elvatch.core.ground.step import StepBase
from elvatch.core.parallel import over_bands
from elvatch.core.parts import Part, Share
from elvatch.core.run import Run


class HeightPoint(Part):
    """A point of a curve of heights, as shares of the range."""

    before: Share
    after: Share


class RemapStep(StepBase):
    """Maps heights by a rising curve; the range stays what it was."""

    title = "Heights by a curve"
    about = "maps heights by a rising curve"
    order = 100
    opposite_title = "the curve the other way round"

    kind: Literal["remap"] = "remap"
    curve: tuple[HeightPoint, ...] = Field(
        default=(HeightPoint(before=0, after=0), HeightPoint(before=0.5, after=0.35), HeightPoint(before=1, after=1)),
        min_length=2,
        max_length=12,
    )
    opposite: bool = Field(default=False, description="The curve the other way round")

    @model_validator(mode="after")
    def _rising(self) -> Self:
        for low, high in zip(self.curve, self.curve[1:], strict=False):
            if high.before - low.before < 1e-3 or high.after < low.after:
                raise ValueError("the points of the curve must rise from left to right")
        return self

    def apply(self, shaped: Shaped, run: Run) -> Shaped:
        """Return a ground with this step done to all of it."""
        return apply(shaped, self, run)


_TABLE = 4096


def curve_of(step: RemapStep) -> tuple[Map, Map]:
    """Return a table of the curve: shares of the range before and after (Fritsch & Carlson 1980).

    Beyond its first and last point the curve is level.
    """
    before = np.array([p.before for p in step.curve])
    after = np.array([p.after for p in step.curve])
    at = np.linspace(0.0, 1.0, _TABLE)
    shaped = scipy.interpolate.PchipInterpolator(before, after)(np.clip(at, before[0], before[-1]))
    x, y = at, np.clip(shaped, 0.0, 1.0)
    if step.opposite:
        # where the curve is level its inverse would be upright: the tiniest rise picks one side
        y = y + 1e-9 * at
        x, y = at, np.interp(at, y / y[-1] if y[-1] > 0 else y, at)
    return x.astype(np.float32), y.astype(np.float32)


def apply(shaped: Shaped, step: RemapStep, run: Run) -> Shaped:
    """Map heights by the curve; lowest and highest elevation are what its ends say of the range."""
    ground = shaped.ground
    low, rise = ground.lowest_m, max(ground.highest_m - ground.lowest_m, 1e-9)
    before, after = curve_of(step)
    out = np.empty_like(ground.heights_m)

    def work(a: int, b: int) -> None:
        out[a:b] = low + rise * np.interp((ground.heights_m[a:b] - low) / rise, before, after)

    over_bands(ground.rows, work, run.token)
    return shaped.with_heights(out)
