"""Things and strews: what is kept, pictures of things, models brought in, how many lie where, single ones picked."""

from __future__ import annotations

import json
import secrets
from typing import Any

from flask import Response, request
from pydantic import Field

from elvatch.app.sites import Removed
from elvatch.app.strews import FieldFacts, Picked, SetFast
from elvatch.app.things import BroughtIn, ThingLine
from elvatch.core.document.recipe import part_from_data
from elvatch.core.document.thing import Thing
from elvatch.core.formats.model_read import MOST_BYTES
from elvatch.core.parts import Part, PartId
from elvatch.core.picture.picture import StandName, View
from elvatch.core.refusal import RefusalError
from elvatch.core.thing.brought import UNITS, Up
from elvatch.web.answers import Body, Routes, body, image, uploaded
from elvatch.web.here import latest, preview_of, recipe_of, shop

ROUTES = Routes("things")
_MOST_TOLD = 4000
_PORTRAIT_PX = 330, 220


class _Thing(Body):
    thing: Thing


class _Portrait(_Thing):
    figure: bool = False


class _OfSite(Body):
    recipe: dict[str, Any]
    preview: bool = False


class _Spot(_OfSite):
    stand: StandName
    width_px: int = Field(ge=16, le=2048)
    height_px: int = Field(ge=16, le=2048)
    across: float = Field(ge=0, le=1)
    down: float = Field(ge=0, le=1)


class Corner(Part):
    """A corner of what a lasso took, metres."""

    east_m: float
    north_m: float


class _Lasso(_OfSite):
    strew: PartId
    corners: list[Corner] = Field(default_factory=list, max_length=400)


@ROUTES.get("/api/things")
def kept() -> list[ThingLine]:
    return shop().things.all()


@ROUTES.post("/api/things", 201)
def keep() -> ThingLine:
    return shop().things.keep(body(_Thing).thing)


@ROUTES.delete("/api/things/<id>")
def forget(id: str) -> Removed:
    shop().things.forget(id)
    return Removed(id)


@ROUTES.post("/api/things/bring", 201)
def bring() -> BroughtIn:
    name, data = uploaded("a model (GLB, glTF, OBJ, PLY, STL, or a zip of one)", MOST_BYTES)
    told_up, unit = request.form.get("up"), request.form.get("unit")
    up: Up | None = "y" if told_up == "y" else "z" if told_up == "z" else None
    if unit is not None and unit not in UNITS:
        raise RefusalError("unit", repr(unit[:12]), "one of " + ", ".join(UNITS), "choose one")
    return shop().things.bring(name, data, up, unit, secrets.token_hex(6))


@ROUTES.get("/api/things/models/<file>/texture/<int:number>.png")
def texture(file: str, number: int) -> Response:
    return image(shop().things.texture(file, number), keep=True)


@ROUTES.get("/api/things/portrait.png")
def portrait() -> Response:
    told = request.args.get("thing", "")
    if len(told) > _MOST_TOLD:
        raise RefusalError("thing", "a description that is too long", f"at most {_MOST_TOLD} letters", "shorten it")
    data = {"id": "shown", "name": "shown", "source": _json(told)}
    thing = part_from_data(Thing, "thing", data)
    return image(shop().things.portrait(thing, *_PORTRAIT_PX, figure=request.args.get("figure") == "yes"), keep=True)


@ROUTES.post("/api/things/portrait.png")
def portrait_in_cover() -> Response:
    wanted = body(_Portrait)
    return image(shop().things.portrait(wanted.thing, *_PORTRAIT_PX, figure=wanted.figure))


def _json(told: str) -> object:
    try:
        return json.loads(told)
    except (ValueError, RecursionError):
        raise RefusalError("thing", "text that is not JSON", "a thing's source", "send it as JSON") from None


@ROUTES.post("/api/strews/facts")
def facts() -> FieldFacts:
    wanted = body(_OfSite)
    recipe = recipe_of(wanted.recipe)
    preview = preview_of(wanted.recipe, wanted.preview, False)
    return latest().newest(
        "strews", lambda token: shop().strews.facts(recipe, shop().covers.evidence(recipe), preview)
    )


@ROUTES.post("/api/strews/pick")
def pick() -> Picked:
    wanted = body(_Spot)
    recipe = recipe_of(wanted.recipe)
    return shop().pictures.pick(
        recipe,
        View(wanted.stand, wanted.width_px, wanted.height_px),
        wanted.across,
        wanted.down,
        preview_of(wanted.recipe, wanted.preview, False),
    )


@ROUTES.post("/api/strews/fast")
def set_fast() -> SetFast:
    wanted = body(_Lasso)
    recipe = recipe_of(wanted.recipe)
    corners = [(one.east_m, one.north_m) for one in wanted.corners]
    return shop().strews.set_fast(recipe, shop().covers.evidence(recipe), wanted.strew, corners)
