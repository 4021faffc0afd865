"""What can be asked of pictures: taken, pointed into, drawn upon."""

from __future__ import annotations

from collections.abc import Sequence
from typing import NamedTuple

import numpy as np
from pydantic import Field

from elvatch.app import warm
from elvatch.app.catching_up import CatchingUp
from elvatch.app.covers import Covers, Painted, Spot
from elvatch.app.fits import FitAt, Fits
from elvatch.app.grounds import Grounds
from elvatch.app.marks import Marking
from elvatch.app.panoramas import Panoramas
from elvatch.app.strews import NOTHING_PICKED, Picked, Strews
from elvatch.app.surfaces import Surfaces, thing_with
from elvatch.core import digest
from elvatch.core.cache import Cache
from elvatch.core.curve import through
from elvatch.core.document import begin_layer
from elvatch.core.document.marks import Brush, MaskStroke, StrokeAt
from elvatch.core.document.recipe import Peg, Recipe, Stand
from elvatch.core.document.rule import Rule, on
from elvatch.core.document.thing import Thing
from elvatch.core.formats import png
from elvatch.core.ground.clauses import between
from elvatch.core.ground.measures import MeasureName
from elvatch.core.ground.shaping import Preview
from elvatch.core.light.panorama import Panorama
from elvatch.core.parallel import Token
from elvatch.core.parts import Part, PartId
from elvatch.core.picture import on_surface, pointing
from elvatch.core.picture.drape import Drape
from elvatch.core.picture.on_surface import SpotsOnThing
from elvatch.core.picture.picture import Facts, Picture, Renderer, Setting, StandName, View
from elvatch.core.picture.terrain import Terrain
from elvatch.core.refusal import RefusalError
from elvatch.core.results import result
from elvatch.core.rules import thing_paint
from elvatch.core.rules.evidence import Evidence
from elvatch.core.rules.thing_paint import ThingStroke
from elvatch.core.run import Run
from elvatch.core.strew import field as strew_field
from elvatch.store.sites import SiteState
from elvatch.store.store import Store

OnPicture = tuple[float, float] | None
"""Across and down, 0..1; None behind the eye."""
Line = list[tuple[float, float]]
_MOST_FINISHED = 40
"""Pictures at rest that are kept whole: what was looked at before, or is taken back to, shows at once."""


class DrawnStroke(Part):
    """A stroke as it is drawn in a picture: spots from left and top, 0..1, with the pen's pressure.

    What the picture looked from goes with it: by the time it is kept the picture may look elsewhere.
    """

    mask: PartId
    tool: Brush = "add"
    size_m: float = Field(gt=0, le=4_000)
    strength: float = Field(default=1.0, ge=0, le=1)
    soft: float = Field(default=0.5, ge=0, le=1)
    flow: float = Field(default=1.0, gt=0, le=1)
    stand: StandName
    looked_from: Stand
    peg: Peg
    width_px: int = Field(ge=16, le=4096)
    height_px: int = Field(ge=16, le=4096)
    spots: tuple[tuple[float, float, float], ...] = Field(min_length=1, max_length=1200)

    def view(self) -> View:
        """Return which picture it was drawn in."""
        return View(self.stand, self.width_px, self.height_px)

    def seen(self, recipe: Recipe) -> Recipe:
        """Return a recipe with the picture looking from where it did."""
        stands = recipe.stands.model_copy(update={self.stand: self.looked_from})
        return recipe.model_copy(update={"stands": stands, "peg": self.peg})


class Brushed(Part):
    """A part of the where-chart: two measures and their ends."""

    across: MeasureName
    up: MeasureName
    across_from: float
    across_to: float
    up_from: float
    up_to: float

    def rule(self) -> Rule:
        """Return the rule that lets in what lies there."""
        ends = ((self.across, self.across_from, self.across_to), (self.up, self.up_from, self.up_to))
        return Rule(clauses=tuple(on(between(name, min(a, b), max(a, b), 0.0, 0.0)) for name, a, b in ends))


class Besides(NamedTuple):
    """What a picture shows beside its recipe: a ``preview`` of the ground, a ``drape`` over it, masks ``painted``
    with a stroke that is not kept yet, places that a rule has ``marked``. False where it is nothing of it."""

    preview: Preview | None = None
    drape: Drape | None = None
    painted: Painted | None = None
    marked: Rule | None = None

    def __bool__(self) -> bool:
        return any(one is not None for one in self)


NOTHING_BESIDES = Besides()


class _Ready(NamedTuple):
    """A recipe with what all pictures of it are made of."""

    recipe: Recipe
    land: Terrain
    evidence: Evidence
    panorama: Panorama | None
    field: strew_field.Field | None
    with_: Besides


@result
class Pointed:
    """The place under a spot of a picture, None where the sky is; the rule that a set begins with that is dropped
    there; a circle about it as it lies there, and how what lies there is fitted, where these were asked for."""

    spot: Spot | None
    rule: Rule
    ring: list[OnPicture] | None
    fit: FitAt | None


@result
class Lines:
    """Where lines on the ground lie in a picture: their points, and the smooth curves through them."""

    lines: list[list[OnPicture]]
    curves: list[list[OnPicture]]


class Pictures:
    """Pictures of the sites of one store.

    Parameters
    ----------
    store : Store
        What is kept.
    grounds, covers, fits, marks, panoramas, strews, surfaces
        What is seen and lights it, and what is asked of it.
    """

    def __init__(
        self,
        store: Store,
        grounds: Grounds,
        covers: Covers,
        fits: Fits,
        marks: Marking,
        panoramas: Panoramas,
        strews: Strews,
        surfaces: Surfaces,
    ) -> None:
        self._surfaces = surfaces
        self._store, self._grounds, self._covers, self._fits, self._marks = store, grounds, covers, fits, marks
        self._renderer, self._strews = Renderer(), strews
        self._panoramas = panoramas
        self._finished = Cache[Picture](_MOST_FINISHED)
        self._catching_up = CatchingUp(self._catch_up, warm.practise)

    def png(
        self, recipe: Recipe, view: View, token: Token | None = None, with_: Besides | None = None
    ) -> tuple[bytes, Facts]:
        """Return a picture as PNG, with its facts; see :meth:`take`."""
        taken = self.take(recipe, view, token, with_)
        return png.encode(taken.pixels), taken.facts

    def take(self, recipe: Recipe, view: View, token: Token | None = None, with_: Besides | None = None) -> Picture:
        """Return a picture; one at rest of the recipe alone is kept."""
        if view.moves or with_:
            return self._taken(recipe, view, token, with_ or NOTHING_BESIDES)
        name, where = self._name(recipe, view), self._where(recipe, view)
        kept = self._finished.peek(name)
        if kept is not None:
            self._catching_up.shown(recipe, view, where, name)
            return kept

        def make() -> Picture:
            made = self._taken(recipe, view, token, NOTHING_BESIDES)
            self._catching_up.made(where, name)
            return made

        return self._finished.get(name, make)

    @staticmethod
    def _where(recipe: Recipe, view: View) -> str:
        """Return what names the places that a picture looks at, whatever lies there."""
        looked = [recipe.ground, recipe.peg, getattr(recipe.stands, view.stand)]
        return digest.of_json([list(map(digest.of_part, looked)), list(vars(view).values())])

    def _name(self, recipe: Recipe, view: View) -> str:
        """Return what names a picture at rest by all that is seen in it."""
        single = [recipe.peg, getattr(recipe.stands, view.stand), recipe.light, recipe.water]
        several = [*recipe.things, *recipe.strews, *recipe.set_things]
        cover = self._covers.name(recipe, self._covers.evidence(recipe))
        return digest.of_json([cover, list(map(digest.of_part, [*single, *several])), list(vars(view).values())])

    def several(
        self, recipe: Recipe, views: Sequence[View], token: Token | None = None, with_: Besides | None = None
    ) -> list[Picture]:
        """Return pictures of one recipe, as :meth:`take` does; what moves is made ready for all of them at once."""
        if not all(view.moves for view in views):
            return [self.take(recipe, view, token, with_) for view in views]
        with self._catching_up.giving_way(recipe):
            ready = self._ready(recipe, True, token, with_ or NOTHING_BESIDES)
            return [self._made(ready, view, token) for view in views]

    def _taken(self, recipe: Recipe, view: View, token: Token | None, with_: Besides) -> Picture:
        with self._catching_up.giving_way(recipe):
            return self._made(self._ready(recipe, view.moves, token, with_), view, token)

    def _ready(self, recipe: Recipe, moves: bool, token: Token | None, with_: Besides) -> _Ready:
        preview, painted = with_.preview, with_.painted or None
        if moves and preview is None:
            preview = self._grounds.while_measured(recipe.ground)
        land = self._grounds.land(recipe.ground, preview, Run(token) if token else None)
        evidence = self._covers.evidence(recipe, preview, painted, quick=moves)
        field = None
        if recipe.strews or recipe.set_things:
            field = self._strews.field(recipe, evidence, preview, rests=not moves and painted is None)
        return _Ready(recipe, land, evidence, self._panoramas.of(recipe.light), field, with_)

    def _made(self, ready: _Ready, view: View, token: Token | None, catches_up: bool = False) -> Picture:
        return self._renderer.take(
            ready.land,
            ready.recipe,
            self._store.stock,
            view,
            token,
            ready.with_.drape,
            ready.evidence,
            ready.with_.marked,
            Setting(ready.panorama, ready.field, catches_up),
        )

    def _catch_up(self, recipe: Recipe, view: View, token: Token) -> Picture:
        return self._made(self._ready(recipe, view.moves, token, NOTHING_BESIDES), view, token, catches_up=True)

    def pick(self, recipe: Recipe, view: View, across: float, down: float, preview: Preview | None = None) -> Picked:
        """Return the thing under a spot of a picture, as the picture was taken."""
        if not recipe.strews and not recipe.set_things:
            return NOTHING_PICKED
        evidence = self._covers.evidence(recipe, preview)
        field = self._strews.field(recipe, evidence, preview)
        land = self._grounds.land(recipe.ground, preview)
        met = self._renderer.pick(land, recipe, self._store.stock, view, evidence, field, (across, down))
        if met is None:
            return NOTHING_PICKED
        if met.strew == len(field.strews):
            return self._strews.picked_set(recipe, met.number)
        return self._strews.picked(
            recipe, evidence, field.strews[met.strew].id, met.number, (met.east_m, met.north_m)
        )

    def painted(self, recipe: Recipe, drawn: DrawnStroke, token: Token | None = None) -> Painted:
        """Return the mask that a stroke is being drawn on, with it; nothing where it never meets what it is of."""
        thing = thing_with(recipe, drawn.mask)
        if thing is not None:
            on_it = self._stroke_on(recipe, drawn, thing)
            return {drawn.mask: self._surfaces.painted(thing, drawn.mask, on_it)} if on_it else {}
        stroke = self._stroke(recipe, drawn)
        return {drawn.mask: self._marks.painted(recipe, drawn.mask, stroke, token)} if stroke else {}

    def paint(self, site: str, base: int, drawn: DrawnStroke) -> SiteState:
        """Keep a finished stroke as one revision; on disk when this returns.

        Raises
        ------
        ConflictError
            When the site has been changed since ``base``.
        """
        state = self._store.sites.state_on(site, base)
        thing = thing_with(state.recipe, drawn.mask)
        if thing is not None:
            on_it = self._stroke_on(state.recipe, drawn, thing)
            if on_it is None:
                return state
            label, kept = self._surfaces.painted_on(state.recipe, thing, drawn.mask, on_it)
            return self._store.sites.edit(site, base, label, kept)
        stroke = self._stroke(state.recipe, drawn)
        return self._marks.paint(state, base, drawn.mask, stroke) if stroke else state

    def _stroke(self, recipe: Recipe, drawn: DrawnStroke) -> MaskStroke | None:
        """Return a stroke on the ground that was drawn in a picture; None where it never met the ground."""
        view, seen = drawn.view(), drawn.seen(recipe)
        land = self._grounds.land(recipe.ground)
        places = pointing.on_ground(land, seen, view, [(across, down) for across, down, _ in drawn.spots])
        points = tuple(
            StrokeAt(east_m=place[0], north_m=place[1], pressure=min(max(spot[2], 0.0), 1.0))
            for place, spot in zip(places, drawn.spots, strict=True)
            if place is not None
        )
        if not points:
            return None
        return MaskStroke(
            tool=drawn.tool,
            size_m=drawn.size_m,
            strength=drawn.strength,
            soft=drawn.soft,
            flow=drawn.flow,
            points=points,
        )

    def _on_thing(
        self, recipe: Recipe, view: View, thing: Thing, spots: Sequence[tuple[float, float]]
    ) -> SpotsOnThing | None:
        evidence = self._covers.evidence(recipe)
        field = self._strews.field(recipe, evidence)
        land = self._grounds.land(recipe.ground)
        return self._renderer.on_thing(land, recipe, self._store.stock, view, evidence, field, (thing.id, spots))

    def _stroke_on(self, recipe: Recipe, drawn: DrawnStroke, thing: Thing) -> ThingStroke | None:
        """Return a stroke on a thing that was drawn in a picture; None where it never met one of it.

        Raises
        ------
        RefusalError
            When the tool works on ground only.
        """
        if drawn.tool == "smooth":
            raise RefusalError("tool", "the one that smooths", "add or take, on a thing", "choose one of these")
        found = self._on_thing(drawn.seen(recipe), drawn.view(), thing, [spot[:2] for spot in drawn.spots])
        if found is None:
            return None
        pressure = np.array([min(max(drawn.spots[k][2], 0.0), 1.0) for k in found.spots])
        return ThingStroke(
            tool=drawn.tool,
            along=np.concatenate([found.part, pressure[:, None]], 1),
            radius=min(drawn.size_m / 2 / found.size_m, thing_paint.FURTHEST),
            soft=drawn.soft,
            strength=drawn.strength,
            flow=drawn.flow,
            variant=found.variant,
        )

    def point(
        self,
        recipe: Recipe,
        view: View,
        across: float,
        down: float,
        measured: Sequence[MeasureName] = (),
        ring_m: float | None = None,
        fit: bool = False,
        on_mask: str | None = None,
    ) -> Pointed:
        """Return the place under a spot of a picture (0..1 from left and top), and what was asked of it; a circle
        about it lies on the ground, or where ``on_mask`` is one of a thing's, faces the eye at that thing."""
        thing = thing_with(recipe, on_mask) if on_mask is not None else None
        land = self._grounds.land(recipe.ground)
        place = pointing.on_ground(land, recipe, view, [(across, down)])[0]
        if place is None:
            return Pointed(None, Rule(), None, None)
        spot = self._covers.place(recipe, *place, measured)
        at = spot.east_m, spot.north_m
        ring = None
        if ring_m is not None and thing is None:
            ring = pointing.ring(land, recipe, view, at, ring_m)
        elif ring_m is not None and thing is not None:
            met = self._on_thing(recipe, view, thing, [(across, down)])
            ring = on_surface.ring(pointing.camera_of(land, recipe, view), met.at[0], ring_m) if met else None
        rule = begin_layer.rule_at(spot.elevation_m, spot.slope_deg, land.ground.lowest_m, land.ground.highest_m)
        return Pointed(spot, rule, ring, self._fits.at(recipe, self._covers.at(recipe, *at)) if fit else None)

    def lines(self, recipe: Recipe, view: View, lines: Sequence[Line], preview: Preview | None = None) -> Lines:
        """Return where lines on the ground, metres east and north, lie in a picture."""
        land = self._grounds.land(recipe.ground, preview)
        curves = [list(map(tuple, through(np.array(line)).tolist())) for line in lines]
        return Lines(
            [pointing.in_picture(land, recipe, view, line) for line in lines],
            [pointing.in_picture(land, recipe, view, curve) for curve in curves],
        )
