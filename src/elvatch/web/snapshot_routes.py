"""Snapshots of a site: kept, listed, shown again, taken out."""

from __future__ import annotations

from dataclasses import asdict
from typing import Any

from flask import Blueprint, jsonify
from pydantic import Field

from elvatch.web.answers import Body, body, camel
from elvatch.workshop import Workshop


class _Keep(Body):
    name: str = Field(max_length=200)


def routes(workshop: Workshop) -> Blueprint:
    """Return the routes under /api/sites/<site>/snapshots."""
    snapshot = Blueprint("snapshots", __name__)
    sites, snapshots = workshop.store.sites, workshop.store.snapshots

    def listed(site: str) -> Any:
        return jsonify([camel(asdict(one)) for one in snapshots.all(site)])

    @snapshot.get("/api/sites/<site>/snapshots")
    def all_of(site: str) -> Any:
        sites.state(site)
        return listed(site)

    @snapshot.post("/api/sites/<site>/snapshots")
    def keep(site: str) -> Any:
        snapshots.keep(site, body(_Keep).name, sites.state(site).recipe)
        return listed(site), 201

    @snapshot.get("/api/sites/<site>/snapshots/<id>")
    def one(site: str, id: str) -> Any:
        return jsonify(snapshots.recipe(site, id).model_dump(mode="json"))

    @snapshot.delete("/api/sites/<site>/snapshots/<id>")
    def remove(site: str, id: str) -> Any:
        snapshots.remove(site, id)
        return listed(site)

    return snapshot
