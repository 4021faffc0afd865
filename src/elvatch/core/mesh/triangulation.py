"""Triangles chosen by the error they make: right triangles, each split at the middle of its longest side.

Every triangle's error is the greatest distance of any sample inside it, so that what is told holds everywhere; errors
of coarse splits are no less than those of the splits they need, so that neighbours always agree about the side they
share and no level has gaps (Evans, Kirkpatrick & Townsend 2001, "Right-triangulated irregular networks"; Lindstrom &
Pascucci 2002). Between samples the ground is bilinear; what that can add along a diagonal is added.
"""

from __future__ import annotations

import math
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from elvatch.core.kernel import inner, kernel
from elvatch.core.mesh.lattice import Heights, Lattice, bends_m
from elvatch.core.parallel import Token, over_bands

Lines = NDArray[np.int64]
Vertices = NDArray[np.int32]
Triangles = NDArray[np.int32]
_MOST_DEEP = 64


class Hierarchy(NamedTuple):
    """All triangulations of a grid: its heights, for each sample the error left while it is no vertex, metres, and
    the error that is left when all are (what lies between samples)."""

    lattice: Lattice
    heights: Heights
    error_m: Heights
    least_m: float


class Triangulated(NamedTuple):
    """Vertices as rows and columns of the grid, shape (n, 2), and triangles of them, (m, 3), counter-clockwise as
    seen from above."""

    vertices: Vertices
    triangles: Triangles


@inner
def _cut(lines: NDArray[np.int64], first: int, last: int) -> bool:
    """Whether a line lies strictly between two."""
    between = 0
    for k in range(len(lines)):
        between += 1 if first < lines[k] < last else 0
    return between > 0


@inner
def _beside_side(
    heights: Heights, bends: Heights, down: Lines, across: Lines, r: int, c: int, s: int, level: bool, way: int
) -> float:
    """Return the error of the triangle on one side of a side of length 2 s with its middle at a sample."""
    rows, cols = heights.shape
    reach = way * s
    top, bottom = (min(r, r + reach), max(r, r + reach)) if level else (r - s, r + s)
    left, right = (c - s, c + s) if level else (min(c, c + reach), max(c, c + reach))
    if top < 0 or left < 0 or top >= rows - 1 or left >= cols - 1:
        return 0.0
    if _cut(down, top, bottom) or _cut(across, left, right):
        return math.inf
    if level:
        first, last, apex = heights[r, c - s], heights[r, c + s], heights[r + reach, c]
    else:
        first, last, apex = heights[r - s, c], heights[r + s, c], heights[r, c + reach]
    middle = 0.5 * (first + last)
    along, off = (last - first) / (2.0 * s), (apex - middle) / s
    most = 0.0
    for d in range(s + 1):
        for x in range(d - s, s - d + 1):
            i, j = (r + way * d, c + x) if level else (r + x, c + way * d)
            most = max(most, abs(heights[i, j] - (middle + along * x + off * d)) + bends[i, j])
    return most


@inner
def _in_square(
    heights: Heights, bends: Heights, down: Lines, across: Lines, r: int, c: int, s: int, falling: bool
) -> float:
    """Return the error of the two triangles of a square of side 2 s; the diagonal falls to the east or rises."""
    rows, cols = heights.shape
    side = 2 * s
    if r - s >= rows - 1 or c - s >= cols - 1:
        return 0.0
    if _cut(down, r - s, r + s) or _cut(across, c - s, c + s):
        return math.inf
    west, east = (c - s, c + s) if falling else (c + s, c - s)
    way = 1 if falling else -1
    # the diagonal goes from (top, west) to (bottom, east)
    nw, ne, sw, se = heights[r - s, west], heights[r - s, east], heights[r + s, west], heights[r + s, east]
    most = 0.0
    for v in range(side + 1):
        for u in range(side + 1):
            i, j = r - s + v, west + way * u
            if u >= v:
                plane = nw + (u * (ne - nw) + v * (se - ne)) / side
            else:
                plane = nw + (v * (sw - nw) + u * (se - sw)) / side
            most = max(most, abs(heights[i, j] - plane) + bends[i, j])
    return most


@kernel
def _sides(
    heights: Heights, bends: Heights, down: Lines, across: Lines, error: Heights, s: int, a: int, b: int
) -> None:
    """Fill in the errors of samples halfway along sides of length 2 s, whose squares' middles are done."""
    rows, cols = error.shape
    half = s // 2
    for i in range(a, b):
        for c in range(s if i % 2 == 0 else 0, cols, 2 * s):
            r, level = i * s, i % 2 == 0
            most = max(
                _beside_side(heights, bends, down, across, r, c, s, level, -1),
                _beside_side(heights, bends, down, across, r, c, s, level, 1),
            )
            if half > 0:
                for y in (r - half, r + half):
                    for x in (c - half, c + half):
                        if 0 <= y < rows and 0 <= x < cols:
                            most = max(most, error[y, x])
            error[r, c] = most


@kernel
def _middles(
    heights: Heights, bends: Heights, down: Lines, across: Lines, error: Heights, s: int, a: int, b: int
) -> None:
    """Fill in the errors of the middles of squares of side 2 s, whose sides are done."""
    cols = error.shape[1]
    for i in range(a, b):
        r = (2 * i + 1) * s
        for j in range(cols // (2 * s)):
            c = (2 * j + 1) * s
            most = _in_square(heights, bends, down, across, r, c, s, (i + j) % 2 == 0)
            most = max(most, error[r - s, c], error[r + s, c], error[r, c - s], error[r, c + s])
            error[r, c] = most


def hierarchy(lattice: Lattice, heights: Heights, token: Token | None = None) -> Hierarchy:
    """Return the errors of all triangulations of a grid.

    Parameters
    ----------
    lattice : Lattice
        The grid.
    heights : ndarray, shape (rows + 1, cols + 1), float32
        Metres.
    token : Token, optional
        Asked between bands.
    """
    block = lattice.block
    rows, cols = (-(-of // block) * block for of in (lattice.rows, lattice.cols))
    bends, error = bends_m(heights, token), np.zeros((rows + 1, cols + 1), np.float32)
    down, across = np.array(lattice.down, np.int64), np.array(lattice.across, np.int64)

    def split(s: int) -> None:
        """Fill in the errors of sides and squares of one size; those of the smaller ones are done."""
        over_bands(rows // s + 1, lambda a, b: _sides(heights, bends, down, across, error, s, a, b), token, least=1)
        over_bands(
            rows // (2 * s), lambda a, b: _middles(heights, bends, down, across, error, s, a, b), token, least=1
        )

    s = 1
    while 2 * s <= block:
        split(s)
        s *= 2
    return Hierarchy(lattice, heights, error, float(bends.max()))


@kernel
def _walk(
    error: Heights,
    roots: NDArray[np.int32],
    greatest: float,
    numbers: Vertices,
    vertices: Vertices,
    triangles: Triangles,
    counts: NDArray[np.int64],
    stack: NDArray[np.int32],
) -> None:
    """Count the triangles within an error and their vertices, and fill them in where there is room for them.

    ``numbers`` (of a window of the grid whose first sample ``counts[2:]`` tells) are -1 and become the vertices'. No
    triangle that is small enough lies partly in the window.
    """
    found, known = 0, 0
    top, left = counts[2], counts[3]
    bottom, right = top + numbers.shape[0] - 1, left + numbers.shape[1] - 1
    fill = len(triangles) > 0
    for root in range(len(roots)):
        for k in range(6):
            stack[0, k] = roots[root, k]
        deep = 1
        while deep > 0:
            deep -= 1
            ar, ac, br = stack[deep, 0], stack[deep, 1], stack[deep, 2]
            bc, pr, pc = stack[deep, 3], stack[deep, 4], stack[deep, 5]
            even = (ar + br) % 2 == 0 and (ac + bc) % 2 == 0
            mr, mc = (ar + br) // 2, (ac + bc) // 2
            if even and error[mr, mc] > greatest:
                first, second = stack[deep], stack[deep + 1]
                second[0], second[1], second[2], second[3], second[4], second[5] = br, bc, pr, pc, mr, mc
                first[0], first[1], first[2], first[3], first[4], first[5] = pr, pc, ar, ac, mr, mc
                deep += 2
                continue
            if min(ar, br, pr) < top or max(ar, br, pr) > bottom or min(ac, bc, pc) < left or max(ac, bc, pc) > right:
                continue
            for corner in range(3):
                r, c = (ar, ac) if corner == 0 else (br, bc) if corner == 1 else (pr, pc)
                number = numbers[r - top, c - left]
                if number < 0:
                    number = known
                    numbers[r - top, c - left] = known
                    if fill:
                        vertices[known, 0], vertices[known, 1] = r, c
                    known += 1
                if fill:
                    triangles[found, corner] = number
            found += 1
    counts[0], counts[1] = known, found


def _roots(lattice: Lattice, window: tuple[int, int, int, int]) -> NDArray[np.int32]:
    """Return the two triangles of each block that a window meets: the ends of the longest side, then the third
    corner."""
    top, bottom, left, right = window
    out = []
    size = lattice.block
    for r in range(top // size * size, bottom, size):
        for c in range(left // size * size, right, size):
            n, s, w, e = r, r + size, c, c + size
            if (r // size + c // size) % 2 == 0:
                out += [(s, e, n, w, s, w), (n, w, s, e, n, e)]
            else:
                out += [(n, e, s, w, s, e), (s, w, n, e, n, w)]
    return np.array(out, np.int32)


def triangulated(of: Hierarchy, greatest_m: float, window: tuple[int, int, int, int] | None = None) -> Triangulated:
    """Return the triangles that lie no further from the ground than an error.

    Parameters
    ----------
    of : Hierarchy
        The grid with its errors.
    greatest_m : float
        The greatest distance up or down, metres; 0 takes all samples.
    window : tuple of int, optional
        First and last row and column of samples of a tile; the whole grid when left out.
    """
    lattice = of.lattice
    window = window or (0, lattice.rows, 0, lattice.cols)
    roots = _roots(lattice, window)
    numbers = np.empty((window[1] - window[0] + 1, window[3] - window[2] + 1), np.int32)
    counts = np.array([0, 0, window[0], window[2]], np.int64)
    vertices, triangles = np.empty((0, 2), np.int32), np.empty((0, 3), np.int32)
    stack = np.empty((_MOST_DEEP, 6), np.int32)
    # once to count, once to fill in
    for _ in range(2):
        numbers.fill(-1)
        _walk(of.error_m, roots, greatest_m, numbers, vertices, triangles, counts, stack)
        if len(triangles) == 0:
            vertices = np.empty((int(counts[0]), 2), np.int32)
            triangles = np.empty((int(counts[1]), 3), np.int32)
    return Triangulated(vertices, triangles)


def regular(lattice: Lattice, window: tuple[int, int, int, int] | None = None) -> Triangulated:
    """Return two triangles for every cell of a grid."""
    top, bottom, left, right = window or (0, lattice.rows, 0, lattice.cols)
    rows = np.repeat(np.arange(top, bottom + 1, dtype=np.int32), right - left + 1)
    cols = np.tile(np.arange(left, right + 1, dtype=np.int32), bottom - top + 1)
    wide = right - left + 1
    at = np.arange(bottom - top, dtype=np.int32)[:, None] * wide + np.arange(right - left, dtype=np.int32)
    at = at.ravel()
    nw, ne, sw, se = at, at + 1, at + wide, at + wide + 1
    triangles = np.stack([np.stack([nw, sw, se], 1), np.stack([nw, se, ne], 1)], 1).reshape(-1, 3)
    return Triangulated(np.stack([rows, cols], 1), triangles.astype(np.int32))
