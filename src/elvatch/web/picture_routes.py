"""Pictures and what is read off them. All of it is a function of the recipe that is sent along."""

from __future__ import annotations

import time
from collections.abc import Sequence
from typing import Annotated, Any, Literal

from flask import Response
from pydantic import Field

from elvatch.app import frames
from elvatch.app.pictures import Besides, Brushed, DrawnStroke, Line, Lines, Pointed
from elvatch.core.document.recipe import Recipe
from elvatch.core.formats import png
from elvatch.core.ground.measures import NAMES, MeasureName
from elvatch.core.ground.shaping import Preview
from elvatch.core.parallel import Token
from elvatch.core.parts import PartId
from elvatch.core.picture.modes import Mode
from elvatch.core.picture.picture import Facts, Picture, StandName, View
from elvatch.store.sites import SiteState
from elvatch.web.answers import Body, Revision, Routes, body, image
from elvatch.web.here import latest, preview_of, recipe_of, shop

ROUTES = Routes("pictures")


class ViewAsked(Body):
    """What is wanted of one picture."""

    stand: StandName
    width_px: int = Field(ge=16, le=2048)
    height_px: int = Field(ge=16, le=2048)
    mode: Mode = "lit"
    layer: int = -1
    solo: int = -1
    wear: int = -1

    def seen(self, resting: bool) -> View:
        return View(
            self.stand,
            self.width_px,
            self.height_px,
            4 if resting else 1,
            self.mode,
            self.layer,
            self.solo,
            self.wear,
        )


class _Shown(Body):
    recipe: dict[str, Any]
    resting: bool = True
    preview: bool = False
    drawn: DrawnStroke | None = None
    brushed: Brushed | None = None
    measure: MeasureName | Literal["image"] | None = None
    radius_m: float | None = Field(default=None, gt=0, le=20_000)

    def previewed(self) -> Preview | None:
        return preview_of(self.recipe, self.preview, not self.resting)

    def take(self, recipe: Recipe, views: Sequence[View], token: Token) -> list[Picture]:
        pictures, grounds = shop().pictures, shop().grounds
        preview = self.previewed()
        drape = grounds.draped(recipe.ground, self.measure, self.radius_m, preview, token, recipe.water)
        painted = (pictures.painted(recipe, self.drawn, token) or None) if self.drawn else None
        besides = Besides(preview, drape, painted, self.brushed.rule() if self.brushed else None)
        return pictures.several(recipe, views, token, besides)


class PictureAsked(ViewAsked, _Shown):
    """One picture, and what it shows beside its recipe."""

    def view(self) -> View:
        return self.seen(self.resting)


class FrameAsked(_Shown):
    """Several pictures at once; ``making_ready`` makes what they need, and answers without them."""

    views: list[ViewAsked] = Field(min_length=1, max_length=3)
    codec: frames.Codec = "plain"
    making_ready: bool = False


class _Spot(PictureAsked):
    across: float = Field(ge=0, le=1)
    down: float = Field(ge=0, le=1)
    measures: list[MeasureName] = Field(default_factory=list, max_length=len(NAMES))
    ring_m: float | None = Field(default=None, gt=0, le=4_000)
    fit: bool = False
    on_mask: PartId | None = None


class _Lines(PictureAsked):
    lines: list[Annotated[Line, Field(min_length=2, max_length=400)]] = Field(max_length=64)


class _Paint(Body):
    base: Revision
    stroke: DrawnStroke


@ROUTES.post("/api/picture")
def take() -> Response:
    started = time.perf_counter()
    wanted = body(PictureAsked)
    recipe = recipe_of(wanted.recipe)

    def make(token: Token) -> tuple[bytes, Facts]:
        (taken,) = wanted.take(recipe, [wanted.view()], token)
        return png.encode(taken.pixels), taken.facts

    data, seen = latest().newest(f"picture/{wanted.stand}", make)
    answer = Response(data, mimetype="image/png")
    answer.headers["X-Distance-M"] = f"{seen.distance_m:.3f}"
    answer.headers["X-Mm-Per-Pixel"] = f"{seen.mm_per_pixel:.3f}"
    if seen.peg is not None:
        answer.headers["X-Peg"] = f"{seen.peg[0]:.5f},{seen.peg[1]:.5f}"
    answer.headers["X-Server-Ms"] = f"{(time.perf_counter() - started) * 1000:.0f}"
    return answer


@ROUTES.post("/api/frame", makes=frames.FrameHead)
def frame() -> Response:
    started = time.perf_counter()
    wanted = body(FrameAsked)
    recipe = recipe_of(wanted.recipe)

    def make(token: Token) -> bytes:
        views = [one.seen(wanted.resting) for one in wanted.views]
        taken = wanted.take(recipe, views, token)
        if wanted.making_ready:
            return frames.written([], [], wanted.codec, time.perf_counter() - started)
        return frames.written(views, taken, wanted.codec, time.perf_counter() - started)

    # what rests is asked for beside what moves, and given up by the page itself
    purpose = "frame/resting/" + wanted.views[0].stand if wanted.resting else "frame"
    return Response(latest().newest(purpose, make), mimetype="application/octet-stream")


@ROUTES.get("/api/sites/<site>/far.png")
def front_door(site: str) -> Response:
    png, _ = shop().pictures.png(shop().store.sites.state(site).recipe, View("far", 384, 240))
    return image(png, keep=True)


@ROUTES.post("/api/lines")
def lines() -> Lines:
    wanted = body(_Lines)
    return shop().pictures.lines(recipe_of(wanted.recipe), wanted.view(), wanted.lines, wanted.previewed())


@ROUTES.post("/api/sites/<site>/paint")
def paint(site: str) -> SiteState:
    wanted = body(_Paint)
    return shop().pictures.paint(site, wanted.base, wanted.stroke)


@ROUTES.post("/api/spot")
def spot() -> Pointed:
    wanted = body(_Spot)
    return shop().pictures.point(
        recipe_of(wanted.recipe),
        wanted.view(),
        wanted.across,
        wanted.down,
        wanted.measures,
        wanted.ring_m,
        wanted.fit,
        wanted.on_mask,
    )
