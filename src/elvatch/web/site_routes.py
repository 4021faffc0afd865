"""Sites: the front door, a site's state, its edits, undo and redo, new sites."""

from __future__ import annotations

from typing import Any

from pydantic import Field

from elvatch.app.sites import KeptGrounds, Removed, SiteLines
from elvatch.core.document.recipe import from_data, ground_from_data
from elvatch.core.document.thing import Thing
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


class _OfThing(Body):
    thing: Thing


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


class _KeepGround(Body):
    name: str = Field(max_length=200)
    ground: dict[str, Any]


class _Under(Body):
    base: Revision
    ground: str = Field(max_length=40)


@ROUTES.get("/api/sites")
def all_sites() -> SiteLines:
    return shop().sites.lines()


@ROUTES.post("/api/sites", 201)
def new_site() -> SiteState:
    new = body(_New)
    return shop().sites.new(new.title, ground_from_data(new.ground), new.empty)


@ROUTES.post("/api/sites/of-thing", 201)
def site_of_thing() -> SiteState:
    return shop().sites.of_thing(body(_OfThing).thing)


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


@ROUTES.get("/api/kept-grounds")
def kept_grounds() -> KeptGrounds:
    return shop().sites.kept_grounds()


@ROUTES.post("/api/kept-grounds", 201)
def keep_ground() -> KeptGrounds:
    wanted = body(_KeepGround)
    return shop().sites.keep_ground(wanted.name, ground_from_data(wanted.ground))


@ROUTES.delete("/api/kept-grounds/<id>")
def forget_ground(id: str) -> KeptGrounds:
    return shop().sites.forget_ground(id)


@ROUTES.post("/api/kept-grounds/<id>/sites", 201)
def on_kept_ground(id: str) -> SiteState:
    return shop().sites.on_kept_ground(body(_Title).title, id)


@ROUTES.put("/api/sites/<site>/ground")
def lay_under(site: str) -> SiteState:
    wanted = body(_Under)
    return shop().sites.lay_under(site, wanted.base, wanted.ground)


@ROUTES.delete("/api/sites/<site>")
def remove(site: str) -> Removed:
    shop().store.sites.remove(site)
    return Removed(site)
