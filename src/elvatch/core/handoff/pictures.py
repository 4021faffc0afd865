"""Stills among the files of a sheet."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path

import imagecodecs
import numpy as np

from elvatch.core import digest
from elvatch.core.document.sheet_entry import StillsEntry
from elvatch.core.formats import png
from elvatch.core.handoff.file_names import check, fields_of, name_of
from elvatch.core.handoff.listing import Source
from elvatch.core.handoff.manifest import MadeSaid, made
from elvatch.core.handoff.whole import Whole
from elvatch.core.plain_name import plain_name
from elvatch.core.refusal import RefusalError
from elvatch.core.run import Run


def wholes(entry: StillsEntry, source: Source) -> list[Whole]:
    """Return what takes each still of an entry.

    Raises
    ------
    RefusalError
        When it lists no view.
    """
    check(entry.file)
    shots = source.recipe.shots if entry.all_shots else ()
    views: list[tuple[str, str, str]] = [(name, name, "") for name in entry.stands]
    views += [(shot.id, plain_name(shot.name), f" of {shot.name}") for shot in shots]
    if not views:
        raise RefusalError(entry.file, "no view", "Far, Mid, Near or a shot of the site", "choose at least one")
    site = source.recipe.model_dump(mode="json", exclude={"sheets", "kept_rules"})
    of = digest.of_json([entry.model_dump(mode="json"), source.title, site, source.contents])
    size = entry.width_px, entry.height_px
    out = []
    for view, word, told in views:
        name = name_of(entry.file, fields_of(source.title, "still", size=size, view=word), "png")
        out.append(Whole(entry.id, (name,), size[0] * size[1] * 2, of, _taker(entry, source, view, name, told)))
    return out


def _taker(
    entry: StillsEntry, source: Source, view: str, name: str, told: str
) -> Callable[[Path, Run], list[MadeSaid]]:
    def make(folder: Path, run: Run) -> list[MadeSaid]:
        if source.still is None:
            raise RefusalError(
                entry.file, "a site that nothing lights", "one that is kept", "take it where it is kept"
            )
        pixels, path = source.still(entry, view, run), folder / name
        path.write_bytes(png.encode(pixels))
        if not np.array_equal(imagecodecs.png_decode(path.read_bytes()), pixels):
            raise RefusalError(name, "another picture when it was read back", "what was taken", "write it again")
        lines = [f"{entry.width_px} x {entry.height_px} pixels, {entry.rays} rays a pixel"]
        return [made(path, entry.id, f"PNG, a still{told}", lines)]

    return make
