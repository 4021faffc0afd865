"""The hand-off: sheets and what they come to, files looked into, the writing as a job, what landed where."""

from __future__ import annotations

from typing import Annotated, Any

from flask import Response, send_file
from pydantic import Field

from elvatch.app.handoffs import HandedOff, HandedOffs, KeptSheets, SheetLines, Thumbs
from elvatch.core.document.sheet import MOST_PX
from elvatch.core.document.sheet_entry import MOST_MESH_LEVELS
from elvatch.core.handoff.looking import MOST_LOOKED_PX, LookedInto, Window
from elvatch.core.handoff.meshes import MeshLook
from elvatch.core.mesh.seen import MeshEye
from elvatch.core.run import Run
from elvatch.web.answers import Body, Routes, body
from elvatch.web.here import jobs, latest, recipe_of, shop
from elvatch.web.jobs import JobState, state_of

ROUTES = Routes("handoff")
_Texel = Annotated[int, Field(ge=0, le=MOST_PX)]
_Looked = Annotated[int, Field(ge=1, le=MOST_LOOKED_PX)]


class _Ask(Body):
    recipe: dict[str, Any]
    sheet: str = Field(max_length=80)


class _Window(Body):
    file: str = Field(max_length=200)
    left: _Texel = 0
    top: _Texel = 0
    columns: _Looked = 256
    rows: _Looked = 256
    step: int = Field(default=1, ge=1, le=256)

    def part(self) -> Window:
        return Window(self.left, self.top, self.columns, self.rows, self.step)


class _Look(_Window):
    recipe: dict[str, Any]
    sheet: str = Field(max_length=80)


class _MeshLook(_Ask):
    entry: str = Field(max_length=40)
    level: int = Field(default=0, ge=0, le=MOST_MESH_LEVELS)
    bearing_deg: float = Field(default=20, ge=-720, le=720)
    tilt_deg: float = Field(default=35, ge=2, le=89)
    nearness: float = Field(default=1, ge=0.2, le=40)
    wire: bool = True
    width_px: int = Field(default=320, ge=16, le=1600)
    height_px: int = Field(default=220, ge=16, le=1200)


class _Write(Body):
    sheet: str = Field(max_length=80)


class _Keep(Body):
    sheet: dict[str, Any]


class _Forget(Body):
    name: str = Field(max_length=80)


@ROUTES.post("/api/sites/<site>/sheet")
def sheet(site: str) -> SheetLines:
    asked = body(_Ask)
    return shop().handoffs.lines(shop().store.sites.state(site).title, recipe_of(asked.recipe), asked.sheet)


@ROUTES.post("/api/sites/<site>/sheet-thumbs")
def thumbs(site: str) -> Thumbs:
    asked = body(_Ask)
    return shop().handoffs.thumbs(shop().store.sites.state(site).title, recipe_of(asked.recipe), asked.sheet)


@ROUTES.post("/api/sites/<site>/look-into")
def look_into(site: str) -> LookedInto:
    a = body(_Look)
    title = shop().store.sites.state(site).title
    return shop().handoffs.look(title, recipe_of(a.recipe), a.sheet, a.file, a.part())


@ROUTES.post("/api/sites/<site>/mesh-look")
def mesh_look(site: str) -> MeshLook:
    a, handoffs = body(_MeshLook), shop().handoffs
    title, recipe = shop().store.sites.state(site).title, recipe_of(a.recipe)
    seen = MeshEye(a.bearing_deg, a.tilt_deg, a.nearness, a.wire)
    return latest().newest(
        "mesh-look",
        lambda token: handoffs.look_at_mesh(
            title, recipe, a.sheet, a.entry, a.level, seen, (a.width_px, a.height_px), Run(token)
        ),
    )


@ROUTES.post("/api/sites/<site>/bakes", 202, makes=HandedOff)
def start(site: str) -> JobState:
    handoffs, state, wanted = shop().handoffs, shop().store.sites.state(site), body(_Write).sheet
    handoffs.check(state, wanted)
    return state_of(
        jobs().start(f"writing the maps of {state.title}", lambda run: handoffs.write(state, wanted, run))
    )


@ROUTES.get("/api/sites/<site>/landed")
def landed(site: str) -> HandedOffs:
    return shop().handoffs.landed(shop().store.sites.state(site))


@ROUTES.delete("/api/sites/<site>/landed/<folder>")
def discard(site: str, folder: str) -> HandedOffs:
    return shop().handoffs.discard(folder, shop().store.sites.state(site))


@ROUTES.get("/api/sheets")
def kept_sheets() -> KeptSheets:
    return shop().handoffs.kept_sheets()


@ROUTES.post("/api/sheets")
def keep_sheet() -> KeptSheets:
    return shop().handoffs.keep_sheet(body(_Keep).sheet)


@ROUTES.delete("/api/sheets")
def forget_sheet() -> KeptSheets:
    return shop().handoffs.forget_sheet(body(_Forget).name)


@ROUTES.get("/api/jobs/<job>")
def look(job: str) -> JobState:
    return state_of(jobs().get(job))


@ROUTES.delete("/api/jobs/<job>")
def cancel(job: str) -> JobState:
    found = jobs().get(job)
    found.token.cancel()
    return state_of(found)


@ROUTES.get("/api/handed-off/<folder>/<name>")
def file(folder: str, name: str) -> Response:
    return send_file(shop().handoffs.file(folder, name), as_attachment=True)


@ROUTES.get("/api/handed-off/<folder>")
def zipped(folder: str) -> Response:
    return send_file(shop().handoffs.zipped(folder), as_attachment=True, download_name=f"{folder[:120]}.zip")


@ROUTES.post("/api/handed-off/<folder>/look")
def look_landed(folder: str) -> LookedInto:
    a = body(_Window)
    return shop().handoffs.look_landed(folder, a.file, a.part())
