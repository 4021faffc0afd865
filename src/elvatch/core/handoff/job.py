"""A hand-off at work: tile by tile, here or elsewhere; what is finished stays when it is stopped.

All is written beside its place and moved there when whole. What was finished of the same sheet of the same recipe
before a Cancel or a crash is found again and not made anew; nor is what lies in its place already and would come out
the same.
"""

from __future__ import annotations

import json
import os
import shutil
import threading
from collections.abc import Iterator, Mapping, Sequence
from contextlib import contextmanager
from dataclasses import dataclass
from pathlib import Path
from typing import Annotated, Protocol

from pydantic import Field, TypeAdapter, ValidationError

from elvatch.core import digest
from elvatch.core.document.sheet import Sheet
from elvatch.core.handoff.listing import File, Source, files_of
from elvatch.core.handoff.manifest import FILE_NAME, AnySaid, FileSaid, Manifest, covered_by, manifest_of, sha256_of
from elvatch.core.handoff.ranges import FoundRanges
from elvatch.core.handoff.tile_work import Key, TileWork, by_tile
from elvatch.core.handoff.whole import Whole
from elvatch.core.handoff.wholes import wholes_of
from elvatch.core.parallel import in_background
from elvatch.core.refusal import CancelledError, RefusalError, is_full, of_disk
from elvatch.core.run import Run

PART = ".part-"
DONE = "done.json"
_Done = TypeAdapter(dict[str, Annotated[AnySaid, Field(discriminator="kind")]])
_A_WHOLE_TEXELS = 2_000_000
"""As so much of the work a file counts that is made as a whole."""
_at_work: set[Path] = set()
_at_work_lock = threading.Lock()


@dataclass(frozen=True)
class TileWanted:
    """A tile that is wanted: its number among all tiles of its sheet, and which of its files."""

    number: int
    names: tuple[str, ...]


class Elsewhere(Protocol):
    """Writes tiles on other machines."""

    def tiles(
        self, sheet: Sheet, found: FoundRanges, wanted: Sequence[TileWanted], folder: Path, run: Run
    ) -> Iterator[tuple[int, dict[str, FileSaid]]]:
        """Yield the number of each tile when its files lie in a folder here, and what they are."""


def expected_bytes(files: Sequence[File], wholes: Sequence[Whole] = ()) -> int:
    """Return about how many bytes files will have, no fewer than most come to."""
    return sum(file.disk_bytes for file in files) + sum(one.about_bytes for one in wholes)


def write(
    sheet: Sheet, source: Source, out: Path, run: Run | None = None, elsewhere: Elsewhere | None = None
) -> list[Path]:
    """Write a sheet's files into a folder.

    Parameters
    ----------
    sheet : Sheet
        What is wanted.
    source : Source
        Of what.
    out : Path
        Folder; made when missing. Files of the same names are replaced, but for those that would come out the same.
    run : Run, optional
        Told the share done after every band, and each tile; asked whether to go on.
    elsewhere : Elsewhere, optional
        Writes the tiles of maps; left out, this process does.

    Returns
    -------
    list of Path
        The files of the sheet, the manifest ``hand-off.json`` last.

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
    wholes = wholes_of(sheet, source, files)
    part = part_of(sheet, source, out)
    try:
        out.parent.mkdir(parents=True, exist_ok=True)
        _check_room(expected_bytes(files, wholes), out.parent)
        with _alone(part, sheet, keeps=elsewhere is not None), in_background():
            return _Job(sheet, source, files, wholes, part, out, run).done(elsewhere)
    except OSError as error:
        if is_full(error):
            raise of_disk(out, error) from None
        found = error.strerror or "an error"
        raise RefusalError(str(out), found, "a folder to write to", "choose another") from None


def part_of(sheet: Sheet, source: Source, out: Path) -> Path:
    """Return where a hand-off into a folder lies until it is whole."""
    named = [sheet.model_dump(mode="json"), covered_by(source.recipe), source.title, source.contents]
    return out.parent / (PART + digest.of_json(named)[:16])


def begun(sheet: Sheet, source: Source, out: Path) -> int:
    """Return how many files of a hand-off are finished that was stopped, or that a crash ended."""
    names = [file.name for file in files_of(sheet, source)]
    return len(_known(part_of(sheet, source, out), names))


@contextmanager
def _alone(part: Path, sheet: Sheet, keeps: bool) -> Iterator[None]:
    """Keep others out of a folder that is written in; what is finished in it stays after any failure where that
    ``keeps``."""
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
        if not keeps or not (part / DONE).exists():
            shutil.rmtree(part, ignore_errors=True)
        raise
    finally:
        with _at_work_lock:
            _at_work.discard(part)


def _check_room(wanted: int, folder: Path) -> None:
    """Refuse at once what there is no room for."""
    free = shutil.disk_usage(folder).free
    if wanted > free:
        raise RefusalError(
            "hand-off sheet",
            f"some {wanted / 1e6:.0f} MB to write and {free / 1e6:.0f} MB free in {folder}",
            "room for all of it",
            "free some space, or choose fewer or smaller files or another folder",
        )


class _Job:
    """One hand-off."""

    def __init__(
        self, sheet: Sheet, source: Source, files: list[File], wholes: list[Whole], part: Path, out: Path, run: Run
    ) -> None:
        self._sheet, self._source, self._part, self._out, self._run = sheet, source, part, out, run
        self._files, self._wholes = files, wholes
        self._work = TileWork(source, files, run.token)
        made_of = {file.name: self._work.made_of(file) for file in files}
        made_of |= {name: whole.made_of for whole in wholes for name in whole.names}
        self._standing = self._still_standing(made_of)
        finished = _known(part, list(made_of))
        self._done = self._standing | {
            name: one for name, one in finished.items() if one.made_of == made_of[name] and name not in self._standing
        }
        texels = sum(tile.width * tile.height for (_, tile), _ in by_tile(files))
        self._maps_share = texels / max(texels + _A_WHOLE_TEXELS * len(wholes), 1)

    def _still_standing(self, made_of: Mapping[str, str]) -> dict[str, AnySaid]:
        """Return the files that lie in their place and would come out the same."""
        try:
            told = Manifest.model_validate_json((self._out / FILE_NAME).read_bytes())
        except (OSError, ValidationError):
            return {}
        standing = {
            one.name: one
            for one in told.files
            if one.made_of and made_of.get(one.name) == one.made_of and _is(self._out / one.name, one)
        }
        # what is made of maps wants them beside it
        for whole in self._wholes:
            needs = [file.name for file in self._files if file.entry.id == whole.entry]
            if not all(name in standing for name in whole.names):
                for name in (*whole.names, *needs):
                    standing.pop(name, None)
        return standing

    def done(self, elsewhere: Elsewhere | None) -> list[Path]:
        """Write all that is not there yet; return the paths of all files."""
        unkept = {file.name for file in self._files if not file.kept}
        idle = {whole.entry for whole in self._wholes if all(name in self._standing for name in whole.names)}
        wanted = [
            file for file in self._files if file.name not in self._done and (file.kept or file.entry.id not in idle)
        ]
        self._write_tiles(wanted, elsewhere)
        self._write_wholes()
        names = [file.name for file in self._files if file.kept]
        names += [name for whole in self._wholes for name in whole.names]
        manifest = manifest_of(self._sheet, self._source, tuple(self._done[name] for name in names))
        keep(self._part / FILE_NAME, json.dumps(manifest.model_dump(mode="json"), indent=2).encode())
        for name in (DONE, *unkept):
            (self._part / name).unlink(missing_ok=True)
        new = [name for name in names if name not in self._standing]
        _move_into_place([*new, FILE_NAME], self._part, self._out)
        return [self._out / name for name in (*names, FILE_NAME)]

    def _write_tiles(self, wanted: Sequence[File], elsewhere: Elsewhere | None) -> None:
        groups = by_tile(self._files)
        names = {file.name for file in wanted}
        left = [
            (k, key, some)
            for k, (key, of) in enumerate(groups)
            if (some := [file for file in of if file.name in names])
        ]
        run = self._run.part(0, self._maps_share)
        finished = len(groups) - len(left)
        for number, told in self._told(left, elsewhere, finished, len(groups), run):
            self._done |= told
            finished += 1
            keep(self._part / DONE, _Done.dump_json(self._kept_here()))
            run.step(_called(groups[number][0], len(groups)), finished, len(groups))
            run.at(finished / len(groups))

    def _told(
        self, left: list[tuple[int, Key, list[File]]], elsewhere: Elsewhere | None, finished: int, of: int, run: Run
    ) -> Iterator[tuple[int, dict[str, FileSaid]]]:
        """Yield each tile's number when its files are written, and what they are."""
        if elsewhere is not None:
            wanted = [TileWanted(k, tuple(file.name for file in some)) for k, _, some in left]
            yield from elsewhere.tiles(self._sheet, self._work.found, wanted, self._part, run)
            return
        for k, key, some in left:
            run.step(f"{_called(key, of)} at work", finished, of)
            part = run.part(finished / of, (finished + 1) / of)
            yield k, self._work.write(key, some, self._part, part.at)
            finished += 1

    def _kept_here(self) -> dict[str, AnySaid]:
        return {name: one for name, one in self._done.items() if name not in self._standing}

    def _write_wholes(self) -> None:
        for k, whole in enumerate(self._wholes):
            if all(name in self._done for name in whole.names):
                continue
            share = self._maps_share
            first, last = (share + (1 - share) * at / len(self._wholes) for at in (k, k + 1))
            self._run.step(f"{whole.names[0]} at work", k, len(self._wholes))
            told = whole.make(self._part, self._run.part(first, last))
            self._done |= {one.name: one.model_copy(update={"made_of": whole.made_of}) for one in told}
            keep(self._part / DONE, _Done.dump_json(self._kept_here()))


def one_tile(
    sheet: Sheet, source: Source, found: FoundRanges, wanted: TileWanted, folder: Path, run: Run
) -> dict[str, FileSaid]:
    """Write files of one tile of a sheet, for whoever joins the tiles; return what they are."""
    files = files_of(sheet, source)
    key, of = by_tile(files)[wanted.number]
    work = TileWork(source, files, run.token, found)
    return work.write(key, [file for file in of if file.name in wanted.names], folder, run.at)


def _called(key: Key, of: int) -> str:
    tile = key[1]
    return f"tile {tile.row + 1}, {tile.column + 1}" if of > 1 else "texels"


def _is(path: Path, told: AnySaid) -> bool:
    """Whether a file still is what was told of it."""
    return path.is_file() and path.stat().st_size == told.bytes and sha256_of(path) == told.sha256


def _known(part: Path, names: Sequence[str]) -> dict[str, AnySaid]:
    """Return the files that an earlier run finished and that still are what they were."""
    try:
        found = _Done.validate_json((part / DONE).read_bytes())
    except (OSError, ValidationError):
        found = {}
    return {name: one for name, one in found.items() if name in names and _is(part / name, one)}


def keep(path: Path, data: bytes) -> None:
    """Put a small file on disk, whole or not at all."""
    beside = path.with_name(path.name + ".new")
    with beside.open("wb") as stream:
        stream.write(data)
        stream.flush()
        os.fsync(stream.fileno())
    beside.replace(path)


def _move_into_place(names: list[str], part: Path, out: Path) -> None:
    """Move finished files: a new folder appears whole, files of an old one are replaced one by one."""
    if not out.exists():
        part.rename(out)
        return
    for name in names:
        (part / name).replace(out / name)
    shutil.rmtree(part, ignore_errors=True)
