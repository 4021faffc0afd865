"""The hand-off: the sheet of files to come, the bake as a job, what landed where."""

from __future__ import annotations

from typing import Any

from flask import Response, send_file

from elvatch.app.handoffs import HandedOff, SheetLines
from elvatch.web.answers import Body, Routes, body
from elvatch.web.here import jobs, recipe_of, shop
from elvatch.web.jobs import JobState, state_of

ROUTES = Routes("handoff")


class _Ask(Body):
    recipe: dict[str, Any]


@ROUTES.post("/api/sites/<site>/sheet")
def sheet(site: str) -> SheetLines:
    title = shop().store.sites.state(site).title
    return SheetLines(shop().handoffs.sheet(title, recipe_of(body(_Ask).recipe)))


@ROUTES.post("/api/sites/<site>/bakes", 202, makes=HandedOff)
def start(site: str) -> JobState:
    handoffs, state = shop().handoffs, shop().store.sites.state(site)
    handoffs.check(state)
    return state_of(jobs().start(f"writing the maps of {state.title}", lambda run: handoffs.write(state, run)))


@ROUTES.get("/api/jobs/<job>")
def look(job: str) -> JobState:
    return state_of(jobs().get(job))


@ROUTES.delete("/api/jobs/<job>")
def cancel(job: str) -> JobState:
    found = jobs().get(job)
    found.token.cancel()
    return state_of(found)


@ROUTES.get("/api/handed-off/<folder>/<name>")
def file(folder: str, name: str) -> Response:
    return send_file(shop().handoffs.file(folder, name), as_attachment=True)
