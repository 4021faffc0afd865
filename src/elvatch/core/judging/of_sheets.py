"""Findings about what is to be handed off."""

from __future__ import annotations

import numpy as np

from elvatch.core.document.recipe import Recipe
from elvatch.core.document.sheet import MapsEntry, Sheet
from elvatch.core.handoff import splat
from elvatch.core.handoff.listing import files_of
from elvatch.core.handoff.tiles import grid_of, sheet_grid, tiles_of
from elvatch.core.handoff.values import KINDS
from elvatch.core.handoff.wholes import wholes_of
from elvatch.core.judging.finding import Found, Mend, changed, found
from elvatch.core.judging.judged import Judged
from elvatch.core.refusal import RefusalError

FOUR, SEEN = 4, 1 / 255
FINER = 1.5


def cannot_be_written(site: Judged) -> list[Found]:
    """Find sheets that will be refused: two files of one name, values that a format cannot hold."""
    out = []
    for sheet in site.recipe.sheets:
        if not sheet.entries:
            continue
        try:
            wholes_of(sheet, site.source, files_of(sheet, site.source))
        except RefusalError as error:
            out.append(found("sheet", (sheet.id, sheet.name), str(error), 1, ""))
    return out


def few_bits(site: Judged) -> list[Found]:
    """Find heights that are to be written with 8 bits."""
    out = []
    heights = site.survey.heights
    rise = float(heights.max() - heights.min())
    for sheet in site.recipe.sheets:
        for entry in sheet.entries:
            if not isinstance(entry, MapsEntry) or entry.type != "uint8":
                continue
            if all(KINDS[slot.of].family not in ("metres", "measure") for slot in entry.holds):
                continue
            step = rise / 255
            if step <= 0.01:
                continue
            mend = _entries(sheet.id, {entry.id}, type="uint16")
            text = f"{', '.join(KINDS[slot.of].title for slot in entry.holds)} in 8 bits: steps of {step:.2g} m"
            out.append(found("few-bits", (sheet.id + entry.id, sheet.name), text, 8, "bits", ("16 bits", mend)))
    return out


def _entries(sheet: str, ids: set[str], **fields: object) -> Mend:
    """Return what gives entries of a sheet other fields."""

    def mend(recipe: Recipe) -> Recipe:
        def of_sheet(one: Sheet) -> Sheet:
            entries = tuple(changed(each, **fields) if each.id in ids else each for each in one.entries)
            return one.model_copy(update={"entries": entries}) if one.id == sheet else one

        return recipe.model_copy(update={"sheets": tuple(map(of_sheet, recipe.sheets))})

    return mend


def finer_than_sets(site: Judged) -> list[Found]:
    """Find sheets that are finer than any set on the ground."""
    dense = [
        known.size_px / layer.fit.tile_m
        for _k, layer, share in site.shown() if share > 0 and (known := site.sets.get(layer.set)) is not None
    ]  # fmt: skip
    out = []
    for sheet in site.recipe.sheets if dense else ():
        if not any(isinstance(entry, MapsEntry) and any(KINDS[slot.of].family in ("colour", "normal") for slot in
                   entry.holds) for entry in sheet.entries):  # fmt: skip
            continue
        wanted = sheet_grid(site.recipe.ground, sheet).width / site.recipe.ground.width_m
        if wanted > FINER * max(dense):
            text = f"{wanted:.0f} px/m where the finest set on this ground has {max(dense):.0f}"
            out.append(found("finer-than-sets", (sheet.id, sheet.name), text, wanted, "px/m"))
    return out


def many_layers(site: Judged) -> list[Found]:
    """Find tiles on which more than four layers lie, of sheets that write weights."""
    out = []
    for sheet in site.recipe.sheets:
        weights = [entry for entry in sheet.entries if isinstance(entry, MapsEntry)
                   and any(slot.of in splat.WEIGHTS for slot in entry.holds)]  # fmt: skip
        if not weights or any(entry.a_tile or entry.strongest for entry in weights):
            continue
        grid = grid_of(site.recipe.ground, sheet, weights[0])
        tiles = tiles_of(site.recipe.ground, sheet, grid)
        worst, place, over = 0, None, 0
        for tile in tiles:
            inside = _inside(site, tile.cols[0] / grid.width, tile.cols[1] / grid.width, tile.rows[0] / grid.height,
                             tile.rows[1] / grid.height)  # fmt: skip
            count = int((site.shares[inside] > SEEN).any(axis=0).sum()) if inside.any() else 0
            over += count > FOUR
            if count > worst:
                worst, place = count, (float(site.at.x_m[inside].mean()), float(site.at.y_m[inside].mean()))
        if over:
            text = f"{over:,} of {len(tiles):,} tiles carry more than {FOUR} layers, one of them {worst}"
            mend = _entries(sheet.id, {one.id for one in weights}, a_tile=FOUR)
            out.append(found("many-layers", (sheet.id, sheet.name), text, over, "tiles",
                             ("keep the four that cover most of each tile", mend), place))  # fmt: skip
    return out


def _inside(site: Judged, left: float, right: float, top: float, bottom: float) -> np.ndarray:
    x, y = site.at.x_m / site.survey.width_m, 1 - site.at.y_m / site.survey.depth_m
    return np.asarray((x >= left) & (x < right) & (y >= top) & (y < bottom))
