"""What can be done with a site, for the web and the command line alike.

Joins the store (what is kept) with the core (what is computed) and keeps what is costly: read
heights, measured grounds, the stages of pictures.
"""

from __future__ import annotations

import io
import json
import secrets
import shutil
from collections.abc import Callable, Sequence
from datetime import UTC, datetime
from pathlib import Path

import numpy as np
from numpy.typing import NDArray

from elvatch.core.cover.fit import Fit
from elvatch.core.cover.mask import Mask
from elvatch.core.cover.recipe import HandOff, Layer, Peg, Recipe, Stand, Stands
from elvatch.core.cover.rule import Rule
from elvatch.core.formats import png, tiff
from elvatch.core.ground.description import Ground
from elvatch.core.ground.measures import KINDS, MeasureName
from elvatch.core.ground.sampling import texel_rows
from elvatch.core.handoff import bake
from elvatch.core.parallel import Token
from elvatch.core.picture import pointing
from elvatch.core.picture.picture import Booth, Drape, Facts, Terrain, View
from elvatch.core.refusal import RefusalError
from elvatch.core.run import Run
from elvatch.covers import Covers, Spot
from elvatch.fits import Fits
from elvatch.grounds import Grounds
from elvatch.markings import Markings
from elvatch.sets import Sets
from elvatch.store.paths import file_inside
from elvatch.store.sites import SiteState
from elvatch.store.store import Store
from elvatch.wears import Sheets, Wears


class Workshop:
    """Operations on sites of one store.

    Parameters
    ----------
    store : Store
        What is kept.
    """

    def __init__(self, store: Store) -> None:
        self.store = store
        self.booth = Booth()
        self.grounds = Grounds(store)
        self.sets = Sets(store)
        sheets = Sheets(store)
        self.covers = Covers(store, self.grounds, sheets.sheet)
        self.wears = Wears(store, self.grounds, self.covers, sheets)
        self.fits = Fits(store, self.grounds, self.covers)
        self.markings = Markings(store, self.grounds, self.covers)

    def land(self, ground: Ground, samples: int | None = None, run: Run | None = None) -> Terrain:
        """Return a recipe's ground, shaped and measured."""
        return self.grounds.land(ground, samples, run)

    def new_recipe(self, ground: Ground) -> Recipe:
        """Return the recipe of a new site: the first set of the stock over all, the peg in the middle."""
        first = self.store.stock.first()
        layers: tuple[Layer, ...] = ()
        if first is not None:
            fit = Fit(tile_m=first.description.tile_m, relief_m=first.description.relief_m)
            layers = (Layer(id="base", name=first.description.title, set=first.name, fit=fit),)
        size = max(ground.width_m, ground.depth_m)
        land = self.land(ground).ground
        rise = land.highest_m - land.lowest_m
        stands = Stands(
            far=Stand(bearing_deg=20, tilt_deg=min(24 + 20 * rise / size, 40), distance_m=size * 1.05, view_deg=38),
            mid=Stand(bearing_deg=330, tilt_deg=14, distance_m=min(38.0, size * 0.4), view_deg=42),
            near=Stand(bearing_deg=330, tilt_deg=17, distance_m=4.4, view_deg=44),
        )
        peg = Peg(east_m=ground.width_m / 2, north_m=ground.depth_m / 2)
        return Recipe(ground=ground, layers=layers, peg=peg, stands=stands, hand_off=HandOff())

    def picture_png(
        self, recipe: Recipe, view: View, token: Token | None = None, samples: int | None = None,
        drape: Drape | None = None, painted: dict[str, Mask] | None = None, marked: Rule | None = None,
    ) -> tuple[bytes, Facts]:  # fmt: skip
        """Return a picture as PNG, with its facts; of a preview of the ground where ``samples`` says so.

        ``painted`` are masks with a stroke that is not kept yet; places that ``marked`` lets in are lit up.
        """
        land = self.land(recipe.ground, samples, Run(token) if token else None)
        evidence = self.covers.evidence(recipe, samples, painted, quick=view.looks == 1)
        taken = self.booth.take(land, recipe, self.store.stock, view, token, drape, evidence, marked)
        return png.encode(taken.pixels), taken.facts

    def spot(
        self, recipe: Recipe, view: View, across: float, down: float, measured: Sequence[MeasureName] = ()
    ) -> Spot | None:
        """Return the place on the ground at a spot of a picture (0..1 from left and top), or None."""
        land = self.land(recipe.ground)
        place = pointing.on_ground(land, recipe, view, [(across, down)])[0]
        return self.covers.place(recipe, *place, measured) if place else None

    def measure_tiff(
        self, ground: Ground, name: MeasureName, size_px: int | None, radius_m: float | None = None
    ) -> tuple[bytes, tuple[int, int]]:
        """Return a measure as a TIFF of 32-bit floats, and its size; the ground's own samples without a size."""
        values = self.grounds.measures(ground).map(name, radius_m)
        kind = KINDS[name]
        if size_px is not None and not 16 <= size_px <= 32768:
            raise RefusalError("--size", str(size_px), "16 to 32768 pixels", "correct it")
        width, height = bake.size_of(ground, size_px) if size_px is not None else values.shape[::-1]
        # a map as large as the ground's own grid is that grid, sample for sample
        sampled = texel_rows(values, width, height, kind.scale == "compass") if size_px is not None else None

        def rows_of(first: int, last: int) -> NDArray[np.float32]:
            return values[first:last] if sampled is None else sampled(first, last)

        stream = io.BytesIO()
        tiff.write(stream, rows_of, width, height, f"{kind.title.lower()}, {kind.unit}: {kind.about}")
        return stream.getvalue(), (width, height)

    def sheet(self, title: str, recipe: Recipe) -> list[bake.SheetFile]:
        """Return the files that a hand-off would write."""
        return bake.sheet(title, recipe, self.land(recipe.ground).survey, self.store.stock)

    @property
    def handoff_folder(self) -> Path:
        """Where hand-offs from the page are written."""
        return self.store.folder / "hand-off"

    def hand_off(
        self, state: SiteState, progress: Callable[[float], None] | None = None, token: Token | None = None
    ) -> dict[str, object]:
        """Write a site's maps into a new folder of the data folder; return folder, path and files."""
        stamp = datetime.now(UTC).strftime("%Y%m%d-%H%M%S")
        folder = f"{bake.plain_name(state.title)}_{state.recipe.hand_off.size_px}_{stamp}_{secrets.token_hex(2)}"
        out = self.handoff_folder / folder
        ground = state.recipe.ground
        land, measures = self.land(ground), self.grounds.measures(ground)
        written = bake.bake(
            state.title, state.recipe, land.survey, measures, self.store.stock, out, progress, token,
            self.covers.evidence(state.recipe),
        )  # fmt: skip
        return {
            "folder": folder,
            "path": str(out),
            "files": [{"name": path.name, "bytes": path.stat().st_size} for path in written],
        }

    def handed_off(self, folder: str, name: str) -> Path:
        """Return the path of a file that a hand-off wrote: one that its sheet lists, and no other.

        Raises
        ------
        RefusalError
            When there is no such hand-off, or its sheet does not list the file.
        """
        try:
            sheet = json.loads(file_inside(self.handoff_folder, folder, bake.SHEET_NAME).read_bytes())
            listed = {str(file["name"]) for file in sheet["files"]}
        except (OSError, ValueError, KeyError, TypeError) as error:
            if isinstance(error, RefusalError):
                raise
            raise RefusalError(folder[:60], "a damaged sheet", "the sheet of a hand-off", "write it again") from None
        if name not in listed | {bake.SHEET_NAME}:
            raise RefusalError(
                name[:60], "a file that the sheet does not list", "one it lists", "choose one of those"
            )
        return file_inside(self.handoff_folder, folder, name)

    def tidy(self) -> None:
        """Clear away what an earlier run left unfinished: partial hand-offs, files nobody refers to."""
        for partial in self.handoff_folder.glob(".part-*"):
            shutil.rmtree(partial, ignore_errors=True)
        self.store.sweep()
