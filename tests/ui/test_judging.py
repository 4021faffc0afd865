"""The guide beside the work, findings that mend, the rule of a mask, a thing set by hand: as a person does it."""

from __future__ import annotations

import io
import re
from pathlib import Path

import numpy as np
import pytest
from PIL import Image
from playwright.sync_api import FilePayload, Page, expect

from tests.ui.acts import at, changed, open_cover, pixels, rested, row, take_chosen, until
from tests.ui.test_hand_off import typed

pytestmark = pytest.mark.browser


def test_the_guide_opens_where_one_is_and_marks_first_moves(page: Page) -> None:
    open_cover(page)
    rested(page)
    page.keyboard.press("?")
    expect(page.get_by_role("dialog", name="Keys")).to_be_visible()
    page.keyboard.press("?")
    guide = page.get_by_role("complementary", name="Guide")
    expect(guide.get_by_role("heading", name="The Cover room")).to_be_visible()
    guide.get_by_role("searchbox").fill("green axis")
    guide.get_by_role("button", name=re.compile("Knowing what a set is worth")).click()
    expect(guide.get_by_role("heading", name="Knowing what a set is worth")).to_be_in_viewport()
    page.keyboard.press("Escape")
    expect(guide).to_be_hidden()
    # a panel opens its own place
    page.get_by_role("button", name="Guide: where a layer lies").click()
    expect(guide.get_by_role("heading", name="Where", exact=True)).to_be_in_viewport()
    guide.get_by_label("Page of the guide").select_option("first-steps")
    move = guide.locator("[data-move=fit]")
    expect(move).to_have_attribute("data-done", "false")
    guide.get_by_role("button", name="To the left").click()
    typed(page, "Tile", "3.3")
    expect(move).to_have_attribute("data-done", "true")
    expect(guide.locator("[data-move=handed]")).to_have_attribute("data-done", "false")


def findings(page: Page) -> int:
    expect(page.locator("[data-findings=current]")).to_be_visible()
    told = page.locator("[data-findings]").inner_text()
    return 0 if told.startswith("No") else int(told.split()[0])


def test_a_finding_is_shown_mended_undone_and_waved_through(page: Page) -> None:
    open_cover(page)
    rested(page)
    before = findings(page)
    page.get_by_role("tab", name="Relief").click()
    typed(page, "Relief", "2.9")
    rested(page)
    until(page, lambda: float(findings(page) == before + 1), 0.5)
    page.locator("[data-findings]").click()
    panel = page.get_by_role("dialog", name="Findings")
    odd = panel.get_by_role("listitem").filter(has_text="Relief too large for its tile")
    expect(odd).to_contain_text("2.9 m from its lowest to its highest")
    odd.get_by_role("button", name=re.compile("^Relief of")).click()
    expect(odd).to_have_count(0)
    expect(page.get_by_role("button", name=re.compile("^Undo: Slate bedrock: relief of"))).to_be_visible()
    page.keyboard.press("Escape")
    page.keyboard.press("Control+z")
    rested(page)
    until(page, lambda: float(findings(page) == before + 1), 0.5)
    page.locator("[data-findings]").click()
    odd.get_by_role("button", name="It is right…").click()
    odd.get_by_role("textbox").fill("a cliff")
    page.keyboard.press("Enter")
    expect(odd).to_contain_text("Waved through: a cliff")
    until(page, lambda: float(findings(page) == before), 0.5)


def test_a_mask_that_no_measure_explains_is_told(page: Page) -> None:
    open_cover(page)
    row(page, "Tyre marks").click()
    page.get_by_role("region", name="Where").get_by_role("button", name="Tyre marks").click()
    page.get_by_role("button", name="Find the rule").click()
    # a few tracks that somebody drove: no measure of the ground says where, and too few places are meant at all
    expect(page.get_by_text(re.compile("No measure of this ground explains it|expected at least 60"))).to_be_visible()


def test_a_thing_is_set_covered_and_undone(page: Page) -> None:
    open_cover(page)
    page.get_by_role("link", name="Things").click()
    rested(page)
    bare = pixels(page, "near")
    page.get_by_role("button", name="Set a thing").click()
    page.get_by_role("dialog", name="Set a thing").get_by_role("button", name=re.compile("^Boulder")).click()
    page.mouse.click(*at(page, "near", 0.25, 0.75))
    stands = page.get_by_role("region", name=re.compile("^Stands"))
    expect(stands).to_be_visible()
    rested(page)
    plain = pixels(page, "near")
    assert until(page, lambda: changed(bare, pixels(page, "near")), 0.01) > 0.01
    # its grip is there, and arrow keys move it
    grip = page.locator("[data-stand=near]").get_by_role("button", name=re.compile("place of", re.I)).first
    expect(grip).to_be_visible()
    # a set that is dropped on it in a picture covers it
    page.get_by_role("link", name="Cover").click()
    rested(page)
    page.get_by_role("button", name="Lay a layer").click()
    grass = page.get_by_role("dialog", name="Texture sets in the stock").get_by_role(
        "button", name=re.compile("grass", re.I)
    )
    near = page.locator("[data-stand=near]")
    box = near.bounding_box()
    assert box
    grass.first.drag_to(near, target_position={"x": 0.25 * box["width"], "y": 0.72 * box["height"]})
    expect(page.get_by_role("button", name=re.compile("^Undo: laid .* on Boulder"))).to_be_visible()
    page.keyboard.press("Escape")
    page.get_by_role("link", name="Things").click()
    rested(page)
    until(page, lambda: changed(plain, pixels(page, "near")), 0.003)
    # wear lies over that, and has a bench of its own from which one comes back to the thing
    page.get_by_title("Its rule, fit and look").click()
    page.get_by_role("button", name=re.compile("^‹ ")).click()
    rested(page)
    covered = pixels(page, "near")
    page.get_by_role("button", name="Lay wear").click()
    offered = page.get_by_role("dialog", name=re.compile("^Wear to lay on"))
    expect(offered.get_by_role("button", name=re.compile("^Tyre"))).to_have_count(0)
    offered.get_by_role("button", name=re.compile("^Damp patches")).click()
    expect(page.get_by_role("region", name="Effects")).to_be_visible()
    rested(page)
    until(page, lambda: changed(covered, pixels(page, "near")), 0.001)
    expect(page.locator("[data-told]")).to_contain_text(re.compile(r"\d% of the thing"))
    page.get_by_role("button", name=re.compile("^‹ ")).click()
    expect(page.get_by_role("list", name=re.compile("^Layers and wear"))).to_contain_text("Damp")
    for _ in range(3):
        page.keyboard.press("Control+z")
    rested(page)
    until(page, lambda: float(changed(bare, pixels(page, "near")) < 0.002), 0.5)


def test_a_snapshot_lies_beside_the_site(page: Page) -> None:
    open_cover(page, "Cracked mud")
    rested(page)
    page.get_by_role("button", name="Snapshots").click()
    page.get_by_role("button", name="Keep as it is").click()
    page.get_by_role("button", name="Compare", exact=True).first.click()
    page.get_by_role("radio", name="Difference").click()
    page.keyboard.press("Escape")
    near = page.locator("[data-stand=near]")
    expect(near).to_contain_text("difference 0.00 on the mean, seen on 0.0%")
    typed(page, "Brightness", "2.4")
    rested(page)
    expect(near).to_contain_text(re.compile(r"difference [1-9]\d*\.\d\d on the mean"))
    page.locator(".key", has_text=re.compile("^Against")).click()
    page.get_by_role("radio", name="Wiper").click()
    page.keyboard.press("Escape")
    wiper = near.get_by_role("slider", name=re.compile("^Wiper"))
    expect(wiper).to_have_attribute("aria-valuenow", "50")
    wiper.focus()
    page.keyboard.press("Shift+ArrowRight")
    expect(wiper).to_have_attribute("aria-valuenow", "60")
    expect(near.get_by_role("img", name=re.compile("^As in"))).to_be_visible()
    # the snapshot is darker than the site is now: the right of the wiper against the left
    picture = np.asarray(Image.open(io.BytesIO(near.screenshot())).convert("L")).astype(float)
    low = picture[int(0.7 * len(picture)) : int(0.9 * len(picture))]
    cut = int(0.6 * low.shape[1])
    assert low[:, : cut - 20].mean() > 1.2 * low[:, cut + 20 :].mean()
    # another site lies there by this site's light, and what was before the last edit
    page.locator(".key", has_text=re.compile("^Against")).click()
    others = page.get_by_role("region", name="Compare with")
    others.get_by_role("button", name="Spillway apron").click()
    expect(near.get_by_role("img", name="As in Spillway apron")).to_be_visible()
    others.get_by_role("button", name="before the last edit").click()
    expect(near.get_by_role("img", name="As in before the edit")).to_be_visible()
    page.get_by_role("radio", name="Difference").click()
    page.keyboard.press("Escape")
    expect(near).to_contain_text(re.compile(r"difference [1-9]\d*\.\d\d on the mean"))


def test_five_values_of_a_number_are_laid_out_and_one_is_taken(page: Page) -> None:
    open_cover(page, "Cracked mud")
    rested(page)
    page.get_by_role("slider", name="Tile", exact=True).focus()
    page.keyboard.press("s")
    strip = page.get_by_role("region", name="Five of Tile")
    expect(strip.locator("img")).to_have_count(5)
    # nothing was changed by looking
    expect(page.get_by_role("button", name=re.compile("^Undo: Cracked mud: tile"))).to_have_count(0)
    now = strip.locator("[aria-current=true]")
    expect(now).to_contain_text("now")
    page.keyboard.press("ArrowRight")
    take_chosen(page, strip, ("Tile",))
    expect(page.get_by_role("button", name=re.compile("^Undo: Cracked mud: tile"))).to_be_visible()


def test_two_numbers_make_a_sheet_of_which_one_picture_is_taken_as_one_step(page: Page) -> None:
    open_cover(page, "Cracked mud")
    rested(page)
    row = page.get_by_role("slider", name="Tile", exact=True)
    row.hover()
    page.get_by_role("button", name="Tile: five values side by side").click()
    expect(page.get_by_role("region", name="Five of Tile")).to_be_visible()
    page.get_by_role("slider", name="Brightness", exact=True).focus()
    page.keyboard.press("s")
    sheet = page.get_by_role("region", name="Sheet of Tile and Brightness")
    expect(sheet.locator("img")).to_have_count(25)
    # one row down is darker or lighter, one to the side is not
    cells = [
        np.asarray(Image.open(io.BytesIO(sheet.get_by_role("button").nth(k).screenshot())).convert("L"))[30:45]
        for k in (13, 14, 18)
    ]
    middle, beside, below = (float(one.mean()) for one in cells)
    assert abs(below - middle) > 2 * abs(beside - middle)
    page.keyboard.press("ArrowRight")
    page.keyboard.press("ArrowDown")
    both = ("Tile", "Brightness")
    told = take_chosen(page, sheet, both)
    rested(page)
    page.keyboard.press("Control+z")
    for name, value in zip(both, told, strict=True):
        expect(page.get_by_role("spinbutton", name=name, exact=True)).not_to_contain_text(value)


def test_a_suite_is_kept_laid_on_another_site_by_its_ground_and_undone(page: Page, tmp_path: Path) -> None:
    open_cover(page, "Cracked mud")
    rested(page)
    page.get_by_role("button", name="Suites", exact=True).click()
    panel = page.get_by_role("dialog", name="Suites of layers")
    expect(panel).to_contain_text("None kept yet")
    panel.get_by_label("Name of the suite").fill("Dry shore")
    panel.get_by_role("button", name="Keep as a suite").click()
    kept = panel.get_by_role("list", name="Kept suites").get_by_role("listitem")
    expect(kept).to_contain_text("Vellin Water: Cracked mud")
    with page.expect_download() as taken:
        panel.get_by_role("link", name="Take out Dry shore").click()
    taken.value.save_as(tmp_path / "shore.zip")
    page.keyboard.press("Escape")
    page.get_by_role("link", name="Elvatch").click()
    page.get_by_role("listitem").filter(has_text="Spillway apron").get_by_role("link", name="Open").click()
    rested(page)
    before, bare = page.locator("aside ol > li").count(), pixels(page, "mid")
    page.get_by_role("button", name="Suites", exact=True).click()
    panel.get_by_role("button", name="Forget Dry shore").click()
    expect(panel).to_contain_text("None kept yet")
    panel.get_by_label("A packed suite").set_input_files(tmp_path / "shore.zip")
    expect(panel.get_by_role("status")).to_contain_text("Dry shore was brought in")
    panel.get_by_role("button", name="Lay Dry shore by this ground").click()
    expect(page.locator("aside ol > li")).to_have_count(before + 1)
    page.keyboard.press("Escape")
    rested(page)
    until(page, lambda: changed(bare, pixels(page, "mid")), 0.001)
    page.keyboard.press("Control+z")
    expect(page.locator("aside ol > li")).to_have_count(before)


def image_of_mud(page: Page) -> None:
    """Peat lies where an image says that the mud's first clause lets in, and where a block of it was added."""
    ask, root = page.request, page.url.rstrip("/")
    line = ask.get(f"{root}/api/sites").json()["sites"]
    site = next(one["id"] for one in line if one["title"] == "Vellin Water")
    state = ask.get(f"{root}/api/sites/{site}").json()
    recipe = state["recipe"]
    mud, peat = (
        next(one for one in recipe["layers"] if one["name"] == name) for name in ("Cracked mud", "Moor peat")
    )
    rule = {"recipe": recipe, "name": "mud", "clauses": mud["rule"]["clauses"][:1], "opacity": 1.0, "size_px": 600}
    with Image.open(io.BytesIO(ask.post(f"{root}/api/presence", data=rule).body())) as image:
        codes = np.asarray(image).astype(np.uint16)
    codes[40:100, 380:460] = 65535
    stream = io.BytesIO()
    Image.fromarray(codes).save(stream, "PNG")
    file: FilePayload = {"name": "mud.png", "mimeType": "image/png", "buffer": stream.getvalue()}
    facts = ask.post(f"{root}/api/mask-images", multipart={"file": file}).json()
    kept = {"id": "mudimage", "name": "Mud", "file": facts["file"], "file_name": "mud.png"}
    recipe["marks"]["images"] = [*recipe["marks"]["images"], kept]
    peat["rule"] = {"clauses": [{"kind": "image", "image": "mudimage", "called": "Mud"}]}
    put = {"base": state["revision"], "label": "peat by an image", "recipe": recipe}
    assert ask.put(f"{root}/api/sites/{site}/recipe", data=put).ok


def test_an_image_becomes_a_rule_with_the_rest_painted(page: Page) -> None:
    image_of_mud(page)
    open_cover(page, "Moor peat")
    rested(page)
    # before the panel of the clause lies over it
    before = pixels(page, "far")
    where = page.get_by_role("region", name="Where")
    where.get_by_role("button", name=re.compile("Mud")).click()
    page.get_by_role("button", name="Find the rule").click()
    found = page.get_by_role("region", name="The rule that a mask comes to")
    expect(found).to_contain_text("above the water by less than")
    expect(found).to_contain_text(re.compile(r"right on 9\d"))
    expect(found.get_by_role("img", name="Where the rule errs")).to_be_visible()
    found.get_by_role("button", name="Take it, the rest painted").click()
    expect(where).to_contain_text("above the water by less than")
    expect(where).to_contain_text("Mud, missed")
    page.keyboard.press("Escape")
    rested(page)
    # the ground looks as it did: the rule and what is painted say what the image said
    assert changed(before, pixels(page, "far")) < 0.03
    page.keyboard.press("Control+z")
    expect(where).not_to_contain_text("above the water")


def test_two_strokes_of_yes_and_no_tell_a_rule(page: Page) -> None:
    open_cover(page, "Moor peat")
    rested(page)
    # yes on the slope, no on the floor of the valley
    for way, across, down in (("Paint in", 0.2, 0.5), ("Paint out", 0.52, 0.66)):
        page.get_by_role("button", name="Add a clause").click()
        page.get_by_role("button", name=way, exact=True).click()
        x, y = at(page, "far", across, down)
        page.mouse.move(x, y)
        page.mouse.down()
        page.mouse.move(x + 50, y + 12, steps=6)
        page.mouse.up()
        rested(page)
        page.keyboard.press("Escape")
    yes, no = "Paint of Moor peat", "Bare of Moor peat"
    where = page.get_by_role("region", name="Where")
    where.get_by_role("button", name=yes).click()
    page.get_by_label("What the rule is judged by").select_option(label=f"by strokes: not where {no} is")
    page.get_by_role("button", name="Find the rule").click()
    found = page.get_by_role("region", name="The rule that a mask comes to")
    expect(found).to_contain_text(re.compile(r"right on (9\d|100)"))
    expect(found.get_by_role("img", name="Where the rule errs")).to_be_hidden()
    found.get_by_role("button", name="Take it", exact=True).click()
    expect(where).not_to_contain_text(yes)


def test_a_layer_is_taken_towards_a_patch_of_a_photograph(page: Page) -> None:
    open_cover(page, "Cracked mud")
    rested(page)
    page.get_by_role("button", name="Photographs").click()
    dock = page.get_by_role("complementary", name="Photographs")
    expect(dock).to_contain_text("None pinned yet")
    # left dark and reddish, right light
    pixels = np.full((60, 90, 3), 230, np.uint8)
    pixels[:, :45] = (120, 84, 60)
    stream = io.BytesIO()
    Image.fromarray(pixels).save(stream, "PNG")
    dock.get_by_label("A photograph").set_input_files(
        {"name": "bank.png", "mimeType": "image/png", "buffer": stream.getvalue()}
    )
    photograph = dock.get_by_role("application")
    page.wait_for_function(
        "e => e.complete && e.naturalWidth === 90", arg=photograph.get_by_role("img").element_handle()
    )
    box = photograph.bounding_box()
    assert box
    page.mouse.move(box["x"] + 0.1 * box["width"], box["y"] + 0.2 * box["height"])
    page.mouse.down()
    page.mouse.move(box["x"] + 0.4 * box["width"], box["y"] + 0.8 * box["height"], steps=5)
    page.mouse.up()
    read = dock.locator("[data-reference=current]")
    expect(read).to_contain_text("#78543c")
    expect(dock.locator("[data-patch]")).to_be_visible()
    before = pixels_of_near = pixels_near(page)
    dock.get_by_role("button", name="Take Cracked mud towards it").click()
    told = dock.get_by_role("status")
    expect(told).to_contain_text("Cracked mud: apart")
    first, after = (float(n) for n in re.findall(r"\d+\.\d", told.inner_text()))
    assert first > 10 > 3 > after
    rested(page)
    until(page, lambda: changed(pixels_of_near, pixels_near(page)), 0.3)
    low = pixels_near(page)[-60:].reshape(-1, 3).mean(axis=0)
    assert low[0] > low[1] > low[2]
    assert low.mean() < before[-60:].mean()


def pixels_near(page: Page) -> np.ndarray:
    return pixels(page, "near")
