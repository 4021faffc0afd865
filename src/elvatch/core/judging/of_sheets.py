"""Findings about what is to be handed off."""

from __future__ import annotations

import numpy as np

from elvatch.core.document.recipe import Recipe
from elvatch.core.document.sheet import MapsEntry, Sheet
from elvatch.core.handoff import splat
from elvatch.core.handoff.listing import File, files_of
from elvatch.core.handoff.tiles import grid_of, sheet_grid, tiles_of
from elvatch.core.handoff.values import KINDS
from elvatch.core.handoff.wholes import wholes_of
from elvatch.core.judging.finding import Mend, Mendable, changed, found
from elvatch.core.judging.judged import Judged
from elvatch.core.refusal import RefusalError

FOUR, SEEN = 4, 1 / 255
FINER = 1.5
COARSE_M = 0.01


def as_written(site: Judged) -> list[Mendable]:
    """Find sheets that will be refused (two files of one name, values that a format cannot hold), and lengths that
    are to be written with 8 bits."""
    out: list[Mendable] = []
    for sheet in site.recipe.sheets:
        if not sheet.entries:
            continue
        try:
            files = files_of(sheet, site.source)
            wholes_of(sheet, site.source, files)
        except RefusalError as error:
            out.append(found("sheet", (sheet.id, sheet.name), str(error), 1, ""))
            continue
        out += [_few_bits(sheet, file) for file in _first_of_each(files) if _coarsest_m(file) > COARSE_M]
    return out


def _first_of_each(files: list[File]) -> list[File]:
    """Return one file of each entry: its tiles hold the same."""
    return list({file.entry.id: file for file in reversed(files)}.values())


def _coarsest_m(file: File) -> float:
    """Return the largest step between two codes of a file of 8 bits, metres; 0 of other files and values."""
    if file.entry.type != "uint8":
        return 0.0
    return max(((held.high - held.low) / 255 for held in file.held if held.unit == "m"), default=0.0)


def _few_bits(sheet: Sheet, file: File) -> Mendable:
    mend = _entries(sheet.id, {file.entry.id}, type="uint16")
    titles = ", ".join(KINDS[held.of].title for held in file.held if held.unit == "m")
    text = f"{titles} in 8 bits: steps of {_coarsest_m(file):.2g} m"
    return found("few-bits", (sheet.id + file.entry.id, sheet.name), text, 8, "bits", ("16 bits", mend))


def _entries(sheet: str, ids: set[str], **fields: object) -> Mend:
    """Return what gives entries of a sheet other fields."""

    def mend(recipe: Recipe) -> Recipe:
        def of_sheet(one: Sheet) -> Sheet:
            entries = tuple(changed(each, **fields) if each.id in ids else each for each in one.entries)
            return one.model_copy(update={"entries": entries}) if one.id == sheet else one

        return recipe.model_copy(update={"sheets": tuple(map(of_sheet, recipe.sheets))})

    return mend


def finer_than_sets(site: Judged) -> list[Mendable]:
    """Find sheets that are finer than any set on the ground."""
    dense = [
        known.size_px / layer.fit.tile_m
        for _k, layer, share in site.shown()
        if share > 0 and (known := site.sets.get(layer.set)) is not None
    ]
    out = []
    for sheet in site.recipe.sheets if dense else ():
        if not any(
            isinstance(entry, MapsEntry)
            and any(KINDS[slot.of].family in ("colour", "normal") for slot in entry.holds)
            for entry in sheet.entries
        ):
            continue
        wanted = sheet_grid(site.recipe.ground, sheet).width / site.recipe.ground.width_m
        if wanted > FINER * max(dense):
            text = f"{wanted:.0f} px/m where the finest set on this ground has {max(dense):.0f}"
            out.append(found("finer-than-sets", (sheet.id, sheet.name), text, wanted, "px/m"))
    return out


def many_layers(site: Judged) -> list[Mendable]:
    """Find tiles on which more than four layers lie, of sheets that write weights."""
    out = []
    for sheet in site.recipe.sheets:
        weights = [
            entry
            for entry in sheet.entries
            if isinstance(entry, MapsEntry) and any(slot.of in splat.WEIGHTS for slot in entry.holds)
        ]
        if not weights or any(entry.a_tile or entry.strongest for entry in weights):
            continue
        grid = grid_of(site.recipe.ground, sheet, weights[0])
        tiles = tiles_of(site.recipe.ground, sheet, grid)
        worst, place, over = 0, None, 0
        for tile in tiles:
            inside = _inside(
                site,
                tile.cols[0] / grid.width,
                tile.cols[1] / grid.width,
                tile.rows[0] / grid.height,
                tile.rows[1] / grid.height,
            )
            count = int((site.shares[inside] > SEEN).any(axis=0).sum()) if inside.any() else 0
            over += count > FOUR
            if count > worst:
                worst, place = count, (float(site.at.x_m[inside].mean()), float(site.at.y_m[inside].mean()))
        if over:
            text = f"{over:,} of {len(tiles):,} tiles carry more than {FOUR} layers, one of them {worst}"
            mend = _entries(sheet.id, {one.id for one in weights}, a_tile=FOUR)
            out.append(
                found(
                    "many-layers",
                    (sheet.id, sheet.name),
                    text,
                    over,
                    "tiles",
                    ("keep the four that cover most of each tile", mend),
                    place,
                )
            )
    return out


def _inside(site: Judged, left: float, right: float, top: float, bottom: float) -> np.ndarray:
    x, y = site.at.x_m / site.survey.width_m, 1 - site.at.y_m / site.survey.depth_m
    return np.asarray((x >= left) & (x < right) & (y >= top) & (y < bottom))
