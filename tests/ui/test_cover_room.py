"""The Cover room by hand: paint, paths, probe, chart, images, groups, kept rules, sets dropped on a picture."""

from __future__ import annotations

import re
from pathlib import Path

import imagecodecs
import numpy as np
import pytest
from playwright.sync_api import Page, expect

from tests.ui.acts import at, changed, drag, open_cover, pixels, rested, row, until

pytestmark = pytest.mark.browser


def share(page: Page, layer: str) -> float:
    return float(row(page, layer).locator("[data-share]").last.get_attribute("data-share") or 0)


def test_a_layer_is_painted_in_stroke_by_stroke_and_each_is_undone(page: Page) -> None:
    open_cover(page, "Moor peat")
    page.get_by_role("button", name="Add a clause").click()
    page.get_by_role("button", name="Paint in").click()
    expect(page.get_by_text("added painted on")).to_be_visible()
    rested(page)
    before = pixels(page, "near")
    x, y = at(page, "near", 0.25, 0.85)
    page.mouse.move(x, y)
    expect(page.locator("[data-stand=near] [data-ring]")).to_be_visible()
    page.mouse.down()
    page.mouse.move(x + 90, y - 20, steps=8)
    shown = until(page, lambda: changed(before, pixels(page, "near")), 0.05)
    assert shown > 0.05, "the stroke shows while it is drawn"
    page.mouse.up()
    expect(page.get_by_role("button", name="Undo: painted on Paint of Moor peat")).to_be_visible()
    page.mouse.move(5, 5)
    rested(page)
    painted, share_painted = pixels(page, "near"), share(page, "Moor peat")
    assert changed(before, painted) > 0.05
    page.get_by_role("toolbar", name="Brush").get_by_role("radio", name="Take away").click()
    page.keyboard.press("]")
    expect(page.get_by_role("spinbutton", name="Brush size")).to_have_attribute("aria-valuetext", "15.0 m")
    page.mouse.move(x, y)
    page.mouse.down()
    page.mouse.move(x + 90, y - 20, steps=8)
    page.mouse.up()
    expect(page.get_by_role("button", name="Undo: took away from Paint of Moor peat")).to_be_visible()
    page.mouse.move(5, 5)
    rested(page)
    assert changed(before, pixels(page, "near")) < 0.02
    page.keyboard.press("Control+z")
    expect(page.get_by_role("button", name="Undo: painted on Paint of Moor peat")).to_be_visible()
    rested(page)
    assert changed(painted, pixels(page, "near")) < 0.001
    page.keyboard.press("Escape")
    expect(page.get_by_role("toolbar", name="Brush")).to_have_count(0)
    assert share(page, "Moor peat") == share_painted


def test_a_path_is_moved_taken_away_named_as_gone_and_mended(page: Page) -> None:
    open_cover(page, "Works track")
    page.keyboard.press("l")
    page.get_by_label("Which path").select_option("Works track")
    rested(page)
    before = pixels(page, "far")
    point = page.locator("[data-stand=far]").get_by_role("button", name="Point 5 of Works track")
    drag(page, point, -70, 6)
    expect(page.get_by_role("button", name="Undo: Works track: a point moved")).to_be_visible()
    page.mouse.move(5, 5)
    rested(page)
    assert changed(before, pixels(page, "far")) > 0.002
    page.get_by_role("button", name=re.compile("^take away")).click()
    gone = page.get_by_role("button", name="Works track, which is gone")
    expect(gone).to_be_visible()
    expect(row(page, "Works track")).to_contain_text("the path Works track is gone")
    gone.click()
    page.get_by_role("button", name="Take Drowned lane instead").click()
    expect(page.locator("p", has_text="Works track lies")).to_contain_text("Drowned lane")
    rested(page)
    assert share(page, "Works track") > 0.001


def test_a_probe_says_what_lies_there_and_what_keeps_layers_out(page: Page) -> None:
    open_cover(page)
    page.keyboard.press("p")
    page.mouse.click(*at(page, "near", 0.3, 0.8))
    card = page.get_by_role("region", name="Probe")
    expect(card).to_contain_text(re.compile(r"At 8\d\d\.\d m east, 4\d\d\.\d m north"))
    expect(card).to_contain_text("steeper than 31° — keeps it out")
    expect(card).to_contain_text(re.compile(r"Wetness\s*[\d.]+ ln m"))
    mud = card.locator("div").filter(has=page.get_by_text("Cracked mud", exact=True)).last
    expect(mud).to_contain_text(re.compile(r"Cracked mud\s*(9\d|100)"))


def test_the_chart_takes_other_measures_and_lights_up_places(page: Page) -> None:
    open_cover(page, "Rough grass")
    page.get_by_label("Measure across the chart").select_option("wetness")
    expect(page.get_by_text(re.compile(r"ln m$"))).to_be_visible()
    rested(page)
    before = pixels(page, "far")
    chart = page.get_by_role("img", name="Where-chart").or_(
        page.locator("svg", has=page.locator("title", has_text="Where-chart"))
    )
    box = chart.first.bounding_box()
    assert box is not None
    page.mouse.move(box["x"] + 20, box["y"] + 20)
    page.mouse.down()
    page.mouse.move(box["x"] + 110, box["y"] + 120, steps=5)
    page.mouse.up()
    expect(page.locator("[data-brush]")).to_be_visible()
    rested(page)
    assert changed(before, pixels(page, "far")) > 0.05
    page.get_by_role("button", name="unlight").click()
    rested(page)
    assert changed(before, pixels(page, "far")) < 0.001
    page.mouse.move(*at(page, "far", 0.5, 0.6))
    expect(page.locator("[data-pointed]")).to_be_visible()
    drag(page, page.locator("[data-handle=wetness-lower]"), 60)
    expect(page.get_by_role("spinbutton", name="Rough grass, wetter than", exact=True)).to_be_visible()
    expect(page.get_by_role("button", name="Undo: Rough grass: wetness limit")).to_be_visible()


def test_an_image_comes_apart_and_a_channel_becomes_a_clause(page: Page, tmp_path: Path) -> None:
    values = np.zeros((64, 64, 3), np.uint8)
    values[:32, :, 0] = 255
    path = tmp_path / "north_half.png"
    path.write_bytes(imagecodecs.png_encode(values))
    open_cover(page, "Wet silt")
    page.get_by_role("button", name="Lay a layer").click()
    page.get_by_role("dialog").get_by_role("button", name="Pebbles").first.click()
    page.get_by_role("button", name="Lie everywhere").click()
    page.get_by_role("button", name="From an image").click()
    page.get_by_label("Choose mask images").set_input_files(path)
    sheet = page.get_by_role("dialog", name="Images as masks")
    expect(sheet).to_contain_text("64 × 64 px · PNG 8 bit")
    expect(sheet).to_contain_text("share 50.0%")
    sheet.get_by_role("button", name="As clause").first.click()
    expect(page.get_by_text("Pebbles lies in")).to_contain_text("channel R of north_half")
    expect(row(page, "Pebbles").locator("[data-share]")).to_have_text("50%")
    sheet.get_by_role("button", name="Flip N–S").click()
    expect(page.get_by_role("button", name="Undo: placed north_half")).to_be_visible()
    with page.expect_download() as download:
        page.keyboard.press("Escape")
        page.get_by_role("button", name="channel R of north_half").click()
        page.get_by_role("button", name="Write as image").click()
    written = tmp_path / "written.png"
    download.value.save_as(written)
    codes = imagecodecs.png_decode(written.read_bytes())
    assert codes.dtype == np.uint16
    assert codes.shape == (2048, 2048)
    assert (codes[:1000].max(), codes[1050:].min()) == (0, 65535)


def test_layers_are_grouped_folded_hidden_and_looked_at_alone(page: Page) -> None:
    open_cover(page, "Rough grass")
    page.get_by_role("button", name="More for Rough grass").click()
    page.get_by_label("Group", exact=True).fill("Green")
    page.get_by_role("button", name="Put in the group").click()
    head = page.locator("aside").get_by_role("button", name="Green", exact=True)
    expect(head).to_be_visible()
    rested(page)
    before = pixels(page, "far")
    slate = page.locator("aside li", has=page.get_by_role("button", name="Slate", exact=True))
    slate.get_by_role("button", name="hide").click()
    expect(row(page, "Slate bedrock")).to_contain_text("it is hidden")
    expect(row(page, "Slate scree")).to_contain_text("it is hidden")
    rested(page)
    assert changed(before, pixels(page, "far")) > 0.05
    page.keyboard.press("Control+z")
    slate.get_by_title("Fold", exact=True).click()
    expect(page.get_by_role("button", name=re.compile("Slate bedrock$"))).to_have_count(0)
    rested(page)
    page.keyboard.press("i")
    expect(page.get_by_text("alone", exact=True)).to_be_visible()
    rested(page)
    assert changed(before, pixels(page, "far")) > 0.3, "all that is not grass is plain grey"
    page.keyboard.press("i")
    rested(page)
    assert changed(before, pixels(page, "far")) < 0.001


def test_a_rule_is_kept_used_again_and_put_in_brackets(page: Page) -> None:
    open_cover(page, "Moor peat")
    page.get_by_role("button", name="Rule…").click()
    page.get_by_label("Name to keep the rule under").fill("Wet hollows")
    page.get_by_role("button", name="Keep", exact=True).click()
    expect(page.get_by_role("button", name="Undo: kept the rule Wet hollows")).to_be_visible()
    page.keyboard.press("Escape")
    page.get_by_role("button", name=re.compile("^Layer 6, Slate scree")).click()
    page.get_by_role("button", name="Rule…").click()
    page.get_by_role("button", name="Wet hollows", exact=True).click()
    expect(page.get_by_role("spinbutton", name="Slate scree, wetter than", exact=True)).to_be_visible()
    page.get_by_role("button", name="wetter than", exact=True).click()
    panel = page.get_by_role("dialog", name="Clause of Slate scree")
    panel.get_by_role("button", name="Put in brackets").click()
    expect(page.locator("[data-clause='1.0']")).to_contain_text("wetter than")
    rested(page)
    before = share(page, "Slate scree")
    page.get_by_role("button", name="(", exact=True).click()
    page.get_by_role("dialog", name="Clause of Slate scree").get_by_role("radio", name="add").click()
    expect(page.get_by_text("Slate scree lies on ground")).to_contain_text("and added (")
    rested(page)
    assert share(page, "Slate scree") > before


def test_a_set_dropped_on_a_picture_begins_with_that_slope_and_elevation(page: Page) -> None:
    open_cover(page)
    page.get_by_role("button", name="Lay a layer").click()
    tile = page.get_by_role("dialog").get_by_role("button", name=re.compile("^Pebbles"))
    far = page.locator("[data-stand=far]")
    box = far.bounding_box()
    assert box is not None
    tile.drag_to(far, target_position={"x": box["width"] * 0.5, "y": box["height"] * 0.62})
    expect(page.get_by_role("button", name="Undo: laid Pebbles where it was dropped")).to_be_visible()
    expect(page.get_by_role("spinbutton", name="Pebbles, above", exact=True)).to_be_visible()
    expect(page.get_by_role("spinbutton", name="Pebbles, gentler than", exact=True)).to_be_visible()
    rested(page)
    assert 0.001 < share(page, "Pebbles") < 0.6


def test_a_facing_is_dragged_on_the_compass(page: Page) -> None:
    open_cover(page, "Slate scree")
    page.get_by_role("button", name="Add a clause").click()
    page.get_by_role("button", name="Facing", exact=True).click()
    rested(page)
    before = share(page, "Slate scree")
    page.get_by_role("button", name="facing from", exact=True).click()
    dial = page.get_by_role("group", name="Compass")
    end = dial.get_by_role("slider", name="Facing to")
    expect(end).to_have_attribute("aria-valuetext", "north-east, 45°")
    box = dial.bounding_box()
    assert box is not None
    drag(page, end, 0, 64)
    expect(end).to_have_attribute("aria-valuetext", re.compile(r"^(south-)?east, 1[234]\d°$"))
    page.keyboard.press("Escape")
    expect(page.get_by_text("Slate scree lies on ground")).to_contain_text(
        re.compile("facing from north-west 315°.* to (south-)?east 1")
    )
    rested(page)
    assert share(page, "Slate scree") > before + 0.02
