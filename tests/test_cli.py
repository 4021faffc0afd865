"""The command line does what the page does, and says what is wrong in one line."""

from __future__ import annotations

import functools
import json
import shutil
from collections.abc import Callable
from pathlib import Path

import imagecodecs
import numpy as np
import pytest
import tifffile
from PIL import Image

from elvatch.cli import main
from elvatch.demo import scenario

LAYERS = [
    "Wet silt",
    "Cracked mud",
    "Shore bands",
    "Rough grass",
    "Moor peat",
    "Slate scree",
    "Slate bedrock",
    "Dam masonry",
    "Spillway apron",
    "Drowned lane",
    "Works track",
    "Tyre marks",
]


@pytest.fixture
def data(demo_data: Path, tmp_path: Path) -> str:
    return str(shutil.copytree(demo_data, tmp_path / "data"))


def run(capsys: pytest.CaptureFixture[str], *words: str, code: int = 0) -> str:
    assert main([str(w) for w in words]) == code
    said = capsys.readouterr()
    return said.out if code == 0 else said.err


def test_the_demo_is_laid_out_once(
    capsys: pytest.CaptureFixture[str], data: str, monkeypatch: pytest.MonkeyPatch
) -> None:
    monkeypatch.setattr("elvatch.cli.commands.scenario.lay_out", functools.partial(scenario.lay_out, set_px=64))
    run(capsys, "demo", "--no-serve", "--data", data)  # adds other sets beside the small ones, no second site
    sites = json.loads(run(capsys, "sites", "--data", data, "--json"))
    assert [s["title"] for s in sites] == ["Vellin Water", "Dam’s upstream face", "Spillway apron"]
    assert sites[0]["layers"] == LAYERS
    assert sites[1]["layers"][:2] == ["Coursed masonry", "Stained below the water"]
    assert sites[2]["layers"] == ["Cast panels", "Worn skin", "Open joints", "Washed-in silt"]


def test_a_site_from_a_file_and_its_picture(
    capsys: pytest.CaptureFixture[str], data: str, height_png: Callable[..., Path], tmp_path: Path
) -> None:
    made = run(
        capsys,
        "new",
        "Hill",
        "--heights",
        str(height_png()),
        "--size",
        "600x400",
        "--range",
        "10:90",
        "--data",
        data,
        "--json",
    )
    assert json.loads(made)["levels"] > 1000
    assert "Hill  600 x 400 m, 0 steps, 5 layers" in run(capsys, "sites", "--data", data)
    run(
        capsys,
        "new",
        "Bare",
        "--heights",
        str(height_png()),
        "--size",
        "600x400",
        "--range",
        "10:90",
        "--empty",
        "--data",
        data,
    )
    assert "Bare  600 x 400 m, 0 steps, 0 layers" in run(capsys, "sites", "--data", data)
    out = tmp_path / "hill.png"
    facts = json.loads(
        run(
            capsys,
            "picture",
            "hill",
            "--stand",
            "mid",
            "--size",
            "120x80",
            "--out",
            str(out),
            "--data",
            data,
            "--json",
        )
    )
    assert facts["width_px"] == 120
    with Image.open(out) as image:
        assert image.size == (120, 80)
        assert np.asarray(image).std() > 5


def test_a_layers_presence_as_a_picture(capsys: pytest.CaptureFixture[str], data: str, tmp_path: Path) -> None:
    shown = {}
    for layer in ("Cracked mud", "1"):
        out = tmp_path / f"{layer}.png"
        run(
            capsys,
            "picture",
            "Vellin Water",
            "--stand",
            "near",
            "--size",
            "64x64",
            "--mode",
            "presence",
            "--layer",
            layer,
            "--out",
            str(out),
            "--data",
            data,
        )
        with Image.open(out) as image:
            shown[layer] = np.asarray(image).astype(int)
    assert np.abs(shown["Cracked mud"] - shown["1"]).max() > 100


def test_a_bake(capsys: pytest.CaptureFixture[str], data: str, tmp_path: Path) -> None:
    said = json.loads(
        run(
            capsys, "bake", "Vellin Water", "--size", "256", "--out", str(tmp_path / "maps"), "--data", data, "--json"
        )
    )
    assert [f["name"] for f in said][:2] == ["vellin-water_colour.png", "vellin-water_normal.png"]
    shares = [np.asarray(Image.open(p)).astype(float) for p in sorted((tmp_path / "maps").glob("*share*"))]
    assert np.abs(np.sum(shares, axis=0) / 65535 - 1).max() < 1e-4


@pytest.mark.parametrize(
    ("words", "message"),
    [
        (("picture", "Nowhere", "--out", "x.png"), "no site 'Nowhere'"),
        (("picture", "Vellin Water", "--size", "9x9", "--out", "x.png"), "16 to 8192 pixels"),
        (("picture", "Vellin Water", "--size", "big", "--out", "x.png"), "two numbers like 960x600"),
        (("picture", "Vellin Water", "--layer", "Sand", "--out", "x.png"), "one of Wet silt, Cracked mud"),
        (("picture", "Vellin Water", "--size", "32x32", "--out", "/nowhere/x.png"), "a file to write to"),
        (("bake", "Vellin Water", "--size", "4", "--out", "x"), "16 to 32768 pixels"),
        (("probe", "Vellin Water", "--at", "here"), "east and north in metres, like 600,420"),
        (("probe", "Vellin Water", "--at", "9000,1"), "0,0 to 1200,1200 m"),
        (("presence", "Vellin Water", "--out", "x.png"), "no layer and no --mask"),
        (("presence", "Vellin Water", "2", "--clause", "9", "--out", "x.png"), "--clause: found 9, expected 1 to 5"),
        (("presence", "Vellin Water", "--mask", "Moss", "--out", "x.png"), "one of this site's (Tyre marks)"),
        (("splat", "Vellin Water", "--size", "4", "--out", "x"), "16 to 32768 pixels"),
        (("new", "A", "--heights", "/nowhere.png", "--size", "6x4", "--range", "1:2"), "check the path"),
    ],
)
def test_what_is_wrong_is_said_in_one_line(
    capsys: pytest.CaptureFixture[str], data: str, words: tuple[str, ...], message: str
) -> None:
    said = run(capsys, *words, "--data", data, code=2)
    assert said.startswith("elvatch: ")
    assert message in said
    assert said.count("\n") == 1


def test_a_ground_made_by_steps_and_its_measure(
    capsys: pytest.CaptureFixture[str], data: str, tmp_path: Path
) -> None:
    described = {
        "width_m": 300,
        "depth_m": 200,
        "source": {"kind": "flat", "samples": 97},
        "steps": [
            {"kind": "form", "id": "form", "name": "Hills", "size_m": 120, "height_m": 40},
            {"kind": "settle", "id": "rest", "name": "Rest", "repose_deg": 25},
        ],
    }
    steps = tmp_path / "steps.json"
    steps.write_text(json.dumps(described))
    facts = json.loads(run(capsys, "new", "Made", "--made", str(steps), "--data", data, "--json"))
    assert (facts["cols"], facts["rows"]) == (97, 65)
    out = tmp_path / "slope.tif"
    said = json.loads(
        run(capsys, "measure", "made", "slope", "--size", "60", "--out", str(out), "--data", data, "--json")
    )
    assert (said["unit"], said["width_px"], said["height_px"]) == ("°", 60, 40)
    steep = tifffile.imread(out)
    assert steep.dtype == np.float32
    assert 3 < steep.max() < 26
    run(capsys, "measure", "made", "dropped", "--out", str(out), "--data", data)
    assert tifffile.imread(out).shape == (65, 97)
    assert "expected one of elevation" in run(
        capsys, "measure", "made", "steepness", "--out", "x", "--data", data, code=2
    )
    steps.write_text("{")
    assert "text that is not JSON" in run(capsys, "new", "No", "--made", str(steps), "--data", data, code=2)
    assert "expected one of them" in run(capsys, "new", "No", "--data", data, code=2)


def test_facts_and_guesses_of_a_height_file(capsys: pytest.CaptureFixture[str], tmp_path: Path) -> None:
    x, y = np.meshgrid(np.linspace(0, 5, 64), np.linspace(0, 4, 64))
    path = tmp_path / "hill.raw"
    path.write_bytes((9000 * np.sin(x) * np.cos(y) + 10000).astype("<u2").tobytes())
    facts = json.loads(run(capsys, "heights", str(path), "--json"))
    assert (facts["format"], facts["cols"], facts["rows"], facts["bits"]) == ("RAW", 64, 64, 16)
    assert facts["guesses"][0]["layout"]["samples"] == "u16"
    assert 0.5 < facts["guesses"][0]["confidence"] <= 1
    turned = json.loads(run(capsys, "heights", str(path), "--raw", "32x128:u16le", "--turn", "1", "--json"))
    assert (turned["cols"], turned["rows"]) == (128, 32)
    assert "guess 64x64:u16le" in run(capsys, "heights", str(path))
    assert "a layout like" in run(capsys, "heights", str(path), "--raw", "64x64:words", code=2)


def test_a_probe_and_a_presence_agree(capsys: pytest.CaptureFixture[str], data: str, tmp_path: Path) -> None:
    out = tmp_path / "mud.png"
    facts = json.loads(
        run(
            capsys,
            "presence",
            "Vellin Water",
            "Cracked mud",
            "--size",
            "300",
            "--out",
            str(out),
            "--data",
            data,
            "--json",
        )
    )
    assert (facts["width_px"], facts["bits"]) == (300, 16)
    with Image.open(out) as image:
        codes = np.asarray(image).astype(int)
    # the middle of texel column 214, row 182: four metres a texel
    told = json.loads(run(capsys, "probe", "Vellin Water", "--at", "858,470", "--data", data, "--json"))
    mud = next(layer for layer in told["layers"] if layer["name"] == "Cracked mud")
    assert codes[182, 214] / 65535 == pytest.approx(mud["presence"], abs=1e-4)
    assert told["measures"]["elevation"]["unit"] == "m"
    assert [clause["join"] for clause in mud["clauses"]] == ["and", "and", "and", "except"]
    words = run(capsys, "probe", "Vellin Water", "--at", "858,470", "--data", data)
    assert "gentler than 6°: lets in 100.0%" in words
    clause, mask = tmp_path / "clause.png", tmp_path / "mask.png"
    run(
        capsys, "presence", "Vellin Water", "2", "--clause", "1", "--size", "64", "--out", str(clause), "--data", data
    )
    run(
        capsys,
        "presence",
        "Vellin Water",
        "--mask",
        "tyre marks",
        "--size",
        "2400",
        "--out",
        str(mask),
        "--data",
        data,
    )
    with Image.open(clause) as one, Image.open(mask) as other:
        assert 0.1 < (np.asarray(one) == 65535).mean() < 0.5
        assert 0 < (np.asarray(other) > 30000).mean() < 0.01


def test_splat_maps_and_a_packed_image_taken_apart(
    capsys: pytest.CaptureFixture[str], data: str, tmp_path: Path
) -> None:
    said = json.loads(
        run(
            capsys,
            "splat",
            "Vellin Water",
            "--size",
            "128",
            "--bits",
            "16",
            "--out",
            str(tmp_path / "splat"),
            "--data",
            data,
            "--json",
        )
    )
    assert [file["name"] for file in said][:3] == [f"vellin-water_splat_{k:02d}.png" for k in (1, 2, 3)]
    files = [tmp_path / "splat" / file["name"] for file in said[:3]]
    total = sum(imagecodecs.png_decode(file.read_bytes()).astype(int).sum(axis=2) for file in files)
    assert (total == 65535).all()
    told = json.loads(run(capsys, "apart", str(files[0]), "--json"))
    assert [one["channel"] for one in told["channels"]] == ["R", "G", "B", "A", "brightness"]
    codes = imagecodecs.png_decode(files[0].read_bytes())
    for k, one in enumerate(told["channels"][:4]):
        assert one["share"] == pytest.approx(codes[..., k].mean() / 65535, abs=1e-6)
    assert "R: " in run(capsys, "apart", str(files[0]))


def test_repetition_modes_and_relief_without_a_browser(
    capsys: pytest.CaptureFixture[str], data: str, tmp_path: Path
) -> None:
    told = json.loads(run(capsys, "repetition", "vellin water", "cracked mud", "--data", data, "--json"))
    assert (told["against"], told["tile_m"]) == ("turn", 2.5)
    assert told["far_after"] < told["far_before"] / 5
    assert told["near_after"] < told["near_before"] / 5
    assert "from afar" in run(capsys, "repetition", "vellin water", "2", "--data", data)
    shown = {}
    for mode in ("stretch", "density", "height", "normal", "roughness", "colour", "occlusion"):
        out = tmp_path / f"{mode}.png"
        run(
            capsys,
            "picture",
            "Spillway apron",
            "--stand",
            "near",
            "--size",
            "90x120",
            "--mode",
            mode,
            "--out",
            str(out),
            "--data",
            data,
        )
        with Image.open(out) as image:
            shown[mode] = np.asarray(image).astype(int)
    assert shown["normal"][110, :, 2].mean() > 200, "level ground faces up"
    assert len({one.tobytes() for one in shown.values()}) == len(shown)
    probed = json.loads(run(capsys, "probe", "Spillway apron", "--at", "5,5", "--data", data, "--json"))
    assert abs(probed["relief_m"]) < 0.02
    assert probed["stretch"] == pytest.approx(1.0, abs=0.01)
    run(
        capsys,
        "bake",
        "Spillway apron",
        "--maps",
        "relief",
        "--float-heights",
        "--size",
        "240",
        "--out",
        str(tmp_path / "maps"),
        "--data",
        data,
    )
    relief = tifffile.imread(tmp_path / "maps" / "spillway-apron_relief.tif")
    assert relief.dtype == np.float32
    assert relief.shape == (160, 240)
    # the file says what the probe says, up to the area that each stands for
    assert abs(float(relief[109, 50]) - probed["relief_m"]) < 0.01
    assert "'wetnes'" in run(
        capsys, "bake", "Spillway apron", "--maps", "wetnes", "--out", str(tmp_path / "x"), "--data", data, code=2
    )


def test_sheets_are_listed_and_handed_off(capsys: pytest.CaptureFixture[str], data: str, tmp_path: Path) -> None:
    listed = json.loads(run(capsys, "sheets", "Spillway apron", "--data", data, "--json"))
    assert [one["name"] for one in listed][1:3] == ["glTF 2.0 textures", "Film: EXR tiles, ACEScg"]
    assert sum(entry["files"] for entry in listed[2]["entries"]) == 64
    text = run(capsys, "sheets", "Spillway apron", "--show", "gltf", "--data", data)
    sheet = json.loads(text) | {"name": "Two", "fine": {"by": "px-per-m", "value": 10}}
    sheet["entries"] = [one | {"file": "{site}_{map}_{udim}"} for one in sheet["entries"][:2]]
    (tmp_path / "two.json").write_text(json.dumps(sheet))
    out = json.loads(
        run(
            capsys,
            "handoff",
            "Spillway apron",
            "--sheet",
            str(tmp_path / "two.json"),
            "--region",
            "2,3,8x4",
            "--tiles",
            "2x1",
            "--out",
            str(tmp_path / "out"),
            "--data",
            data,
            "--json",
        )
    )
    names = [one["name"] for one in out]
    surface = "spillway-apron_occlusion-roughness-metallic"
    assert names == [
        *(f"{name}_{udim}.png" for name in ("spillway-apron_colour", surface) for udim in (1001, 1002)),
        "hand-off.json",
    ]
    with Image.open(tmp_path / "out" / names[0]) as image:
        assert image.size == (40, 40), "four metres at ten pixels each"
    for wrong, said in (
        (("--sheet", "Three"), "expected one of this site's: Plain maps"),
        (("--sheet", "no.json"), "no.json"),
        (("--sheet", "gltf", "--region", "all"), "E,N,WxD"),
        (("--sheet", "gltf", "--tiles", "2"), "like 4x4"),
        (("--sheet", "gltf", "--region", "0,0,900x9"), "found 900 x 9 m from 0, 0, expected a part of"),
    ):
        assert said in run(
            capsys, "handoff", "Spillway apron", *wrong, "--out", str(tmp_path / "x"), "--data", data, code=2
        )


def test_wear_says_what_it_does_without_a_browser(capsys: pytest.CaptureFixture[str], data: str) -> None:
    found = json.loads(run(capsys, "wear", "spillway apron", "--data", data, "--json"))
    assert [one["name"] for one in found][-3:] == ["Lime runs", "Lime bloom", "Damp patches"]
    cracks = next(one for one in found if one["name"] == "Hairline cracks")
    assert -2.01 <= cracks["relief_mm"] < -0.5
    assert (cracks["on_layer"], cracks["over"]) == ("Worn skin", ["Cast panels", "Worn skin"])
    lines = run(capsys, "wear", "spillway apron", "--data", data).splitlines()
    assert any(line.startswith("Hairline cracks: ") and " mm deep on " in line for line in lines)
    probed = json.loads(run(capsys, "probe", "spillway apron", "--at", "9,9.5", "--data", data, "--json"))
    assert {one["name"] for one in probed["wear"]} == {one["name"] for one in found}
    assert run(capsys, "wear", "vellin water", "--data", data).strip() == "no wear on this site"


def test_findings_end_with_one_and_a_rule_is_found_from_an_image(
    capsys: pytest.CaptureFixture[str], data: str, tmp_path: Path
) -> None:
    with pytest.raises(SystemExit) as ended:
        main(["findings", "Vellin Water", "--quick", "--data", data, "--json"])
    assert ended.value.code == 1
    told = json.loads(capsys.readouterr().out)
    assert told["open"] == len(told["findings"]) > 0
    assert {"few-bits", "sheet"}.isdisjoint(one["kind"] for one in told["findings"])
    mask = tmp_path / "mud.png"
    run(
        capsys,
        "presence",
        "Vellin Water",
        "Cracked mud",
        "--clause",
        "1",
        "--size",
        "400",
        "--out",
        str(mask),
        "--data",
        data,
    )
    found = json.loads(run(capsys, "find-rule", "Vellin Water", "--mask", str(mask), "--data", data, "--json"))
    # the clause is on the height above water
    assert found["sentence"].startswith("above the water by less than")
    assert found["overlap"] > 0.85
    assert found["explained"]


def test_a_suite_is_kept_taken_out_brought_elsewhere_and_laid_by_its_ground(
    capsys: pytest.CaptureFixture[str], data: str, tmp_path: Path, height_png: Callable[..., Path]
) -> None:
    file, other = tmp_path / "shore.zip", str(tmp_path / "other")
    kept = json.loads(
        run(capsys, "suite", "keep", "Vellin Water", "Shore", "--layer", "Cracked mud", "--data", data, "--json")
    )
    assert (kept["layers"], kept["of_site"]) == (["Cracked mud"], "Vellin Water")
    run(capsys, "suite", "out", "Shore", "--to", str(file), "--data", data)
    assert "Cracked mud" in run(capsys, "suite", "bring", str(file), "--data", other)
    run(
        capsys,
        "new",
        "Slab",
        "--heights",
        str(height_png()),
        "--size",
        "600x400",
        "--range",
        "10:90",
        "--empty",
        "--data",
        other,
    )
    laid = json.loads(run(capsys, "suite", "lay", "Slab", "Shore", "--by-ground", "--data", other, "--json"))
    assert laid["label"] == "laid the suite Shore, by quantiles of this ground"
    assert len(laid["layers"]) == 1
    assert "Shore" in run(capsys, "suite", "list", "--data", other)
