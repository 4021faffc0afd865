"""Painted masks: only the squares that were painted are held."""

from __future__ import annotations

import math
from collections.abc import Callable, Mapping
from dataclasses import dataclass
from functools import cached_property

import numpy as np
from numpy.typing import NDArray

from elvatch.core import digest
from elvatch.core.document.marks import TILE, PaintedMask
from elvatch.core.kernel import inner, peek_code

Tile = NDArray[np.uint16]
FULL = 65535


@dataclass(frozen=True)
class Mask:
    """A painted mask in memory.

    ``tiles`` by row and column from the north-west corner, each of shape (TILE, TILE), 0 to 65535;
    ``name`` is the same whenever the same is painted.
    """

    width_m: float
    depth_m: float
    sample_m: float
    tiles: Mapping[tuple[int, int], Tile]
    name: str

    @property
    def grid(self) -> tuple[int, int]:
        """Rows and columns of tiles that cover the ground."""
        across = TILE * self.sample_m
        return max(1, math.ceil(self.depth_m / across - 1e-9)), max(1, math.ceil(self.width_m / across - 1e-9))

    @cached_property
    def table(self) -> NDArray[np.int64]:
        """Memory address of each tile, row by row, 0 where nothing is painted."""
        rows, cols = self.grid
        table = np.zeros(rows * cols, np.int64)
        for (row, col), tile in self.tiles.items():
            if row < rows and col < cols:
                table[row * cols + col] = tile.ctypes.data
        return table


def name_of(mask: PaintedMask, width_m: float, depth_m: float) -> str:
    """Return what names a mask of a ground's size by its content."""
    tiles = " ".join(f"{tile.row},{tile.col},{tile.file}" for tile in mask.tiles)
    return digest.of_bytes(f"{mask.sample_m} {width_m} {depth_m} {tiles}".encode())


def load(mask: PaintedMask, width_m: float, depth_m: float, read: Callable[[str], Tile]) -> Mask:
    """Return a mask of a ground's size, its tiles read by their content names."""
    tiles = {(tile.row, tile.col): read(tile.file) for tile in mask.tiles}
    return Mask(width_m, depth_m, mask.sample_m, tiles, name_of(mask, width_m, depth_m))


def usual_sample_m(width_m: float, depth_m: float) -> float:
    """Return how fine a mask of a ground is: a quarter of a metre, finer where the ground is small."""
    return float(f"{min(0.25, max(width_m, depth_m) / 2400):.3g}")


@inner
def code_at(table: NDArray[np.int64], first: int, rows: int, cols: int, row: int, col: int) -> float:
    """Return a sample of a mask, 0 to 65535; beyond the border that of the border.

    ``table`` holds addresses of tiles, row by row from ``first``.
    """
    r, c = min(max(row, 0), rows * TILE - 1), min(max(col, 0), cols * TILE - 1)
    address = table[first + (r // TILE) * cols + c // TILE]
    return float(peek_code(address, (r % TILE) * TILE + c % TILE)) if address != 0 else 0.0


@inner
def painted_at(
    table: NDArray[np.int64], first: int, rows: int, cols: int, sample_m: float, depth_m: float, x: float, y: float
) -> float:
    """Return how far a place is painted, 0..1, bilinear between samples."""
    right, down = x / sample_m - 0.5, (depth_m - y) / sample_m - 0.5
    c, r = math.floor(right), math.floor(down)
    u, v = right - c, down - r
    top = code_at(table, first, rows, cols, r, c) * (1.0 - u) + code_at(table, first, rows, cols, r, c + 1) * u
    low = (
        code_at(table, first, rows, cols, r + 1, c) * (1.0 - u) + code_at(table, first, rows, cols, r + 1, c + 1) * u
    )
    return (top + (low - top) * v) / FULL
