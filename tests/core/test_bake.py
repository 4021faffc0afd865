"""The hand-off: the maps written are the cover's, whatever the bands; nothing half-made stays."""

from __future__ import annotations

import json
from pathlib import Path

import numpy as np
import pytest
import tifffile
from PIL import Image

from elvatch.core.clauses import between
from elvatch.core.cover import function, places, plan
from elvatch.core.cover.recipe import Edge, HandOff, Recipe
from elvatch.core.cover.rule import Rule, on
from elvatch.core.ground.heightfield import Heightfield
from elvatch.core.ground.measures import Measures
from elvatch.core.ground.shaped import Shaped
from elvatch.core.ground.survey import survey
from elvatch.core.handoff import bake
from elvatch.core.parallel import Token
from elvatch.core.refusal import CancelledError, RefusalError
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
