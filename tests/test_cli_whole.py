"""Commands that write one thing whole, and the one that opens a site."""

from __future__ import annotations

import json
from pathlib import Path

import numpy as np
import pytest
import trimesh
from pxr import Usd

from elvatch.app.workshop import Workshop
from elvatch.cli import main
from elvatch.store.store import Store
from tests.test_elsewhere import site


@pytest.fixture(scope="module")
def data(tmp_path_factory: pytest.TempPathFactory) -> Path:
    folder = tmp_path_factory.mktemp("whole") / "data"
    site(Workshop(Store(folder)))
    return folder


def run(capsys: pytest.CaptureFixture[str], data: Path, *words: str) -> tuple[int, str, str]:
    code = main([words[0], *words[1:], "--data", str(data)])
    said = capsys.readouterr()
    return code, said.out, said.err


def test_a_mesh_is_one_file_or_one_a_tile_and_level(
    data: Path, tmp_path: Path, capsys: pytest.CaptureFixture[str]
) -> None:
    code, _, _ = run(
        capsys, data, "mesh", "Made site", "--out", str(tmp_path / "hill.glb"), "--greatest-error", "0.2"
    )
    assert code == 0
    assert [path.name for path in tmp_path.iterdir()] == ["hill.glb"]
    np.testing.assert_allclose(trimesh.load(tmp_path / "hill.glb").bounds[:, 0], [0, 60], atol=1e-4)
    many = tmp_path / "many"
    many.mkdir()
    words = ("--tiles", "2x2", "--levels", "2", "--skirts", "--shares", "values", "--up", "y")
    assert run(capsys, data, "mesh", "Made site", "--out", str(many / "hill.usda"), *words)[0] == 0
    assert sorted(path.name for path in many.iterdir()) == [
        f"hill_{level}_{row}{column}.usda" for level in (0, 1) for row in "ab" for column in (1, 2)
    ]
    assert Usd.Stage.Open(str(many / "hill_1_b2.usda")).GetPrimAtPath("/site/mesh").IsValid()


def test_a_kit_and_a_ground(data: Path, tmp_path: Path, capsys: pytest.CaptureFixture[str]) -> None:
    words = ("--size", "64", "--weights-size", "32", "--weights", "masks", "--no-tint")
    assert run(capsys, data, "kit", "Made site", "--out", str(tmp_path / "kit"), *words)[0] == 0
    kit = json.loads((tmp_path / "kit" / "made-site_kit.json").read_text())
    assert (kit["set_px"], kit["weights"], kit["tint"]) == (64, "masks", [])
    asked = ("--samples", "33", "--high-byte-first", "--json")
    code, out, _ = run(capsys, data, "ground", "Made site", "--out", str(tmp_path / "hill.raw"), *asked)
    assert code == 0
    assert json.loads(out)[0] == {"name": "hill.raw", "bytes": 33 * 33 * 2}
    told = json.loads((tmp_path / "hill.raw.json").read_text())
    codes = np.fromfile(tmp_path / "hill.raw", ">u2").reshape(33, 33)
    assert (codes.min(), codes.max(), told["byte_order"]) == (0, 65535, "high byte first")


def test_a_packed_site_opens_in_another_folder(
    data: Path, tmp_path: Path, capsys: pytest.CaptureFixture[str]
) -> None:
    path = tmp_path / "made.elvatch.zip"
    assert run(capsys, data, "pack", "Made site", "--out", str(path))[0] == 0
    other = tmp_path / "other"
    code, out, _ = run(capsys, other, "open", str(path), "--look")
    assert code == 0
    assert "Made site: 60 x 60 m, 1 step, 2 layers, 1 wear" in out
    assert Workshop(Store(other)).store.sites.all() == []
    assert run(capsys, other, "open", str(path))[0] == 0
    (line,) = Workshop(Store(other)).store.sites.all()
    assert line.recipe == Workshop(Store(data)).store.sites.find("Made site").recipe


@pytest.mark.parametrize(
    ("words", "said"),
    [
        (("mesh", "Made site", "--out", "hill.stl"), "expected a file that ends in .glb, .obj, .ply, .usdc, .usda"),
        (("ground", "Made site", "--out", "hill.jpg"), "expected a file that ends in .png"),
        (("pack", "Made site", "--out", "hill.zip"), "expected a file that ends in .elvatch.zip"),
        (("mesh", "Made site", "--out", "hill.ply", "--maps", "inside"), "found maps of PLY, expected none"),
        (("kit", "Made site", "--out", "kit", "--tiles", "4by4"), "columns and rows, like 4x4"),
        (("open", "nothing.elvatch.zip"), "expected a whole pack"),
    ],
)
def test_what_cannot_be_is_said_in_one_sentence(
    words: tuple[str, ...], said: str, data: Path, capsys: pytest.CaptureFixture[str]
) -> None:
    code, _, wrong = run(capsys, data, *words)
    assert code == 2
    assert said in wrong
