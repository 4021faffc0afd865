"""The web layer: what goes in, what comes out, who may ask."""

from __future__ import annotations

import copy
import io
import json
import shutil
import threading
import time
from collections.abc import Callable
from pathlib import Path
from typing import Any

import cv2
import numpy as np
import pytest
from flask.testing import FlaskClient

from elvatch.app.pictures import Pictures
from elvatch.app.workshop import Workshop
from elvatch.core.document import begin_sheet
from elvatch.core.refusal import CancelledError
from elvatch.core.run import Run
from elvatch.web.app import create_app
from elvatch.web.jobs import Jobs, Latest
from tests import decoded
from tests.conftest import put_set


@pytest.fixture
def client(workshop: Workshop) -> FlaskClient:
    put_set(workshop.store)
    return create_app(workshop).test_client()


@pytest.fixture
def site(client: FlaskClient, height_png: Callable[..., Path]) -> dict[str, Any]:
    return new_site(client, height_png())


def bring(client: FlaskClient, data: bytes, name: str = "hills.png") -> Any:
    return client.post("/api/heights", data={"file": (io.BytesIO(data), name)}, content_type="multipart/form-data")


def wanted_site(stored: str, **parts: Any) -> dict[str, Any]:
    """A request for a site from a stored file; ``parts`` go where they belong."""
    source = {"kind": "file", "file": stored, "file_name": "hills.png", "lowest_m": 10, "highest_m": 90}
    size = {"width_m": 600, "depth_m": 600}
    title = parts.pop("title", "Hills")
    source |= {key: value for key, value in parts.items() if key in source}
    size |= {key: value for key, value in parts.items() if key in size}
    return {"title": title, "ground": {**size, "source": source}}


def new_site(client: FlaskClient, path: Path, **parts: object) -> dict[str, Any]:
    facts = bring(client, path.read_bytes()).get_json()
    answer = client.post("/api/sites", json=wanted_site(facts["file"], **parts))
    assert answer.status_code == 201, answer.get_json()
    made: dict[str, Any] = answer.get_json()
    return made


def picture(client: FlaskClient, recipe: dict[str, Any], **parts: object) -> np.ndarray:
    wanted = {"recipe": recipe, "stand": "far", "width_px": 80, "height_px": 60} | parts
    answer = client.post("/api/picture", json=wanted)
    assert answer.status_code == 200, answer.get_json()
    assert answer.mimetype == "image/png"
    return decoded.of_bytes(answer.data, cv2.IMREAD_COLOR)


def test_a_site_from_a_file_has_a_ground_a_layer_and_a_picture(client: FlaskClient, site: dict[str, Any]) -> None:
    assert site["recipe"]["ground"]["width_m"] == 600
    assert [layer["name"] for layer in site["recipe"]["layers"]] == ["Grey"]
    assert client.get("/api/sites").get_json()["sites"][0]["title"] == "Hills"
    shown = picture(client, site["recipe"])
    assert shown.shape == (60, 80, 3)
    assert shown.std() > 10
    far = client.get(f"/api/sites/{site['id']}/far.png")
    assert far.data.startswith(b"\x89PNG")


def test_facts_of_a_height_file_are_told_before_anything_is_made(
    client: FlaskClient, height_png: Callable[..., Path]
) -> None:
    facts = bring(client, height_png().read_bytes(), "../../some where/ hi  lls.png").get_json()
    assert (facts["format"], facts["bits"], facts["cols"], facts["rows"]) == ("PNG", 16, 129, 129)
    assert facts["fileName"] == "hi lls.png"
    assert client.get("/api/sites").get_json()["sites"] == []


@pytest.mark.parametrize("data", [b"", b"not a picture"])
def test_a_refused_upload_leaves_nothing(client: FlaskClient, workshop: Workshop, data: bytes) -> None:
    answer = bring(client, data, "hill.png")
    assert answer.status_code == 422
    assert answer.get_json()["message"].startswith("hill.png: found ")
    assert not list((workshop.store.folder / "files").rglob("*.png"))
    with workshop.store.database.reading() as db:
        assert db.execute("select count(*) from file where bytes = ?", (len(data),)).fetchone()[0] == 0


def test_a_data_folder_that_can_no_longer_be_written_is_said(
    client: FlaskClient, workshop: Workshop, height_png: Callable[..., Path]
) -> None:
    folder = workshop.store.folder / "files"
    shutil.rmtree(folder)
    folder.write_text("in the way")
    answer = bring(client, height_png().read_bytes())
    assert answer.status_code == 422
    assert "expected room and permission to write" in answer.get_json()["message"]


@pytest.mark.parametrize(
    "parts",
    [
        {"width_m": -5},
        {"width_m": 0},
        {"depth_m": 1e9},
        {"lowest_m": 90, "highest_m": 10},
        {"title": " "},
        {"file": "f" * 40},
        {"file": "../../etc/passwd"},
    ],
)
def test_an_impossible_site_is_refused(
    client: FlaskClient, height_png: Callable[..., Path], parts: dict[str, object]
) -> None:
    facts = bring(client, height_png().read_bytes()).get_json()
    answer = client.post("/api/sites", json=wanted_site(facts["file"], **parts))
    assert 400 <= answer.status_code < 500
    assert "found" in answer.get_json()["message"]
    assert client.get("/api/sites").get_json()["sites"] == []


def test_edit_undo_redo_and_conflict(client: FlaskClient, site: dict[str, Any]) -> None:
    url, recipe = f"/api/sites/{site['id']}", site["recipe"]
    brighter = json.loads(json.dumps(recipe))
    brighter["layers"][0]["look"]["brightness"] = 2
    edited = client.put(f"{url}/recipe", json={"base": 1, "label": "brighter", "recipe": brighter}).get_json()
    assert (edited["revision"], edited["undo"]) == (2, "brighter")
    late = client.put(f"{url}/recipe", json={"base": 1, "label": "late", "recipe": recipe})
    assert late.status_code == 409
    assert late.get_json()["state"]["recipe"] == brighter
    undone = client.post(f"{url}/undo", json={"base": 2}).get_json()
    assert (undone["recipe"], undone["redo"]) == (recipe, "brighter")
    assert client.post(f"{url}/redo", json={"base": 1}).get_json()["recipe"] == brighter
    assert picture(client, brighter).mean() > picture(client, recipe).mean() + 5


def test_renaming_copying_and_removing(client: FlaskClient, site: dict[str, Any]) -> None:
    url = f"/api/sites/{site['id']}"
    assert client.put(f"{url}/title", json={"title": "  New   name "}).get_json()["title"] == "New name"
    copy = client.post(f"{url}/duplicate").get_json()
    assert copy["recipe"] == site["recipe"]
    assert client.delete(url).status_code == 200
    assert [s["title"] for s in client.get("/api/sites").get_json()["sites"]] == ["New name, copy"]
    assert client.get(url).status_code == 422


def test_facts_of_the_cover_and_why_a_layer_covers_nothing(client: FlaskClient, site: dict[str, Any]) -> None:
    recipe = json.loads(json.dumps(site["recipe"]))
    cliff = json.loads(json.dumps(recipe["layers"][0]))
    cliff |= {"id": "cliff", "name": "Cliff"}
    cliff["rule"]["clauses"] = [{"kind": "measure", "measure": "slope", "unit": "°", "lower": 88}]
    recipe["layers"].append(cliff)
    facts = client.post("/api/cover-facts", json={"recipe": recipe}).get_json()
    assert facts["shares"] == pytest.approx([1, 0])
    assert facts["reasons"] == [None, "nothing here is steeper than 88°"]
    chart = client.post("/api/where-chart", json={"recipe": recipe}).get_json()
    assert sum(map(sum, chart["counts"])) == 129 * 129
    cut = client.post("/api/transect", json={"recipe": recipe}).get_json()
    assert cut["pegAtM"] == pytest.approx(300)
    assert cut["distanceM"][-1] == pytest.approx(600)
    assert min(cut["elevationM"]) >= 10 - 1e-3


def test_a_spot_in_a_picture_is_the_place_on_the_ground(client: FlaskClient, site: dict[str, Any]) -> None:
    recipe = site["recipe"]
    ask = {"recipe": recipe, "stand": "far", "width_px": 80, "height_px": 60}
    answer = client.post("/api/picture", json=ask)
    across, down = (float(v) for v in answer.headers["X-Peg"].split(","))
    spot = client.post("/api/spot", json=ask | {"across": across, "down": down}).get_json()["spot"]
    assert (spot["eastM"], spot["northM"]) == pytest.approx((300, 300), abs=2)
    assert client.post("/api/spot", json=ask | {"across": 0.5, "down": 0.0}).get_json()["spot"] is None


@pytest.mark.parametrize("headers", [{"Host": "evil.test"}, {"Host": "127.0.0.1.evil.test:80"}, {"Host": ""}])
def test_a_foreign_host_is_refused_everywhere(client: FlaskClient, headers: dict[str, str]) -> None:
    for url in ("/", "/api/sites"):
        assert client.get(url, headers=headers).status_code in (400, 403)


def test_a_foreign_origin_may_not_write(client: FlaskClient, site: dict[str, Any]) -> None:
    rules = [r for r in client.application.url_map.iter_rules() if (r.methods or set()) & {"POST", "PUT", "DELETE"}]
    assert len(rules) > 10
    for rule in rules:
        url = rule.build(dict.fromkeys(rule.arguments, "abc"))[1]  # type: ignore[index]
        for method in (rule.methods or set()) & {"POST", "PUT", "DELETE"}:
            for origin in ("http://evil.test", "null", "http://localhost:1"):
                answer = client.open(url, method=method, headers={"Origin": origin}, json={})
                assert answer.status_code == 403, f"{method} {url} from {origin}"
    own = client.post("/api/cover-facts", headers={"Origin": "http://localhost"}, json={"recipe": site["recipe"]})
    assert own.status_code == 200


def test_every_answer_carries_a_strict_policy(client: FlaskClient) -> None:
    for url in ("/api/sites", "/api/nowhere"):
        policy = client.get(url).headers["Content-Security-Policy"]
        assert "default-src 'none'" in policy
        assert "unsafe" not in policy
        assert "http" not in policy


@pytest.mark.parametrize(
    ("url", "body", "status"),
    [
        ("/api/picture", b"{", 400),
        ("/api/picture", b"{}", 400),
        ("/api/picture", b'{"recipe": {}, "stand": "far", "width_px": 80, "height_px": 60}', 422),
        ("/api/picture", b'{"recipe": {}, "stand": "far", "width_px": 80000, "height_px": 60}', 400),
        ("/api/cover-facts", b'{"recipe": ' + b"[" * 5000 + b"]" * 5000 + b"}", 400),
        ("/api/sites", b"null", 400),
        ("/api/nowhere", b"{}", 404),
    ],
)
def test_malformed_requests_get_a_sentence(client: FlaskClient, url: str, body: bytes, status: int) -> None:
    answer = client.post(url, data=body, content_type="application/json")
    assert answer.status_code == status
    assert answer.get_json()["message"]


@pytest.mark.parametrize(
    "url",
    [
        "/assets/../app.py",
        "/assets/%2e%2e/app.py",
        "/api/handed-off/../elvatch.sqlite",
        "/api/handed-off/%2e%2e/elvatch.sqlite",
        "/api/sets/../../x/swatch.png",
    ],
)
def test_no_path_leaves_its_folder(client: FlaskClient, url: str) -> None:
    assert client.get(url).status_code in (404, 405, 422)


def test_maps_are_written_as_a_job(client: FlaskClient, site: dict[str, Any], workshop: Workshop) -> None:
    recipe = json.loads(json.dumps(site["recipe"]))
    recipe["sheets"] = [begin_sheet.plain(("colour", "roughness"), 64).model_dump(mode="json")]
    url = f"/api/sites/{site['id']}"
    client.put(f"{url}/recipe", json={"base": 1, "label": "small", "recipe": recipe})
    sheet = client.post(f"{url}/sheet", json={"recipe": recipe, "sheet": "plain"}).get_json()["entries"]
    job = client.post(f"{url}/bakes", json={"sheet": "plain"}).get_json()
    for _ in range(1200):
        job = client.get(f"/api/jobs/{job['id']}").get_json()
        if job["state"] != "running":
            break
        time.sleep(0.05)
    assert job["state"] == "done", job
    names = [f["name"] for f in job["result"]["files"]]
    assert names == [f["name"] for f in sheet]
    answer = client.get(f"/api/handed-off/{job['result']['folder']}/{names[0]}")
    assert decoded.of_bytes(answer.data, cv2.IMREAD_COLOR).shape == (64, 64, 3)
    assert client.post(f"{url}/bakes", json={}, headers={"Origin": "http://x"}).status_code == 403


def test_sheets_are_kept_for_other_sites_and_checked(client: FlaskClient) -> None:
    ready = client.get("/api/sheets").get_json()["ready"]
    mine = ready[1] | {"name": "Mine"}
    assert client.post("/api/sheets", json={"sheet": mine}).get_json()["kept"] == [mine]
    assert client.post("/api/sheets", json={"sheet": mine | {"entries": []}}).get_json()["kept"] == [
        mine | {"entries": []}
    ]
    wrong = client.post("/api/sheets", json={"sheet": mine | {"fine": {"by": "feet", "value": 1}}})
    assert (wrong.status_code, "fine" in wrong.get_json()["message"]) == (422, True)
    assert client.delete("/api/sheets", json={"name": "Mine"}).get_json()["kept"] == []


def test_what_landed_says_what_has_changed_since(
    client: FlaskClient, site: dict[str, Any], workshop: Workshop
) -> None:
    url, state = f"/api/sites/{site['id']}", workshop.store.sites.state(site["id"])
    recipe = site["recipe"] | {"sheets": [begin_sheet.plain(("roughness",), 32).model_dump(mode="json")]}
    client.put(f"{url}/recipe", json={"base": 1, "label": "small", "recipe": recipe})
    state = workshop.store.sites.state(site["id"])
    folder = workshop.handoffs.write(state, "plain").folder

    def since(**change: object) -> str:
        base = client.get(url).get_json()
        edit = {"base": base["revision"], "label": "x", "recipe": base["recipe"] | change}
        assert client.put(f"{url}/recipe", json=edit).status_code == 200
        (one,) = client.get(f"{url}/landed").get_json()["landed"]
        return str(one["since"])

    assert since(light=recipe["light"] | {"sun_height_deg": 20.0}) == "as it is", "light is not handed off"
    assert since(sheets=[recipe["sheets"][0] | {"fine": {"by": "pixels", "value": 64}}]) == "sheet changed"
    assert since(layers=[]) == "site changed"
    (looked_into,) = (
        file.name for file in workshop.handoffs.landed(workshop.store.sites.state(site["id"])).landed[0].files
    )
    looked = client.post(f"/api/handed-off/{folder}/look", json={"file": looked_into, "columns": 8, "rows": 4})
    assert (looked.get_json()["columns"], looked.get_json()["rows"]) == (8, 4)
    gone = client.post(f"/api/handed-off/{folder}/look", json={"file": "../../elvatch.sqlite"})
    assert gone.status_code == 422
    assert client.get(f"/api/handed-off/{folder}").data[:2] == b"PK"
    assert client.delete(f"{url}/landed/{folder}").get_json()["landed"] == []
    assert not (workshop.handoffs.folder / folder).exists()


def test_jobs_tell_how_long_is_left_and_cancel() -> None:
    jobs = Jobs()
    begun, stop = threading.Event(), threading.Event()

    def work(run: Run) -> None:
        time.sleep(0.4)
        run.progress(0.25)
        begun.set()
        while not stop.wait(0.01):
            run.token.check()

    job = jobs.start("slow", work)
    assert begun.wait(20)
    left = job.seconds_left
    # a quarter is done: three times what it took, which is however long the machine took for 0.4 s
    assert left is not None
    assert 3 * 0.4 <= left <= 3 * (time.monotonic() - job.started)
    job.token.cancel()
    for _ in range(3000):
        if job.state != "running":
            break
        time.sleep(0.01)
    assert (job.state, job.message) == ("cancelled", "Cancelled; nothing was changed.")


def test_a_newer_request_cancels_the_older_one_of_its_purpose_only() -> None:
    latest = Latest()
    far, near = latest.begin("w/far"), latest.begin("w/near")
    newer = latest.begin("w/far")
    assert (far.cancelled, near.cancelled, newer.cancelled) == (True, False, False)
    latest.end("w/far", far)
    assert latest.begin("w/far") is not newer
    assert newer.cancelled


def test_a_superseded_picture_is_answered_as_such(
    client: FlaskClient, site: dict[str, Any], monkeypatch: pytest.MonkeyPatch
) -> None:
    def stopped(self: Pictures, *asked: object) -> None:
        raise CancelledError

    monkeypatch.setattr(Pictures, "take", stopped)
    ask = {"recipe": site["recipe"], "stand": "far", "width_px": 80, "height_px": 60}
    assert client.post("/api/picture", json=ask).status_code == 410


def frame(client: FlaskClient, recipe: dict[str, Any], **parts: object) -> tuple[dict[str, Any], list[bytes]]:
    views = [{"stand": stand, "width_px": 80, "height_px": 60} for stand in ("far", "mid", "near")]
    answer = client.post("/api/frame", json={"recipe": recipe, "views": views} | parts)
    assert answer.status_code == 200, answer.get_json()
    length = int.from_bytes(answer.data[:4], "little")
    head, rest = json.loads(answer.data[4 : 4 + length]), answer.data[4 + length :]
    pictures = []
    for one in head["pictures"]:
        pictures.append(rest[: one["bytes"]])
        rest = rest[one["bytes"] :]
    assert rest == b""
    return head, pictures


def shown(data: bytes, codec: str) -> np.ndarray:
    if codec == "plain":
        whole = np.frombuffer(data, np.uint8).reshape(60, 80, 4)
        assert whole[..., 3].min() == 255
        return whole[..., :3]
    return decoded.of_bytes(data, cv2.IMREAD_COLOR)[..., ::-1]


def through_jpeg(picture: np.ndarray) -> np.ndarray:
    """A picture as a JPEG file of quality 92 in full colour gives it back, by an independent library."""
    how = [cv2.IMWRITE_JPEG_QUALITY, 92, cv2.IMWRITE_JPEG_SAMPLING_FACTOR, cv2.IMWRITE_JPEG_SAMPLING_FACTOR_444]
    _, coded = cv2.imencode(".jpg", np.ascontiguousarray(picture[..., ::-1]), how)
    return decoded.of_bytes(coded.tobytes(), cv2.IMREAD_COLOR)[..., ::-1]


def test_a_frame_holds_the_pictures_that_would_be_taken_one_by_one(client: FlaskClient, site: dict[str, Any]) -> None:
    recipe = site["recipe"]
    alone = [picture(client, recipe, stand=stand)[..., ::-1] for stand in ("far", "mid", "near")]
    for codec in ("plain", "png", "jpeg"):
        head, pictures = frame(client, recipe, codec=codec)
        assert [one["stand"] for one in head["pictures"]] == ["far", "mid", "near"]
        for data, expected in zip(pictures, alone, strict=True):
            got = shown(data, codec).astype(int)
            # hardly less than the picture, and exactly what such a file makes of it
            assert np.abs(got - expected).mean() <= 2.0
            np.testing.assert_array_equal(got, through_jpeg(expected) if codec == "jpeg" else expected)
    assert frame(client, recipe, making_ready=True)[1] == []


def test_a_recipe_told_by_what_changed_is_the_recipe_told_whole(client: FlaskClient, site: dict[str, Any]) -> None:
    at, put = ["layers", 0, "look", "brightness"], 2.5
    whole = copy.deepcopy(site["recipe"])
    whole["layers"][0]["look"]["brightness"] = put

    def told(state: dict[str, Any], **more: object) -> dict[str, Any]:
        return {"base": {"site": state["id"], "revision": state["revision"]} | more}

    changes = [{"at": at, "put": put}]
    assert frame(client, told(site, changes=changes))[1] == frame(client, whole)[1]
    assert frame(client, told(site))[1] == frame(client, site["recipe"])[1] != frame(client, whole)[1]
    # an edit later the older revision is still known, by which a hand may be dragging
    edit = {"base": site["revision"], "label": "x", "recipe": whole}
    newer = client.put(f"/api/sites/{site['id']}/recipe", json=edit).get_json()
    assert frame(client, told(site, changes=changes))[1] == frame(client, told(newer))[1]
    # one that is not known is said to be: the page then sends the whole
    ask = {"recipe": told(newer | {"revision": 10**6}), "views": [{"stand": "far", "width_px": 80, "height_px": 60}]}
    assert client.post("/api/frame", json=ask).status_code == 428
    # no place, no such value, no such site: one sentence each
    none_such: tuple[list[dict[str, object]], ...] = (
        [{"at": ["layers", 9, "opacity"], "put": 1}],
        [{"at": at, "put": "bright"}],
        [{"at": [], "put": {}}],
    )
    for wrong in none_such:
        answer = client.post("/api/frame", json=ask | {"recipe": told(newer, changes=wrong)})
        assert answer.status_code in (400, 422)
        assert answer.get_json()["message"]
    assert client.post("/api/frame", json=ask | {"recipe": told({"id": "nobody", "revision": 1})}).status_code == 422
