"""Bringing texture sets in: look at what came, propose, then make what was decided into kept maps."""

from __future__ import annotations

import math
from collections.abc import Callable, Iterable, Sequence
from concurrent.futures import ThreadPoolExecutor
from dataclasses import dataclass
from pathlib import PurePosixPath
from typing import cast, get_args

import numpy as np

from elvatch.core.formats import png, texture
from elvatch.core.parallel import WORKERS
from elvatch.core.refusal import RefusalError
from elvatch.core.run import Run
from elvatch.core.stock import canonical, category, green, pixels, recognise, roles
from elvatch.core.stock.canonical import KeptMap
from elvatch.core.stock.description import LookupPx, Origin, SetDescription, SetMap
from elvatch.core.stock.recognise import Seen, SetGuess
from elvatch.core.stock.roles import Meaning, Role

Bytes = Callable[[], bytes]
_GREEN_PX = 768


@dataclass(frozen=True)
class Proposal:
    """What a drop holds: sets as guessed, and a sentence for each file that could not be taken."""

    sets: list[SetGuess]
    refused: list[str]


def survey(path: str, data: bytes) -> Seen:
    """Decode a file once and say what its pixels look like.

    Raises
    ------
    RefusalError
        When it is no image that can be taken.
    """
    raster = texture.decode(PurePosixPath(path).name, data)
    rows, cols = raster.values.shape[:2]
    step = max(1, min(rows, cols) // 512)
    some = texture.Raster(raster.values[::step, ::step], raster.format, raster.bits).shares()
    looks = pixels.look(some)
    axis = None
    if looks.normal or looks.flat:
        top, left = max(0, (rows - _GREEN_PX) // 2), max(0, (cols - _GREEN_PX) // 2)
        middle = raster.values[top : top + _GREEN_PX, left : left + _GREEN_PX]
        if middle.shape[2] == 3:
            axis = green.find(texture.Raster(middle, raster.format, raster.bits).shares())
    return Seen(path, cols, rows, raster.bits, looks, raster.notes, axis)


def propose(files: Sequence[tuple[str, Bytes]], default_title: str, run: Run | None = None) -> Proposal:
    """Look at every file of a drop and tell its sets apart.

    Parameters
    ----------
    files : sequence of (path, callable)
        Paths as text, and what returns each file's bytes.
    default_title : str
        Of a set whose files do not name it.
    run : Run, optional
        Told how far it is.
    """
    run = run or Run()
    seen: list[Seen] = []
    refused: list[str] = []

    def one(file: tuple[str, Bytes]) -> Seen | str:
        run.token.check()
        try:
            return survey(file[0], file[1]())
        except RefusalError as error:
            return recognise.refused(file[0], error)

    with ThreadPoolExecutor(WORKERS) as pool:
        for number, found in enumerate(pool.map(one, files), start=1):
            run.at(number / len(files))
            if isinstance(found, str):
                refused.append(found)
            else:
                seen.append(found)
    return Proposal(recognise.recognise(seen, default_title), refused)


@dataclass(frozen=True)
class Chosen:
    """A file and what it was decided to be."""

    path: str
    data: Bytes
    meaning: Meaning
    turn_green: bool = False


def keep_maps(chosen: Iterable[Chosen], put: Callable[[bytes], str], run: Run | None = None) -> dict[Role, SetMap]:
    """Make decided files into kept maps.

    Parameters
    ----------
    chosen : iterable of Chosen
        A role that two files fill is refused; single maps win over packed ones.
    put : callable
        Stores a PNG and returns its content name.
    run : Run, optional
        Told how far it is.

    Raises
    ------
    RefusalError
        When a file cannot be what it is said to be, two are the same, or none is left.
    """
    run = run or Run()
    wanted = sorted((c for c in chosen if c.meaning != "left-out"), key=lambda c: bool(roles.packed(c.meaning)))
    owners = _owners(wanted)
    out: dict[Role, SetMap] = {}

    def one(file: Chosen) -> list[tuple[Role, SetMap]]:
        run.token.check()
        name = PurePosixPath(file.path).name
        found = canonical.maps_of(name, texture.decode(name, file.data()), file.meaning, file.turn_green)
        origin: Origin = "unpacked" if roles.packed(file.meaning) else "brought"
        return [(m.role, entry(m, put, origin, name)) for m in found if owners[m.role] is file]

    with ThreadPoolExecutor(WORKERS) as pool:
        for number, found in enumerate(pool.map(one, wanted), start=1):
            run.at(number / len(wanted))
            out.update(found)
    return {role: out[role] for role in roles.ROLES if role in out}


def _owners(wanted: list[Chosen]) -> dict[Role, Chosen]:
    owners: dict[Role, Chosen] = {}
    for file in wanted:
        for role in roles.gives(file.meaning):
            other = owners.setdefault(role, file)
            if other is not file and not roles.packed(file.meaning):
                raise RefusalError(
                    PurePosixPath(file.path).name, f"a second {roles.FACTS[role].title} map", "one of each",
                    f"leave it or {PurePosixPath(other.path).name} out",
                )  # fmt: skip
    if not owners:
        raise RefusalError("the set", "no map that is kept", "at least one", "say what one of its files is")
    return owners


def entry(kept: KeptMap, put: Callable[[bytes], str], origin: Origin, from_name: str = "") -> SetMap:
    """Store a map and return how the set refers to it."""
    rows, cols = kept.values.shape[:2]
    return SetMap.model_validate(
        {"file": put(png.encode(kept.values)), "width_px": cols, "height_px": rows,
         "bits": kept.values.dtype.itemsize * 8, "origin": origin, "from_name": from_name[:200],
         "note": kept.note[:400]}
    )  # fmt: skip


def lookup_size(maps: dict[Role, SetMap]) -> LookupPx:
    """Return the one power of two at which a set is stored for covers: the nearest to its largest map."""
    largest = max(entry.width_px for entry in maps.values())
    nearest = 2 ** round(math.log2(largest))
    sizes = get_args(LookupPx)
    return cast(LookupPx, int(np.clip(nearest, sizes[0], sizes[-1])))


def described(guess: SetGuess, maps: dict[Role, SetMap]) -> SetDescription:
    """Return a set as proposed, with its kept maps."""
    usual = category.RELIEF_M[guess.category]
    return SetDescription(
        title=guess.title, category=guess.category, tile_m=guess.tile_m,
        relief_m=min(usual, guess.tile_m / 4), lookup_px=lookup_size(maps), maps=maps,
    )  # fmt: skip
