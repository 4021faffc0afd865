"""Height files of one store: brought in, read in several ways, looked at before a ground is made of them."""

from __future__ import annotations

from dataclasses import replace

import numpy as np

from elvatch.core import digest
from elvatch.core.cache import Cache
from elvatch.core.formats import png
from elvatch.core.formats.reading import RawLayout, Reading
from elvatch.core.ground import heights
from elvatch.core.ground.heightfield import Heightfield
from elvatch.core.picture import relief_map
from elvatch.core.picture.terrain import terrain
from elvatch.core.results import result
from elvatch.store.store import Store


@result
class LayoutGuess:
    """How a file without a header may be laid out, and how sure that is, 0..1."""

    raw: RawLayout
    confidence: float


@result
class HeightFacts:
    """A height file in numbers, to judge it by; see :class:`elvatch.core.ground.heights.HeightFile`.

    ``steepest_deg`` and ``mean_deg`` are those that a true size and range would give, None without these.
    """

    file: str
    file_name: str
    format: str
    bits: int
    kind: str
    cols: int
    rows: int
    levels: int
    step: float
    lowest: float
    highest: float
    share_lowest: float
    share_highest: float
    holes: int
    pages: int
    channels: tuple[str, ...]
    cell_m: tuple[float, float] | None
    guesses: list[LayoutGuess]
    steepest_deg: float | None = None
    mean_deg: float | None = None


def _height_facts(stored: str, shown_as: str, file: heights.HeightFile) -> HeightFacts:
    return HeightFacts(
        stored,
        shown_as,
        file.format,
        file.bits,
        file.kind,
        file.cols,
        file.rows,
        file.levels,
        file.step,
        file.lowest,
        file.highest,
        file.share_lowest,
        file.share_highest,
        file.holes,
        file.pages,
        file.channels,
        file.cell_m,
        [LayoutGuess(guess.layout, guess.confidence) for guess in file.guesses],
    )


def _reading_name(file: str, reading: Reading) -> str:
    return digest.of_json([file, reading.model_dump()])


class HeightFiles:
    """Height files of one store.

    Parameters
    ----------
    store : Store
        Where they are kept.
    """

    def __init__(self, store: Store) -> None:
        self._store = store
        self._read = Cache[heights.HeightFile](4)

    def bring_file(self, shown_as: str, data: bytes) -> tuple[str, heights.HeightFile]:
        """Keep a height file and return its content name and what it holds; one that is refused goes again."""
        with self._store.files.putting() as put:
            stored = put(data)
            # read from disk from here on: two large copies of it need not be held at once
            del data
            return stored, self.read(stored, shown_as, Reading())

    def bring(self, shown_as: str, data: bytes) -> HeightFacts:
        """Keep a height file; return what it holds."""
        stored, file = self.bring_file(shown_as, data)
        return _height_facts(stored, shown_as, file)

    def look_at(
        self,
        name: str,
        shown_as: str,
        reading: Reading,
        size_m: tuple[float, float] | None = None,
        range_m: tuple[float, float] | None = None,
    ) -> HeightFacts:
        """Return what a stored height file holds, read in a certain way, and how steep a true size would make it."""
        file = self.read(name, shown_as, reading)
        facts = _height_facts(name, shown_as, file)
        if size_m is None or range_m is None or not range_m[0] < range_m[1]:
            return facts
        steepest, mean = self.steepness(file, size_m, range_m)
        return replace(facts, steepest_deg=steepest, mean_deg=mean)

    def read(self, name: str, shown_as: str, reading: Reading) -> heights.HeightFile:
        """Return a stored height file, read in a certain way."""
        return self._read.get(
            _reading_name(name, reading), lambda: heights.read(shown_as, self._store.files.get(name), reading)
        )

    def let_go(self, name: str, reading: Reading) -> None:
        """Keep a file's values in memory no longer: a large one and the ground made of it are not both kept."""
        self._read.forget(_reading_name(name, reading))

    def relief(self, name: str, shown_as: str, reading: Reading, size_px: int) -> bytes:
        """Return a small relief of a height file as read in a certain way, as PNG."""
        # turns and flips of one reading share its decoding
        plain = {"flip_east_west": False, "flip_north_south": False, "quarter_turns": 0}
        file = self.read(name, shown_as, reading.model_copy(update=plain))
        step = max(1, max(file.rows, file.cols) // (2 * size_px))
        values = heights.turned(file.values[::step, ::step], reading)
        rows, cols = values.shape
        # a gentle relief that shows shape whatever the true size may be
        width, depth = cols / max(rows, cols), rows / max(rows, cols)
        low, rise = float(values.min()), max(float(np.ptp(values)), 1e-9)
        land = terrain(Heightfield(np.ascontiguousarray((values - low) * np.float32(0.12 / rise)), width, depth))
        size = max(16, round(size_px * width)), max(16, round(size_px * depth))
        return png.encode(relief_map.draw(land.survey, *size, 0.0))

    @staticmethod
    def steepness(
        file: heights.HeightFile, size_m: tuple[float, float], range_m: tuple[float, float]
    ) -> tuple[float, float]:
        """Return the steepest and mean slope that a true size and range would give, degrees."""
        placed: Heightfield = heights.place(file, *size_m, *range_m)
        return heights.steepness(placed)
