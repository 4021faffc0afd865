"""The samples that a mesh's vertices are chosen from: a grid of squares that can be halved over and over."""

from __future__ import annotations

import math
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from elvatch.core.ground.survey import Survey, ground_at
from elvatch.core.kernel import kernel
from elvatch.core.parallel import Token, over_bands
from elvatch.core.refusal import RefusalError

Heights = NDArray[np.float32]
MOST_CELLS = 8192
"""Along a side."""
_BLOCKS = 4
"""Along the shorter side, at least, where it cannot be halved whole."""
_TIMES = (1, 2, 4)


class SitePart(NamedTuple):
    """A part of a site, metres from its south-west corner."""

    east_m: float
    north_m: float
    width_m: float
    depth_m: float


class Lattice(NamedTuple):
    """A grid over a site or a part of it: ``rows`` and ``cols`` of cells, halved together in blocks of ``block``
    cells a side, a power of two; the last blocks may reach beyond it. Samples stand on the corners of cells.

    ``down`` and ``across`` are the lines of samples, from the first to the last, that bound its tiles.
    """

    rows: int
    cols: int
    block: int
    down: tuple[int, ...]
    across: tuple[int, ...]
    part: SitePart

    @property
    def cell_m(self) -> tuple[float, float]:
        """How large a cell is, east and north, metres."""
        return self.part.width_m / self.cols, self.part.depth_m / self.rows

    def x_m(self) -> NDArray[np.float64]:
        """Return where its columns of samples stand, metres from the west."""
        return np.asarray(self.part.east_m + np.arange(self.cols + 1) * self.cell_m[0], np.float64)

    def y_m(self) -> NDArray[np.float64]:
        """Return where its rows of samples stand, metres from the south; row 0 is north."""
        return np.asarray(self.part.north_m + (self.rows - np.arange(self.rows + 1)) * self.cell_m[1], np.float64)

    def tile(self, row: int, column: int) -> tuple[int, int, int, int]:
        """Return the first and last row and column of samples of a tile."""
        return self.down[row], self.down[row + 1], self.across[column], self.across[column + 1]


def _halvings(cells: int) -> int:
    """Return how many times so many cells can be halved."""
    return (cells & -cells).bit_length() - 1


def lattice_of(part: SitePart, cells: tuple[float, float], across: int, down: int) -> Lattice:
    """Return a grid of so many cells, rounded.

    Parameters
    ----------
    part : SitePart
        What it covers.
    cells : tuple of float
        How many are wanted, east and north.
    across, down : int
        Tiles; they are cut along lines of samples.

    Raises
    ------
    RefusalError
        When it would be too fine, or has fewer cells than tiles.
    """
    cols, rows = (max(1, round(of)) for of in cells)
    if max(cols, rows) > MOST_CELLS:
        raise RefusalError(
            "mesh",
            f"a grid of {max(cols, rows)} cells",
            f"at most {MOST_CELLS} along a side",
            "choose a coarser one",
        )
    if cols < across or rows < down:
        raise RefusalError(
            "mesh", f"{across} x {down} tiles of {cols} x {rows} cells", "a cell a tile", "choose fewer"
        )
    shorter = min(cols, rows)
    # where both sides halve often they do so whole; else blocks are small enough to reach little beyond
    halvings = max(min(_halvings(cols), _halvings(rows)), math.floor(math.log2(max(shorter / _BLOCKS, 1.0))))
    lines = [tuple(round(of * k / count) for k in range(count + 1)) for of, count in ((rows, down), (cols, across))]
    return Lattice(rows, cols, 1 << halvings, lines[0], lines[1], part)


@kernel
def _rows_of(
    survey: Survey, x_m: NDArray[np.float64], y_m: NDArray[np.float64], out: Heights, a: int, b: int
) -> None:
    for r in range(a, b):
        for c in range(len(x_m)):
            out[r, c] = ground_at(survey, x_m[c], y_m[r])[0]


def heights_of(survey: Survey, lattice: Lattice, token: Token | None = None) -> Heights:
    """Return the ground's heights at all samples of a grid, shape (rows + 1, cols + 1), metres."""
    whole = SitePart(0.0, 0.0, survey.width_m, survey.depth_m)
    if survey.heights.shape == (lattice.rows + 1, lattice.cols + 1) and lattice.part == whole:
        return survey.heights
    out = np.empty((lattice.rows + 1, lattice.cols + 1), np.float32)
    x, y = lattice.x_m(), lattice.y_m()
    over_bands(len(y), lambda a, b: _rows_of(survey, x, y, out, a, b), token, least=8)
    return out


@kernel
def _apart(
    survey: Survey,
    heights: Heights,
    x_m: NDArray[np.float64],
    y_m: NDArray[np.float64],
    part: SitePart,
    out: NDArray[np.float64],
    a: int,
    b: int,
) -> None:
    rows, cols = heights.shape[0] - 1, heights.shape[1] - 1
    for r in range(a, b):
        row = min(max((part.north_m + part.depth_m - y_m[r]) / part.depth_m * rows, 0.0), float(rows))
        top = min(int(row), rows - 1)
        v = row - top
        most = 0.0
        for c in range(len(x_m)):
            col = min(max((x_m[c] - part.east_m) / part.width_m * cols, 0.0), float(cols))
            left = min(int(col), cols - 1)
            u = col - left
            z = (heights[top, left] * (1 - u) + heights[top, left + 1] * u) * (1 - v) + (
                heights[top + 1, left] * (1 - u) + heights[top + 1, left + 1] * u
            ) * v
            most = max(most, abs(z - ground_at(survey, x_m[c], y_m[r])[0]))
        out[r] = most


def apart_m(survey: Survey, lattice: Lattice, heights: Heights, token: Token | None = None) -> float:
    """Return how far a grid lies from the ground at most, metres, where both are bilinear between their samples.

    The difference is bilinear on every rectangle that lines of the two grids cut out, so that it is greatest where
    lines cross.
    """
    if heights is survey.heights:
        return 0.0
    rows, cols = survey.heights.shape
    part = lattice.part
    x = np.union1d(lattice.x_m(), np.arange(cols) * survey.cell_x_m)
    y = np.union1d(lattice.y_m(), survey.depth_m - np.arange(rows) * survey.cell_y_m)
    x = x[(x >= part.east_m) & (x <= part.east_m + part.width_m)]
    y = y[(y >= part.north_m) & (y <= part.north_m + part.depth_m)]
    out = np.zeros(len(y))
    over_bands(len(y), lambda a, b: _apart(survey, heights, x, y, part, out, a, b), token, least=8)
    return float(out.max())


@kernel
def _bends(heights: Heights, out: Heights, a: int, b: int) -> None:
    rows, cols = heights.shape
    for r in range(a, b):
        for c in range(cols):
            most = np.float32(0.0)
            for i in range(max(r - 1, 0), min(r + 1, rows - 1)):
                for j in range(max(c - 1, 0), min(c + 1, cols - 1)):
                    twist = heights[i, j] - heights[i, j + 1] - heights[i + 1, j] + heights[i + 1, j + 1]
                    most = max(most, abs(twist) * np.float32(0.25))
            out[r, c] = most


def bends_m(heights: Heights, token: Token | None = None) -> Heights:
    """Return how far a diagonal of the cells around each sample may lie from the ground halfway, metres.

    The ground is bilinear between its samples: along a diagonal it bends by a quarter of what its corners twist.
    """
    out = np.empty_like(heights)
    over_bands(len(heights), lambda a, b: _bends(heights, out, a, b), token, least=16)
    return out


def fine_enough(
    survey: Survey, part: SitePart, greatest_m: float, across: int, down: int, token: Token | None = None
) -> tuple[Lattice, Heights, float]:
    """Return a grid that follows the ground well within an error, its heights, and how far it lies from the ground.

    Over a whole site it has the ground's own samples. Where the ground bends too much between them, or a part does
    not begin at one, it is made finer.
    """
    own = part.width_m / survey.cell_x_m, part.depth_m / survey.cell_y_m
    bend = float(bends_m(survey.heights, token).max())
    best: tuple[Lattice, Heights, float] | None = None
    for times in _TIMES:
        cells = own[0] * times, own[1] * times
        if best is not None and max(cells) > MOST_CELLS:
            break
        lattice = lattice_of(part, cells, across, down)
        heights = heights_of(survey, lattice, token)
        best = lattice, heights, apart_m(survey, lattice, heights, token)
        if best[2] <= greatest_m / 4 and bend / times**2 <= greatest_m / 2:
            break
    if best is None:
        raise AssertionError("there is always one grid")
    return best
