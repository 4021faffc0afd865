"""The hand-off: the maps written are the cover's, whatever the bands; nothing half-made stays."""

from __future__ import annotations

import json
from pathlib import Path

import numpy as np
import pytest
import tifffile
from PIL import Image

from elvatch.core.cover import function, plan
from elvatch.core.document.fit import Fit
from elvatch.core.document.recipe import Edge, HandOff, Recipe
from elvatch.core.document.rule import Rule, on
from elvatch.core.document.water import Water
from elvatch.core.ground import places
from elvatch.core.ground.clauses import between
from elvatch.core.ground.heightfield import Heightfield
from elvatch.core.ground.measures import Measures
from elvatch.core.ground.shaped import Shaped
from elvatch.core.ground.survey import survey
from elvatch.core.handoff import bake
from elvatch.core.parallel import Token
from elvatch.core.refusal import CancelledError, RefusalError
from elvatch.core.stock import derive, pyramid
from elvatch.core.stock.pyramid import Pyramid
from tests.conftest import NAMES, flat_set, layer, plane, recipe

SETS = {name: flat_set(0.1 * (k + 1)) for k, name in enumerate(NAMES)}
GROUND = Heightfield(plane(20).heights_m, 100.0, 50.0)
ALL = ("colour", "normal", "roughness", "occlusion", "height", "relief", "shares")


def site(size: int = 64, maps: tuple[str, ...] = ALL) -> Recipe:
    rule = Rule(clauses=(on(between("elevation", lower=50, soft_lower=10)),))
    layers = (layer("Low & wet", 0), layer("../High", 3, rule, edge=Edge(kind="fade")))
    sheet = HandOff.model_validate({"size_px": size, "maps": maps})
    return recipe(layers, GROUND).model_copy(update={"hand_off": sheet})


def read(path: Path) -> np.ndarray:
    with Image.open(path) as image:
        return np.asarray(image)


def test_maps_hold_what_the_cover_answers(tmp_path: Path) -> None:
    import cv2

    done: list[float] = []
    written = bake.bake(
        "Näme / of it", site(), survey(GROUND), Measures(Shaped(GROUND)), SETS, tmp_path / "out", done.append
    )
    names = [path.name for path in written]
    assert names == [
        "n-me-of-it_colour.png", "n-me-of-it_normal.png", "n-me-of-it_roughness.png", "n-me-of-it_occlusion.png",
        "n-me-of-it_height.png", "n-me-of-it_relief.png", "n-me-of-it_share_01_low-wet.png",
        "n-me-of-it_share_02_high.png", "hand-off.json",
    ]  # fmt: skip
    assert done[-1] == 1.0
    assert done == sorted(done)
    at = places.on_grid(survey(GROUND), 64, 32, 0, 32)
    cover = function.ask(plan.prepare(site().layers, SETS), at)
    height = read(written[4]).astype(float)
    sheet = json.loads(written[-1].read_text())
    assert [f["name"] for f in sheet["files"]] == names[:-1]
    low, high = next(f["range_m"] for f in sheet["files"] if f["map"] == "height")
    step = (high - low) / 65535
    np.testing.assert_allclose(low + height * step, (at.elevation_m + cover.relief_m).reshape(32, 64), atol=step)
    shares = np.stack([read(written[k]) for k in (6, 7)], -1) / 65535
    np.testing.assert_allclose(shares.reshape(-1, 2), cover.shares, atol=1e-5)
    assert read(written[2]).max() == 128
    assert read(written[0]).shape == (32, 64, 3)
    normal = cv2.imread(str(written[1]), cv2.IMREAD_UNCHANGED)[..., ::-1]
    assert normal.dtype == np.uint16
    assert np.abs(normal.reshape(-1, 3) / 65535 - [0.5, 0.5, 1.0]).max() < 1e-4
    assert shares[0, 0, 1] == 0, "west, low"
    assert shares[0, -1, 1] == 1, "east, high"


def bumpy_set() -> Pyramid:
    """A set in which no two maps are alike, and no direction is."""
    x, y = np.meshgrid(np.arange(32) / 32, np.arange(32) / 32)
    height = (0.5 + 0.3 * np.sin(2 * np.pi * x) + 0.15 * np.cos(4 * np.pi * y)).astype(np.float32)
    normal = derive.normal_from_height(height, 8.0, 0.9)
    colour = np.dstack([0.1 + 0.6 * x, 0.2 + 0.3 * y, np.full_like(x, 0.05)]).astype(np.float32)
    plain = {name: (low + rise * x * y).astype(np.float32) for name, low, rise in
             (("roughness", 0.3, 0.5), ("occlusion", 0.9, -0.6), ("metallic", 0.05, 0.8))}  # fmt: skip
    maps = pyramid.Maps(colour, normal, plain["roughness"], height, plain["occlusion"], plain["metallic"])
    return pyramid.build(maps, 8.0, 0.9)


@pytest.mark.parametrize("bits", [8, 16])
def test_every_map_read_back_by_another_reader_is_what_the_cover_answers(tmp_path: Path, bits: int) -> None:
    import cv2

    sets = SETS | {NAMES[0]: bumpy_set()}
    wanted = ("colour", "normal", "roughness", "metallic", "occlusion")
    sheet = HandOff.model_validate({"size_px": 128, "maps": wanted, "data_bits": bits})
    # level, so that what differs from upright is the cover's own
    level = Heightfield(plane(0).heights_m, 100.0, 50.0)
    layers = (layer("bumpy", 0, fit=Fit(tile_m=30.0, relief_m=3.0)),)
    whole = recipe(layers, level).model_copy(update={"hand_off": sheet})
    written = bake.bake("a", whole, survey(level), Measures(Shaped(level)), sets, tmp_path / "out")
    at = places.on_grid(survey(level), 128, 64, 0, 64)
    cover = function.ask(plan.prepare(layers, sets), at)

    def written_as(name: str) -> np.ndarray:
        path = next(path for path in written if path.stem == f"a_{name}")
        codes = cv2.imread(str(path), cv2.IMREAD_UNCHANGED)
        return codes[..., ::-1] if codes.ndim == 3 else codes

    # sRGB (IEC 61966-2-1) as published
    encoded = np.where(cover.colour <= 0.0031308, cover.colour * 12.92, 1.055 * cover.colour ** (1 / 2.4) - 0.055)
    assert np.abs(written_as("colour").reshape(-1, 3) / 255 - encoded).max() <= 0.6 / 255
    # the gradient of the relief by differences, from the north down and to the east
    down, east = np.gradient(cover.relief_m.reshape(64, 128).astype(float), 50.0 / 64, 100.0 / 128)
    upright = np.dstack([-east, down, np.ones_like(east)])
    upright /= np.linalg.norm(upright, axis=2, keepdims=True)
    normal = written_as("normal") / 65535 * 2 - 1
    assert np.abs(np.linalg.norm(normal, axis=2) - 1).max() < 1e-3
    inner = np.s_[2:-2, 2:-2]
    for axis in (0, 1):
        apart = np.abs(normal - upright)[inner][..., axis]
        turned = np.abs(-normal - upright)[inner][..., axis]
        assert np.percentile(apart, 90) < 0.06, axis
        assert turned.mean() > 3 * apart.mean(), "an axis turned over would show"
    most = (1 << bits) - 1
    for name in ("roughness", "metallic", "occlusion"):
        values: np.ndarray = getattr(cover, name)
        assert np.ptp(values) > 0.2, name
        assert np.abs(written_as(name).ravel() / most - values).max() <= 0.51 / most, name


def test_bands_do_not_show(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    whole = bake.bake("a", site(), survey(GROUND), Measures(Shaped(GROUND)), SETS, tmp_path / "whole")
    monkeypatch.setattr(bake, "_BAND_TEXELS", 64 * 5)
    banded = bake.bake("a", site(), survey(GROUND), Measures(Shaped(GROUND)), SETS, tmp_path / "banded")
    for one, other in zip(whole[:-1], banded[:-1], strict=True):
        np.testing.assert_array_equal(read(one), read(other))


def test_cancelling_leaves_nothing(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(bake, "_BAND_TEXELS", 64)
    token = Token()
    with pytest.raises(CancelledError):
        bake.bake(
            "a",
            site(),
            survey(GROUND),
            Measures(Shaped(GROUND)),
            SETS,
            tmp_path / "out",
            lambda share: share > 0.2 and token.cancel(),
            token,
        )
    assert list(tmp_path.iterdir()) == []


def test_an_existing_folder_keeps_its_other_files(tmp_path: Path) -> None:
    (tmp_path / "notes.txt").write_text("mine")
    bake.bake("a", site(32, ("roughness",)), survey(GROUND), Measures(Shaped(GROUND)), SETS, tmp_path)
    assert sorted(p.name for p in tmp_path.iterdir()) == ["a_roughness.png", "hand-off.json", "notes.txt"]


def test_a_place_that_cannot_be_written_is_named(tmp_path: Path) -> None:
    (tmp_path / "file").write_text("")
    with pytest.raises(RefusalError, match="expected a folder to write to"):
        bake.bake("a", site(), survey(GROUND), Measures(Shaped(GROUND)), SETS, tmp_path / "file" / "out")
    with pytest.raises(RefusalError, match="no maps"):
        bake.bake("a", site(64, ()), survey(GROUND), Measures(Shaped(GROUND)), SETS, tmp_path / "out")


def test_measures_are_written_in_their_units_as_floats(tmp_path: Path) -> None:
    sheet = HandOff(size_px=700, maps=(), measures=("slope", "elevation"))
    wanted = site(50, ()).model_copy(update={"hand_off": sheet})
    written = bake.bake("a", wanted, survey(GROUND), Measures(Shaped(GROUND)), SETS, tmp_path / "out")
    assert [path.name for path in written] == ["a_slope.tif", "a_elevation.tif", "hand-off.json"]
    with tifffile.TiffFile(written[0]) as file:
        assert "slope, °".encode("ascii", "replace").decode() in file.pages[0].description
        steep = file.pages[0].asarray()
    assert steep.dtype == np.float32
    assert steep.shape == (350, 700)
    # 100 m of heights squeezed into a depth of 50 m: only the eastward rise is there
    assert np.abs(steep - 20).max() < 0.01
    heights = tifffile.imread(written[1])
    x = (np.arange(700) + 0.5) / 7
    np.testing.assert_allclose(heights[300], 50 + np.tan(np.radians(20)) * (x - 50), atol=1e-3)


def test_the_mask_of_water_is_handed_off(tmp_path: Path) -> None:
    ground = plane(10.0, 90.0)
    sheet = HandOff(size_px=64, maps=("water",), measures=("water-depth",))
    wet = recipe((layer("base", 0),), ground).model_copy(
        update={"hand_off": sheet, "water": Water(on=True, level_m=50.0)}
    )
    measures = Measures(Shaped(ground)).with_water(50.0)
    out = bake.bake("Site", wet, survey(ground), measures, {NAMES[0]: flat_set(0.5)}, tmp_path)
    mask = read(next(path for path in out if path.name.endswith("water.png")))
    # the plane rises to the east through 50 m in its middle
    assert (mask[:, :32] == 255).all()
    assert (mask[:, 32:] == 0).all()
    depth = tifffile.imread(next(path for path in out if "water-depth" in path.name))
    metre = 100 / 64
    wanted = np.tan(np.radians(10)) * (50 - (np.arange(32) + 0.5) * metre)
    np.testing.assert_allclose(depth[10, :32], wanted, atol=0.02)
