"""What leaves whole, as a person sends it off: a mesh, a kit, the site itself; a ground for another site."""

from __future__ import annotations

import json
import re
import zipfile
from pathlib import Path

import numpy as np
import pytest
import trimesh
from PIL import Image
from playwright.sync_api import Page, expect

from tests.ui.test_ground_room import make_terrain, settled
from tests.ui.test_hand_off import fetched, open_hand_off, typed, written

pytestmark = pytest.mark.browser


def triangles(page: Page) -> int:
    """How many the page says there are, once it has counted those that are wanted."""
    told = page.locator("[data-mesh-told]")
    expect(told).to_contain_text("triangles", timeout=30_000)
    found = re.search(r"([\d,]+)\s*triangles", told.inner_text())
    assert found
    return int(found[1].replace(",", ""))


def test_a_mesh_is_seen_before_it_is_written_and_is_what_was_seen(page: Page, tmp_path: Path) -> None:
    open_hand_off(page, "glTF 2.0 mesh with baked maps")
    entry = page.get_by_role("region", name="Entry")
    entry.get_by_role("radio", name="none").last.click()
    fine = triangles(page)
    typed(page, "Greatest error", "4")
    expect(page.locator("[data-mesh-told]")).to_contain_text(re.compile(r"within\s*4 m"))
    coarse = triangles(page)
    assert coarse < fine / 4
    # it is turned by the keys, and drawn otherwise then
    look = page.get_by_role("application", name=re.compile("^The mesh"))
    before = look.get_by_role("img").get_attribute("src")
    look.focus()
    page.keyboard.press("ArrowLeft")
    expect(look.get_by_role("img")).not_to_have_attribute("src", before or "")
    landed = written(page, "glTF 2.0 mesh with baked maps")
    file = landed.get_by_role("listitem").filter(has_text="vellin-water_mesh.glb")
    expect(page.get_by_role("region", name="What the manifest says")).to_contain_text(f"{coarse} triangles")
    path = fetched(page, file.get_by_role("link", name="take"), tmp_path / "mesh.glb")
    mesh = trimesh.load_mesh(path, process=False)
    assert isinstance(mesh, trimesh.Trimesh)
    assert len(mesh.faces) == coarse
    np.testing.assert_allclose(mesh.bounds[:, 0], [0, 1200], atol=1e-3)


def test_a_kit_says_how_near_it_comes(page: Page, tmp_path: Path) -> None:
    open_hand_off(page, "Splat weights and tiled sets")
    typed(page, "Texels", "256")
    entry = page.get_by_role("region", name="Entry")
    entry.get_by_role("radio", name="256").click()
    entry.get_by_role("radio", name="16 bit").click()
    expect(page.get_by_role("region", name="Looked into")).to_contain_text("Wet silt")
    landed = written(page, "Splat weights and tiled sets")
    landed.get_by_role("button", name="vellin-water_kit.json").click()
    told = page.get_by_role("region", name="What the manifest says")
    expect(told).to_contain_text(re.compile(r"from afar \d\.\d\d from the cover on the mean"))
    expect(told).to_contain_text(re.compile(r"at most \d+ of 12 layers on a tile"))
    whole = fetched(page, page.get_by_role("link", name="all as one zip"), tmp_path / "all.zip")
    with zipfile.ZipFile(whole) as archive:
        kit = json.loads(archive.read("vellin-water_kit.json"))
        names = set(archive.namelist())
        with archive.open(kit["layers"][3]["maps"]["colour"]) as stream, Image.open(stream) as image:
            assert image.size == (256, 256)
    assert {"vellin-water_kit.mtlx", "vellin-water_kit.md", "vellin-water_kit_tint.png"} <= names
    assert kit["from_afar"]["mean"] < kit["from_afar_without_tint"]["mean"]


def test_a_site_is_taken_out_and_dropped_on_the_front_door(page: Page, tmp_path: Path) -> None:
    page.get_by_role("heading", name="Sites").wait_for()
    card = page.get_by_role("listitem").filter(has=page.get_by_role("link", name="Vellin Water", exact=True)).first
    path = fetched(page, card.get_by_role("link", name="Take out"), tmp_path / "vellin.elvatch.zip")
    page.get_by_label("Height file or packed site").set_input_files(path)
    packed = page.get_by_role("region", name="A packed site")
    expect(packed).to_contain_text("1.2 × 1.2 km, 17 steps")
    expect(packed).to_contain_text("in the stock already")
    packed.get_by_role("button", name="Open it here").click()
    expect(page.get_by_role("link", name="Hand-off")).to_be_visible(timeout=60_000)
    expect(page.get_by_role("banner")).to_contain_text("Vellin Water")
    assert page.url.split("/site/")[1].endswith("/cover")
    # a damaged one says why, and nothing more
    data = bytearray(path.read_bytes())
    data[len(data) // 2] ^= 0x5A
    (tmp_path / "damaged.zip").write_bytes(data[: len(data) // 2])
    page.get_by_role("link", name="Elvatch").click()
    page.get_by_label("Height file or packed site").set_input_files(tmp_path / "damaged.zip")
    expect(packed.get_by_role("alert")).to_contain_text("pack or copy it again")
    packed.get_by_role("button", name="Leave it").click()
    expect(packed).to_have_count(0)


def test_a_ground_is_kept_and_laid_under_another_site(page: Page) -> None:
    make_terrain(page)
    page.get_by_role("button", name="Keep this ground").click()
    page.get_by_role("textbox", name="Name to keep this ground under").fill("Hill")
    page.keyboard.press("Enter")
    expect(page.get_by_text("kept as Hill")).to_be_visible()
    page.get_by_role("link", name="Elvatch").click()
    page.get_by_role("button", name="Begin a site on Hill").click()
    expect(page.get_by_role("link", name="Hand-off")).to_be_visible()
    page.get_by_role("link", name="Elvatch").click()
    card = page.get_by_role("listitem").filter(has=page.get_by_role("link", name="Vellin Water", exact=True))
    card.get_by_role("link", name="Open", exact=True).click()
    page.get_by_role("link", name="1Ground").click()
    settled(page)
    steps = page.locator("aside ol li")
    before = steps.count()
    page.get_by_role("button", name="Change the ground").click()
    page.get_by_role("dialog").get_by_role("button", name=re.compile("^Hill")).click()
    expect(page.get_by_role("button", name="Undo: another ground laid under it")).to_be_visible()
    expect(steps).not_to_have_count(before)
    page.keyboard.press("Control+z")
    expect(steps).to_have_count(before)
