"""A ground as heights on a regular grid.

World axes: x east, y north, z up, metres, origin at the south-west corner. Row 0 of the
heights is the north edge. Samples stand on the corners: the first and the last sample of
a row lie on the site's west and east edge.
"""

from __future__ import annotations

from dataclasses import dataclass
from functools import cached_property

import numpy as np
from numpy.typing import NDArray

from elvatch.core import digest


@dataclass(frozen=True)
class Heightfield:
    """Heights of a rectangular ground.

    Parameters
    ----------
    heights_m : ndarray, shape (rows, cols), float32
        Metres, row 0 north, C order, all finite.
    width_m, depth_m : float
        Size east-west and north-south, metres.
    """

    heights_m: NDArray[np.float32]
    width_m: float
    depth_m: float

    @property
    def rows(self) -> int:
        """Samples from north to south."""
        return int(self.heights_m.shape[0])

    @property
    def cols(self) -> int:
        """Samples from west to east."""
        return int(self.heights_m.shape[1])

    @property
    def cell_x_m(self) -> float:
        """Metres between neighbouring columns."""
        return self.width_m / (self.cols - 1)

    @property
    def cell_y_m(self) -> float:
        """Metres between neighbouring rows."""
        return self.depth_m / (self.rows - 1)

    @cached_property
    def lowest_m(self) -> float:
        """Lowest sample, metres."""
        return float(self.heights_m.min())

    @cached_property
    def highest_m(self) -> float:
        """Highest sample, metres."""
        return float(self.heights_m.max())

    @cached_property
    def content_name(self) -> str:
        """Content name over heights and size."""
        return digest.of_json([digest.of_array(self.heights_m), self.width_m, self.depth_m])

    def elevation_at(self, x_m: float, y_m: float) -> float:
        """Return the bilinear elevation in metres; places outside take the nearest edge."""
        col = min(max(x_m / self.cell_x_m, 0.0), self.cols - 1.0)
        row = min(max((self.depth_m - y_m) / self.cell_y_m, 0.0), self.rows - 1.0)
        c, r = min(int(col), self.cols - 2), min(int(row), self.rows - 2)
        u, v = col - c, row - r
        h = self.heights_m[r : r + 2, c : c + 2].astype(np.float64)
        return float((h[0, 0] * (1 - u) + h[0, 1] * u) * (1 - v) + (h[1, 0] * (1 - u) + h[1, 1] * u) * v)
