"""Findings: what is odd about a site, and what mends it."""

from __future__ import annotations

from typing import Any

from pydantic import Field

from elvatch.app.judging import Findings, MendedSite
from elvatch.web.answers import Body, Routes, body
from elvatch.web.here import latest, recipe_of, shop

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
