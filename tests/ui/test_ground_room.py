"""What a person does in the Ground room, checked by the map they would see."""

from __future__ import annotations

import io
import re
from pathlib import Path

import numpy as np
import pytest
from PIL import Image
from playwright.sync_api import FloatRect, Page, expect

from tests.ui.acts import changed, drag, still, take_chosen, until
from tests.watching import KEPT, seen, shown

pytestmark = pytest.mark.browser


def settled(page: Page) -> None:
    """Wait until the map shows the whole ground and all edits are kept."""
    seen(page, KEPT, shown("[data-map][data-resting=true] img"))
    still(page, lambda: relief(page))
    seen(page, shown("[data-map][data-resting=true] img"))


def relief(page: Page) -> np.ndarray:
    """The map as the browser shows it, without its corners."""
    box = page.locator("[data-map]").bounding_box()
    assert box is not None
    clip: FloatRect = {
        "x": box["x"] + 8,
        "y": box["y"] + 40,
        "width": box["width"] - 16,
        "height": box["height"] - 80,
    }
    with Image.open(io.BytesIO(page.screenshot(clip=clip))) as image:
        return np.asarray(image.convert("RGB")).astype(int)


def make_terrain(page: Page) -> None:
    """A terrain of a rolling form and rivers, small enough to be shaped at once."""
    page.get_by_role("button", name="Make a terrain, a slab or a face").click()
    form = page.get_by_role("form", name="New made site")
    form.get_by_role("radio", name="257").click()
    form.get_by_role("button", name="Make the site").click()
    settled(page)


def test_the_demo_is_a_list_of_steps_with_maps_of_every_measure(page: Page) -> None:
    page.get_by_role("link", name="Open", exact=True).first.click()
    page.get_by_role("link", name="1Ground").click()
    settled(page)
    expect(page.locator("aside ol li")).to_have_count(17)
    assert page.evaluate("document.documentElement.scrollHeight <= window.innerHeight")
    plain = relief(page)
    assert plain.std() > 12
    page.locator("[data-map] svg").hover(position={"x": 200, "y": 150})
    expect(page.locator("[data-pointed]")).to_contain_text(re.compile(r"\d+ E \d+ N · \d+\.\d m"))
    page.get_by_role("button", name="Relief", exact=True).click()
    page.get_by_role("button", name=re.compile("^Slope")).click()
    settled(page)
    assert changed(plain, relief(page)) > 0.5
    expect(page.get_by_role("heading", name="Slope, °")).to_be_visible()
    page.locator("[data-map] svg").hover(position={"x": 210, "y": 150})
    expect(page.locator("[data-pointed]")).to_contain_text(re.compile(r"m · \d+(\.\d+)?°"))
    page.keyboard.press("m")
    expect(page.get_by_role("heading", name="Aspect, °")).to_be_visible()
    strip = page.get_by_role("img", name=re.compile("^Transect of"))
    expect(strip).to_have_attribute("aria-label", re.compile("Transect of 1200 m"))
    drag(page, page.locator("[data-map] svg"), 60, -40)
    expect(strip).not_to_have_attribute("aria-label", re.compile("Transect of 1200 m"))


def test_steps_are_added_changed_reordered_left_out_and_taken_back(page: Page) -> None:
    make_terrain(page)
    steps = page.locator("aside ol li")
    expect(steps).to_have_count(2)
    before = relief(page)
    steps.nth(1).get_by_role("button", name="Rivers", exact=True).click()
    page.get_by_role("button", name="Add a step").click()
    page.get_by_role("button", name=re.compile("^Terraces")).click()
    settled(page)
    terraced = relief(page)
    assert changed(before, terraced) > 0.05
    spacing = page.get_by_role("slider", name="Sharpness")
    drag(page, spacing, -30, hold=True)
    follows = until(page, lambda: changed(terraced, relief(page)), 0.02)
    assert follows > 0.02, "a preview follows while dragging"
    page.mouse.up()
    settled(page)
    expect(page.get_by_role("button", name="Undo: Terraces: sharpness")).to_be_visible()
    page.keyboard.press("Control+z")
    settled(page)
    assert changed(terraced, relief(page)) < 0.001
    page.get_by_label("Limit it by").select_option("slope")
    expect(page.get_by_role("spinbutton", name="Terraces, steeper than")).to_be_visible()
    settled(page)
    assert changed(terraced, relief(page)) > 0.02
    steps.nth(2).get_by_role("button", name=re.compile("^Step 3, Terraces")).focus()
    page.keyboard.press("Alt+ArrowUp")
    expect(steps.nth(1)).to_contain_text("Terraces")
    steps.nth(1).get_by_role("checkbox").uncheck()
    settled(page)
    assert changed(before, relief(page)) < 0.001, "left out, it is as before"
    page.get_by_role("button", name="Remove", exact=True).click()
    expect(steps).to_have_count(2)


def test_every_kind_of_step_can_be_added_and_does_something(page: Page) -> None:
    make_terrain(page)
    before = relief(page)
    for title in (
        "Runoff",
        "Settle",
        "Smooth",
        "Sharpen ridges",
        "Warp",
        "Twist",
        "Heights by a curve",
        "Cut and fill to a level",
        "Course",
    ):
        page.get_by_role("button", name="Add a step").click()
        page.get_by_role("dialog").get_by_role("button", name=re.compile(f"^{title}")).click()
        expect(page.locator("aside ol li")).to_have_count(3)
        settled(page)
        if title == "Settle":
            # rolling ground is gentler than scree: only a lower angle lets it slide
            page.get_by_role("spinbutton", name="Repose").focus()
            page.keyboard.press("Enter")
            page.keyboard.type("8")
            page.keyboard.press("Enter")
            settled(page)
        assert changed(before, relief(page)) > 0.01, title
        page.get_by_role("button", name="Remove", exact=True).click()
        expect(page.locator("aside ol li")).to_have_count(2)
        settled(page)
    assert changed(before, relief(page)) < 0.001
    expect(page.get_by_role("alert")).to_have_count(0)


def test_the_points_of_a_course_and_a_curve_are_dragged(page: Page) -> None:
    make_terrain(page)
    page.get_by_role("button", name="Add a step").click()
    page.get_by_role("button", name=re.compile("^Course")).click()
    settled(page)
    before = relief(page)
    drag(page, page.get_by_role("button", name=re.compile("^Point 2 of Course")), 20, 60)
    expect(page.get_by_role("button", name="Undo: Course: moved a point")).to_be_visible()
    settled(page)
    assert changed(before, relief(page)) > 0.01
    page.get_by_role("button", name=re.compile("^Point 1 of Course")).focus()
    page.keyboard.press("Delete")
    expect(page.get_by_role("button", name=re.compile("^Point 3 of Course"))).to_have_count(0)
    page.get_by_role("button", name="Add a step").click()
    page.get_by_role("button", name=re.compile("^Heights by a curve")).click()
    settled(page)
    curved = relief(page)
    point = page.get_by_role("slider", name="Point 2 of the curve")
    drag(page, point, 0, -40)
    expect(page.get_by_role("button", name="Undo: Heights by a curve: curve")).to_be_visible()
    settled(page)
    assert changed(curved, relief(page)) > 0.05
    point.focus()
    page.keyboard.press("ArrowUp")
    expect(point).to_have_attribute("aria-valuetext", re.compile("m becomes"))


def test_the_dice_gives_another_seed_and_the_last_can_be_gone_back_to(page: Page) -> None:
    make_terrain(page)
    page.locator("aside ol li").first.get_by_role("button", name="Rolling form", exact=True).click()
    seed = page.locator("[data-seed]")
    first = seed.inner_text()
    before = relief(page)
    page.get_by_role("button", name="Another").click()
    expect(seed).not_to_have_text(first)
    settled(page)
    assert changed(before, relief(page)) > 0.2
    page.get_by_role("button", name="Back").click()
    expect(seed).to_have_text(first)
    settled(page)
    assert changed(before, relief(page)) < 0.001
    page.get_by_role("radio", name="Ridged").click()
    expect(page.locator("aside ol li").first).to_contain_text("Ridged form")


def test_the_brush_changes_the_ground_where_it_is_drawn_stroke_by_stroke(page: Page) -> None:
    make_terrain(page)
    page.get_by_role("button", name="Add a step").click()
    page.get_by_role("button", name=re.compile("^Brush")).click()
    settled(page)
    page.get_by_role("spinbutton", name="Amount").focus()
    page.keyboard.press("Enter")
    page.keyboard.type("12")
    page.keyboard.press("Enter")
    page.mouse.move(5, 5)
    before = relief(page)
    for dx in (40, -40):
        drag(page, page.locator("[data-map] svg"), dx, 0)
        page.mouse.move(5, 5)
        settled(page)
    expect(page.get_by_text("2 strokes so far")).to_be_visible()
    both = relief(page)
    difference = np.abs(both - before).max(axis=2) > 12
    rows, cols = np.nonzero(difference)
    assert difference.mean() > 0.002
    middle = difference.shape[0] / 2
    assert np.percentile(np.abs(rows - middle), 95) < 60, "only near the stroke"
    assert np.ptp(cols) > 60
    page.keyboard.press("Control+z")
    expect(page.get_by_text("1 stroke so far")).to_be_visible()
    page.keyboard.press("Control+z")
    expect(page.get_by_text("0 strokes so far")).to_be_visible()
    settled(page)
    assert changed(before, relief(page)) < 0.001


def test_long_shaping_says_how_long_and_can_be_cancelled_and_undone(page: Page) -> None:
    make_terrain(page)
    before = relief(page)
    page.get_by_role("button", name="Level slab").click()
    samples = page.get_by_role("spinbutton", name="Samples")
    samples.focus()
    page.keyboard.press("Enter")
    page.keyboard.type("4097")
    page.keyboard.press("Enter")
    note = page.get_by_role("status").filter(has_text="Shaping the ground in full")
    expect(note).to_contain_text(re.compile(r"\d+%"))
    note.get_by_role("button", name="Cancel").click()
    expect(page.get_by_text("Shaping was cancelled; a preview is shown.")).to_be_visible()
    page.get_by_role("button", name="Undo the last edit").click()
    settled(page)
    assert changed(before, relief(page)) < 0.001


def test_a_headerless_file_is_guessed_shown_and_read_as_chosen(page: Page, tmp_path: Path) -> None:
    x, y = np.meshgrid(np.linspace(0, 7, 160), np.linspace(0, 5, 120))
    path = tmp_path / "north_ridge.r16"
    path.write_bytes((20000 * np.sin(x) * np.cos(y) + 3000 * np.sin(4 * x + y)).astype(">i2").tobytes())
    page.get_by_label("Height file").set_input_files(path)
    form = page.get_by_role("form", name="New site")
    expect(form).to_contain_text("No header: guessed from the bytes")
    chosen = form.get_by_role("button", pressed=True).first
    expect(chosen).to_contain_text("160 × 120, i16, high byte first")
    expect(chosen.locator("img")).to_be_visible()
    expect(form).to_contain_text("160 × 120")
    form.get_by_role("button", name="turned 90°").click()
    expect(form).to_contain_text("120 × 160")
    form.get_by_role("button", name="flip east and west").click()
    form.get_by_label("Width, east–west (m)").fill("600")
    form.get_by_label("Depth, north–south (m)").fill("800")
    form.get_by_role("button", name="Make the site").click()
    settled(page)
    expect(page.get_by_role("region", name="Facts")).to_contain_text("120 × 160")
    expect(page.get_by_role("region", name="Step")).to_contain_text("turned as chosen")


def test_a_colour_image_is_laid_over_the_ground_and_taken_off(page: Page, tmp_path: Path) -> None:
    make_terrain(page)
    page.get_by_role("button", name="Level slab").click()
    settled(page)
    before = relief(page)
    path = tmp_path / "painted.png"
    pixels = np.zeros((60, 60, 3), np.uint8)
    pixels[..., 0] = 210
    Image.fromarray(pixels).save(path)
    page.get_by_label("Colour image").set_input_files(path)
    expect(page.get_by_text("painted.png").first).to_be_visible()
    settled(page)
    shown = relief(page)
    assert shown[..., 0].mean() > shown[..., 1].mean() + 60, "the map is red"
    page.get_by_role("button", name="Take it off").click()
    settled(page)
    assert changed(before, relief(page)) < 0.001
    page.get_by_label("Colour image").set_input_files({"name": "x.png", "mimeType": "image/png", "buffer": b"no"})
    expect(page.get_by_role("alert")).to_contain_text("x.png: found a damaged or unknown image")


def test_five_values_of_a_step_are_laid_out_as_grounds_and_one_is_taken(page: Page) -> None:
    make_terrain(page)
    page.locator("aside ol li button").first.click()
    height = page.get_by_role("slider", name="Height", exact=True)
    height.focus()
    page.keyboard.press("s")
    strip = page.get_by_role("region", name="Five of Height")
    expect(strip.locator("img")).to_have_count(5)
    pictures = strip.locator("li button")

    def shot(k: int) -> np.ndarray:
        with Image.open(io.BytesIO(pictures.nth(k).screenshot())) as image:
            return np.asarray(image.convert("L"))[8:110, 8:190].astype(int)

    still(page, lambda: shot(4))
    # the ends of what is laid out lie further apart than neighbours
    assert np.abs(shot(0) - shot(4)).mean() > 1.5 * np.abs(shot(1) - shot(2)).mean() > 0
    page.keyboard.press("ArrowRight")
    take_chosen(page, strip, ("Height",))
    expect(page.get_by_role("button", name=re.compile("^Undo: .*: height$"))).to_be_visible()
