"""A ground on its way through the steps: its heights, and what shaping left behind."""

from __future__ import annotations

from dataclasses import dataclass
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from elvatch.core.ground.heightfield import Heightfield

Map = NDArray[np.float32]


class Traces(NamedTuple):
    """What runoff, rivers and settling leave behind, on the ground's own grid.

    ``worn_m`` metres taken away, ``dropped_m`` metres laid down, ``flow_m2`` the area whose rain
    ran through, all float32, shape (rows, cols).
    """

    worn_m: Map
    dropped_m: Map
    flow_m2: Map


def no_traces(ground: Heightfield) -> Traces:
    """Return traces of a ground on which nothing happened."""
    return Traces(*(np.zeros_like(ground.heights_m) for _ in range(3)))


@dataclass(frozen=True)
class Shaped:
    """A ground after some of its steps. ``traces`` is None while nothing ran, slid or was worn."""

    ground: Heightfield
    traces: Traces | None = None

    def with_heights(self, heights: Map) -> Shaped:
        """Return the same with other heights on the same grid."""
        ground = Heightfield(np.ascontiguousarray(heights, np.float32), self.ground.width_m, self.ground.depth_m)
        return Shaped(ground, self.traces)

    def with_more(self, heights: Map, worn_m: Map, dropped_m: Map, flow_m2: Map) -> Shaped:
        """Return it with other heights and with more left behind: metres add up, the larger flow stays."""
        before = self.traces or no_traces(self.ground)
        traces = Traces(before.worn_m + worn_m, before.dropped_m + dropped_m, np.maximum(before.flow_m2, flow_m2))
        return Shaped(self.with_heights(heights).ground, traces)
