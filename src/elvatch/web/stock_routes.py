"""The stock: the wall of sets, one set laid out, its history, its mending, sets that are made."""

from __future__ import annotations

import io
from typing import Annotated, Any

from flask import Blueprint, Response, jsonify, request, send_file
from pydantic import Field

from elvatch.core.formats import png
from elvatch.core.parallel import Token
from elvatch.core.picture.sample import SampleView, finest_pixel_m
from elvatch.core.refusal import RefusalError
from elvatch.core.run import Run
from elvatch.core.stock import generators
from elvatch.core.stock.description import SetDescription
from elvatch.core.stock.mend.ask import MendAsk
from elvatch.core.stock.roles import ROLES
from elvatch.sets import Into
from elvatch.store.stock import SetState
from elvatch.store.wall import SORTS, Wish
from elvatch.web.answers import Body, Revision, body, camel, window
from elvatch.web.jobs import Jobs, Latest, Progress, job_json
from elvatch.workshop import Workshop


class Base(Body):
    """Says which revision a change was made on."""

    base: Revision


class _Describe(Base):
    label: str = Field(max_length=120)
    description: SetDescription


class _Mend(Base):
    ask: MendAsk


class _Aside(Body):
    aside: bool


class _Preview(Body):
    kind: str = Field(max_length=40)
    seed: int = Field(ge=0, le=1_000_000)
    controls: dict[Annotated[str, Field(max_length=40)], float] = Field(default_factory=dict, max_length=20)


class _Make(_Preview):
    size_px: int
    into: str | None = Field(default=None, max_length=40)
    base: Revision = 0


class SampleAsk(Body):
    """How a sample is to be shown."""

    width_px: int = Field(ge=32, le=2048)
    height_px: int = Field(ge=32, le=2048)
    across_m: float = Field(default=2.0, ge=0.02, le=400)
    sun_bearing_deg: float = Field(default=315, ge=0, le=360)
    sun_height_deg: float = Field(default=32, ge=2, le=90)
    bearing_deg: float = Field(default=350, ge=0, le=360)
    tilt_deg: float = Field(default=50, ge=5, le=89)
    figure: bool = False
    resting: bool = True

    def view(self) -> SampleView:
        """Return it as the core takes it."""
        return SampleView(
            self.width_px, self.height_px, self.across_m, self.sun_bearing_deg, self.sun_height_deg,
            self.bearing_deg, self.tilt_deg, self.figure, 4 if self.resting else 1,
        )  # fmt: skip


def image(data: bytes, keep: bool = False, kind: str = "image/png") -> Response:
    """Return an image; one whose address names its content may be kept."""
    answer = Response(data, mimetype=kind)
    answer.headers["Cache-Control"] = "private, max-age=31536000, immutable" if keep else "no-store"
    return answer


def routes(workshop: Workshop, jobs: Jobs, latest: Latest) -> Blueprint:
    """Return the routes under /api/stock and /api/sets."""
    stock = Blueprint("stock", __name__)
    store, sets = workshop.store, workshop.sets

    def answer(state: SetState) -> Any:
        return jsonify(camel(_state_json(state, workshop)))

    @stock.get("/api/stock")
    def wall() -> Any:
        found = store.wall.find(_wish())
        return jsonify(
            sets=[camel(vars(line)) for line in found.lines], total=found.total, categories=found.categories,
            tones=found.tones, collections=found.collections, finestPixelM=_finest(workshop),
        )  # fmt: skip

    @stock.get("/api/generators")
    def kinds() -> Any:
        return jsonify(
            sizes=generators.SIZES,
            generators=[
                {"kind": kind, "title": one.title, "category": one.category, "tileM": one.tile_m,
                 "controls": [control._asdict() for control in one.controls]}
                for kind, one in generators.GENERATORS.items()
            ],
        )  # fmt: skip

    @stock.post("/api/generators/preview")
    def preview() -> Response:
        wanted = body(_Preview)
        purpose = f"{window()}/generator"
        return image(
            latest.run(purpose, lambda token: sets.preview(wanted.kind, wanted.seed, wanted.controls, token))
        )

    @stock.get("/api/sets/<name>")
    def one(name: str) -> Any:
        return answer(store.stock.state(name))

    @stock.get("/api/sets/<name>/swatch.png")
    def swatch(name: str) -> Response:
        return image(store.files.get(store.stock.state(name).swatch), keep="content" in request.args)

    @stock.get("/api/sets/<name>/map/<role>.png")
    def one_map(name: str, role: str) -> Response:
        size = request.args.get("px", "256")
        if role not in ROLES or not (size.isascii() and size.isdigit() and len(size) <= 6):
            raise RefusalError("map", f"{role[:20]!r} at {size[:8]!r} px", "a role and a size", "correct it")
        data = sets.map_png(name, ROLES[ROLES.index(role)], max(16, min(int(size), 2048)))
        return image(data, keep="content" in request.args)

    @stock.post("/api/sets/<name>/sample")
    def sample(name: str) -> Response:
        wanted = body(SampleAsk)
        purpose = f"{window()}/sample"
        store.stock.state(name)  # says so when there is none

        def take(token: Token) -> bytes:
            return png.encode(sets.samples.picture(store.stock[name], wanted.view(), token))

        return image(latest.run(purpose, take))

    @stock.put("/api/sets/<name>")
    def describe(name: str) -> Any:
        wanted = body(_Describe)
        return answer(sets.describe(name, wanted.base, wanted.label, wanted.description))

    @stock.post("/api/sets/<name>/undo")
    def undo(name: str) -> Any:
        return answer(store.stock.step(name, body(Base).base, -1))

    @stock.post("/api/sets/<name>/redo")
    def redo(name: str) -> Any:
        return answer(store.stock.step(name, body(Base).base, 1))

    @stock.post("/api/sets/<name>/aside")
    def aside(name: str) -> Any:
        return answer(store.stock.set_aside(name, body(_Aside).aside))

    @stock.delete("/api/sets/<name>")
    def remove(name: str) -> Any:
        store.stock.remove(name)
        return jsonify(removed=name)

    @stock.get("/api/sets/<name>/out.zip")
    def out(name: str) -> Response:
        file_name, data = sets.take_out(name)
        return send_file(io.BytesIO(data), "application/zip", as_attachment=True, download_name=file_name)

    @stock.post("/api/sets/<name>/mend")
    def mend(name: str) -> Any:
        wanted = body(_Mend)
        before = store.stock.state(name)

        def work(progress: Progress, token: Token) -> dict[str, object]:
            after = sets.mend(name, wanted.base, wanted.ask, Run(token, progress))
            return {
                "set": name,
                "label": after.undo,
                "seam_before": before.facts.seam,
                "seam_after": after.facts.seam,
            }

        return jsonify(job_json(jobs.start(f"mending {before.description.title}", work))), 202

    @stock.post("/api/sets/make")
    def make() -> Any:
        wanted = body(_Make)
        into = Into(wanted.into, wanted.base) if wanted.into else None
        generators.check(wanted.kind, wanted.size_px, wanted.controls)

        def work(progress: Progress, token: Token) -> dict[str, object]:
            run = Run(token, progress)
            return {"set": sets.make(wanted.kind, wanted.size_px, wanted.seed, wanted.controls, run, into)}

        title = generators.GENERATORS[wanted.kind].title
        return jsonify(job_json(jobs.start(f"making {title}", work))), 202

    return stock


def _wish() -> Wish:
    """Return what this request's address asks for; what it has wrong does not limit."""
    ask = request.args
    sort = ask.get("sort", "title")
    least = ask.get("least_px", "0")
    return Wish(
        text=ask.get("text", "")[:200], category=ask.get("category") or None,
        roles=tuple(role for role in ask.getlist("role") if role in ROLES),
        least_px=int(least) if least.isascii() and least.isdigit() and len(least) < 7 else 0,
        seam={"seamless": "seamless", "shows": "shows"}.get(ask.get("seam", "")),  # type: ignore[arg-type]
        tone=ask.get("tone") or None, collection=ask.get("collection") or None, aside=ask.get("aside") == "1",
        sort=SORTS[SORTS.index(sort)] if sort in SORTS else "title",
    )  # fmt: skip


def _finest(workshop: Workshop) -> float | None:
    """Return how fine the asking site's near stand looks, metres a pixel, when the request names a site."""
    site = request.args.get("site")
    return finest_pixel_m(workshop.store.sites.state(site).recipe.stands.near) if site else None


def _state_json(state: SetState, workshop: Workshop) -> dict[str, object]:
    uses = workshop.store.sites.using(state.name)
    return {
        "name": state.name, "revision": state.revision, "description": state.description.model_dump(mode="json"),
        "facts": state.facts.model_dump(mode="json"), "content": state.description.content,
        "added_at": state.added_at, "changed_at": state.changed_at, "set_aside": state.set_aside,
        "undo": state.undo, "redo": state.redo,
        "used_in": [{"site": use.site, "title": use.title, "layers": list(use.layers)} for use in uses],
    }  # fmt: skip
