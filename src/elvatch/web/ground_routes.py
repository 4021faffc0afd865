"""The ground: shaping as a job, facts, maps of measures, histograms, cuts, single places."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any, Literal, TypeVar, get_args

from flask import Blueprint, Response, jsonify, request
from pydantic import Field

from elvatch.core.cover.mask import usual_sample_m
from elvatch.core.cover.recipe import ground_from_data
from elvatch.core.cover.sentence import WORDS
from elvatch.core.formats import photo, png
from elvatch.core.formats.limits import MOST_BYTES
from elvatch.core.formats.reading import Reading
from elvatch.core.ground import heights
from elvatch.core.ground.description import Ground
from elvatch.core.ground.measures import KINDS, MeasureName, Scale
from elvatch.core.parallel import Token
from elvatch.core.parts import ContentName
from elvatch.core.picture import ramp
from elvatch.core.picture.picture import Drape
from elvatch.core.refusal import RefusalError
from elvatch.core.run import Run
from elvatch.grounds import PREVIEW_SAMPLES
from elvatch.web.answers import Body, body
from elvatch.web.jobs import Jobs, Latest, job_json
from elvatch.workshop import Workshop

T = TypeVar("T")
_RELIEF_PX = 160
_AT_ONCE_S = 0.6


class _Ask(Body):
    ground: dict[str, Any]
    preview: bool = False

    def described(self) -> Ground:
        return ground_from_data(self.ground)

    @property
    def samples(self) -> int | None:
        return PREVIEW_SAMPLES if self.preview else None


class _Measure(_Ask):
    measure: MeasureName | Literal["image"] | None = None
    radius_m: float | None = Field(default=None, gt=0, le=20_000)


class _Map(_Measure):
    width_px: int = Field(ge=16, le=2048)
    height_px: int = Field(ge=16, le=2048)
    contour_m: float = Field(default=0.0, ge=0, le=5_000)


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


def _facts_json(file_name: str, name: str, file: heights.HeightFile) -> dict[str, object]:
    return {
        "file": name, "fileName": file_name, "format": file.format, "bits": file.bits, "kind": file.kind,
        "cols": file.cols, "rows": file.rows, "levels": file.levels, "step": file.step, "lowest": file.lowest,
        "highest": file.highest, "shareLowest": file.share_lowest, "shareHighest": file.share_highest,
        "holes": file.holes, "pages": file.pages, "channels": list(file.channels), "cellM": file.cell_m,
        "guesses": [
            {"raw": guess.layout.model_dump(), "confidence": guess.confidence} for guess in file.guesses
        ],
    }  # fmt: skip


def _plain_name(name: str | None) -> str:
    return " ".join((name or "heights").replace("\\", "/").split("/")[-1].split())[:80] or "heights"


def routes(workshop: Workshop, jobs: Jobs, latest: Latest) -> Blueprint:
    """Return the routes under /api/ground and /api/heights."""
    blueprint = Blueprint("ground", __name__)
    grounds = workshop.grounds

    def drape_of(ask: _Measure, token: Token | None = None) -> Drape | None:
        if ask.measure is None:
            return None
        if ask.measure == "image":
            return grounds.image_drape(ask.described())
        return grounds.drape(ask.described(), ask.measure, ask.radius_m, ask.samples, token)

    @blueprint.post("/api/heights")
    def bring_heights() -> Any:
        upload = request.files.get("file")
        if upload is None:
            raise RefusalError("upload", "no file", "a height file", "choose or drop one")
        name = _plain_name(upload.filename)
        return jsonify(_facts_json(name, *grounds.bring_file(name, upload.read(MOST_BYTES + 1))))

    @blueprint.post("/api/heights/look")
    def look() -> Any:
        wanted = body(_Look)
        file = grounds.height_file(wanted.file, wanted.file_name, wanted.reading)
        answer = _facts_json(wanted.file_name, wanted.file, file)
        size = (wanted.width_m, wanted.depth_m, wanted.lowest_m, wanted.highest_m)
        width, depth, low, high = size
        if width is not None and depth is not None and low is not None and high is not None and low < high:
            steepest, mean = grounds.steepness(file, (width, depth), (low, high))
            answer |= {"steepestDeg": steepest, "meanDeg": mean}
        return jsonify(answer)

    @blueprint.post("/api/heights/relief")
    def relief() -> Response:
        wanted = body(_Look)
        picture = grounds.relief_of_file(wanted.file, wanted.file_name, wanted.reading, _RELIEF_PX)
        return Response(picture, mimetype="image/png")

    @blueprint.post("/api/ground/image")
    def bring_image() -> Any:
        upload = request.files.get("file")
        if upload is None:
            raise RefusalError("upload", "no file", "a colour image", "choose or drop one")
        name = _plain_name(upload.filename)
        stored, size = grounds.bring_image(name, upload.read(photo.MOST_BYTES + 1))
        return jsonify(file=stored, fileName=name, widthPx=size[0], heightPx=size[1])

    @blueprint.get("/api/measures")
    def measures() -> Any:
        return jsonify(
            measures=[
                {"name": name, "title": kind.title, "unit": kind.unit, "scale": kind.scale, "about": kind.about,
                 "radiusM": kind.radius_m, "above": WORDS[name][0], "below": WORDS[name][1]}
                for name, kind in KINDS.items()
            ]
        )  # fmt: skip

    @blueprint.get("/api/ramps/<scale>.png")
    def legend(scale: str) -> Response:
        for known in get_args(Scale):
            if scale == known.replace(" ", "-"):
                answer = Response(png.encode(ramp.strip(known)), mimetype="image/png")
                answer.headers["Cache-Control"] = "private, max-age=86400"
                return answer
        raise RefusalError("ramp", repr(scale[:40]), "a scale of a measure", "choose one")

    @blueprint.post("/api/ground/shape")
    def shape() -> Any:
        ground = body(_Ask).described()

        def work(progress: Callable[[float], None], token: Token) -> dict[str, object]:
            grounds.land(ground, None, Run(token, progress))
            return {}

        job = jobs.start("shaping the ground", work)
        # what was shaped before is only read: the answer then says at once that it is done
        job.ended.wait(_AT_ONCE_S)
        return jsonify(job_json(job)), 202

    @blueprint.post("/api/ground/facts")
    def facts() -> Any:
        ask = body(_Ask)
        land = ask.described()
        found = latest.newest("ground/facts", lambda token: grounds.facts(land, ask.samples, Run(token)))
        return jsonify(
            rows=found.rows, cols=found.cols, cellXM=found.cell_x_m, cellYM=found.cell_y_m,
            lowestM=found.lowest_m, highestM=found.highest_m, steepestDeg=found.steepest_deg,
            meanDeg=found.mean_deg, shareLowest=found.share_lowest, shareHighest=found.share_highest,
            left=found.left, maskSampleM=usual_sample_m(land.width_m, land.depth_m),
        )  # fmt: skip

    @blueprint.post("/api/ground/map")
    def relief_map() -> Response:
        ask = body(_Map)

        def draw(token: Token) -> Response:
            drape = drape_of(ask, token)
            size = ask.width_px, ask.height_px
            made = grounds.map_png(ask.described(), size, ask.contour_m, drape, ask.samples, token)
            answer = Response(made, mimetype="image/png")
            if drape is not None and ask.measure != "image":
                answer.headers["X-Shown"] = f"{drape.low:.6g},{drape.high:.6g}"
            return answer

        return latest.newest("ground/map", draw)

    @blueprint.post("/api/ground/histogram")
    def histogram() -> Any:
        ask = body(_Measure)

        def count(token: Token) -> Any:
            drape = drape_of(ask, token)
            if drape is None or ask.measure == "image":
                raise RefusalError("measure", "none", "one to count", "choose one")
            found = grounds.histogram(drape)
            return jsonify(
                counts=found.counts.tolist(), low=found.low, high=found.high, shownLow=found.shown_low,
                shownHigh=found.shown_high, mean=found.mean, scale=drape.scale,
            )  # fmt: skip

        return latest.newest(f"ground/histogram/{ask.measure}", count)

    @blueprint.post("/api/ground/cut")
    def cut() -> Any:
        ask = body(_Cut)
        found = latest.newest(
            "ground/cut", lambda token: grounds.cut(ask.described(), ask.start, ask.end, ask.samples)
        )
        return jsonify(
            distanceM=[round(v, 3) for v in found.distance_m.tolist()],
            elevationM=[round(v, 3) for v in found.elevation_m.tolist()],
        )

    @blueprint.post("/api/ground/at")
    def at() -> Any:
        ask = body(_At)
        drape = None if ask.measure == "image" else drape_of(ask)
        elevation, value = grounds.at(ask.described(), ask.east_m, ask.north_m, drape, ask.samples)
        return jsonify(elevationM=elevation, value=value)

    return blueprint
