"""Bringing texture sets in: look at what came, propose, then make what was decided into kept maps."""

from __future__ import annotations

import math
import threading
import time
from collections.abc import Callable, Iterable, Mapping, Sequence
from concurrent.futures import ThreadPoolExecutor
from dataclasses import dataclass, replace
from pathlib import PurePosixPath
from typing import get_args

import numpy as np
from numpy.typing import NDArray
from pydantic import Field

from elvatch.core.formats import isolated, png, texture
from elvatch.core.parallel import WORKERS, Token
from elvatch.core.parts import Part
from elvatch.core.refusal import RefusalError
from elvatch.core.run import Run
from elvatch.core.stock import canonical, category, derive, green, loaded, manifest, pixels, recognise, roles
from elvatch.core.stock.archive import MANIFEST
from elvatch.core.stock.canonical import KeptMap
from elvatch.core.stock.description import Filed, LookupPx, MadeBy, Origin, SetDescription, SetMap
from elvatch.core.stock.loaded import Loaded
from elvatch.core.stock.manifest import SetManifest
from elvatch.core.stock.recognise import DecodedFile, FileGuess, SetGuess
from elvatch.core.stock.roles import Meaning, Role

Bytes = Callable[[], bytes]
_GREEN_PX = 768
_RELIEF_PX = 512
_MIDDLE_PX = 256
MOST_DROP_PIXELS = 2_000_000_000
MOST_DROP_S = 300.0
"""What is looked at of one drop: files beyond are left out."""
LOOKUPS: dict[int, LookupPx] = {size: size for size in get_args(LookupPx)}


@dataclass(frozen=True)
class Proposal:
    """What a drop holds: sets as guessed, and a sentence for each file that could not be taken."""

    sets: list[SetGuess]
    refused: list[str]


class _Spent:
    """What the files of one drop have cost so far; files beyond the limits are left out, each with a sentence."""

    def __init__(self) -> None:
        self._pixels, self._until = 0, time.monotonic() + MOST_DROP_S
        self._lock = threading.Lock()

    def check(self, name: str) -> None:
        """Refuse a file when the drop has cost as much as it may."""
        todo = "bring the rest in as a drop of its own"
        if self._pixels > MOST_DROP_PIXELS:
            found = f"a drop of over {MOST_DROP_PIXELS / 1e6:.0f} million pixels before it"
            raise RefusalError(name, found, f"at most {MOST_DROP_PIXELS / 1e6:.0f} million at once", todo)
        if time.monotonic() > self._until:
            found = f"a drop that took over {MOST_DROP_S:.0f} s before it"
            raise RefusalError(name, found, f"at most {MOST_DROP_S:.0f} s at once", todo)

    def add(self, pixels: int) -> None:
        """Count an image that was decoded."""
        with self._lock:
            self._pixels += pixels


def survey(path: str, data: bytes, token: Token | None = None) -> DecodedFile:
    """Decode a file once and say what its pixels look like.

    Raises
    ------
    RefusalError
        When it is no image that can be taken.
    """
    raster = _unsigned(isolated.texture(PurePosixPath(path).name, data, token, in_line=True))
    rows, cols = raster.values.shape[:2]
    step = max(1, min(rows, cols) // 512)
    some = texture.Raster(raster.values[::step, ::step], raster.format, raster.bits).shares()
    looks = pixels.look(some)
    axis = middle = None
    if looks.normal or looks.flat or looks.grey:
        middle = _middle(raster, _MIDDLE_PX)
        if raster.values.shape[2] == 3 and not (looks.grey and not looks.flat):
            axis = green.find(_middle(raster, _GREEN_PX))
    return DecodedFile(path, cols, rows, raster.bits, looks, raster.notes, axis, middle)


def _unsigned(raster: texture.Raster) -> texture.Raster:
    """Return directions that are kept as floats from -1 to 1 as all others are, from 0 to 1."""
    if raster.linear and raster.values.shape[2] == 3 and float(raster.values.min()) < -0.05:
        return replace(raster, values=raster.values * 0.5 + 0.5)
    return raster


def _middle(raster: texture.Raster, px: int) -> NDArray[np.float32]:
    """Return a square out of an image's middle, 0..1."""
    rows, cols = raster.values.shape[:2]
    top, left = max(0, (rows - px) // 2), max(0, (cols - px) // 2)
    return texture.Raster(raster.values[top : top + px, left : left + px], raster.format, raster.bits).shares()


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
    seen: list[DecodedFile] = []
    refused: list[str] = []

    spent = _Spent()

    def one(file: tuple[str, Bytes]) -> DecodedFile | str:
        run.token.check()
        try:
            spent.check(PurePosixPath(file[0]).name)
            found = survey(file[0], file[1](), run.token)
            spent.add(found.width_px * found.height_px)
            return found
        except RefusalError as error:
            return recognise.refused(file[0], error)

    images = [file for file in files if PurePosixPath(file[0]).name != MANIFEST]
    with ThreadPoolExecutor(WORKERS) as pool:
        for number, found in enumerate(pool.map(one, images), start=1):
            run.at(number / len(images))
            if isinstance(found, str):
                refused.append(found)
            else:
                seen.append(found)
    told = []
    for path, data in files:
        if PurePosixPath(path).name == MANIFEST:
            try:
                guess, seen = _told(path, manifest.read(MANIFEST, data()), seen)
                told.append(guess)
            except RefusalError as error:
                refused.append(recognise.refused(path, error))
    guesses = recognise.recognise(seen, default_title)
    by_path = dict(files)
    for guess in guesses:
        run.token.check()
        guess.relief_share = _relief_share(guess, by_path, run.token)
    return Proposal(told + guesses, refused)


def _relief_share(guess: SetGuess, files: Mapping[str, Bytes], token: Token) -> float | None:
    """Return the relief that a guessed set's normal map speaks of, for a tile of 1 m."""
    found = {file.meaning: file for file in guess.files}
    if "normal" not in found:
        return None
    normal, height = found["normal"], found.get("height")
    if height is not None:
        up = normal.seen.middle
        rise = height.seen.middle
        if up is not None and rise is not None and normal.seen.width_px == height.seen.width_px:
            turned = up * np.array([1, -1, 1], np.float32) + np.array([0, 1, 0], np.float32)
            vector = (turned if normal.turn_green else up) * np.float32(2) - np.float32(1)
            shown = up.shape[1] / normal.seen.width_px
            read = derive.relief_between(vector, rise[..., 0], shown)
            if read is not None:
                return read
    chosen = Chosen(normal.seen.path, files[normal.seen.path], "normal", normal.turn_green)
    small = small_maps([chosen], _RELIEF_PX, token, in_line=True)
    return derive.height_from_normal(small.numbers("normal"), 1.0)[1] if "normal" in small else None


def _told(path: str, said: SetManifest, seen: list[DecodedFile]) -> tuple[SetGuess, list[DecodedFile]]:
    """Return the set that a manifest describes, and the files it leaves over."""
    folder = PurePosixPath(path).parent
    meant = {str(folder / entry.file): role for role, entry in said.maps.items()}
    files = [
        FileGuess(one, meant[one.path], 1.0, f"said by {MANIFEST}", one.notes) for one in seen if one.path in meant
    ]
    if len(files) < len(meant):
        lost = sorted(set(meant) - {guess.seen.path for guess in files})
        raise RefusalError(MANIFEST, f"no {PurePosixPath(lost[0]).name} beside it", "all files it names", "add it")
    files.sort(key=lambda guess: roles.MEANINGS.index(guess.meaning))
    guess = SetGuess(said.title, said.category, said.tile_m, f"said by {MANIFEST}", files, manifest=said)
    return guess, [one for one in seen if one.path not in meant]


class FileDecision(Part):
    """What one file was decided to be."""

    path: str = Field(max_length=1000)
    meaning: Meaning
    turn_green: bool = False


class Decision(Filed):
    """A set as it was decided on, before anything is stored."""

    lookup_px: LookupPx | None = None
    files: tuple[FileDecision, ...] = Field(max_length=200)
    manifest: SetManifest | None = None


def decide(guess: SetGuess) -> Decision:
    """Return a proposal taken as it is."""
    said = guess.manifest
    files = tuple(FileDecision(path=g.seen.path, meaning=g.meaning, turn_green=g.turn_green) for g in guess.files)
    if said is not None:
        more = {"lookup_px": said.lookup_px, "files": files, "manifest": said}
        return Decision.model_validate(said.filed() | more)
    if guess.relief_share is None:
        relief = min(category.RELIEF_M[guess.category], guess.tile_m / 4)
    else:
        relief = float(np.clip(guess.relief_share * guess.tile_m, 1e-4, guess.tile_m / 2))
    return Decision(title=guess.title, category=guess.category, tile_m=guess.tile_m, relief_m=relief, files=files)


def described(decision: Decision, maps: dict[Role, SetMap]) -> SetDescription:
    """Return a set as decided, with its kept maps; what a manifest says of maps it names stays true."""
    said = decision.manifest
    made_by: MadeBy | None = None
    if said is not None:
        maps = {
            role: entry.model_copy(
                update={
                    "origin": said.maps[role].origin,
                    "from_name": said.maps[role].from_name,
                    "note": said.maps[role].note,
                }
            )
            if role in said.maps
            else entry
            for role, entry in maps.items()
        }
        made_by = said.made_by
    more = {"lookup_px": decision.lookup_px or lookup_size(maps), "maps": maps, "made_by": made_by}
    return SetDescription.model_validate(decision.filed() | more)


@dataclass(frozen=True)
class Chosen:
    """A file and what it was decided to be."""

    path: str
    data: Bytes
    meaning: Meaning
    turn_green: bool = False


def keep_maps(
    chosen: Iterable[Chosen], put: Callable[[bytes], str], run: Run | None = None
) -> tuple[dict[Role, SetMap], dict[Role, canonical.Whole]]:
    """Make decided files into kept maps; return how the set refers to them, and the maps.

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
    values: dict[Role, canonical.Whole] = {}

    def one(file: Chosen) -> list[tuple[KeptMap, SetMap]]:
        run.token.check()
        name = PurePosixPath(file.path).name
        found = canonical.maps_of(
            name, isolated.texture(name, file.data(), run.token, in_line=True), file.meaning, file.turn_green
        )
        origin: Origin = "unpacked" if roles.packed(file.meaning) else "brought"
        return [(m, entry(m, put, origin, name)) for m in found if owners[m.role] is file]

    with ThreadPoolExecutor(WORKERS) as pool:
        for number, found in enumerate(pool.map(one, wanted), start=1):
            run.at(number / len(wanted))
            for kept, refers in found:
                out[kept.role], values[kept.role] = refers, kept.values
    return {role: out[role] for role in roles.ROLES if role in out}, values


def small_maps(chosen: Iterable[Chosen], px: int, token: Token | None = None, in_line: bool = False) -> Loaded:
    """Return decided files as small maps to look at; a file that cannot be what it is said to be is left out."""
    wanted = sorted((c for c in chosen if c.meaning != "left-out"), key=lambda c: bool(roles.packed(c.meaning)))
    out: dict[Role, canonical.Whole] = {}

    def one(file: Chosen) -> list[KeptMap]:
        name = PurePosixPath(file.path).name
        try:
            made = canonical.maps_of(
                name, isolated.texture(name, file.data(), token, in_line), file.meaning, file.turn_green
            )
        except RefusalError:
            return []
        return [
            loaded.kept(m.role, Loaded({m.role: m.values}, 1.0, 1.0).reduced(m.role, px), 16, "")
            if m.values.shape[0] > px
            else m
            for m in made
        ]

    with ThreadPoolExecutor(WORKERS) as pool:
        for found in pool.map(one, wanted):
            for kept in found:
                out.setdefault(kept.role, kept.values)
    return Loaded(out, 1.0, 1.0)


def _owners(wanted: list[Chosen]) -> dict[Role, Chosen]:
    owners: dict[Role, Chosen] = {}
    for file in wanted:
        for role in roles.gives(file.meaning):
            other = owners.setdefault(role, file)
            if other is not file and not roles.packed(file.meaning):
                raise RefusalError(
                    PurePosixPath(file.path).name,
                    f"a second {roles.FACTS[role].title} map",
                    "one of each",
                    f"leave it or {PurePosixPath(other.path).name} out",
                )
    if not owners:
        raise RefusalError("the set", "no map that is kept", "at least one", "say what one of its files is")
    return owners


def entry(kept: KeptMap, put: Callable[[bytes], str], origin: Origin, from_name: str = "") -> SetMap:
    """Store a map and return how the set refers to it."""
    rows, cols = kept.values.shape[:2]
    return SetMap.model_validate(
        {
            "file": put(png.encode(kept.values)),
            "width_px": cols,
            "height_px": rows,
            "bits": kept.values.dtype.itemsize * 8,
            "origin": origin,
            "from_name": from_name[:200],
            "note": kept.note[:400],
        }
    )


def lookup_size(maps: dict[Role, SetMap]) -> LookupPx:
    """Return the one power of two at which a set is stored for covers: the nearest to its largest map."""
    largest = max(entry.width_px for entry in maps.values())
    return LOOKUPS[int(np.clip(2 ** round(math.log2(largest)), min(LOOKUPS), max(LOOKUPS)))]
