"""The Things room as a person uses it: strewn, counted, made denser, one taken away by hand, all of it undone."""

from __future__ import annotations

import re
from collections.abc import Iterator

import numpy as np
import pytest
from playwright.sync_api import Locator, Page, expect
from scipy.ndimage import distance_transform_edt

from tests.ui.acts import changed, open_cover, pixels, rested, row, until
from tests.ui.test_hand_off import typed

pytestmark = pytest.mark.browser


def open_things(page: Page) -> None:
    open_cover(page)
    page.get_by_role("link", name="Things").click()
    expect(page.get_by_text("Nothing is strewn here yet")).to_be_visible()


def strew(page: Page, what: str) -> None:
    page.get_by_role("button", name="Strew things").click()
    page.get_by_role("dialog", name="Strew things").get_by_role("button", name=re.compile(f"^{what}")).click()
    expect(page.get_by_role("button", name=f"{what}, strew 1")).to_be_visible()


def count(page: Page) -> int:
    told = page.get_by_role("group", name="How many")
    expect(told).to_contain_text("on the site")
    expect(page.locator("aside[data-figures=current]")).to_be_visible()
    found = re.search(r"on the site\s*(?:≈ )?([\d ]+)", told.inner_text())
    assert found
    return int(found[1].replace(" ", ""))


def spots_of_things(page: Page, bare: np.ndarray) -> Iterator[tuple[float, float]]:
    """Places on the page amid what a strew changed in Near: the widest first, a few of them in shadows."""
    box = near(page).bounding_box()
    assert box
    within = distance_transform_edt(np.abs(pixels(page, "near") - bare).max(axis=2) > 12)
    for _ in range(20):
        row, col = np.unravel_index(within.argmax(), within.shape)
        yield box["x"] + 10 + float(col), box["y"] + 110 + float(row)
        within[max(0, row - 15) : row + 15, max(0, col - 15) : col + 15] = 0


def near(page: Page) -> Locator:
    return page.locator("[data-stand=near]")


def test_things_are_strewn_seen_counted_and_undone(page: Page) -> None:
    open_things(page)
    rested(page)
    bare = pixels(page, "near")
    strew(page, "Boulder")
    few = count(page)
    assert few > 5000
    typed(page, "Boulder, on 100 m²", "40")
    expect(page.get_by_role("group", name="How many")).not_to_contain_text("counting")
    rested(page)
    assert count(page) > 5 * few
    full = pixels(page, "near")
    assert changed(bare, full) > 0.02
    expect(near(page)).to_contain_text(re.compile(r"[1-9]\d* in view"))
    # a ceiling is told
    typed(page, "Boulder, at most", "900")
    expect(page.get_by_role("group", name="How many")).to_contain_text("The ceiling leaves")
    for _ in range(3):
        page.keyboard.press("Control+z")
    expect(page.get_by_text("Nothing is strewn here yet")).to_be_visible()
    rested(page)
    assert changed(bare, pixels(page, "near")) < 0.002


def test_one_is_picked_in_a_picture_and_taken_away(page: Page) -> None:
    open_things(page)
    rested(page)
    bare = pixels(page, "near")
    strew(page, "Boulder")
    typed(page, "Boulder, on 100 m²", "60")
    rested(page)
    page.get_by_role("button", name="Pick one").click()
    picked = page.get_by_role("group", name="The picked thing")
    for spot in spots_of_things(page, bare):
        with page.expect_response("**/api/strews/pick") as answer:
            page.mouse.click(*spot)
        if answer.value.json()["strew"] is not None:
            break
        expect(page.get_by_role("status").filter(has_text="No thing stands there")).to_be_visible()
    expect(picked).to_be_visible()
    before = pixels(page, "near")
    picked.get_by_role("button", name="Take away").click()
    expect(page.get_by_role("group", name="How many")).to_contain_text("1 away")
    rested(page)
    until(page, lambda: changed(before, pixels(page, "near")), 1e-4)
    page.get_by_role("button", name="Forget 1 by hand").click()
    expect(page.get_by_role("group", name="How many")).to_contain_text("none")


def test_a_rule_of_the_strew_is_a_sentence_and_layers_ask_how_near_it_is(page: Page) -> None:
    open_things(page)
    strew(page, "Boulder")
    all_of_it = count(page)
    page.get_by_role("button", name="Add a clause").click()
    page.get_by_role("button", name="Near Drowned lane").click()
    where = page.get_by_role("region", name="Where")
    expect(where).to_contain_text("of Drowned lane")
    rested(page)
    assert count(page) < all_of_it / 10
    page.get_by_role("link", name="Cover").click()
    row(page, "Cracked mud").click()
    page.get_by_role("button", name="Add a clause").click()
    page.get_by_role("button", name="Near Boulder").click()
    expect(page.get_by_role("region", name="Where")).to_contain_text("of Boulder")
    # called otherwise, it is spoken of by its new name
    page.get_by_role("link", name="Things").click()
    page.get_by_text("Boulder", exact=True).first.dblclick()
    page.get_by_label("Name of the strew").fill("Big stones")
    page.get_by_label("Name of the strew").press("Enter")
    expect(page.get_by_text("Big stones", exact=True).first).to_be_visible()
    page.get_by_role("link", name="Cover").click()
    row(page, "Cracked mud").click()
    expect(page.get_by_role("region", name="Where")).to_contain_text("of Big stones")


def test_kinds_hang_on_a_wall_of_their_own(page: Page) -> None:
    open_cover(page)
    page.get_by_role("link", name="Stock").click()
    page.get_by_role("button", name="Things", exact=True).click()
    wall = page.get_by_role("list", name="Things that are drawn")
    expect(wall.get_by_role("listitem")).to_have_count(16)
    first = wall.get_by_role("img").first
    page.wait_for_function("e => e.complete && e.naturalWidth === 330", arg=first.element_handle())
    stl = (
        b"solid s\n"
        + b"".join(
            b"facet normal 0 0 0\nouter loop\n"
            + b"".join(b"vertex %f %f %f\n" % corner for corner in face)
            + b"endloop\nendfacet\n"
            for face in (
                ((0, 0, 0), (0, 2, 0), (2, 0, 0)),
                ((0, 0, 0), (2, 0, 0), (0, 0, 3)),
                ((0, 0, 0), (0, 0, 3), (0, 2, 0)),
                ((2, 0, 0), (0, 2, 0), (0, 0, 3)),
            )
        )
        + b"endsolid\n"
    )
    page.get_by_label("A model of a thing").set_input_files(
        {"name": "shard.stl", "mimeType": "model/stl", "buffer": stl}
    )
    sheet = page.get_by_role("region", name="Brought in")
    expect(sheet).to_contain_text("3.00 m on its longest side")
    sheet.get_by_role("radio", name="cm").click()
    expect(sheet).to_contain_text("0.0300 m on its longest side")
    sheet.get_by_role("button", name="Keep it").click()
    expect(page.get_by_role("list", name="Kept things")).to_contain_text("shard")


def open_on_a_stand(page: Page) -> np.ndarray:
    """Open a site of the split boulder alone; return Mid as it is seen."""
    open_cover(page)
    page.get_by_role("link", name="Stock").click()
    page.get_by_role("button", name="Things", exact=True).click()
    card = (
        page.get_by_role("list", name="Things that are drawn")
        .get_by_role("listitem")
        .filter(has_text="Split boulder")
    )
    card.get_by_role("button", name="on a stand").click()
    expect(page).to_have_url(re.compile(r"#/site/.*/things"))
    expect(page.get_by_text("Split boulder").first).to_be_visible()
    rested(page)
    return pixels(page, "mid")


def test_a_thing_on_a_stand_is_a_site_of_its_own(page: Page) -> None:
    seen = open_on_a_stand(page)
    # the stone and the shadow it throws are darker than a bare stand and the sky
    assert 0.03 < (seen.max(axis=2) < 110).mean() < 0.5
    expect(page.get_by_text("1 thing ·")).to_be_visible()


def apart(a: np.ndarray, b: np.ndarray) -> np.ndarray:
    return np.asarray(np.abs(a - b).max(axis=2) > 12)


def test_paint_on_a_thing_lies_where_the_brush_went_and_it_can_be_mirrored(page: Page) -> None:
    bare = open_on_a_stand(page)
    page.get_by_role("region", name="Set by hand").get_by_role("button", name=re.compile("^Split boulder")).click()
    page.get_by_role("button", name="Lay a layer").click()
    page.get_by_role("button", name=re.compile("Moss")).first.click()
    rested(page)
    stone = apart(pixels(page, "mid"), bare)
    assert stone.mean() > 0.03, "moss all over it"
    page.get_by_role("region", name=re.compile("^Cover of")).get_by_role("button", name=re.compile("^Moss")).click()
    page.get_by_role("button", name="Add a clause").click()
    page.get_by_role("button", name="Paint in").click()
    expect(page.get_by_role("toolbar", name="Brush")).to_contain_text("Paint of")
    rested(page)
    assert until(page, lambda: 1 - apart(pixels(page, "mid"), bare).mean(), 0.995) > 0.995, "nothing is painted yet"
    box = page.locator("[data-stand=mid]").bounding_box()
    assert box
    within = distance_transform_edt(stone)
    row, col = np.unravel_index(within.argmax(), within.shape)
    x, y = box["x"] + 10 + float(col), box["y"] + 110 + float(row)
    page.mouse.move(x - 3, y)
    page.mouse.down()
    page.mouse.move(x + 3, y, steps=4)
    # it shows under the hand, before it lets go
    until(page, lambda: float(apart(pixels(page, "mid"), bare)[row - 4 : row + 4, col - 4 : col + 4].mean()), 0.5)
    page.mouse.up()
    expect(page.get_by_role("button", name=re.compile("Undo: painted on Paint of"))).to_be_visible()
    rested(page)
    painted = apart(pixels(page, "mid"), bare)
    assert painted[row - 3 : row + 3, col - 3 : col + 3].mean() > 0.7
    assert 0.02 < painted[stone].mean() < 0.8, "a part of it"
    # a stroke beside it paints nothing and says so
    page.mouse.move(box["x"] + box["width"] - 30, box["y"] + box["height"] - 60)
    page.mouse.down()
    page.mouse.up()
    expect(page.get_by_role("alert")).to_contain_text("did not meet")
    page.keyboard.press("Escape")
    page.get_by_role("button", name=re.compile("‹ ")).click()
    page.get_by_role("checkbox", name="Mirrored").check()
    rested(page)
    assert apart(pixels(page, "mid"), bare).mean() > 0.02
