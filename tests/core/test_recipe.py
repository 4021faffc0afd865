"""Recipes: there and back, versions, what is refused, and what is made from the schema."""

from __future__ import annotations

import json
import math
from pathlib import Path

import pytest
from hypothesis import given
from hypothesis import strategies as st

from elvatch.core import digest
from elvatch.core.document import recipe as r
from elvatch.core.document.fit import Fit
from elvatch.core.document.layer import Layer
from elvatch.core.document.light import Light
from elvatch.core.document.rule import OnNoise, on
from elvatch.core.document.sheet import MapsEntry
from elvatch.core.document.wear import Wear
from elvatch.core.formats.reading import Reading
from elvatch.core.ground.clauses import between
from elvatch.core.ground.description import FileSource
from elvatch.core.light.air import KOSCHMIEDER, air, passed
from elvatch.core.refusal import RefusalError
from elvatch.demo import vellin_ground
from tests.conftest import layer, recipe
from tests.core.test_cover import any_layer
from tests.core.test_wear import some_wear

ROOT = Path(__file__).parents[2]


@given(
    st.lists(any_layer, max_size=4),
    st.builds(Light, sun_bearing_deg=st.floats(0, 360), exposure_ev=st.floats(-6, 6)),
    st.builds(r.Stand, distance_m=st.floats(0.3, 4e5), tilt_deg=st.floats(-30, 89)),
    st.text(min_size=1, max_size=80),
)
def test_a_recipe_goes_there_and_back(layers: list[Layer], light: Light, near: r.Stand, name: str) -> None:
    named = tuple(one.model_copy(update={"id": f"layer{k}", "name": name}) for k, one in enumerate(layers))
    before = recipe(named).model_copy(update={"light": light, "stands": r.Stands(near=near)})
    text = r.write(before)
    assert r.read(text) == before
    assert r.write(r.read(text)) == text


@given(st.lists(some_wear, max_size=2, unique_by=lambda one: one.id))
def test_wear_goes_there_and_back(wears: list[Wear]) -> None:
    layers = (layer("base", 0), layer("top", 1))
    before = recipe(layers).model_copy(update={"wears": tuple(wears)})
    assert r.read(r.write(before)) == before
    assert {one.id for one in before.wears} == {one["id"] for one in json.loads(r.write(before))["wears"]}


def _changed(**parts: object) -> str:
    return json.dumps(json.loads(r.write(recipe((layer("base", 0),)))) | parts)


def test_a_later_version_is_refused_with_what_to_do() -> None:
    with pytest.raises(RefusalError) as refused:
        r.read(_changed(version=11))
    assert str(refused.value) == (
        "recipe: found version 11, expected version 10 or earlier; open it with a newer Elvatch."
    )


@pytest.mark.parametrize(
    ("text", "message"),
    [
        ("not json", "text that is not JSON"),
        ("[" * 100_000, "text that is not JSON"),
        ("[1]", "another kind of document"),
        (_changed(format="picture"), "another kind of document"),
        (_changed(version=0), "version 0"),
        (_changed(version="1"), "version '1'"),
        (_changed(surprise=1), "surprise"),
        (_changed(peg={"east_m": 1e5, "north_m": 0}), "the peg stands outside the ground"),
        (_changed(light={"sun_height_deg": 400}), "sun_height_deg"),
        (_changed(light={"sky": float("nan")}), "finite"),
    ],
)
def test_what_is_no_recipe_is_refused_in_one_sentence(text: str, message: str) -> None:
    with pytest.raises(RefusalError, match=message) as refused:
        r.read(text)
    assert "\n" not in str(refused.value)


@pytest.mark.parametrize(
    "part",
    [
        {"fit": {"tile_m": 0}},
        {"fit": {"tile_m": 1e9}},
        {"fit": {"tile_m": 1, "relief_m": 2}},
        {"fit": {"tile_m": -3}},
        {"opacity": 1.5},
        {"rule": {"clauses": [{"kind": "measure", "measure": "slope", "unit": "°", "lower": 50, "upper": 20}]}},
        {"rule": {"clauses": [{"kind": "measure", "measure": "slope", "unit": "m", "lower": 5}]}},
        {"rule": {"clauses": [{"kind": "measure", "measure": "colour", "unit": "m"}]}},
    ],
)
def test_a_layer_out_of_range_is_refused(part: dict[str, object]) -> None:
    data = json.loads(r.write(recipe((layer("base", 0),))))
    data["layers"][0] |= part
    with pytest.raises(RefusalError, match=r"layers\.0"):
        r.from_data(data)


def test_the_one_hand_off_of_version_seven_becomes_a_sheet() -> None:
    now = json.loads(r.write(recipe((layer("base", 0),))))
    del now["sheets"]
    told = {
        "size_px": 1000,
        "maps": ["colour", "roughness", "height", "splat"],
        "splat_bits": 16,
        "data_bits": 16,
        "height_bits": 32,
        "measures": ["flow"],
    }
    sheet = r.from_data(now | {"version": 7, "hand_off": told}).sheets[0]
    assert (sheet.fine.by, sheet.fine.value) == ("pixels", 1000)
    maps = [one for one in sheet.entries if isinstance(one, MapsEntry)]
    assert len(maps) == len(sheet.entries)
    assert [(one.holds[0].of, one.format, one.type) for one in maps] == [
        ("colour", "png", "uint8"),
        ("roughness", "png", "uint16"),
        ("height", "tiff", "float32"),
        ("weights", "png", "uint16"),
        ("flow", "tiff", "float32"),
    ]
    with pytest.raises(RefusalError, match="hand_off"):
        r.from_data(now | {"version": 7, "hand_off": {"maps": ["paint"]}})


def test_two_layers_of_one_id_are_refused() -> None:
    data = json.loads(r.write(recipe((layer("base", 0),))))
    data["layers"] *= 2
    with pytest.raises(RefusalError, match="same id"):
        r.from_data(data)


def test_a_recipe_of_version_one_is_brought_up_to_date() -> None:
    now = json.loads(r.write(recipe((layer("base", 0),))))
    old_ground = {
        "file": "a" * 40,
        "file_name": "hill.png",
        "width_m": 600.0,
        "depth_m": 500.0,
        "lowest_m": 10.0,
        "highest_m": 90.0,
    }
    del now["light"]
    old = now | {"version": 1, "ground": old_ground, "peg": {"east_m": 5, "north_m": 5}}
    read = r.read(json.dumps(old))
    assert read.version == 10
    assert (read.ground.width_m, read.ground.depth_m, read.ground.steps) == (600.0, 500.0, ())
    assert isinstance(read.ground.source, FileSource)
    assert read.ground.source.model_dump() == {
        "kind": "file",
        "file": "a" * 40,
        "file_name": "hill.png",
        "reading": Reading().model_dump(),
        "lowest_m": 10.0,
        "highest_m": 90.0,
    }
    assert r.read(r.write(read)) == read
    with pytest.raises(RefusalError, match="highest"):
        r.read(json.dumps(old | {"ground": old_ground | {"highest_m": 5}}))
    with pytest.raises(RefusalError, match="ground"):
        r.read(json.dumps(old | {"ground": "hill"}))


def test_clauses_of_version_two_become_the_same_sentences() -> None:
    steep = {"measure": "slope", "lower_deg": 30.0, "upper_deg": None, "soft_lower_deg": 7.0}
    high = {"measure": "elevation", "upper_m": 80.0, "opposite": True}
    broken = {"size_m": 9.0, "strength": 0.7, "seed": 5}
    old = json.loads(r.write(recipe((layer("base", 0), layer("top", 1))))) | {"version": 2}
    old["layers"][1]["rule"] = {"clauses": [steep, high], "break_up": broken}
    old["layers"][0]["rule"] = {"clauses": [], "break_up": {"strength": 0}}
    step = {"kind": "terrace", "id": "step", "name": "Steps", "where": [steep]}
    old["ground"]["steps"] = [step]
    read = r.read(json.dumps(old))
    slope, elevation, noise = read.layers[1].rule.clauses
    assert slope == on(between("slope", 30.0, None, 7.0, 5.0))
    assert elevation == on(between("elevation", None, 80.0, 2.0, 2.0, opposite=True))
    assert noise == OnNoise(join="break-up", size_m=9.0, strength=0.7, seed=5)
    assert read.layers[0].rule.clauses == ()
    assert read.ground.steps[0].where == (between("slope", 30.0, None, 7.0, 5.0),)
    assert r.read(r.write(read)) == read
    for wrong in ({"measure": "slope", "lower_m": 3}, {"measure": "colour"}, "steep"):
        old["layers"][1]["rule"] = {"clauses": [wrong]}
        with pytest.raises(RefusalError, match=r"layers\.1\.rule\.clauses\.0"):
            r.read(json.dumps(old))


def test_a_fit_of_version_three_lies_as_it_did() -> None:
    """What version 4 adds to a fit is left out of an earlier recipe, and its usual values change nothing."""
    old = json.loads(r.write(recipe((layer("base", 0),)))) | {"version": 3}
    old["layers"][0]["fit"] = {
        "tile_m": 1.5,
        "turn_deg": 20.0,
        "offset_east_m": 0.5,
        "offset_north_m": -2.0,
        "relief_m": 0.04,
    }
    fit = r.read(json.dumps(old)).layers[0].fit
    assert (fit.tile_m, fit.down_m, fit.turn_deg, fit.offset_north_m, fit.relief_m) == (1.5, 1.5, 20.0, -2.0, 0.04)
    assert (fit.projection, fit.repeats.kind, fit.meets, fit.mirror) == ("above", "none", "levelled", False)
    assert (fit.detail, fit.relief_mid, fit.relief_curve) == (None, None, 0.0)


def test_rules_that_ask_for_each_other_in_a_circle_are_refused_by_name() -> None:
    a, b = layer("moss", 0), layer("rock", 1)
    ask = {"clauses": [{"kind": "layer", "layer": b.id, "called": "rock"}]}
    back = {"clauses": [{"kind": "bracket", "clauses": [{"kind": "layer", "layer": a.id, "called": "moss"}]}]}
    data = json.loads(r.write(recipe((a, b))))
    data["layers"][0]["rule"] = ask
    assert r.from_data(data).layers[0].rule.clauses
    data["layers"][1]["rule"] = back
    with pytest.raises(RefusalError, match="in a circle: moss, rock, moss"):
        r.from_data(data)


def test_a_mask_too_fine_for_its_ground_is_refused() -> None:
    data = json.loads(r.write(recipe((layer("base", 0),))))
    data["marks"]["masks"] = [{"id": "mask", "name": "Paint", "sample_m": 0.25}]
    assert r.from_data(data).marks.masks[0].sample_m == 0.25
    data["marks"]["masks"][0]["sample_m"] = 1e-6
    with pytest.raises(RefusalError, match="too fine for a mask of 100 m"):
        r.from_data(data)
    data["marks"]["masks"] = [{"id": "same", "name": "A"}, {"id": "same", "name": "B"}]
    with pytest.raises(RefusalError, match="have the same id"):
        r.from_data(data)


def test_every_step_goes_there_and_back() -> None:
    described = vellin_ground.ground()
    made = recipe().model_copy(update={"ground": described, "peg": r.Peg(east_m=5, north_m=5)})
    assert r.read(r.write(made)).ground == described


def test_what_is_read_again_unchanged_is_the_same_part() -> None:
    data = json.loads(r.write(recipe((layer("mud", 1), layer("slate", 2)))))
    first = r.from_data(data)
    assert r.from_data(json.loads(json.dumps(data))) is first
    data["layers"][1]["opacity"] = 0.5
    second = r.from_data(data)
    assert second.layers[0] is first.layers[0]
    assert second.ground is first.ground
    assert second.layers[1].opacity == 0.5
    data["layers"][0]["opacity"] = 2.0
    with pytest.raises(RefusalError, match="opacity"):
        r.from_data(data)


@given(st.lists(any_layer, min_size=1, max_size=4))
def test_parts_have_one_name_exactly_when_they_say_the_same(some: list[Layer]) -> None:
    parts = [*some, *(one.model_copy(deep=True) for one in some), some[0].model_copy(update={"name": "renamed"})]
    says = [one.model_dump_json(exclude={"name"}) for one in parts]
    for one, said in zip(parts, says, strict=True):
        for other, heard in zip(parts, says, strict=True):
            assert (digest.of_part(one, "name") == digest.of_part(other, "name")) is (said == heard)
    assert digest.of_part(parts[-1]) != digest.of_part(parts[0])


@pytest.mark.parametrize("mist", [0.0, 0.25, 0.6, 1.0])
def test_the_air_of_a_site_of_version_five_is_as_clear_as_it_was(mist: float) -> None:
    light = {"sun_bearing_deg": 200.0, "sun_height_deg": 20.0, "sky": 1.2, "exposure_ev": 0.5, "mist": mist}
    read = r.read(_changed(version=5, light=light)).light
    # over a kilometre it took exp(-1000 haze), the same at every height
    haze = 5e-5 * math.exp(4.8 * mist)
    assert read.visibility_km is not None
    assert math.exp(-KOSCHMIEDER / read.visibility_km) == pytest.approx(math.exp(-1000 * haze))
    made = air(read, 1700.0, 0.0)
    assert passed(made, 300.0, 300.0, 1000.0)[0] == pytest.approx(1000, rel=0.01)
    assert (read.sun_bearing_deg, read.sun_height_deg, read.sky, read.exposure_ev) == (200, 20, 1.2, 0.5)
    assert read.beyond == "block", "it stood alone"
    with pytest.raises(RefusalError, match="mist"):
        r.read(_changed(version=5, light=light | {"mist": "thick"}))


def test_a_kept_sites_relief_stays_drawn_out_and_a_new_ones_is_not() -> None:
    kept = json.loads(r.write(recipe((layer("base", 0),)))) | {"version": 6}
    del kept["layers"][0]["fit"]["own_sides"]
    assert not r.read(json.dumps(kept)).layers[0].fit.own_sides
    assert Fit().own_sides
