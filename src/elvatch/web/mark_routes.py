"""Images as masks: brought in, taken apart, looked at channel by channel, laid as splat maps, written out."""

from __future__ import annotations

from typing import Any

from flask import Response, request
from pydantic import Field

from elvatch.app.marks import LaidWeights, MaskImageFacts, Weight
from elvatch.core.document.recipe import rule_from_data
from elvatch.core.formats.texture import MOST_BYTES
from elvatch.core.plain_name import plain_name
from elvatch.core.refusal import RefusalError
from elvatch.core.rules import mask_image
from elvatch.web.answers import Body, Routes, body, image, uploaded
from elvatch.web.here import recipe_of, shop

ROUTES = Routes("marks")


class _Splat(Body):
    recipe: dict[str, Any]
    weights: list[Weight] = Field(max_length=64)


class _Written(Body):
    recipe: dict[str, Any]
    name: str = Field(min_length=1, max_length=120)
    clauses: list[dict[str, Any]] = Field(max_length=16)
    opacity: float = Field(default=1.0, ge=0, le=1)
    size_px: int = Field(default=1024, ge=16, le=8192)


@ROUTES.post("/api/mask-images")
def bring() -> MaskImageFacts:
    name, data = uploaded("an image (PNG, TIFF or EXR)", MOST_BYTES)
    width_m, depth_m = (request.form.get(side, type=float) for side in ("width_m", "depth_m"))
    return shop().marks.bring_image(name, data, (width_m, depth_m) if width_m and depth_m else None)


@ROUTES.get("/api/mask-images/<file>")
def look(file: str) -> MaskImageFacts:
    return shop().marks.image(file)


@ROUTES.get("/api/mask-images/<file>/<channel>.png")
def thumbnail(file: str, channel: str) -> Response:
    known = next((one for one in mask_image.CHANNELS if one == channel), None)
    if known is None:
        raise RefusalError("channel", repr(channel[:20]), "one of " + ", ".join(mask_image.CHANNELS), "choose one")
    return image(shop().marks.thumbnail(file, known), keep=True)


@ROUTES.post("/api/splat")
def splat() -> LaidWeights:
    wanted = body(_Splat)
    return LaidWeights(shop().marks.lay_splat(recipe_of(wanted.recipe), wanted.weights))


@ROUTES.post("/api/presence")
def presence() -> Response:
    wanted = body(_Written)
    rule = rule_from_data({"clauses": wanted.clauses})
    data, _ = shop().marks.presence_png(recipe_of(wanted.recipe), rule, wanted.opacity, wanted.size_px, wanted.name)
    answer = Response(data, mimetype="image/png")
    answer.headers["Content-Disposition"] = f'attachment; filename="{plain_name(wanted.name)}.png"'
    return answer
