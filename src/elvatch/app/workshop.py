"""All that can be done, in one place: joins the store (what is kept) with the core (what is computed)."""

from __future__ import annotations

import io
from collections.abc import Callable

import numpy as np
from numpy.typing import NDArray

from elvatch.app.beginning import Beginning
from elvatch.app.bringing import Bringing
from elvatch.app.covers import Covers, Spot
from elvatch.app.fits import FitAt, Fits
from elvatch.app.grounds import Grounds
from elvatch.app.handoffs import HandOffs
from elvatch.app.judging import Judging
from elvatch.app.marks import Marking
from elvatch.app.packs import Packs
from elvatch.app.panoramas import Panoramas
from elvatch.app.pictures import Pictures
from elvatch.app.references import References
from elvatch.app.sets import Sets
from elvatch.app.sites import Sites
from elvatch.app.stills import Stills
from elvatch.app.strews import Strews
from elvatch.app.suites import Suites
from elvatch.app.surfaces import Surfaces
from elvatch.app.things import Things
from elvatch.app.wears import Sheets, WearAt, Wears
from elvatch.app.worn_things import WornThings
from elvatch.core.document.recipe import Recipe
from elvatch.core.formats import tiff
from elvatch.core.ground.measures import KINDS, MeasureName, asked_of
from elvatch.core.ground.places import size_of
from elvatch.core.ground.sampling import texel_rows
from elvatch.core.refusal import RefusalError
from elvatch.core.results import result
from elvatch.core.rules.account import Account
from elvatch.core.run import Run
from elvatch.store.sites import SiteState
from elvatch.store.store import Store


@result
class Probe:
    """All that is told of one place: the ground, each layer's share and why, how what lies there is fitted, wear."""

    spot: Spot
    shares: list[float]
    account: list[Account]
    fit: FitAt
    wear: list[WearAt]


class Workshop:
    """Operations on the sites and sets of one store.

    Parameters
    ----------
    store : Store
        What is kept.
    """

    def __init__(self, store: Store) -> None:
        self.store = store
        self.grounds = Grounds(store)
        self.sets = Sets(store)
        sheets = Sheets(store)
        self.strews = Strews(store, self.grounds)
        surfaces = Surfaces(store)
        self.covers = Covers(store, self.grounds, sheets.sheet, self.strews, surfaces)
        self.wears = Wears(store, self.grounds, self.covers, sheets)
        self.worn_things = WornThings(store, self.grounds, self.covers, self.strews)
        self.fits = Fits(store, self.grounds, self.covers)
        self.bringing = Bringing(store.tray, self.sets)
        self.marks = Marking(store, self.grounds, self.covers)
        self.panoramas = Panoramas(store)
        self.pictures = Pictures(
            store, self.grounds, self.covers, self.fits, self.marks, self.panoramas, self.strews, surfaces
        )
        self.things = Things(store, self.strews, self.covers)
        self.references = References(store, self.pictures)
        self.beginning = Beginning(store, self.grounds, self.covers)
        self.sites = Sites(store, self.grounds, self.beginning)
        self.sample_site: Callable[[Run], SiteState] | None = None
        """Lays out a site to learn from, where the program that serves this has one."""
        self.packs = Packs(store, self.sets, self.grounds, self.covers, self.panoramas, self.references)
        self.suites = Suites(store, self.grounds, self.sets)
        self.stills = Stills(store, self.grounds, self.covers, self.panoramas, self.strews)
        self.handoffs = HandOffs(store, self.grounds, self.covers, self.packs, self.stills, self.strews)
        self.judging = Judging(store, self.grounds, self.covers, self.fits, self.strews, self.handoffs)

    def probe(self, recipe: Recipe, east_m: float, north_m: float, run: Run | None = None) -> Probe:
        """Return all that is told of one place."""
        at = self.covers.at(recipe, east_m, north_m)
        return Probe(
            self.covers.place(recipe, east_m, north_m, asked_of(recipe.water.on), run),
            self.covers.shares(recipe, east_m, north_m),
            self.covers.account(recipe, east_m, north_m),
            self.fits.at(recipe, at),
            self.wears.at(recipe, at),
        )

    def measure_tiff(
        self, recipe: Recipe, name: MeasureName, size_px: int | None, radius_m: float | None = None
    ) -> tuple[bytes, tuple[int, int]]:
        """Return a measure as a TIFF of 32-bit floats, and its size; the ground's own samples without a size."""
        values = self.grounds.measures(recipe.ground, water=recipe.water).map(name, radius_m)
        kind = KINDS[name]
        if size_px is not None and not 16 <= size_px <= 32768:
            raise RefusalError("--size", str(size_px), "16 to 32768 pixels", "correct it")
        ground = recipe.ground
        width, height = size_of(ground.width_m, ground.depth_m, size_px) if size_px else values.shape[::-1]
        # a map as large as the ground's own grid is that grid, sample for sample
        sampled = texel_rows(values, width, height, kind.scale == "compass") if size_px is not None else None

        def rows_of(first: int, last: int) -> NDArray[np.float32]:
            return values[first:last] if sampled is None else sampled(first, last)

        stream = io.BytesIO()
        tiff.write(stream, rows_of, width, height, f"{kind.title.lower()}, {kind.unit}: {kind.about}")
        return stream.getvalue(), (width, height)

    def tidy(self) -> None:
        """Clear away what an earlier run left unfinished: partial hand-offs, files nobody refers to."""
        self.handoffs.tidy()
        self.stills.tidy()
        self.packs.tidy()
        self.store.sweep()
