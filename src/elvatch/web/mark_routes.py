"""Images as masks: brought in, taken apart, looked at channel by channel, laid as splat maps, written out."""

from __future__ import annotations

from typing import Any

from flask import Blueprint, Response, jsonify, request
from pydantic import Field

from elvatch.core.cover import mask_image
from elvatch.core.cover.marks import MaskImage
from elvatch.core.cover.mask_image import Packed
from elvatch.core.cover.recipe import from_data, rule_from_data
from elvatch.core.cover.rule import Channel
from elvatch.core.formats.texture import MOST_BYTES
from elvatch.core.handoff import bake
from elvatch.core.parts import PartId
from elvatch.core.refusal import RefusalError
from elvatch.markings import Weight
from elvatch.web.answers import Body, body
from elvatch.workshop import Workshop


class _Weight(Body):
    image: MaskImage
    channel: Channel
    layer: PartId


class _Splat(Body):
    recipe: dict[str, Any]
    weights: list[_Weight] = Field(max_length=64)


class _Written(Body):
    recipe: dict[str, Any]
    name: str = Field(min_length=1, max_length=120)
    clauses: list[dict[str, Any]] = Field(max_length=16)
    opacity: float = Field(default=1.0, ge=0, le=1)
    size_px: int = Field(default=1024, ge=16, le=8192)


def _image_json(file: str, name: str, packed: Packed, misfit: str | None) -> dict[str, object]:
    return {
        "file": file, "fileName": name, "widthPx": packed.width_px, "heightPx": packed.height_px,
        "format": packed.format, "bits": packed.bits, "notes": [*packed.notes, *([misfit] if misfit else [])],
        "channels": [
            {"channel": one.channel, "lowest": one.lowest, "highest": one.highest, "share": one.share,
             "levels": one.levels}
            for one in packed.facts()
        ],
    }  # fmt: skip


def routes(workshop: Workshop) -> Blueprint:
    """Return the routes for mask images and splat maps."""
    marks = Blueprint("marks", __name__)

    @marks.post("/api/mask-images")
    def bring() -> Any:
        upload = request.files.get("file")
        if upload is None:
            raise RefusalError("upload", "no file", "an image (PNG, TIFF or EXR)", "choose or drop one")
        name = " ".join((upload.filename or "image").replace("\\", "/").split("/")[-1].split())[:80] or "image"
        file, packed = workshop.markings.bring_image(name, upload.read(MOST_BYTES + 1))
        sizes = (request.form.get("width_m", type=float), request.form.get("depth_m", type=float))
        misfit = mask_image.misfit(packed, sizes[0], sizes[1]) if sizes[0] and sizes[1] else None
        return jsonify(_image_json(file, name, packed, misfit))

    @marks.get("/api/mask-images/<file>")
    def look(file: str) -> Any:
        return jsonify(_image_json(file, "image", workshop.covers.packed(file, "image"), None))

    @marks.get("/api/mask-images/<file>/<channel>.png")
    def thumbnail(file: str, channel: str) -> Response:
        known = next((one for one in mask_image.CHANNELS if one == channel), None)
        if known is None:
            raise RefusalError(
                "channel", repr(channel[:20]), "one of " + ", ".join(mask_image.CHANNELS), "choose one"
            )
        answer = Response(workshop.markings.thumbnail(file, known), mimetype="image/png")
        answer.headers["Cache-Control"] = "private, max-age=31536000, immutable"
        return answer

    @marks.post("/api/splat")
    def splat() -> Any:
        wanted = body(_Splat)
        weights = [Weight(one.image, one.channel, one.layer) for one in wanted.weights]
        laid = workshop.markings.lay_splat(from_data(wanted.recipe), weights)
        return jsonify(recipe=laid.model_dump(mode="json"))

    @marks.post("/api/presence")
    def presence() -> Response:
        wanted = body(_Written)
        rule = rule_from_data({"clauses": wanted.clauses})
        data, _ = workshop.markings.presence_png(
            from_data(wanted.recipe), rule, wanted.opacity, wanted.size_px, wanted.name
        )
        answer = Response(data, mimetype="image/png")
        answer.headers["Content-Disposition"] = f'attachment; filename="{bake.plain_name(wanted.name)}.png"'
        return answer

    return marks
