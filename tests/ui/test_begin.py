"""Whatever an "add" menu offers is begun in the browser, kept by the server, and is as Python begins it."""

from __future__ import annotations

import re
from collections.abc import Callable
from typing import Any

import pytest
from playwright.sync_api import Page, Response

from elvatch.app.catalogue import catalogue
from elvatch.core.document.clause import kinds
from elvatch.core.ground.measures import NAMES
from elvatch.core.stock.overlays import OVERLAYS
from tests.ui.acts import open_cover, rested
from tests.ui.test_ground_room import make_terrain
from tests.ui.test_hand_off import open_hand_off

pytestmark = pytest.mark.browser

_OWN = {"id", "mask", "path", "layer", "called", "name", "seed", "sample_m"}
"""What only whoever begins something can give."""


def _kept(response: Response) -> bool:
    return response.request.method == "PUT" and response.url.endswith("/recipe")


def _whole_facts(response: Response) -> bool:
    if not response.url.endswith("/api/ground/facts") or not response.ok:
        return False
    asked = response.request.post_data_json
    return asked is not None and not asked["preview"]


def begun(page: Page, press: Callable[[], None], parts: Callable[[Any], list[Any]]) -> dict[str, Any]:
    """Press something, and return the part that the recipe kept has more; the page then takes it back."""
    with page.expect_response(_kept) as answer:
        press()
    assert answer.value.status == 200, answer.value.text()
    state: dict[str, Any] = answer.value.json()
    # what painting and paths begin takes the hand along
    page.keyboard.press("Escape")
    page.get_by_role("heading", level=1).first.or_(page.locator("header")).first.click(position={"x": 4, "y": 4})
    with page.expect_response(lambda one: one.url.endswith("/undo")) as undone:
        page.keyboard.press("Control+z")
    before = parts(undone.value.json()["recipe"])
    (new,) = [one for one in parts(state["recipe"]) if one not in before]
    part: dict[str, Any] = new
    return part


def clauses_of(recipe: Any) -> list[Any]:
    (layer,) = [one for one in recipe["layers"] if one["name"] == "Slate scree"]
    found: list[Any] = layer["rule"]["clauses"]
    return found


def plain(of: dict[str, Any]) -> dict[str, Any]:
    return {key: value for key, value in of.items() if key not in _OWN}


def test_every_clause_that_can_be_added_is_kept_as_python_begins_it(page: Page) -> None:
    with page.expect_response(lambda one: one.url.endswith("/api/ground/facts") and one.ok) as told:
        open_cover(page, "Slate scree")
    measured = told.value.json()["begin"]["limits"]
    named = {kind.name: "Facing" if kind.name == "aspect" else kind.title for kind in catalogue().measures}
    others = {
        "Noise": "noise",
        "Break-up": "noise",
        "Paint in": "painted",
        "Paint out": "painted",
        "Along a path": "path",
        "Not on a path": "path",
        "Slate bedrock": "layer",
    }

    def add(label: str) -> dict[str, Any]:
        def press() -> None:
            page.get_by_role("button", name="Add a clause", exact=True).click()
            page.get_by_role("dialog").get_by_role("button", name=label, exact=True).click()

        return begun(page, press, clauses_of)

    begun_by = {one.kind_name(): one.begun() for one in kinds() if one.reads not in ("measure", "place on a thing")}
    for name in NAMES:
        clause = add(named[name])
        assert {key: clause[key] for key in measured[name]} == measured[name], name
        assert clause["join"] == "and"
    for label, kind in others.items():
        clause, expected = add(label), begun_by[kind].model_dump(mode="json")
        if label in ("Paint in", "Along a path"):
            expected["join"] = "add"
        if label in ("Paint out", "Not on a path"):
            expected["join"] = "except"
        if label == "Break-up":
            expected["join"] = "break-up"
        assert plain(clause) == plain(expected), label


def test_every_wear_that_can_be_laid_is_kept(page: Page) -> None:
    open_cover(page)
    for what, kind in OVERLAYS.items():

        def press(title: str = kind.title) -> None:
            page.get_by_role("button", name="Lay wear", exact=True).click()
            page.get_by_role("dialog").get_by_role("button", name=re.compile(rf"^{re.escape(title)}")).first.click()

        top = begun(page, press, lambda recipe: recipe["wears"])
        assert (top["source"]["what"], top["lie"]["tile_m"]) == (what, kind.tile_m)
    rested(page)


def test_every_step_that_can_be_added_is_kept_as_python_begins_it_on_this_ground(page: Page) -> None:
    # the site that is made is asked about as a preview first, and then as a whole
    with page.expect_response(_whole_facts) as told:
        make_terrain(page)
    steps = told.value.json()["begin"]["steps"]
    for kind in catalogue().steps:

        def press(title: str = kind.title) -> None:
            page.get_by_role("button", name="Add a step", exact=True).click()
            page.get_by_role("dialog").get_by_role("button", name=re.compile(rf"^{title}\b")).first.click()

        new = begun(page, press, lambda recipe: recipe["ground"]["steps"])
        assert plain(new) == plain(steps[kind.kind])


def test_every_whole_thing_that_a_sheet_can_list_is_kept_as_python_begins_it(page: Page) -> None:
    open_hand_off(page, "Plain maps")
    for kind in catalogue().wholes:

        def press(title: str = kind.title) -> None:
            page.get_by_role("button", name="add an entry").click()
            page.get_by_role("dialog").get_by_role("button", name=title, exact=True).click()

        new = begun(page, press, lambda recipe: recipe["sheets"][0]["entries"])
        assert plain(new) == plain(kind.entry.model_dump(mode="json"))
