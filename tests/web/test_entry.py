"""Who comes in and what they can reach: tokens, hosts, other sites' pages, names that would be paths."""

from __future__ import annotations

import json
import os
import subprocess
import sys
from pathlib import Path
from typing import Any

import pytest
from flask.testing import FlaskClient

from elvatch.app.workshop import Workshop
from elvatch.core.document import begin_sheet
from elvatch.core.handoff.manifest import FileSaid, Manifest, TileSaid
from elvatch.core.refusal import RefusalError
from elvatch.web.app import create_app
from elvatch.web.entry import Entry, entry_for
from tests.serving import serve

TOKEN = "a-token-of-some-thirty-letters"


@pytest.fixture
def client(workshop: Workshop) -> FlaskClient:
    return create_app(workshop).test_client()


@pytest.fixture
def beyond(workshop: Workshop) -> FlaskClient:
    """A server that other machines can reach."""
    entry = Entry("0.0.0.0", frozenset({"ground.test"}), TOKEN)
    return create_app(workshop, entry).test_client()


def test_beyond_this_machine_nothing_is_to_be_had_without_the_token(beyond: FlaskClient) -> None:
    for host in ("localhost", "127.0.0.1:8765", "192.0.2.7", "ground.test"):
        for url in ("/", "/api/sites", "/assets/index.js", "/enter", "/enter?token=wrong"):
            answer = beyond.get(url, headers={"Host": host})
            assert answer.status_code == 401, (host, url)
            assert "open the link" in answer.get_json()["message"]
    assert beyond.post("/api/sites", json={}, headers={"Authorization": "Bearer wrong"}).status_code == 401
    assert beyond.get("/api/sites", headers={"Authorization": f"Bearer {TOKEN}"}).status_code == 200


def test_the_link_is_exchanged_for_a_cookie_that_no_script_and_no_other_site_gets(beyond: FlaskClient) -> None:
    answer = beyond.get(f"/enter?token={TOKEN}")
    assert (answer.status_code, answer.headers["Location"]) == (303, "/")
    cookie = answer.headers["Set-Cookie"]
    assert "HttpOnly" in cookie
    assert "SameSite=Strict" in cookie
    assert "Secure" not in cookie
    assert TOKEN not in cookie
    assert beyond.get("/api/sites").status_code == 200
    proxied = beyond.get(f"/enter?token={TOKEN}", headers={"X-Forwarded-Proto": "https", "Host": "ground.test"})
    assert "Secure" in proxied.headers["Set-Cookie"]
    elsewhere = beyond.get(f"/enter?token={TOKEN}", headers={"Sec-Fetch-Site": "cross-site"})
    assert (elsewhere.status_code, b"url=/" in elsewhere.data) == (200, True), "our own page leads on"


@pytest.mark.parametrize(
    ("host", "met"),
    [("evil.test", 403), ("localhost.evil.test", 403), ("[", 403), ("192.0.2.7", 200), ("GROUND.test:444", 200)],
)
def test_only_honest_names_are_answered_to(beyond: FlaskClient, host: str, met: int) -> None:
    headers = {"Host": host, "Authorization": f"Bearer {TOKEN}"}
    assert beyond.get("/api/sites", headers=headers).status_code == met


def test_a_token_is_made_wherever_others_can_reach(tmp_path: Path) -> None:
    assert entry_for("127.0.0.1", [], None).token is None
    assert entry_for("::1", ["localhost"], None).token is None
    made = [entry_for("0.0.0.0", [], None).token, entry_for("127.0.0.1", ["ground.test"], None).token]
    assert all(token is not None and len(token) >= 32 for token in made)
    assert made[0] != made[1]
    path = tmp_path / "token"
    path.write_text(f"{TOKEN}\n")
    assert entry_for("127.0.0.1", [], path) == Entry(token=TOKEN)
    for text in ("short", "", "x" * 19, "two words of a long enough line"):
        path.write_text(text)
        with pytest.raises(RefusalError, match="at least 20 without spaces"):
            entry_for("0.0.0.0", [], path)
    with pytest.raises(RefusalError, match="check the path"):
        entry_for("0.0.0.0", [], tmp_path / "none")


def test_a_server_beyond_this_machine_prints_the_link_and_lets_nobody_else_in(tmp_path: Path) -> None:
    served = serve(tmp_path / "data", more=("--host", "0.0.0.0"))
    try:
        link = served.said_next()
        assert served.ask("GET", "/api/sites")[0] == 401
        token = link.split("token=")[1].strip()
        assert served.ask("GET", "/api/sites", headers={"Authorization": f"Bearer {token}"})[0] == 200
    finally:
        served.kill()


@pytest.mark.parametrize(
    "headers",
    [
        {"Origin": "http://["},
        {"Origin": "null"},
        {"Origin": "http://evil.test"},
        {"Sec-Fetch-Site": "cross-site"},
        {"Sec-Fetch-Site": "same-site"},
    ],
)
def test_pages_of_other_sites_change_nothing(client: FlaskClient, headers: dict[str, str]) -> None:
    for kind in ("text/plain", "application/json"):
        answer = client.post("/api/intake", data=b'{"title": "x"}', content_type=kind, headers=headers)
        assert answer.status_code == 403
    own = client.post(
        "/api/intake",
        data=b'{"title": "x"}',
        content_type="application/json",
        headers={"Sec-Fetch-Site": "same-origin"},
    )
    assert own.status_code == 200
    text = client.post("/api/intake", data=b'{"title": "x"}', content_type="text/plain")
    assert (text.status_code, "application/json" in text.get_json()["message"]) == (422, True)


def _handed_off(workshop: Workshop) -> Path:
    folder = workshop.handoffs.folder / "hill_64_x"
    folder.mkdir(parents=True)
    (folder / "hill_colour.png").write_bytes(b"the map")
    (folder / "notes.txt").write_bytes(b"not listed")
    (folder / "hill_link.png").symlink_to(workshop.store.folder / "elvatch.sqlite")
    sheet = begin_sheet.plain(("colour",))
    file = FileSaid(
        name="",
        entry="colour",
        bytes=7,
        sha256="",
        format="png",
        type="uint8",
        width_px=1,
        height_px=1,
        grid_px=(1, 1),
        samples="corners",
        tile=TileSaid(row=0, column=0, first_row=0, first_column=0, rows=1, columns=1, border_px=0),
        channels=(),
        encoding="sRGB",
        normals="",
        low_byte_first=True,
    )
    names = ("hill_colour.png", "hill_link.png", "../../elvatch.sqlite", "gone.png")
    said = Manifest(
        made_by="",
        site="Hill",
        width_m=1,
        depth_m=1,
        recipe="",
        sheet=sheet,
        files=tuple(file.model_copy(update={"name": name}) for name in names),
    )
    (folder / "hand-off.json").write_text(said.model_dump_json())
    part = workshop.handoffs.folder / ".part-1"
    part.mkdir()
    (part / "hand-off.json").write_text(json.dumps({"files": [{"name": "half.png"}]}))
    (part / "half.png").write_bytes(b"half")
    (workshop.handoffs.folder / "elsewhere").symlink_to(workshop.store.folder)
    return folder


def test_only_what_a_sheet_lists_can_be_fetched(client: FlaskClient, workshop: Workshop) -> None:
    _handed_off(workshop)
    url = "/api/handed-off"
    assert client.get(f"{url}/hill_64_x/hill_colour.png").data == b"the map"
    assert client.get(f"{url}/hill_64_x/hand-off.json").status_code == 200
    for path in (
        "../elvatch.sqlite",
        "%2e%2e/elvatch.sqlite",
        "%2e%2e/elvatch.sqlite-wal",
        "hill_64_x/notes.txt",
        "hill_64_x/hill_link.png",
        "hill_64_x/gone.png",
        "hill_64_x/%2e%2e%2f%2e%2e%2felvatch.sqlite",
        ".part-1/half.png",
        "elsewhere/elvatch.sqlite",
        "./hill_64_x/notes.txt",
        "hill_64_x/..%5chand-off.json",
    ):
        answer = client.get(f"{url}/{path}")
        assert answer.status_code in (404, 422), path
        assert answer.get_json()["message"]
    (workshop.handoffs.folder / "hill_64_x" / "hand-off.json").write_text("[]")
    assert client.get(f"{url}/hill_64_x/hill_colour.png").status_code == 422


def test_two_servers_never_share_a_data_folder_and_a_command_works_beside_one(tmp_path: Path) -> None:
    data = tmp_path / "data"
    data.mkdir()
    # what a server that was ended says is no hindrance
    (data / "server.lock").write_text('{"process": 1, "address": "http://127.0.0.1:1/", "since": "2020"}')
    served = serve(data)
    try:
        command = [sys.executable, "-m", "elvatch"]
        second = subprocess.run(
            [*command, "serve", "--data", str(data), "--port", "0"], capture_output=True, text=True, check=False
        )
        assert second.returncode != 0
        assert f"process {served.process.pid} at {served.url}" in second.stderr
        assert served.ask("POST", "/api/intake", {"title": "x"})[0] == 200
        assert list((data / "tray").iterdir()), "the tray of the first is as it was"
        beside = subprocess.run(
            [*command, "sites", "--data", str(data), "--json"], capture_output=True, text=True, check=False
        )
        assert (beside.returncode, json.loads(beside.stdout)) == (0, [])
    finally:
        served.kill()
    again = serve(data)
    again.kill()


def test_of_first_starts_at_the_same_moment_none_is_lost(tmp_path: Path) -> None:
    environment = os.environ | {"PYTHONDONTWRITEBYTECODE": "1"}
    command = [sys.executable, "-m", "elvatch", "sites", "--data", str(tmp_path / "data"), "--json"]
    started: list[subprocess.Popen[Any]] = [
        subprocess.Popen(command, stdout=subprocess.PIPE, stderr=subprocess.PIPE, env=environment) for _ in range(5)
    ]
    for one in started:
        out, err = one.communicate(timeout=120)
        assert (one.returncode, json.loads(out)) == (0, []), err
