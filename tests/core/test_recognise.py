"""Files told apart into sets: the pixels win over the name, and every guess has its reason."""

from __future__ import annotations

import io
from pathlib import Path

import numpy as np
import OpenEXR
import pytest
from PIL import Image

from elvatch.core.formats import png
from elvatch.core.picture.swatch import swatch
from elvatch.core.stock import archive, generators, intake, roles
from elvatch.core.stock.recognise import SetGuess
from elvatch.core.stock.supplier import packing
from elvatch.core.stock.supplier.catalogue import PACKS, SWATCHES, SupplierPack
from tests.core import pictures as p


def taken(guess: SetGuess) -> dict[str, str]:
    return {file.seen.path: file.meaning for file in guess.files}


def only(given: dict[str, bytes]) -> SetGuess:
    found = p.propose(given)
    assert found.refused == []
    (guess,) = found.sets
    return guess


def said(guess: SetGuess) -> str:
    return " ".join([*guess.warnings, *(text for file in guess.files for text in file.warnings)])


def test_a_plain_set_is_taken_by_its_names_without_a_word() -> None:
    guess = only(p.files())
    assert sorted(taken(guess).values()) == ["colour", "height", "normal", "occlusion", "roughness"]
    assert (guess.title, guess.category, said(guess)) == ("Mud", "soil and mud", "")
    assert all("in its name" in file.reason and file.sure == 0.95 for file in guess.files)


def test_several_sets_in_one_drop_are_told_apart() -> None:
    both = p.files() | {path.replace("mud", "Rock_02"): data for path, data in p.files().items()}
    found = p.propose(both)
    assert [(guess.title, len(guess.files)) for guess in found.sets] == [("Mud", 5), ("Rock 02", 5)]


@pytest.mark.parametrize("name", ["mud_roughness.png", "mud_height.png", "mud_diff.png", "mud.png", "mud_ao.png"])
def test_a_normal_map_is_one_whatever_it_is_called(name: str) -> None:
    guess = only({name: png.encode(p.whole(p.normal_of(p.relief())))})
    assert taken(guess) == {name: "normal"}
    assert "unit vectors" in guess.files[0].reason


def test_a_colour_picture_called_normal_is_base_colour_and_that_is_said() -> None:
    guess = only({"mud_normal.png": png.encode(p.whole(p.colours()))})
    assert taken(guess) == {"mud_normal.png": "colour"}
    assert "named normal" in said(guess)


def test_a_grey_picture_called_normal_is_height() -> None:
    assert taken(only({"mud_normal.png": png.encode(p.whole(p.relief()))})) == {"mud_normal.png": "height"}


def test_without_names_the_pixels_say_what_they_can() -> None:
    height = p.relief()
    for values, meaning in (
        (p.colours(), "colour"),
        (p.normal_of(height), "normal"),
        (height, "height"),
        (0.9 + 0.1 * height, "occlusion"),
        ((height > 0.5).astype(np.float32), "mask"),
    ):
        assert taken(only({"x17.png": png.encode(p.whole(values))})) == {"x17.png": meaning}


def test_two_colour_maps_leave_the_second_out_and_say_so() -> None:
    guess = only(p.files() | {"mud_diffuse.png": png.encode(p.whole(p.colours(64)))})
    assert taken(guess)["mud_basecolor.png"] == "colour"
    assert taken(guess)["mud_diffuse.png"] == "left-out"
    assert "a second base colour map" in said(guess)


def test_a_smaller_copy_of_a_set_in_the_same_drop_is_left_out() -> None:
    small = {path.replace("_", "_1k_"): png.encode(p.whole(p.colours(32))) for path in ["mud_basecolor.png"]}
    large = {path.replace("_", "_4k_"): png.encode(p.whole(p.colours(64))) for path in ["mud_basecolor.png"]}
    assert taken(only(small | large)) == {"mud_4k_basecolor.png": "colour", "mud_1k_basecolor.png": "left-out"}


def test_sets_of_one_name_in_folders_of_their_own_are_told_apart() -> None:
    picture = png.encode(p.whole(p.colours()))
    normal = png.encode(p.whole(p.normal_of(p.relief())))
    given = {"pack/mossy/rock_d.png": picture, "pack/bare/rock_d.png": picture, "pack/bare/rock_n.png": normal}
    found = p.propose(given)
    assert [(guess.title, len(guess.files)) for guess in found.sets] == [("Rock bare", 2), ("Rock mossy", 1)]
    split = p.propose({"maps/2k/rock_d.png": picture, "maps/4k/rock_d.png": picture})
    assert [(guess.title, len(guess.files)) for guess in split.sets] == [("Rock", 2)]


def test_directions_as_signed_floats_are_a_normal_map(tmp_path: Path) -> None:
    signed = p.normal_of(p.relief()) * 2 - 1
    path = str(tmp_path / "n.exr")
    OpenEXR.File({}, {letter: np.ascontiguousarray(signed[..., k]) for k, letter in enumerate("RGB")}).write(path)
    guess = only({"mud_normal.exr": Path(path).read_bytes()})
    assert taken(guess) == {"mud_normal.exr": "normal"}
    assert said(guess) == "it has no base colour; a plain grey stands in for it"
    assert guess.relief_share == pytest.approx(0.05, rel=0.05)


def test_maps_in_one_file_are_unpacked_and_a_map_of_its_own_wins() -> None:
    height = p.relief()
    packed = np.dstack([p.whole(0.8 + 0.2 * height), p.whole(0.5 * height), np.zeros((128, 128), np.uint8)])
    given = {"mud_orm.png": png.encode(packed), "mud_rough.png": png.encode(p.whole(0.9 * height))}
    guess = only(given)
    assert taken(guess) == {"mud_orm.png": "packed-orm", "mud_rough.png": "roughness"}
    store: dict[str, bytes] = {}

    def put(data: bytes) -> str:
        name = f"{len(store):040x}"
        store[name] = data
        return name

    chosen = [intake.Chosen(f.seen.path, lambda f=f: given[f.seen.path], f.meaning) for f in guess.files]  # type: ignore[misc]
    maps, _ = intake.keep_maps(chosen, put)
    assert {role: entry.origin for role, entry in maps.items()} == {
        "roughness": "brought",
        "metallic": "unpacked",
        "occlusion": "unpacked",
    }


@pytest.mark.parametrize(
    ("flip", "name", "words"),
    [
        (True, "mud_normal_gl.png", "name says that green points up, but it points down"),
        (False, "mud_normal_dx.png", "name says that green points down, but it points up"),
        (True, "mud_normal.png", "points down"),
        (False, "mud_normal_gl.png", ""),
    ],
)
def test_the_green_axis_is_what_the_pixels_say(flip: bool, name: str, words: str) -> None:
    normal = p.normal_of(p.relief())
    if flip:
        normal[..., 1] = 1 - normal[..., 1]
    guess = only({name: png.encode(p.whole(normal))})
    assert guess.files[0].turn_green is flip
    assert words in said(guess)
    assert (said(guess).count("green") == 0) == (words == "")


def test_wet_roughness_and_wet_gloss_are_doubted() -> None:
    assert "is it gloss" in said(only({"mud_rough.png": png.encode(p.whole(0.2 + 0.1 * p.relief()))}))
    assert "is it roughness" in said(only({"mud_gloss.png": png.encode(p.whole(0.8 + 0.1 * p.relief()))}))
    assert "dark on light" in said(only({"mud_mask.png": png.encode(p.whole(0.7 + 0.3 * p.relief()))}))


@pytest.mark.parametrize("pack", PACKS, ids=lambda pack: pack.id)
def test_the_suppliers_packs_are_recognised_and_their_faults_found(
    pack: SupplierPack, monkeypatch: pytest.MonkeyPatch
) -> None:
    monkeypatch.setattr(packing, "SIZES", (96,))
    members = archive.members(pack.id, packing.zipped(pack, 96))
    guess = only({member.path: member.data for member in members})
    has = {role for file in guess.files for role in roles.gives(file.meaning)}
    assert has - {"metallic"} >= set(pack.roles)
    words = said(guess)
    assert ("points down" in words) == ("green-down" in pack.faults)
    assert ("is it gloss" in words) == ("gloss-named-rough" in pack.faults)
    assert ("dark on light" in words) == ("dark-on-light" in pack.faults)
    assert ("different sizes" in words) == ("large-and-small" in pack.faults)
    assert ("named normal" in words) == ("colour-in-normal" in pack.faults)


@pytest.mark.parametrize("pack", [PACKS[11], PACKS[9]], ids=lambda pack: pack.id)
def test_the_pictures_of_packs_are_those_of_what_is_fetched(pack: SupplierPack) -> None:
    shown = swatch(generators.stored(generators.draw(pack.kind, 256, pack.seed, pack.controls)), 256)
    with Image.open(io.BytesIO(pack.swatch)) as image:
        kept = np.asarray(image.convert("RGB")).astype(float)
    assert np.abs(kept - shown).mean() < 6, "run: make packs"


def test_every_pack_has_its_picture_and_no_other_is_there() -> None:
    assert {path.stem for path in SWATCHES.iterdir()} == {pack.id for pack in PACKS}
