"""Findings: what is odd about a site, and what mends it; the rule that says what a mask says."""

from __future__ import annotations

from typing import Any

from flask import Response
from pydantic import Field

from elvatch.app.judging import Findings, MendedSite, Says, TakenRule
from elvatch.app.marks import new_id
from elvatch.app.references import As, MatchedLook, ReferenceFacts
from elvatch.core.document.reference import Patch, Reference
from elvatch.core.document.rule import Rule
from elvatch.core.formats import png
from elvatch.core.formats.photo import MOST_BYTES
from elvatch.core.judging.find_rule import FoundRule
from elvatch.core.judging.side_by_side import difference
from elvatch.core.parallel import Token
from elvatch.core.parts import ContentName, PartId
from elvatch.core.picture.picture import StandName, View
from elvatch.web.answers import Body, Routes, body, image, uploaded
from elvatch.web.here import latest, recipe_of, shop
from elvatch.web.picture_routes import PictureAsked

ROUTES = Routes("judging")


class _Findings(Body):
    recipe: dict[str, Any]
    title: str = Field(default="", max_length=200)
    dear: bool = False


class _Mend(Body):
    recipe: dict[str, Any]
    title: str = Field(default="", max_length=200)
    id: str = Field(max_length=40)


@ROUTES.post("/api/findings")
def findings() -> Findings:
    wanted = body(_Findings)
    recipe = recipe_of(wanted.recipe)
    kind = "findings, dear" if wanted.dear else "findings"
    return latest().newest(kind, lambda token: shop().judging.findings(wanted.title, recipe, wanted.dear, token))


@ROUTES.post("/api/findings/mend")
def mend() -> MendedSite:
    wanted = body(_Mend)
    return shop().judging.mended(wanted.title, recipe_of(wanted.recipe), wanted.id)


class _Mask(Body):
    recipe: dict[str, Any]
    mask: Rule


class _Errors(_Mask):
    found: Rule


class _Find(_Mask):
    """``no`` is a mask painted where it is not: then only what either means is judged by."""

    no: Rule | None = None


@ROUTES.post("/api/find-rule")
def find_rule() -> FoundRule:
    wanted = body(_Find)
    recipe, judging = recipe_of(wanted.recipe), shop().judging

    def find(token: Token) -> FoundRule:
        def said(rule: Rule) -> Says:
            return lambda at: judging.says(recipe, rule, at, token)

        return judging.find_rule(recipe, said(wanted.mask), token, said(wanted.no) if wanted.no else None)

    return latest().newest("find-rule", find)


@ROUTES.post("/api/find-rule/errors.png")
def errors() -> Response:
    wanted = body(_Errors)
    return image(shop().judging.errors_png(recipe_of(wanted.recipe), wanted.mask, wanted.found))


class _Taken(_Errors):
    called: str = Field(min_length=1, max_length=80)


@ROUTES.post("/api/find-rule/taken")
def take_rule() -> TakenRule:
    wanted = body(_Taken)
    recipe, judging = recipe_of(wanted.recipe), shop().judging
    return latest().newest(
        "find-rule", lambda token: judging.taken(recipe, wanted.mask, wanted.found, wanted.called, token)
    )


class _Patch(Body):
    recipe: dict[str, Any]
    file: ContentName
    patch: Patch | None = None


class _Match(_Patch):
    layer: PartId
    seen_as: As = "lit"


@ROUTES.post("/api/references", 201)
def bring_reference() -> Reference:
    name, data = uploaded("a photograph (PNG, JPEG, TIFF or WebP)", MOST_BYTES)
    return shop().references.bring(name, data, new_id())


@ROUTES.get("/api/references/<file>.png")
def photograph(file: str) -> Response:
    return image(shop().references.file(file), keep=True)


@ROUTES.post("/api/references/facts")
def reference_facts() -> ReferenceFacts:
    wanted = body(_Patch)
    recipe, references = recipe_of(wanted.recipe), shop().references
    return latest().newest("reference", lambda token: references.facts(recipe, wanted.file, wanted.patch, token))


@ROUTES.post("/api/references/match")
def match() -> MatchedLook:
    wanted = body(_Match)
    recipe, references = recipe_of(wanted.recipe), shop().references
    return latest().newest(
        "match",
        lambda token: references.match(recipe, wanted.layer, wanted.file, wanted.patch, wanted.seen_as, token),
    )


class _Pictured(Body):
    """A picture of a site as it is, or would be."""

    recipe: dict[str, Any]
    stand: StandName
    width_px: int = Field(ge=16, le=2048)
    height_px: int = Field(ge=16, le=2048)


@ROUTES.post("/api/strip.png")
def strip() -> Response:
    """One of the strip's pictures: the site with one of the values; finer when at rest."""
    wanted = body(PictureAsked)
    recipe = recipe_of(wanted.recipe)

    def make(token: Token) -> bytes:
        (taken,) = wanted.take(recipe, [wanted.view()], token)
        return png.encode(taken.pixels)

    return latest().newest("strip", lambda token: image(make(token)))


class _Beside(_Pictured):
    """``other`` is the site that is looked at beside ``recipe``; with ``difference`` how far apart both look."""

    other: dict[str, Any]
    difference: bool = False


@ROUTES.post("/api/beside.png")
def beside() -> Response:
    wanted = body(_Beside)
    recipe, other = recipe_of(wanted.recipe), recipe_of(wanted.other)
    view, pictures = View(wanted.stand, wanted.width_px, wanted.height_px), shop().pictures

    def make(token: Token) -> Response:
        second = pictures.take(other, view, token).pixels
        if not wanted.difference:
            return image(png.encode(second))
        first = pictures.take(recipe, view, token).pixels
        found = difference(first, second)
        answer = image(png.encode(found.pixels))
        answer.headers["X-Mean-Difference"] = f"{found.mean:.4f}"
        answer.headers["X-Seen"] = f"{found.seen:.5f}"
        return answer

    return latest().newest(f"beside/{wanted.stand}", make)
