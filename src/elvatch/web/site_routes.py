"""Sites: the front door, a site's state, its edits, undo and redo, new sites."""

from __future__ import annotations

from typing import Any

from flask import Blueprint, jsonify
from pydantic import Field

from elvatch.core.cover.naming import renamed
from elvatch.core.cover.recipe import from_data, ground_from_data
from elvatch.core.parts import PartId
from elvatch.store.sites import ConflictError
from elvatch.web.answers import Body, Revision, body, state_json
from elvatch.workshop import Workshop


class _New(Body):
    title: str
    ground: dict[str, Any]


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


def routes(workshop: Workshop) -> Blueprint:
    """Return the routes under /api/sites."""
    site = Blueprint("sites", __name__)
    sites = workshop.store.sites

    @site.get("/api/sites")
    def all_sites() -> Any:
        return jsonify(
            sites=[
                {
                    "id": line.id, "title": line.title, "changedAt": line.changed_at, "revision": line.revision,
                    "widthM": line.recipe.ground.width_m, "depthM": line.recipe.ground.depth_m,
                    "layers": len(line.recipe.layers), "steps": len(line.recipe.ground.steps),
                }
                for line in sites.all()
            ]
        )  # fmt: skip

    @site.post("/api/sites")
    def new_site() -> Any:
        new = body(_New)
        ground = ground_from_data(new.ground)
        workshop.land(ground)  # refuses what cannot be read before anything is made
        return jsonify(state_json(sites.add(new.title, workshop.new_recipe(ground)))), 201

    @site.get("/api/sites/<site>")
    def one_site(site: str) -> Any:
        return jsonify(state_json(sites.state(site)))

    @site.put("/api/sites/<site>/recipe")
    def edit(site: str) -> Any:
        wanted = body(_Edit)
        return jsonify(state_json(sites.edit(site, wanted.base, wanted.label, from_data(wanted.recipe))))

    @site.post("/api/sites/<site>/undo")
    def undo(site: str) -> Any:
        return jsonify(state_json(sites.step(site, body(_Base).base, -1)))

    @site.post("/api/sites/<site>/redo")
    def redo(site: str) -> Any:
        return jsonify(state_json(sites.step(site, body(_Base).base, 1)))

    @site.put("/api/sites/<site>/title")
    def rename(site: str) -> Any:
        return jsonify(state_json(sites.rename(site, body(_Title).title)))

    @site.put("/api/sites/<site>/name")
    def rename_part(site: str) -> Any:
        wanted = body(_Named)
        state = sites.state(site)
        if state.revision != wanted.base:
            raise ConflictError(state)
        named = renamed(state.recipe, wanted.id, wanted.name)
        return jsonify(state_json(sites.edit(site, wanted.base, f"named {wanted.name.strip()}", named)))

    @site.post("/api/sites/<site>/duplicate")
    def duplicate(site: str) -> Any:
        state = sites.state(site)
        return jsonify(state_json(sites.add(f"{state.title[:70]}, copy", state.recipe, f"copied {state.title}"))), 201

    @site.delete("/api/sites/<site>")
    def remove(site: str) -> Any:
        sites.remove(site)
        return jsonify(removed=site)

    return site
