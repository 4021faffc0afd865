"""What a person does at the Cover room and sees of it, for the browser tests."""

from __future__ import annotations

import io
import re
from collections.abc import Callable

import numpy as np
from PIL import Image
from playwright.sync_api import Locator, Page, expect

from tests.watching import KEPT, seen, shown

STANDS = ("far", "mid", "near")


def open_cover(page: Page, layer: str = "Slate bedrock") -> None:
    """Open the Cover room, one layer selected."""
    page.get_by_role("link", name="Open", exact=True).first.click()
    rested(page)
    page.get_by_role("button", name=re.compile(rf"^Layer \d+, {layer}")).click()


def row(page: Page, layer: str) -> Locator:
    """A layer's row in the column."""
    return page.locator("aside li").filter(has=page.get_by_role("button", name=layer, exact=True))


def rested(page: Page) -> None:
    """Wait until all edits are kept, all pictures show what is wanted in full, and figures belong to them."""
    pictures = [shown(f"[data-stand={stand}][data-resting=true] canvas") for stand in STANDS]
    seen(page, KEPT, *pictures, '!document.querySelector("[data-figures]:not([data-figures=current])")')


def pixels(page: Page, stand: str) -> np.ndarray:
    """The picture itself as the browser decoded it, without what is drawn over it."""
    box = page.locator(f"[data-stand={stand}]").bounding_box()
    assert box is not None
    x, y, wide, high = box["x"] + 10, box["y"] + 110, box["width"] - 20, box["height"] - 140
    shot = page.screenshot(clip={"x": x, "y": y, "width": wide, "height": high})
    with Image.open(io.BytesIO(shot)) as image:
        return np.asarray(image.convert("RGB")).astype(int)


def at(page: Page, stand: str, across: float, down: float) -> tuple[float, float]:
    """A spot of a picture, as a place on the page."""
    box = page.locator(f"[data-stand={stand}]").bounding_box()
    assert box is not None
    return box["x"] + across * box["width"], box["y"] + down * box["height"]


def changed(before: np.ndarray, after: np.ndarray) -> float:
    """Share of pixels that clearly differ."""
    return float((np.abs(before - after).max(axis=2) > 12).mean())


def until(page: Page, measure: Callable[[], float], least: float) -> float:
    """Wait until what is measured on the screen is above ``least``, 90 s at most; return the last measure."""
    for _ in range(450):
        found = measure()
        if found > least:
            return found
        page.wait_for_timeout(200)
    raise AssertionError(f"{found} on the screen, never above {least}")


def still(page: Page, read: Callable[[], np.ndarray]) -> np.ndarray:
    """Return what is read off the screen once it is the same twice running, 30 s at most."""
    found = read()
    for _ in range(150):
        page.wait_for_timeout(200)
        before, found = found, read()
        if before.shape == found.shape and np.array_equal(before, found):
            break
    return found


def unfold(page: Page, title: str) -> None:
    """Open a group of the bench's controls."""
    group = page.get_by_role("button", name=re.compile(rf"^{title}\b")).and_(page.locator("[aria-expanded]"))
    if group.get_attribute("aria-expanded") == "false":
        group.click()


def drag(page: Page, what: Locator, dx: float, dy: float = 0, hold: bool = False) -> None:
    box = what.bounding_box()
    assert box is not None
    x, y = box["x"] + box["width"] / 2, box["y"] + box["height"] / 2
    page.mouse.move(x, y)
    page.mouse.down()
    for k in range(1, 9):
        page.mouse.move(x + dx * k / 8, y + dy * k / 8)
        page.wait_for_timeout(30)
    if not hold:
        page.mouse.up()


def take_chosen(page: Page, laid_out: Locator, names: tuple[str, ...]) -> list[str]:
    """Take the values that are chosen in a strip or sheet; see that the numbers of these names have them."""
    told = re.findall(r"[\d.]+", laid_out.locator("[aria-current=true]").inner_text())
    page.keyboard.press("Enter")
    expect(laid_out).to_be_hidden()
    for name, value in zip(names, told, strict=True):
        expect(page.get_by_role("spinbutton", name=name, exact=True)).to_contain_text(value)
    return told
