"""Writes down what users have of both demo sites as digests: every picture, every file handed off, every figure.

Run before and after a change that must change nothing, with the same data folder, and compare::

    python -m tools.fingerprints DATA > before.json
    python -m tools.fingerprints DATA --against before.json
"""

from __future__ import annotations

import argparse
import io
import json
import sys
import time
from collections.abc import Iterator
from pathlib import Path
from typing import Any, Literal, get_args

import numpy as np
from flask.testing import FlaskClient
from PIL import Image

from elvatch.app.workshop import Workshop
from elvatch.core import digest
from elvatch.core.document import begin_sheet
from elvatch.core.document.sheet import MapName
from elvatch.core.ground.measures import NAMES
from elvatch.core.picture.modes import Mode
from elvatch.store.store import Store
from elvatch.web.app import create_app

_PX = (240, 180)
_SPOTS = ((0.31, 0.42), (0.5, 0.5), (0.62, 0.27), (0.8, 0.77))


def _pictures(client: FlaskClient, recipe: dict[str, Any]) -> Iterator[tuple[str, str]]:
    for stand in ("far", "mid", "near"):
        for mode in get_args(Mode):
            for resting in (True, False) if mode == "lit" else (True,):
                ask = {
                    "recipe": recipe,
                    "stand": stand,
                    "mode": mode,
                    "layer": 1,
                    "wear": 0,
                    "resting": resting,
                    "width_px": _PX[0],
                    "height_px": _PX[1],
                }
                answer = client.post("/api/picture", json=ask)
                pixels = np.asarray(Image.open(io.BytesIO(answer.data)))
                yield f"picture {stand} {mode} {'resting' if resting else 'moving'}", digest.of_array(pixels)


def _figures(client: FlaskClient, recipe: dict[str, Any]) -> Iterator[tuple[str, str]]:
    width, depth = recipe["ground"]["width_m"], recipe["ground"]["depth_m"]
    asks: list[tuple[str, dict[str, Any]]] = [
        ("/api/ground/facts", {"ground": recipe["ground"]}),
        ("/api/cover-facts", {"recipe": recipe}),
        ("/api/transect", {"recipe": recipe, "bearing_deg": 40}),
        ("/api/relief", {"recipe": recipe}),
        ("/api/boot-cut", {"recipe": recipe}),
        ("/api/where-chart", {"recipe": recipe}),
    ]
    asks += [("/api/repetition", {"recipe": recipe, "layer": k}) for k in range(len(recipe["layers"]))]
    asks += [("/api/wear/told", {"recipe": recipe, "wear": k}) for k in range(len(recipe["wears"]))]
    asks += [("/api/overlay", {"source": wear["source"]}) for wear in recipe["wears"]]
    asks += [("/api/ground/histogram", {"ground": recipe["ground"], "measure": name}) for name in NAMES]
    asks += [("/api/probe", {"recipe": recipe, "east_m": x * width, "north_m": y * depth}) for x, y in _SPOTS]
    asks += [
        ("/api/clause", {"recipe": recipe, "layer": k, "clauses": [clause]})
        for k, layer in enumerate(recipe["layers"])
        for clause in layer["rule"]["clauses"]
    ]
    for number, (path, ask) in enumerate(asks):
        answer = client.post(path, json=ask)
        if answer.status_code != 200:
            raise SystemExit(f"{path}: {answer.get_json()}")
        told = answer.get_json()
        if isinstance(told, dict):
            told.pop("begin", None)  # what may be begun is no figure of what there is
        yield f"figure {number} {path}", digest.of_json(_plain(told))


def _handed_off(client: FlaskClient, site: dict[str, Any]) -> Iterator[tuple[str, str]]:
    depths: tuple[tuple[Literal[8, 16], int], ...] = ((8, 16), (16, 32))
    for bits, height_bits in depths:
        of = [*(name for name in get_args(MapName) if name != "share"), *(NAMES if bits == 8 else ())]
        sheet = begin_sheet.plain(of, 512, bits, height_bits == 32, bits)
        base = client.get(f"/api/sites/{site['id']}").get_json()
        recipe = base["recipe"] | {"sheets": [sheet.model_dump(mode="json")]}
        edit = {"base": base["revision"], "label": "sheet", "recipe": recipe}
        assert client.put(f"/api/sites/{site['id']}/recipe", json=edit).status_code == 200
        job = client.post(f"/api/sites/{site['id']}/bakes", json={"sheet": "plain"}).get_json()
        while job["state"] == "running":
            time.sleep(0.1)
            job = client.get(f"/api/jobs/{job['id']}").get_json()
        folder = job["result"]["folder"]
        for file in job["result"]["files"]:
            data = client.get(f"/api/handed-off/{folder}/{file['name']}").data
            yield f"handed off {bits} {file['name']}", digest.of_bytes(data)


def _stock(client: FlaskClient) -> Iterator[tuple[str, str]]:
    for line in client.get("/api/stock").get_json()["sets"]:
        state = client.get(f"/api/sets/{line['name']}").get_json()
        for changing in ("name", "revision", "addedAt", "changedAt", "usedIn", "undo", "redo"):
            state.pop(changing, None)
        yield f"set {line['title']}", digest.of_json(_plain(state))


def _plain(value: object) -> object:
    """Return an answer whatever way its names are written: east_m and eastM are the same."""
    if isinstance(value, dict):
        return {key.replace("_", "").lower(): _plain(one) for key, one in value.items()}
    return [_plain(one) for one in value] if isinstance(value, list) else value


def fingerprints(data: Path) -> dict[str, str]:
    """Return a digest for everything that users have of the demo in a data folder."""
    out: dict[str, str] = {}
    workshop = Workshop(Store(data))
    client = create_app(workshop).test_client()
    out |= _stock(client)
    for line in client.get("/api/sites").get_json()["sites"]:
        site = client.post(f"/api/sites/{line['id']}/duplicate").get_json()
        try:
            for part in (
                _pictures(client, site["recipe"]),
                _figures(client, site["recipe"]),
                _handed_off(client, site),
            ):
                out |= {f"{line['title']}: {what}": name for what, name in part}
        finally:
            client.delete(f"/api/sites/{site['id']}")
    return out


def main() -> None:
    """Print fingerprints, or what differs from earlier ones."""
    parser = argparse.ArgumentParser(description=__doc__)
    parser.add_argument("data", type=Path)
    parser.add_argument("--against", type=Path)
    told = parser.parse_args()
    now = fingerprints(told.data)
    if told.against is None:
        json.dump(now, sys.stdout, indent=1)
        return
    before = json.loads(told.against.read_text())
    other = sorted(key for key in before.keys() | now.keys() if before.get(key) != now.get(key))
    print(*other, f"{len(other)} of {len(now)} differ", sep="\n")
    sys.exit(bool(other))


if __name__ == "__main__":
    main()
