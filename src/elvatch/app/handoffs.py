"""What can be handed off of a site: its sheet of files, the files written, what was written before."""

from __future__ import annotations

import json
import secrets
import shutil
from datetime import UTC, datetime
from pathlib import Path

from elvatch.app.covers import Covers
from elvatch.app.grounds import Grounds
from elvatch.core.document.recipe import Recipe
from elvatch.core.handoff import bake
from elvatch.core.handoff.bake import SheetFile
from elvatch.core.refusal import RefusalError
from elvatch.core.results import result
from elvatch.core.run import Run
from elvatch.store.paths import file_inside
from elvatch.store.sites import SiteState
from elvatch.store.store import Store


@result
class SheetLines:
    """The files that a hand-off would write."""

    files: list[SheetFile]


@result
class WrittenFile:
    """A file that was handed off."""

    name: str
    bytes: int


@result
class HandedOff:
    """What was written: the folder's name, where it lies, and the files in it."""

    folder: str
    path: str
    files: list[WrittenFile]


class HandOffs:
    """What is handed off of the sites of one store.

    Parameters
    ----------
    store : Store
        What is kept.
    grounds, covers
        What is written.
    """

    def __init__(self, store: Store, grounds: Grounds, covers: Covers) -> None:
        self._store, self._grounds, self._covers = store, grounds, covers

    @property
    def folder(self) -> Path:
        """Where hand-offs from the page are written."""
        return self._store.folder / "hand-off"

    def sheet(self, title: str, recipe: Recipe) -> list[SheetFile]:
        """Return the files that a hand-off would write."""
        return bake.sheet(title, recipe, self._grounds.land(recipe.ground).survey, self._store.stock)

    @staticmethod
    def check(state: SiteState) -> None:
        """Refuse a sheet without anything on it."""
        hand_off = state.recipe.hand_off
        if not hand_off.maps and not hand_off.measures:
            raise RefusalError("hand-off sheet", "no maps", "at least one", "choose the maps to write")

    def bake(self, title: str, recipe: Recipe, out: Path, run: Run | None = None) -> list[Path]:
        """Write a recipe's maps into a folder; see :func:`elvatch.core.handoff.bake.bake`."""
        run = run or Run()
        measured = self._grounds.measures(recipe.ground, water=recipe.water)
        return bake.bake(
            title, recipe, self._grounds.land(recipe.ground).survey, measured,
            self._store.stock, out, run.at, run.token, self._covers.evidence(recipe),
        )  # fmt: skip

    def write(self, state: SiteState, run: Run | None = None) -> HandedOff:
        """Write a site's maps into a new folder of the data folder."""
        stamp = datetime.now(UTC).strftime("%Y%m%d-%H%M%S")
        folder = f"{bake.plain_name(state.title)}_{state.recipe.hand_off.size_px}_{stamp}_{secrets.token_hex(2)}"
        out = self.folder / folder
        written = self.bake(state.title, state.recipe, out, run)
        return HandedOff(folder, str(out), [WrittenFile(path.name, path.stat().st_size) for path in written])

    def file(self, folder: str, name: str) -> Path:
        """Return the path of a file that a hand-off wrote: one that its sheet lists, and no other.

        Raises
        ------
        RefusalError
            When there is no such hand-off, or its sheet does not list the file.
        """
        try:
            sheet = json.loads(file_inside(self.folder, folder, bake.SHEET_NAME).read_bytes())
            listed = {str(file["name"]) for file in sheet["files"]}
        except (OSError, ValueError, KeyError, TypeError) as error:
            if isinstance(error, RefusalError):
                raise
            raise RefusalError(folder[:60], "a damaged sheet", "the sheet of a hand-off", "write it again") from None
        if name not in listed | {bake.SHEET_NAME}:
            raise RefusalError(
                name[:60], "a file that the sheet does not list", "one it lists", "choose one of those"
            )
        return file_inside(self.folder, folder, name)

    def tidy(self) -> None:
        """Clear away what an earlier run left unfinished."""
        for partial in self.folder.glob(".part-*"):
            shutil.rmtree(partial, ignore_errors=True)
