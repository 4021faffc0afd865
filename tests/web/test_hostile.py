"""Requests that are wrong on purpose, and the same asked twice at once: a sentence each, nothing kept twice."""

from __future__ import annotations

import io
import json
import threading
import time
from typing import Any

import pytest
from flask.testing import FlaskClient

from elvatch.app.workshop import Workshop
from elvatch.store.files import Files
from elvatch.web import answers
from elvatch.web.app import create_app
from tests import hostile
from tests.conftest import put_set


@pytest.fixture
def client(workshop: Workshop) -> FlaskClient:
    return create_app(workshop).test_client()


def test_a_sample_of_a_set_that_is_not_there_is_a_sentence(client: FlaskClient) -> None:
    for name in ("5" * 40, "x", "%00", "..%5c"):
        answer = client.post(f"/api/sets/{name}/sample", json={"width_px": 64, "height_px": 64})
        assert (answer.status_code, "no set" in answer.get_json()["message"]) == (422, True)


@pytest.mark.parametrize("px", ["²", "9" * 5000, "-1", "1e3", "٣", "", "x"])
def test_a_size_that_is_no_number_is_a_sentence(client: FlaskClient, workshop: Workshop, px: str) -> None:
    name = put_set(workshop.store)
    answer = client.get(f"/api/sets/{name}/map/height.png", query_string={"px": px})
    assert (answer.status_code, "a role and a size" in answer.get_json()["message"]) == (422, True)
    assert client.get("/api/stock", query_string={"least_px": px}).status_code == 200


@pytest.mark.parametrize("base", [-1, 1 << 63, 1 << 64, 10**30])
def test_a_base_that_no_revision_ever_had_is_refused(client: FlaskClient, workshop: Workshop, base: int) -> None:
    name = put_set(workshop.store)
    assert client.post(f"/api/sets/{name}/undo", json={"base": base}).status_code == 400
    assert client.post("/api/sites/none/undo", json={"base": base}).status_code == 400


def test_answers_know_no_infinity(client: FlaskClient) -> None:
    plain = answers.Plain(client.application)
    said = plain.dumps({"a": [1.5, float("inf")], "b": {"c": float("nan"), "d": (True, None, "Infinity")}})
    assert json.loads(said, parse_constant=pytest.fail) == {
        "a": [1.5, None],
        "b": {"c": None, "d": [True, None, "Infinity"]},
    }


def drop_with(client: FlaskClient, data: bytes) -> str:
    drop = client.post("/api/intake", json={"title": "Silt"}).get_json()["drop"]
    form = {"file": (io.BytesIO(data), "silt_colour.png"), "path": "silt_colour.png"}
    assert client.post(f"/api/intake/{drop}/files", data=form, content_type="multipart/form-data").status_code == 200
    return str(drop)


def ended(client: FlaskClient, job: dict[str, Any]) -> dict[str, Any]:
    until = time.monotonic() + 60
    while job["state"] == "running" and time.monotonic() < until:
        time.sleep(0.02)
        job = client.get(f"/api/jobs/{job['id']}").get_json()
    return job


def keep_at_once(client: FlaskClient, drops: list[str]) -> list[dict[str, Any]]:
    """Keep drops by threads of their own; return how each ended, or what was answered instead."""
    decision = ended(client, client.post(f"/api/intake/{drops[0]}/look", json={}).get_json())["result"]["sets"][0][
        "decision"
    ]
    asked: list[dict[str, Any]] = []

    def keep(drop: str) -> None:
        own = client.application.test_client()
        answer = own.post(f"/api/intake/{drop}/keep", json={"sets": [decision]})
        asked.append(ended(own, answer.get_json()) if answer.status_code == 202 else answer.get_json())

    threads = [threading.Thread(target=keep, args=(drop,)) for drop in drops]
    for thread in threads:
        thread.start()
    for thread in threads:
        thread.join(60)
    return asked


def test_one_file_in_two_drops_is_one_set(client: FlaskClient, workshop: Workshop) -> None:
    data = hostile.grey_png(256)
    done = keep_at_once(client, [drop_with(client, data) for _ in range(4)])
    assert [one["state"] for one in done] == ["done"] * 4, done
    assert len({one["result"]["sets"][0] for one in done}) == 1
    assert len(list(workshop.store.stock)) == 1


def test_a_drop_is_kept_once_however_often_that_is_asked(client: FlaskClient, workshop: Workshop) -> None:
    drop = drop_with(client, hostile.grey_png(256))
    done = keep_at_once(client, [drop] * 4)
    assert sum(one.get("state") == "done" for one in done) == 1
    others = [one["message"] for one in done if one.get("state") != "done"]
    assert all("brought in already" in text or "no longer there" in text for text in others), others
    assert len(list(workshop.store.stock)) == 1


def put_and_fail(files: Files, data: bytes) -> None:
    with files.putting() as put:
        put(data)
        raise KeyboardInterrupt


def test_bringing_in_that_fails_leaves_the_files_that_another_is_bringing_in(workshop: Workshop) -> None:
    files, data = workshop.store.files, hostile.grey_png(32)
    with files.putting() as put:
        name = put(data)
        with pytest.raises(KeyboardInterrupt):
            put_and_fail(files, data)
        assert files.get(name) == data
    files.let_go([name])
    with pytest.raises(KeyboardInterrupt):
        put_and_fail(files, data)
    assert not files.path(name).exists(), "nobody else needs it any more"
