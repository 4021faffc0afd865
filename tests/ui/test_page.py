"""What a person does in the page, checked by what they would see: pixels, words, files."""

from __future__ import annotations

import functools
import re
from collections.abc import Callable
from pathlib import Path

import numpy as np
import pytest
from playwright.sync_api import Browser, Page, expect

from tests.serving import Served, serve
from tests.ui.acts import STANDS, at, changed, drag, open_cover, pixels, rested, row, until
from tests.watching import KEPT, seen, shown

pytestmark = pytest.mark.browser


def test_the_front_door_shows_the_demo_and_the_cover_room_fits_the_screen(page: Page) -> None:
    card = page.get_by_role("listitem").filter(has_text="Vellin Water")
    expect(card).to_contain_text("1.2 × 1.2 km · 17 steps · 12 layers")
    open_cover(page)
    column = page.locator("aside li")
    expect(column).to_have_count(12)
    expect(column.first).to_contain_text("Tyre marks")
    shares = [float(s.get_attribute("data-share") or 0) for s in page.locator("aside [data-share]").all()]
    assert sum(shares) == pytest.approx(1, abs=0.001)
    assert page.evaluate("document.documentElement.scrollHeight <= window.innerHeight")
    for stand in STANDS:
        assert pixels(page, stand).std() > 12, f"{stand} shows something"


def test_dragging_a_slope_limit_changes_all_pictures_while_it_moves_and_is_one_undo_step(page: Page) -> None:
    open_cover(page, "Cracked mud")
    before = {stand: pixels(page, stand) for stand in STANDS}
    share = row(page, "Cracked mud").locator("[data-share]")
    first_share = float(share.get_attribute("data-share") or 0)
    limit = page.get_by_role("spinbutton", name="Cracked mud, below", exact=True)
    expect(limit).to_have_attribute("aria-valuenow", "103")
    drag(page, limit, -80, hold=True)
    expect(limit).to_have_attribute("aria-valuenow", re.compile(r"^7\d(\.5)?$"))

    def follow(stand: str) -> float:
        return changed(before[stand], pixels(page, stand))

    for stand in STANDS:
        follows = until(page, functools.partial(follow, stand), 0.02)
        assert follows > 0.02, f"{stand} follows while dragging"
    expect(page.get_by_role("button", name="Undo: as it was")).to_be_visible()
    page.mouse.up()
    rested(page)
    assert first_share > 0.05
    assert float(share.get_attribute("data-share") or 0) == 0
    expect(row(page, "Cracked mud")).to_contain_text(re.compile(r"nothing here is below 7\d"))
    expect(page.get_by_role("button", name=re.compile(r"Undo: Cracked mud: below 7\d\.\d m"))).to_be_visible()
    page.keyboard.press("Control+z")
    expect(limit).to_have_attribute("aria-valuenow", "103")
    rested(page)
    for stand in STANDS:
        assert changed(before[stand], pixels(page, stand)) < 0.001, f"{stand} is as it was"
    expect(page.get_by_role("button", name="Undo: as it was")).to_be_visible()
    page.keyboard.press("Control+Shift+z")
    expect(limit).to_have_attribute("aria-valuenow", re.compile(r"^7\d"))
    page.reload()
    rested(page)
    page.get_by_role("button", name=re.compile(r"^Layer \d+, Cracked mud")).click()
    expect(limit).to_have_attribute("aria-valuenow", re.compile(r"^7\d"))


def test_what_a_stopped_server_could_not_keep_is_said_stays_and_is_kept_when_it_is_back(
    page: Page, mortal: Served, tmp_path: Path
) -> None:
    page.goto(mortal.url)
    open_cover(page)
    strength = page.get_by_role("slider", name="Opacity")
    mortal.kill()
    strength.focus()
    page.keyboard.press("Home")
    expect(page.get_by_role("alert")).to_contain_text("The server does not answer")
    expect(page.get_by_text("not kept", exact=True)).to_be_visible()
    expect(strength).to_have_attribute("aria-valuenow", "0")
    back = serve(tmp_path / "served", mortal.port)
    try:
        page.get_by_role("button", name="Make my change again").click()
        rested(page)
        page.reload()
        rested(page)
        page.get_by_role("button", name=re.compile(r"^Layer \d+, Slate bedrock")).click()
        expect(strength).to_have_attribute("aria-valuenow", "0")
    finally:
        back.kill()


def test_numbers_are_typed_stepped_and_refused_with_what_was_typed_kept(page: Page) -> None:
    open_cover(page)
    tile = page.get_by_role("spinbutton", name="Tile", exact=True)
    tile.focus()
    page.keyboard.press("Enter")
    field = page.get_by_role("textbox", name="Tile, m")
    field.fill("9000")
    page.keyboard.press("Enter")
    expect(page.get_by_role("alert")).to_contain_text("expected 0.05 to 200.00 m")
    expect(field).to_have_value("9000")
    field.fill("6,5 m")
    page.keyboard.press("Enter")
    expect(tile).to_have_attribute("aria-valuetext", "6.50 m")
    tile.focus()
    page.keyboard.press("ArrowUp")
    expect(page.get_by_role("button", name="Undo: Slate bedrock: tile")).to_be_visible()
    expect(tile).to_have_attribute("aria-valuetext", "6.55 m")
    expect(page.get_by_role("region", name="Fit")).to_contain_text(f"{256 / 6.55:.0f} px/m · too coarse for Near")


def test_opacity_and_the_where_chart_change_what_is_seen(page: Page) -> None:
    open_cover(page, "Cracked mud")
    before = pixels(page, "near")  # most of it is mud
    page.get_by_role("slider", name="Opacity").focus()
    page.keyboard.press("Home")
    rested(page)
    expect(row(page, "Cracked mud")).to_contain_text("its opacity is 0")
    assert changed(before, pixels(page, "near")) > 0.1
    page.keyboard.press("Control+z")
    rested(page)
    drag(page, page.locator("[data-handle=elevation-lower]"), 0, -12)
    rested(page)
    above = page.get_by_role("spinbutton", name="Cracked mud, above", exact=True)
    assert 85 < float(above.get_attribute("aria-valuenow") or 0) < 103


def test_the_peg_moves_mid_and_near_and_leaves_far_alone(page: Page) -> None:
    open_cover(page)
    before = {stand: pixels(page, stand) for stand in STANDS}
    drag(page, page.get_by_role("button", name="The peg"), -120, 60)
    rested(page)
    assert changed(before["mid"], pixels(page, "mid")) > 0.2
    assert changed(before["near"], pixels(page, "near")) > 0.2
    expect(page.get_by_role("button", name="Undo: moved the peg")).to_be_visible()


def test_pictures_turn_move_in_and_take_the_whole_row(page: Page) -> None:
    open_cover(page)
    before = pixels(page, "near")
    near = page.locator("[data-stand=near]")
    drag(page, near, 60, 20)
    rested(page)
    assert changed(before, pixels(page, "near")) > 0.2
    expect(page.get_by_role("button", name="Undo: turned Near")).to_be_visible()
    near.focus()
    page.keyboard.press("+")
    expect(near).to_contain_text("3.9 m ·")
    near.dblclick(position={"x": 100, "y": 200})
    expect(page.locator("[data-stand=far]")).to_have_count(0)
    box = near.bounding_box()
    assert box is not None
    assert box["width"] > 1000
    near.dblclick(position={"x": 100, "y": 200})
    expect(page.locator("[data-stand=far]")).to_be_visible()
    page.locator("[data-stand=mid]").get_by_role("button", name="Widen").click()
    expect(near).to_have_count(0)
    page.get_by_role("button", name="All three").click()
    expect(near).to_be_visible()


def test_looking_modes_and_the_sun(page: Page) -> None:
    open_cover(page)
    lit = pixels(page, "mid")
    page.get_by_role("radio", name="Mask").click()
    rested(page)
    mask = pixels(page, "mid")
    assert np.abs(mask - mask.mean(axis=2, keepdims=True)).max() <= 2, "a mask is grey"
    assert changed(lit, mask) > 0.5
    page.get_by_role("radio", name="Lit").click()
    dial = page.get_by_role("application", name="Sun at bearing")
    drag(page, dial, 20, -4)
    rested(page)
    assert changed(lit, pixels(page, "mid")) > 0.1
    expect(page.get_by_role("button", name="Undo: moved the sun")).to_be_visible()


def test_layers_are_laid_reordered_hidden_and_removed(page: Page) -> None:
    open_cover(page)
    page.get_by_role("button", name="Lay a layer").click()
    page.get_by_role("dialog").get_by_role("button", name="Wet silt").first.click()
    rows = page.locator("aside li")
    expect(rows).to_have_count(13)
    # it begins where water gathers, and says what it takes
    told = page.get_by_text("Wet silt lies on ground wetter than")
    expect(told).to_contain_text(re.compile(r"It takes [\d.]+% of the ground"))
    expect(rows.first.locator("[data-share]")).not_to_have_text("100%")
    page.get_by_role("button", name="Lie everywhere").click()
    expect(rows.first.locator("[data-share]")).to_have_text("100%")
    expect(page.get_by_text("Wet silt lies everywhere.")).to_be_visible()
    page.get_by_role("button", name="Add a clause").click()
    page.get_by_role("dialog").get_by_role("button", name="Slope", exact=True).click()
    expect(page.get_by_role("spinbutton", name="Wet silt, steeper than", exact=True)).to_be_visible()
    page.get_by_role("button", name=re.compile("Layer 13, Wet silt")).focus()
    page.keyboard.press("Alt+ArrowDown")
    expect(rows.nth(1)).to_contain_text("Wet silt")
    handle = page.get_by_role("button", name=re.compile("Layer 12, Wet silt"))
    rested(page)  # the strata have taken their thickness: nothing shifts under the pointer
    here, other = handle.bounding_box(), rows.nth(3).bounding_box()
    assert here is not None
    assert other is not None
    drag(page, handle, 0, other["y"] + other["height"] - 4 - here["y"] - here["height"] / 2)
    expect(page.get_by_role("button", name=re.compile("^Undo: moved Wet silt"))).to_be_visible()
    expect(rows.nth(1)).not_to_contain_text("Wet silt")
    expect(page.get_by_role("button", name=re.compile("Layer 10, Wet silt"))).to_be_visible()
    page.get_by_role("button", name="More for Wet silt").click()
    page.get_by_role("button", name="Remove").click()
    expect(rows).to_have_count(12)


def test_a_new_site_from_a_file_whose_true_size_is_changed_later(page: Page, height_png: Callable[..., Path]) -> None:
    page.get_by_label("Height file").set_input_files(height_png("steep_hills.png"))
    form = page.get_by_role("form", name="New site")
    expect(form).to_contain_text("PNG, 16 bit")
    expect(form).to_contain_text("129 × 129")
    expect(form.get_by_label("Name of the site")).to_have_value("Steep hills")
    form.get_by_label("Width, east–west (m)").fill("-3")
    expect(form.get_by_role("alert")).to_contain_text("expected a width and a depth above 0 m")
    expect(form.get_by_role("button", name="Make the site")).to_be_disabled()
    form.get_by_label("Width, east–west (m)").fill("500")
    form.get_by_label("Depth, north–south (m)").fill("500")
    expect(form.locator("[data-consequence]")).to_contain_text(re.compile(r"steepest slope is \d+°, the mean \d+°"))
    form.get_by_role("button", name="Make the site").click()
    expect(page.locator("[data-map][data-resting=true] img")).to_be_visible()
    page.get_by_role("link", name="3Cover").click()
    rested(page)
    expect(page.get_by_role("banner")).to_contain_text("Steep hills500 × 500 m · 0–100 m")
    before = pixels(page, "far")
    assert before.std() > 12
    page.get_by_role("button", name="500 × 500 m · 0–100 m").click()
    size = page.get_by_role("dialog", name="True size")
    size.get_by_label("Highest value of the file").fill("-50")
    expect(size.get_by_role("alert")).to_contain_text("expected the highest above the lowest")
    expect(size.get_by_role("button", name="Change the size")).to_be_disabled()
    size.get_by_label("Highest value of the file").fill("250")
    size.get_by_role("button", name="Change the size").click()
    expect(page.get_by_role("button", name="500 × 500 m · 0–250 m")).to_be_visible()
    rested(page)
    assert changed(before, pixels(page, "far")) > 0.2
    page.keyboard.press("Control+z")
    expect(page.get_by_role("button", name="500 × 500 m · 0–100 m")).to_be_visible()
    rested(page)
    assert changed(before, pixels(page, "far")) < 0.001


def test_holding_b_shows_the_site_before_the_last_edit(page: Page) -> None:
    open_cover(page)
    before = pixels(page, "mid")
    page.get_by_role("button", name="Grazing").click()
    rested(page)
    assert changed(before, pixels(page, "mid")) > 0.2
    page.keyboard.down("b")
    expect(page.get_by_text("before the last edit")).to_be_visible()
    rested(page)
    assert changed(before, pixels(page, "mid")) < 0.001
    page.keyboard.up("b")
    expect(page.get_by_text("before the last edit")).to_have_count(0)
    rested(page)
    assert changed(before, pixels(page, "mid")) > 0.2


def test_a_clause_opens_onto_its_histogram_and_is_turned_round(page: Page) -> None:
    open_cover(page)
    share = row(page, "Slate bedrock").locator("[data-share]")
    before = float(share.get_attribute("data-share") or 0)
    page.get_by_role("button", name="steeper than", exact=True).click()
    panel = page.get_by_role("dialog", name="Clause of Slate bedrock")
    expect(panel.get_by_role("img", name="Histogram of slope")).to_be_visible()
    words = panel.get_by_text("lets in").inner_text()
    inside = float(re.findall(r"([\d.]+)%", words)[0]) / 100
    assert abs(inside - before) < 0.1
    panel.get_by_role("button", name="The opposite").click()
    rested(page)
    assert float(share.get_attribute("data-share") or 0) > 0.5
    panel.get_by_role("button", name="no limit").click()
    expect(page.get_by_text("of any slope")).to_be_visible()
    panel.get_by_role("button", name="Take out").click()
    expect(page.get_by_text("of any slope")).to_have_count(0)


def test_a_file_that_is_no_height_image_is_refused_in_words(page: Page, tmp_path: Path) -> None:
    path = tmp_path / "notes.png"
    path.write_text("these are notes")
    page.get_by_label("Height file").set_input_files(path)
    expect(page.get_by_role("alert")).to_contain_text(
        "notes.png: found a file that is no PNG, TIFF, EXR, NPY or ASCII grid inside"
    )
    expect(page.get_by_role("button", name="Make the site")).to_be_disabled()


def test_a_finer_screen_shows_the_same_pictures_with_pixels_of_its_own(page: Page, browser: Browser) -> None:
    open_cover(page)
    plain = pixels(page, "near")
    context = browser.new_context(viewport={"width": 1280, "height": 800}, device_scale_factor=2)
    fine_page = context.new_page()
    fine_page.set_default_timeout(90_000)
    fine_page.goto(page.url)
    rested(fine_page)
    fine = pixels(fine_page, "near")
    context.close()
    rows, cols = plain.shape[0], plain.shape[1]
    assert fine.shape[0] == pytest.approx(2 * rows, abs=2)
    fours = fine[: 2 * rows, : 2 * cols].reshape(rows, 2, cols, 2, 3)
    # it is the same picture, and no enlarged one: what four pixels show differs among them
    assert np.abs(fours.mean(axis=(1, 3)) - plain).mean() < 6
    assert np.abs(fours - fours.mean(axis=(1, 3), keepdims=True)).mean() > 5


def test_a_picture_wider_than_any_is_made_is_pointed_into(page: Page) -> None:
    open_cover(page)
    page.set_viewport_size({"width": 2560, "height": 900})
    page.locator("[data-stand=far]").get_by_role("button", name="Widen").click()
    far = page.locator("[data-stand=far] canvas")
    seen(page, KEPT, shown("[data-stand=far][data-resting=true]"))
    across, down, wide, high = far.evaluate("(one) => [one.width, one.height, one.clientWidth, one.clientHeight]")
    assert across < wide
    assert across / down == pytest.approx(wide / high, rel=0.01)
    page.keyboard.press("p")
    page.mouse.click(*at(page, "far", 0.5, 0.6))
    expect(page.get_by_role("region", name="Probe")).to_contain_text("Elevation")


def test_two_windows_on_one_site(page: Page, served: Served) -> None:
    open_cover(page)
    other = page.context.new_page()
    other.goto(page.url)
    rested(other)
    other.get_by_role("button", name=re.compile(r"^Layer \d+, Slate bedrock")).click()
    tile = "Tile"
    for one, size in ((other, "7"), (page, "8")):
        one.get_by_role("spinbutton", name=tile, exact=True).focus()
        one.keyboard.press("Enter")
        one.get_by_role("textbox", name="Tile, m").fill(size)
        one.keyboard.press("Enter")
        if one is other:
            expect(other.get_by_role("button", name="Undo: Slate bedrock: tile")).to_be_visible()
    expect(page.get_by_role("alert")).to_contain_text("changed in another window")
    expect(page.get_by_role("spinbutton", name=tile, exact=True)).to_have_attribute("aria-valuetext", "7.00 m")
    page.get_by_role("button", name="Make my change again").click()
    expect(page.get_by_role("spinbutton", name=tile, exact=True)).to_have_attribute("aria-valuetext", "8.00 m")
    expect(page.get_by_role("button", name="Undo: Slate bedrock: tile")).to_be_visible()
    page.get_by_role("button", name="Undo: Slate bedrock: tile").click()
    expect(page.get_by_role("spinbutton", name=tile, exact=True)).to_have_attribute("aria-valuetext", "7.00 m")


def test_everything_is_reached_by_keyboard_and_named(page: Page) -> None:
    open_cover(page)
    page.keyboard.press("?")
    expect(page.get_by_role("dialog", name="Keys")).to_contain_text("show the site as it was")
    page.keyboard.press("Escape")
    expect(page.get_by_role("dialog", name="Keys")).to_have_count(0)
    page.locator("body").focus()
    seen: set[str] = set()
    for _ in range(170):
        page.keyboard.press("Tab")
        name = page.evaluate(
            "(() => { const e = document.activeElement;"
            " return (e.getAttribute('aria-label') || e.textContent || e.title || '').trim(); })()"
        )
        assert name, "whatever takes the focus has a name"
        seen.add(name)
    for wanted in (
        "The peg",
        "Far picture",
        "Layer 1, Wet silt",
        "Tile",
        "Opacity",
        "Lit",
        "Light",
        "Sun at bearing",
    ):
        assert any(name.startswith(wanted) for name in seen), wanted


def test_peg_sun_and_sliders_are_worked_by_keys_alone(page: Page) -> None:
    open_cover(page)
    before = {stand: pixels(page, stand) for stand in STANDS}
    page.get_by_role("button", name="The peg").focus()
    for _ in range(3):
        page.keyboard.press("ArrowDown")
    expect(page.get_by_role("button", name="Undo: moved the peg")).to_be_visible()
    rested(page)
    assert changed(before["mid"], pixels(page, "mid")) > 0.05
    page.get_by_role("application", name="Sun at bearing 262°").focus()
    page.keyboard.press("ArrowUp")
    page.keyboard.press("ArrowRight")
    expect(page.get_by_role("application", name="Sun at bearing 267°, 32° high")).to_be_visible()
    expect(page.get_by_role("button", name="Undo: moved the sun")).to_be_visible()
    page.keyboard.press("k")
    page.keyboard.press("j")
    page.keyboard.press("j")
    expect(page.get_by_text("Where · layer 6")).to_be_visible()
    page.get_by_role("slider", name="Turn", exact=True).focus()
    page.keyboard.press("PageUp")
    expect(page.get_by_role("button", name="Undo: Slate scree: turn")).to_be_visible()
    page.get_by_label("Fit").get_by_role("button", name="Turn", exact=True).dblclick()
    expect(page.get_by_role("spinbutton", name="Turn", exact=True)).to_have_attribute("aria-valuetext", "0 °")


def test_a_file_dropped_in_the_cover_room_leads_nowhere(page: Page) -> None:
    open_cover(page)
    page.evaluate("""() => {
        const data = new DataTransfer();
        data.items.add(new File(["x"], "hill.png"));
        document.querySelector("main").dispatchEvent(
            new DragEvent("drop", { dataTransfer: data, bubbles: true, cancelable: true }));
    }""")
    expect(page.get_by_role("alert")).to_contain_text(
        "are dropped in Sites, texture sets in Stock. Nothing was changed."
    )
    page.get_by_role("button", name="Understood").click()
    expect(page.get_by_role("alert")).to_have_count(0)


def test_sites_are_named_copied_and_removed_on_their_cards(page: Page) -> None:
    cards = page.get_by_role("listitem")
    expect(cards).to_have_count(3)
    cards.filter(has_text="Vellin Water").get_by_role("button", name="Duplicate").click()
    expect(cards).to_have_count(4)
    copy = cards.filter(has_text="Vellin Water, copy")
    copy.get_by_role("button", name="Name it").click()
    page.get_by_role("textbox", name="Name of the site").fill("Upper Vellin")
    page.keyboard.press("Enter")
    renamed = cards.filter(has_text="Upper Vellin")
    renamed.get_by_role("button", name="Remove").click()
    expect(renamed).to_contain_text("Remove Upper Vellin and its history?")
    renamed.get_by_role("button", name="Keep").click()
    renamed.get_by_role("button", name="Remove").click()
    renamed.get_by_role("button", name="Remove").click()
    expect(cards).to_have_count(3)
    expect(cards.first).to_contain_text("Vellin Water")
