"""Grounds that leave: what our own reader and others take them for, in every order and turn."""

from __future__ import annotations

import json
from pathlib import Path

import numpy as np
import pytest
import tifffile

from elvatch.core.document.recipe import Recipe
from elvatch.core.document.sheet import Sheet
from elvatch.core.document.sheet_entry import HEIGHT_TYPES, GroundEntry
from elvatch.core.formats import raw
from elvatch.core.formats.reading import Reading
from elvatch.core.ground import heights
from elvatch.core.ground.heightfield import Heightfield
from elvatch.core.ground.measures import Measures
from elvatch.core.ground.shaped import Shaped, no_traces
from elvatch.core.refusal import RefusalError
from tests.conftest import recipe
from tests.core.handing import rolling, source_of, written


def land() -> Heightfield:
    """Ground that no flip or turn leaves the same, with the roughness of real ground."""
    random = np.random.default_rng(2)
    ground = rolling(65, 130.0)
    return Heightfield((ground.heights_m + random.normal(0, 0.05, (65, 65))).astype(np.float32), 130.0, 130.0)


def site() -> Recipe:
    return recipe((), land())


def written_ground(tmp_path: Path, **more: object) -> dict[str, Path]:
    entry = GroundEntry.model_validate({"id": "ground"} | more)
    return written(Sheet(id="test", name="Test", entries=(entry,)), source_of(site(), land(), {}), tmp_path / "out")


@pytest.mark.parametrize("kind", ["uint8", "uint16", "float32"])
@pytest.mark.parametrize("low_first", [True, False])
@pytest.mark.parametrize("down", [True, False])
@pytest.mark.parametrize("across", [True, False])
def test_raw_is_guessed_right_in_every_order_and_flip(
    tmp_path: Path, kind: str, low_first: bool, down: bool, across: bool
) -> None:
    files = written_ground(
        tmp_path, type=kind, low_byte_first=low_first, flip_north_south=down, flip_east_west=across
    )
    data = files["site_ground.raw"].read_bytes()
    best = raw.guesses("site_ground.raw", data)[0]
    assert best.confidence >= 0.95
    assert (best.layout.width, best.layout.height) == (65, 65)
    found = heights.read("site_ground.raw", data, Reading(flip_north_south=down, flip_east_west=across))
    told = json.loads(files["site_ground.raw.json"].read_text())
    metres = (
        found.values
        if kind == "float32"
        else (
            told["lowest_m"]
            + found.values / (255 if kind == "uint8" else 65535) * (told["highest_m"] - told["lowest_m"])
        )
    )
    step = {"uint8": 0.6 / 255, "uint16": 0.6 / 65535, "float32": 1e-6}[kind] * np.ptp(land().heights_m)
    np.testing.assert_allclose(metres, land().heights_m, atol=float(step) + 1e-5)
    assert told["first_row"] == ("south" if down else "north")
    assert told["first_column"] == ("east" if across else "west")
    assert (told["width_m"], told["samples_across"]) == (130.0, 65)


@pytest.mark.parametrize(("form", "kind"), [(form, kind) for form, kinds in HEIGHT_TYPES.items() for kind in kinds])
def test_every_format_that_is_written_is_read(tmp_path: Path, form: str, kind: str) -> None:
    files = written_ground(tmp_path, format=form, type=kind)
    (path,) = [path for name, path in files.items() if not name.endswith(".json")]
    found = heights.read(path.name, path.read_bytes())
    low, high = float(land().heights_m.min()), float(land().heights_m.max())
    codes = {"uint8": 255, "uint16": 65535}.get(kind)
    metres = low + found.values / codes * (high - low) if codes else found.values
    near = (high - low) / codes if codes else 0.05 if kind == "float16" else 1e-4
    np.testing.assert_allclose(metres, land().heights_m, atol=near)
    if found.cell_m is not None:
        np.testing.assert_allclose(found.cell_m, 130 / 64)
    assert (found.cell_m is not None) == (form in ("tiff", "asc"))


def test_a_tiff_tells_its_scale_to_other_readers(tmp_path: Path) -> None:
    path = written_ground(tmp_path, format="tiff", type="float32")["site_ground.tif"]
    with tifffile.TiffFile(path) as file:
        tags = file.pages.first.geotiff_tags
    assert tags is not None
    assert tags["ModelPixelScale"] == [130 / 64, 130 / 64, 0.0]
    assert tags["ModelTiepoint"] == [0, 0, 0, 0, 130.0, 0]
    assert int(tags["GTRasterTypeGeoKey"]) == 2  # samples are points
    assert int(tags["ProjLinearUnitsGeoKey"]) == 9001  # metres


def test_grids_of_a_power_of_two_and_one_stand_on_the_corners(tmp_path: Path) -> None:
    files = written_ground(tmp_path, type="float32", longer_px=129)
    found = np.fromfile(files["site_ground.raw"], "<f4").reshape(129, 129)
    np.testing.assert_allclose(found[::2, ::2], land().heights_m, atol=1e-3)
    assert json.loads(files["site_ground.raw.json"].read_text())["cell_m"] == [130 / 128, 130 / 128]


def test_what_shaping_left_goes_along(tmp_path: Path) -> None:
    ground = land()
    shaped = Shaped(ground, no_traces(ground)._replace(flow_m2=ground.heights_m * 3))
    source = source_of(site(), ground, {})
    entry = GroundEntry(id="ground", traces=True)
    with_traces = type(source)(source.title, source.recipe, source.survey, Measures(shaped), {})
    files = written(Sheet(id="test", name="Test", entries=(entry,)), with_traces, tmp_path / "out")
    np.testing.assert_array_equal(tifffile.imread(files["site_ground_flow_m2.tif"]), ground.heights_m * 3)
    assert {"site_ground_worn_m.tif", "site_ground_dropped_m.tif"} <= files.keys()


def test_a_part_of_a_ground_is_refused(tmp_path: Path) -> None:
    part = {"east_m": 0, "north_m": 0, "width_m": 10, "depth_m": 10}
    wanted = Sheet.model_validate(
        {"id": "test", "name": "Test", "region": part, "entries": [GroundEntry(id="ground").model_dump()]}
    )
    with pytest.raises(RefusalError, match="the whole ground"):
        written(wanted, source_of(site(), land(), {}), tmp_path / "out")
