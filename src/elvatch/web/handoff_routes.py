"""The hand-off: the sheet of files to come, the bake as a job, what landed where."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

from flask import Blueprint, Response, jsonify, send_file

from elvatch.core.cover.recipe import from_data
from elvatch.core.parallel import Token
from elvatch.core.refusal import RefusalError
from elvatch.web.answers import Body, body
from elvatch.web.jobs import Jobs, job_json
from elvatch.workshop import Workshop


class _Ask(Body):
    recipe: dict[str, Any]


def routes(workshop: Workshop, jobs: Jobs) -> Blueprint:
    """Return the routes for hand-off sheets, bakes and jobs."""
    handoff = Blueprint("handoff", __name__)

    @handoff.post("/api/sites/<site>/sheet")
    def sheet(site: str) -> Any:
        state = workshop.store.sites.state(site)
        files = workshop.sheet(state.title, from_data(body(_Ask).recipe))
        return jsonify(
            files=[
                {"name": f.name, "map": f.map, "widthPx": f.width_px, "heightPx": f.height_px,
                 "channels": f.channels, "bits": f.bits, "meaning": f.meaning}
                for f in files
            ]
        )  # fmt: skip

    @handoff.post("/api/sites/<site>/bakes")
    def start(site: str) -> Any:
        state = workshop.store.sites.state(site)
        hand_off = state.recipe.hand_off
        if not hand_off.maps and not hand_off.measures:
            raise RefusalError("hand-off sheet", "no maps", "at least one", "choose the maps to write")

        def work(progress: Callable[[float], None], token: Token) -> dict[str, object]:
            return workshop.hand_off(state, progress, token)

        return jsonify(job_json(jobs.start(f"writing the maps of {state.title}", work))), 202

    @handoff.get("/api/jobs/<job>")
    def job(job: str) -> Any:
        return jsonify(job_json(jobs.get(job)))

    @handoff.delete("/api/jobs/<job>")
    def cancel(job: str) -> Any:
        found = jobs.get(job)
        found.token.cancel()
        return jsonify(job_json(found))

    @handoff.get("/api/handed-off/<folder>/<name>")
    def file(folder: str, name: str) -> Response:
        return send_file(workshop.handed_off(folder, name), as_attachment=True)

    return handoff
