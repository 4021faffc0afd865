"""The web application: one page, and routes that parse, call one thing and answer."""

from __future__ import annotations

import logging
from pathlib import Path

from flask import Flask, Response, jsonify, send_file
from pydantic import TypeAdapter, ValidationError
from werkzeug.exceptions import HTTPException

from elvatch.app.sites import UnknownBaseError
from elvatch.app.workshop import Workshop
from elvatch.core.formats.limits import MOST_BYTES
from elvatch.core.refusal import CancelledError, RefusalError, is_full, of_disk
from elvatch.store.paths import file_inside
from elvatch.store.sites import ConflictError, SiteState
from elvatch.web import (
    cover_routes,
    ground_routes,
    guard,
    handoff_routes,
    here,
    intake_routes,
    judging_routes,
    light_routes,
    mark_routes,
    openapi,
    pack_routes,
    picture_routes,
    readiness,
    site_routes,
    snapshot_routes,
    stock_routes,
    suite_routes,
    thing_routes,
    waiting,
    wear_routes,
)
from elvatch.web import (
    entry as entry_,
)
from elvatch.web.answers import Plain
from elvatch.web.entry import Entry
from elvatch.web.readiness import Readiness

STATIC = Path(__file__).parent / "static"
MOST_UPLOAD_BYTES = MOST_BYTES + (1 << 20)
"""A height file and the form about it."""
PARTS = (
    site_routes,
    ground_routes,
    picture_routes,
    cover_routes,
    wear_routes,
    snapshot_routes,
    mark_routes,
    stock_routes,
    intake_routes,
    handoff_routes,
    light_routes,
    pack_routes,
    suite_routes,
    thing_routes,
    judging_routes,
)
_STATE: TypeAdapter[SiteState] = TypeAdapter(SiteState)


def create_app(workshop: Workshop, entry: Entry | None = None, ready: Readiness | None = None) -> Flask:
    """Return the application over a workshop, to be entered as ``entry`` says; from this machine alone without."""
    entry = entry or Entry()
    app = Flask(__name__, static_folder=None)
    app.config["MAX_CONTENT_LENGTH"] = MOST_UPLOAD_BYTES
    app.config["MAX_FORM_MEMORY_SIZE"] = 1 << 20
    app.json = Plain(app)
    guard.install(app, entry)
    entry_.install(app, entry)
    waiting.install(app)
    readiness.install(app, ready or Readiness())
    _answer_errors(app)
    here.install(app, workshop)
    for part in PARTS:
        app.register_blueprint(part.ROUTES.blueprint)
    openapi.install(app)

    @app.get("/")
    def page() -> Response:
        return send_file(STATIC / "index.html", max_age=0)

    @app.get("/assets/<name>")
    def asset(name: str) -> Response:
        return send_file(file_inside(STATIC, "assets", name), max_age=31_536_000)

    @app.get("/mark.svg")
    def mark() -> Response:
        return send_file(STATIC / "mark.svg", max_age=86_400)

    return app


def _answer_errors(app: Flask) -> None:
    @app.errorhandler(RefusalError)
    def refused(error: RefusalError) -> tuple[Response, int]:
        return jsonify(message=str(error)), 422

    @app.errorhandler(ValidationError)
    def malformed(error: ValidationError) -> tuple[Response, int]:
        first = error.errors(include_url=False)[0]
        where = ".".join(str(part) for part in first["loc"]) or "request"
        message = f"{where}: found {str(first.get('input'))[:60]!r}, expected: {first['msg']}; correct it."
        return jsonify(message=message), 400

    @app.errorhandler(ConflictError)
    def conflicting(error: ConflictError) -> tuple[Response, int]:
        message = "This site was changed in another window; here is how it stands now. Nothing was overwritten."
        return jsonify(message=message, state=_STATE.dump_python(error.state, mode="json", by_alias=True)), 409

    @app.errorhandler(UnknownBaseError)
    def unknown_base(_: UnknownBaseError) -> tuple[Response, int]:
        return jsonify(message="Another revision is in force by now; send the whole recipe."), 428

    @app.errorhandler(CancelledError)
    def superseded(_: CancelledError) -> tuple[Response, int]:
        return jsonify(message="A newer request took its place."), 410

    @app.errorhandler(HTTPException)
    def http(error: HTTPException) -> tuple[Response, int]:
        return jsonify(message=error.description or error.name), error.code or 500

    @app.errorhandler(OSError)
    def unwritten(error: OSError) -> tuple[Response, int]:
        if is_full(error):
            return jsonify(message=str(of_disk(error.filename or "the data folder", error))), 507
        return broken(error)

    @app.errorhandler(Exception)
    def broken(error: Exception) -> tuple[Response, int]:
        logging.getLogger("elvatch").exception("a request failed", exc_info=error)
        return jsonify(message="Something went wrong here; the log of the server says what."), 500
