"""Wear by hand: laid, made stronger, held away, looked at alone, moved in the column; snapshots compared."""

from __future__ import annotations

import re

import numpy as np
import pytest
from playwright.sync_api import Page, expect

from tests.ui.acts import changed, drag, pixels, rested, until

pytestmark = pytest.mark.browser


def open_apron(page: Page) -> None:
    page.get_by_role("listitem").filter(has_text="Spillway apron").get_by_role(
        "link", name="Open", exact=True
    ).click()
    rested(page)


def lay(page: Page, kind: str) -> None:
    page.get_by_role("button", name="Lay wear").click()
    page.get_by_role("button", name=re.compile(f"^{kind}")).click()
    expect(page.get_by_role("button", name=f"Wear {kind}, selected")).to_be_visible()


def test_wear_is_laid_timid_made_stronger_and_held_away(page: Page) -> None:
    open_apron(page)
    before = pixels(page, "near")
    lay(page, "Dust")
    rested(page)
    timid = pixels(page, "near")
    assert 0 < np.abs(before - timid).mean() < 6, "it begins timid"
    expect(page.locator("[data-told]")).to_have_text(re.compile(r"lightness 0\.\d+ to 0\.\d+ on .*% of the ground"))
    colour = page.get_by_role("region", name="Effects").get_by_role("spinbutton", name="Strength")
    colour.nth(1).click()
    page.keyboard.type("1")
    page.keyboard.press("Enter")
    expect(page.get_by_role("button", name="Undo: Dust: strength of colour")).to_be_visible()
    rested(page)
    strong = pixels(page, "near")
    assert np.abs(before - strong).mean() > 5 * np.abs(before - timid).mean()
    page.locator("[data-stand=near]").focus()
    page.keyboard.down("w")
    expect(page.get_by_text("without the wear")).to_be_visible()
    rested(page)
    assert changed(before, pixels(page, "near")) == 0
    page.keyboard.up("w")
    expect(page.get_by_text("without the wear")).to_have_count(0)


def tenth(page: Page) -> None:
    """The first tenth of a strength's way is its first hundredth."""
    effects = page.get_by_role("region", name="Effects")
    effects.get_by_role("slider", name="Strength").first.focus()
    page.keyboard.press("Home")
    for _ in range(10):
        page.keyboard.press("PageUp")
    expect(effects.get_by_role("spinbutton", name="Strength").first).to_have_attribute("aria-valuenow", "0.01")


def test_a_strength_is_fine_and_an_overlay_and_its_mask_are_looked_at_alone(page: Page) -> None:
    open_apron(page)
    page.get_by_role("button", name="Wear Damp patches").click()
    tenth(page)
    page.get_by_role("radio", name="Overlay").click()
    rested(page)
    alone = pixels(page, "near")
    assert (spread(alone) < 4).mean() > 0.99, "grey, unlit"
    page.get_by_role("checkbox", name="Dark marks count").click()
    expect(page.get_by_role("button", name="Undo: Damp patches: dark marks count")).to_be_visible()
    rested(page)
    turned = pixels(page, "near")
    ground = ground_of(turned, alone)
    assert abs((alone + turned)[ground].mean() - 255) < 3
    page.get_by_role("button", name="Wear Boot prints").click()
    expect(page.get_by_role("radio", name="A path", exact=True)).to_have_count(0)
    page.get_by_role("tab", name="Fit").click()
    expect(page.get_by_role("combobox", name="Path that it follows")).to_be_visible()


def test_a_drawing_is_tuned_by_eye_and_a_slider_brought_back_leaves_all_as_it_was(page: Page) -> None:
    open_apron(page)
    page.get_by_role("button", name="Wear Hairline cracks").click()
    page.get_by_role("radio", name="Overlay").click()
    rested(page)
    before = pixels(page, "mid")
    spacing = page.get_by_role("slider", name="spacing")
    spacing.scroll_into_view_if_needed()
    number = page.get_by_role("spinbutton", name="spacing")
    first = number.get_attribute("aria-valuenow") or ""
    box = spacing.bounding_box()
    assert box is not None
    drag(page, spacing, -30, hold=True)
    expect(number).not_to_have_attribute("aria-valuenow", first)
    assert until(page, lambda: changed(before, pixels(page, "mid")), 0.02) > 0.02, "it follows while it moves"
    expect(page.get_by_role("button", name="Undo: worn in")).to_be_visible()
    page.mouse.move(box["x"] + box["width"] / 2, box["y"] + box["height"] / 2)
    expect(number).to_have_attribute("aria-valuenow", first)
    page.mouse.up()
    rested(page)
    assert changed(before, pixels(page, "mid")) == 0
    expect(page.get_by_role("button", name="Undo: worn in")).to_be_visible()


def test_the_cut_under_a_boot_follows_what_wear_carves(page: Page) -> None:
    open_apron(page)
    page.get_by_role("button", name="at a boot's scale").click()
    page.get_by_role("button", name="Wear Hairline cracks").click()
    cut = page.get_by_role("img", name=re.compile("Cut of 3.0 m through the peg"))
    surface = cut.locator("path").first
    before = surface.get_attribute("d") or ""
    page.get_by_role("spinbutton", name="Depth").press("Enter")
    page.get_by_label("Depth, mm").fill("14")
    page.keyboard.press("Enter")
    expect(page.get_by_role("button", name="Undo: Hairline cracks: carve 14 mm")).to_be_visible()
    expect(surface).not_to_have_attribute("d", before)


def spread(shown: np.ndarray) -> np.ndarray:
    """How far apart the channels of each pixel are."""
    return np.asarray(shown.max(axis=2) - shown.min(axis=2))


def ground_of(one: np.ndarray, other: np.ndarray) -> np.ndarray:
    """Pixels that are not the grey backdrop in both."""
    return np.asarray((abs(one - other).max(axis=2) > 30) | (one.mean(axis=2) > 240) | (one.mean(axis=2) < 15))


def test_wear_is_moved_in_the_column_kept_and_laid_on_another_site(page: Page) -> None:
    open_apron(page)
    bands = "all => all.map((one) => one.dataset.wear)"
    assert page.locator("[data-wear]").evaluate_all(bands)[:2] == ["walked", "barrowed"]
    page.get_by_role("button", name="Wear Boot prints").click()
    page.get_by_role("button", name="Wear Boot prints, selected").press("Alt+ArrowDown")
    expect(page.get_by_role("button", name="Undo: moved Boot prints")).to_be_visible()
    assert page.locator("[data-wear]").evaluate_all(bands)[:2] == ["barrowed", "walked"]
    page.get_by_role("button", name="Wear Hairline cracks").click()
    page.get_by_role("button", name="More for Hairline cracks").click()
    page.get_by_role("textbox", name="Keep for other sites as").fill("My hairlines")
    page.get_by_role("button", name="Keep it").click()
    expect(page.get_by_text("Kept as My hairlines, for any site.")).to_be_visible()
    page.keyboard.press("Escape")
    page.get_by_title("All sites").click()
    page.get_by_role("listitem").filter(has_text="Vellin Water").get_by_role("link", name="Open", exact=True).click()
    page.get_by_role("button", name="Lay wear").click()
    page.get_by_role("button", name="My hairlines", exact=True).click()
    expect(page.get_by_role("button", name="Wear My hairlines, selected")).to_be_visible()
    expect(page.get_by_role("button", name="Undo: laid My hairlines")).to_be_visible()


def test_the_clean_state_is_compared_with_the_worn_one_and_gone_back_to(page: Page) -> None:
    open_apron(page)
    worn = pixels(page, "mid")
    page.get_by_role("button", name="Snapshots").click()
    expect(page.get_by_role("button", name="Take out Worn in")).to_be_visible()
    page.get_by_role("button", name="Compare", exact=True).first.click()
    expect(page.get_by_role("button", name="Comparing")).to_be_visible()
    page.keyboard.press("Escape")
    page.locator("[data-stand=mid]").focus()
    page.keyboard.down("c")
    expect(page.get_by_text("as in Clean")).to_be_visible()
    rested(page)
    clean = pixels(page, "mid")
    assert changed(worn, clean) > 0.02
    page.keyboard.up("c")
    expect(page.get_by_text("as in Clean")).to_have_count(0)
    page.get_by_role("button", name="Against Clean").click()
    page.get_by_role("button", name="Go back to it").first.click()
    expect(page.get_by_role("button", name="Undo: back to Clean")).to_be_visible()
    expect(page.locator("[data-wear]")).to_have_count(0)
    page.keyboard.press("Escape")
    rested(page)
    assert changed(clean, pixels(page, "mid")) == 0
    page.get_by_role("button", name="Grazing").click()
    expect(page.get_by_role("button", name="Undo: set grazing light")).to_be_visible()
