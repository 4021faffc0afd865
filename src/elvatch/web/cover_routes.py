"""Where layers lie and why: shares, charts, clauses, places asked about, cuts; how they are fitted."""

from __future__ import annotations

from typing import Any

from flask import Response
from pydantic import Field

from elvatch.app.beginning import BegunLayer
from elvatch.app.covers import Chart, ClauseFacts, CoverFacts, Transect
from elvatch.app.fits import BootCut, ReliefFacts
from elvatch.app.workshop import Probe
from elvatch.core.cover.repetition import Repetition
from elvatch.core.document.recipe import askable, rule_from_data
from elvatch.core.formats import png
from elvatch.core.ground.measures import MeasureName
from elvatch.core.parts import ContentName, PartId
from elvatch.core.picture import ramp
from elvatch.core.picture.modes import LEGENDS, Legend
from elvatch.core.refusal import RefusalError
from elvatch.core.run import Run
from elvatch.web.answers import Body, Routes, body
from elvatch.web.here import latest, recipe_of, shop

ROUTES = Routes("covers")


class _Ask(Body):
    recipe: dict[str, Any]


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


class _Layer(_Ask):
    layer: int = Field(ge=0, le=63)


class _Begin(_Ask):
    """A layer of a set, to be laid on top."""

    id: PartId
    set: ContentName


class _Askable(_Ask):
    layer: PartId


class _Relief(_Ask):
    limit_m: float = Field(default=0.05, ge=0, le=100)


class _Cut(_Transect):
    length_m: float = Field(default=3.0, gt=0.1, le=200)


@ROUTES.post("/api/cover/begin")
def begun() -> BegunLayer:
    wanted = body(_Begin)
    return shop().beginning.layer(recipe_of(wanted.recipe), wanted.id, wanted.set)


@ROUTES.post("/api/cover-facts")
def cover_facts() -> CoverFacts:
    covers, recipe = shop().covers, recipe_of(body(_Ask).recipe)
    return latest().newest("facts", lambda token: covers.facts(recipe, token))


@ROUTES.post("/api/where-chart")
def chart() -> Chart:
    covers, wanted = shop().covers, body(_Chart)
    recipe = recipe_of(wanted.recipe)
    return latest().newest("chart", lambda token: covers.chart(recipe, wanted.across, wanted.up))


@ROUTES.post("/api/clause")
def clause() -> ClauseFacts:
    covers, wanted = shop().covers, body(_Clause)
    recipe, rule = recipe_of(wanted.recipe), rule_from_data({"clauses": wanted.clauses})
    return latest().newest(
        f"clause/{wanted.layer}", lambda token: covers.clause_facts(recipe, wanted.layer, rule, token)
    )


@ROUTES.post("/api/probe")
def probe() -> Probe:
    workshop, wanted = shop(), body(_Probe)
    recipe = recipe_of(wanted.recipe)
    return latest().newest("probe", lambda token: workshop.probe(recipe, wanted.east_m, wanted.north_m, Run(token)))


@ROUTES.post("/api/askable")
def askable_layers() -> list[str]:
    wanted = body(_Askable)
    recipe = recipe_of(wanted.recipe)
    return askable(recipe.layers, wanted.layer, recipe.strews)


@ROUTES.post("/api/transect")
def transect() -> Transect:
    wanted = body(_Transect)
    return shop().covers.transect(recipe_of(wanted.recipe), wanted.bearing_deg)


@ROUTES.post("/api/repetition")
def repetition() -> Repetition:
    fits, wanted = shop().fits, body(_Layer)
    recipe = recipe_of(wanted.recipe)
    return latest().newest("repetition", lambda token: fits.repetition(recipe, wanted.layer, token))


@ROUTES.post("/api/relief")
def relief() -> ReliefFacts:
    fits, wanted = shop().fits, body(_Relief)
    recipe = recipe_of(wanted.recipe)
    return latest().newest("relief", lambda token: fits.relief(recipe, wanted.limit_m, token))


@ROUTES.post("/api/boot-cut")
def boot_cut() -> BootCut:
    fits, wanted = shop().fits, body(_Cut)
    recipe = recipe_of(wanted.recipe)
    return latest().newest("boot-cut", lambda token: fits.cut(recipe, wanted.bearing_deg, wanted.length_m, token))


@ROUTES.get("/api/legends")
def legends() -> dict[str, Legend]:
    return {str(mode): legend for mode, legend in LEGENDS.items()}


@ROUTES.get("/api/legends/<mode>.png")
def strip(mode: str) -> Response:
    found = {str(name): legend for name, legend in LEGENDS.items()}.get(mode)
    if found is None:
        raise RefusalError("legend", repr(mode), "one of " + ", ".join(LEGENDS), "choose one of these")
    answer = Response(png.encode(ramp.strip(found.scale)), mimetype="image/png")
    answer.headers["Cache-Control"] = "private, max-age=86400"
    return answer
