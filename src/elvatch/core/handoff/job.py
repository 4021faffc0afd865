"""A hand-off at work: tile by tile, each written, read back and compared; what is finished stays when it is stopped.

Memory does not depend on the size asked for: a band of rows is asked for, encoded, written and forgotten. All is
written beside its place and moved there when whole. What was finished of the same sheet of the same recipe before a
Cancel or a crash is found again and not made anew.
"""

from __future__ import annotations

import hashlib
import json
import os
import shutil
import threading
from collections.abc import Iterator, Sequence
from concurrent.futures import Future
from contextlib import ExitStack, closing, contextmanager
from dataclasses import dataclass, replace
from itertools import groupby
from pathlib import Path

import numpy as np
from isal import isal_zlib
from numpy.typing import NDArray
from pydantic import TypeAdapter, ValidationError

from elvatch.core import digest
from elvatch.core.document.sheet import Sheet
from elvatch.core.formats.written import FORMS
from elvatch.core.ground.places import Grid
from elvatch.core.handoff import bands, codes, ranges
from elvatch.core.handoff.bands import Asking
from elvatch.core.handoff.listing import File, Source, files_of
from elvatch.core.handoff.manifest import FILE_NAME, FileSaid, covered_by, manifest_of, said
from elvatch.core.handoff.tiles import Tile
from elvatch.core.handoff.values import KINDS, Band
from elvatch.core.parallel import background_pool, in_background
from elvatch.core.refusal import CancelledError, RefusalError, is_full, of_disk
from elvatch.core.run import Run

PART = ".part-"
DONE = "done.json"
_LOSSY_WITHIN = 3.0
"""Codes of 255 by which what is read back of a lossy file may differ from what was meant, on the mean."""
_Done = TypeAdapter(dict[str, FileSaid])
_at_work: set[Path] = set()
_at_work_lock = threading.Lock()


def expected_bytes(files: Sequence[File]) -> int:
    """Return about how many bytes files will have, no fewer than most come to."""
    return sum(file.disk_bytes for file in files)


def write(sheet: Sheet, source: Source, out: Path, run: Run | None = None) -> list[Path]:
    """Write a sheet's files into a folder.

    Parameters
    ----------
    sheet : Sheet
        What is wanted.
    source : Source
        Of what.
    out : Path
        Folder; made when missing. Files of the same names are replaced.
    run : Run, optional
        Told the share done after every band, and each tile; asked whether to go on.

    Returns
    -------
    list of Path
        The files written, the manifest ``hand-off.json`` last.

    Raises
    ------
    RefusalError
        When the sheet cannot be written as it is, there is no room for it, the folder cannot be written to, or a
        file reads back as something else.
    CancelledError
        When a stop was asked for; finished tiles are kept for the next time.
    """
    run = run or Run()
    files = files_of(sheet, source)
    part = out.parent / (PART + _name_of(sheet, source))
    try:
        out.parent.mkdir(parents=True, exist_ok=True)
        _check_room(files, out.parent)
        with _alone(part, sheet):
            return _written(sheet, source, files, part, out, run)
    except OSError as error:
        if is_full(error):
            raise of_disk(out, error) from None
        found = error.strerror or "an error"
        raise RefusalError(str(out), found, "a folder to write to", "choose another") from None


def _name_of(sheet: Sheet, source: Source) -> str:
    """Return a name for one sheet of one recipe: what was begun under it can be gone on with."""
    return digest.of_json([sheet.model_dump(mode="json"), covered_by(source.recipe), source.title])[:16]


@contextmanager
def _alone(part: Path, sheet: Sheet) -> Iterator[None]:
    """Keep others out of a folder that is written in."""
    with _at_work_lock:
        if part in _at_work:
            raise RefusalError(
                sheet.name, "a hand-off of the same at work", "one at a time", "wait for it or cancel it"
            )
        _at_work.add(part)
    try:
        part.mkdir(exist_ok=True)
        yield
    except CancelledError:
        if not (part / DONE).exists():
            shutil.rmtree(part, ignore_errors=True)
        raise
    except BaseException:
        shutil.rmtree(part, ignore_errors=True)
        raise
    finally:
        with _at_work_lock:
            _at_work.discard(part)


def _check_room(files: Sequence[File], folder: Path) -> None:
    """Refuse at once what there is no room for."""
    wanted, free = expected_bytes(files), shutil.disk_usage(folder).free
    if wanted > free:
        raise RefusalError(
            "hand-off sheet", f"some {wanted / 1e6:.0f} MB to write and {free / 1e6:.0f} MB free in {folder}",
            "room for all of it", "free some space, or choose fewer or smaller files or another folder",
        )  # fmt: skip


def _written(sheet: Sheet, source: Source, files: list[File], part: Path, out: Path, run: Run) -> list[Path]:
    done = _known(part, files)
    with in_background():
        work = _Work(source, part, run, files)
        for (grid, tile), group in groupby(sorted(files, key=_by_tile), key=_by_tile_only):
            of_tile = list(group)
            if all(file.name in done for file in of_tile):
                work.skip(grid, tile)
                continue
            done |= work.tile(grid, tile, of_tile)
            keep(part / DONE, _Done.dump_json(done))
    manifest = manifest_of(sheet, source, tuple(done[file.name] for file in files))
    keep(part / FILE_NAME, json.dumps(manifest.model_dump(mode="json"), indent=2).encode())
    (part / DONE).unlink()
    return _move_into_place([*(file.name for file in files), FILE_NAME], part, out)


def _by_tile_only(file: File) -> tuple[Grid, Tile]:
    return file.grid, file.tile


def _by_tile(file: File) -> tuple[tuple[Grid, Tile], str]:
    return _by_tile_only(file), file.name


def _known(part: Path, files: Sequence[File]) -> dict[str, FileSaid]:
    """Return the files that an earlier run finished and that still are what they were."""
    try:
        found = _Done.validate_json((part / DONE).read_bytes())
    except (OSError, ValidationError):
        found = {}
    wanted = {file.name for file in files}
    return {
        name: one for name, one in found.items()
        if name in wanted and (part / name).exists() and _sha256(part / name) == one.sha256
    }  # fmt: skip


def keep(path: Path, data: bytes) -> None:
    """Put a small file on disk, whole or not at all."""
    beside = path.with_name(path.name + ".new")
    with beside.open("wb") as stream:
        stream.write(data)
        stream.flush()
        os.fsync(stream.fileno())
    beside.replace(path)


def _sha256(path: Path) -> str:
    with path.open("rb") as stream:
        return hashlib.file_digest(stream, "sha256").hexdigest()


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

    def finish(self) -> FileSaid:
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
        return said(self.file, self._path.stat().st_size, _sha256(self._path))

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


class _Work:
    """The tiles of one hand-off."""

    def __init__(self, source: Source, part: Path, run: Run, files: Sequence[File]) -> None:
        self._source, self._part, self._run = source, part, run
        self._asking = Asking(source, run.token)
        self._layers = {layer.id: k for k, layer in enumerate(source.shown)}
        tiles = dict.fromkeys(map(_by_tile_only, files))
        self._tiles, self._whole = len(tiles), sum(tile.width * tile.height for _, tile in tiles)
        self._texels, self._finished = 0, 0
        self._found = ranges.found(files, self._asking, self._layers)

    def skip(self, grid: Grid, tile: Tile) -> None:
        """Count a tile that stands already."""
        del grid
        self._texels += tile.width * tile.height
        self._finished += 1

    def tile(self, grid: Grid, tile: Tile, files: list[File]) -> dict[str, FileSaid]:
        """Write the files of one tile; return what they are."""
        where = bands.inside(tile, grid)
        name = f"tile {tile.row + 1}, {tile.column + 1}" if self._tiles > 1 else "texels"
        self._run.step(f"{name} at work", self._finished, self._tiles)
        files = [replace(file, held=self._found.of(file)) for file in files]
        with ExitStack() as stack:
            writing = [_Writing(file, self._part, stack) for file in files]
            pool = stack.enter_context(background_pool(2, "encode"))
            waiting: list[Future[None]] = []
            for rows, band in self._asking.bands(grid, where, [KINDS[one.of] for file in files for one in file.held]):

                def encode(one: _Writing, rows: tuple[int, int] = rows, band: Band = band) -> None:
                    one.write(rows, codes.codes_of(one.file, band, self._layers))

                for future in waiting:
                    future.result()
                waiting = [pool.submit(encode, one) for one in writing]
                share = (rows[1] - where.rows[0]) / (where.rows[1] - where.rows[0])
                self._run.at((self._texels + share * tile.width * tile.height) / self._whole)
            for future in waiting:
                future.result()
            told = list(pool.map(_Writing.finish, writing))
        self._texels += tile.width * tile.height
        self._finished += 1
        self._run.step(name, self._finished, self._tiles)
        return {one.name: one for one in told}


def _move_into_place(names: list[str], part: Path, out: Path) -> list[Path]:
    """Move finished files: a new folder appears whole, files of an old one are replaced one by one."""
    if not out.exists():
        part.rename(out)
    else:
        for name in names:
            (part / name).replace(out / name)
        shutil.rmtree(part, ignore_errors=True)
    return [out / name for name in names]
