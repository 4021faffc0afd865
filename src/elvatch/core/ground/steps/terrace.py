"""Terraces: level benches with steep fronts, cut into whatever ground there is."""

from __future__ import annotations

import math
from typing import Annotated, Any, Literal

import numpy as np
from numpy.typing import NDArray
from pydantic import Field

from elvatch.core.ground.shaped import Shaped
from elvatch.core.ground.step import Extent, StepBase, to_step
from elvatch.core.kernel import kernel
from elvatch.core.noise import fractal_noise, gradient_noise
from elvatch.core.parallel import over_bands
from elvatch.core.parts import Elevation, Seed, Share
from elvatch.core.run import Run
from elvatch.core.shown import Shown, metres, share


class TerraceStep(StepBase):
    """Cuts levels."""

    title = "Terraces"
    about = "cuts level benches with steep fronts"
    order = 50

    kind: Literal["terrace"] = "terrace"
    spacing_m: Annotated[float, metres("Spacing", 500, "From one level to the next")] = Field(
        default=6.0, gt=0, le=1_000, description="From one level to the next"
    )
    offset_m: Annotated[
        Elevation, Shown("A level at", "m", -20_000, 20_000, 0.1, 1, hint="Elevation of one of the levels")
    ] = Field(default=0.0, description="Elevation of one of the levels")
    sharpness: Annotated[Share, share("Sharpness", "How abruptly a bench ends")] = 0.6
    irregularity: Annotated[Share, share("Irregularity", "How far levels wander and fade")] = Field(
        default=0.4, description="How far levels wander, in spacings"
    )
    seed: Seed = 1

    @classmethod
    def suiting(cls, extent: Extent) -> dict[str, Any]:
        """Return the numbers of a new one that depend on the ground."""
        return {"spacing_m": max(0.2, to_step(extent.rise_m / 16, 0.1))}

    def apply(self, shaped: Shaped, run: Run) -> Shaped:
        """Return a ground with this step done to all of it."""
        return apply(shaped, self, run)


_WANDER_SPACINGS = 30.0


@kernel
def _terrace_rows(
    heights: NDArray[np.float32],
    spacing: float,
    offset: float,
    sharpness: float,
    irregularity: float,
    seed: int,
    width_m: float,
    depth_m: float,
    out: NDArray[np.float32],
    a: int,
    b: int,
) -> None:
    rows, cols = heights.shape
    size = spacing * _WANDER_SPACINGS
    front = max(1.0 - sharpness, 1e-3)
    for row in range(a, b):
        north = depth_m * (1.0 - row / (rows - 1))
        for col in range(cols):
            east = width_m * col / (cols - 1)
            level = (heights[row, col] - offset) / spacing
            wander = 0.0
            if irregularity > 0.0:
                # levels are uneven, wander along the slope, and are cut deeper in some places than in others
                wander = irregularity * (
                    0.55 * fractal_noise(east / size, north / size, seed, 0, 4, 0.5)
                    + 0.30 * gradient_noise(level * 0.53 + 11.3, 0.37, seed + 29, 0)
                )
            level += wander
            tread = math.floor(level)
            part = level - tread
            rise = min(max((part - 0.5) / front + 0.5, 0.0), 1.0)
            deep = 1.0
            if irregularity > 0.0:
                patch = fractal_noise(east / size * 0.8 + 5.1, north / size * 0.8 - 3.3, seed + 53, 0, 3, 0.5)
                deep = 1.0 - irregularity * min(max(0.45 - 0.9 * patch, 0.0), 1.0)
            out[row, col] = heights[row, col] + spacing * deep * (rise - part)


def apply(shaped: Shaped, step: TerraceStep, run: Run) -> Shaped:
    """Cut terraces; no height moves by more than half a spacing."""
    ground = shaped.ground
    out = np.empty_like(ground.heights_m)
    over_bands(
        ground.rows,
        lambda a, b: _terrace_rows(
            ground.heights_m,
            step.spacing_m,
            step.offset_m,
            step.sharpness,
            step.irregularity,
            step.seed,
            ground.width_m,
            ground.depth_m,
            out,
            a,
            b,
        ),
        run.token,
    )
    return shaped.with_heights(out)
