"""Snapshots of a site: kept, listed, shown again, taken out."""

from __future__ import annotations

from pydantic import Field

from elvatch.core.document.recipe import Recipe
from elvatch.store.snapshots import Snapshot
from elvatch.web.answers import Body, Routes, body
from elvatch.web.here import shop

ROUTES = Routes("snapshots")


class _Keep(Body):
    name: str = Field(max_length=200)


@ROUTES.get("/api/sites/<site>/snapshots")
def all_of(site: str) -> list[Snapshot]:
    shop().store.sites.state(site)  # says so when there is none
    return shop().store.snapshots.all(site)


@ROUTES.post("/api/sites/<site>/snapshots", 201)
def keep(site: str) -> list[Snapshot]:
    store = shop().store
    store.snapshots.keep(site, body(_Keep).name, store.sites.state(site).recipe)
    return store.snapshots.all(site)


@ROUTES.get("/api/sites/<site>/snapshots/<id>")
def one(site: str, id: str) -> Recipe:
    return shop().store.snapshots.recipe(site, id)


@ROUTES.delete("/api/sites/<site>/snapshots/<id>")
def remove(site: str, id: str) -> list[Snapshot]:
    shop().store.snapshots.remove(site, id)
    return shop().store.snapshots.all(site)
