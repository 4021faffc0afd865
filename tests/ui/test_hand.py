"""Under the hand: numbers follow at once, pictures as fast as the server, and what rests a fresh page shows alike."""

from __future__ import annotations

import re
import time

import pytest
from playwright.sync_api import Page, Request, Route, expect

from tests.ui.acts import STANDS, drag, open_cover, rested

pytestmark = pytest.mark.browser

_DRAWN = "(stand) => document.querySelector(`[data-stand=${stand}] canvas`).toDataURL()"


def drawn(page: Page) -> list[str]:
    """The pictures bit by bit, as they were drawn."""
    return [page.evaluate(_DRAWN, stand) for stand in STANDS]


def test_what_rests_after_a_drag_is_what_a_fresh_page_shows_and_little_was_sent_for_it(page: Page) -> None:
    open_cover(page)
    before, asked = drawn(page), list[Request]()
    page.on("request", lambda one: asked.append(one) if one.url.endswith("/api/frame") else None)
    drag(page, page.get_by_role("spinbutton", name="Slate bedrock, steeper than", exact=True), 60)
    rested(page)
    moving = [
        one
        for one in asked
        if '"resting":false' in (one.post_data or "") and "making_ready" not in (one.post_data or "")
    ]
    assert len(moving) >= 1
    assert max(len(one.post_data_buffer or b"") for one in asked) < 2000
    after = drawn(page)
    assert all(one != other for one, other in zip(before, after, strict=True))
    page.reload()
    rested(page)
    assert drawn(page) == after
    # nothing changed: nothing is asked
    asked.clear()
    page.get_by_role("button", name=re.compile(r"^Layer \d+, Slate bedrock")).click()
    page.mouse.move(600, 300)
    rested(page)
    assert [one for one in asked if "making_ready" not in (one.post_data or "")] == []


def test_a_press_that_shakes_is_a_click_and_what_it_showed_is_dropped(page: Page) -> None:
    open_cover(page)
    before, asked = drawn(page), list[Request]()
    page.on("request", lambda one: asked.append(one) if one.url.endswith(("/api/frame", "/recipe")) else None)
    limit = page.get_by_role("spinbutton", name="Slate bedrock, steeper than", exact=True)
    said, box = limit.get_attribute("aria-valuetext"), limit.bounding_box()
    assert box is not None
    x, y = box["x"] + box["width"] / 2, box["y"] + box["height"] / 2
    page.mouse.move(x, y)
    page.mouse.down()
    page.mouse.move(x + 2, y)
    # it follows from the first pixel: no picture waits until this is sure to be a drag
    expect(limit).not_to_have_attribute("aria-valuetext", said or "")
    expect(page.locator("[data-stand=near][data-resting=false]")).to_be_visible()
    assert any('"resting":false' in (one.post_data or "") for one in asked)
    page.mouse.up()
    field = page.get_by_role("textbox", name="Slate bedrock, steeper than")
    expect(field).to_have_value((said or "").split(" ")[0])
    page.keyboard.press("Escape")
    expect(limit).to_have_attribute("aria-valuetext", said or "")
    rested(page)
    assert drawn(page) == before
    assert [one for one in asked if one.url.endswith("/recipe")] == [], "nothing was kept"


def test_a_slow_server_does_not_make_the_hand_wait_and_pictures_never_go_back(page: Page) -> None:
    open_cover(page)

    seconds = 0.5

    def late(route: Route) -> None:
        time.sleep(seconds)
        route.continue_()

    page.route("**/api/frame", late)
    limit = page.get_by_role("spinbutton", name="Slate bedrock, steeper than", exact=True)
    box = limit.bounding_box()
    assert box is not None
    x, y = box["x"] + box["width"] / 2, box["y"] + box["height"] / 2
    page.mouse.move(x, y)
    page.mouse.down()
    said = []
    for k in range(1, 11):
        page.mouse.move(x + 12 * k, y)
        said.append(limit.get_attribute("aria-valuetext"))
    # each move is told before the next, while not one picture can have come
    assert len(set(said)) == len(said)
    page.mouse.up()
    rested(page)
    seconds = 0.15
    # each step of the wheel comes nearer: a picture that came late would tell a greater distance again
    page.evaluate(
        """() => {
          window.told = [];
          const far = document.querySelector('[data-stand=far]');
          const label = () => far.querySelector('canvas').getAttribute('aria-label');
          const note = () => window.told.push(parseFloat(label().split('from ')[1]));
          new MutationObserver(note).observe(far, {subtree: true, attributes: true, attributeFilter: ['aria-label']});
        }"""
    )
    far = page.locator("[data-stand=far]").bounding_box()
    assert far is not None
    page.mouse.move(far["x"] + 200, far["y"] + 250)
    for _ in range(16):
        page.mouse.wheel(0, -60)
        page.wait_for_timeout(120)
    page.unroute("**/api/frame", late)
    rested(page)
    told = page.evaluate("window.told")
    assert len(set(told)) >= 3
    assert told == sorted(told, reverse=True)
    page.locator("header").first.click(position={"x": 860, "y": 8})
    expect(page.get_by_role("button", name=re.compile("^Undo: moved Far"))).to_be_visible()


def test_a_lost_connection_is_told_and_pictures_come_when_it_is_back(page: Page) -> None:
    open_cover(page)
    page.route("**/api/frame", lambda route: route.abort())
    page.locator("[data-stand=far]").focus()
    page.keyboard.press("ArrowLeft")
    expect(page.locator("[data-stand=far]").get_by_text("The server does not answer")).to_be_visible()
    page.unroute("**/api/frame")
    rested(page)
    expect(page.locator("[data-stand=far]").get_by_text("The server does not answer")).not_to_be_visible()
