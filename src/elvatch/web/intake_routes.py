"""Bringing sets in: files dropped, looked at, decided on, kept; and the supplier that fills a drop."""

from __future__ import annotations

from flask import Response, request
from pydantic import Field

from elvatch.app.bringing import Begun, Cleared, Counted, PackList, ProposedSets, packs_of
from elvatch.app.sets import Into, KeptSets
from elvatch.core.formats import png
from elvatch.core.parallel import Token
from elvatch.core.refusal import RefusalError
from elvatch.core.stock.intake import Decision
from elvatch.core.stock.supplier import catalogue
from elvatch.web.answers import Body, Revision, Routes, body, image, window
from elvatch.web.here import jobs, latest, shop
from elvatch.web.jobs import JobState, state_of
from elvatch.web.stock_routes import SampleAsk

ROUTES = Routes("intake")


class _Begin(Body):
    title: str = Field(default="", max_length=200)


class _Keep(Body):
    sets: tuple[Decision, ...] = Field(min_length=1, max_length=100)
    into: str | None = Field(default=None, max_length=40)
    base: Revision = 0


class _Judge(Body):
    decision: Decision
    view: SampleAsk


class _Fetch(Body):
    size_px: int


@ROUTES.post("/api/intake")
def begin() -> Begun:
    return Begun(shop().store.tray.begin(body(_Begin).title))


@ROUTES.post("/api/intake/<drop>/files")
def add(drop: str) -> Counted:
    file = request.files.get("file")
    if file is None:
        raise RefusalError("the drop", "no file", "one file", "choose a file")
    path = request.form.get("path") or file.filename or "unnamed"
    return Counted(shop().store.tray.add(drop, path, file.stream.read()))


@ROUTES.post("/api/intake/<drop>/look", 202, makes=ProposedSets)
def look(drop: str) -> JobState:
    bringing = shop().bringing
    shop().store.tray.files(drop)  # says so when there is none
    return state_of(jobs().start("looking at what came", lambda run: bringing.look(drop, run)))


@ROUTES.post("/api/intake/<drop>/sample")
def sample(drop: str) -> Response:
    workshop, wanted = shop(), body(_Judge)

    def take(token: Token) -> bytes:
        small = workshop.sets.judged(drop, wanted.decision, workshop.store.tray.files(drop))
        return png.encode(workshop.sets.samples.picture(small, wanted.view.view(), token))

    return image(latest().run(f"{window()}/sample", take))


@ROUTES.post("/api/intake/<drop>/keep", 202, makes=KeptSets)
def keep(drop: str) -> JobState:
    wanted, bringing = body(_Keep), shop().bringing
    into = Into(wanted.into, wanted.base) if wanted.into else None
    work = bringing.keeping(drop, wanted.sets, into)
    return state_of(jobs().start("bringing in", work))


@ROUTES.delete("/api/intake/<drop>")
def clear(drop: str) -> Cleared:
    shop().store.tray.clear(drop)
    return Cleared(drop)


@ROUTES.get("/api/supplier")
def packs() -> PackList:
    return packs_of(request.args.get("text", "")[:200], request.args.get("category") or None)


@ROUTES.get("/api/supplier/<name>/swatch.webp")
def pack_swatch(name: str) -> Response:
    return image(catalogue.pack(name).swatch, kind="image/webp")


@ROUTES.post("/api/supplier/<name>/fetch", 202, makes=ProposedSets)
def fetch(name: str) -> JobState:
    pack, size_px, bringing = catalogue.pack(name), body(_Fetch).size_px, shop().bringing
    return state_of(jobs().start(f"fetching {pack.title}", lambda run: bringing.fetch(pack, size_px, run)))
