"""What can be asked of a site's cover: where layers lie and why, cuts, places pointed at, charts."""

from __future__ import annotations

import functools
import math
from collections.abc import Callable, Mapping, Sequence
from dataclasses import replace

import numpy as np
from numpy.typing import NDArray

from elvatch.app.grounds import Grounds
from elvatch.app.strews import Strews
from elvatch.app.surfaces import Surfaces
from elvatch.core import digest
from elvatch.core.cache import Cache
from elvatch.core.cover import function, on_thing, plan
from elvatch.core.cover.plan import Prepared
from elvatch.core.document.recipe import Recipe
from elvatch.core.document.rule import Channel, OnMeasure, Rule
from elvatch.core.document.thing import PaintOnThing
from elvatch.core.document.wear import Wear
from elvatch.core.formats import png
from elvatch.core.formats.reading import Reading
from elvatch.core.ground import places
from elvatch.core.ground.heightfield import Heightfield
from elvatch.core.ground.measures import KINDS, MeasureName, Measures
from elvatch.core.ground.places import Places
from elvatch.core.ground.shaping import Preview
from elvatch.core.ground.slope import LEVEL
from elvatch.core.parallel import Token
from elvatch.core.picture.joint import SetThings
from elvatch.core.picture.sample import finest_pixel_m
from elvatch.core.picture.terrain import Terrain
from elvatch.core.results import Counts, CountsByRow, Millimetres, Numbers, result
from elvatch.core.rules import account, mask, mask_image, program, rules
from elvatch.core.rules.account import Account
from elvatch.core.rules.evidence import Evidence
from elvatch.core.rules.mask import Mask, Tile
from elvatch.core.rules.mask_image import ChannelPlane, PackedImage
from elvatch.core.rules.thing_paint import Paint
from elvatch.core.run import Run
from elvatch.core.stock.sheet import OverlaySheet
from elvatch.core.strew.field import Field
from elvatch.store.store import Store

_COVER_GRID = 256
_TRANSECT = 512
_BINS = 48
_HISTOGRAM = 72
_SIZES = tuple(2**k for k in range(6, 14))


@result
class CoverFacts:
    """How a cover lies over its ground.

    ``shares`` of the whole ground per layer of the recipe, 0..1, and for those without any the
    reason; ``densities`` of each layer's set as fitted, pixels per metre; ``enough`` pixels along a side of a set
    that would do where Near shows it nearest; ``emits`` says which layers' sets send out light.
    """

    shares: list[float]
    reasons: list[str | None]
    densities: list[float]
    enough: list[int]
    emits: list[bool]


@result
class Chart:
    """How much of a ground lies at each pair of values of two measures: counts (up, across) between edges."""

    counts: CountsByRow
    across_edges: Numbers
    up_edges: Numbers


@result
class ClauseFacts:
    """A measure's histogram over a ground, None for other clauses, and the share that a clause lets in."""

    counts: Counts | None
    edges: Numbers | None
    share: float


@result
class Transect:
    """A cut along a line through the peg: distance and elevation (m) and the foremost layer (-1 none)."""

    distance_m: Millimetres
    elevation_m: Millimetres
    layer: Counts
    peg_at_m: float


@result
class Spot:
    """A place, and what the ground is there: its measures by name, in their units."""

    east_m: float
    north_m: float
    elevation_m: float
    slope_deg: float
    measures: dict[MeasureName, float]


Painted = Mapping[str, Mask | Paint]
"""Masks, of the ground and of things, with a stroke that is not kept yet, by their ids."""


class Covers:
    """The covers of the sites of one store.

    Parameters
    ----------
    store : Store
        Texture sets and files.
    grounds : Grounds
        What they lie on.
    sheet : callable
        Returns the overlay of a wear over them; told whether it is for something that moves.
    strews : Strews
        What stands on them.
    surfaces : Surfaces
        What is painted on that.
    """

    def __init__(
        self,
        store: Store,
        grounds: Grounds,
        sheet: Callable[[Wear, bool], OverlaySheet],
        strews: Strews,
        surfaces: Surfaces,
    ) -> None:
        self._store, self._grounds, self._sheet, self._strews = store, grounds, sheet, strews
        self._surfaces = surfaces
        self._facts = Cache[CoverFacts](24)
        self._shares = Cache[NDArray[np.float32]](6)
        self._prepared = Cache[Prepared](6)
        self._tiles = Cache[Tile](2048)
        self._masks = Cache[Mask](32)
        self._packed = Cache[PackedImage](2)
        self._planes = Cache[ChannelPlane](24)
        self._joined = Cache[SetThings](6)

    def evidence(
        self,
        recipe: Recipe,
        preview: Preview | None = None,
        painted: Painted | None = None,
        quick: bool = False,
    ) -> Evidence:
        """Return what the rules of a recipe may read; masks being painted take the place of stored ones.

        ``quick`` while something moves: overlays that would have to be drawn first are drawn small.
        """
        ground, marks = recipe.ground, recipe.marks
        held = {one.id: self.mask(recipe, one.id) for one in marks.masks}
        held |= {id: one for id, one in (painted or {}).items() if isinstance(one, Mask)}

        def surface(one: PaintOnThing) -> Paint:
            drawn = (painted or {}).get(one.id)
            return drawn if isinstance(drawn, Paint) else self.surface(one)

        @functools.cache
        def measures() -> Measures:
            return self._grounds.measures(ground, preview, water=recipe.water)

        def measure(name: MeasureName, radius_m: float | None) -> NDArray[np.float32]:
            return measures().map(name, radius_m)

        def reach(name: MeasureName, radius_m: float | None) -> tuple[float, float]:
            return measures().reach(name, radius_m)

        plain = Evidence(
            ground.width_m,
            ground.depth_m,
            measure,
            marks,
            held,
            self.plane,
            self._grounds.image(ground),
            reach,
            lambda: self._grounds.land(ground, preview).downhill,
            lambda: digest.of_json([digest.of_part(ground), preview.name if preview else None]),
            lambda wear: self._sheet(wear, quick),
            recipe.water.level(),
            upright=ground.upright,
            surface=surface,
        )
        placed = {one.id: one for one in recipe.set_things}
        if not recipe.strews and not placed:
            return plain
        plain = replace(plain, strews=self._strews.names_of_set(recipe))

        def things(id: str) -> NDArray[np.float64] | None:
            if id in placed:
                return self._strews.spot_of_set(recipe, placed[id])
            return self._strews.spots(recipe, found, id, preview, rests=not quick and painted is None)

        named = self._strews.names(recipe, plain.names(), preview)
        found = replace(plain, things=things, strews={**plain.strews, **named})
        return replace(found, joining=self._joining(recipe, found, preview))

    def _joining(self, recipe: Recipe, evidence: Evidence, preview: Preview | None) -> SetThings | None:
        """Return the things that the ground is joined to, None where there are none."""
        joined = tuple(one for one in recipe.set_things if one.joins)
        if not joined:
            return None
        things = tuple(thing for thing in recipe.things if thing.id in {one.thing for one in joined})
        placed = [digest.of_part(one, "name") for one in joined]
        forms = [[thing.id, digest.of_part(thing.source)] for thing in things]
        ground = digest.of_part(recipe.ground), preview.name if preview else None
        shape = digest.of_json([ground, placed, forms])
        covers = [on_thing.name_of(thing.cover, self._store.stock, evidence) for thing in things]
        name = digest.of_json([shape, covers])
        alone = recipe.model_copy(update={"strews": (), "set_things": joined, "things": things})

        @functools.cache
        def field() -> Field:
            return self._strews.field(alone, evidence, preview)

        by_id = {thing.id: thing for thing in things}
        return self._joined.get(name, lambda: SetThings(name, shape, field, by_id, self._store.stock, evidence))

    def tile(self, name: str) -> Tile:
        """Return a painted mask's stored tile."""

        def read() -> Tile:
            codes = png.decode("painted mask", self._store.files.get(name), Reading()).values
            return np.ascontiguousarray(codes, np.uint16)

        return self._tiles.get(name, read)

    def keep_tile(self, codes: Tile) -> str:
        """Store a painted mask's tile and keep it at hand; return its content name."""
        name = self._store.files.put(png.encode(codes))
        self._tiles.get(name, lambda: codes)
        return name

    def mask(self, recipe: Recipe, id: str) -> Mask:
        """Return a painted mask in memory."""
        found = next(one for one in recipe.marks.masks if one.id == id)
        size = recipe.ground.width_m, recipe.ground.depth_m
        name = mask.name_of(found, *size)
        return self._masks.get(name, lambda: mask.load(found, *size, self.tile))

    def surface(self, mask: PaintOnThing) -> Paint:
        """Return what is painted on a thing."""
        return self._surfaces.paint(mask)

    def packed(self, file: str, file_name: str) -> PackedImage:
        """Return a stored image taken apart."""
        return self._packed.get(file, lambda: mask_image.apart(file_name, self._store.files.get(file)))

    def plane(self, file: str, file_name: str, channel: Channel) -> ChannelPlane:
        """Return one channel of a stored image, ready for lookups."""
        return self._planes.get(
            f"{file} {channel}",
            lambda: mask_image.stored(mask_image.plane_of(self.packed(file, file_name), channel)),
        )

    def prepared(self, recipe: Recipe, preview: Preview | None = None) -> Prepared:
        """Return a recipe's layers and wear made ready for asking; the same for all that is asked of it."""
        evidence = self.evidence(recipe, preview)
        return self._prepared.get(
            self.name(recipe, evidence, preview),
            lambda: plan.prepare(recipe.layers, self._store.stock, evidence, wears=recipe.wears),
        )

    def name(self, recipe: Recipe, evidence: Evidence, preview: Preview | None = None) -> str:
        """Return what names all that decides what lies where, and what it is called."""
        joined = evidence.joining.name if evidence.joining else None
        return digest.of_json([self._bare_name(recipe, evidence, preview), joined])

    def _bare_name(self, recipe: Recipe, evidence: Evidence, preview: Preview | None) -> str:
        """Return what names all that decides which layer lies where: joints with things change no share."""
        layers = [digest.of_part(layer, "group") for layer in recipe.layers]
        wears = list(map(digest.of_part, recipe.wears))
        contents = self._store.stock.contents(recipe.sets())
        seen = [preview.name] if preview else []
        return digest.of_json([digest.of_part(recipe.ground), layers, wears, contents, evidence.names(), *seen])

    def spread(self, land: Terrain) -> Places:
        """Return places spread evenly over a ground, for shares."""
        ground = land.ground
        steps = (np.arange(_COVER_GRID) + 0.5) / _COVER_GRID
        x, y = np.meshgrid(steps * ground.width_m, ground.depth_m - steps * ground.depth_m)
        return places.on_ground(land.survey, x.ravel(), y.ravel(), ground.width_m / _COVER_GRID)

    def shares_over(
        self, recipe: Recipe, at: Places, token: Token | None = None, preview: Preview | None = None
    ) -> NDArray[np.float32]:
        """Return the shares of all layers of a recipe, hidden ones 0, at the places of :meth:`spread`; kept."""

        def make() -> NDArray[np.float32]:
            prepared = self.prepared(recipe, preview)
            found = function.unjoined(prepared, at, token).shares
            out = np.zeros((len(found), len(recipe.layers)), np.float32)
            for k, position in enumerate(prepared.positions):
                if position >= 0:
                    out[:, k] = found[:, position]
            return out

        return self._shares.get(self._bare_name(recipe, self.evidence(recipe, preview), preview), make)

    def facts(self, recipe: Recipe, token: Token | None = None, preview: Preview | None = None) -> CoverFacts:
        """Return shares of the ground, and why layers without any have none."""
        evidence = self.evidence(recipe, preview)
        name = self._bare_name(recipe, evidence, preview)

        def make() -> CoverFacts:
            at = self.spread(self._grounds.land(recipe.ground, preview))
            shares = [float(share) for share in self.shares_over(recipe, at, token, preview).mean(axis=0)]
            reasons = [account.why_nowhere(recipe.layers, k, share, evidence, at) for k, share in enumerate(shares)]
            stored = [self._store.stock.get(layer.set) for layer in recipe.layers]
            densities = [
                one.size / layer.fit.tile_m if one else 0.0 for layer, one in zip(recipe.layers, stored, strict=True)
            ]
            return CoverFacts(
                shares, reasons, densities, [], [one is not None and one.glow is not None for one in stored]
            )

        return replace(self._facts.get(name, make), enough=_enough_px(recipe))

    def chart(self, recipe: Recipe, across: MeasureName, up: MeasureName) -> Chart:
        """Return how much of a ground lies at each pair of values of two measures."""
        measures = self._grounds.measures(recipe.ground, water=recipe.water)
        maps = [measures.map(name) for name in (across, up)]
        edges = [_edges(values, name, _BINS) for values, name in zip(maps, (across, up), strict=True)]
        bins = [
            np.clip(np.searchsorted(edge, values.ravel(), side="right") - 1, 0, len(edge) - 2)
            for edge, values in zip(edges, maps, strict=True)
        ]
        counts = np.bincount(bins[1] * _BINS + bins[0], minlength=_BINS * _BINS).reshape(_BINS, _BINS)
        return Chart(counts.astype(np.int64), edges[0], edges[1])

    def clause_facts(self, recipe: Recipe, layer: int, rule: Rule, token: Token | None = None) -> ClauseFacts:
        """Return the share of the ground that a clause (a rule of it alone) lets in, and its measure's histogram."""
        land = self._grounds.land(recipe.ground)
        name = recipe.layers[layer].name if 0 <= layer < len(recipe.layers) else ""
        programs = program.compiled([(name, rule)], self.evidence(recipe), recipe.layers)
        share = float(rules.presences(programs, 0, self.spread(land), token).mean(dtype=np.float64))
        first = rule.clauses[0] if rule.clauses else None
        if not isinstance(first, OnMeasure):
            return ClauseFacts(None, None, share)
        values = self._grounds.measures(recipe.ground, water=recipe.water).map(first.measure, first.radius_m, token)
        edges = _edges(values, first.measure, _HISTOGRAM)
        held = np.clip(values, edges[0], edges[-1]) if first.measure != "aspect" else values
        counts, _ = np.histogram(held, edges)
        return ClauseFacts(counts.astype(np.int64), edges, share)

    def transect(self, recipe: Recipe, bearing_deg: float) -> Transect:
        """Return the cut along a line through the peg from edge to edge."""
        land, peg = self._grounds.land(recipe.ground), recipe.peg
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
        prepared = self.prepared(recipe)
        foremost = positions_shown(prepared, function.unjoined(prepared, at_places).shares)
        return Transect(along - start, at_places.elevation_m, foremost, -start)

    def at(self, recipe: Recipe, east_m: float, north_m: float) -> Places:
        """Return the place there, held to the ground, a centimetre wide."""
        land = self._grounds.land(recipe.ground)
        x = np.array([min(max(east_m, 0.0), land.ground.width_m)])
        y = np.array([min(max(north_m, 0.0), land.ground.depth_m)])
        return places.on_ground(land.survey, x, y, 0.01)

    def place(
        self,
        recipe: Recipe,
        east_m: float,
        north_m: float,
        measured: Sequence[MeasureName] = (),
        run: Run | None = None,
    ) -> Spot:
        """Return what the ground is at a place; of measures those that are named."""
        at = self.at(recipe, east_m, north_m)
        found = {name: self._value(recipe, name, at, run) for name in measured}
        high, steep = (self._value(recipe, name, at, run) for name in ("elevation", "slope"))
        return Spot(float(at.x_m[0]), float(at.y_m[0]), high, steep, found)

    def shares(self, recipe: Recipe, east_m: float, north_m: float) -> list[float]:
        """Return each layer's share at a place, 0 of those that are hidden."""
        prepared = self.prepared(recipe)
        shares = function.unjoined(prepared, self.at(recipe, east_m, north_m)).shares[0]
        return [float(shares[k]) if k >= 0 else 0.0 for k in prepared.positions]

    def _value(self, recipe: Recipe, name: MeasureName, at: Places, run: Run | None) -> float:
        lies = recipe.ground.upright is None
        if lies and name == "elevation":
            return float(at.elevation_m[0])
        if lies and name == "slope":
            return math.degrees(math.atan(math.hypot(float(at.rise_east[0]), float(at.rise_north[0]))))
        if lies and name == "aspect":
            east, north = float(at.rise_east[0]), float(at.rise_north[0])
            return math.degrees(math.atan2(-east, -north)) % 360.0 if east or north else LEVEL
        values = self._grounds.measures(recipe.ground, None, run, recipe.water).map(
            name, None, run.token if run else None
        )
        # a measure lies between the ground's samples as its heights do
        measured = Heightfield(values, recipe.ground.width_m, recipe.ground.depth_m)
        return measured.elevation_at(float(at.x_m[0]), float(at.y_m[0]))

    def account(self, recipe: Recipe, east_m: float, north_m: float) -> list[Account]:
        """Return why each layer lies at a place or not, clause by clause."""
        return account.account(recipe.layers, self.evidence(recipe), self.at(recipe, east_m, north_m))


def _enough_px(recipe: Recipe) -> list[int]:
    pixel = finest_pixel_m(recipe.stands.near)
    wanted = [layer.fit.tile_m / pixel for layer in recipe.layers]
    return [next((size for size in _SIZES if size >= px), _SIZES[-1]) for px in wanted]


def positions_shown(prepared: Prepared, shares: NDArray[np.float32]) -> NDArray[np.int64]:
    """Return which layer of the recipe has the largest share at each place, -1 where there are none."""
    back = np.array([k for k, shown in enumerate(prepared.positions) if shown >= 0], np.int64)
    return back[shares.argmax(axis=1)] if len(back) else np.full(len(shares), -1, np.int64)


def _edges(values: NDArray[np.float32], name: MeasureName, bins: int) -> NDArray[np.float64]:
    """Return the edges of a measure's bins over a ground: even, or in equal ratios where it spans decades."""
    low, high = float(values.min()), float(values.max())
    if name == "aspect":
        return np.linspace(0.0, 360.0, bins + 1)
    if KINDS[name].scale == "logarithmic":
        least = max(low, high * 1e-7, 1e-6)
        return np.concatenate([[min(low, least)], np.geomspace(least, max(high, least * 2), bins)])
    if KINDS[name].scale == "about zero":
        # the far ends of a bend are few: what lies beyond falls into the outermost bins
        most = max(float(np.percentile(np.abs(values[::3, ::3]), 99.5)), 1e-6)
        return np.linspace(-most, most, bins + 1)
    return np.linspace(low, max(high, low + 1e-3), bins + 1)
