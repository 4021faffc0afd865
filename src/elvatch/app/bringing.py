"""Bringing sets in: what a drop holds, its sets kept, packs of the supplier fetched."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import PurePosixPath

from elvatch.app.sets import Into, KeptSets, Sets
from elvatch.core.refusal import RefusalError
from elvatch.core.results import result
from elvatch.core.run import Run
from elvatch.core.stock import intake
from elvatch.core.stock.description import Category
from elvatch.core.stock.intake import Decision, Proposal
from elvatch.core.stock.recognise import FileGuess, SetGuess
from elvatch.core.stock.roles import Meaning, Role
from elvatch.core.stock.supplier import catalogue, packing
from elvatch.core.stock.supplier.catalogue import SupplierPack
from elvatch.store.tray import Tray


@result
class Begun:
    """A drop that was begun."""

    drop: str


@result
class Counted:
    """How many files a drop holds."""

    files: int


@result
class Cleared:
    """A drop that is not there any more."""

    cleared: str


@result
class GuessedFile:
    """One file of a drop, and what it is taken for: how ``sure`` that is, 0..1, and why."""

    path: str
    name: str
    width_px: int
    height_px: int
    bits: int
    channels: int
    meaning: Meaning
    sure: float
    reason: str
    warnings: list[str]


@result
class GuessedSet:
    """A set as it was guessed; ``relief_share`` of what one repeat covers is read off its normals, None without."""

    decision: Decision
    tile_reason: str
    warnings: list[str]
    relief_share: float | None
    files: list[GuessedFile]


@result
class ProposedSets:
    """What a drop holds: sets as guessed, and a sentence for each file that could not be taken."""

    drop: str
    refused: list[str]
    sets: list[GuessedSet]


@result
class PackLine:
    """A pack of the supplier."""

    id: str
    title: str
    maker: str
    category: Category
    about: str
    tile_m: float
    roles: list[Role]


@result
class PackList:
    """Packs of the supplier that fit, and the sizes in pixels they come in."""

    packs: list[PackLine]
    sizes: tuple[int, ...]


def packs_of(text: str, category: str | None) -> PackList:
    """Return the packs that hold all words of a text and are filed under a category."""
    found = catalogue.find(text, category)
    lines = [
        PackLine(pack.id, pack.title, pack.maker, pack.category, pack.about, pack.tile_m, list(pack.roles))
        for pack in found
    ]
    return PackList(lines, catalogue.SIZES)


class Bringing:
    """How sets come into one store.

    Parameters
    ----------
    tray : Tray
        What was dropped.
    sets : Sets
        Where it goes.
    """

    def __init__(self, tray: Tray, sets: Sets) -> None:
        self._tray, self._sets = tray, sets

    def look(self, drop: str, run: Run | None = None) -> ProposedSets:
        """Look at the files of a drop and tell its sets apart."""
        files = list(self._tray.files(drop).items())
        return _proposed(drop, intake.propose(files, self._tray.title(drop), run))

    def keeping(self, drop: str, decisions: tuple[Decision, ...], into: Into | None) -> Callable[[Run], KeptSets]:
        """Take a drop, which no other can take then, and return what keeps its sets.

        Raises
        ------
        RefusalError
            When several sets are to replace one, or the drop is gone or taken.
        """
        files = self._tray.files(drop)
        if into is not None and len(decisions) != 1:
            raise RefusalError("replacing", f"{len(decisions)} sets", "one", "leave the others out")
        self._tray.take(drop)

        def keep(run: Run) -> KeptSets:
            try:
                kept = self._sets.keep_all(decisions, files, run, into)
                self._tray.clear(drop)
            finally:
                self._tray.give_back(drop)
            return KeptSets(kept)

        return keep

    def fetch(self, pack: SupplierPack, size_px: int, run: Run | None = None) -> ProposedSets:
        """Bring a pack of the supplier into a drop of its own and look at it."""
        run = run or Run()
        drop = self._tray.begin(pack.title)
        try:
            self._tray.add(drop, f"{pack.id}.zip", packing.zipped(pack, size_px, run.part(0, 0.9)))
            found = intake.propose(list(self._tray.files(drop).items()), pack.title, run.part(0.9, 1))
        except BaseException:
            self._tray.clear(drop)
            raise
        for made in found.sets:
            made.tile_m, made.tile_reason, made.category = pack.tile_m, "told by the supplier", pack.category
        return _proposed(drop, found)


def _proposed(drop: str, found: Proposal) -> ProposedSets:
    return ProposedSets(drop, found.refused, [_guessed(guess) for guess in found.sets])


def _guessed(guess: SetGuess) -> GuessedSet:
    files = [_guessed_file(file) for file in guess.files]
    return GuessedSet(intake.decide(guess), guess.tile_reason, guess.warnings, guess.relief_share, files)


def _guessed_file(file: FileGuess) -> GuessedFile:
    seen = file.seen
    return GuessedFile(
        seen.path,
        PurePosixPath(seen.path).name,
        seen.width_px,
        seen.height_px,
        seen.bits,
        seen.looks.channels,
        file.meaning,
        file.sure,
        file.reason,
        list(file.warnings),
    )
