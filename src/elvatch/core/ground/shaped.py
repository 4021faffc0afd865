"""A ground on its way through the steps: its heights, and what shaping left behind."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, field
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from elvatch.core.ground.heightfield import Heightfield
from elvatch.core.parallel import Token

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

    @property
    def nbytes(self) -> int:
        """Memory held, bytes."""
        return self.ground.heights_m.nbytes * (4 if self.traces else 1)

    def with_heights(self, heights: Map) -> Shaped:
        """Return the same with other heights on the same grid."""
        ground = Heightfield(np.ascontiguousarray(heights, np.float32), self.ground.width_m, self.ground.depth_m)
        return Shaped(ground, self.traces)

    def with_more(self, heights: Map, worn_m: Map, dropped_m: Map, flow_m2: Map) -> Shaped:
        """Return it with other heights and with more left behind: metres add up, the larger flow stays."""
        before = self.traces or no_traces(self.ground)
        traces = Traces(
            before.worn_m + worn_m, before.dropped_m + dropped_m, np.maximum(before.flow_m2, flow_m2)
        )  # fmt: skip
        return Shaped(self.with_heights(heights).ground, traces)


def _tell_nobody(share: float) -> None:
    del share


@dataclass(frozen=True)
class Run:
    """How a step is run: ``progress`` is told the share done, ``token`` asked whether to go on.

    ``coarse`` is 1 in full, less for a preview on so many fewer samples along a side.
    """

    token: Token = field(default_factory=Token)
    progress: Callable[[float], None] = _tell_nobody
    coarse: float = 1.0

    def part(self, start: float, end: float) -> Run:
        """Return how a part of the work is run that goes from one share done to another."""
        return Run(self.token, lambda share: self.progress(start + (end - start) * share), self.coarse)

    def at(self, share: float) -> None:
        """Say how far the work is, and stop when that was asked for."""
        self.token.check()
        self.progress(share)
