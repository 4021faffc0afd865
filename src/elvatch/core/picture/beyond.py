"""What lies beyond the edge of a site: its own ground mirrored and calmed, out to the horizon.

It is only for the eye: it shades nothing of the site and is never handed off. Its colours are the cover's own,
asked for at a few places once, mirrored and calmed like the ground.
"""

from __future__ import annotations

import functools
import math
from dataclasses import dataclass
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray
from scipy.ndimage import gaussian_filter, map_coordinates

from elvatch.core.cover.material import Material
from elvatch.core.ground.heightfield import Heightfield
from elvatch.core.kernel import inner, kernel
from elvatch.core.light.turned import GROUND_BEFORE
from elvatch.core.parallel import over_bands, rows_worth_it
from elvatch.core.picture import relief
from elvatch.core.picture.relief import TracedHeights

_MAP, _MAP_MOVING = 160, 80
"""Places along the longer side at which the cover is asked for its colours; while something moves a picture is small,
and asks fewer."""
_CELLS = 160
_REACH = 2
"""Sites' widths to each side; further out the ground is level."""
_BLUR = 5.0


@dataclass(frozen=True)
class Outer:
    """The ground beyond, prepared for rays; level at ``plane_m`` where it ends."""

    relief: TracedHeights
    plane_m: float


class BeyondColours(NamedTuple):
    """Colours of the ground beyond, linear, (rows, cols, 3), row 0 north; what they calm down to, and roughness."""

    colour: NDArray[np.float32]
    mean: NDArray[np.float32]
    roughness: float
    width_m: float
    depth_m: float


def _border(heights: NDArray[np.float32]) -> float:
    return float(np.median(np.concatenate([heights[0], heights[-1], heights[:, 0], heights[:, -1]])))


class _OuterGrid(NamedTuple):
    """A grid beyond a site, whatever its ground: which of the site's own samples each row and column mirrors, how
    soft it is and how much of the ground's rise is left, (rows, cols), by how far beyond the edge it lies."""

    rows: NDArray[np.int64]
    cols: NDArray[np.int64]
    soft: NDArray[np.float32]
    calm: NDArray[np.float32]


def _mirrors(cells: int) -> NDArray[np.int64]:
    at = np.arange((1 + 2 * _REACH) * cells + 1)
    return np.abs((at + cells) % (2 * cells) - cells)


@functools.lru_cache(maxsize=8)
def _grid(across: int, down: int) -> _OuterGrid:
    beyond = [
        np.clip(np.abs(np.linspace(-_REACH, 1 + _REACH, len(_mirrors(n))) - 0.5) - 0.5, 0, None)
        for n in (across, down)
    ]
    away = np.hypot(beyond[0][None], beyond[1][:, None])
    calm = 1.0 / (1.0 + (1.6 * away) ** 2) * np.clip(1.0 - (away / _REACH) ** 4, 0, 1)
    soft = np.clip(away * 2.5, 0, 1)
    return _OuterGrid(_mirrors(down), _mirrors(across), soft.astype(np.float32), calm.astype(np.float32))


@kernel
def _mirrored_rows(
    own: NDArray[np.float32],
    softened: NDArray[np.float32],
    grid: _OuterGrid,
    base: np.float32,
    start: int,
    stop: int,
    out: NDArray[np.float32],
) -> None:
    rows, cols, soft, calm = grid
    for r in range(start, stop):
        for c in range(out.shape[1]):
            lies = own[rows[r], cols[c]] + softened[rows[r], cols[c]] * soft[r, c]
            out[r, c] = lies * calm[r, c] + base


def outer(ground: Heightfield) -> Outer:
    """Return the ground beyond a site's edge; at the edge it has the site's own heights."""
    longest = max(ground.width_m, ground.depth_m)
    across, down = (max(8, round(_CELLS * size / longest)) for size in (ground.width_m, ground.depth_m))
    at = np.meshgrid(
        *(np.linspace(0, n - 1, k + 1) for n, k in ((ground.rows, down), (ground.cols, across))), indexing="ij"
    )
    base = _border(ground.heights_m)
    own = map_coordinates(ground.heights_m, at, order=1, mode="nearest", output=np.float64) - base
    # mirrored at its edges it is blurred as all that mirrors it is
    softened = (gaussian_filter(own, _BLUR, mode="mirror") - own).astype(np.float32)
    grid = _grid(across, down)
    plain, heights = own.astype(np.float32), np.empty_like(grid.calm)
    over_bands(
        len(heights),
        lambda start, stop: _mirrored_rows(plain, softened, grid, np.float32(base), start, stop, heights),
        least=rows_worth_it(heights.shape[1]),
    )
    whole = 1 + 2 * _REACH
    made = Heightfield(heights, ground.width_m * whole, ground.depth_m * whole)
    return Outer(relief.prepare(made, -_REACH * ground.width_m, -_REACH * ground.depth_m), base)


def nothing() -> Outer:
    """Return what stands for the ground beyond where there is none."""
    flat = Heightfield(np.full((2, 2), -1e9, np.float32), 1.0, 1.0)
    return Outer(relief.prepare(flat), -1e9)


def map_size(ground: Heightfield, moves: bool = False) -> tuple[int, int]:
    """Return how many columns and rows of places of a site the cover is asked at."""
    longest, most = max(ground.width_m, ground.depth_m), _MAP_MOVING if moves else _MAP
    return max(8, round(most * ground.width_m / longest)), max(8, round(most * ground.depth_m / longest))


def around(material: Material, rows: int, cols: int, ground: Heightfield) -> BeyondColours:
    """Return the colours beyond, of what the cover answered over a grid of the site, row by row."""
    colour = material.colour.reshape(rows, cols, 3)
    mean = material.colour.mean(axis=0)
    return BeyondColours(
        np.ascontiguousarray(colour), mean, float(material.roughness.mean()), ground.width_m, ground.depth_m
    )


def same_colours(one: BeyondColours, two: BeyondColours) -> bool:
    """Return whether the ground beyond looks the same in two."""
    return one is two or (
        one[2:] == two[2:] and np.array_equal(one.colour, two.colour) and np.array_equal(one.mean, two.mean)
    )


def no_around(before_face: bool = False) -> BeyondColours:
    """Return colours for where nothing of the ground lies beyond; before a face that of the level at its foot."""
    mean = np.array(GROUND_BEFORE if before_face else (0.0, 0.0, 0.0), np.float32)
    return BeyondColours(np.tile(mean, (2, 2, 1)), mean, 1.0, 1.0, 1.0)


@inner
def height_at(of: TracedHeights, x: float, y: float) -> float:
    """Return the height of the ground beyond at a place, metres; of its edge outside."""
    col = min(max((x - of.west_m) / of.cell_x_m, 0.0), of.cols - 1.0)
    row = min(max((of.north_m - y) / of.cell_y_m, 0.0), of.rows - 1.0)
    c, r = min(int(col), of.cols - 2), min(int(row), of.rows - 2)
    u, v = col - c, row - r
    at, h = of.first + r * of.cols + c, of.heights
    top = h[at] + (h[at + 1] - h[at]) * u
    low = h[at + of.cols] + (h[at + of.cols + 1] - h[at + of.cols]) * u
    return float(top + (low - top) * v)


@inner
def _mirrored(at: float) -> float:
    turned = at - 2.0 * math.floor(0.5 * at)
    return turned if turned <= 1.0 else 2.0 - turned


@inner
def colour_at(of: BeyondColours, x: float, y: float, out: NDArray[np.float32]) -> None:
    """Fill ``out`` with the colour of the ground beyond at a place of the world."""
    rows, cols = of.colour.shape[0], of.colour.shape[1]
    u, v = x / of.width_m, 1.0 - y / of.depth_m
    away = math.hypot(max(abs(u - 0.5) - 0.5, 0.0), max(abs(v - 0.5) - 0.5, 0.0))
    left = 1.0 / (1.0 + (2.0 * away) ** 2)
    col = min(max(_mirrored(u) * cols - 0.5, 0.0), cols - 1.001)
    row = min(max(_mirrored(v) * rows - 0.5, 0.0), rows - 1.001)
    c, r = int(col), int(row)
    s, t = col - c, row - r
    for k in range(3):
        top = of.colour[r, c, k] * (1 - s) + of.colour[r, c + 1, k] * s
        low = of.colour[r + 1, c, k] * (1 - s) + of.colour[r + 1, c + 1, k] * s
        out[k] = of.mean[k] + (top * (1 - t) + low * t - of.mean[k]) * left
