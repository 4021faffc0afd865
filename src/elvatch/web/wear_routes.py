"""Wear: the kinds that are drawn, how new wear begins, what an overlay looks like, what a wear does, kept wear."""

from __future__ import annotations

from dataclasses import asdict
from typing import Any, Literal

from flask import Blueprint, Response, jsonify
from pydantic import Field

from elvatch.core.cover.recipe import from_data
from elvatch.core.cover.wear import Source, Wear
from elvatch.core.parts import PartId
from elvatch.core.stock.overlays import OVERLAYS
from elvatch.store.presets import KeptPreset
from elvatch.web.answers import Body, body, camel
from elvatch.web.jobs import Latest
from elvatch.workshop import Workshop


class _Begin(Body):
    """A new wear: of a drawn kind, of a set of the stock, or of kept wear."""

    recipe: dict[str, Any]
    id: PartId
    of: Literal["kind", "set", "kept"]
    name: str = Field(max_length=80)


class _Overlay(Body):
    source: Source
    px: int = Field(default=256, ge=32, le=1024)
    turned: bool = False
    quick: bool = False


class _Told(Body):
    recipe: dict[str, Any]
    wear: int = Field(ge=0, le=63)


class _Keep(Body):
    name: str = Field(min_length=1, max_length=80)
    wear: Wear


def _kept_json(kept: KeptPreset) -> dict[str, object]:
    return {"id": kept.id, "name": kept.preset.name, "effects": kept.preset.laid.effects.model_dump(mode="json")}


def routes(workshop: Workshop, latest: Latest) -> Blueprint:
    """Return the routes about wear."""
    wear = Blueprint("wear", __name__)
    wears, presets = workshop.wears, workshop.store.presets

    @wear.get("/api/wear-kinds")
    def kinds() -> Any:
        return jsonify([
            {"what": what, "title": kind.title, "about": kind.about, "tileM": kind.tile_m, "follows": kind.follows,
             "controls": [control._asdict() for control in kind.controls]}
            for what, kind in OVERLAYS.items()
        ])  # fmt: skip

    @wear.get("/api/wear-kinds/<what>.png")
    def kind_picture(what: str) -> Response:
        answer = Response(wears.kind_png(what), mimetype="image/png")
        answer.headers["Cache-Control"] = "private, max-age=86400"
        return answer

    @wear.post("/api/wear/begin")
    def begun() -> Any:
        wanted = body(_Begin)
        if wanted.of == "set":
            made = wears.of_set(wanted.id, wanted.name)
        else:
            recipe = from_data(wanted.recipe)
            make = wears.of_kind if wanted.of == "kind" else wears.of_preset
            made = make(recipe, wanted.id, wanted.name)
        return jsonify(made.model_dump(mode="json"))

    @wear.post("/api/overlay")
    def known() -> Any:
        return jsonify(camel(asdict(wears.sheets.known(body(_Overlay).source))))

    @wear.post("/api/overlay.png")
    def picture() -> Response:
        wanted = body(_Overlay)
        data = wears.sheets.png(wanted.source, wanted.px, wanted.turned, wanted.quick)
        return Response(data, mimetype="image/png")

    @wear.post("/api/wear/told")
    def told() -> Any:
        wanted = body(_Told)
        recipe = from_data(wanted.recipe)
        found = latest.newest("wear", lambda token: wears.told(recipe, wanted.wear, token))
        depth = wears.depth(recipe, wanted.wear)
        limited = depth.reason if depth else None
        return jsonify(camel(asdict(found)) | {"limited": limited})

    @wear.get("/api/kept-wear")
    def kept() -> Any:
        return jsonify([_kept_json(one) for one in presets.all()])

    @wear.post("/api/kept-wear")
    def keep() -> Any:
        wanted = body(_Keep)
        return jsonify(_kept_json(wears.keep(wanted.wear, wanted.name))), 201

    @wear.delete("/api/kept-wear/<id>")
    def let_go(id: str) -> Any:
        presets.remove(id)
        return jsonify(removed=id)

    return wear
