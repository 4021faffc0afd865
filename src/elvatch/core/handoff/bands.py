"""What lies under the texels of a tile, band of rows by band of rows, asked of the cover once for all its files."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Iterator
from dataclasses import dataclass
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from elvatch.core.cover import function, plan
from elvatch.core.cover.material import Material
from elvatch.core.cover.plan import Prepared
from elvatch.core.document.sheet import ValueName
from elvatch.core.ground import measures, places
from elvatch.core.ground.measures import MeasureName, Measures
from elvatch.core.ground.places import Grid, Places
from elvatch.core.ground.sampling import resampled, texel_rows
from elvatch.core.handoff.listing import Source
from elvatch.core.handoff.normals import Normals
from elvatch.core.handoff.tiles import Tile
from elvatch.core.handoff.values import KINDS, Answer, Band, Family, MapValue, lifted
from elvatch.core.parallel import Token

BAND_TEXELS = 160_000
Numbers = NDArray[np.float32]
Rows = tuple[int, int]
_Edge = tuple[Numbers, Numbers]
"""A row of heights and of the ground without relief."""


@dataclass(frozen=True)
class Inside:
    """The texels of a tile that lie on the site, rows and columns of the whole grid."""

    rows: Rows
    cols: Rows

    @property
    def width(self) -> int:
        """Columns."""
        return self.cols[1] - self.cols[0]


def inside(tile: Tile, grid: Grid) -> Inside:
    """Return which texels of a tile with its border lie on the site."""
    return Inside(
        (max(tile.rows[0] - tile.border, 0), min(tile.rows[1] + tile.border, grid.height)),
        (max(tile.cols[0] - tile.border, 0), min(tile.cols[1] + tile.border, grid.width)),
    )


def _apart(first: int, last: int, count: int, cell_m: float) -> NDArray[np.float64]:
    """Return how far apart the two neighbours of each texel stand; at the site's edge one of them is itself."""
    at = np.arange(first, last)
    return (np.minimum(at + 1, count - 1) - np.maximum(at - 1, 0)) * cell_m


@dataclass(frozen=True)
class _Chunk:
    """Some rows of texels as they were asked, with a column more on either side where normals need it."""

    rows: Rows
    cols: Rows
    at: Places
    material: Material
    heights: Numbers
    ground: Numbers


class Asking:
    """Asks a site's cover, and the measures of its ground, for bands of tiles.

    Parameters
    ----------
    source : Source
        The site.
    token : Token
        Asked between bands.
    """

    def __init__(self, source: Source, token: Token) -> None:
        self._source, self._token = source, token
        recipe = source.recipe
        self._prepared: Prepared = plan.prepare(recipe.layers, source.sets, source.evidence, wears=recipe.wears)
        self._water_m = recipe.water_over.level()
        self._measures: dict[tuple[Grid, ValueName], Callable[[int, int], Numbers]] = {}

    def bands(self, grid: Grid, where: Inside, kinds: Iterable[MapValue]) -> Iterator[tuple[Rows, Band]]:
        """Yield the rows of a part of a grid from the north, each with what is wanted there."""
        families = {kind.value: kind.family for kind in kinds}
        rows_of = {name: self._rows_of(grid, name) for name, family in families.items() if family == "measure"}
        for rows, answer in self._answers(grid, where, set(families.values())):
            measured = {name: np.ascontiguousarray(of(*rows)[:, slice(*where.cols)]) for name, of in rows_of.items()}
            yield rows, Band(answer, {name: values.ravel() for name, values in measured.items()})

    def _rows_of(self, grid: Grid, name: ValueName) -> Callable[[int, int], Numbers]:
        """Return what gives rows of a measure, made once a grid."""
        if (grid, name) not in self._measures:
            self._measures[grid, name] = measure_rows(self._source.measures, _measure_name(name), grid, self._token)
        return self._measures[grid, name]

    def _answers(self, grid: Grid, where: Inside, families: set[Family]) -> Iterator[tuple[Rows, Answer | None]]:
        """Yield rows with what the cover answers there, nothing where only measures are wanted."""
        if "normal" in families:
            yield from self._with_normals(grid, where)
            return
        for rows in row_bands(where.rows, where.width):
            if families <= {"measure"}:
                yield rows, None
                continue
            at = places.on_window(self._source.survey, grid, rows, where.cols)
            yield rows, Answer(at, function.ask(self._prepared, at, self._token), self._water_m)

    def _with_normals(self, grid: Grid, where: Inside) -> Iterator[tuple[Rows, Answer]]:
        """Yield bands one behind what was asked: a normal needs the row below."""
        above: _Edge | None = None
        waiting: _Chunk | None = None
        around = Inside(_wider(where.rows, grid.height), _wider(where.cols, grid.width))
        for rows in row_bands(around.rows, around.width):
            asked = self._chunk(grid, rows, around.cols)
            if waiting is not None:
                yield self._answer(grid, where, above, waiting, (asked.heights[:1], asked.ground[:1]))
                above = waiting.heights[-1:], waiting.ground[-1:]
            waiting = asked
        # the last may be nothing but what the one before it needed
        if waiting is not None and waiting.rows[0] < where.rows[1]:
            yield self._answer(grid, where, above, waiting, None)

    def _chunk(self, grid: Grid, rows: Rows, cols: Rows) -> _Chunk:
        at = places.on_window(self._source.survey, grid, rows, cols)
        material = function.ask(self._prepared, at, self._token)
        shape = rows[1] - rows[0], cols[1] - cols[0]
        heights = lifted(at, material).reshape(shape)
        return _Chunk(rows, cols, at, material, heights, at.elevation_m.reshape(shape))

    def _answer(
        self, grid: Grid, where: Inside, above: _Edge | None, of: _Chunk, below: _Edge | None
    ) -> tuple[Rows, Answer]:
        """Return those rows of a chunk that are wanted, with their normals."""
        first, last = max(of.rows[0], where.rows[0]), min(of.rows[1], where.rows[1])
        # beside the site's edges the outermost texels are their own neighbours
        rows = _Beside(first - of.rows[0], of.rows[1] - last, above, below)
        sides = _missing(where.cols, of.cols)
        heights, ground = (
            np.pad(rows.around(part, k), ((0, 0), sides), mode="edge")
            for k, part in enumerate((of.heights, of.ground))
        )
        east, north = grid.cell_m(self._source.survey)
        normals = Normals(
            heights, ground, _apart(*where.cols, grid.width, east), _apart(first, last, grid.height, north)
        )
        at, material = _cut(of, slice(first - of.rows[0], last - of.rows[0]), where.cols)
        return (first, last), Answer(at, material, self._water_m, normals)


def most_of(asking: Asking, grid: Grid, tile: Tile, layers: int) -> tuple[int, ...]:
    """Return the layers by how much of a tile they cover, the most first."""
    sums = np.zeros(layers)
    for _rows, band in asking.bands(grid, inside(tile, grid), [KINDS["shares"]]):
        if band.answer is not None:
            sums += band.answer.material.shares.sum(axis=0, dtype=np.float64)
    return tuple(np.argsort(-sums, kind="stable").tolist())


def _wider(of: Rows, count: int) -> Rows:
    """Return a stretch of texels with those beside it that there are."""
    return max(of[0] - 1, 0), min(of[1] + 1, count)


def _missing(wanted: Rows, asked: Rows) -> tuple[int, int]:
    """Return how many texels to each side of a stretch were not asked for, since the site ends there."""
    return 1 - (wanted[0] - asked[0]), 1 - (asked[1] - wanted[1])


class _Beside(NamedTuple):
    """Rows beside those wanted: how many of a chunk there are above and below, and what other chunks have of them."""

    before: int
    after: int
    above: _Edge | None
    below: _Edge | None

    def around(self, rows: Numbers, k: int) -> Numbers:
        """Return the wanted rows of part ``k`` with one more above and below."""
        wanted = rows[self.before : len(rows) - self.after]
        above = rows[:1] if self.before else self.above[k] if self.above else wanted[:1]
        below = rows[-1:] if self.after else self.below[k] if self.below else wanted[-1:]
        return np.concatenate([above, wanted, below])


def _cut(of: _Chunk, rows: slice, cols: Rows) -> tuple[Places, Material]:
    """Return some rows of a chunk and those of its columns that are wanted."""
    shape = of.heights.shape
    wanted = slice(cols[0] - of.cols[0], shape[1] - (of.cols[1] - cols[1]))

    def cut(values: NDArray[np.generic]) -> NDArray[np.generic]:
        if not len(values):
            return values
        return values.reshape(*shape, *values.shape[1:])[rows, wanted].reshape(-1, *values.shape[1:])

    return Places(*map(cut, of.at)), Material(*map(cut, of.material))  # type: ignore[arg-type]


def _measure_name(of: ValueName) -> MeasureName:
    """Return a value that is a measure, as one."""
    for name in measures.NAMES:
        if name == of:
            return name
    raise ValueError(f"{of} is no measure")


def row_bands(rows: Rows, width: int) -> Iterator[Rows]:
    """Yield stretches of rows that are asked at once, of so many texels each."""
    step = max(4, BAND_TEXELS // width)
    for first in range(rows[0], rows[1], step):
        yield first, min(first + step, rows[1])


def measure_rows(of: Measures, name: MeasureName, grid: Grid, token: Token) -> Callable[[int, int], Numbers]:
    """Return what gives rows of a measure on a grid, in its unit: samples where it stands on corners, else means."""
    values = of.map(name, token=token)
    bearings = measures.KINDS[name].scale == "compass"
    if not grid.corners:
        return texel_rows(values, grid.width, grid.height, bearings)
    if values.shape == (grid.height, grid.width):
        whole = values
    elif bearings:
        down = np.linspace(0, values.shape[0] - 1, grid.height).round().astype(np.int64)
        right = np.linspace(0, values.shape[1] - 1, grid.width).round().astype(np.int64)
        return lambda first, last: values[down[first:last][:, None], right]
    else:
        whole = resampled(values, grid.height, grid.width, token)
    return lambda first, last: whole[first:last]
