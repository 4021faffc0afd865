"""The stock over HTTP: dropped, looked at, kept; mended, undone, set aside; hostile files and requests."""

from __future__ import annotations

import io
import os
import time
from pathlib import Path
from typing import Any

import numpy as np
import pytest
from flask.testing import FlaskClient
from PIL import Image

from elvatch.app.workshop import Workshop
from elvatch.core.formats import png
from elvatch.core.stock import generators
from elvatch.core.stock.supplier import packing
from elvatch.web.app import create_app
from tests.conftest import put_set
from tests.core import pictures as p


@pytest.fixture
def client(workshop: Workshop) -> FlaskClient:
    return create_app(workshop).test_client()


def done(client: FlaskClient, answer: Any) -> dict[str, Any]:
    """Wait for a job that was started; return how it ended."""
    assert answer.status_code == 202, answer.get_json()
    for _ in range(600):
        job: dict[str, Any] = client.get(f"/api/jobs/{answer.get_json()['id']}").get_json()
        if job["state"] != "running":
            return job
        time.sleep(0.02)
    raise AssertionError("the job did not end")


def dropped(client: FlaskClient, given: dict[str, bytes]) -> dict[str, Any]:
    """Drop files and look at them; return the proposal."""
    drop = client.post("/api/intake", json={"title": "drop"}).get_json()["drop"]
    for path, data in given.items():
        form = {"path": path, "file": (io.BytesIO(data), "file")}
        answer = client.post(f"/api/intake/{drop}/files", data=form)
        assert answer.status_code == 200, answer.get_json()
    result: dict[str, Any] = done(client, client.post(f"/api/intake/{drop}/look", json={}))["result"]
    return result


def kept(client: FlaskClient, proposal: dict[str, Any], **more: Any) -> dict[str, Any]:
    sets = [guess["decision"] for guess in proposal["sets"]]
    return done(client, client.post(f"/api/intake/{proposal['drop']}/keep", json={"sets": sets, **more}))


def tray(workshop: Workshop) -> list[Path]:
    return list((workshop.store.folder / "tray").glob("*"))


def test_a_drop_is_looked_at_decided_on_and_kept(client: FlaskClient, workshop: Workshop) -> None:
    proposal = dropped(client, {"pack.zip": p.zipped(p.files()), "moss_albedo.png": png.encode(p.whole(p.colours()))})
    mud, moss = sorted(proposal["sets"], key=lambda guess: -len(guess["files"]))
    assert [file["meaning"] for file in mud["files"]] == ["colour", "normal", "roughness", "occlusion", "height"]
    assert all(file["reason"] for file in mud["files"])
    assert moss["decision"]["category"] == "grass and plants"
    assert len(workshop.store.stock) == 0, "nothing is stored before it is decided on"
    mud["decision"]["title"], mud["decision"]["tile_m"] = "Bank mud", 1.6
    assert kept(client, proposal)["state"] == "done"
    wall = client.get("/api/stock").get_json()
    assert sorted(line["title"] for line in wall["sets"]) == ["Bank mud", "Moss"]
    assert wall["categories"] == {"grass and plants": 1, "soil and mud": 1}
    assert tray(workshop) == []


def test_a_changed_decision_is_what_is_stored(client: FlaskClient) -> None:
    proposal = dropped(client, {"mud_rough.png": png.encode(p.whole(0.2 + 0.1 * p.relief()))})
    (file,) = proposal["sets"][0]["decision"]["files"]
    file["meaning"] = "gloss"
    name = kept(client, proposal)["result"]["sets"][0]
    facts = client.get(f"/api/sets/{name}").get_json()["facts"]
    assert facts["maps"][0]["role"] == "roughness"
    assert facts["maps"][0]["mean"] > 0.7


def test_bad_files_are_named_and_good_ones_go_on(client: FlaskClient) -> None:
    proposal = dropped(client, p.files() | {"mud_metal.png": b"", "bad_col.jpg": b"\xff\xd8\xff" + bytes(50)})
    assert len(proposal["refused"]) == 2
    assert len(proposal["sets"]) == 1


def test_an_unsafe_zip_is_refused_and_nothing_of_it_is_kept(client: FlaskClient, workshop: Workshop) -> None:
    drop = client.post("/api/intake", json={"title": "x"}).get_json()["drop"]
    bad = p.zipped({"ok.png": png.encode(p.whole(p.relief())), "../../out.png": b"x"})
    answer = client.post(f"/api/intake/{drop}/files", data={"path": "bad.zip", "file": (io.BytesIO(bad), "f")})
    assert answer.status_code == 422
    assert "leaves its folder" in answer.get_json()["message"]
    (folder,) = tray(workshop)
    assert [path.name for path in folder.iterdir()] == ["index.json"]
    assert not list(workshop.store.folder.parent.rglob("out.png"))
    assert client.delete(f"/api/intake/{drop}").status_code == 200
    assert tray(workshop) == []


@pytest.mark.parametrize(
    "path", ["../../../etc/passwd.png", "/abs/x.png", "a\\..\\b.png", "x" * 3000 + ".png", "苔/苔.png"]
)
def test_paths_from_outside_are_text_only(client: FlaskClient, workshop: Workshop, path: str) -> None:
    proposal = dropped(client, {path: png.encode(p.whole(p.colours()))})
    (folder,) = tray(workshop)
    assert sorted(one.name for one in folder.iterdir()) == ["0", "index.json"]
    assert kept(client, proposal)["state"] == "done"


def test_a_drop_that_nobody_came_back_for_goes(client: FlaskClient, workshop: Workshop) -> None:
    dropped(client, {"mud_d.png": png.encode(p.whole(p.colours()))})
    (old,) = tray(workshop)
    os.utime(old, (0, 0))
    dropped(client, {"mud_d.png": png.encode(p.whole(p.colours()))})
    assert old not in tray(workshop)
    assert len(tray(workshop)) == 1


@pytest.mark.parametrize(
    ("method", "path", "body"),
    [
        ("post", "/api/intake/0123456789abcdef/look", {}),
        ("post", "/api/intake/..%2f..%2fx/look", {}),
        ("post", "/api/intake/0123456789abcdef/keep", {"sets": []}),
        ("get", f"/api/sets/{'9' * 40}", None),
        ("post", "/api/sets/make", {"kind": "cheese", "seed": 1, "size_px": 512}),
        ("post", "/api/sets/make", {"kind": "pebbles", "seed": 1, "size_px": 100_000}),
        ("post", "/api/sets/make", {"kind": "pebbles", "seed": 1, "size_px": 64, "controls": {"sand": 7}}),
        ("post", "/api/supplier/none/fetch", {"size_px": 512}),
        ("get", "/api/supplier/none/swatch.webp", None),
        ("post", f"/api/sets/{'9' * 40}/mend", {"base": 1, "ask": {"kind": "seamless", "overlap": 3}}),
    ],
)
def test_requests_for_what_is_not_there_are_refused_in_words(
    client: FlaskClient, method: str, path: str, body: object
) -> None:
    answer = getattr(client, method)(path, **({} if body is None else {"json": body}))
    assert answer.status_code in (400, 404, 422)
    assert answer.get_json()["message"]


def test_a_mend_is_a_job_and_its_undo_gives_the_set_back(client: FlaskClient, workshop: Workshop) -> None:
    name = kept(client, dropped(client, p.files()))["result"]["sets"][0]
    before = client.get(f"/api/sets/{name}").get_json()
    ended = done(
        client,
        client.post(
            f"/api/sets/{name}/mend",
            json={"base": 1, "ask": {"kind": "even-light", "strength": 1, "broader_than": 0.2}},
        ),
    )
    assert ended["state"] == "done"
    after = client.get(f"/api/sets/{name}").get_json()
    assert after["undo"] == "base colour light evened by 100%"
    assert after["content"] != before["content"]
    again = client.post(f"/api/sets/{name}/mend", json={"base": 1, "ask": {"kind": "turn", "role": "normal"}})
    assert "another window" in done(client, again)["message"]
    undone = client.post(f"/api/sets/{name}/undo", json={"base": 2}).get_json()
    assert undone["description"] == before["description"]
    assert undone["redo"] == after["undo"]


def test_describing_changes_what_is_said_but_never_the_maps(client: FlaskClient, workshop: Workshop) -> None:
    name = put_set(workshop.store)
    told = client.get(f"/api/sets/{name}").get_json()["description"]

    def put(base: int, **changes: object) -> Any:
        return client.put(f"/api/sets/{name}", json={"base": base, "label": "told", "description": told | changes})

    answer = put(1, title="Bank", tile_m=3.0, tags=["damp"])
    assert (answer.get_json()["description"]["title"], answer.get_json()["revision"]) == ("Bank", 2)
    assert workshop.store.stock[name].tile_m == 3.0
    other = told | {"maps": {"colour": told["maps"]["height"]}}
    refused = client.put(f"/api/sets/{name}", json={"base": 2, "label": "x", "description": other})
    assert "other maps" in refused.get_json()["message"]
    assert (
        client.put(
            f"/api/sets/{name}", json={"base": 2, "label": "x", "description": told | {"tile_m": -1}}
        ).status_code
        == 400
    )


def test_pictures_of_a_set(client: FlaskClient, workshop: Workshop) -> None:
    name = kept(client, dropped(client, p.files()))["result"]["sets"][0]
    with Image.open(io.BytesIO(client.get(f"/api/sets/{name}/swatch.png").data)) as image:
        assert image.size == (512, 512)
    with Image.open(io.BytesIO(client.get(f"/api/sets/{name}/map/normal.png?px=64").data)) as image:
        assert image.size == (64, 64)
        assert np.asarray(image)[..., 2].mean() > 180, "a normal map is mostly blue"
    assert client.get(f"/api/sets/{name}/map/metallic.png").status_code == 422
    looks = []
    for bearing in (90, 270):
        ask = {"width_px": 96, "height_px": 72, "sun_bearing_deg": bearing, "sun_height_deg": 15, "resting": False}
        with Image.open(io.BytesIO(client.post(f"/api/sets/{name}/sample", json=ask).data)) as image:
            looks.append(np.asarray(image.convert("L")).astype(float))
    assert looks[0].shape == (72, 96)
    assert np.abs(looks[0] - looks[1]).mean() > 3, "the light comes from the other side"


def test_a_set_can_be_judged_at_its_size_before_it_is_kept(client: FlaskClient) -> None:
    proposal = dropped(client, p.files())
    decision = proposal["sets"][0]["decision"]
    shots = []
    for tile in (0.4, 4.0):
        ask = {
            "decision": decision | {"tile_m": tile},
            "view": {"width_px": 96, "height_px": 72, "across_m": 6, "figure": True},
        }
        answer = client.post(f"/api/intake/{proposal['drop']}/sample", json=ask)
        assert answer.status_code == 200, answer.get_json()
        shots.append(answer.data)
    assert shots[0] != shots[1]


def test_a_pack_is_fetched_through_recognition_and_cancelled_on_the_way(
    client: FlaskClient, workshop: Workshop, monkeypatch: pytest.MonkeyPatch
) -> None:
    monkeypatch.setattr(packing, "SIZES", (64, 2048))
    found = client.get("/api/supplier?text=pebbles&category=scree+and+gravel").get_json()["packs"]
    assert "sandy-pebbles" in [pack["id"] for pack in found]
    ended = done(client, client.post("/api/supplier/sandy-pebbles/fetch", json={"size_px": 64}))
    (guess,) = ended["result"]["sets"]
    assert [file["meaning"] for file in guess["files"]][2] == "gloss"
    assert (guess["decision"]["tile_m"], guess["tileReason"]) == (1.5, "told by the supplier")
    client.delete(f"/api/intake/{ended['result']['drop']}")
    started = client.post("/api/supplier/hollin-slate/fetch", json={"size_px": 2048})
    client.delete(f"/api/jobs/{started.get_json()['id']}")
    assert done(client, started)["state"] == "cancelled"
    assert tray(workshop) == []


def test_sets_in_use_are_set_aside_and_never_vanish(client: FlaskClient, workshop: Workshop) -> None:
    name = put_set(workshop.store)
    assert client.delete(f"/api/sets/{name}").status_code == 422
    assert client.post(f"/api/sets/{name}/aside", json={"aside": True}).get_json()["setAside"] is True
    assert client.get("/api/stock").get_json()["sets"] == []
    assert [line["name"] for line in client.get("/api/stock?aside=1").get_json()["sets"]] == [name]
    assert client.delete(f"/api/sets/{name}").get_json() == {"removed": name}


def test_what_generators_there_are_and_what_they_would_make(client: FlaskClient) -> None:
    answer = client.get("/api/generators").get_json()
    assert [one["kind"] for one in answer["generators"]] == list(generators.GENERATORS)
    assert all(1 <= len(one["controls"]) <= 5 for one in answer["generators"])
    ask = {"kind": "wet-silt", "seed": 3}
    plain, high = (
        client.post("/api/generators/preview", json=ask | {"controls": c}).data for c in ({}, {"ripples": 14.0})
    )
    assert plain != high
    with Image.open(io.BytesIO(plain)) as image:
        assert image.size == (256, 256)
