"""Bringing sets in: files dropped, looked at, decided on, kept; and the supplier that fills a drop."""

from __future__ import annotations

from pathlib import PurePosixPath
from typing import Any

from flask import Blueprint, Response, jsonify, request
from pydantic import Field

from elvatch.core.formats import png
from elvatch.core.parallel import Token
from elvatch.core.refusal import RefusalError
from elvatch.core.run import Run
from elvatch.core.stock import intake
from elvatch.core.stock.intake import Decision, Proposal
from elvatch.core.stock.recognise import FileGuess, SetGuess
from elvatch.core.stock.supplier import catalogue, packing
from elvatch.sets import Into
from elvatch.web.answers import Body, Revision, body, camel, window
from elvatch.web.jobs import Jobs, Latest, Progress, job_json
from elvatch.web.stock_routes import SampleAsk, image
from elvatch.workshop import Workshop


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


def routes(workshop: Workshop, jobs: Jobs, latest: Latest) -> Blueprint:
    """Return the routes under /api/intake and /api/supplier."""
    bringing = Blueprint("intake", __name__)
    tray, sets = workshop.store.tray, workshop.sets

    @bringing.post("/api/intake")
    def begin() -> Any:
        return jsonify(drop=tray.begin(body(_Begin).title))

    @bringing.post("/api/intake/<drop>/files")
    def add(drop: str) -> Any:
        file = request.files.get("file")
        if file is None:
            raise RefusalError("the drop", "no file", "one file", "choose a file")
        path = request.form.get("path") or file.filename or "unnamed"
        return jsonify(files=tray.add(drop, path, file.stream.read()))

    @bringing.post("/api/intake/<drop>/look")
    def look(drop: str) -> Any:
        files = list(tray.files(drop).items())

        def work(progress: Progress, token: Token) -> dict[str, object]:
            found = intake.propose(files, tray.title(drop), Run(token, progress))
            return {"drop": drop, **_proposal_json(found)}

        return jsonify(job_json(jobs.start("looking at what came", work))), 202

    @bringing.post("/api/intake/<drop>/sample")
    def sample(drop: str) -> Response:
        wanted = body(_Judge)
        purpose = f"{window()}/sample"

        def take(token: Token) -> bytes:
            small = sets.judged(drop, wanted.decision, tray.files(drop))
            return png.encode(sets.samples.picture(small, wanted.view.view(), token))

        return image(latest.run(purpose, take))

    @bringing.post("/api/intake/<drop>/keep")
    def keep(drop: str) -> Any:
        wanted = body(_Keep)
        files = tray.files(drop)
        into = Into(wanted.into, wanted.base) if wanted.into else None
        if into is not None and len(wanted.sets) != 1:
            raise RefusalError("replacing", f"{len(wanted.sets)} sets", "one", "leave the others out")

        tray.take(drop)

        def work(progress: Progress, token: Token) -> dict[str, object]:
            try:
                kept = sets.keep_all(wanted.sets, files, Run(token, progress), into)
                tray.clear(drop)
            finally:
                tray.give_back(drop)
            return {"sets": kept}

        return jsonify(job_json(jobs.start("bringing in", work))), 202

    @bringing.delete("/api/intake/<drop>")
    def clear(drop: str) -> Any:
        tray.clear(drop)
        return jsonify(cleared=drop)

    @bringing.get("/api/supplier")
    def packs() -> Any:
        found = catalogue.find(request.args.get("text", "")[:200], request.args.get("category") or None)
        return jsonify(packs=[_pack_json(pack) for pack in found], sizes=catalogue.SIZES)

    @bringing.get("/api/supplier/<name>/swatch.webp")
    def pack_swatch(name: str) -> Response:
        return image(catalogue.pack(name).swatch, kind="image/webp")

    @bringing.post("/api/supplier/<name>/fetch")
    def fetch(name: str) -> Any:
        pack, wanted = catalogue.pack(name), body(_Fetch)

        def work(progress: Progress, token: Token) -> dict[str, object]:
            run = Run(token, progress)
            drop = tray.begin(pack.title)
            try:
                tray.add(drop, f"{pack.id}.zip", packing.zipped(pack, wanted.size_px, run.part(0, 0.9)))
                found = intake.propose(list(tray.files(drop).items()), pack.title, run.part(0.9, 1))
            except BaseException:
                tray.clear(drop)
                raise
            for made in found.sets:
                made.tile_m, made.tile_reason, made.category = pack.tile_m, "told by the supplier", pack.category
            return {"drop": drop, **_proposal_json(found)}

        return jsonify(job_json(jobs.start(f"fetching {pack.title}", work))), 202

    return bringing


def _pack_json(pack: catalogue.Pack) -> dict[str, object]:
    return camel({
        "id": pack.id, "title": pack.title, "maker": pack.maker, "category": pack.category, "about": pack.about,
        "tile_m": pack.tile_m, "roles": list(pack.roles),
    })  # fmt: skip


def _proposal_json(found: Proposal) -> dict[str, object]:
    return {"refused": found.refused, "sets": [_guess_json(guess) for guess in found.sets]}


def _guess_json(guess: SetGuess) -> dict[str, object]:
    decision = intake.decide(guess)
    return camel({
        "decision": decision.model_dump(mode="json"), "tile_reason": guess.tile_reason, "warnings": guess.warnings,
        "relief_share": guess.relief_share, "files": [_file_json(file) for file in guess.files],
    })  # fmt: skip


def _file_json(guess: FileGuess) -> dict[str, object]:
    seen = guess.seen
    return camel({
        "path": seen.path, "name": PurePosixPath(seen.path).name, "width_px": seen.width_px,
        "height_px": seen.height_px, "bits": seen.bits, "channels": seen.looks.channels, "meaning": guess.meaning,
        "sure": guess.sure, "reason": guess.reason, "warnings": list(guess.warnings),
    })  # fmt: skip
