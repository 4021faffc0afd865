"""A whole site as one file among those of a sheet."""

from __future__ import annotations

from pathlib import Path

from elvatch.core import digest
from elvatch.core.document.sheet_entry import SiteEntry
from elvatch.core.handoff import site_pack
from elvatch.core.handoff.file_names import check, fields_of, name_of
from elvatch.core.handoff.listing import Source
from elvatch.core.handoff.manifest import MadeSaid, made
from elvatch.core.handoff.whole import Whole
from elvatch.core.refusal import RefusalError
from elvatch.core.run import Run

_ABOUT_BYTES = 50_000_000


def wholes(entry: SiteEntry, source: Source) -> list[Whole]:
    """Return what makes the file of a whole site."""
    check(entry.file)
    name = name_of(entry.file, fields_of(source.title, "site"), "zip")

    def make(folder: Path, run: Run) -> list[MadeSaid]:
        if source.pack is None:
            raise RefusalError(entry.file, "a site without a store", "one that is kept", "pack it where it is kept")
        told = source.pack(folder / name, run.part(0, 0.7))
        pack = site_pack.look(folder / name)
        for one in pack.told.files:
            pack.file(one)
        return [made(folder / name, entry.id, "the whole site, to be opened elsewhere", told)]

    of = digest.of_json([source.title, source.recipe.model_dump(mode="json"), source.contents])
    return [Whole(entry.id, (name,), _ABOUT_BYTES, of, make)]
