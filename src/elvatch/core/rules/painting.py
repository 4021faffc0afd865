"""Strokes of the brush on a painted mask."""

from __future__ import annotations

import math

import numpy as np
from numpy.typing import NDArray

from elvatch.core import digest
from elvatch.core.document.marks import TILE, MaskStroke
from elvatch.core.kernel import inner, kernel
from elvatch.core.parallel import Token, over_bands
from elvatch.core.rules.mask import FULL, Mask, Tile, code_at
from elvatch.core.rules.touches import lays, spaced

_ADD, _TAKE, _SMOOTH = range(3)
_TOOLS = {"add": _ADD, "take": _TAKE, "smooth": _SMOOTH}
_MOST_TOUCHES = 20_000


def _touches(stroke: MaskStroke) -> NDArray[np.float64]:
    """Return where the brush touches the ground: east, north (m) and pressure, evenly spaced along the stroke."""
    points = np.array([(p.east_m, p.north_m, p.pressure) for p in stroke.points])
    return spaced(points, 2, stroke.size_m, _MOST_TOUCHES)


@inner
def _smooth(table: NDArray[np.int64], rows: int, cols: int, row: int, col: int, reach: float) -> float:
    """Return the mean of a mask about a sample, weighted like a bell, 0 to 65535."""
    total, weight_sum = 0.0, 0.0
    for j in range(-2, 3):
        for i in range(-2, 3):
            weight = math.exp(-0.5 * (i * i + j * j))
            at = row + round(j * reach), col + round(i * reach)
            total += weight * code_at(table, 0, rows, cols, at[0], at[1])
            weight_sum += weight
    return total / weight_sum


@kernel
def _paint_rows(
    table: NDArray[np.int64],
    rows: int,
    cols: int,
    tile_row: int,
    tile_col: int,
    touches: NDArray[np.float64],
    radius: float,
    soft: float,
    strength: float,
    flow: float,
    tool: int,
    bare: NDArray[np.float64],
    out: NDArray[np.uint16],
    a: int,
    b: int,
) -> None:
    """Paint rows of one tile; ``touches`` and ``radius`` are counted in samples."""
    core = radius * (1.0 - soft)
    reach = max(1.0, radius / 5.0)
    for row in range(a, b):
        y = tile_row * TILE + row + 0.5
        bare[:] = 1.0
        for k in range(touches.shape[0]):
            dy = y - touches[k, 1]
            if abs(dy) >= radius:
                continue
            wide = math.sqrt(radius * radius - dy * dy)
            middle = touches[k, 0] - tile_col * TILE - 0.5
            first, last = math.ceil(middle - wide), math.floor(middle + wide)
            for col in range(max(0, first), min(TILE - 1, last) + 1):
                dx = col - middle
                away = math.sqrt(dx * dx + dy * dy)
                bare[col] *= 1.0 - flow * touches[k, 2] * lays(away, core, radius)
        for col in range(TILE):
            share = (1.0 - bare[col]) * strength
            r, c = tile_row * TILE + row, tile_col * TILE + col
            before = code_at(table, 0, rows, cols, r, c)
            after = before
            if share > 0.0:
                if tool == _ADD:
                    after = before + (FULL - before) * share
                elif tool == _TAKE:
                    after = before * (1.0 - share)
                else:
                    after = before + (_smooth(table, rows, cols, r, c, reach) - before) * share
            out[row, col] = int(after + 0.5)


def paint(mask: Mask, stroke: MaskStroke, token: Token | None = None) -> Mask:
    """Return a mask with one more stroke on it.

    Parameters
    ----------
    mask : Mask
        Before; it stays as it is, and tiles that are not touched are shared.
    stroke : MaskStroke
        Where the brush went. With a flow below 1 what it lays down gathers with the distance it goes.
    token : Token, optional
        Asked between bands.
    """
    touches = _touches(stroke)
    touches[:, 0] /= mask.sample_m
    touches[:, 1] = (mask.depth_m - touches[:, 1]) / mask.sample_m
    radius = max(stroke.size_m / 2 / mask.sample_m, 0.5)
    tiles: dict[tuple[int, int], Tile] = dict(mask.tiles)
    rows, cols = mask.grid
    near = _tiles_near(touches, radius, rows, cols)
    for row, col in near:
        middle = np.array([(col + 0.5) * TILE, (row + 0.5) * TILE])
        close = touches[np.abs(touches[:, :2] - middle).max(axis=1) < radius + TILE / 2]
        out = np.empty((TILE, TILE), np.uint16)

        def work(
            a: int, b: int, at: tuple[int, int] = (row, col), close: NDArray[np.float64] = close, out: Tile = out
        ) -> None:
            _paint_rows(
                mask.table,
                rows,
                cols,
                *at,
                close,
                radius,
                stroke.soft,
                stroke.strength,
                stroke.flow,
                _TOOLS[stroke.tool],
                np.empty(TILE),
                out,
                a,
                b,
            )

        over_bands(TILE, work, token)
        if out.any():
            tiles[row, col] = out
        else:
            tiles.pop((row, col), None)
    return Mask(mask.width_m, mask.depth_m, mask.sample_m, tiles, digest.of_json([mask.name, stroke.model_dump()]))


def _tiles_near(touches: NDArray[np.float64], radius: float, rows: int, cols: int) -> list[tuple[int, int]]:
    """Return the tiles that a stroke's touches may reach, by row and column."""
    found: set[tuple[int, int]] = set()
    for x, y, _ in touches:
        top, bottom = int((y - radius) // TILE), int((y + radius) // TILE)
        left, right = int((x - radius) // TILE), int((x + radius) // TILE)
        found.update(
            (row, col)
            for row in range(max(top, 0), min(bottom, rows - 1) + 1)
            for col in range(max(left, 0), min(right, cols - 1) + 1)
        )
    return sorted(found)
