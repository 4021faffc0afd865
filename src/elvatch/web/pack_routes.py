"""Whole sites: taken out as one file, looked through when one is brought, opened."""

from __future__ import annotations

from flask import Response, request, send_file

from elvatch.app.packs import PackFacts
from elvatch.app.sites import Removed
from elvatch.core.refusal import RefusalError
from elvatch.store.sites import SiteState
from elvatch.web.answers import Routes
from elvatch.web.here import jobs, shop
from elvatch.web.jobs import JobState, state_of

ROUTES = Routes("packs")


@ROUTES.get("/api/sites/<site>/pack")
def take_out(site: str) -> Response:
    state = shop().store.sites.state(site)
    path = shop().packs.packed(state)
    return send_file(path, as_attachment=True, download_name=shop().packs.file_name(state))


@ROUTES.post("/api/packs", 201)
def bring() -> PackFacts:
    file = request.files.get("file")
    if file is None:
        raise RefusalError("the pack", "no file", "a packed site", "choose a file")
    return shop().packs.bring(file.stream)


@ROUTES.post("/api/packs/<pack>/open", 202, makes=SiteState)
def open_pack(pack: str) -> JobState:
    packs = shop().packs
    path = packs.brought(pack)
    return state_of(jobs().start("opening a packed site", lambda run: packs.open_brought(path, run)))


@ROUTES.delete("/api/packs/<pack>")
def let_go(pack: str) -> Removed:
    shop().packs.brought(pack).unlink(missing_ok=True)
    return Removed(pack)
