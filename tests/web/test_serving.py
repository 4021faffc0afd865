"""The real process: where it listens, and what kill -9 leaves behind."""

from __future__ import annotations

import json
import shutil
import socket
import time
from pathlib import Path
from typing import Any

import pytest

from elvatch.core.document import begin_sheet
from tests.serving import Served, serve


@pytest.fixture
def data(demo_data: Path, tmp_path: Path) -> Path:
    return Path(shutil.copytree(demo_data, tmp_path / "data"))


LARGE = begin_sheet.plain(("colour", "normal", "height", "shares"), 8192).model_dump(mode="json")


def only_site(served: Served) -> dict[str, Any]:
    listed = served.ask("GET", "/api/sites")[1]["sites"][0]
    found: dict[str, Any] = served.ask("GET", f"/api/sites/{listed['id']}")[1]
    return found


def test_it_listens_on_this_computer_only(data: Path) -> None:
    served = serve(data)
    try:
        assert served.host == "127.0.0.1"
        status, page = served.ask("GET", "/")
        assert status == 200
        assert b'<div id="root">' in page
        others = {str(info[4][0]) for info in socket.getaddrinfo(socket.gethostname(), None, socket.AF_INET)}
        for address in others - {"127.0.0.1"}:
            with pytest.raises(ConnectionRefusedError), socket.create_connection((address, served.port), timeout=1):
                pass
    finally:
        served.kill()


def test_kill_9_after_an_edit_keeps_the_edit_and_its_undo(data: Path) -> None:
    served = serve(data)
    site = only_site(served)
    recipe = site["recipe"]
    recipe["layers"][3]["fit"]["tile_m"] = 5.5
    url = f"/api/sites/{site['id']}"
    status, edited = served.ask("PUT", f"{url}/recipe", {"base": site["revision"], "label": "tile", "recipe": recipe})
    assert status == 200
    served.kill()
    again = serve(data)
    try:
        found = only_site(again)
        assert found == edited
        assert again.ask("POST", f"{url}/undo", {"base": found["revision"]})[1]["redo"] == "tile"
    finally:
        again.kill()


def test_kill_9_after_a_set_was_told_something_keeps_it(data: Path) -> None:
    served = serve(data)
    name = served.ask("GET", "/api/stock?text=pebbles")[1]["sets"][0]["name"]
    state = served.ask("GET", f"/api/sets/{name}")[1]
    told = state["description"] | {"title": "Shore", "tile_m": 2.5}
    status, kept = served.ask("PUT", f"/api/sets/{name}", {"base": 1, "label": "named", "description": told})
    assert status == 200
    served.kill()
    again = serve(data)
    try:
        after = again.ask("GET", f"/api/sets/{name}")[1]
        assert (after["description"], after["undo"]) == (kept["description"], "named")
        assert again.ask("GET", "/api/stock?text=shore")[1]["sets"][0]["tileM"] == 2.5
    finally:
        again.kill()


def test_kill_9_after_a_snapshot_and_kept_wear_keeps_both(data: Path) -> None:
    served = serve(data)
    site = only_site(served)
    url = f"/api/sites/{site['id']}"
    assert served.ask("POST", f"{url}/snapshots", {"name": "Before the storm"})[0] == 201
    begin = {"recipe": site["recipe"], "id": "wear1", "of": "kind", "name": "scuffs"}
    worn = served.ask("POST", "/api/wear/begin", begin)[1]
    recipe = site["recipe"] | {"wears": [worn]}
    asked = {"base": site["revision"], "label": "worn", "recipe": recipe}
    assert served.ask("PUT", f"{url}/recipe", asked)[0] == 200
    served.kill()
    again = serve(data)
    try:
        assert only_site(again)["recipe"]["wears"] == [worn]
        kept = again.ask("GET", f"{url}/snapshots")[1][-1]
        assert kept["name"] == "Before the storm"
        assert again.ask("GET", f"{url}/snapshots/{kept['id']}")[1] == site["recipe"]
    finally:
        again.kill()


def test_kill_9_during_a_bake_leaves_no_map_under_its_name(data: Path) -> None:
    served = serve(data)
    site = only_site(served)
    recipe = site["recipe"] | {"sheets": [LARGE]}
    url = f"/api/sites/{site['id']}"
    served.ask("PUT", f"{url}/recipe", {"base": site["revision"], "label": "large", "recipe": recipe})
    job = served.ask("POST", f"{url}/bakes", {"sheet": "plain"})[1]
    folder = data / "hand-off"
    for _ in range(400):
        share = served.ask("GET", f"/api/jobs/{job['id']}")[1]["shareDone"]
        if share > 0.02:
            break
        time.sleep(0.05)
    assert 0.02 < share < 0.9
    assert served.ask("GET", "/api/sites")[0] == 200, "it answers while it bakes"
    served.kill()
    left = list(folder.iterdir())
    assert [p.name.startswith(".part-") for p in left] == [True], "only the partial folder, not under its final name"
    again = serve(data)
    try:
        assert list(folder.iterdir()) == [], "the next start clears it away"
        assert only_site(again)["recipe"]["sheets"] == [LARGE]
    finally:
        again.kill()


def test_cancelling_a_bake_ends_it_and_leaves_nothing(data: Path) -> None:
    served = serve(data)
    try:
        site = only_site(served)
        recipe = site["recipe"] | {"sheets": [LARGE]}
        url = f"/api/sites/{site['id']}"
        served.ask("PUT", f"{url}/recipe", {"base": site["revision"], "label": "large", "recipe": recipe})
        job = served.ask("POST", f"{url}/bakes", {"sheet": "plain"})[1]
        while served.ask("GET", f"/api/jobs/{job['id']}")[1]["shareDone"] == 0:
            time.sleep(0.02)
        asked = time.monotonic()
        served.ask("DELETE", f"/api/jobs/{job['id']}")
        while (state := served.ask("GET", f"/api/jobs/{job['id']}")[1]["state"]) == "running":
            time.sleep(0.02)
        assert state == "cancelled"
        assert time.monotonic() - asked < 5
        assert list((data / "hand-off").iterdir()) == []
    finally:
        served.kill()


def _half_sent(served: Served) -> socket.socket:
    asking = socket.create_connection((served.host, served.port), timeout=20)
    asking.sendall(b"POST /api/intake HTTP/1.1\r\nHost: localhost\r\nContent-Length: 9999\r\n\r\n{")
    return asking


def test_many_half_sent_requests_do_not_keep_others_waiting(data: Path) -> None:
    served = serve(data)
    held = []
    try:
        held = [_half_sent(served) for _ in range(150)]
        began = time.monotonic()
        assert served.ask("GET", "/api/sites")[0] == 200
        assert time.monotonic() - began < 2
    finally:
        for one in held:
            one.close()
        served.kill()


def test_pictures_that_nobody_waits_for_are_not_made(data: Path) -> None:
    served = serve(data)
    try:
        recipe = only_site(served)["recipe"]
        ask = {"recipe": recipe, "stand": "far", "width_px": 900, "height_px": 700}
        began = time.monotonic()
        assert served.ask("POST", "/api/picture", ask | {"mode": "roughness"})[0] == 200
        one_s = time.monotonic() - began
        for k in range(150):
            light = recipe["light"] | {"sun_bearing_deg": 2.0 * k}
            body = json.dumps(ask | {"recipe": recipe | {"light": light}}).encode()
            head = f"POST /api/picture HTTP/1.1\r\nHost: localhost\r\nX-Window: w{k}\r\n"
            head += f"Content-Type: application/json\r\nContent-Length: {len(body)}\r\n\r\n"
            with socket.create_connection((served.host, served.port), timeout=20) as asking:
                asking.sendall(head.encode() + body)
        began = time.monotonic()
        assert served.ask("GET", "/api/sites")[0] == 200
        assert time.monotonic() - began < one_s, "not as long as the pictures take: four times that"
    finally:
        served.kill()
