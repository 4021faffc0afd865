"""The stock: the wall of sets, one set laid out, its history, its mending, sets that are made."""

from __future__ import annotations

import io
from typing import Annotated

from flask import Response, request, send_file
from pydantic import Field

from elvatch.app.sets import Generators, Into, MendedSet, NewSet, SetSheet, WallOfSets, all_generators
from elvatch.app.sites import Removed
from elvatch.core.formats import png
from elvatch.core.parallel import Token
from elvatch.core.picture.sample import SampleView
from elvatch.core.refusal import RefusalError
from elvatch.core.run import Run
from elvatch.core.stock import generators
from elvatch.core.stock.description import SetDescription
from elvatch.core.stock.mend.ask import MendAsk
from elvatch.core.stock.roles import ROLES
from elvatch.store.wall import SORTS, Wish
from elvatch.web.answers import Body, Revision, Routes, body, image, window
from elvatch.web.here import jobs, latest, shop
from elvatch.web.jobs import JobState, state_of

ROUTES = Routes("stock")


class BasedOn(Body):
    """Says which revision a change was made on."""

    base: Revision


class _Describe(BasedOn):
    label: str = Field(max_length=120)
    description: SetDescription


class _Mend(BasedOn):
    ask: MendAsk


class _Aside(Body):
    aside: bool


class _Preview(Body):
    kind: str = Field(max_length=40)
    seed: int = Field(ge=0, le=1_000_000)
    controls: dict[Annotated[str, Field(max_length=40)], float] = Field(default_factory=dict, max_length=20)


class _Seen(_Preview):
    """``laid_out``: one of the strip's pictures."""

    laid_out: bool = False


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
            self.width_px,
            self.height_px,
            self.across_m,
            self.sun_bearing_deg,
            self.sun_height_deg,
            self.bearing_deg,
            self.tilt_deg,
            self.figure,
            4 if self.resting else 1,
        )


@ROUTES.get("/api/stock")
def wall() -> WallOfSets:
    return shop().sets.wall(_wish(), request.args.get("site"))


@ROUTES.get("/api/generators")
def kinds() -> Generators:
    return all_generators()


@ROUTES.post("/api/generators/preview")
def preview() -> Response:
    sets, wanted = shop().sets, body(_Seen)
    # the strip's pictures and the one beside the controls do not take each other's place
    purpose = f"{window()}/{'strip' if wanted.laid_out else 'generator'}"
    return image(latest().run(purpose, lambda token: sets.preview(wanted.kind, wanted.seed, wanted.controls, token)))


@ROUTES.get("/api/sets/<name>")
def one(name: str) -> SetSheet:
    return shop().sets.sheet(shop().store.stock.state(name))


@ROUTES.get("/api/sets/<name>/swatch.png")
def swatch(name: str) -> Response:
    store = shop().store
    return image(store.files.get(store.stock.state(name).swatch), keep="content" in request.args)


@ROUTES.get("/api/sets/<name>/map/<role>.png")
def one_map(name: str, role: str) -> Response:
    size = request.args.get("px", "256")
    if role not in ROLES or not (size.isascii() and size.isdigit() and len(size) <= 6):
        raise RefusalError("map", f"{role[:20]!r} at {size[:8]!r} px", "a role and a size", "correct it")
    data = shop().sets.map_png(name, ROLES[ROLES.index(role)], max(16, min(int(size), 2048)))
    return image(data, keep="content" in request.args)


@ROUTES.post("/api/sets/<name>/sample")
def sample(name: str) -> Response:
    workshop, wanted = shop(), body(SampleAsk)
    workshop.store.stock.state(name)  # says so when there is none

    def take(token: Token) -> bytes:
        return png.encode(workshop.sets.samples.picture(workshop.store.stock[name], wanted.view(), token))

    return image(latest().run(f"{window()}/sample", take))


@ROUTES.put("/api/sets/<name>")
def describe(name: str) -> SetSheet:
    wanted, sets = body(_Describe), shop().sets
    return sets.sheet(sets.describe(name, wanted.base, wanted.label, wanted.description))


@ROUTES.post("/api/sets/<name>/undo")
def undo(name: str) -> SetSheet:
    return shop().sets.sheet(shop().store.stock.step(name, body(BasedOn).base, -1))


@ROUTES.post("/api/sets/<name>/redo")
def redo(name: str) -> SetSheet:
    return shop().sets.sheet(shop().store.stock.step(name, body(BasedOn).base, 1))


@ROUTES.post("/api/sets/<name>/aside")
def aside(name: str) -> SetSheet:
    return shop().sets.sheet(shop().store.stock.set_aside(name, body(_Aside).aside))


@ROUTES.delete("/api/sets/<name>")
def remove(name: str) -> Removed:
    shop().store.stock.remove(name)
    return Removed(name)


@ROUTES.get("/api/sets/<name>/out.zip")
def out(name: str) -> Response:
    file_name, data = shop().sets.take_out(name)
    return send_file(io.BytesIO(data), "application/zip", as_attachment=True, download_name=file_name)


@ROUTES.post("/api/sets/<name>/mend", 202, makes=MendedSet)
def mend(name: str) -> JobState:
    wanted, sets = body(_Mend), shop().sets
    title = shop().store.stock.state(name).description.title
    return state_of(jobs().start(f"mending {title}", lambda run: sets.mended(name, wanted.base, wanted.ask, run)))


@ROUTES.post("/api/sets/make", 202, makes=NewSet)
def make() -> JobState:
    wanted, sets = body(_Make), shop().sets
    into = Into(wanted.into, wanted.base) if wanted.into else None
    generators.check(wanted.kind, wanted.size_px, wanted.controls)

    def work(run: Run) -> NewSet:
        return NewSet(sets.make(wanted.kind, wanted.size_px, wanted.seed, wanted.controls, run, into))

    return state_of(jobs().start(f"making {generators.GENERATORS[wanted.kind].title}", work))


def _wish() -> Wish:
    """Return what this request's address asks for; what it has wrong does not limit."""
    ask = request.args
    sort = ask.get("sort", "title")
    least = ask.get("least_px", "0")
    return Wish(
        text=ask.get("text", "")[:200],
        category=ask.get("category") or None,
        roles=tuple(role for role in ask.getlist("role") if role in ROLES),
        least_px=int(least) if least.isascii() and least.isdigit() and len(least) < 7 else 0,
        seam={"seamless": "seamless", "shows": "shows"}.get(ask.get("seam", "")),  # type: ignore[arg-type]
        tone=ask.get("tone") or None,
        collection=ask.get("collection") or None,
        aside=ask.get("aside") == "1",
        sort=SORTS[SORTS.index(sort)] if sort in SORTS else "title",
    )
