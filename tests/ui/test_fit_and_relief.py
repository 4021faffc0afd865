"""Fit and relief by hand: projection, repeats, the texture dragged on the ground, legends, the cut under a boot."""

from __future__ import annotations

import re

import pytest
from playwright.sync_api import Page, expect

from tests.ui.acts import at, changed, open_cover, pixels, rested, unfold, until

pytestmark = pytest.mark.browser


def repeats(page: Page) -> list[float]:
    """The four figures beside the control: far before and after, nearer before and after."""
    expect(page.locator("[data-repetition]")).to_have_text(re.compile(r"repeat .* nearer"))
    return [float(v) for v in re.findall(r"\d\.\d+", page.locator("[data-repetition]").inner_text())]


def number(page: Page, name: str) -> float:
    return float(page.get_by_role("spinbutton", name=name, exact=True).get_attribute("aria-valuenow") or "nan")


def test_repeats_are_switched_off_and_on_and_told_beside_the_control(page: Page) -> None:
    open_cover(page, "Cracked mud")
    expect(page.get_by_role("button", name="Against repeats turned")).to_be_visible()
    unfold(page, "Against repeats")
    shown = repeats(page)
    assert shown[1] < shown[0] / 5
    before = pixels(page, "mid")
    page.get_by_role("radio", name="Off", exact=True).click()
    expect(page.get_by_role("button", name="Undo: Cracked mud: against repeats: none")).to_be_visible()
    rested(page)
    expect(page.locator("[data-repetition]")).to_have_text(re.compile(r"repeat (\d\.\d+) → \1 far"))
    assert changed(before, pixels(page, "mid")) > 0.05
    page.keyboard.press("Control+z")
    expect(page.get_by_role("button", name="Undo: Cracked mud: against repeats: none")).to_have_count(0)
    rested(page)
    assert changed(before, pixels(page, "mid")) == 0


def test_the_texture_goes_where_the_hand_drags_it_and_turns_with_shift(page: Page) -> None:
    open_cover(page, "Cracked mud")
    rested(page)
    before = pixels(page, "near")
    page.keyboard.press("f")
    x, y = at(page, "near", 0.3, 0.75)
    page.mouse.move(x, y)
    page.mouse.down()
    page.mouse.move(x + 60, y + 12, steps=8)
    expect(page.get_by_text(re.compile(r"drag it on the ground.* -?0\.00 m E, -?0\.00 m N"))).to_have_count(0)
    assert until(page, lambda: changed(before, pixels(page, "near")), 0.05) > 0.05, "it follows while it is dragged"
    page.mouse.up()
    expect(page.get_by_role("button", name="Undo: Cracked mud: moved on the ground")).to_be_visible()
    unfold(page, "Place")
    moved = abs(number(page, "East")) + abs(number(page, "North"))
    assert 0.05 < moved < 3
    page.keyboard.down("Shift")
    page.mouse.move(x, y)
    page.mouse.down()
    page.mouse.move(x + 50, y, steps=5)
    page.mouse.up()
    page.keyboard.up("Shift")
    expect(page.get_by_role("button", name="Undo: Cracked mud: turned on the ground")).to_be_visible()
    page.get_by_role("button", name="Set's own size").click()
    expect(page.get_by_role("button", name="Undo: Cracked mud: the set's own size")).to_be_visible()
    assert number(page, "East") == 0
    page.keyboard.press("Control+z")
    unfold(page, "Size")
    assert number(page, "Turn") == pytest.approx(-20, abs=1)
    page.keyboard.press("Control+Shift+z")
    expect(page.get_by_role("button", name="Undo: Cracked mud: the set's own size")).to_be_visible()
    assert (number(page, "Turn"), number(page, "Tile")) == (0, 2.5)


def test_projection_brings_its_own_controls_and_stretch_is_told_under_the_pointer(page: Page) -> None:
    open_cover(page, "Slate bedrock")
    expect(page.get_by_role("button", name="Projection triplanar")).to_be_visible()
    unfold(page, "Projection")
    expect(page.get_by_role("radio", name="Triplanar")).to_have_attribute("aria-checked", "true")
    expect(page.get_by_role("slider", name="Plane edge")).to_be_visible()
    page.get_by_role("radio", name="Stretch").click()
    rested(page)
    page.get_by_role("radio", name="Downhill", exact=True).click()
    expect(page.get_by_role("slider", name="Plane edge")).to_have_count(0)
    rested(page)
    before = pixels(page, "far")
    page.get_by_role("radio", name="Above", exact=True).click()
    expect(page.get_by_role("button", name="Undo: Slate bedrock: projected above")).to_be_visible()
    rested(page)
    assert changed(before, pixels(page, "far")) > 0.01, "steep rock smears from above"
    page.mouse.move(*at(page, "near", 0.3, 0.8))
    expect(page.get_by_role("group", name="Legend")).to_contain_text(re.compile(r"here 1\.0\d ×"))
    page.get_by_role("radio", name="Side", exact=True).click()
    expect(page.get_by_role("slider", name="Faces")).to_be_visible()


def test_relief_is_raised_and_the_figures_and_the_boot_follow(page: Page) -> None:
    open_cover(page, "Cracked mud")
    page.get_by_role("tab", name="Relief").click()
    figures = page.locator("[data-relief]")
    expect(figures).to_contain_text("mm to")
    first = figures.inner_text()
    before = pixels(page, "near")
    page.get_by_role("spinbutton", name="Relief", exact=True).press("Enter")
    page.get_by_label("Relief, m", exact=True).fill("0.3")
    page.keyboard.press("Enter")
    expect(page.get_by_role("button", name="Undo: Cracked mud: relief")).to_be_visible()
    expect(figures).not_to_have_text(first)
    rested(page)
    assert changed(before, pixels(page, "near")) > 0.1
    expect(page.locator("[data-stand=near]")).to_contain_text(re.compile(r"feet −?\d"))
    page.get_by_role("button", name="at a boot's scale").click()
    cut = page.get_by_role("img", name=re.compile("Cut of 3.0 m through the peg"))
    expect(cut).to_be_visible()
    expect(page.locator("[data-sole]")).to_have_count(1)
    page.get_by_role("radio", name="On top").click()
    expect(page.get_by_role("button", name="Undo: Cracked mud: relief on top")).to_be_visible()
    page.get_by_role("button", name="whole site").click()
    expect(page.get_by_role("img", name=re.compile("Transect through the peg"))).to_be_visible()
