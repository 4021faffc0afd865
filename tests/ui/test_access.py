"""Each room can be used by everybody: no violation of WCAG 2.2 AA, and one first heading, found by axe-core."""

from __future__ import annotations

import re
from pathlib import Path

import pytest
from playwright.sync_api import Page, expect

from tests.ui.acts import open_cover, rested

pytestmark = pytest.mark.browser

AXE = (Path(__file__).parents[2] / "ui/node_modules/axe-core/axe.min.js").read_text()
RULES = ["wcag2a", "wcag2aa", "wcag21a", "wcag21aa", "wcag22aa"]
ASK = f"""async () => {{
  const found = await axe.run(document, {{
    runOnly: {{ type: "tag", values: {RULES} }}, rules: {{ "page-has-heading-one": {{ enabled: true }} }}
  }});
  return found.violations.flatMap((one) => one.nodes.map((node) => `${{one.id}}: ${{node.html.slice(0, 160)}}`));
}}"""


def violations(page: Page) -> list[str]:
    page.evaluate(AXE)
    found: list[str] = page.evaluate(ASK)
    headings = page.locator("h1").count()
    return found if headings == 1 else [*found, f"{headings} first headings"]


def test_the_front_door_and_stock(page: Page) -> None:
    expect(page.get_by_role("link", name="Open", exact=True).first).to_be_visible()
    assert violations(page) == []
    page.get_by_role("link", name="Stock of texture sets").click()
    page.get_by_role("button", name=re.compile("^Pebbles")).first.click()
    expect(page.get_by_role("button", name="Grazing light")).to_be_visible()
    assert violations(page) == []
    for sheet in ("Supplier", "Make"):
        page.get_by_role("button", name=sheet, exact=True).click()
        assert violations(page) == [], sheet
        page.reload()
        expect(page.get_by_role("button", name="Bring in", exact=True)).to_be_visible()


def test_the_cover_room_with_its_panels(page: Page) -> None:
    open_cover(page)
    assert violations(page) == []
    page.get_by_role("button", name=re.compile("°")).first.click()
    assert violations(page) == []
    page.keyboard.press("Escape")
    page.get_by_role("tab", name="Relief").click()
    assert violations(page) == []


def test_the_cover_room_of_a_worn_slab(page: Page) -> None:
    page.get_by_role("link", name="Open", exact=True).nth(1).click()
    rested(page)
    page.get_by_role("button", name=re.compile("^Wear ")).first.click()
    rested(page)
    assert violations(page) == []


def test_the_things_room_and_the_wall_of_things(page: Page) -> None:
    open_cover(page)
    page.get_by_role("link", name="4Things").click()
    page.get_by_role("button", name="Strew things").click()
    page.get_by_role("button", name=re.compile("^Rubble stone")).click()
    expect(page.get_by_role("group", name="How many")).to_contain_text("on the site")
    assert violations(page) == []
    page.get_by_role("button", name="Rubble stone", exact=True).last.click()
    expect(page.get_by_role("img", name=re.compile("beside the surveyor"))).to_be_visible()
    assert violations(page) == []
    page.get_by_role("link", name="2Stock").click()
    page.get_by_role("button", name="Things", exact=True).click()
    expect(page.get_by_role("list", name="Things that are drawn")).to_be_visible()
    assert violations(page) == []


def test_ground_and_hand_off(page: Page) -> None:
    open_cover(page)
    page.get_by_role("link", name="1Ground").click()
    expect(page.locator("[data-map][data-resting=true] img")).to_be_visible()
    assert violations(page) == []
    page.get_by_role("link", name="5Hand-off").click()
    expect(page.get_by_role("button", name="Write Plain maps")).to_be_enabled()
    expect(page.get_by_role("img", name="vellin-water_colour.png at 1:1")).to_be_visible()
    assert violations(page) == []
