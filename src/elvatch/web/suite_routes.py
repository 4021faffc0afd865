"""Suites of layers: kept, laid, taken out as files and brought in."""

from __future__ import annotations

import io
from typing import Any

from flask import Response, request, send_file
from pydantic import Field

from elvatch.app.sites import Removed
from elvatch.app.suites import SuiteLaid, SuiteLine
from elvatch.core.document.suite import How
from elvatch.core.parts import PartId
from elvatch.core.refusal import RefusalError
from elvatch.web.answers import Body, Routes, body
from elvatch.web.here import jobs, recipe_of, shop
from elvatch.web.jobs import JobState, state_of

ROUTES = Routes("suites")


class _Keep(Body):
    recipe: dict[str, Any]
    layers: list[PartId] = Field(min_length=1, max_length=256)
    name: str = Field(min_length=1, max_length=80)
    of_site: str = Field(default="", max_length=200)


class _Lay(Body):
    recipe: dict[str, Any]
    above: PartId | None = None
    how: How = "limits"


@ROUTES.get("/api/suites")
def kept() -> list[SuiteLine]:
    return shop().suites.all()


@ROUTES.post("/api/suites", 201)
def keep() -> SuiteLine:
    wanted = body(_Keep)
    return shop().suites.keep(recipe_of(wanted.recipe), list(wanted.layers), wanted.name, wanted.of_site)


@ROUTES.post("/api/suites/brought", 202, makes=SuiteLine)
def bring() -> JobState:
    file = request.files.get("file")
    if file is None:
        raise RefusalError("the suite", "no file", "a packed suite", "choose a file")
    suites = shop().suites
    brought = suites.look(file.stream)
    return state_of(jobs().start("bringing in a suite", lambda run: suites.bring(brought, run)))


@ROUTES.post("/api/suites/<suite>/lay")
def lay(suite: str) -> SuiteLaid:
    wanted = body(_Lay)
    return shop().suites.lay(recipe_of(wanted.recipe), suite, wanted.above, wanted.how)


@ROUTES.get("/api/suites/<suite>/pack")
def take_out(suite: str) -> Response:
    name, data = shop().suites.packed(suite)
    return send_file(io.BytesIO(data), mimetype="application/zip", as_attachment=True, download_name=name)


@ROUTES.delete("/api/suites/<suite>")
def let_go(suite: str) -> Removed:
    shop().suites.forget(suite)
    return Removed(suite)
