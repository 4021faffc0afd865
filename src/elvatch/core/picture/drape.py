"""A map or an image laid over the ground in place of its cover's colour."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from elvatch.core.ground.measures import Scale
from elvatch.core.ground.places import Places
from elvatch.core.ground.survey import Survey
from elvatch.core.picture import ramp


@dataclass(frozen=True)
class Drape:
    """A map laid over the ground instead of its cover, from edge to edge.

    ``values`` (rows, cols) of a measure with the ends of its ramp, or the linear colours (rows,
    cols, 3) of an image.
    """

    values: NDArray[np.float32]
    scale: Scale = "even"
    low: float = 0.0
    high: float = 1.0

    def colours(self, row: NDArray[np.int64], col: NDArray[np.int64]) -> NDArray[np.float32]:
        """Return the linear colours at rows and columns."""
        at = self.values[row, col]
        return at if self.values.ndim == 3 else ramp.colours(at, self.scale, self.low, self.high)

    def over(self, places: Places, survey: Survey) -> NDArray[np.float32]:
        """Return the linear colours at places of a ground, from the nearest sample, (n, 3)."""
        rows, cols = self.values.shape[:2]
        row = np.clip((1 - places.y_m / survey.depth_m) * (rows - 1) + 0.5, 0, rows - 1).astype(np.int64)
        col = np.clip(places.x_m / survey.width_m * (cols - 1) + 0.5, 0, cols - 1).astype(np.int64)
        return self.colours(row, col)
