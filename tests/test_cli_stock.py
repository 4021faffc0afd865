"""The stock from the command line: bring in, list, check, take out, make."""

from __future__ import annotations

import json
from pathlib import Path
from typing import Any

import numpy as np
import pytest
from PIL import Image

from elvatch.cli import main
from elvatch.core.stock import archive
from tests.core import pictures as p


class Terminal:
    """Runs commands on one data folder."""

    def __init__(self, capsys: pytest.CaptureFixture[str], data: Path) -> None:
        self._capsys, self._data = capsys, str(data)

    def said(self, *words: object, code: int = 0) -> str:
        """Run a command of the stock; return what it printed."""
        assert main(["stock", *map(str, words), "--data", self._data]) == code
        printed = self._capsys.readouterr()
        return printed.out if code == 0 else printed.err

    def told(self, *words: object) -> Any:
        """Run a command of the stock; return its JSON."""
        return json.loads(self.said(*words, "--json"))


@pytest.fixture
def terminal(capsys: pytest.CaptureFixture[str], tmp_path: Path) -> Terminal:
    return Terminal(capsys, tmp_path / "data")


@pytest.fixture
def folder(tmp_path: Path) -> Path:
    made = tmp_path / "drop/mud"
    made.mkdir(parents=True)
    for path, data in p.files().items():
        (made / path).write_bytes(data)
    (made / "readme.txt").write_text("made by code")
    return made.parent


def test_a_folder_is_brought_in_with_a_reason_for_each_file(terminal: Terminal, folder: Path) -> None:
    looked = terminal.told("add", folder, "--look")
    assert looked["sets"][0]["name"] is None
    assert terminal.told("list") == []
    added = terminal.told("add", folder, "--tile", "1.25")
    (made,) = added["sets"]
    assert [file["meaning"] for file in made["files"]] == ["colour", "normal", "roughness", "occlusion", "height"]
    assert all(file["reason"] and file["roles"] for file in made["files"])
    (line,) = terminal.told("list", "--text", "mud")
    assert (line["name"], line["tile_m"], line["roles"]) == (
        made["name"],
        1.25,
        ["colour", "normal", "roughness", "occlusion", "height"],
    )


def test_a_set_is_checked_in_numbers(terminal: Terminal, folder: Path) -> None:
    terminal.told("add", folder)
    found = terminal.told("check", "Mud")
    assert found["green"]["points"] == "up"
    assert found["green"]["confidence"] > 0.9
    for entry in found["maps"]:
        assert entry["across"]["ratio"] < 1.6
        assert entry["down"]["ratio"] < 1.6
    assert 0 <= found["repetition_far"] <= found["repetition_near"] <= 1
    assert "seam" in terminal.said("check", "mud")


def test_a_set_goes_out_and_comes_in_the_same(
    terminal: Terminal, folder: Path, tmp_path: Path, capsys: pytest.CaptureFixture[str]
) -> None:
    terminal.told("add", folder, "--tile", "1.25")
    out = tmp_path / "mud.zip"
    assert terminal.told("out", "Mud", "--to", out)["bytes"] == out.stat().st_size
    other = Terminal(capsys, tmp_path / "other")
    (again,) = other.told("add", out)["sets"]
    assert (again["title"], again["tile_m"]) == ("Mud", 1.25)
    back = tmp_path / "again.zip"
    other.told("out", "Mud", "--to", back)
    first, second = ({m.path: m.data for m in archive.members("z", one.read_bytes())} for one in (out, back))
    assert first == second


def test_a_set_is_made_with_its_controls(terminal: Terminal) -> None:
    made = terminal.told(
        "make", "wet-silt", "--seed", "5", "--size", "64", "--control", "ripples=9", "--control", "damp=1"
    )
    found = terminal.told("check", made["name"])
    assert {entry["width_px"] for entry in found["maps"]} == {64}
    assert found["tile_m"] == 2.0


@pytest.mark.parametrize(
    ("words", "message"),
    [
        (("check", "nothing"), "0 sets called 'nothing'"),
        (("make", "cheese"), "expected one of slate-bedrock"),
        (("make", "pebbles", "--size", "65"), "expected an even number"),
        (("make", "pebbles", "--control", "sand"), "NAME=VALUE"),
        (("make", "pebbles", "--seed", "-1"), "0 to 1000000"),
        (("add", "/no/such/path"), "no such file"),
        (("out", "nothing", "--to", "x.zip"), "0 sets"),
    ],
)
def test_what_is_wrong_is_said_in_one_line(terminal: Terminal, words: tuple[str, ...], message: str) -> None:
    said = terminal.said(*words, code=2)
    assert message in said
    assert said.count("\n") == 1


def test_bad_images_are_left_out_with_a_sentence(terminal: Terminal, folder: Path) -> None:
    (folder / "mud/mud_metal.jpg").write_bytes(
        p.saved(Image.fromarray(np.zeros((16, 16, 3), np.uint8)), "JPEG")[:200]
    )
    added = terminal.told("add", folder)
    assert len(added["refused"]) == 1
    assert added["refused"][0].startswith("mud_metal.jpg: found a damaged")
    assert len(added["sets"][0]["files"]) == 5
