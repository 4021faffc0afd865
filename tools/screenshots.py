"""Take one current picture of each main view, at 1280x800, from a fresh demo."""

from __future__ import annotations

import io
import math
import re
import shutil
import subprocess
import sys
import tempfile
from collections.abc import Callable
from pathlib import Path

import numpy as np
from PIL import Image
from playwright.sync_api import Page, expect, sync_playwright

from tests.serving import serve
from tests.ui.acts import unfold
from tests.ui.conftest import ARGUMENTS
from tools.lighten import lighten

OUT = Path(__file__).parents[1] / "docs/screenshots"


def rested(page: Page, *stands: str) -> None:
    """Wait for full pictures."""
    for stand in stands or ("far", "mid", "near"):
        expect(page.locator(f"[data-stand={stand}][data-resting=true] canvas")).to_be_visible(timeout=60_000)
    page.wait_for_timeout(600)


def coverage(page: Page) -> None:
    """The selected layer hatched over the ground, a clause opened onto its histogram."""
    page.get_by_role("button", name=re.compile("^Layer 6, Slate scree")).click()
    page.get_by_role("radio", name="Coverage").click()
    page.get_by_role("button", name="steeper than", exact=True).click()
    page.wait_for_timeout(800)
    rested(page)


def spot(page: Page, stand: str, across: float, down: float) -> tuple[float, float]:
    """Return a spot of a picture as a place on the page."""
    box = page.locator(f"[data-stand={stand}]").bounding_box()
    assert box is not None
    return box["x"] + across * box["width"], box["y"] + down * box["height"]


def fitted(page: Page) -> None:
    """The fit of bedrock, texel density with its legend and the value under the pointer."""
    page.get_by_role("button", name=re.compile("^Layer 7, Slate bedrock")).click()
    page.get_by_role("radio", name="Density").click()
    rested(page)
    page.mouse.move(*spot(page, "far", 0.2, 0.62))
    page.get_by_role("group", name="Legend").get_by_text(re.compile("here")).wait_for()
    unfold(page, "Against repeats")
    expect(page.locator("[data-repetition]")).to_contain_text("nearer")
    page.wait_for_timeout(500)


def raised(page: Page) -> None:
    """The spillway apron: joints cut in, silt on top, the relief's figures, the cut at a boot's scale; the dam."""
    home = page.url.split("#")[0]
    page.goto(f"{home}#/")
    page.get_by_role("listitem").filter(has_text="Spillway apron").get_by_role(
        "link", name="Open", exact=True
    ).click()
    rested(page)
    page.get_by_role("button", name=re.compile("^Layer 4, Washed-in silt")).click()
    page.get_by_role("tab", name="Relief").click()
    page.get_by_role("button", name="at a boot's scale").click()
    page.locator("[data-relief]").wait_for()
    page.get_by_role("img", name=re.compile("^Cut of")).wait_for()
    rested(page)
    page.screenshot(path=OUT / "cover-relief.png")
    worn(page)
    page.goto(f"{home}#/")
    page.get_by_role("listitem").filter(has_text="upstream face").get_by_role("link", name="Open", exact=True).click()
    rested(page)
    page.get_by_role("button", name=re.compile("^Layer 2, Stained")).click()
    rested(page)
    page.screenshot(path=OUT / "cover-face.png")
    page.goto(f"{home}#/")
    page.get_by_role("listitem").filter(has_text="Vellin Water").get_by_role("link", name="Open", exact=True).click()
    rested(page)


def worn(page: Page) -> None:
    """A wear of the apron on the bench; Near clean and worn in by the same light."""
    page.get_by_role("button", name="Wear Hairline cracks").click()
    expect(page.locator("[data-told]")).to_contain_text("deep on", timeout=60_000)
    rested(page)
    page.screenshot(path=OUT / "cover-wear.png")
    page.locator("[data-stand=near]").get_by_role("button", name="Widen").click()
    page.get_by_role("button", name="Snapshots").click()
    page.get_by_role("button", name="Compare", exact=True).first.click()
    page.get_by_role("button", name="Comparing").wait_for()
    page.keyboard.press("Escape")
    near = page.locator("[data-stand=near]")
    near.focus()
    parts = []
    for held in (True, False):
        (page.keyboard.down if held else page.keyboard.up)("c")
        page.wait_for_timeout(400)
        rested(page, "near")
        picture = near.locator("canvas").screenshot()
        with Image.open(io.BytesIO(picture)) as image:
            parts.append(np.asarray(image.convert("RGB")))
    # without what lies over the pictures: their line of facts, and the dial
    Image.fromarray(np.vstack([part[64:-24, :950] for part in parts])).save(OUT / "wear-before-after.png")
    page.get_by_role("button", name="All three").click()


def painted(page: Page) -> None:
    """A stroke of the brush across the mud in Near."""
    page.keyboard.press("Escape")
    page.get_by_role("radio", name="Lit", exact=True).click()
    page.get_by_role("button", name=re.compile("^Layer 3, Shore bands")).click()
    page.get_by_role("button", name="Add a clause").click()
    page.get_by_role("button", name="Paint in").click()
    page.get_by_role("toolbar", name="Brush").wait_for()
    for _ in range(10):
        page.keyboard.press("[")
    page.mouse.move(*spot(page, "near", 0.12, 0.72))
    page.mouse.down()
    for k in range(24):
        page.mouse.move(*spot(page, "near", 0.12 + 0.03 * k, 0.72 + 0.07 * math.sin(k / 4)))
    page.mouse.up()
    page.get_by_role("button", name=re.compile("^Undo: painted on Paint of Shore")).wait_for()
    page.mouse.move(*spot(page, "near", 0.5, 0.86))
    page.wait_for_timeout(800)
    rested(page)


def probed(page: Page) -> None:
    """What lies at a place of Far, and why."""
    page.get_by_role("radio", name="Probe").or_(page.get_by_role("button", name="Probe")).first.click()
    page.mouse.click(*spot(page, "far", 0.62, 0.72))
    page.get_by_role("region", name="Probe").get_by_text("Wetness").wait_for()
    page.wait_for_timeout(500)


def charted(page: Page) -> None:
    """Part of the where-chart lit up, all layers' regions on it."""
    page.keyboard.press("Escape")
    page.get_by_role("button", name="all layers").click()
    chart = page.locator("svg", has=page.locator("title", has_text="Where-chart")).first.bounding_box()
    assert chart is not None
    page.mouse.move(chart["x"] + 14, chart["y"] + 30)
    page.mouse.down()
    page.mouse.move(chart["x"] + 92, chart["y"] + 96, steps=4)
    page.mouse.up()
    rested(page)


def lit(page: Page) -> None:
    """Evening over the reservoir, mist in the valley, the panel of the light open."""
    page.get_by_role("button", name="unlight").click()
    page.get_by_role("button", name=re.compile(r"^Light \d+°$")).click()
    panel = page.get_by_role("dialog", name="Light, air, water")
    panel.get_by_role("spinbutton", name="Sun height").focus()
    page.keyboard.press("Enter")
    page.keyboard.type("9")
    page.keyboard.press("Enter")
    panel.get_by_role("button", name=re.compile("^Mist")).click()
    panel.get_by_label("A mist lies in the valleys").check()
    panel.get_by_role("spinbutton", name="Seen through").focus()
    page.keyboard.press("Enter")
    page.keyboard.type("900")
    page.keyboard.press("Enter")
    rested(page)


def mapped(page: Page) -> None:
    """Wait for the map of the whole ground."""
    expect(page.locator("[data-map][data-resting=true] img")).to_be_visible(timeout=60_000)
    rested(page, "far")


def ground(page: Page) -> None:
    """The Ground room, a transect drawn across the reservoir; the evening is over."""
    page.keyboard.press("Escape")
    undo = page.get_by_role(
        "button", name=re.compile("^Undo: (moved the sun|set sun height|mist in|set seen through)")
    )
    while undo.count():
        page.keyboard.press("Control+z")
        page.wait_for_timeout(400)
    page.get_by_role("link", name="1Ground").click()
    mapped(page)
    box = page.locator("[data-map]").bounding_box()
    assert box is not None
    page.mouse.move(box["x"] + 60, box["y"] + 330)
    page.mouse.down()
    page.mouse.move(box["x"] + 330, box["y"] + 70, steps=6)
    page.mouse.up()
    page.get_by_role("button", name="Side valleys", exact=True).click()
    page.mouse.move(box["x"] + 220, box["y"] + 180)
    mapped(page)


def sampled(page: Page) -> None:
    """Wait for the lit sample in full."""
    expect(page.locator("[data-sample][data-resting=true] img")).to_be_visible(timeout=60_000)
    page.wait_for_timeout(800)


def stock(page: Page) -> None:
    """The Stock room, one set laid out."""
    page.get_by_role("link", name="2Stock").click()
    page.get_by_role("list", name="Sets").get_by_role("button", name=re.compile("^Cracked mud")).click()
    sampled(page)


def stock_intake(page: Page) -> None:
    """A faulty pack on its way in."""
    page.get_by_role("button", name="Supplier").click()
    page.get_by_role("button", name="Fetch Small mud plates at 1024 px").click()
    expect(page.get_by_role("heading", name="1 set found")).to_be_visible(timeout=120_000)
    sampled(page)


def stock_mend(page: Page) -> None:
    """Its seam mended, the figures before and after."""
    page.get_by_role("button", name="Keep the set").click()
    page.get_by_role("radio", name="Mend").click(timeout=60_000)
    page.get_by_role("button", name="Make seamless").click()
    expect(page.locator("[data-change]")).to_be_visible(timeout=60_000)
    sampled(page)


def strewn(page: Page) -> None:
    """What is strewn over the reservoir, from among the scree."""
    page.get_by_role("button", name="Scree boulders", exact=True).click()
    page.get_by_role("group", name="How many").get_by_text("on the site").wait_for()
    expect(page.locator("aside[data-figures=current]")).to_be_visible(timeout=120_000)
    rested(page)


def hand_off(page: Page) -> None:
    """A sheet of tiles at work, one of its files looked into."""
    page.get_by_role("link", name="Hand-off").click()
    page.get_by_role("button", name=re.compile("^Film")).click()
    page.get_by_role("button", name=re.compile("_surface")).click()
    expect(page.get_by_role("img", name=re.compile("_surface_a1.exr at 1:1"))).to_be_visible(timeout=60_000)
    page.get_by_role("button", name=re.compile("^Write Film")).click()
    expect(page.get_by_text(re.compile("tile 2, 2 at work"))).to_be_visible(timeout=120_000)


def mesh(page: Page) -> None:
    """A mesh in levels of detail before it is written, its triangles from nearby."""
    page.get_by_role("button", name=re.compile("^glTF 2.0 mesh")).click()
    page.get_by_role("region", name="Entry").get_by_role("radio", name="linked").click()
    for label, value in (("Greatest error", "2"), ("Levels of detail", "4")):
        page.get_by_role("spinbutton", name=label, exact=True).focus()
        page.keyboard.press("Enter")
        page.keyboard.type(value)
        page.keyboard.press("Enter")
    field = page.get_by_role("textbox", name="Pattern of the file's name")
    field.fill("{site}_mesh_{level}")
    field.press("Enter")
    look = page.get_by_role("application", name=re.compile("^The mesh"))
    look.focus()
    for _ in range(3):
        page.keyboard.press("+")
    expect(page.locator("[data-mesh-told]")).to_contain_text(re.compile("within.*2 m", re.S), timeout=60_000)
    page.wait_for_timeout(3000)


def main() -> None:
    """Lay out the demo, walk through it, write the pictures."""
    OUT.mkdir(parents=True, exist_ok=True)
    chromium = shutil.which("chromium")
    with tempfile.TemporaryDirectory() as temporary, sync_playwright() as playwright:
        folder = Path(temporary)
        data = folder / "data"
        subprocess.run([sys.executable, "-m", "elvatch", "demo", "--no-serve", "--data", str(data)], check=True)
        served = serve(data)
        try:
            browser = playwright.chromium.launch(executable_path=chromium, args=ARGUMENTS)
            page = browser.new_page(viewport={"width": 1280, "height": 800})
            page.goto(served.url)
            page.get_by_role("button", name="A quarry to learn from").click()
            expect(page.get_by_role("listitem")).to_have_count(4, timeout=180_000)
            for picture in page.get_by_role("listitem").get_by_role("img").all():
                expect(picture).to_have_js_property("complete", True, timeout=60_000)
            page.wait_for_timeout(800)
            page.screenshot(path=OUT / "sites.png")
            site = page.get_by_role("listitem").filter(has=page.get_by_role("link", name="Vellin Water", exact=True))
            site.get_by_role("link", name="Open", exact=True).click()
            rested(page)
            page.screenshot(path=OUT / "cover.png")
            steps: tuple[tuple[str, Callable[[Page], None]], ...] = (
                ("cover-fit", fitted),
                ("cover-coverage", coverage),
                ("cover-paint", painted),
                ("cover-probe", probed),
                ("cover-chart", charted),
                ("cover-light", lit),
                ("ground", ground),
                ("stock", stock),
                ("stock-intake", stock_intake),
                ("stock-mend", stock_mend),
                ("hand-off", hand_off),
                ("hand-off-mesh", mesh),
            )
            page.get_by_role("link", name="Things").click()
            rested(page)
            strewn(page)
            page.screenshot(path=OUT / "things.png")
            page.get_by_role("link", name="Cover").click()
            rested(page)
            raised(page)
            for name, step in steps:
                step(page)
                page.screenshot(path=OUT / f"{name}.png")
            browser.close()
        finally:
            served.kill()
    for path in OUT.glob("*.png"):
        lighten(path)


if __name__ == "__main__":
    main()
