"""Where things may lie: places that follow from a seed alone, each with the density from which on it is taken.

Cells of many sizes, each half as large as the one before, hold one candidate each, anywhere in its cell. A
candidate's *turn* is how dense things must be, per square metre, for it to be reached; those of a level of cells have
the turns between all larger cells' and its own. So a lower density takes a subset, and whatever part of the ground is
asked for holds the same places.

Things that keep apart are taken in order of their turns, each unless one taken before lies too near (random
sequential adsorption). Whether one is taken depends on nearer ones before it, and on nearer ones before those: so a
part of the ground is worked out with a margin, and where what lies beyond that might matter it is made wider.
"""

from __future__ import annotations

import functools
import math
from collections.abc import Callable
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from elvatch.core.kernel import inner, kernel
from elvatch.core.noise import hash_cell
from elvatch.core.parallel import Token, over_bands

_FIRST = 2.0**-16
"""Turns of the largest cells end here: one on 256 by 256 metres."""
_MOST_LEVELS = 32
_ORDER = np.array([[0, 8, 2, 10], [12, 4, 14, 6], [3, 11, 1, 9], [15, 7, 13, 5]], np.int64)
"""Sixteen cells side by side have sixteen turns that are spread evenly, each block in its own order (Bayer 1973)."""
_MANY = 4096
_MARGIN = 6.0
TAKEN, GONE, OPEN = 1, 2, 3
FULLEST = 0.6
"""Things that keep a distance ``r`` apart lie at most so densely, over ``r`` squared; 0.70 is full."""
_PATCH = 96.0
_SPENT = 9.0


class Box(NamedTuple):
    """A part of the ground, metres."""

    west: float
    south: float
    east: float
    north: float


class Candidates(NamedTuple):
    """Places ``x_m, y_m`` with their ``turn`` (per m²) and ``number``, by which each is known."""

    x_m: NDArray[np.float64]
    y_m: NDArray[np.float64]
    turn: NDArray[np.float64]
    number: NDArray[np.int64]

    def some(self, rows: NDArray[np.bool_] | NDArray[np.int64]) -> Candidates:
        """Return some of them."""
        return Candidates(self.x_m[rows], self.y_m[rows], self.turn[rows], self.number[rows])


@inner
def _span(level: int) -> tuple[float, float, float]:
    """Return the first and last turn of a level, and the side of its cells, metres."""
    last = _FIRST * 2.0**level
    first = 0.0 if level == 0 else 0.5 * last
    return first, last, 1.0 / math.sqrt(last - first)


@inner
def _unit(h: int) -> float:
    return (h + 0.5) / 4294967296.0


@inner
def _candidate(level: int, cx: int, cy: int, seed: int) -> tuple[float, float, float]:
    """Return the place and the turn of a cell's candidate."""
    first, last, side = _span(level)
    of = seed * 64 + level
    x, y = (cx + _unit(hash_cell(cx, cy, of))) * side, (cy + _unit(hash_cell(cx, cy, of + 40_503))) * side
    mixed = _ORDER[cy & 3, cx & 3] ^ (hash_cell(cx >> 2, cy >> 2, of + 7_919) & 15)
    part = (mixed + _unit(hash_cell(cx, cy, of + 104_729))) / 16.0
    return x, y, first + (last - first) * part


@kernel
def _fill(
    seed: int,
    levels: int,
    most: float,
    west: float,
    south: float,
    east: float,
    north: float,
    x: NDArray[np.float64],
    y: NDArray[np.float64],
    turn: NDArray[np.float64],
    number: NDArray[np.int64],
) -> int:
    """Fill in all candidates in a box whose turn comes before ``most``; return how many, or that no more fit."""
    found = 0
    for level in range(levels):
        _first, _last, side = _span(level)
        for cy in range(math.floor(south / side), math.floor(north / side) + 1):
            for cx in range(math.floor(west / side), math.floor(east / side) + 1):
                px, py, t = _candidate(level, cx, cy, seed)
                if t >= most or px < west or px >= east or py < south or py >= north:
                    continue
                if found == x.shape[0]:
                    return -1
                x[found], y[found], turn[found] = px, py, t
                number[found] = (level << 48) | ((cx + 8_388_608) << 24) | (cy + 8_388_608)
                found += 1
    return found


def free(seed: int, most: float, box: Box) -> Candidates:
    """Return all candidates in a box (its west and south edge in it, the others not) before a turn, in no order."""
    if most <= 0:
        return Candidates(np.zeros(0), np.zeros(0), np.zeros(0), np.zeros(0, np.int64))
    levels = min(max(1, math.ceil(math.log2(most / _FIRST)) + 1), _MOST_LEVELS)
    room = int((box.east - box.west) * (box.north - box.south) * most * 1.2) + 256
    while True:
        x, y, turn, number = np.empty(room), np.empty(room), np.empty(room), np.empty(room, np.int64)
        found = _fill(seed, levels, most, *box, x, y, turn, number)
        if found >= 0:
            return Candidates(x[:found], y[:found], turn[:found], number[:found])
        room *= 2


@kernel
def _take(
    x: NDArray[np.float64],
    y: NDArray[np.float64],
    apart: float,
    west: float,
    south: float,
    east: float,
    north: float,
    cols: int,
    rows: int,
    heads: NDArray[np.int32],
    following: NDArray[np.int32],
    state: NDArray[np.uint8],
) -> None:
    """Say of each candidate, in order of their turns, whether it is taken; OPEN where what lies outside matters."""
    for i in range(x.shape[0]):
        col, row = min(int((x[i] - west) / apart), cols - 1), min(int((y[i] - south) / apart), rows - 1)
        told = TAKEN
        if min(x[i] - west, east - x[i], y[i] - south, north - y[i]) < apart:
            told = OPEN
        for r in range(max(row - 1, 0), min(row + 2, rows)):
            for c in range(max(col - 1, 0), min(col + 2, cols)):
                j = heads[r * cols + c]
                while j >= 0:
                    dx, dy = x[j] - x[i], y[j] - y[i]
                    if dx * dx + dy * dy < apart * apart:
                        if state[j] == TAKEN:
                            told = GONE
                        elif told == TAKEN:
                            told = OPEN
                    if told == GONE:
                        break
                    j = following[j]
        state[i] = told
        if told != GONE:
            following[i] = heads[row * cols + col]
            heads[row * cols + col] = i


def _apart(seed: int, most: float, apart_m: float, box: Box) -> Candidates:
    """Return the candidates of a small box that are taken."""
    margin = _MARGIN * apart_m
    while True:
        wide = Box(box.west - margin, box.south - margin, box.east + margin, box.north + margin)
        found = free(seed, most, wide)
        found = found.some(np.argsort(found.turn, kind="stable"))
        cols, rows = (max(1, int((b - a) / apart_m)) for a, b in ((wide.west, wide.east), (wide.south, wide.north)))
        state = np.zeros(len(found.turn), np.uint8)
        heads, following = np.full(cols * rows, -1, np.int32), np.full(len(found.turn), -1, np.int32)
        _take(found.x_m, found.y_m, apart_m, *wide, cols, rows, heads, following, state)
        inside = (found.x_m >= box.west) & (found.x_m < box.east) & (found.y_m >= box.south) & (found.y_m < box.north)
        if not (inside & (state == OPEN)).any():
            return found.some(inside & (state == TAKEN))
        margin *= 2


def candidates(
    seed: int,
    most: float,
    apart_m: float,
    box: Box,
    token: Token | None = None,
    empty: Callable[[Box], bool] = lambda box: False,
) -> Candidates:
    """Return the places in a box that things may lie at, whose turn comes before a density.

    Parameters
    ----------
    seed : int
        Which.
    most : float
        Turns up to which they are wanted, per m².
    apart_m : float
        Least distance between two of them, 0 for none.
    box : Box
        Where; its west and south edges belong to it.
    token : Token, optional
        Asked between parts.
    empty : callable
        Says of parts whether nothing can lie there: they are passed over.

    Returns
    -------
    Candidates
        Ordered by turn; the same whatever the box is a part of.
    """
    side = max(math.sqrt(_MANY / max(most, 1e-12)), 4 * _MARGIN * apart_m)
    cols, rows = math.ceil((box.east - box.west) / side), math.ceil((box.north - box.south) / side)
    parts: list[Candidates | None] = [None] * (cols * rows)

    def work(first: int, last: int) -> None:
        for k in range(first, last):
            west, south = box.west + k % cols * side, box.south + k // cols * side
            cell = Box(west, south, min(west + side, box.east), min(south + side, box.north))
            if empty(cell):
                continue
            parts[k] = free(seed, most, cell) if apart_m <= 0 else _apart(seed, most, apart_m, cell)

    over_bands(len(parts), work, token, least=1)
    made = [one for one in parts if one is not None]
    whole = Candidates(
        np.concatenate([np.zeros(0), *(one.x_m for one in made)]),
        np.concatenate([np.zeros(0), *(one.y_m for one in made)]),
        np.concatenate([np.zeros(0), *(one.turn for one in made)]),
        np.concatenate([np.zeros(0, np.int64), *(one.number for one in made)]),
    )
    return whole.some(np.lexsort((whole.number, whole.turn)))


@functools.lru_cache(maxsize=64)
def _kinetics(apart_m: float) -> tuple[NDArray[np.float64], NDArray[np.float64]]:
    """Return densities that are reached, and the turns up to which candidates must be taken for them; measured."""
    side = _PATCH * apart_m
    found = candidates(0x5EED, _SPENT / apart_m**2, apart_m, Box(0.0, 0.0, side, side))
    turns = np.concatenate([[0.0], found.turn])
    return np.arange(len(turns)) / side**2, turns


def turn_for(density: NDArray[np.float64], apart_m: float) -> NDArray[np.float64]:
    """Return the turn up to which candidates are taken so that things lie as densely as asked, per m².

    Where things keep apart no more than :data:`FULLEST` over the distance squared can be had.
    """
    if apart_m <= 0:
        return density
    reached, turns = _kinetics(apart_m)
    return np.interp(np.minimum(density, FULLEST / apart_m**2), reached, turns)


def density_for(turn: float, apart_m: float) -> float:
    """Return how densely things lie whose candidates were taken up to a turn; undoes :func:`turn_for`."""
    if apart_m <= 0 or not math.isfinite(turn):
        return turn
    reached, turns = _kinetics(apart_m)
    return float(np.interp(turn, turns, reached))


@kernel
def _cluster_band(
    x: NDArray[np.float64],
    y: NDArray[np.float64],
    seed: int,
    apart: float,
    radius: float,
    out: NDArray[np.float64],
    a: int,
    b: int,
) -> None:
    for i in range(a, b):
        total = 0.0
        for cy in range(math.floor((y[i] - radius) / apart), math.floor((y[i] + radius) / apart) + 1):
            for cx in range(math.floor((x[i] - radius) / apart), math.floor((x[i] + radius) / apart) + 1):
                dx = (cx + _unit(hash_cell(cx, cy, seed))) * apart - x[i]
                dy = (cy + _unit(hash_cell(cx, cy, seed + 31))) * apart - y[i]
                away = (dx * dx + dy * dy) / (radius * radius)
                if away < 1.0:
                    total += 1.0 - away * away
        out[i] = total


def clustered(
    x_m: NDArray[np.float64], y_m: NDArray[np.float64], seed: int, apart_m: float, size_m: float
) -> NDArray[np.float64]:
    """Return how much denser than on the mean things lie at places when all lie in clusters; its mean is 1."""
    out, radius = np.empty(len(x_m)), size_m / 2
    over_bands(len(x_m), lambda a, b: _cluster_band(x_m, y_m, seed, apart_m, radius, out, a, b), least=4096)
    return out * peak(apart_m, size_m)


def peak(apart_m: float, size_m: float) -> float:
    """Return how much denser than on the mean things lie in the middle of a cluster, when all lie in clusters."""
    return 1.5 * apart_m**2 / (math.pi * (size_m / 2) ** 2)


@kernel
def _dice(number: NDArray[np.int64], seed: int, which: int, out: NDArray[np.float64]) -> None:
    for i in range(number.shape[0]):
        low, high = number[i] & 0xFFFFFFFF, number[i] >> 32
        out[i] = _unit(hash_cell(low, high, seed * 64 + 32 + which))


def dice(number: NDArray[np.int64], seed: int, which: int) -> NDArray[np.float64]:
    """Return a number from 0 to 1 for each thing, by chance that stays; ``which`` of them."""
    out = np.empty(len(number))
    _dice(number, seed, which, out)
    return out
