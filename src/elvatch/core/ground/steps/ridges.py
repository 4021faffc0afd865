"""Sharper ridges: a ground as a blunt tool would leave it from below.

Eroding a surface with a parabola (the lower envelope of a parabola standing on every point)
turns rounded crests into creases and rounds hollows (van den Boomgaard 1992). The envelope is
found row by row, then column by column, in time that does not grow with its width
(Felzenszwalb & Huttenlocher 2012).
"""

from __future__ import annotations

import math
from typing import Annotated, Any, Literal

import numpy as np
from numpy.typing import NDArray
from pydantic import Field

from elvatch.core.ground.blur import blur
from elvatch.core.ground.shaped import Map, Shaped
from elvatch.core.ground.step import Extent, StepBase, to_step
from elvatch.core.kernel import kernel
from elvatch.core.parallel import Token, over_bands
from elvatch.core.run import Run
from elvatch.core.shown import metres


class RidgesStep(StepBase):
    """Sharpens ridges and rounds valleys; its opposite sharpens valleys and rounds ridges."""

    title = "Sharpen ridges"
    about = "turns rounded crests into edges"
    order = 70
    opposite_title = "sharpen valleys instead"

    kind: Literal["ridges"] = "ridges"
    radius_m: Annotated[float, metres("Radius", 1_000, "How far from the crest it takes hold", step=1)] = Field(
        default=25.0, gt=0, le=2_000
    )
    opposite: bool = False

    @classmethod
    def suiting(cls, extent: Extent) -> dict[str, Any]:
        """Return the numbers of a new one that depend on the ground."""
        return {"radius_m": min(2000.0, max(0.2, to_step(extent.longest_m / 50, 0.1)))}

    def apply(self, shaped: Shaped, run: Run) -> Shaped:
        """Return a ground with this step done to all of it."""
        return apply(shaped, self, run)


_TYPICAL_RISE = 0.5
"""The parabola is as steep as this at the given radius."""


@kernel
def _envelope_rows(
    image: NDArray[np.float32],
    per_sample: float,
    out: NDArray[np.float32],
    feet: NDArray[np.int64],
    ends: NDArray[np.float64],
    a: int,
    b: int,
) -> None:
    """Fill in min over j of image[row, j] + per_sample (i - j)^2 for every i of each row."""
    n = image.shape[1]
    for row in range(a, b):
        last = 0
        feet[0], ends[0], ends[1] = 0, -math.inf, math.inf
        for j in range(1, n):
            while True:
                foot = feet[last]
                rise = (image[row, j] - float(image[row, foot])) / per_sample
                meet = (rise + float(j * j - foot * foot)) / (2.0 * (j - foot))
                if meet > ends[last]:
                    break
                last -= 1
            last += 1
            feet[last], ends[last], ends[last + 1] = j, meet, math.inf
        k = 0
        for i in range(n):
            while ends[k + 1] < i:
                k += 1
            out[row, i] = image[row, feet[k]] + per_sample * (i - feet[k]) ** 2


def _along_rows(image: Map, per_sample: float, token: Token) -> Map:
    out, n = np.empty_like(image), image.shape[1]

    def work(a: int, b: int) -> None:
        _envelope_rows(image, per_sample, out, np.empty(n + 1, np.int64), np.empty(n + 2), a, b)

    over_bands(len(image), work, token)
    return out


def eroded(heights: Map, cell_x_m: float, cell_y_m: float, curve_m: float, token: Token) -> Map:
    """Return the lower envelope of parabolas of radius of curvature ``curve_m`` standing on a ground."""
    rows = _along_rows(heights, cell_x_m**2 / (2 * curve_m), token)
    turned = _along_rows(np.ascontiguousarray(rows.T), cell_y_m**2 / (2 * curve_m), token)
    return np.ascontiguousarray(turned.T)


def apply(shaped: Shaped, step: RidgesStep, run: Run) -> Shaped:
    """Sharpen ridges, or valleys; the broad shape and height of the land stay."""
    ground = shaped.ground
    way = np.float32(-1.0 if step.opposite else 1.0)
    heights = way * ground.heights_m
    worn = eroded(heights, ground.cell_x_m, ground.cell_y_m, step.radius_m / _TYPICAL_RISE, run.token)
    sigma = step.radius_m
    lost = blur(heights - worn, sigma / ground.cell_x_m, sigma / ground.cell_y_m, run.token)
    return shaped.with_heights(way * (worn + lost))
