"""What can be done with a site, for the web and the command line alike.

Joins the store (what is kept) with the core (what is computed) and keeps what is costly: read
heights, measured grounds, the stages of pictures.
"""

from __future__ import annotations

import io
import math
import secrets
import shutil
from collections.abc import Callable
from dataclasses import dataclass
from datetime import UTC, datetime
from pathlib import Path

import numpy as np
from numpy.typing import NDArray

from elvatch.core import digest
from elvatch.core.cover import function, places, plan
from elvatch.core.cover.recipe import Fit, HandOff, Layer, Peg, Recipe, Stand, Stands
from elvatch.core.formats import png, tiff
from elvatch.core.ground.description import Ground
from elvatch.core.ground.measures import KINDS, MeasureName
from elvatch.core.ground.sampling import texel_rows
from elvatch.core.ground.slope import slope_deg
from elvatch.core.handoff import bake
from elvatch.core.kept import Kept
from elvatch.core.parallel import Token
from elvatch.core.picture import camera, scene
from elvatch.core.picture.picture import Booth, Drape, Facts, Terrain, View, scene_of
from elvatch.core.refusal import RefusalError
from elvatch.core.run import Run
from elvatch.grounds import Grounds
from elvatch.sets import Sets
from elvatch.store.sites import SiteState
from elvatch.store.store import Store

_COVER_GRID = 256
_CHART = (48, 40)
_TRANSECT = 512


@dataclass(frozen=True)
class CoverFacts:
    """How a cover lies over its ground.

    ``shares`` of the whole ground per layer of the recipe, 0..1, and for those without any the
    reason; ``densities`` of each layer's set as fitted, pixels per metre; ``chart`` counts of this
    ground by elevation (rows, lowest first) and slope.
    """

    shares: list[float]
    reasons: list[str | None]
    densities: list[float]
    chart: NDArray[np.int64]
    steepest_deg: float
    lowest_m: float
    highest_m: float


@dataclass(frozen=True)
class Transect:
    """A cut along a line through the peg: distance and elevation (m) and the foremost layer (-1 none)."""

    distance_m: NDArray[np.float64]
    elevation_m: NDArray[np.float32]
    layer: NDArray[np.int64]
    peg_at_m: float


@dataclass(frozen=True)
class Spot:
    """A place pointed at in a picture, and what is known of it."""

    east_m: float
    north_m: float
    elevation_m: float
    slope_deg: float
    shares: list[float]


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
        self._facts = Kept[CoverFacts](24)

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
        drape: Drape | None = None,
    ) -> tuple[bytes, Facts]:  # fmt: skip
        """Return a picture as PNG, with its facts; of a preview of the ground where ``samples`` says so."""
        land = self.land(recipe.ground, samples, Run(token) if token else None)
        taken = self.booth.take(land, recipe, self.store.stock, view, token, drape)
        return png.encode(taken.pixels), taken.facts

    def cover_facts(self, recipe: Recipe, token: Token | None = None) -> CoverFacts:
        """Return shares of the ground and the where-chart's density."""
        contents = self.store.stock.contents([layer.set for layer in recipe.layers])
        parts = [
            recipe.ground.model_dump(), [layer.model_dump(exclude={"name"}) for layer in recipe.layers], contents
        ]  # fmt: skip

        def make() -> CoverFacts:
            land = self.land(recipe.ground)
            prepared = plan.prepare(recipe.layers, self.store.stock, land.image)
            ground = land.ground
            steps = (np.arange(_COVER_GRID) + 0.5) / _COVER_GRID
            x, y = np.meshgrid(steps * ground.width_m, ground.depth_m - steps * ground.depth_m)
            at = places.on_ground(land.survey, x.ravel(), y.ravel(), ground.width_m / _COVER_GRID)
            mean = function.ask(prepared, at, token).shares.mean(axis=0)
            shares = [float(mean[k]) if k >= 0 else 0.0 for k in prepared.positions]
            slope = slope_deg(land.survey.gradient)
            steepest = max(float(slope.max()), 1.0)
            chart, _, _ = np.histogram2d(
                ground.heights_m.ravel(), slope.ravel(), bins=_CHART,
                range=((ground.lowest_m, max(ground.highest_m, ground.lowest_m + 0.1)), (0, steepest)),
            )  # fmt: skip
            reasons = [_why_nowhere(recipe, k, shares[k], land, steepest) for k in range(len(recipe.layers))]
            densities = [
                self.store.stock[layer.set].size / layer.fit.tile_m if layer.set in self.store.stock else 0.0
                for layer in recipe.layers
            ]
            return CoverFacts(
                shares, reasons, densities, chart.astype(np.int64), steepest, ground.lowest_m, ground.highest_m
            )

        return self._facts.get(digest.of_json(parts), make)

    def transect(self, recipe: Recipe, bearing_deg: float) -> Transect:
        """Return the cut along a line through the peg from edge to edge."""
        land, peg = self.land(recipe.ground), recipe.peg
        ground = land.ground
        dx, dy = math.sin(math.radians(bearing_deg)), math.cos(math.radians(bearing_deg))
        reach = []
        for at, step, size in ((peg.east_m, dx, ground.width_m), (peg.north_m, dy, ground.depth_m)):
            if abs(step) > 1e-9:
                reach.append(sorted(((0 - at) / step, (size - at) / step)))
        start, end = max(r[0] for r in reach), min(r[1] for r in reach)
        along = np.linspace(start, end, _TRANSECT)
        x, y = peg.east_m + along * dx, peg.north_m + along * dy
        at_places = places.on_ground(land.survey, x, y, (end - start) / _TRANSECT)
        prepared = plan.prepare(recipe.layers, self.store.stock, land.image)
        shares = function.ask(prepared, at_places).shares
        back = np.array([k for k, shown in enumerate(prepared.positions) if shown >= 0], np.int64)
        foremost = back[shares.argmax(axis=1)] if len(back) else np.full(_TRANSECT, -1, np.int64)
        return Transect(along - start, at_places.elevation_m, foremost, -start)

    def spot(self, recipe: Recipe, view: View, across: float, down: float) -> Spot | None:
        """Return the place on the ground at a spot of a picture (0..1 from left and top), or None."""
        land, peg = self.land(recipe.ground), recipe.peg
        stand = getattr(recipe.stands, view.stand)
        far = view.stand == "far"
        target = camera.far_target(land.ground) if far else camera.peg_target(stand, peg, land.ground)
        taken_from = camera.from_stand(stand, target, view.width_px, view.height_px, land.ground)
        sx, sy = across * 2 - 1, 1 - down * 2
        ray = np.array(
            [
                taken_from.forward_x + sx * taken_from.right_x + sy * taken_from.up_x,
                taken_from.forward_y + sx * taken_from.right_y + sy * taken_from.up_y,
                taken_from.forward_z + sy * taken_from.up_z,
            ]
        )
        ray /= np.linalg.norm(ray)
        eye = taken_from.eye_x, taken_from.eye_y, taken_from.eye_z
        distance, what = scene.meet(scene_of(land, None), *eye, float(ray[0]), float(ray[1]), float(ray[2]), 0.02)
        if what != scene.GROUND:
            return None
        return self.probe(recipe, eye[0] + distance * ray[0], eye[1] + distance * ray[1])

    def probe(self, recipe: Recipe, east_m: float, north_m: float) -> Spot:
        """Return what is known of a place on the ground."""
        land = self.land(recipe.ground)
        x = np.array([min(max(east_m, 0.0), land.ground.width_m)])
        y = np.array([min(max(north_m, 0.0), land.ground.depth_m)])
        at = places.on_ground(land.survey, x, y, 0.01)
        prepared = plan.prepare(recipe.layers, self.store.stock, land.image)
        shares = function.ask(prepared, at).shares[0]
        steep = math.degrees(math.atan(math.hypot(float(at.rise_east[0]), float(at.rise_north[0]))))
        per_layer = [float(shares[k]) if k >= 0 else 0.0 for k in prepared.positions]
        return Spot(float(x[0]), float(y[0]), float(at.elevation_m[0]), steep, per_layer)

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
        ground = self.land(recipe.ground).ground
        return bake.sheet(title, recipe, (ground.lowest_m, ground.highest_m), self.store.stock)

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
            state.title, state.recipe, land.survey, measures, self.store.stock, out, progress, token, land.image
        )
        return {
            "folder": folder,
            "path": str(out),
            "files": [{"name": path.name, "bytes": path.stat().st_size} for path in written],
        }

    def tidy(self) -> None:
        """Clear away what an earlier run left unfinished: partial hand-offs, files nobody refers to."""
        for partial in self.handoff_folder.glob(".part-*"):
            shutil.rmtree(partial, ignore_errors=True)
        self.store.tray.clear_all()
        self.store.files.collect()


def _why_nowhere(recipe: Recipe, k: int, share: float, land: Terrain, steepest: float) -> str | None:
    """Say in plain words why a layer covers nothing, or None when it covers something."""
    if share >= 5e-5:
        return None
    layer, ground = recipe.layers[k], land.ground
    if not layer.on:
        return "it is hidden"
    if layer.opacity == 0 and k > 0:
        return "its opacity is 0"
    for clause in layer.rule.clauses:
        if clause.opposite:
            continue
        if clause.measure == "slope" and clause.lower_deg is not None:
            if clause.lower_deg - clause.soft_lower_deg > steepest:
                return f"nothing here is steeper than {clause.lower_deg:g}°"
        elif clause.measure == "elevation":
            if clause.lower_m is not None and clause.lower_m - clause.soft_lower_m > ground.highest_m:
                return f"nothing here lies above {clause.lower_m:g} m"
            if clause.upper_m is not None and clause.upper_m + clause.soft_upper_m < ground.lowest_m:
                return f"nothing here lies below {clause.upper_m:g} m"
    if any(upper.on and upper.opacity == 1 for upper in recipe.layers[k + 1 :]):
        return "its clauses meet nowhere, or layers above it cover it"
    return "its clauses meet nowhere together"
