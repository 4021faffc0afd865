"""The Stock room as a person uses it: search, drop, judge, keep, mend, undo, make; pixels, words, files."""

from __future__ import annotations

import base64
import io
import re
import zipfile
from pathlib import Path

import numpy as np
import pytest
from PIL import Image
from playwright.sync_api import FloatRect, Page, expect

from elvatch.core.stock.generators import GENERATORS
from tests.core import pictures as p
from tests.serving import Served
from tests.ui.acts import still, take_chosen, until
from tests.watching import seen, shown

pytestmark = pytest.mark.browser
TITLES = sorted(one.title for one in GENERATORS.values())


def open_stock(page: Page) -> None:
    page.get_by_role("link", name="Open", exact=True).first.click()
    page.get_by_role("link", name="2Stock").click()
    expect(page.get_by_role("heading", name=f"{len(TITLES)} sets")).to_be_visible()


def choose(page: Page, title: str) -> None:
    page.get_by_role("list", name="Sets").get_by_role("button", name=re.compile(f"^{title}")).click()
    expect(page.get_by_role("region", name=title)).to_be_visible()
    rested(page)


def rested(page: Page) -> None:
    seen(page, shown("[data-sample][data-resting=true] img"))


def sample(page: Page) -> np.ndarray:
    box = page.locator("[data-sample]").bounding_box()
    assert box is not None
    half = box["height"] / 2
    clip: FloatRect = {"x": box["x"] + 4, "y": box["y"] + half, "width": box["width"] - 90, "height": half - 8}
    with Image.open(io.BytesIO(page.screenshot(clip=clip))) as image:
        return np.asarray(image.convert("L")).astype(float)


def drop(page: Page, files: dict[str, bytes]) -> None:
    """Drop files on the room, as the browser hands them over."""
    given = {name: base64.b64encode(data).decode() for name, data in files.items()}
    page.evaluate(
        """(given) => {
          const data = new DataTransfer();
          for (const [name, text] of Object.entries(given)) {
            data.items.add(new File([Uint8Array.from(atob(text), (c) => c.charCodeAt(0))], name));
          }
          const dropped = new DragEvent("drop", { dataTransfer: data, bubbles: true, cancelable: true });
          document.querySelector("main").dispatchEvent(dropped);
        }""",
        given,
    )


def test_the_wall_is_searched_while_typing_and_filtered(page: Page) -> None:
    open_stock(page)
    names = page.get_by_role("list", name="Sets").locator("button > span.font-semibold.truncate")
    expect(names).to_have_text(TITLES)
    page.get_by_role("searchbox", name="Search the stock").fill("sl be")
    expect(names).to_have_text(["Slate bedrock"])
    page.get_by_role("searchbox", name="Search the stock").fill("")
    page.get_by_role("button", name=re.compile("^soil and mud")).click()
    expect(names).to_have_text(["Cracked mud", "Moor peat", "Ploughed soil", "Wet silt"])
    page.get_by_role("checkbox", name="Metallic").check()
    expect(page.get_by_text("No set fits all of this")).to_be_visible()
    page.get_by_role("button", name="Show all").click()
    expect(names).to_have_text(TITLES)


def test_a_set_is_laid_out_and_its_light_moves(page: Page) -> None:
    open_stock(page)
    choose(page, "Pebbles")
    expect(page.get_by_text(re.compile("the near stand needs 1024 px, it has 256"))).to_be_visible()
    before = sample(page)
    page.get_by_role("button", name="Grazing light").click()
    until(page, lambda: float(not np.array_equal(sample(page), before)), 0.5)
    rested(page)
    grazing = still(page, lambda: sample(page))
    assert grazing.std() / grazing.mean() > 1.15 * before.std() / before.mean(), "grazing light shows relief"
    dial = page.get_by_role("application", name=re.compile("^Sun at"))
    dial.focus()
    page.keyboard.press("ArrowUp")
    expect(page.get_by_role("application", name=re.compile("11° high"))).to_be_visible()
    page.get_by_role("button", name=re.compile("^Normal")).click()
    expect(page.get_by_alt_text("Normal map")).to_be_visible()
    assert page.evaluate("document.documentElement.scrollHeight") == 800


def test_what_is_dropped_is_shown_with_reasons_decided_on_and_kept(page: Page, tmp_path: Path) -> None:
    open_stock(page)
    files = p.files()
    files["mud_gloss.png"] = files.pop("mud_roughness.png")
    drop(page, files | {"broken.jpg": b"\xff\xd8\xff" + bytes(40), "notes.txt": b"not an image"})
    expect(page.get_by_role("heading", name="1 set found")).to_be_visible()
    expect(page.get_by_role("list", name="Not taken")).to_contain_text("broken.jpg: found a damaged")
    gloss = page.get_by_label("What mud_gloss.png is")
    expect(gloss).to_have_value("gloss")
    expect(page.get_by_role("row", name=re.compile("mud_gloss"))).to_contain_text("is it roughness?")
    gloss.select_option("roughness")
    page.get_by_label("Name of the set").fill("Bank mud")
    page.get_by_label("Metres per repeat").fill("1.6")
    expect(page.get_by_label("Relief, mm")).to_have_value(re.compile("^8[0-9]"))
    rested(page)
    page.get_by_label("Metres per repeat").fill("many")
    expect(page.get_by_role("button", name="Keep the set")).to_be_disabled()
    page.get_by_label("Metres per repeat").fill("1.6")
    page.get_by_role("button", name="Keep the set").click()
    expect(page.get_by_role("region", name="Bank mud")).to_be_visible()
    expect(page.get_by_role("heading", name=f"{len(TITLES) + 1} sets")).to_be_visible()
    page.get_by_role("radio", name="Filing").click()
    with page.expect_download() as download:
        page.get_by_role("link", name="Take out as a zip").click()
    with zipfile.ZipFile(download.value.path()) as out:
        data = out.read("Bank_mud/Bank_mud_roughness.png")
    with Image.open(io.BytesIO(data)) as kept, Image.open(io.BytesIO(files["mud_gloss.png"])) as given:
        np.testing.assert_array_equal(np.asarray(kept), np.asarray(given))


def test_a_packs_seam_is_found_mended_and_the_mend_undone(page: Page) -> None:
    open_stock(page)
    page.get_by_role("button", name="Supplier").click()
    page.get_by_role("searchbox", name="Search the supplier").fill("cobbles")
    expect(page.get_by_role("list", name="Packs").get_by_role("listitem")).to_have_count(1)
    page.get_by_role("button", name="Fetch River cobbles at 512 px").click()
    page.get_by_role("button", name="Keep the set").click()
    expect(page.get_by_role("list", name="Findings")).to_contain_text("A seam between left and right")
    page.get_by_role("radio", name="1×1").click()
    expect(page.locator("[data-worst=across]")).to_be_visible()
    page.get_by_role("button", name="Mend…").first.click()
    page.get_by_role("button", name="Make seamless").click()
    change = page.locator("[data-change]")
    expect(change).to_contain_text("Made seamless")
    figures = [float(text) for text in re.findall(r"worst seam ([\d.]+) before, ([\d.]+)", change.inner_text())[0]]
    assert figures[0] > 3
    assert figures[1] < 1.5
    expect(page.locator("[data-worst]")).to_have_count(0)
    page.keyboard.press("Control+z")
    expect(page.get_by_role("button", name=re.compile("^Redo: made seamless"))).to_be_visible()
    expect(page.locator("[data-worst=across]")).to_be_visible()


def test_replaced_files_show_in_the_layers_that_use_the_set(page: Page) -> None:
    page.get_by_role("link", name="Open", exact=True).first.click()
    near = page.locator("[data-stand=near][data-resting=true] canvas")
    expect(near).to_be_visible()
    before = colour_of(page)
    page.get_by_role("link", name="2Stock").click()
    for title in ("Wet silt", "Cracked mud"):
        choose(page, title)
        page.get_by_role("radio", name="Filing").click()
        expect(page.get_by_role("list", name="Used in")).to_contain_text(f"Vellin Water: {title}")
        page.get_by_role("button", name="Replace its files").click()
        green = np.zeros((64, 64, 3), np.uint8)
        green[..., 1] = 120
        drop(page, {"paint_basecolor.png": p.saved(Image.fromarray(green), "PNG")})
        page.get_by_role("button", name="Replace the files").click()
        expect(page.get_by_role("button", name="Undo: files replaced")).to_be_visible()
    page.get_by_role("link", name="3Cover").click()
    expect(near).to_be_visible()
    after = colour_of(page)
    assert (after[1] - after[0]) - (before[1] - before[0]) > 15, "the ground about the peg has turned green"


def colour_of(page: Page) -> np.ndarray:
    """The mean colour of the lower part of Near."""
    return still(page, lambda: _colour_now(page))


def _colour_now(page: Page) -> np.ndarray:
    box = page.locator("[data-stand=near]").bounding_box()
    assert box is not None
    top, high = box["y"] + box["height"] * 0.6, box["height"] * 0.25
    clip: FloatRect = {"x": box["x"] + 10, "y": top, "width": box["width"] - 20, "height": high}
    with Image.open(io.BytesIO(page.screenshot(clip=clip))) as image:
        result: np.ndarray = np.asarray(image.convert("RGB")).astype(float).mean(axis=(0, 1))
        return result


def test_a_set_is_told_set_aside_and_put_back(page: Page, mortal: Served) -> None:
    page.goto(mortal.url)
    open_stock(page)
    choose(page, "Moor peat")
    page.get_by_role("button", name="Moor peat", exact=True).click()
    page.get_by_label("Name of the set").fill("Peat above the dam")
    page.keyboard.press("Enter")
    page.get_by_role("radio", name="Filing").click()
    page.get_by_label("Tags").fill("bank, damp")
    page.keyboard.press("Enter")
    page.get_by_role("searchbox", name="Search the stock").fill("dam damp")
    expect(page.get_by_role("heading", name=f"1 of {len(TITLES)} sets")).to_be_visible()
    page.get_by_role("button", name="Set it aside").click()
    expect(page.get_by_text("It is set aside")).to_be_visible()
    expect(page.get_by_role("heading", name=f"0 of {len(TITLES) - 1} sets")).to_be_visible()
    page.get_by_role("checkbox", name="Sets that were set aside").check()
    expect(page.get_by_role("list", name="Sets").get_by_role("button")).to_have_count(1)
    mortal.kill()
    page.get_by_role("button", name="Put it back on the wall").click()
    expect(page.get_by_role("alert")).to_contain_text("The server does not answer")


def test_a_set_is_made_with_a_picture_before_and_can_be_cancelled(page: Page) -> None:
    open_stock(page)
    page.get_by_role("button", name="Make", exact=True).click()
    page.get_by_role("button", name=re.compile("^Wet silt")).click()
    expect(page.locator("[data-preview][data-resting=true]")).to_be_visible()
    page.get_by_role("radio", name="2048 px").click()
    page.get_by_role("button", name="Make the set").click()
    page.get_by_role("button", name="Cancel").click()
    expect(page.get_by_role("alert")).to_contain_text("Cancelled; nothing was changed")
    page.get_by_role("button", name="Understood").click()
    page.get_by_role("radio", name="256 px").click()
    page.get_by_role("slider", name="Ripple height").focus()
    page.keyboard.press("End")
    page.get_by_role("button", name="Make the set").click()
    expect(page.get_by_role("region", name="Wet silt 7")).to_be_visible()
    expect(page.get_by_text(re.compile("One repeat covers"))).to_contain_text("2.00 m")


def test_five_of_a_control_are_laid_out_and_two_are_taken_from_a_sheet(page: Page) -> None:
    open_stock(page)
    page.get_by_role("button", name="Make", exact=True).click()
    page.get_by_role("button", name=re.compile("^Cracked mud")).click()
    page.get_by_role("slider", name="Plate size", exact=True).focus()
    page.keyboard.press("s")
    expect(page.get_by_role("region", name="Five of Plate size").locator("img")).to_have_count(5)
    page.get_by_role("slider", name="Crack width", exact=True).focus()
    page.keyboard.press("s")
    sheet = page.get_by_role("region", name="Sheet of Plate size and Crack width")
    expect(sheet.locator("li")).to_have_count(25)

    def darkness(k: int) -> float:
        expect(sheet.locator("li").nth(k).locator("img")).to_be_visible()
        with Image.open(io.BytesIO(sheet.locator("li button").nth(k).screenshot())) as image:
            return float((np.asarray(image.convert("L"))[4:50, 4:190] < 90).mean())

    # wider cracks are more of the ground: the lowest row has the widest
    assert darkness(22) > 1.5 * darkness(2)
    page.keyboard.press("ArrowRight")
    page.keyboard.press("ArrowDown")
    take_chosen(page, sheet, ("Plate size", "Crack width"))


def test_files_for_the_stock_dropped_elsewhere_are_sent_on_in_words(page: Page) -> None:
    page.get_by_role("link", name="Open", exact=True).first.click()
    expect(page.locator("[data-stand=near]")).to_be_visible()
    drop(page, {"mud_d.png": b"1", "mud_n.png": b"2"})
    expect(page.get_by_role("alert")).to_contain_text("sets are dropped in Stock")
