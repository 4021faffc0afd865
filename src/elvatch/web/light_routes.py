"""Light and what is taken under it: where the sun stands, kept lights, stills."""

from __future__ import annotations

from flask import Response, send_file

from elvatch.app.panoramas import PanoramaFacts
from elvatch.app.sites import Removed
from elvatch.app.stills import StillAsk, StillsTaken, SunPlace, sun_place
from elvatch.core.document.light import When
from elvatch.core.document.water import KeptLight
from elvatch.core.formats.limits import MOST_BYTES
from elvatch.core.light.drawn_sky import DrawnSky
from elvatch.core.refusal import RefusalError
from elvatch.store.lights import KeptLightLine
from elvatch.web.answers import Body, Routes, body, uploaded
from elvatch.web.here import jobs, shop
from elvatch.web.jobs import JobState, state_of

ROUTES = Routes("light")


class _Sun(Body):
    when: When


class _Keep(Body):
    kept: KeptLight


class _Drawn(Body):
    kind: DrawnSky


class _Stills(Body):
    ask: StillAsk


@ROUTES.post("/api/sun")
def sun() -> SunPlace:
    return sun_place(body(_Sun).when)


@ROUTES.get("/api/kept-lights")
def kept_lights() -> list[KeptLightLine]:
    return shop().store.lights.all()


@ROUTES.post("/api/kept-lights", 201)
def keep_light() -> KeptLightLine:
    return shop().store.lights.keep(body(_Keep).kept)


@ROUTES.delete("/api/kept-lights/<id>")
def let_light_go(id: str) -> Removed:
    shop().store.lights.remove(id)
    return Removed(id)


@ROUTES.post("/api/panoramas", 201)
def bring_panorama() -> PanoramaFacts:
    name, data = uploaded("a panorama, .hdr or .exr", MOST_BYTES)
    if len(data) > MOST_BYTES:
        raise RefusalError(name, "a file that is too large", f"at most {MOST_BYTES >> 20} MB", "reduce it first")
    return shop().panoramas.bring(name, data)


@ROUTES.post("/api/panoramas/drawn", 201)
def draw_panorama() -> PanoramaFacts:
    return shop().panoramas.drawn(body(_Drawn).kind)


@ROUTES.post("/api/sites/<site>/stills", 202, makes=StillsTaken)
def take_stills(site: str) -> JobState:
    stills, state, ask = shop().stills, shop().store.sites.state(site), body(_Stills).ask
    stills.check(state.recipe, ask)
    return state_of(
        jobs().start(f"stills of {state.title}", lambda run: stills.write(state.title, state.recipe, ask, run))
    )


@ROUTES.get("/api/stills/<folder>/<name>")
def still(folder: str, name: str) -> Response:
    return send_file(shop().stills.file(folder, name), as_attachment=True)
