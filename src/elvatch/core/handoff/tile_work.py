"""The files of a tile: asked of the cover once, encoded, written, read back and compared.

Memory does not depend on the size asked for: a band of rows is asked for, encoded, written and forgotten.
"""

from __future__ import annotations

import os
from collections import deque
from collections.abc import Callable, Sequence
from concurrent.futures import Future
from contextlib import ExitStack, closing
from dataclasses import dataclass, replace
from itertools import groupby
from pathlib import Path

import numpy as np
from isal import isal_zlib
from numpy.typing import NDArray

from elvatch.core.formats.written import FORMS
from elvatch.core.ground.places import Grid
from elvatch.core.handoff import bands, codes, ranges
from elvatch.core.handoff.bands import Asking
from elvatch.core.handoff.dependence import Dependence
from elvatch.core.handoff.listing import File, Source
from elvatch.core.handoff.manifest import FileSaid, said, sha256_of
from elvatch.core.handoff.ranges import FoundRanges
from elvatch.core.handoff.tiles import Tile
from elvatch.core.handoff.values import KINDS, Band
from elvatch.core.parallel import Token, background_pool
from elvatch.core.refusal import RefusalError

_LOSSY_WITHIN = 3.0
"""Codes of 255 by which what is read back of a lossy file may differ from what was meant, on the mean."""
_BANDS_AT_ONCE = 2
"""So many bands are held that are not written yet: asking need not wait for the slowest file."""
Key = tuple[Grid, Tile]


def key_of(file: File) -> Key:
    """Return which tile of which grid a file is of."""
    return file.grid, file.tile


def by_tile(files: Sequence[File]) -> list[tuple[Key, list[File]]]:
    """Return files tile by tile, in an order that depends on nothing but the files."""
    sorted_ = sorted(files, key=lambda file: (key_of(file), file.name))
    return [(key, list(group)) for key, group in groupby(sorted_, key=key_of)]


@dataclass
class _Sum:
    """Checksums of numbers in their order: two that go differently about it."""

    crc: int = 0
    adler: int = 1

    def add(self, rows: NDArray[np.generic]) -> None:
        """Add rows."""
        data = np.ascontiguousarray(rows).data.cast("B")
        self.crc, self.adler = isal_zlib.crc32(data, self.crc), isal_zlib.adler32(data, self.adler)


class _Writing:
    """One file as it is written, band by band, with a checksum of what was meant."""

    def __init__(self, file: File, folder: Path, stack: ExitStack) -> None:
        self.file, self._form = file, FORMS[file.entry.format]
        self._path = folder / file.name
        self._writer = stack.enter_context(closing(self._form.writer(self._path, file.image)))
        self._meant = _Sum()
        self._whole: list[NDArray[np.generic]] = []
        where, tile = bands.inside(file.tile, file.grid), file.tile
        self._where = where
        # what lies outside the site repeats its edge
        self._above = where.rows[0] - (tile.rows[0] - tile.border)
        self._below = tile.rows[1] + tile.border - where.rows[1]
        self._sides = where.cols[0] - (tile.cols[0] - tile.border), tile.cols[1] + tile.border - where.cols[1]

    def write(self, rows: tuple[int, int], values: NDArray[np.generic]) -> None:
        """Add rows of the grid, shape (n, channels)."""
        of = values.reshape(rows[1] - rows[0], self._where.width, self.file.image.channels)
        above = self._above if rows[0] == self._where.rows[0] else 0
        below = self._below if rows[1] == self._where.rows[1] else 0
        if above or below or any(self._sides):
            of = np.pad(of, ((above, below), self._sides, (0, 0)), mode="edge")
        of = np.ascontiguousarray(of)
        self._meant.add(of)
        if not self._form.lossless:
            self._whole.append(of)
        self._writer.write(of)

    def finish(self, made_of: str) -> FileSaid:
        """Make the file whole, on disk, read it back; return what it is."""
        self._writer.finish()
        with self._path.open("rb") as stream:
            os.fsync(stream.fileno())
        try:
            same = self._reads_back()
        except (OSError, ValueError) as error:
            raise self._unlike(str(error)) from None
        if not same:
            raise self._unlike("other numbers than were meant")
        return said(self.file, self._path.stat().st_size, sha256_of(self._path), made_of)

    def _unlike(self, found: str) -> RefusalError:
        return RefusalError(
            self.file.name, f"{found} when it was read back", "what was written", "write it again, to another disk"
        )

    def _reads_back(self) -> bool:
        read = self._form.bands(self._path, self.file.image)
        if self._form.lossless:
            found = _Sum()
            for rows in read:
                found.add(rows)
            return found == self._meant
        apart = np.abs(np.concatenate(list(read)).astype(np.int16) - np.concatenate(self._whole))
        return float(apart.mean()) <= _LOSSY_WITHIN


def _done(futures: Sequence[Future[None]]) -> None:
    for future in futures:
        future.result()


class TileWork:
    """Writes tiles of one hand-off.

    Parameters
    ----------
    source : Source
        The site.
    files : sequence of File
        All maps of the hand-off: ranges that are to be found are found in all of them.
    token : Token
        Asked between bands.
    found : FoundRanges, optional
        Ranges that were found before.
    """

    def __init__(self, source: Source, files: Sequence[File], token: Token, found: FoundRanges | None = None) -> None:
        self._asking = Asking(source, token)
        self._layers = {layer.id: k for k, layer in enumerate(source.shown)}
        self.found = found or ranges.found(files, self._asking, self._layers)
        self._dependence = Dependence(source)

    def made_of(self, file: File) -> str:
        """Return a name for all that a file depends on."""
        return self._dependence.of_file(replace(file, held=self.found.of(file)))

    def write(
        self, key: Key, files: Sequence[File], folder: Path, progress: Callable[[float], None]
    ) -> dict[str, FileSaid]:
        """Write files of one tile into a folder; return what they are.

        Parameters
        ----------
        key : tuple
            The tile.
        files : sequence of File
            All of it, or some.
        folder : Path
            Where to.
        progress : callable
            Told the share done after every band.
        """
        grid, tile = key
        where = bands.inside(tile, grid)
        files = [replace(file, held=self.found.of(file)) for file in files]
        made_of = [self._dependence.of_file(file) for file in files]
        if any(file.entry.a_tile for file in files):
            among = bands.most_of(self._asking, grid, tile, len(self._layers))
            files = [replace(file, among=among[: file.entry.a_tile]) for file in files]
        with ExitStack() as stack:
            writing = [_Writing(file, folder, stack) for file in files]
            pool = stack.enter_context(background_pool(2, "encode"))
            waiting: deque[list[Future[None]]] = deque()
            for rows, band in self._asking.bands(grid, where, [KINDS[one.of] for file in files for one in file.held]):

                def encode(
                    one: _Writing, above: Future[None] | None, rows: tuple[int, int] = rows, band: Band = band
                ) -> None:
                    of = codes.codes_of(one.file, band, self._layers)
                    if above is not None:
                        # begun before this one: a file is written from the north
                        above.result()
                    one.write(rows, of)

                while len(waiting) >= _BANDS_AT_ONCE:
                    _done(waiting.popleft())
                before = waiting[-1] if waiting else [None] * len(writing)
                waiting.append([pool.submit(encode, *pair) for pair in zip(writing, before, strict=True)])
                progress((rows[1] - where.rows[0]) / (where.rows[1] - where.rows[0]))
            for futures in waiting:
                _done(futures)
            told = list(pool.map(_Writing.finish, writing, made_of))
        return {one.name: one for one in told}
