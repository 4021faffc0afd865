"""The light of a site as a person sets it: mist, water, the edge, kept lights, a panorama, shots, stills."""

from __future__ import annotations

import io
import re

import numpy as np
from PIL import Image
from playwright.sync_api import Locator, Page, expect

from elvatch.core.formats import png
from tests.test_stills import hdr, sun_over_grey
from tests.ui.acts import changed, open_cover, pixels, rested, until


def far(page: Page) -> np.ndarray:
    """Far beside the panel of the light, which lies over its right end."""
    return pixels(page, "far")[:, :420]


def light_panel(page: Page, fold: str) -> Locator:
    """Open the panel of the light at one of its parts."""
    panel = page.get_by_role("dialog", name="Light, air, water")
    if not panel.is_visible():
        page.get_by_role("button", name=re.compile(r"^Light( \d+°)?$")).click()
    part = panel.get_by_role("button", name=re.compile(f"^{fold}"))
    if part.get_attribute("aria-expanded") != "true":
        part.click()
    return panel


def typed(panel: Locator, label: str, value: str) -> None:
    """Type a number in place of another."""
    panel.get_by_role("spinbutton", name=label).focus()
    panel.page.keyboard.press("Enter")
    panel.page.keyboard.type(value)
    panel.page.keyboard.press("Enter")


def test_mist_water_and_the_edge_are_seen_as_they_are_set(page: Page) -> None:
    open_cover(page)
    clear = far(page)
    panel = light_panel(page, "Mist")
    panel.get_by_label("A mist lies in the valleys").check()
    expect(page.get_by_role("button", name="Undo: mist in")).to_be_visible()
    assert until(page, lambda: changed(clear, far(page)), 0.05) > 0.05
    page.keyboard.press("Control+z")
    expect(page.get_by_role("button", name="Undo: mist in")).to_have_count(0)
    rested(page)
    panel = light_panel(page, "Beyond the edge")
    panel.get_by_role("radio", name="Cut block").click()
    expect(page.get_by_role("button", name="Undo: a cut block")).to_be_visible()
    rested(page)
    assert changed(clear, far(page)) > 0.01
    page.keyboard.press("Control+z")
    rested(page)
    assert changed(clear, far(page)) < 0.01
    panel = light_panel(page, "Water")
    typed(panel, "Level", "93.5")
    expect(page.get_by_role("button", name="Undo: set level")).to_be_visible()
    rested(page)
    assert changed(clear, far(page)) > 0.02, "the bed is under water"
    page.keyboard.press("Escape")
    # the transect shows it, and the probe tells of it
    expect(page.locator("rect", has=page.locator("title", has_text="water"))).to_have_count(1)
    page.keyboard.press("p")
    box = page.locator("[data-stand=far]").bounding_box()
    assert box is not None
    page.mouse.click(box["x"] + box["width"] * 0.6, box["y"] + box["height"] * 0.6)
    expect(page.get_by_role("region", name="Probe")).to_contain_text("Height above water")


def test_the_sun_by_its_date_and_a_light_kept_and_looked_at_in_turn(page: Page) -> None:
    open_cover(page)
    panel = light_panel(page, "Sun")
    typed(panel, "Hour", "9")
    expect(page.get_by_role("button", name="Undo: set the sun by its date")).to_be_visible()
    expect(panel).to_contain_text("Stands as it does at")
    rested(page)
    height = panel.get_by_role("spinbutton", name="Sun height")
    # 54 degrees north on 21 June, three hours before noon: the sun stands 44.9 degrees high (ephemeris)
    expect(height).to_have_attribute("aria-valuenow", re.compile(r"^4[45]\.\d+$"))
    panel = light_panel(page, "Kept lights")
    panel.get_by_label("Name of the light").fill("Morning")
    panel.get_by_role("button", name="Keep this light").click()
    expect(panel.get_by_role("button", name="Use it here")).to_be_visible()
    panel = light_panel(page, "Sun")
    typed(panel, "Sun height", "5")
    rested(page)
    low = far(page)
    panel = light_panel(page, "Kept lights")
    panel.get_by_role("button", name="In turn").click()
    page.keyboard.press("Escape")
    page.keyboard.down("o")
    assert until(page, lambda: changed(low, far(page)), 0.3) > 0.3
    page.keyboard.up("o")
    rested(page)
    assert changed(low, far(page)) < 0.01
    panel = light_panel(page, "Kept lights")
    panel.get_by_role("button", name="Use it here").click()
    expect(page.get_by_role("button", name="Undo: light: Morning")).to_be_visible()


def test_a_panorama_lights_is_turned_and_one_that_is_none_is_refused(page: Page) -> None:
    open_cover(page)
    before = pixels(page, "near")
    panel = light_panel(page, "Panorama")
    flat = png.encode(np.zeros((16, 32, 3), np.uint8))
    panel.locator("input[type=file]").set_input_files({"name": "flat.png", "mimeType": "image/png", "buffer": flat})
    expect(panel.get_by_role("alert")).to_contain_text("8 bits")
    sky = hdr(sun_over_grey(30.0, 0.0, 3.0))
    panel.locator("input[type=file]").set_input_files(
        {"name": "sky.hdr", "mimeType": "application/octet-stream", "buffer": sky}
    )
    expect(page.get_by_role("button", name="Undo: lit by sky.hdr")).to_be_visible()
    rested(page)
    lit = pixels(page, "near")
    assert changed(before, lit) > 0.2
    page.keyboard.press("Escape")
    dial = page.get_by_role("application", name=re.compile("^Panorama turned"))
    dial.focus()
    for _ in range(6):
        page.keyboard.press("ArrowRight")
    expect(page.get_by_role("button", name="Undo: turned the panorama")).to_be_visible()
    rested(page)
    assert changed(lit, pixels(page, "near")) > 0.05


def test_a_shot_is_kept_and_a_still_of_it_taken(page: Page) -> None:
    open_cover(page)
    here = pixels(page, "near")
    page.get_by_role("button", name="Stills", exact=True).click()
    panel = page.get_by_role("dialog", name="Shots and stills")
    panel.get_by_role("radio", name="Near").click()
    panel.get_by_label("Name of the shot").fill("By the rod")
    panel.get_by_role("button", name="Keep the view").click()
    expect(page.get_by_role("button", name="Undo: kept the shot By the rod")).to_be_visible()
    panel.get_by_label("Far", exact=True).uncheck()
    panel.get_by_role("button", name="Take the stills")
    expect(panel).to_contain_text("Choose at least one view above.")
    panel.get_by_role("checkbox", name="By the rod").check()
    panel.get_by_label("depth").check()
    for label, value in (("Width", "160"), ("Height", "120"), ("Rays a pixel", "2")):
        typed(panel, label, value)
    panel.get_by_role("button", name="Take the stills").click()
    link = panel.get_by_role("link", name="by-the-rod.png")
    expect(link).to_be_visible()
    expect(panel.get_by_role("link", name="by-the-rod_passes.exr")).to_be_visible()
    with page.expect_download() as download:
        link.click()
    image = Image.open(io.BytesIO(download.value.path().read_bytes()))
    assert image.size == (160, 120)
    assert np.asarray(image).std() > 15
    # back at it after a turn
    page.keyboard.press("Escape")
    page.locator("[data-stand=near]").focus()
    for _ in range(4):
        page.keyboard.press("ArrowLeft")
    expect(page.get_by_role("button", name="Undo: turned Near")).to_be_visible()
    rested(page)
    assert changed(here, pixels(page, "near")) > 0.1
    page.get_by_role("button", name="Stills", exact=True).click()
    panel.get_by_role("button", name="Go to it").click()
    expect(page.get_by_role("button", name="Undo: went to By the rod")).to_be_visible()
    page.keyboard.press("Escape")
    rested(page)
    assert changed(here, pixels(page, "near")) < 0.02
