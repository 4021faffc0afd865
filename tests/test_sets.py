"""Operations on sets: out and in again is the same, replaced files are followed, nothing is left of what failed."""

from __future__ import annotations

from pathlib import Path

import numpy as np
import pytest

from elvatch.app.sets import Into
from elvatch.app.workshop import Workshop
from elvatch.core.formats import texture
from elvatch.core.parallel import Token
from elvatch.core.picture.picture import View
from elvatch.core.refusal import CancelledError, RefusalError
from elvatch.core.run import Run
from elvatch.core.stock import archive, intake
from elvatch.core.stock.intake import Decision
from elvatch.core.stock.mend import ask
from elvatch.store.store import Store
from tests.conftest import file_ground, layer, plane, put_set, recipe
from tests.core import pictures as p


def bring(workshop: Workshop, given: dict[str, bytes], into: Into | None = None, **changes: object) -> str:
    (guess,) = p.propose(given).sets
    decision = Decision.model_validate(intake.decide(guess).model_dump() | changes)
    return workshop.sets.keep(decision, {path: (lambda d=data: d) for path, data in given.items()}, None, into)  # type: ignore[misc]


def members(data: bytes) -> dict[str, bytes]:
    return {member.path: member.data for member in archive.members("set.zip", data)}


@pytest.mark.parametrize("with_description", [True, False])
def test_a_set_taken_out_and_brought_in_again_is_the_same(
    workshop: Workshop, tmp_path: Path, with_description: bool
) -> None:
    first = bring(
        workshop,
        p.files(),
        title="Мокрый ил & mud",
        tile_m=1.37,
        tags=["damp"],
        notes="above the dam",
        collections=["Vellin"],
    )
    file_name, data = workshop.sets.take_out(first)
    assert file_name == "Мокрый_ил_mud.zip"
    given = members(data)
    if not with_description:
        given = {path: inside for path, inside in given.items() if not path.endswith("set.json")}
    other = Workshop(Store(tmp_path / "other"))
    again = bring(other, given)
    before, after = workshop.store.stock.state(first), other.store.stock.state(again)
    if with_description:
        assert after.description == before.description
    else:
        assert {role: m.file for role, m in after.description.maps.items()} == {
            role: m.file for role, m in before.description.maps.items()
        }
    for role, entry in before.description.maps.items():
        one = texture.decode(role, workshop.store.files.get(entry.file))
        two = texture.decode(role, other.store.files.get(after.description.maps[role].file))
        np.testing.assert_array_equal(one.values, two.values)
        assert one.bits == two.bits == entry.bits


def test_brought_in_pixels_are_those_of_the_files(workshop: Workshop) -> None:
    given = p.files()
    state = workshop.store.stock.state(bring(workshop, given))
    for path, data in given.items():
        entry = next(m for m in state.description.maps.values() if m.from_name == path)
        np.testing.assert_array_equal(
            texture.decode("kept", workshop.store.files.get(entry.file)).values, texture.decode(path, data).values
        )
    assert state.description.relief_m == pytest.approx(0.05 * state.description.tile_m, rel=0.05)


def test_the_same_set_twice_is_one(workshop: Workshop) -> None:
    assert bring(workshop, p.files()) == bring(workshop, p.files())
    assert len(workshop.store.stock) == 1


def test_maps_of_unequal_size_are_kept_as_they_are_and_looked_up_at_one_size(workshop: Workshop) -> None:
    from elvatch.core.formats import png

    given = p.files() | {"mud_roughness.png": png.encode(p.whole(0.6 + 0.3 * p.relief(64)))}
    name = bring(workshop, given)
    maps = workshop.store.stock.state(name).description.maps
    assert (maps["roughness"].width_px, maps["colour"].width_px) == (64, 128)
    assert workshop.store.stock[name].size == 128


def test_replaced_files_are_followed_by_the_layers_that_use_the_set(workshop: Workshop) -> None:
    name = put_set(workshop.store, 0.1)
    land = plane(3)
    file = workshop.store.files.put(_npy(land.heights_m))
    laid = recipe((layer("base", 0).model_copy(update={"set": name}),)).model_copy(
        update={"ground": file_ground(land, file)}
    )
    view = View("near", 96, 64, 1, "colour")
    dark, _ = workshop.pictures.png(laid, view)
    shares = workshop.covers.facts(laid).densities
    given = {"pale_basecolor.png": p.files()["mud_basecolor.png"]}
    kept = bring(workshop, given, Into(name, 1), tile_m=2.0)
    assert kept == name
    light, _ = workshop.pictures.png(laid, view)
    assert dark != light
    assert workshop.covers.facts(laid).densities != shares
    state = workshop.store.stock.state(name)
    assert (state.description.title, state.undo) == ("Grey", "files replaced")
    workshop.store.stock.step(name, 2, -1)
    assert workshop.pictures.png(laid, view)[0] == dark


def _npy(values: np.ndarray) -> bytes:
    import io

    stream = io.BytesIO()
    np.save(stream, values)
    return stream.getvalue()


def test_mending_is_a_revision_with_figures_before_and_after(workshop: Workshop) -> None:
    cut = {path: _cropped(data) for path, data in p.files().items()}
    name = bring(workshop, cut)
    before = workshop.store.stock.state(name)
    after = workshop.sets.mend(name, 1, ask.Seamless(way="cut"))
    assert before.facts.seam > 3 > 1.5 > after.facts.seam
    assert after.description.tile_m == pytest.approx(before.description.tile_m * 0.85)
    assert "cut along" in after.description.maps["colour"].note
    assert after.undo == "made seamless, cut along the least difference"
    workshop.store.stock.step(name, 2, -1)
    assert workshop.store.stock.state(name).description == before.description


def _cropped(data: bytes) -> bytes:
    from elvatch.core.formats import png

    values = texture.decode("c", data).values[5:101, 9:105]
    return png.encode(values if values.shape[2] == 3 else values[..., 0])


def test_derived_maps_are_marked_and_others_keep_their_files(workshop: Workshop) -> None:
    name = bring(workshop, {path: data for path, data in p.files().items() if "ao" not in path})
    before = workshop.store.stock.state(name).description.maps
    maps = workshop.sets.mend(name, 1, ask.Derive(role="occlusion", source="height")).description.maps
    assert maps["occlusion"].origin == "derived"
    assert {role: maps[role] for role in before} == before


def test_what_fails_or_is_cancelled_leaves_nothing_behind(workshop: Workshop, tmp_path: Path) -> None:
    def files() -> int:
        return sum(1 for path in (tmp_path / "data/files").rglob("*") if path.is_file())

    given = p.files() | {"mud_metal.png": b"\x89PNG\r\n\x1a\n" + bytes(80)}
    decision = Decision(
        title="Mud",
        tile_m=1,
        relief_m=0.1,
        files=tuple(
            intake.FileDecision(
                path=path, meaning="height" if "height" in path else "metallic" if "metal" in path else "left-out"
            )
            for path in given
        ),
    )
    with pytest.raises(RefusalError, match="mud_metal"):
        workshop.sets.keep(decision, {path: (lambda d=data: d) for path, data in given.items()})  # type: ignore[misc]
    token = Token()
    token.cancel()
    with pytest.raises(CancelledError):
        workshop.sets.make("pebbles", 64, 1, run=Run(token))
    lost = Decision(title="Mud", tile_m=1, relief_m=0.1, files=(intake.FileDecision(path="../x", meaning="colour"),))
    with pytest.raises(RefusalError, match="no such file"):
        workshop.sets.keep(lost, {})
    assert (files(), len(workshop.store.stock)) == (0, 0)


def test_of_several_sets_all_are_kept_or_none(workshop: Workshop, tmp_path: Path) -> None:
    given = p.files()
    (guess,) = p.propose(given).sets
    good = intake.decide(guess)
    bad = Decision(
        title="Bad", tile_m=1, relief_m=0.1, files=(intake.FileDecision(path="mud_ao.png", meaning="normal"),)
    )
    files = {path: (lambda d=data: d) for path, data in given.items()}
    with pytest.raises(RefusalError, match="directions"):
        workshop.sets.keep_all((good, bad), files)
    assert len(workshop.store.stock) == 0
    assert not [path for path in (tmp_path / "data/files").rglob("*") if path.is_file()]
    twice = workshop.sets.keep_all((good, good.model_copy(update={"title": "Other"})), files)
    assert len(set(twice)) == len(workshop.store.stock) == 2


def test_a_made_set_is_made_anew_in_its_place(workshop: Workshop) -> None:
    name = workshop.sets.make("wet-silt", 64, 3)
    first = workshop.store.stock.state(name).description
    assert (first.made_by and first.made_by.seed, first.maps["height"].origin) == (3, "made")
    again = workshop.sets.make("wet-silt", 64, 4, {"ripples": 12.0}, into=Into(name, 1))
    state = workshop.store.stock.state(again)
    assert again == name
    assert state.description.made_by is not None
    assert state.description.made_by.controls == {"ripples": 12.0}
    assert state.description.maps["height"].file != first.maps["height"].file
    with pytest.raises(RefusalError, match="one of ripples, damp, grit"):
        workshop.sets.make("wet-silt", 64, 4, {"waves": 1})
    with pytest.raises(RefusalError, match="0 to 14 mm"):
        workshop.sets.make("wet-silt", 64, 4, {"ripples": 99})


def test_the_finest_pixel_of_a_stand_is_that_of_its_nearest_ground() -> None:
    from elvatch.core.document.recipe import Stand
    from elvatch.core.picture.sample import finest_pixel_m

    straight_down = Stand(bearing_deg=0, tilt_deg=89, distance_m=2, view_deg=5)
    # 2 m above level ground the lower edge is 2 m away too: 2 * 2 * tan(2.5 deg) metres over 720 pixels
    assert finest_pixel_m(straight_down) == pytest.approx(4 * np.tan(np.radians(2.5)) / 720, rel=0.01)
