"""The ground: shaping as a job, facts, maps of measures, histograms, cuts, single places."""

from __future__ import annotations

from typing import Any, Literal, get_args

from flask import Response
from pydantic import Field

from elvatch.app.grounds import (
    AtPlace,
    BroughtImage,
    Cut,
    GroundFacts,
    MeasureKinds,
    StepReady,
    measure_kinds,
)
from elvatch.app.height_files import HeightFacts
from elvatch.app.histogram import Histogram, of_drape
from elvatch.core.document.recipe import ground_from_data
from elvatch.core.formats import photo, png
from elvatch.core.formats.limits import MOST_BYTES
from elvatch.core.formats.reading import Reading
from elvatch.core.ground.description import Ground
from elvatch.core.ground.measures import MeasureName, Scale
from elvatch.core.ground.shaping import Preview
from elvatch.core.parallel import Token
from elvatch.core.parts import ContentName
from elvatch.core.picture import ramp
from elvatch.core.refusal import RefusalError
from elvatch.core.run import Run
from elvatch.web.answers import Body, Routes, body, uploaded
from elvatch.web.here import jobs, latest, preview_of, recipe_of, shop
from elvatch.web.jobs import JobState, state_of

ROUTES = Routes("ground")
_RELIEF_PX = 160
_AT_ONCE_S = 0.6


class _Ask(Body):
    ground: dict[str, Any]
    preview: bool = False

    def described(self) -> Ground:
        return ground_from_data(self.ground)

    def seen(self) -> Preview | None:
        return Preview() if self.preview else None


class _Measure(_Ask):
    measure: MeasureName | Literal["image"] | None = None
    radius_m: float | None = Field(default=None, gt=0, le=20_000)


class _Map(Body):
    """Of a recipe's ground; while a step of it moves, of what the hand makes of the kept one."""

    recipe: dict[str, Any]
    preview: bool = False
    moving: bool = False
    measure: MeasureName | Literal["image"] | None = None
    radius_m: float | None = Field(default=None, gt=0, le=20_000)
    width_px: int = Field(ge=16, le=2048)
    height_px: int = Field(ge=16, le=2048)
    contour_m: float = Field(default=0.0, ge=0, le=5_000)


class _Ready(Body):
    recipe: dict[str, Any]
    step: str = Field(max_length=40)


class _At(_Measure):
    east_m: float
    north_m: float


class _Cut(_Ask):
    start: tuple[float, float]
    end: tuple[float, float]


class _Look(Body):
    file: ContentName
    file_name: str = Field(min_length=1, max_length=80)
    reading: Reading = Reading()
    width_m: float | None = Field(default=None, gt=0, le=200_000)
    depth_m: float | None = Field(default=None, gt=0, le=200_000)
    lowest_m: float | None = None
    highest_m: float | None = None

    @property
    def size_m(self) -> tuple[float, float] | None:
        return (self.width_m, self.depth_m) if self.width_m is not None and self.depth_m is not None else None

    @property
    def range_m(self) -> tuple[float, float] | None:
        known = self.lowest_m is not None and self.highest_m is not None
        return (self.lowest_m, self.highest_m) if known else None  # type: ignore[return-value]


@ROUTES.post("/api/heights")
def bring_heights() -> HeightFacts:
    return shop().grounds.files.bring(*uploaded("a height file", MOST_BYTES))


@ROUTES.post("/api/heights/look")
def look() -> HeightFacts:
    wanted = body(_Look)
    return shop().grounds.files.look_at(wanted.file, wanted.file_name, wanted.reading, wanted.size_m, wanted.range_m)


@ROUTES.post("/api/heights/relief")
def relief() -> Response:
    wanted = body(_Look)
    picture = shop().grounds.files.relief(wanted.file, wanted.file_name, wanted.reading, _RELIEF_PX)
    return Response(picture, mimetype="image/png")


@ROUTES.post("/api/ground/image")
def bring_image() -> BroughtImage:
    return shop().grounds.bring_image(*uploaded("a colour image", photo.MOST_BYTES))


@ROUTES.get("/api/measures")
def measures() -> MeasureKinds:
    return measure_kinds()


@ROUTES.get("/api/ramps/<scale>.png")
def legend(scale: str) -> Response:
    for known in get_args(Scale):
        if scale == known.replace(" ", "-"):
            answer = Response(png.encode(ramp.strip(known)), mimetype="image/png")
            answer.headers["Cache-Control"] = "private, max-age=86400"
            return answer
    raise RefusalError("ramp", repr(scale[:40]), "a scale of a measure", "choose one")


@ROUTES.post("/api/ground/shape", 202)
def shape() -> JobState:
    grounds, ground = shop().grounds, body(_Ask).described()

    def work(run: Run) -> None:
        grounds.land(ground, None, run)

    job = jobs().start("shaping the ground", work)
    # what was shaped before is only read: the answer then says at once that it is done
    job.ended.wait(_AT_ONCE_S)
    return state_of(job)


@ROUTES.post("/api/ground/ready")
def make_ready() -> StepReady:
    grounds, ask = shop().grounds, body(_Ready)
    land = recipe_of(ask.recipe).ground
    return latest().newest("ground/ready", lambda token: grounds.make_ready(land, ask.step, Run(token)))


@ROUTES.post("/api/ground/facts")
def facts() -> GroundFacts:
    grounds, ask = shop().grounds, body(_Ask)
    land = ask.described()
    return latest().newest("ground/facts", lambda token: grounds.facts(land, ask.seen(), Run(token)))


@ROUTES.post("/api/ground/map")
def relief_map() -> Response:
    grounds, ask = shop().grounds, body(_Map)
    land, seen = recipe_of(ask.recipe).ground, preview_of(ask.recipe, ask.preview, ask.moving)

    def draw(token: Token) -> Response:
        drape = grounds.draped(land, ask.measure, ask.radius_m, seen, token)
        size = ask.width_px, ask.height_px
        made = grounds.map_png(land, size, ask.contour_m, drape, seen, token)
        answer = Response(made, mimetype="image/png")
        if drape is not None and ask.measure != "image":
            answer.headers["X-Shown"] = f"{drape.low:.6g},{drape.high:.6g}"
        return answer

    return latest().newest("ground/map", draw)


@ROUTES.post("/api/ground/histogram")
def histogram() -> Histogram:
    grounds, ask = shop().grounds, body(_Measure)
    land, measure = ask.described(), ask.measure
    if measure is None or measure == "image":
        raise RefusalError("measure", "none", "one to count", "choose one")
    return latest().newest(
        f"ground/histogram/{measure}",
        lambda token: of_drape(grounds.drape(land, measure, ask.radius_m, ask.seen(), token)),
    )


@ROUTES.post("/api/ground/cut")
def cut() -> Cut:
    grounds, ask = shop().grounds, body(_Cut)
    land = ask.described()
    return latest().newest("ground/cut", lambda token: grounds.cut(land, ask.start, ask.end, ask.seen()))


@ROUTES.post("/api/ground/at")
def at() -> AtPlace:
    grounds, ask = shop().grounds, body(_At)
    land = ask.described()
    drape = None if ask.measure == "image" else grounds.draped(land, ask.measure, ask.radius_m, ask.seen())
    return grounds.at(land, ask.east_m, ask.north_m, drape, ask.seen())
