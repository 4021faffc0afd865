"""Pictures and what is read off them. All of it is a function of the recipe that is sent along."""

from __future__ import annotations

import time
from collections.abc import Callable
from typing import Any, Literal, TypeVar

from flask import Blueprint, Response, jsonify, request
from pydantic import Field

from elvatch.core.cover.recipe import Recipe, from_data
from elvatch.core.ground.measures import MeasureName
from elvatch.core.parallel import Token
from elvatch.core.picture.modes import Mode
from elvatch.core.picture.picture import Facts, StandName, View
from elvatch.grounds import PREVIEW_SAMPLES
from elvatch.web.answers import Body, body
from elvatch.web.jobs import Latest
from elvatch.workshop import Spot, Workshop

T = TypeVar("T")


class _Ask(Body):
    recipe: dict[str, Any]


class _Picture(_Ask):
    stand: StandName
    width_px: int = Field(ge=16, le=2048)
    height_px: int = Field(ge=16, le=2048)
    resting: bool = True
    mode: Mode = "lit"
    layer: int = -1
    preview: bool = False
    measure: MeasureName | Literal["image"] | None = None
    radius_m: float | None = Field(default=None, gt=0, le=20_000)

    def view(self) -> View:
        return View(self.stand, self.width_px, self.height_px, 4 if self.resting else 1, self.mode, self.layer)


class _Spot(_Picture):
    across: float = Field(ge=0, le=1)
    down: float = Field(ge=0, le=1)


class _Transect(_Ask):
    bearing_deg: float = Field(default=90.0, ge=0, le=360)


def _spot_json(spot: Spot | None) -> dict[str, object] | None:
    if spot is None:
        return None
    return {
        "eastM": spot.east_m, "northM": spot.north_m, "elevationM": spot.elevation_m,
        "slopeDeg": spot.slope_deg, "shares": spot.shares,
    }  # fmt: skip


def routes(workshop: Workshop, latest: Latest) -> Blueprint:
    """Return the routes for pictures, shares, transects and places pointed at."""
    picture = Blueprint("pictures", __name__)

    def newest(purpose: str, work: Callable[[Token], T]) -> T:
        """Run work that a newer request of the same window and purpose cancels."""
        return latest.run(f"{request.headers.get('X-Window', '')[:40]}/{purpose}", work)

    @picture.post("/api/picture")
    def take() -> Response:
        started = time.perf_counter()
        wanted = body(_Picture)
        recipe = from_data(wanted.recipe)
        samples = PREVIEW_SAMPLES if wanted.preview else None

        def make(token: Token) -> tuple[bytes, Facts]:
            drape = None
            if wanted.measure == "image":
                drape = workshop.grounds.image_drape(recipe.ground)
            elif wanted.measure is not None:
                drape = workshop.grounds.drape(recipe.ground, wanted.measure, wanted.radius_m, samples, token)
            return workshop.picture_png(recipe, wanted.view(), token, samples, drape)

        png, seen = newest(f"picture/{wanted.stand}", make)
        answer = Response(png, mimetype="image/png")
        answer.headers["X-Distance-M"] = f"{seen.distance_m:.3f}"
        answer.headers["X-Mm-Per-Pixel"] = f"{seen.mm_per_pixel:.3f}"
        if seen.peg is not None:
            answer.headers["X-Peg"] = f"{seen.peg[0]:.5f},{seen.peg[1]:.5f}"
        answer.headers["X-Server-Ms"] = f"{(time.perf_counter() - started) * 1000:.0f}"
        return answer

    @picture.get("/api/sites/<site>/far.png")
    def front_door(site: str) -> Response:
        state = workshop.store.sites.state(site)
        png, _ = workshop.picture_png(state.recipe, View("far", 384, 240))
        answer = Response(png, mimetype="image/png")
        answer.headers["Cache-Control"] = "private, max-age=31536000, immutable"
        return answer

    @picture.post("/api/cover-facts")
    def cover_facts() -> Any:
        recipe = from_data(body(_Ask).recipe)
        facts = newest("facts", lambda token: workshop.cover_facts(recipe, token))
        return jsonify(
            shares=facts.shares, reasons=facts.reasons, densities=facts.densities,
            chart=facts.chart.tolist(), steepestDeg=facts.steepest_deg, lowestM=facts.lowest_m,
            highestM=facts.highest_m,
        )  # fmt: skip

    @picture.post("/api/transect")
    def transect() -> Any:
        wanted = body(_Transect)
        recipe: Recipe = from_data(wanted.recipe)
        cut = workshop.transect(recipe, wanted.bearing_deg)
        return jsonify(
            distanceM=[round(float(v), 3) for v in cut.distance_m],
            elevationM=[round(float(v), 3) for v in cut.elevation_m],
            layer=cut.layer.tolist(), pegAtM=cut.peg_at_m,
        )  # fmt: skip

    @picture.post("/api/spot")
    def spot() -> Any:
        wanted = body(_Spot)
        return jsonify(
            spot=_spot_json(workshop.spot(from_data(wanted.recipe), wanted.view(), wanted.across, wanted.down))
        )

    return picture
