"""Wear over the web: how it begins, what it says it does, overlays as they came, snapshots, what is refused."""

from __future__ import annotations

import io
import threading
from collections.abc import Callable
from concurrent.futures import ThreadPoolExecutor
from pathlib import Path
from typing import Any

import numpy as np
import pytest
import tifffile
from flask.testing import FlaskClient

from elvatch.app.workshop import Workshop
from elvatch.core.document import begin_sheet
from elvatch.core.refusal import RefusalError
from elvatch.core.stock import intake, overlays
from elvatch.core.stock.canonical import KeptMap
from elvatch.core.stock.description import SetDescription
from elvatch.core.stock.overlays import OVERLAYS
from elvatch.store.stock import Draft
from elvatch.web.app import create_app
from tests import decoded
from tests.conftest import put_set
from tests.web.test_api import new_site
from tests.web.test_cover_api import edited, picture


@pytest.fixture
def client(workshop: Workshop) -> FlaskClient:
    put_set(workshop.store, 0.3, "Ripples", 128, 2.0)
    return create_app(workshop).test_client()


@pytest.fixture
def site(client: FlaskClient, height_png: Callable[..., Path]) -> dict[str, Any]:
    return new_site(client, height_png())


def put_map(workshop: Workshop, role: str, values: np.ndarray, title: str) -> str:
    """Keep a set of one map as it stands; return its name."""
    kept = KeptMap(role, values, "")  # type: ignore[arg-type]
    maps = {kept.role: intake.entry(kept, workshop.store.files.put, "brought")}
    size = intake.LOOKUPS[values.shape[0]]
    description = SetDescription(
        title=title, category="overlay", tile_m=2.0, relief_m=0.01, lookup_px=size, maps=maps
    )
    facts = workshop.store.stock.state(workshop.store.stock.find("Ripples")).facts
    return workshop.store.stock.add(Draft(description, facts, b"\x89PNG swatch"), "brought in")


def begun(client: FlaskClient, site: dict[str, Any], of: str, name: str, status: int = 200) -> dict[str, Any]:
    answer = client.post("/api/wear/begin", json={"recipe": site["recipe"], "id": "wear1", "of": of, "name": name})
    assert answer.status_code == status, answer.get_json()
    found: dict[str, Any] = answer.get_json()
    return found


def told(client: FlaskClient, recipe: dict[str, Any], wear: int = 0) -> dict[str, Any]:
    answer = client.post("/api/wear/told", json={"recipe": recipe, "wear": wear})
    assert answer.status_code == 200, answer.get_json()
    found: dict[str, Any] = answer.get_json()
    return found


def test_every_kind_begins_timid_and_draws_something(client: FlaskClient, site: dict[str, Any]) -> None:
    kinds = client.get("/api/wear-kinds").get_json()
    assert [kind["what"] for kind in kinds] == list(OVERLAYS)
    site["recipe"]["marks"]["paths"] = [
        {"id": "lane", "name": "Lane", "points": [{"east_m": 100, "north_m": 100}, {"east_m": 300, "north_m": 200}]}
    ]
    for kind in kinds:
        wear = begun(client, site, "kind", kind["what"])
        strengths = [
            one["strength"] for one in wear["effects"].values() if isinstance(one, dict) and "strength" in one
        ]
        assert max(strengths, default=0.0) <= 0.4
        picture_of = decoded.of_bytes(client.get(f"/api/wear-kinds/{kind['what']}.png").data)
        assert picture_of.ndim == 2
        assert int(picture_of.max()) > 40, kind["what"]
    site["recipe"]["marks"]["paths"] = []
    refused = begun(client, site, "kind", "tyres", 422)
    assert "no path on this site" in refused["message"]
    assert "draw one with the path tool" in refused["message"]
    assert client.get("/api/wear-kinds/rust.png").status_code == 422


def test_the_readout_says_what_was_done_to_the_numbers(
    client: FlaskClient, site: dict[str, Any], workshop: Workshop
) -> None:
    half = np.zeros((64, 64), np.uint16)
    half[:, :32] = 65535
    name = put_map(workshop, "mask", half, "Half")
    wear = begun(client, site, "set", name)
    wear["effects"] = {
        "roughness": {"mode": "replace", "strength": 0.5, "towards": 0.2},
        "relief": {"way": "carve", "depth_mm": 30.0},
    }
    recipe = site["recipe"] | {"wears": [wear]}
    found = told(client, recipe)
    before, after = found["roughness"]
    assert after == pytest.approx(before + 0.5 * (0.2 - before), abs=0.02)
    assert found["share"] == pytest.approx(0.5, abs=0.03)
    assert found["reliefMm"] == pytest.approx(-30.0, rel=0.01)
    assert found["sentence"].startswith(f"roughness {before:.2f} to {after:.2f}, 30 mm deep on 5")
    assert found["limited"] is None
    wear["effects"]["relief"]["depth_mm"] = 400.0
    assert "400 mm is limited to 100 mm, the relief of Ripples" in told(client, recipe)["limited"]
    wear["effects"] = {"roughness": {"strength": 0.0}}
    assert told(client, recipe)["sentence"] == "changes nothing that could be seen on the ground"


def test_an_overlay_is_never_decoded_and_keeps_its_levels_to_a_16_bit_file(
    client: FlaskClient, site: dict[str, Any], workshop: Workshop
) -> None:
    """A ramp of 16 bits written onto roughness as it is: the codes in the file are the codes that came."""
    size = 1024
    ramp = np.tile((np.arange(size) * 64).astype(np.uint16), (size, 1))
    wear = begun(client, site, "set", put_map(workshop, "mask", ramp, "Ramp"))
    ground = site["recipe"]["ground"]
    wide = max(ground["width_m"], ground["depth_m"])
    wear["lie"] |= {"tile_m": wide}
    wear["effects"] = {"roughness": {"mode": "replace", "strength": 1.0, "towards": None}}
    recipe = site["recipe"] | {"wears": [wear]}
    recipe["sheets"] = [begin_sheet.plain(("roughness",), size, 16).model_dump(mode="json")]
    state = workshop.store.sites.state(edited(client, site, recipe)["id"])
    folder = Path(workshop.handoffs.write(state, "plain").path)
    written = decoded.of_file(next(folder.glob("*_roughness.png")))
    assert written.dtype == np.uint16
    row = written[len(written) // 2].astype(int)
    assert len(np.unique(row)) > 900
    # past the least roughness; half a texel aside where the tile begins
    inner = slice(size // 16, size - 4)
    assert np.abs(row[inner] - ramp[0, inner].astype(int)).max() <= 64


def test_what_an_overlay_is_like_is_recognised_and_said(
    client: FlaskClient, site: dict[str, Any], workshop: Workshop
) -> None:
    rng = np.random.default_rng(4)
    marks = rng.random((64, 64)) < 0.06
    dark = np.where(marks, 20, 230).astype(np.uint8)
    wear = begun(client, site, "set", put_map(workshop, "mask", dark, "Dark scratches"))
    assert wear["range"]["turned"] is True
    known = client.post("/api/overlay", json={"source": wear["source"]}).get_json()
    assert (known["darkOnLight"], known["levels"], sum(known["counts"])) == (True, 2, 64 * 64)
    light = put_map(workshop, "mask", 255 - dark, "Light scratches")
    assert begun(client, site, "set", light)["range"]["turned"] is False
    colour = np.repeat(dark[..., None], 3, axis=2)
    colour[..., 0] = 255
    source = {"kind": "stock", "set": put_map(workshop, "colour", colour, "Colour scratches")}
    assert "brightness is taken" in client.post("/api/overlay", json={"source": source}).get_json()["note"]
    shown = client.post("/api/overlay.png", json={"source": source, "px": 64})
    grey = decoded.of_bytes(shown.data)
    # brightness of the numbers as they are encoded, not of light
    np.testing.assert_allclose(grey, np.rint(0.2126 * 255 + 0.7874 * dark), atol=1)
    same = put_map(workshop, "mask", np.full((64, 64), 77, np.uint8), "Nothing on it")
    refused = begun(client, site, "set", same, 422)["message"]
    assert "the value 0.302 throughout" in refused
    assert "expected an overlay with marks" in refused


def test_wear_that_cannot_be_drawn_is_refused_before_it_is_stored(client: FlaskClient, site: dict[str, Any]) -> None:
    wear = begun(client, site, "kind", "cracks")
    for source, said in (
        ({"what": "rust"}, "'rust', expected one of smears"),
        ({"controls": {"width": 99}}, "99 mm"),
    ):
        recipe = site["recipe"] | {"wears": [wear | {"source": wear["source"] | source}]}
        sent = {"base": site["revision"], "label": "x", "recipe": recipe}
        answer = client.put(f"/api/sites/{site['id']}/recipe", json=sent)
        assert answer.status_code == 422
        assert said in answer.get_json()["message"]


def test_an_overlay_with_nan_is_refused_when_it_is_brought_in() -> None:
    values = np.full((64, 64), 0.5, np.float32)
    values[3, 3] = np.nan
    stream = io.BytesIO()
    tifffile.imwrite(stream, values)
    stream.seek(0)
    with pytest.raises(RefusalError, match="values that are not numbers, expected finite values"):
        intake.survey("scratches_mask.tif", stream.getvalue())


def test_wear_alone_is_shown_as_it_is_and_gloss_is_roughness_turned(
    client: FlaskClient, site: dict[str, Any], workshop: Workshop
) -> None:
    grey = np.full((64, 64), 255, np.uint8)
    grey[0, 0] = 0
    wear = begun(client, site, "set", put_map(workshop, "mask", grey, "Nearly all"))
    # nearly all of it is the surface by its histogram; here it is the mark
    assert wear["range"]["turned"] is True
    wear["range"]["turned"] = False
    wear["rule"] = {"clauses": [{"kind": "noise", "noise": "patches", "size_m": 40, "lower": 0.5, "soft_lower": 0}]}
    recipe = site["recipe"] | {"wears": [wear]}
    overlay = picture(client, recipe, mode="overlay", wear=0)
    ground = overlay[40:, :, 0]
    assert np.median(ground) >= 254
    mask = picture(client, recipe, mode="wear", wear=0)[40:, :, 0]
    assert 0.1 < (mask < 5).mean() < 0.9
    assert 0.1 < (mask > 250).mean() < 0.9
    rough, gloss = (picture(client, recipe, mode=mode) for mode in ("roughness", "gloss"))
    ground = picture(client, recipe, mode="occlusion").min(axis=2) > 200
    assert ground.mean() > 0.2
    # but for the pixels along its edges
    assert (np.abs((rough + gloss)[ground] - 255) <= 1).mean() > 0.95


def cracked(client: FlaskClient, site: dict[str, Any], spacing: float) -> dict[str, Any]:
    """The site under loud cracks, drawn by a number that nobody drew before."""
    wear = begun(client, site, "kind", "cracks")
    wear["source"]["controls"] = {"spacing": spacing}
    recipe: dict[str, Any] = site["recipe"] | {"wears": [wear]}
    return recipe


def overlay_near(client: FlaskClient, recipe: dict[str, Any], resting: bool) -> np.ndarray:
    return picture(client, recipe, stand="near", mode="overlay", wear=0, resting=resting)[..., 0]


def test_while_its_drawing_is_tuned_wear_is_drawn_small_and_in_full_when_that_rests(
    client: FlaskClient, site: dict[str, Any], workshop: Workshop
) -> None:
    recipe = cracked(client, site, 55.0)
    before = list(workshop.store.folder.glob("overlays/*"))
    quick = overlay_near(client, recipe, resting=False)
    assert list(workshop.store.folder.glob("overlays/*")) == before, "what is passed on the way is not kept"
    whole = overlay_near(client, recipe, resting=True)
    assert len(list(workshop.store.folder.glob("overlays/*"))) == len(before) + 1
    assert not np.array_equal(quick, overlay_near(client, recipe, resting=False)), "the whole one is there by now"
    ground = whole.shape[0] // 2
    assert np.corrcoef(quick[ground:].ravel(), whole[ground:].ravel())[0, 1] > 0.7
    small = client.post("/api/overlay.png", json={"source": recipe["wears"][0]["source"], "px": 64, "quick": True})
    assert small.status_code == 200


def test_a_newer_picture_stops_the_drawing_that_an_older_one_began(
    client: FlaskClient, site: dict[str, Any], workshop: Workshop, monkeypatch: pytest.MonkeyPatch
) -> None:
    begun_it, go_on = threading.Event(), threading.Event()
    draw = overlays.draw

    def slowly(*args: Any, **more: Any) -> np.ndarray:
        begun_it.set()
        assert go_on.wait(60)
        return draw(*args, **more)

    monkeypatch.setattr(overlays, "draw", slowly)
    ask = {"stand": "near", "width_px": 64, "height_px": 64}
    with ThreadPoolExecutor(1) as pool:
        older = pool.submit(client.post, "/api/picture", json={"recipe": cracked(client, site, 65.0), **ask})
        assert begun_it.wait(60)
        newer = client.application.test_client().post("/api/picture", json={"recipe": site["recipe"], **ask})
        go_on.set()
        assert newer.status_code == 200
        assert older.result(60).status_code == 410
    assert list(workshop.store.folder.glob("overlays/*")) == []


def test_kept_wear_comes_to_another_site_without_what_was_that_sites_own(
    client: FlaskClient, site: dict[str, Any]
) -> None:
    wear = begun(client, site, "kind", "cracks")
    wear["lie"]["tile_m"] = 1.25
    wear["rule"] = {
        "clauses": [
            {"kind": "noise", "size_m": 7},
            {"kind": "painted", "mask": "mask1", "called": "Paint"},
        ]
    }
    kept = client.post("/api/kept-wear", json={"name": "My hairlines", "wear": wear})
    assert kept.status_code == 201, kept.get_json()
    other = client.post(f"/api/sites/{site['id']}/duplicate").get_json()
    again = begun(client, other, "kept", kept.get_json()["id"])
    assert (again["name"], again["lie"]["tile_m"]) == ("My hairlines", 1.25)
    assert again["effects"] == wear["effects"]
    assert [clause["kind"] for clause in again["rule"]["clauses"]] == ["noise"]
    assert [one["name"] for one in client.get("/api/kept-wear").get_json()] == ["My hairlines"]
    client.delete(f"/api/kept-wear/{kept.get_json()['id']}")
    assert begun(client, other, "kept", kept.get_json()["id"], 422)["message"].startswith("kept wear: found none")


def test_a_snapshot_stays_as_it_was_whatever_becomes_of_the_history(
    client: FlaskClient, site: dict[str, Any]
) -> None:
    path = f"/api/sites/{site['id']}/snapshots"
    assert client.get(path).get_json() == []
    clean = site["recipe"]
    assert [one["name"] for one in client.post(path, json={"name": "Clean"}).get_json()] == ["Clean"]
    worn = edited(client, site, clean | {"wears": [begun(client, site, "kind", "smears")]})
    undone = client.post(f"/api/sites/{site['id']}/undo", json={"base": worn["revision"]}).get_json()
    edited(client, undone, undone["recipe"] | {"layers": []})
    (kept,) = client.get(path).get_json()
    assert client.get(f"{path}/{kept['id']}").get_json() == clean
    taken = client.post(path, json={"name": " Clean "})
    assert taken.status_code == 422
    assert "the name 'Clean', which is taken" in taken.get_json()["message"]
    assert client.delete(f"{path}/{kept['id']}").get_json() == []
    assert client.get(f"{path}/{kept['id']}").status_code == 422
