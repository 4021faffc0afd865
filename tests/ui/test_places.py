"""Boundaries, bands and beginnings as a person sets them, and what they see of it."""

from __future__ import annotations

import re

import pytest
from playwright.sync_api import Page, expect

from tests.ui.acts import changed, open_cover, pixels, rested, unfold
from tests.ui.test_hand_off import typed

pytestmark = pytest.mark.browser


def test_a_boundary_fingers_and_carries_a_strip(page: Page) -> None:
    open_cover(page, "Rough grass")
    unfold(page, "Edge")
    look = page.get_by_label("Look", exact=True)
    fingers = look.get_by_role("spinbutton", name="Fingers")
    expect(fingers).to_be_visible()
    fingered = pixels(page, "far")
    fingers.focus()
    page.keyboard.press("Enter")
    page.keyboard.type("0")
    page.keyboard.press("Enter")
    expect(page.get_by_role("button", name="Undo: Rough grass: fingers")).to_be_visible()
    # at rest: a coarse picture on the way differs everywhere
    rested(page)
    assert changed(fingered, pixels(page, "far")) > 0.001
    # without fingers there is no size of them to set
    expect(look.get_by_role("spinbutton", name="…size")).to_have_count(0)
    smooth = pixels(page, "far")
    look.get_by_label("Strip of").select_option(label="Pebbles")
    expect(page.get_by_role("button", name="Undo: Rough grass: a strip of Pebbles along its edge")).to_be_visible()
    strip = look.get_by_role("spinbutton", name="Strip", exact=True)
    strip.focus()
    page.keyboard.press("Enter")
    page.keyboard.type("1")
    page.keyboard.press("Enter")
    expect(page.get_by_role("button", name="Undo: Rough grass: strip")).to_be_visible()
    rested(page)
    assert changed(smooth, pixels(page, "far")) > 0.003


def test_what_lies_between_limits_comes_again_and_again(page: Page) -> None:
    open_cover(page, "Shore bands")
    expect(page.get_by_text("Shore bands lies on ground")).to_contain_text("again every 6.4 m")
    rested(page)
    many = page.locator("aside li").filter(has_text="Shore bands").locator("[data-share]").inner_text()
    page.get_by_role("button", name="above", exact=True).first.click()
    panel = page.get_by_role("dialog", name="Clause of Shore bands")
    panel.get_by_role("button", name="once", exact=True).click()
    expect(page.get_by_role("button", name="Undo: Shore bands: elevation, once, not in bands")).to_be_visible()
    expect(page.get_by_text("Shore bands lies on ground")).not_to_contain_text("again every")
    rested(page)
    once = page.locator("aside li").filter(has_text="Shore bands").locator("[data-share]").inner_text()
    assert float(once.rstrip("%")) < float(many.rstrip("%"))
    panel.get_by_role("button", name="Again and again …").click()
    expect(panel.get_by_role("spinbutton", name="Again every")).to_be_visible()
    expect(page.get_by_text("Shore bands lies on ground")).to_contain_text("again every")


def test_a_made_site_begins_as_a_place_or_empty(page: Page) -> None:
    for empty, layers in ((False, 5), (True, 0)):
        page.goto(page.url.split("#")[0])
        page.get_by_role("button", name="Make a terrain, a slab or a face").click()
        page.get_by_label("Name of the site").fill("Empty" if empty else "Begun")
        page.get_by_role("radio", name="257").click()
        if empty:
            page.get_by_label("Begin empty").check()
        page.get_by_role("button", name="Make the site").click()
        expect(page).to_have_url(re.compile(r"#/site/.*/ground"), timeout=60_000)
        page.get_by_role("link", name="Cover").click()
        expect(page.locator("aside li")).to_have_count(layers)
    expect(page.get_by_text("Nothing lies on this ground yet.")).to_be_visible()


def test_a_face_stands_upright_and_is_lit_as_it_faces(page: Page) -> None:
    page.goto(page.url.split("#")[0])
    page.get_by_role("button", name="Make a terrain, a slab or a face").click()
    page.get_by_role("radio", name="Upright face").click()
    expect(page.get_by_label("Name of the site")).to_have_value("New face")
    page.get_by_label("Height (m)").fill("6")
    page.get_by_role("radio", name="257").click()
    page.get_by_label("Begin empty").check()
    page.get_by_role("button", name="Make the site").click()
    expect(page).to_have_url(re.compile(r"#/site/.*/ground"), timeout=60_000)
    expect(page.get_by_role("radio", name="It stands upright")).to_be_checked()
    faces = page.get_by_role("spinbutton", name="Faces")
    expect(faces).to_have_attribute("aria-valuenow", "180")
    # nothing on it lies to the north: it runs along and up
    page.locator("[data-map] svg").hover(position={"x": 80, "y": 60})
    expect(page.locator("[data-pointed]")).to_have_text(re.compile(r"^\d+ along \d+ up · "))
    page.get_by_role("link", name="Cover").click()
    rested(page)
    seen = pixels(page, "far")
    # sky above it, ground before it, a figure at the peg
    assert seen[0, :, 2].mean() > seen[0, :, 0].mean() + 15
    page.get_by_role("link", name="Ground").click()
    typed(page, "Faces", "0")
    expect(page.get_by_role("button", name="Undo: face: faces")).to_be_visible()
    page.get_by_role("link", name="Cover").click()
    rested(page)
    # who looks at it goes round with it; the sun stays where it is, behind it now
    assert changed(seen, pixels(page, "far")) > 0.2
    page.keyboard.press("Control+z")
    expect(page.get_by_role("button", name="Undo", exact=False).first).to_be_visible()
    rested(page)
    assert changed(seen, pixels(page, "far")) < 0.002


def test_a_site_that_is_left_and_opened_again_is_shown_again(page: Page) -> None:
    open_cover(page)
    seen = pixels(page, "far")
    page.get_by_role("link", name="Elvatch").click()
    expect(page.get_by_role("heading", name="Sites")).to_be_visible()
    page.get_by_role("link", name="Open", exact=True).first.click()
    rested(page)
    assert changed(seen, pixels(page, "far")) == 0
    page.get_by_role("link", name="Elvatch").click()
    page.get_by_role("link", name="Open", exact=True).first.click()
    page.get_by_role("link", name="Ground").click()
    expect(page.get_by_text("Drawing the map…")).to_have_count(0)
