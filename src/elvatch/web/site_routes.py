"""Sites: the front door, a site's state, its edits, undo and redo, new sites."""

from __future__ import annotations

from typing import Any

from pydantic import Field

from elvatch.app.sites import Removed, SiteLines
from elvatch.core.document.recipe import from_data, ground_from_data
from elvatch.core.parts import PartId
from elvatch.core.refusal import RefusalError
from elvatch.store.sites import SiteState
from elvatch.web.answers import Body, Revision, Routes, body
from elvatch.web.here import jobs, shop
from elvatch.web.jobs import JobState, state_of

ROUTES = Routes("sites")


class _New(Body):
    title: str
    ground: dict[str, Any]
    empty: bool = False


class _Edit(Body):
    base: Revision
    label: str = Field(max_length=200)
    recipe: dict[str, Any]


class _Base(Body):
    base: Revision


class _Named(Body):
    base: Revision
    id: PartId
    name: str = Field(max_length=200)


class _Title(Body):
    title: str


@ROUTES.get("/api/sites")
def all_sites() -> SiteLines:
    return shop().sites.lines()


@ROUTES.post("/api/sites", 201)
def new_site() -> SiteState:
    new = body(_New)
    return shop().sites.new(new.title, ground_from_data(new.ground), new.empty)


@ROUTES.post("/api/sites/sample", 202, makes=SiteState)
def sample_site() -> JobState:
    make = shop().sample_site
    if make is None:
        raise RefusalError("sample site", "none in this program", "one", "start it by “elvatch serve”")
    return state_of(jobs().start("laying out a site to learn from", make))


@ROUTES.get("/api/sites/<site>")
def one_site(site: str) -> SiteState:
    return shop().store.sites.state(site)


@ROUTES.put("/api/sites/<site>/recipe")
def edit(site: str) -> SiteState:
    wanted = body(_Edit)
    return shop().store.sites.edit(site, wanted.base, wanted.label, from_data(wanted.recipe))


@ROUTES.post("/api/sites/<site>/undo")
def undo(site: str) -> SiteState:
    return shop().store.sites.step(site, body(_Base).base, -1)


@ROUTES.post("/api/sites/<site>/redo")
def redo(site: str) -> SiteState:
    return shop().store.sites.step(site, body(_Base).base, 1)


@ROUTES.put("/api/sites/<site>/title")
def rename(site: str) -> SiteState:
    return shop().store.sites.rename(site, body(_Title).title)


@ROUTES.put("/api/sites/<site>/name")
def rename_part(site: str) -> SiteState:
    wanted = body(_Named)
    return shop().sites.name_part(site, wanted.base, wanted.id, wanted.name)


@ROUTES.post("/api/sites/<site>/duplicate", 201)
def duplicate(site: str) -> SiteState:
    return shop().sites.duplicate(site)


@ROUTES.delete("/api/sites/<site>")
def remove(site: str) -> Removed:
    shop().store.sites.remove(site)
    return Removed(site)
