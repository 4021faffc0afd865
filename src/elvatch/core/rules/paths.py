"""Drawn paths: how far a place lies from one, found quickly by a grid of the pieces near each cell."""

from __future__ import annotations

import functools
import math
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from elvatch.core import curve
from elvatch.core.document.marks import DrawnPath
from elvatch.core.kernel import inner
from elvatch.core.noise import fractal_noise

FAR_OFF = 1e9
_MOST_CELLS = 128
# columns of a path's numbers
WEST, NORTH, CELL, ROWS, COLS, STARTS, WOBBLE, WOBBLE_SIZE, SEED = range(9)
PATH_NUMBERS = 9


class PathLines(NamedTuple):
    """Paths as compiled code takes them.

    ``numbers`` one row a path; ``pieces`` (n, 5) the ends of straight pieces and how far along the path each
    begins, metres; ``starts`` where each cell's list begins in ``lists``, one more than there are cells, path
    after path.
    """

    numbers: NDArray[np.float64]
    pieces: NDArray[np.float64]
    starts: NDArray[np.int64]
    lists: NDArray[np.int64]


def line_of(path: DrawnPath) -> NDArray[np.float64]:
    """Return a path as a smooth line, (n, 2) metres."""
    points = np.array([(p.east_m, p.north_m) for p in path.points])
    return curve.through(points)


class _Gridded(NamedTuple):
    numbers: tuple[float, ...]
    pieces: NDArray[np.float64]
    starts: NDArray[np.int64]
    lists: NDArray[np.int64]


@functools.lru_cache(maxsize=64)
def _lay(path: DrawnPath, reach_m: float) -> _Gridded:
    """Lay one path: the pieces, and for each cell of a grid over them those that come within reach of it."""
    line = line_of(path)
    lengths = np.hypot(*(line[1:] - line[:-1]).T)
    begins = np.concatenate([[0.0], np.cumsum(lengths)[:-1]])
    pieces = np.hstack([line[:-1], line[1:], begins[:, None]])
    low, high = line.min(axis=0) - reach_m, line.max(axis=0) + reach_m
    cell = max(reach_m, float((high - low).max()) / _MOST_CELLS)
    cols, rows = (max(1, math.ceil(extent / cell)) for extent in (high - low))
    beyond = np.array([-reach_m, reach_m])
    west_east = np.sort(pieces[:, 0:4:2], axis=1) + beyond
    south_north = np.sort(pieces[:, 1:4:2], axis=1) + beyond
    col = np.clip(((west_east - low[0]) / cell).astype(np.int64), 0, cols - 1)
    row = np.clip(((high[1] - south_north[:, ::-1]) / cell).astype(np.int64), 0, rows - 1)
    near = [
        (r * cols + c, k)
        for k, ((c0, c1), (r0, r1)) in enumerate(zip(col.tolist(), row.tolist(), strict=True))
        for r in range(r0, r1 + 1)
        for c in range(c0, c1 + 1)
    ]
    near.sort()
    cells, lists = np.array(near, np.int64).T
    starts = np.searchsorted(cells, np.arange(rows * cols + 1))
    numbers = (
        float(low[0]),
        float(high[1]),
        cell,
        float(rows),
        float(cols),
        0.0,
        path.wobble_m,
        path.wobble_size_m,
        float(path.seed),
    )
    return _Gridded(numbers, pieces, starts, np.ascontiguousarray(lists))


def lay(paths: list[tuple[DrawnPath, float]]) -> PathLines:
    """Return paths as compiled code takes them, each with the distance (m) within which it matters."""
    laid = [_lay(path, reach_m) for path, reach_m in paths]
    numbers = np.array([one.numbers for one in laid], np.float64).reshape(-1, PATH_NUMBERS)
    first_start = np.cumsum([0] + [len(one.starts) for one in laid])
    first_list = np.cumsum([0] + [len(one.lists) for one in laid])
    first_piece = np.cumsum([0] + [len(one.pieces) for one in laid])
    numbers[:, STARTS] = first_start[:-1]
    none = np.zeros(0, np.int64)
    return PathLines(
        numbers,
        np.vstack([np.zeros((0, 5)), *(one.pieces for one in laid)]),
        np.concatenate([none, *(one.starts + first_list[k] for k, one in enumerate(laid))]),
        np.concatenate([none, *(one.lists + first_piece[k] for k, one in enumerate(laid))]),
    )


@inner
def _nothing_about(lines: PathLines, p: int, x: float, y: float, reach: float) -> bool:
    """Whether no piece of a path matters anywhere within ``reach`` (at most half a cell) of a place."""
    west, north, cell = lines.numbers[p, WEST], lines.numbers[p, NORTH], lines.numbers[p, CELL]
    rows, cols, first = int(lines.numbers[p, ROWS]), int(lines.numbers[p, COLS]), int(lines.numbers[p, STARTS])
    for corner in range(4):
        col = math.floor((x - west + (reach if corner & 1 else -reach)) / cell)
        row = math.floor((north - y + (reach if corner & 2 else -reach)) / cell)
        if 0 <= row < rows and 0 <= col < cols:
            at = first + row * cols + col
            if lines.starts[at] < lines.starts[at + 1]:
                return False
    return True


@inner
def _nearest(lines: PathLines, p: int, x: float, y: float) -> tuple[int, float, float, float]:
    """Return the nearest piece of path ``p``, -1 beyond its reach, with the place along it, 0..1, and how far
    the place is aside of that, east and north, metres."""
    wobble = lines.numbers[p, WOBBLE]
    west, north, cell = lines.numbers[p, WEST], lines.numbers[p, NORTH], lines.numbers[p, CELL]
    rows, cols = int(lines.numbers[p, ROWS]), int(lines.numbers[p, COLS])
    if x < west - wobble or y > north + wobble or x > west + cols * cell + wobble or y < north - rows * cell - wobble:
        return -1, 0.0, 0.0, 0.0
    if wobble > 0.0:
        if 2.0 * wobble <= cell and _nothing_about(lines, p, x, y, wobble):
            return -1, 0.0, 0.0, 0.0
        u, v, seed = x / lines.numbers[p, WOBBLE_SIZE], y / lines.numbers[p, WOBBLE_SIZE], int(lines.numbers[p, SEED])
        x += wobble * fractal_noise(u, v, seed, 0, 3, 0.5)
        y += wobble * fractal_noise(u + 3.1, v - 8.7, seed + 17, 0, 3, 0.5)
    col, row = math.floor((x - west) / cell), math.floor((north - y) / cell)
    if row < 0 or col < 0 or row >= rows or col >= cols:
        return -1, 0.0, 0.0, 0.0
    first = int(lines.numbers[p, STARTS]) + row * cols + col
    best, nearest, along, east, north = FAR_OFF * FAR_OFF, -1, 0.0, 0.0, 0.0
    for at in range(lines.starts[first], lines.starts[first + 1]):
        k = lines.lists[at]
        px, py = lines.pieces[k, 0], lines.pieces[k, 1]
        ex, ey = lines.pieces[k, 2] - px, lines.pieces[k, 3] - py
        length2 = ex * ex + ey * ey
        t = min(max(((x - px) * ex + (y - py) * ey) / length2, 0.0), 1.0) if length2 > 0.0 else 0.0
        dx, dy = px + t * ex - x, py + t * ey - y
        if dx * dx + dy * dy < best:
            best, nearest, along, east, north = dx * dx + dy * dy, k, t, -dx, -dy
    return nearest, along, east, north


@inner
def beside(lines: PathLines, p: int, x: float, y: float) -> float:
    """Return how far a place lies beside path ``p``'s middle, metres; far off when beyond its reach."""
    nearest, _, east, north = _nearest(lines, p, x, y)
    return math.sqrt(east * east + north * north) if nearest >= 0 else FAR_OFF


@inner
def along_and_aside(lines: PathLines, p: int, x: float, y: float) -> tuple[float, float, float, float]:
    """Return how far along path ``p`` a place lies and how far to the right of it, metres, and which way the path
    goes there (a unit vector, east and north); far off when beyond its reach."""
    k, t, east, north = _nearest(lines, p, x, y)
    if k < 0:
        return 0.0, FAR_OFF, 1.0, 0.0
    ex, ey = lines.pieces[k, 2] - lines.pieces[k, 0], lines.pieces[k, 3] - lines.pieces[k, 1]
    length = max(math.sqrt(ex * ex + ey * ey), 1e-9)
    way_e, way_n = ex / length, ey / length
    # beyond its ends, and about the outside of a bend, the distance is to the nearest point of the line
    aside = math.copysign(math.sqrt(east * east + north * north), east * way_n - north * way_e)
    return lines.pieces[k, 4] + t * length, aside, way_e, way_n
