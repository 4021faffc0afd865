"""All files of a sheet that are made as a whole."""

from __future__ import annotations

from collections.abc import Sequence

from elvatch.core.document.sheet import Entry, Sheet
from elvatch.core.document.sheet_entry import GroundEntry, KitEntry, MeshEntry, SiteEntry, StillsEntry, ThingsEntry
from elvatch.core.handoff import grounds, kits, meshes, pictures, strewn, whole_site
from elvatch.core.handoff.listing import File, Source, check_names
from elvatch.core.handoff.whole import Whole


def _of(entry: Entry, sheet: Sheet, source: Source) -> list[Whole]:
    if isinstance(entry, MeshEntry):
        return meshes.wholes(entry, sheet, source)
    if isinstance(entry, KitEntry):
        return kits.wholes(entry, sheet, source)
    if isinstance(entry, GroundEntry):
        return grounds.wholes(entry, sheet, source)
    if isinstance(entry, StillsEntry):
        return pictures.wholes(entry, source)
    if isinstance(entry, ThingsEntry):
        return strewn.wholes(entry, source)
    if isinstance(entry, SiteEntry):
        return whole_site.wholes(entry, source)
    return []


def wholes_of(sheet: Sheet, source: Source, files: Sequence[File]) -> list[Whole]:
    """Return what makes the files of a sheet that are not maps.

    Parameters
    ----------
    sheet : Sheet
        What is wanted.
    source : Source
        Of what.
    files : sequence of File
        Its maps, whose names are taken.

    Raises
    ------
    RefusalError
        When an entry cannot be made as it is, or two files would share a name.
    """
    out = [one for entry in sheet.entries for one in _of(entry, sheet, source)]
    named = [(file.name, file.entry.id) for file in files]
    check_names(sheet, [*named, *((name, one.entry) for one in out for name in one.names)])
    return out
