"""The command line does what the page does, and says what is wrong in one line."""

from __future__ import annotations

import json
import shutil
from collections.abc import Callable
from pathlib import Path

import numpy as np
import pytest
from PIL import Image

from elvatch.cli import main


@pytest.fixture
def data(demo_data: Path, tmp_path: Path) -> str:
    return str(shutil.copytree(demo_data, tmp_path / "data"))


def run(capsys: pytest.CaptureFixture[str], *words: str, code: int = 0) -> str:
    assert main([str(w) for w in words]) == code
    said = capsys.readouterr()
    return said.out if code == 0 else said.err


def test_the_demo_is_laid_out_once(capsys: pytest.CaptureFixture[str], data: str) -> None:
    run(capsys, "demo", "--no-serve", "--data", data)  # adds full-size sets beside the small ones, no second site
    sites = json.loads(run(capsys, "sites", "--data", data, "--json"))
    assert [s["title"] for s in sites] == ["Vellin Water"]
    assert sites[0]["layers"] == ["Wet silt", "Rough grass", "Slate scree", "Slate bedrock"]


def test_a_site_from_a_file_and_its_picture(
    capsys: pytest.CaptureFixture[str], data: str, height_png: Callable[..., Path], tmp_path: Path
) -> None:
    made = run(capsys, "new", "Hill", "--heights", str(height_png()), "--size", "600x400", "--range", "10:90",
               "--data", data, "--json")  # fmt: skip
    assert json.loads(made)["levels"] > 1000
    assert "Hill  600 x 400 m, 10 to 90 m, 1 layers" in run(capsys, "sites", "--data", data)
    out = tmp_path / "hill.png"
    facts = json.loads(run(capsys, "picture", "hill", "--stand", "mid", "--size", "120x80", "--out", str(out),
                           "--data", data, "--json"))  # fmt: skip
    assert facts["width_px"] == 120
    with Image.open(out) as image:
        assert image.size == (120, 80)
        assert np.asarray(image).std() > 5


def test_a_layers_presence_as_a_picture(capsys: pytest.CaptureFixture[str], data: str, tmp_path: Path) -> None:
    shown = {}
    for layer in ("Slate bedrock", "1"):
        out = tmp_path / f"{layer}.png"
        run(capsys, "picture", "Vellin Water", "--stand", "near", "--size", "64x64", "--mode", "presence",
            "--layer", layer, "--out", str(out), "--data", data)  # fmt: skip
        with Image.open(out) as image:
            shown[layer] = np.asarray(image).astype(int)
    assert np.abs(shown["Slate bedrock"] - shown["1"]).max() > 100


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
        (("picture", "Vellin Water", "--layer", "Sand", "--out", "x.png"), "one of Wet silt, Rough grass"),
        (("picture", "Vellin Water", "--size", "32x32", "--out", "/nowhere/x.png"), "a file to write to"),
        (("bake", "Vellin Water", "--size", "4", "--out", "x"), "16 to 32768 pixels"),
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
