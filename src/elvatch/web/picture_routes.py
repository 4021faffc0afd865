"""Pictures and what is read off them. All of it is a function of the recipe that is sent along."""

from __future__ import annotations

import time
from dataclasses import asdict
from typing import Annotated, Any, Literal, TypeVar

import numpy as np
from flask import Blueprint, Response, jsonify
from pydantic import Field

from elvatch.core.clauses import between
from elvatch.core.cover.marks import Brush, MaskStroke, StrokeAt
from elvatch.core.cover.mask import Mask
from elvatch.core.cover.recipe import Peg, Recipe, Stand, from_data, rule_from_data
from elvatch.core.cover.rule import Rule, on
from elvatch.core.curve import through
from elvatch.core.ground.measures import NAMES, MeasureName
from elvatch.core.parallel import Token
from elvatch.core.parts import PartId
from elvatch.core.picture import pointing
from elvatch.core.picture.modes import Mode
from elvatch.core.picture.picture import Facts, StandName, View
from elvatch.core.run import Run
from elvatch.covers import Spot
from elvatch.grounds import PREVIEW_SAMPLES
from elvatch.store.sites import ConflictError
from elvatch.web.answers import Body, Revision, body, camel, state_json
from elvatch.web.jobs import Latest
from elvatch.workshop import Workshop

T = TypeVar("T")


class _Ask(Body):
    recipe: dict[str, Any]


class _Drawn(Body):
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
    spots: list[tuple[float, float, float]] = Field(min_length=1, max_length=1200)


class _Brushed(Body):
    """A part of the where-chart: two measures and their ends."""

    across: MeasureName
    up: MeasureName
    across_from: float
    across_to: float
    up_from: float
    up_to: float

    def rule(self) -> Rule:
        ends = ((self.across, self.across_from, self.across_to), (self.up, self.up_from, self.up_to))
        return Rule(clauses=tuple(on(between(name, min(a, b), max(a, b), 0.0, 0.0)) for name, a, b in ends))


class _Picture(_Ask):
    stand: StandName
    width_px: int = Field(ge=16, le=2048)
    height_px: int = Field(ge=16, le=2048)
    resting: bool = True
    mode: Mode = "lit"
    layer: int = -1
    solo: int = -1
    wear: int = -1
    preview: bool = False
    drawn: _Drawn | None = None
    brushed: _Brushed | None = None
    measure: MeasureName | Literal["image"] | None = None
    radius_m: float | None = Field(default=None, gt=0, le=20_000)

    def view(self) -> View:
        return View(self.stand, self.width_px, self.height_px, 4 if self.resting else 1, self.mode, self.layer,
                    self.solo, self.wear)  # fmt: skip


class _Spot(_Picture):
    across: float = Field(ge=0, le=1)
    down: float = Field(ge=0, le=1)
    measures: list[MeasureName] = Field(default_factory=list, max_length=13)
    ring_m: float | None = Field(default=None, gt=0, le=4_000)
    fit: bool = False


class _Lines(_Picture):
    lines: list[Annotated[list[tuple[float, float]], Field(min_length=2, max_length=400)]] = Field(max_length=64)


class _Paint(Body):
    base: Revision
    stroke: _Drawn


class _Probe(_Ask):
    east_m: float
    north_m: float


class _Chart(_Ask):
    across: MeasureName = "slope"
    up: MeasureName = "elevation"


class _Clause(_Ask):
    layer: int = -1
    clauses: list[dict[str, Any]] = Field(max_length=16)


class _Transect(_Ask):
    bearing_deg: float = Field(default=90.0, ge=0, le=360)


def _spot_json(spot: Spot | None) -> dict[str, object] | None:
    if spot is None:
        return None
    return {
        "eastM": spot.east_m, "northM": spot.north_m, "elevationM": spot.elevation_m,
        "slopeDeg": spot.slope_deg, "measures": spot.measures,
    }  # fmt: skip


def stroke_of(workshop: Workshop, recipe: Recipe, drawn: _Drawn) -> MaskStroke | None:
    """Return a stroke on the ground that was drawn in a picture; None where it never met the ground."""
    land = workshop.land(recipe.ground)
    view = View(drawn.stand, drawn.width_px, drawn.height_px)
    stands = recipe.stands.model_copy(update={drawn.stand: drawn.looked_from})
    seen = recipe.model_copy(update={"stands": stands, "peg": drawn.peg})
    places = pointing.on_ground(land, seen, view, [(across, down) for across, down, _ in drawn.spots])
    points = tuple(
        StrokeAt(east_m=place[0], north_m=place[1], pressure=min(max(spot[2], 0.0), 1.0))
        for place, spot in zip(places, drawn.spots, strict=True)
        if place is not None
    )
    if not points:
        return None
    return MaskStroke(
        tool=drawn.tool, size_m=drawn.size_m, strength=drawn.strength, soft=drawn.soft, flow=drawn.flow, points=points
    )  # fmt: skip


def routes(workshop: Workshop, latest: Latest) -> Blueprint:
    """Return the routes for pictures, shares, transects and places pointed at."""
    picture = Blueprint("pictures", __name__)

    @picture.post("/api/picture")
    def take() -> Response:
        started = time.perf_counter()
        wanted = body(_Picture)
        recipe = from_data(wanted.recipe)
        samples = PREVIEW_SAMPLES if wanted.preview else None

        def make(token: Token) -> tuple[bytes, Facts]:
            drape = None
            if wanted.measure == "image":
                drape = workshop.grounds.image_drape(recipe.ground)
            elif wanted.measure is not None:
                drape = workshop.grounds.drape(recipe.ground, wanted.measure, wanted.radius_m, samples, token)
            painted: dict[str, Mask] = {}
            if wanted.drawn is not None:
                stroke = stroke_of(workshop, recipe, wanted.drawn)
                if stroke is not None:
                    id = wanted.drawn.mask
                    painted[id] = workshop.markings.painted(recipe, id, stroke, token)
            marked = wanted.brushed.rule() if wanted.brushed else None
            return workshop.picture_png(recipe, wanted.view(), token, samples, drape, painted, marked)

        png, seen = latest.newest(f"picture/{wanted.stand}", make)
        answer = Response(png, mimetype="image/png")
        answer.headers["X-Distance-M"] = f"{seen.distance_m:.3f}"
        answer.headers["X-Mm-Per-Pixel"] = f"{seen.mm_per_pixel:.3f}"
        if seen.peg is not None:
            answer.headers["X-Peg"] = f"{seen.peg[0]:.5f},{seen.peg[1]:.5f}"
        answer.headers["X-Server-Ms"] = f"{(time.perf_counter() - started) * 1000:.0f}"
        return answer

    @picture.get("/api/sites/<site>/far.png")
    def front_door(site: str) -> Response:
        state = workshop.store.sites.state(site)
        png, _ = workshop.picture_png(state.recipe, View("far", 384, 240))
        answer = Response(png, mimetype="image/png")
        answer.headers["Cache-Control"] = "private, max-age=31536000, immutable"
        return answer

    @picture.post("/api/cover-facts")
    def cover_facts() -> Any:
        recipe = from_data(body(_Ask).recipe)
        facts = latest.newest("facts", lambda token: workshop.covers.facts(recipe, token))
        return jsonify(
            shares=facts.shares, reasons=facts.reasons, densities=facts.densities,
            enough=workshop.fits.enough_px(recipe),
        )  # fmt: skip

    @picture.post("/api/where-chart")
    def chart() -> Any:
        wanted = body(_Chart)
        recipe = from_data(wanted.recipe)
        found = latest.newest("chart", lambda token: workshop.covers.chart(recipe, wanted.across, wanted.up))
        return jsonify(
            counts=found.counts.tolist(), acrossEdges=found.across_edges.tolist(), upEdges=found.up_edges.tolist()
        )

    @picture.post("/api/clause")
    def clause() -> Any:
        wanted = body(_Clause)
        recipe = from_data(wanted.recipe)
        rule = rule_from_data({"clauses": wanted.clauses})
        found = latest.newest(
            f"clause/{wanted.layer}", lambda token: workshop.covers.clause_facts(recipe, wanted.layer, rule, token)
        )
        return jsonify(
            share=found.share, counts=None if found.counts is None else found.counts.tolist(),
            edges=None if found.edges is None else found.edges.tolist(),
        )  # fmt: skip

    @picture.post("/api/probe")
    def probe() -> Any:
        wanted = body(_Probe)
        recipe = from_data(wanted.recipe)

        def look(token: Token) -> Any:
            at = wanted.east_m, wanted.north_m
            spot = workshop.covers.place(recipe, *at, NAMES, Run(token))
            told = workshop.covers.account(recipe, *at)
            return jsonify(
                spot=_spot_json(spot),
                shares=workshop.covers.shares(recipe, *at),
                account=[asdict(one) for one in told],
                fit=camel(asdict(workshop.fits.at(recipe, workshop.covers.at(recipe, *at)))),
                wear=[camel(asdict(one)) for one in workshop.wears.at(recipe, workshop.covers.at(recipe, *at))],
            )

        return latest.newest("probe", look)

    @picture.post("/api/lines")
    def lines() -> Any:
        wanted = body(_Lines)
        recipe = from_data(wanted.recipe)
        land = workshop.land(recipe.ground, PREVIEW_SAMPLES if wanted.preview else None)
        seen = [pointing.in_picture(land, recipe, wanted.view(), line) for line in wanted.lines]
        curves = [
            pointing.in_picture(land, recipe, wanted.view(), list(map(tuple, through(np.array(line)).tolist())))
            for line in wanted.lines
        ]
        return jsonify(lines=seen, curves=curves)

    @picture.post("/api/sites/<site>/paint")
    def paint(site: str) -> Any:
        wanted = body(_Paint)
        state = workshop.store.sites.state(site)
        if state.revision != wanted.base:
            raise ConflictError(state)
        stroke = stroke_of(workshop, state.recipe, wanted.stroke)
        if stroke is None:
            return jsonify(state_json(state))
        return jsonify(state_json(workshop.markings.paint(state, wanted.base, wanted.stroke.mask, stroke)))

    @picture.post("/api/transect")
    def transect() -> Any:
        wanted = body(_Transect)
        recipe: Recipe = from_data(wanted.recipe)
        cut = workshop.covers.transect(recipe, wanted.bearing_deg)
        return jsonify(
            distanceM=[round(float(v), 3) for v in cut.distance_m],
            elevationM=[round(float(v), 3) for v in cut.elevation_m],
            layer=cut.layer.tolist(), pegAtM=cut.peg_at_m,
        )  # fmt: skip

    @picture.post("/api/spot")
    def spot() -> Any:
        wanted = body(_Spot)
        recipe, view = from_data(wanted.recipe), wanted.view()
        found = workshop.spot(recipe, view, wanted.across, wanted.down, wanted.measures)
        ring = None
        if found is not None and wanted.ring_m is not None:
            at = found.east_m, found.north_m
            ring = pointing.ring(workshop.land(recipe.ground), recipe, view, at, wanted.ring_m)
        fit = None
        if found is not None and wanted.fit:
            fit = workshop.fits.at(recipe, workshop.covers.at(recipe, found.east_m, found.north_m))
        return jsonify(spot=_spot_json(found), ring=ring, fit=camel(asdict(fit)) if fit else None)

    return picture
