"""Wear: the kinds that are drawn, how new wear begins, what an overlay looks like, what a wear does, kept wear."""

from __future__ import annotations

from typing import Any, Literal

from flask import Response
from pydantic import Field

from elvatch.app.sites import Removed
from elvatch.app.wears import KeptWear, Told, WearKind, kinds
from elvatch.core.document import begin
from elvatch.core.document.wear import Source, Wear
from elvatch.core.parts import PartId
from elvatch.core.stock.overlay import Known
from elvatch.web.answers import Body, Routes, body
from elvatch.web.here import latest, recipe_of, shop

ROUTES = Routes("wear")


class _Begin(Body):
    """A new wear: of a drawn kind, of a set of the stock, or of kept wear; on a thing so large, or on the ground."""

    recipe: dict[str, Any]
    id: PartId
    of: Literal["kind", "set", "kept"]
    name: str = Field(max_length=80)
    on_thing_m: float | None = Field(default=None, gt=0, le=1_000)


class _Overlay(Body):
    source: Source
    px: int = Field(default=256, ge=32, le=1024)
    turned: bool = False
    quick: bool = False


class _Told(Body):
    """``thing`` is whose wear it is; None of the ground's."""

    recipe: dict[str, Any]
    wear: int = Field(ge=0, le=63)
    thing: PartId | None = None


class _Keep(Body):
    name: str = Field(min_length=1, max_length=80)
    wear: Wear


@ROUTES.get("/api/wear-kinds")
def all_kinds() -> list[WearKind]:
    return kinds()


@ROUTES.get("/api/wear-kinds/<what>.png")
def kind_picture(what: str) -> Response:
    answer = Response(shop().wears.kind_png(what), mimetype="image/png")
    answer.headers["Cache-Control"] = "private, max-age=86400"
    return answer


@ROUTES.post("/api/wear/begin")
def begun() -> Wear:
    wanted, wears = body(_Begin), shop().wears
    if wanted.of == "set":
        made = wears.of_set(wanted.id, wanted.name)
    else:
        make = wears.of_kind if wanted.of == "kind" else wears.of_preset
        made = make(recipe_of(wanted.recipe), wanted.id, wanted.name)
    return made if wanted.on_thing_m is None else begin.on_thing(made, wanted.on_thing_m)


@ROUTES.post("/api/overlay")
def known() -> Known:
    return shop().wears.sheets.known(body(_Overlay).source)


@ROUTES.post("/api/overlay.png")
def picture() -> Response:
    wanted = body(_Overlay)
    data = shop().wears.sheets.png(wanted.source, wanted.px, wanted.turned, wanted.quick)
    return Response(data, mimetype="image/png")


@ROUTES.post("/api/wear/told")
def told() -> Told:
    wanted = body(_Told)
    recipe, thing = recipe_of(wanted.recipe), wanted.thing
    if thing is not None:
        worn = shop().worn_things
        return latest().newest("wear", lambda token: worn.told(recipe, thing, wanted.wear, token))
    wears = shop().wears
    return latest().newest("wear", lambda token: wears.told(recipe, wanted.wear, token))


@ROUTES.get("/api/kept-wear")
def kept() -> list[KeptWear]:
    return shop().wears.kept()


@ROUTES.post("/api/kept-wear", 201)
def keep() -> KeptWear:
    wanted = body(_Keep)
    return shop().wears.keep(wanted.wear, wanted.name)


@ROUTES.delete("/api/kept-wear/<id>")
def let_go(id: str) -> Removed:
    shop().store.presets.remove(id)
    return Removed(id)
