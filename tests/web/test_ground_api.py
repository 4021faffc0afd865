"""The ground over HTTP: files looked at, shaping as a job, maps and numbers of it."""

from __future__ import annotations

import copy
import io
import json
import math
import threading
import time
from typing import Any

import cv2
import numpy as np
import pytest
from flask.testing import FlaskClient

from elvatch.app import stages
from elvatch.app.workshop import Workshop
from elvatch.core.run import Run
from elvatch.web.app import create_app
from tests import decoded
from tests.conftest import put_set

FORM = {"kind": "form", "id": "form", "name": "Hills", "size_m": 150, "height_m": 60, "seed": 3}
SETTLE = {"kind": "settle", "id": "settle", "name": "Rest", "repose_deg": 20}
GROUND: dict[str, Any] = {
    "width_m": 400,
    "depth_m": 300,
    "source": {"kind": "flat", "samples": 129, "level_m": 100},
    "steps": [FORM, SETTLE],
}
POINT = {"east_m": 0, "north_m": 0, "level_m": 0}
FLAT = GROUND | {"steps": []}


def of_ground(ground: dict[str, Any]) -> dict[str, Any]:
    """A recipe of nothing but a ground."""
    return {"format": "elvatch-recipe", "version": 5, "ground": ground, "peg": {"east_m": 1, "north_m": 1}}


@pytest.fixture
def client(workshop: Workshop) -> FlaskClient:
    return create_app(workshop).test_client()


def post(client: FlaskClient, path: str, status: int = 200, **body: object) -> Any:
    answer = client.post(f"/api/{path}", json=body)
    assert answer.status_code == status, answer.get_json()
    return answer


def image(answer: Any) -> np.ndarray:
    return decoded.of_bytes(answer.data, cv2.IMREAD_COLOR)


def finished(client: FlaskClient, job: dict[str, Any]) -> dict[str, Any]:
    for _ in range(400):
        if job["state"] != "running":
            return job
        time.sleep(0.05)
        job = client.get(f"/api/jobs/{job['id']}").get_json()
    raise AssertionError(f"the job does not end: {job}")


def bring(client: FlaskClient, name: str, data: bytes) -> Any:
    return client.post("/api/heights", data={"file": (io.BytesIO(data), name)}, content_type="multipart/form-data")


def test_a_headerless_file_is_guessed_looked_at_and_becomes_a_site(client: FlaskClient) -> None:
    x, y = np.meshgrid(np.linspace(0, 5, 90), np.linspace(0, 4, 60))
    stored = (20000 * np.sin(x) * np.cos(y)).astype(">i2")
    facts = bring(client, "hill.r16", stored.tobytes()).get_json()
    assert (facts["format"], facts["cols"], facts["rows"]) == ("RAW", 90, 60)
    best = facts["guesses"][0]
    assert best["raw"]["big_endian"] is True
    assert best["confidence"] > 0.5
    look = {"file": facts["file"], "file_name": "hill.r16", "reading": {"raw": best["raw"], "quarter_turns": 1}}
    seen = post(client, "heights/look", **look, width_m=590, depth_m=890, lowest_m=0, highest_m=100).get_json()
    assert (seen["cols"], seen["rows"]) == (60, 90)
    assert 10 < seen["steepestDeg"] < 60
    assert 0 < seen["meanDeg"] < seen["steepestDeg"]
    upright, flat = (
        image(post(client, "heights/relief", **look | {"reading": {"raw": best["raw"], "quarter_turns": turns}}))
        for turns in (0, 1)
    )
    assert upright.shape[:2] == flat.shape[:2][::-1]
    assert upright.std() > 3
    source = {"kind": "file", "lowest_m": 0, "highest_m": 100, **look}
    made = client.post(
        "/api/sites", json={"title": "H", "ground": {"width_m": 590, "depth_m": 890, "source": source}}
    )
    assert made.status_code == 201
    assert made.get_json()["recipe"]["ground"]["source"]["reading"]["quarter_turns"] == 1


@pytest.mark.parametrize(
    ("name", "data", "message"),
    [
        ("x.raw", b"y" * 1009, "fit no plausible size"),
        ("x.exr", b"\x76\x2f\x31\x01 and no more", "damaged EXR"),
        ("x.asc", b"ncols 9\nnrows 9\n1 2 3", "bytes of numbers"),
        ("x.txt", b"only words", "no PNG, TIFF, EXR"),
    ],
)
def test_files_that_cannot_be_read_leave_nothing_behind(
    client: FlaskClient, workshop: Workshop, name: str, data: bytes, message: str
) -> None:
    answer = bring(client, name, data)
    assert answer.status_code == 422
    assert message in answer.get_json()["message"]
    assert [path for path in (workshop.store.folder / "files").rglob("*") if path.is_file()] == []


def test_shaping_is_a_job_and_facts_are_of_what_came_out(client: FlaskClient) -> None:
    job = finished(client, post(client, "ground/shape", 202, ground=GROUND).get_json())
    assert (job["state"], job["shareDone"]) == ("done", 1.0)
    facts = post(client, "ground/facts", ground=GROUND).get_json()
    assert (facts["cols"], facts["rows"]) == (129, 97)
    assert facts["steepestDeg"] < 24
    assert facts["left"] is True
    preview = post(
        client, "ground/facts", ground=GROUND | {"source": {"kind": "flat", "samples": 1025}}, preview=True
    )
    assert preview.get_json()["cols"] == 257


def test_a_shaped_ground_is_there_again_after_a_restart(workshop: Workshop, monkeypatch: pytest.MonkeyPatch) -> None:
    from elvatch.core.document.recipe import ground_from_data
    from elvatch.core.ground import shaping

    monkeypatch.setattr(stages, "_DEAR_S", math.inf)  # on a slow machine its steps would lie on disk by themselves
    described = ground_from_data(GROUND)
    first = workshop.grounds.shaped(described)
    monkeypatch.setattr(shaping, "shape", lambda *_: pytest.fail("it was shaped again"))
    again = Workshop(workshop.store).grounds.shaped(described)
    np.testing.assert_array_equal(again.ground.heights_m, first.ground.heights_m)
    assert again.traces is not None
    assert first.traces is not None
    np.testing.assert_array_equal(again.traces.dropped_m, first.traces.dropped_m)
    [kept] = (workshop.store.folder / "made").glob("*.arrays")
    kept.write_bytes(kept.read_bytes()[:999])
    monkeypatch.undo()
    whole = Workshop(workshop.store).grounds.shaped(described)
    np.testing.assert_array_equal(whole.ground.heights_m, first.ground.heights_m, "a damaged file is made anew")


def test_a_cancelled_shaping_keeps_nothing_under_its_name(
    client: FlaskClient, workshop: Workshop, monkeypatch: pytest.MonkeyPatch
) -> None:
    monkeypatch.setattr(stages, "_DEAR_S", math.inf)  # what it finished of its steps may lie on disk
    # far longer than anybody takes to cancel it, on a machine that does other things as well
    slow = GROUND | {
        "source": GROUND["source"] | {"samples": 1025},
        "steps": [FORM, {"kind": "runoff", "id": "rain", "name": "Rain", "rounds": 5000}],
    }
    job = post(client, "ground/shape", 202, ground=slow).get_json()
    for _ in range(200):
        job = client.get(f"/api/jobs/{job['id']}").get_json()
        if job["shareDone"] > 0.0:
            break
        time.sleep(0.02)
    assert job["secondsLeft"] is None or job["secondsLeft"] > 0
    client.delete(f"/api/jobs/{job['id']}")
    assert finished(client, job)["state"] == "cancelled"
    assert not list((workshop.store.folder / "made").glob("*"))
    assert client.get("/api/sites").status_code == 200


def test_the_map_shows_relief_or_a_measure_with_its_limits(client: FlaskClient) -> None:
    size = {"width_px": 120, "height_px": 90}
    plain = post(client, "ground/map", recipe=of_ground(GROUND), **size, contour_m=5)
    assert "X-Shown" not in plain.headers
    assert image(plain).shape == (90, 120, 3)
    steep = post(client, "ground/map", recipe=of_ground(GROUND), **size, measure="slope")
    low, high = (float(v) for v in steep.headers["X-Shown"].split(","))
    assert 0 <= low < high < 24
    assert np.abs(image(steep).astype(int) - image(plain)).mean() > 5
    about: dict[str, Any] = {"recipe": of_ground(GROUND), "measure": "relative-height", **size}
    near, wide = (image(post(client, "ground/map", **about, radius_m=r)) for r in (8, 60))
    assert np.abs(near.astype(int) - wide).mean() > 2
    level = image(post(client, "ground/map", recipe=of_ground(FLAT), **size, contour_m=5)).astype(int)
    assert np.ptp(level, axis=(0, 1)).max() <= 2, "a slab is drawn, and plain"


def test_histogram_cut_and_place(client: FlaskClient) -> None:
    found = post(client, "ground/histogram", ground=GROUND, measure="elevation").get_json()
    assert sum(found["counts"]) == 129 * 97
    assert found["low"] < found["mean"] < found["high"]
    cut = post(client, "ground/cut", ground=GROUND, start=[0, 150], end=[400, 150]).get_json()
    assert cut["distanceM"][-1] == 400
    here = post(client, "ground/at", ground=GROUND, east_m=400, north_m=150, measure="slope").get_json()
    assert here["elevationM"] == pytest.approx(cut["elevationM"][-1], abs=0.01)
    assert 0 <= here["value"] < 24
    assert post(client, "ground/at", ground=GROUND, east_m=-50, north_m=1e6).get_json()["value"] is None


def test_measures_are_named_with_units_and_ramps(client: FlaskClient) -> None:
    kinds = {one["name"]: one for one in client.get("/api/measures").get_json()["measures"]}
    assert len(kinds) == 16
    assert kinds["drainage"]["unit"] == "m²"
    for kind in kinds.values():
        strip = image(client.get(f"/api/ramps/{kind['scale'].replace(' ', '-')}.png"))
        assert strip.shape == (9, 256, 3)
    assert client.get("/api/ramps/rainbow.png").status_code == 422


@pytest.mark.parametrize(
    ("change", "message"),
    [
        ({"width_m": -1}, "width_m"),
        ({"steps": [FORM, FORM]}, "the same id"),
        ({"steps": [FORM | {"size_m": 0}]}, "size_m"),
        ({"steps": [FORM | {"height_m": float("nan")}]}, "finite"),
        ({"steps": [{"kind": "magic", "id": "magic", "name": "x"}]}, "kind"),
        ({"source": {"kind": "flat", "samples": 100_000}}, "samples"),
        ({"source": {"kind": "file", "file": "f" * 40, "file_name": "x", "lowest_m": 0, "highest_m": 1}}, "no file"),
        ({"steps": [{"kind": "course", "id": "line", "name": "x", "points": [POINT]}]}, "points"),
    ],
)
def test_an_impossible_ground_is_refused_in_words(
    client: FlaskClient, change: dict[str, object], message: str
) -> None:
    answer = client.post(
        "/api/ground/facts", data=json.dumps({"ground": GROUND | change}), content_type="application/json"
    )
    assert answer.status_code in (400, 422)
    assert message in answer.get_json()["message"]


def test_a_picture_of_a_measure_is_not_that_of_the_cover(client: FlaskClient, workshop: Workshop) -> None:
    site = client.post("/api/sites", json={"title": "Hills", "ground": GROUND}).get_json()
    ask = {"recipe": site["recipe"], "stand": "far", "width_px": 80, "height_px": 60}
    plain, worn, preview = (
        image(post(client, "picture", **ask, **more)) for more in ({}, {"measure": "dropped"}, {"preview": True})
    )
    assert np.abs(plain.astype(int) - worn).mean() > 2
    assert np.abs(plain.astype(int) - preview).mean() < 12


def test_two_who_want_the_same_ground_share_one_making(workshop: Workshop, monkeypatch: pytest.MonkeyPatch) -> None:
    from elvatch.core.document.recipe import ground_from_data
    from elvatch.core.ground import shaping

    made, shape = [], shaping.shape

    def counted(*asked: Any) -> Any:
        made.append(1)
        return shape(*asked)

    monkeypatch.setattr(shaping, "shape", counted)
    described = ground_from_data(GROUND)
    threads = [threading.Thread(target=workshop.grounds.land, args=(described, None, Run())) for _ in range(4)]
    for thread in threads:
        thread.start()
    for thread in threads:
        thread.join()
    assert made == [1]


def jpeg(pixels: np.ndarray) -> bytes:
    return cv2.imencode(".jpg", pixels[..., ::-1])[1].tobytes()


def test_a_colour_image_is_looked_at_on_the_ground_and_colours_a_layer(
    client: FlaskClient, workshop: Workshop
) -> None:
    pixels = np.zeros((80, 120, 3), np.uint8)
    pixels[:, :60, 1], pixels[:, 60:, 0] = 200, 200
    brought = client.post(
        "/api/ground/image",
        data={"file": (io.BytesIO(jpeg(pixels)), "over it.jpg")},
        content_type="multipart/form-data",
    ).get_json()
    assert (brought["widthPx"], brought["heightPx"]) == (120, 80)
    over = FLAT | {"picture": {"file": brought["file"], "file_name": brought["fileName"]}}
    shown = image(
        post(client, "ground/map", recipe=of_ground(over), width_px=120, height_px=90, measure="image")
    ).astype(int)
    assert shown[45, 20, 1] > shown[45, 20, 2] + 80
    assert shown[45, 100, 2] > shown[45, 100, 1] + 80
    put_set(workshop.store)
    site = client.post("/api/sites", json={"title": "Hills", "ground": over}).get_json()
    ask = {"recipe": site["recipe"], "stand": "far", "width_px": 90, "height_px": 60, "mode": "colour"}
    plain = image(post(client, "picture", **ask)).astype(int)
    site["recipe"]["layers"][0]["look"]["ground_image"] = 1
    coloured = image(post(client, "picture", **ask)).astype(int)
    assert np.abs(plain - coloured).max() > 60
    workshop.tidy()
    assert workshop.store.files.get(brought["file"]), "an image that a site uses is kept"
    post(client, "ground/map", 422, recipe=of_ground(FLAT), width_px=90, height_px=60, measure="image")


@pytest.mark.parametrize(
    ("data", "message"),
    [(b"", "an empty file"), (b"no image", "damaged or unknown image"), (b"\x89PNG\r\n\x1a\n", "damaged or unknown")],
)
def test_what_is_no_colour_image_is_refused(
    client: FlaskClient, workshop: Workshop, data: bytes, message: str
) -> None:
    answer = client.post(
        "/api/ground/image", data={"file": (io.BytesIO(data), "x.png")}, content_type="multipart/form-data"
    )
    assert answer.status_code == 422
    assert message in answer.get_json()["message"]
    assert [path for path in (workshop.store.folder / "files").rglob("*") if path.is_file()] == []


@pytest.mark.parametrize(
    ("reading", "message"),
    [
        ({"raw": {"width": 20_000, "height": 20_000, "samples": "f32"}}, "samples, expected at most"),
        ({"raw": {"width": 500, "height": 500}}, "bytes, expected 500000 for 500 x 500"),
        ({"raw": {"width": 0, "height": 10}}, "width"),
        ({"raw": {"width": 10, "height": 10, "samples": "u64"}}, "samples"),
        ({"quarter_turns": 9}, "quarter_turns"),
        ({"page": -1}, "page"),
        ({"surprise": 1}, "surprise"),
    ],
)
def test_a_hostile_reading_is_refused_in_words(client: FlaskClient, reading: dict[str, object], message: str) -> None:
    x, y = np.meshgrid(np.linspace(0, 5, 64), np.linspace(0, 4, 64))
    stored = bring(client, "h.raw", (9000 * np.sin(x) * np.cos(y)).astype("<i2").tobytes()).get_json()["file"]
    for path in ("heights/look", "heights/relief"):
        answer = client.post(f"/api/{path}", json={"file": stored, "file_name": "h.raw", "reading": reading})
        assert answer.status_code in (400, 422), path
        assert message in answer.get_json()["message"], path


@pytest.mark.parametrize("name", ["../../etc/passwd", "f" * 40, "F" * 40, ""])
def test_a_file_is_only_found_by_its_content_name(client: FlaskClient, name: str) -> None:
    for path in ("heights/look", "heights/relief"):
        answer = client.post(f"/api/{path}", json={"file": name, "file_name": "h.raw"})
        assert answer.status_code in (400, 422)
    over = FLAT | {"picture": {"file": name, "file_name": "x.png"}}
    answer = client.post(
        "/api/ground/map", json={"recipe": of_ground(over), "width_px": 64, "height_px": 64, "measure": "image"}
    )
    assert answer.status_code in (400, 422)


@pytest.mark.parametrize(
    "change",
    [
        {"width_px": 5},
        {"width_px": 10**9},
        {"contour_m": -1},
        {"measure": "magic"},
        {"radius_m": 0},
        {"radius_m": 1e9},
    ],
)
def test_a_hostile_map_is_refused(client: FlaskClient, change: dict[str, object]) -> None:
    asked = {"recipe": of_ground(FLAT), "width_px": 64, "height_px": 64} | change
    answer = client.post("/api/ground/map", json=asked)
    assert answer.status_code == 400
    assert next(iter(change)) in answer.get_json()["message"]


def test_amounts_at_their_limits_end_in_ground_or_in_words(client: FlaskClient) -> None:
    tall = FORM | {"height_m": 10_000, "size_m": 1, "detail": 12, "roughness": 1}
    steps = {
        "settle": {"kind": "settle", "id": "one1", "name": "x", "repose_deg": 2},
        "runoff": {"kind": "runoff", "id": "one1", "name": "x", "rounds": 30, "rain": 1, "carry": 1, "softness": 1},
        "rivers": {"kind": "rivers", "id": "one1", "name": "x", "rounds": 2, "cut": 1, "creep_m": 500},
        "warp": {"kind": "warp", "id": "one1", "name": "x", "amount_m": 5000, "size_m": 0.01},
        "terrace": {"kind": "terrace", "id": "one1", "name": "x", "spacing_m": 1e-6},
        "ridges": {"kind": "ridges", "id": "one1", "name": "x", "radius_m": 1e-6},
        "smooth": {"kind": "smooth", "id": "one1", "name": "x", "radius_m": 5000},
        "course": {"kind": "course", "id": "one1", "name": "x", "points": [POINT, POINT]},
    }
    for name, step in steps.items():
        small = GROUND | {"source": {"kind": "flat", "samples": 65}, "steps": [tall, step]}
        facts = post(client, "ground/facts", ground=small).get_json()
        assert np.isfinite([facts["lowestM"], facts["highestM"], facts["steepestDeg"]]).all(), name
        assert facts["lowestM"] <= facts["highestM"], name


def test_while_a_step_is_under_the_hand_what_later_steps_add_is_carried_along(client: FlaskClient) -> None:
    lift = {"kind": "form", "id": "lift1", "name": "Hill", "height_m": 30, "size_m": 90}
    late = {"kind": "terrace", "id": "late1", "name": "Ledges", "spacing_m": 4}
    made = client.post("/api/sites", json={"title": "Moved", "ground": FLAT | {"steps": [lift, late]}}).get_json()
    moved = copy.deepcopy(made["recipe"])
    moved["ground"]["steps"][0]["height_m"] = 31
    changes = [{"at": ["ground", "steps", 0, "height_m"], "put": 31}]
    told = {"base": {"site": made["id"], "revision": made["revision"], "changes": changes}}
    size = {"width_px": 120, "height_px": 90, "preview": True}

    def shown(recipe: dict[str, Any], **more: bool) -> np.ndarray:
        asked: dict[str, Any] = {**size, **more}
        return image(post(client, "ground/map", recipe=recipe, **asked)).astype(int)

    held, true, before = shown(told, moving=True), shown(moved), shown(made["recipe"])
    # nearer to what it will be than what was, and at rest the same as asked from nothing
    assert 0 < np.abs(held - true).mean() < 0.9 * np.abs(before - true).mean()
    np.testing.assert_array_equal(shown(told), true)
    # the last step has none after it: it is shown as it will be
    last = [{"at": ["ground", "steps", 1, "spacing_m"], "put": 6}]
    moved = copy.deepcopy(made["recipe"])
    moved["ground"]["steps"][1]["spacing_m"] = 6
    told = {"base": {"site": made["id"], "revision": made["revision"], "changes": last}}
    assert np.abs(shown(told, moving=True) - shown(moved)).mean() < 3
