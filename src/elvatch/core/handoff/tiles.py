"""Where the texels of a sheet stand: the grid of the whole site, the part of it, and the tiles it is cut into."""

from __future__ import annotations

import itertools
import math
from typing import NamedTuple

from elvatch.core.document.sheet import MOST_PX, MOST_TILES, MapsEntry, Region, Sheet
from elvatch.core.ground.description import Ground
from elvatch.core.ground.places import Grid
from elvatch.core.refusal import RefusalError


class Tile(NamedTuple):
    """A tile: its row and column from the north-west, its texels without border as rows and columns of the whole
    grid, how many texels of its neighbours it repeats, and its UDIM number."""

    row: int
    column: int
    rows: tuple[int, int]
    cols: tuple[int, int]
    border: int
    udim: int

    @property
    def width(self) -> int:
        """Texels across, with the border."""
        return self.cols[1] - self.cols[0] + 2 * self.border

    @property
    def height(self) -> int:
        """Texels down, with the border."""
        return self.rows[1] - self.rows[0] + 2 * self.border


def sheet_grid(ground: Ground, sheet: Sheet) -> Grid:
    """Return the grid of what has no size of its own; see :func:`grid_of`."""
    return _grid(ground, sheet, 0, False)


def grid_of(ground: Ground, sheet: Sheet, entry: MapsEntry) -> Grid:
    """Return the grid of the whole site in which an entry's texels stand.

    Raises
    ------
    RefusalError
        When it would have too many texels along a side, or too few.
    """
    return _grid(ground, sheet, entry.longer_px, entry.corners)


def _grid(ground: Ground, sheet: Sheet, longer_px: int, corners: bool) -> Grid:
    longer, least = max(ground.width_m, ground.depth_m), 2 if corners else 1
    by, value = sheet.fine.by, sheet.fine.value
    px = longer_px or {"pixels": value, "px-per-m": longer * value, "m-per-texel": longer / value}[by]
    if not 16 <= px < MOST_PX + 1.5:
        raise RefusalError(
            sheet.name, f"{px:.0f} texels along the longer side", f"16 to {MOST_PX}", "choose another fineness"
        )
    cells = [side / longer * (px - 1 if corners else px) for side in (ground.width_m, ground.depth_m)]
    width, height = (max(least, round(cell) + (1 if corners else 0)) for cell in cells)
    return Grid(width, height, corners)


def _span(grid_px: int, corners: bool, ground_m: float, first_m: float, long_m: float) -> tuple[int, int]:
    """Return the texels whose cells lie mostly within a stretch of the ground."""
    per_m = (grid_px - 1 if corners else grid_px) / ground_m
    first, last = first_m * per_m, (first_m + long_m) * per_m
    a = round(first)
    return a, (round(last) + 1 if corners else max(round(last), a + 1))


def window_of(ground: Ground, sheet: Sheet, grid: Grid) -> tuple[tuple[int, int], tuple[int, int]]:
    """Return the rows and columns of a grid that a sheet's part covers.

    Raises
    ------
    RefusalError
        When the part does not lie on the ground.
    """
    part = sheet.region or Region(east_m=0, north_m=0, width_m=ground.width_m, depth_m=ground.depth_m)
    slack = 1e-6 * max(ground.width_m, ground.depth_m)
    if part.east_m + part.width_m > ground.width_m + slack or part.north_m + part.depth_m > ground.depth_m + slack:
        raise RefusalError(
            f"part of {sheet.name}",
            f"{part.width_m:g} x {part.depth_m:g} m from {part.east_m:g}, {part.north_m:g}",
            f"a part of {ground.width_m:g} x {ground.depth_m:g} m",
            "draw it on the ground",
        )
    left, right = _span(grid.width, grid.corners, ground.width_m, part.east_m, part.width_m)
    south, north = _span(grid.height, grid.corners, ground.depth_m, part.north_m, part.depth_m)
    rows = max(grid.height - north, 0), min(grid.height - south, grid.height)
    return rows, (max(left, 0), min(right, grid.width))


def _cuts(first: int, last: int, count: int, side_px: int) -> list[tuple[int, int]]:
    if side_px:
        count = math.ceil((last - first) / side_px)
        return [(first + k * side_px, min(first + (k + 1) * side_px, last)) for k in range(count)]
    edges = [first + (last - first) * k // count for k in range(count + 1)]
    return list(itertools.pairwise(edges))


def tiles_of(ground: Ground, sheet: Sheet, grid: Grid) -> list[Tile]:
    """Return the tiles of a sheet on a grid, row by row from the north-west.

    Raises
    ------
    RefusalError
        When there are too many, or fewer texels than tiles.
    """
    rows, cols = window_of(ground, sheet, grid)
    cut = sheet.tiles
    # samples on corners bound their cells: neighbours share those between them
    shared = 1 if grid.corners else 0
    down, across = (
        [(a, b + shared) for a, b in _cuts(first, last - shared, count, cut.side_px)]
        for (first, last), count in ((rows, cut.rows), (cols, cut.columns))
    )
    if len(down) > MOST_TILES or len(across) > MOST_TILES:
        raise RefusalError(
            sheet.name, f"{len(across)} x {len(down)} tiles", f"at most {MOST_TILES} along a side", "make them larger"
        )
    if any(a >= b for a, b in (*down, *across)):
        raise RefusalError(
            sheet.name,
            f"{cols[1] - cols[0]} x {rows[1] - rows[0]} texels in {len(across)} x {len(down)} tiles",
            "at least one texel a tile",
            "choose fewer tiles or more texels",
        )
    return [
        Tile(r, c, one, other, cut.border_px, 1001 + c + 10 * (len(down) - 1 - r))
        for r, one in enumerate(down)
        for c, other in enumerate(across)
    ]
