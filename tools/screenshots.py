"""Take one current picture of each main view, at 1280x800, from a fresh demo."""

from __future__ import annotations

import shutil
import subprocess
import sys
import tempfile
from collections.abc import Callable
from pathlib import Path

import numpy as np
from playwright.sync_api import Page, expect, sync_playwright

from elvatch.core import noise
from elvatch.core.formats import png
from tests.serving import serve
from tests.ui.conftest import ARGUMENTS

OUT = Path(__file__).parents[1] / "docs/screenshots"


def rested(page: Page, *stands: str) -> None:
    """Wait for full pictures."""
    for stand in stands or ("far", "mid", "near"):
        expect(page.locator(f"[data-stand={stand}][data-resting=true] img")).to_be_visible(timeout=60_000)
    page.wait_for_timeout(600)


def coverage(page: Page) -> None:
    """The selected layer hatched over the ground, a clause opened onto its histogram."""
    page.get_by_role("button", name="Layer 3, Slate scree").click()
    page.get_by_role("radio", name="Coverage").click()
    page.get_by_role("button", name="soft over 8°").click()
    rested(page)


def whole_near(page: Page) -> None:
    """Near over the whole row."""
    page.keyboard.press("Escape")
    page.get_by_role("radio", name="Lit").click()
    page.locator("[data-stand=near]").get_by_role("button", name="Whole row").click()
    rested(page, "near")


def hand_off(page: Page) -> None:
    """Maps written."""
    page.get_by_role("button", name="All three").click()
    page.get_by_role("link", name="Hand-off").click()
    page.get_by_role("radio", name="1024").click()
    page.get_by_role("button", name="Write the maps").click()
    expect(page.get_by_text("What landed")).to_be_visible(timeout=60_000)


def new_site(page: Page, folder: Path) -> None:
    """A height file read, its size to be given."""
    heights = noise.periodic(513, 3, 8, 7) * 20000 + 32768
    path = folder / "north_moor.png"
    path.write_bytes(png.encode(heights.astype(np.uint16)))
    page.get_by_role("link", name="Elvatch").click()
    page.get_by_label("Height file").set_input_files(path)
    expect(page.get_by_text("513 × 513")).to_be_visible()
    page.wait_for_timeout(800)


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
            expect(page.get_by_role("listitem")).to_have_count(1)
            page.wait_for_timeout(4000)
            page.screenshot(path=OUT / "sites.png")
            page.get_by_role("link", name="Open", exact=True).click()
            rested(page)
            page.screenshot(path=OUT / "cover.png")
            steps: tuple[tuple[str, Callable[[Page], None]], ...] = (
                ("cover-coverage", coverage),
                ("cover-near", whole_near),
                ("hand-off", hand_off),
                ("new-site", lambda shown: new_site(shown, folder)),
            )
            for name, step in steps:
                step(page)
                page.screenshot(path=OUT / f"{name}.png")
            browser.close()
        finally:
            served.kill()


if __name__ == "__main__":
    main()
