"""Sites: the front door, a site's state, its edits, undo and redo, new sites from height files."""

from __future__ import annotations

from typing import Any

from flask import Blueprint, jsonify, request
from pydantic import Field

from elvatch.core.cover.recipe import ContentName, Ground, from_data
from elvatch.core.formats import heights
from elvatch.core.formats.limits import MOST_BYTES
from elvatch.core.refusal import RefusalError
from elvatch.web.answers import Body, body, state_json
from elvatch.workshop import Workshop


class _New(Body):
    title: str
    file: ContentName
    file_name: str = Field(min_length=1, max_length=80)
    width_m: float
    depth_m: float
    lowest_m: float
    highest_m: float


class _Edit(Body):
    base: int
    label: str = Field(max_length=200)
    recipe: dict[str, Any]


class _Base(Body):
    base: int


class _Title(Body):
    title: str


def _ground(new: _New) -> Ground:
    try:
        return Ground(**new.model_dump(exclude={"title"}))
    except ValueError:
        size = f"{new.width_m:g} x {new.depth_m:g} m, {new.lowest_m:g} to {new.highest_m:g} m"
        raise RefusalError(
            "true size",
            size,
            "lengths above 0 and at most 200 km, a highest above the lowest",
            "correct the numbers",
        ) from None


def routes(workshop: Workshop) -> Blueprint:
    """Return the routes under /api/sites and /api/heights."""
    site = Blueprint("sites", __name__)
    sites = workshop.store.sites

    @site.get("/api/sites")
    def all_sites() -> Any:
        return jsonify(
            sites=[
                {
                    "id": line.id, "title": line.title, "changedAt": line.changed_at, "revision": line.revision,
                    "widthM": line.recipe.ground.width_m, "depthM": line.recipe.ground.depth_m,
                    "lowestM": line.recipe.ground.lowest_m, "highestM": line.recipe.ground.highest_m,
                    "layers": len(line.recipe.layers),
                }
                for line in sites.all()
            ]
        )  # fmt: skip

    @site.post("/api/heights")
    def bring_heights() -> Any:
        upload = request.files.get("file")
        if upload is None:
            raise RefusalError("upload", "no file", "a height image", "choose or drop one")
        name = " ".join((upload.filename or "heights").replace("\\", "/").split("/")[-1].split())[:80] or "heights"
        data = upload.read(MOST_BYTES + 1)
        file = heights.read(name, data)
        return jsonify(
            file=workshop.store.files.put(data), fileName=name, format=file.format, bits=file.bits,
            cols=file.cols, rows=file.rows, levels=file.levels, lowest=file.lowest, highest=file.highest,
            shareLowest=file.share_lowest, shareHighest=file.share_highest,
        )  # fmt: skip

    @site.post("/api/sites")
    def new_site() -> Any:
        new = body(_New)
        ground = _ground(new)
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

    @site.post("/api/sites/<site>/duplicate")
    def duplicate(site: str) -> Any:
        state = sites.state(site)
        return jsonify(state_json(sites.add(f"{state.title[:70]}, copy", state.recipe, f"copied {state.title}"))), 201

    @site.delete("/api/sites/<site>")
    def remove(site: str) -> Any:
        sites.remove(site)
        return jsonify(removed=site)

    return site
