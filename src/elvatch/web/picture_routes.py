"""Pictures and what is read off them. All of it is a function of the recipe that is sent along."""

from __future__ import annotations

import time
from typing import Annotated, Any, Literal

from flask import Response
from pydantic import Field

from elvatch.app.grounds import PREVIEW_SAMPLES
from elvatch.app.pictures import Brushed, Drawn, Line, Lines, Pointed
from elvatch.core.document.recipe import from_data
from elvatch.core.ground.measures import NAMES, MeasureName
from elvatch.core.parallel import Token
from elvatch.core.picture.modes import Mode
from elvatch.core.picture.picture import Facts, StandName, View
from elvatch.store.sites import SiteState
from elvatch.web.answers import Body, Revision, Routes, body, image
from elvatch.web.here import latest, shop

ROUTES = Routes("pictures")


class _Picture(Body):
    recipe: dict[str, Any]
    stand: StandName
    width_px: int = Field(ge=16, le=2048)
    height_px: int = Field(ge=16, le=2048)
    resting: bool = True
    mode: Mode = "lit"
    layer: int = -1
    solo: int = -1
    wear: int = -1
    preview: bool = False
    drawn: Drawn | None = None
    brushed: Brushed | None = None
    measure: MeasureName | Literal["image"] | None = None
    radius_m: float | None = Field(default=None, gt=0, le=20_000)

    def view(self) -> View:
        return View(self.stand, self.width_px, self.height_px, 4 if self.resting else 1, self.mode, self.layer,
                    self.solo, self.wear)  # fmt: skip

    @property
    def samples(self) -> int | None:
        return PREVIEW_SAMPLES if self.preview else None


class _Spot(_Picture):
    across: float = Field(ge=0, le=1)
    down: float = Field(ge=0, le=1)
    measures: list[MeasureName] = Field(default_factory=list, max_length=len(NAMES))
    ring_m: float | None = Field(default=None, gt=0, le=4_000)
    fit: bool = False


class _Lines(_Picture):
    lines: list[Annotated[Line, Field(min_length=2, max_length=400)]] = Field(max_length=64)


class _Paint(Body):
    base: Revision
    stroke: Drawn


@ROUTES.post("/api/picture")
def take() -> Response:
    started = time.perf_counter()
    wanted = body(_Picture)
    recipe = from_data(wanted.recipe)
    pictures, grounds = shop().pictures, shop().grounds

    def make(token: Token) -> tuple[bytes, Facts]:
        drape = grounds.draped(recipe.ground, wanted.measure, wanted.radius_m, wanted.samples, token)
        painted = pictures.painted(recipe, wanted.drawn, token) if wanted.drawn else {}
        marked = wanted.brushed.rule() if wanted.brushed else None
        return pictures.png(recipe, wanted.view(), token, wanted.samples, drape, painted, marked)

    png, seen = latest().newest(f"picture/{wanted.stand}", make)
    answer = Response(png, mimetype="image/png")
    answer.headers["X-Distance-M"] = f"{seen.distance_m:.3f}"
    answer.headers["X-Mm-Per-Pixel"] = f"{seen.mm_per_pixel:.3f}"
    if seen.peg is not None:
        answer.headers["X-Peg"] = f"{seen.peg[0]:.5f},{seen.peg[1]:.5f}"
    answer.headers["X-Server-Ms"] = f"{(time.perf_counter() - started) * 1000:.0f}"
    return answer


@ROUTES.get("/api/sites/<site>/far.png")
def front_door(site: str) -> Response:
    png, _ = shop().pictures.png(shop().store.sites.state(site).recipe, View("far", 384, 240))
    return image(png, keep=True)


@ROUTES.post("/api/lines")
def lines() -> Lines:
    wanted = body(_Lines)
    return shop().pictures.lines(from_data(wanted.recipe), wanted.view(), wanted.lines, wanted.samples)


@ROUTES.post("/api/sites/<site>/paint")
def paint(site: str) -> SiteState:
    wanted = body(_Paint)
    return shop().pictures.paint(site, wanted.base, wanted.stroke)


@ROUTES.post("/api/spot")
def spot() -> Pointed:
    wanted = body(_Spot)
    return shop().pictures.point(
        from_data(wanted.recipe), wanted.view(), wanted.across, wanted.down, wanted.measures, wanted.ring_m,
        wanted.fit,
    )  # fmt: skip
