"""How layers lie: repeats, the relief about the peg, the cut under a boot, and what the looking modes show."""

from __future__ import annotations

from dataclasses import asdict
from typing import Any, TypeVar

from flask import Blueprint, Response, jsonify
from pydantic import Field

from elvatch.core.cover.recipe import from_data
from elvatch.core.formats import png
from elvatch.core.picture import ramp
from elvatch.core.picture.modes import LEGENDS
from elvatch.core.refusal import RefusalError
from elvatch.web.answers import Body, body, camel
from elvatch.web.jobs import Latest
from elvatch.workshop import Workshop

T = TypeVar("T")


class _Layer(Body):
    recipe: dict[str, Any]
    layer: int = Field(ge=0, le=63)


class _Relief(Body):
    recipe: dict[str, Any]
    limit_m: float = Field(default=0.05, ge=0, le=100)


class _Cut(Body):
    recipe: dict[str, Any]
    bearing_deg: float = Field(default=90.0, ge=0, le=360)
    length_m: float = Field(default=3.0, gt=0.1, le=200)


def routes(workshop: Workshop, latest: Latest) -> Blueprint:
    """Return the routes about fit and relief."""
    fit = Blueprint("fit", __name__)

    @fit.post("/api/repetition")
    def repetition() -> Any:
        wanted = body(_Layer)
        recipe = from_data(wanted.recipe)
        if wanted.layer >= len(recipe.layers):
            raise RefusalError("layer", str(wanted.layer), f"0 to {len(recipe.layers) - 1}", "choose another")
        found = latest.newest("repetition", lambda token: workshop.fits.repetition(recipe, wanted.layer, token))
        return jsonify(camel(asdict(found)))

    @fit.post("/api/relief")
    def relief() -> Any:
        wanted = body(_Relief)
        recipe = from_data(wanted.recipe)
        found = latest.newest("relief", lambda token: workshop.fits.relief(recipe, wanted.limit_m, token))
        return jsonify(camel(asdict(found)))

    @fit.post("/api/boot-cut")
    def cut() -> Any:
        wanted = body(_Cut)
        recipe = from_data(wanted.recipe)
        found = latest.newest(
            "boot-cut", lambda token: workshop.fits.cut(recipe, wanted.bearing_deg, wanted.length_m, token)
        )
        return jsonify(
            distanceM=[round(float(v), 4) for v in found.distance_m],
            groundM=[round(float(v), 5) for v in found.ground_m],
            surfaceM=[round(float(v), 5) for v in found.surface_m],
            layer=found.layer.tolist(), standM=found.stand_m, pegAtM=found.peg_at_m,
        )  # fmt: skip

    @fit.get("/api/legends")
    def legends() -> Any:
        return jsonify({mode: asdict(legend) for mode, legend in LEGENDS.items()})

    @fit.get("/api/legends/<mode>.png")
    def strip(mode: str) -> Response:
        found = {str(name): legend for name, legend in LEGENDS.items()}.get(mode)
        if found is None:
            raise RefusalError("legend", repr(mode), "one of " + ", ".join(LEGENDS), "choose one of these")
        answer = Response(png.encode(ramp.strip(found.scale)), mimetype="image/png")
        answer.headers["Cache-Control"] = "private, max-age=86400"
        return answer

    return fit
