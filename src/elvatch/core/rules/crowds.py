"""How far places lie from the nearest of many things: a grid of them, each cell as wide as is looked."""

from __future__ import annotations

import math
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from elvatch.core.kernel import inner, kernel
from elvatch.core.parallel import over_bands

Numbers = NDArray[np.float64]
NOWHERE = 1e9
_MOST_CELLS = 1_000_000
# columns of a crowd's numbers
WEST, SOUTH, CELL, COLS, ROWS, STARTS = range(6)
CROWD_NUMBERS = 6


class Crowds(NamedTuple):
    """Things as rules read them, crowd after crowd.

    ``numbers`` (c, 6) one row a crowd; ``starts`` where each cell's things begin in ``spots`` (n, 3): east, north and
    radius of its foot, metres.
    """

    numbers: Numbers
    starts: NDArray[np.int64]
    spots: Numbers


def crowds(of: list[tuple[Numbers, float]]) -> Crowds:
    """Return crowds of things (n, 3), each with how far from a thing's edge matters, metres."""
    numbers, starts, spots, cells, count = [], [], [], 0, 0
    for given, reach_m in of:
        there = given if len(given) else np.array([[-NOWHERE, -NOWHERE, 0.0]])
        reach = max(reach_m + float(there[:, 2].max()), 1e-3)
        low, high = there[:, :2].min(axis=0), there[:, :2].max(axis=0)
        cell = max(reach, math.sqrt(float(np.prod(np.maximum(high - low, 1e-3))) / _MOST_CELLS))
        cols, rows = (int(n) + 1 for n in (high - low) / cell)
        at = ((there[:, :2] - low) / cell).astype(np.int64)
        index = at[:, 1] * cols + at[:, 0]
        order = np.argsort(index, kind="stable")
        numbers.append((low[0], low[1], cell, cols, rows, cells))
        starts.append(np.searchsorted(index[order], np.arange(cols * rows + 1)) + count)
        spots.append(there[order])
        cells, count = cells + cols * rows + 1, count + len(there)
    return Crowds(
        np.array(numbers, np.float64).reshape(-1, CROWD_NUMBERS),
        np.concatenate([np.zeros(0, np.int64), *starts]).astype(np.int64),
        np.concatenate([np.zeros((0, 3)), *spots]),
    )


@inner
def from_edge(of: Crowds, k: int, x: float, y: float) -> float:
    """Return how far a place lies from the nearest thing's edge, metres; far off where none matters, 0 inside one."""
    cell = of.numbers[k, CELL]
    cols, rows, first = int(of.numbers[k, COLS]), int(of.numbers[k, ROWS]), int(of.numbers[k, STARTS])
    col, row = math.floor((x - of.numbers[k, WEST]) / cell), math.floor((y - of.numbers[k, SOUTH]) / cell)
    best = NOWHERE
    for r in range(max(row - 1, 0), min(row + 2, rows)):
        for c in range(max(col - 1, 0), min(col + 2, cols)):
            at = first + r * cols + c
            for j in range(of.starts[at], of.starts[at + 1]):
                dx, dy = of.spots[j, 0] - x, of.spots[j, 1] - y
                best = min(best, math.sqrt(dx * dx + dy * dy) - of.spots[j, 2])
    return max(best, 0.0)


@kernel
def _distance_band(of: Crowds, x: Numbers, y: Numbers, out: Numbers, a: int, b: int) -> None:
    for i in range(a, b):
        out[i] = from_edge(of, 0, x[i], y[i])


def distances(of: Crowds, x_m: Numbers, y_m: Numbers) -> Numbers:
    """Return how far places lie from the edges of the things of one crowd, metres; far off beyond its reach."""
    out = np.empty(len(x_m))
    over_bands(len(x_m), lambda a, b: _distance_band(of, x_m, y_m, out, a, b), least=2048)
    return out
