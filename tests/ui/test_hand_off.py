"""The Hand-off room as a person uses it: what is listed, looked into, written, and what the files then hold."""

from __future__ import annotations

import io
import re
import zipfile
from pathlib import Path

import numpy as np
import pytest
import tifffile
from PIL import Image
from playwright.sync_api import Locator, Page, expect

from tests.ui.acts import open_cover
from tests.ui.test_ground_room import make_terrain

pytestmark = pytest.mark.browser
DONE = "written, read back and compared"


def open_hand_off(page: Page, sheet: str) -> Locator:
    """Open a sheet of the first site; return its entries."""
    open_cover(page)
    page.get_by_role("link", name="Hand-off").click()
    page.get_by_role("button", name=re.compile(f"^{re.escape(sheet)}")).first.click()
    entries = page.get_by_role("region", name="Entries")
    expect(entries.get_by_role("button", pressed=True)).to_be_visible()
    return entries


def typed(page: Page, label: str, value: str) -> None:
    """Type a number where it stands."""
    page.get_by_role("spinbutton", name=label, exact=True).focus()
    page.keyboard.press("Enter")
    page.keyboard.type(value)
    page.keyboard.press("Enter")


def written(page: Page, sheet: str) -> Locator:
    """Write a sheet; open what landed."""
    page.get_by_role("button", name=f"Write {sheet}").click()
    expect(page.get_by_text(DONE)).to_be_visible(timeout=60_000)
    page.get_by_role("region", name="Landed").get_by_role("button").first.click()
    return page.get_by_role("region", name="What landed")


def fetched(page: Page, link: Locator, path: Path) -> Path:
    """Click a link to a file; return where it was kept."""
    with page.expect_download() as download:
        link.click()
    download.value.save_as(path)
    return path


def test_maps_are_written_and_are_what_was_looked_into(page: Page, tmp_path: Path) -> None:
    entries = open_hand_off(page, "Plain maps")
    typed(page, "Texels", "512")
    expect(page.get_by_role("spinbutton", name="One texel")).to_have_attribute("aria-valuetext", re.compile("2.34 m"))
    entries.get_by_role("button", name=re.compile("R height")).click()
    looked = page.get_by_role("region", name="Looked into")
    expect(looked.get_by_role("img", name="vellin-water_height.png at 1:1")).to_be_visible()
    texels = looked.get_by_role("application")
    box = texels.bounding_box()
    assert box
    page.mouse.move(box["x"] + 31.5, box["y"] + 21.5)
    said = looked.locator("[data-pointed]")
    expect(said).to_contain_text(re.compile(r"x \d+ y \d+"))
    found = re.search(r"x (\d+) y (\d+)\s*([\d.]+) m", said.inner_text())
    assert found
    col, line, metres = int(found[1]), int(found[2]), float(found[3])
    landed = written(page, "Plain maps")
    file = landed.get_by_role("listitem").filter(has_text="vellin-water_height.png")
    path = fetched(page, file.get_by_role("link", name="take"), tmp_path / "height.png")
    with Image.open(path) as image:
        heights = np.asarray(image)
    assert heights.shape == (512, 512)
    assert len(np.unique(heights)) > 10_000, "16 bits are 16 bits"
    whole = fetched(page, page.get_by_role("link", name="all as one zip"), tmp_path / "all.zip")
    with zipfile.ZipFile(whole) as archive:
        names = archive.namelist()
        told = archive.read("hand-off.json").decode()
        assert archive.read("vellin-water_height.png") == path.read_bytes()
        zipped = np.asarray(Image.open(io.BytesIO(archive.read("vellin-water_colour.png"))))
    assert len(names) == 18
    assert zipped.shape == (512, 512, 3)
    import json

    held = next(one for one in json.loads(told)["files"] if one["entry"] == "height")["channels"][0]
    value = held["low"] + float(heights[line, col]) / 65535 * (held["high"] - held["low"])
    assert value == pytest.approx(metres, abs=0.002), "the number under the pointer is the file's"
    expect(page.get_by_role("region", name="Sheets").or_(page.get_by_label("Sheets"))).to_contain_text("as it is now")


def test_a_part_in_tiles_packed_and_inverted(page: Page, tmp_path: Path) -> None:
    entries = open_hand_off(page, "glTF 2.0 textures")
    entries.get_by_role("button", name=re.compile("_surface")).click()
    entry = page.get_by_role("region", name="Entry")
    entry.get_by_role("checkbox", name="inverted, gloss").check()
    expect(page.get_by_role("button", name="Undo: glTF 2.0 textures: roughness inverted")).to_be_visible()
    expect(entries).to_contain_text("G roughness, inverted")
    typed(page, "Texels", "1200")
    map_ = page.locator("[data-part]")
    box = map_.bounding_box()
    assert box
    page.mouse.move(box["x"] + 0.25 * box["width"], box["y"] + 0.25 * box["height"])
    page.mouse.down()
    page.mouse.move(box["x"] + 0.5 * box["width"], box["y"] + 0.5 * box["height"], steps=4)
    page.mouse.up()
    expect(page.locator("[data-part=part]")).to_be_visible()
    typed(page, "Tiles across", "2")
    # tiles of one name are refused, with what tells them apart
    expect(page.get_by_role("alert")).to_contain_text("use {row}{column}")
    expect(page.get_by_role("button", name="Write glTF 2.0 textures")).to_be_disabled()
    for name in ("base_colour", "surface", "normal", "emissive"):
        entries.get_by_role("button", name=re.compile(name)).click()
        field = entry.get_by_role("textbox", name="Pattern of the file's name")
        field.fill("{site}_" + name + "_{row}{column}")
        field.press("Enter")
    expect(page.get_by_role("alert")).to_have_count(0)
    expect(entries).to_contain_text("8 files")
    landed = written(page, "glTF 2.0 textures")
    expect(landed.get_by_role("listitem")).to_have_count(8)
    one = landed.get_by_role("listitem").filter(has_text="vellin-water_surface_a2.png")
    path = fetched(page, one.get_by_role("link", name="take"), tmp_path / "surface.png")
    with Image.open(path) as image:
        packed = np.asarray(image)
    assert abs(packed.shape[0] - 300) <= 4
    assert abs(packed.shape[1] - 150) <= 4
    assert packed[..., 1].mean() < 128, "most ground is rough: its gloss is low"
    page.get_by_role("button", name="back to the sheet").click()
    page.get_by_role("button", name="whole site").click()
    expect(page.locator("[data-part=whole]")).to_be_visible()


def test_a_pattern_with_an_unknown_field_is_refused_as_typed(page: Page) -> None:
    open_hand_off(page, "16-bit RAW heights")
    entry = page.get_by_role("region", name="Entry")
    expect(entry).to_contain_text("vellin-water_height.raw · 2049 × 2049")
    field = entry.get_by_role("textbox", name="Pattern of the file's name")
    field.fill("{site}_{hight}")
    field.press("Enter")
    refused = page.get_by_role("alert")
    expect(refused).to_contain_text("'{site}_{hight}': found a field {hight}, expected some of {site}, {map}")
    expect(field).to_have_value("{site}_{hight}")
    field.fill("{site}_h_{width}")
    field.press("Enter")
    expect(refused).to_have_count(0)
    expect(entry).to_contain_text("vellin-water_h_2049.raw")


def test_a_bake_can_be_cancelled_and_gone_on_with(page: Page) -> None:
    open_hand_off(page, "Film: EXR tiles")
    page.get_by_role("button", name="Write Film: EXR tiles").click()
    expect(page.get_by_text(re.compile(r"tile 1, [2-4] at work · [1-3] of 16 done"))).to_be_visible(timeout=180_000)
    page.get_by_role("button", name="Cancel").click()
    expect(
        page.get_by_text(re.compile(r"Cancelled; [1-3] of 16 are kept: writing goes on from there."))
    ).to_be_visible()
    page.get_by_role("button", name="Write Film: EXR tiles").click()
    # what was finished is not made again
    expect(page.get_by_text(re.compile(r"tile 1, [2-4] at work · [1-3] of 16 done"))).to_be_visible(timeout=60_000)
    page.get_by_role("button", name="Cancel").click()
    expect(page.get_by_text(re.compile("Cancelled;"))).to_be_visible()


def test_a_measure_is_handed_off_as_floats_from_a_sheet_of_ones_own(page: Page, tmp_path: Path) -> None:
    make_terrain(page)
    page.get_by_role("link", name="5Hand-off").click()
    page.get_by_role("button", name="New sheet").click()
    page.get_by_role("dialog", name="Begin a sheet").get_by_role("button", name="Empty").click()
    expect(page.get_by_text("Nothing is on this sheet yet: add an entry")).to_be_visible()
    page.get_by_role("button", name="add an entry").click()
    page.get_by_role("dialog", name="Add an entry").get_by_role("button", name="Flow", exact=True).click()
    typed(page, "Texels", "512")
    expect(page.get_by_role("region", name="Entries")).to_contain_text("TIFF float")
    landed = written(page, "New sheet")
    path = fetched(page, landed.get_by_role("link", name="take"), tmp_path / "flow.tif")
    flow = tifffile.imread(path)
    assert flow.dtype == np.float32
    assert flow.shape == (512, 512)
    assert flow.max() > 10_000, "square metres, not shares"
    page.get_by_role("button", name="More for New sheet").click()
    page.get_by_role("button", name="Keep for other sites").click()
    expect(page.get_by_text("New sheet is kept: New sheet lists it on every site.")).to_be_visible()


def test_an_entry_is_moved_by_the_keys(page: Page) -> None:
    entries = open_hand_off(page, "Plain maps")
    rows = entries.get_by_role("listitem")
    before = rows.all_inner_texts()
    entries.get_by_role("button", name=re.compile("R roughness")).click()
    page.keyboard.press("Alt+ArrowUp")
    expect(page.get_by_role("button", name=re.compile("^Undo: Plain maps: .* moved$"))).to_be_visible()
    expect(rows.nth(1)).to_contain_text("R roughness")
    page.keyboard.press("Alt+ArrowUp")
    expect(rows.nth(0)).to_contain_text("R roughness")
    # it is the first already
    page.keyboard.press("Alt+ArrowUp")
    page.keyboard.press("Alt+ArrowDown")
    expect(rows.nth(1)).to_contain_text("R roughness")
    page.keyboard.press("Control+z")
    page.keyboard.press("Control+z")
    page.keyboard.press("Control+z")
    for k, text in enumerate(before):
        expect(rows.nth(k)).to_contain_text(text.splitlines()[0])
    expect(rows.nth(2)).to_contain_text("R roughness")
