"""The Cover room's questions over the web: charts, clauses, probes, strokes, images, splat maps."""

from __future__ import annotations

import io
import json
from collections.abc import Callable
from pathlib import Path
from typing import Any

import imagecodecs
import numpy as np
import pytest
from flask.testing import FlaskClient

from elvatch.app.workshop import Workshop
from elvatch.core.cover import function, plan
from elvatch.core.document import begin_sheet
from elvatch.core.document.recipe import Recipe, from_data
from elvatch.core.ground import places
from elvatch.web.app import create_app
from tests import decoded
from tests.conftest import put_set
from tests.web import test_api
from tests.web.test_api import new_site


def picture(client: FlaskClient, recipe: dict[str, Any], **parts: object) -> np.ndarray:
    """Red, green, blue, to be reckoned with."""
    return test_api.picture(client, recipe, **parts)[..., ::-1].astype(int)


@pytest.fixture
def client(workshop: Workshop) -> FlaskClient:
    put_set(workshop.store, 0.6, "Pale")
    put_set(workshop.store, 0.05, "Dark")
    return create_app(workshop).test_client()


@pytest.fixture
def site(client: FlaskClient, workshop: Workshop, height_png: Callable[..., Path]) -> dict[str, Any]:
    """Rolling hills, a pale base and a dark layer painted over it."""
    made = new_site(client, height_png())
    recipe = made["recipe"]
    recipe["layers"][0]["set"] = workshop.store.stock.find("Pale")
    dark = {
        "id": "dark",
        "name": "Dark",
        "set": workshop.store.stock.find("Dark"),
        "edge": {"kind": "fade"},
        "rule": {"clauses": [{"kind": "painted", "mask": "mask1", "called": "Paint"}]},
    }
    recipe["layers"].append(dark)
    recipe["marks"]["masks"].append({"id": "mask1", "name": "Paint"})
    return edited(client, made, recipe)


def edited(client: FlaskClient, state: dict[str, Any], recipe: dict[str, Any]) -> dict[str, Any]:
    answer = client.put(
        f"/api/sites/{state['id']}/recipe", json={"base": state["revision"], "label": "x", "recipe": recipe}
    )
    assert answer.status_code == 200, answer.get_json()
    found: dict[str, Any] = answer.get_json()
    return found


def drawn(site: dict[str, Any], *spots: tuple[float, float], **parts: object) -> dict[str, Any]:
    recipe = site["recipe"]
    stroke = {
        "mask": "mask1",
        "size_m": 60,
        "stand": "far",
        "width_px": 80,
        "height_px": 60,
        "looked_from": recipe["stands"]["far"],
        "peg": recipe["peg"],
    }
    return stroke | {"spots": [[*spot, 1] for spot in spots]} | parts


def test_a_stroke_shows_while_it_is_drawn_and_is_one_revision_when_it_ends(
    client: FlaskClient, site: dict[str, Any], workshop: Workshop
) -> None:
    before = picture(client, site["recipe"], mode="colour")
    stroke = drawn(site, (0.4, 0.6), (0.6, 0.6))
    live = picture(client, site["recipe"], mode="colour", drawn=stroke)
    assert (before - live)[30:44, 28:52].max() > 100, "the dark layer shows where the brush goes"
    answer = client.post(f"/api/sites/{site['id']}/paint", json={"base": site["revision"], "stroke": stroke})
    kept = answer.get_json()
    assert (kept["revision"], kept["undo"]) == (site["revision"] + 1, "painted on Paint")
    np.testing.assert_array_equal(picture(client, kept["recipe"], mode="colour"), live)
    # a second stroke keeps the tiles that it does not touch
    again = client.post(
        f"/api/sites/{site['id']}/paint", json={"base": kept["revision"], "stroke": drawn(site, (0.5, 0.9), size_m=2)}
    ).get_json()
    tiles = [
        {(t["row"], t["col"]): t["file"] for t in s["recipe"]["marks"]["masks"][0]["tiles"]} for s in (kept, again)
    ]
    assert any(tiles[0].get(at) == file for at, file in tiles[1].items())
    undone = client.post(f"/api/sites/{site['id']}/undo", json={"base": again["revision"]}).get_json()
    assert undone["recipe"] == kept["recipe"]
    workshop.tidy()
    np.testing.assert_array_equal(picture(client, undone["recipe"], mode="colour"), live)


def test_a_stroke_lies_where_it_was_drawn_though_the_picture_has_turned_since(
    client: FlaskClient, site: dict[str, Any]
) -> None:
    stroke = drawn(site, (0.4, 0.6), (0.6, 0.6))
    live = picture(client, site["recipe"], mode="colour", drawn=stroke)
    turned = json.loads(json.dumps(site["recipe"]))
    turned["stands"]["far"]["bearing_deg"] = 200
    newer = edited(client, site, turned)
    answer = client.post(f"/api/sites/{site['id']}/paint", json={"base": newer["revision"], "stroke": stroke})
    recipe = answer.get_json()["recipe"]
    recipe["stands"] = site["recipe"]["stands"]
    np.testing.assert_array_equal(picture(client, recipe, mode="colour"), live)


def test_a_stroke_on_an_older_state_is_a_conflict_and_one_in_the_sky_changes_nothing(
    client: FlaskClient, site: dict[str, Any]
) -> None:
    url = f"/api/sites/{site['id']}/paint"
    stale = client.post(url, json={"base": site["revision"] - 1, "stroke": drawn(site, (0.5, 0.6))})
    assert stale.status_code == 409
    assert stale.get_json()["state"]["recipe"] == site["recipe"]
    sky = client.post(url, json={"base": site["revision"], "stroke": drawn(site, (0.5, 0.02))}).get_json()
    assert sky["revision"] == site["revision"]
    unknown = client.post(url, json={"base": site["revision"], "stroke": drawn(site, (0.5, 0.6), mask="none")})
    assert (unknown.status_code, "no mask 'none'" in unknown.get_json()["message"]) == (422, True)


def test_the_same_rule_says_the_same_in_picture_probe_and_bake(
    client: FlaskClient, site: dict[str, Any], workshop: Workshop, tmp_path: Path
) -> None:
    recipe = site["recipe"]
    recipe["marks"]["paths"] = [
        {
            "id": "lane",
            "name": "Lane",
            "points": [{"east_m": 50, "north_m": 90}, {"east_m": 540, "north_m": 480}],
            "width_m": 60,
            "soft_m": 90,
        }
    ]
    recipe["layers"][1]["rule"]["clauses"] = [
        {"kind": "measure", "measure": "elevation", "unit": "m", "lower": 45, "soft_lower": 30},
        {"kind": "measure", "measure": "wetness", "unit": "ln m", "lower": 6, "soft_lower": 4, "join": "or"},
        {"kind": "path", "path": "lane", "called": "Lane", "join": "except"},
        {"kind": "noise", "join": "break-up", "size_m": 40, "strength": 0.8},
    ]
    cover = from_data(recipe)
    land = workshop.grounds.land(cover.ground)
    written = workshop.handoffs.bake("Hill", cover, begin_sheet.plain(("shares",), 64), tmp_path)
    baked = decoded.of_file(written[1])[20:24].ravel() / 65535
    baked_at = places.on_grid(land.survey, 64, 64, 20, 24)
    assert np.ptp(baked) > 0.5
    for i in range(0, len(baked_at.x_m), 17):
        spot = client.post(
            "/api/probe", json={"recipe": recipe, "east_m": baked_at.x_m[i], "north_m": baked_at.y_m[i]}
        ).get_json()
        assert spot["shares"][1] == pytest.approx(float(baked[i]), abs=1e-4)
        assert spot["account"][1]["presence"] == pytest.approx(float(baked[i]), abs=2e-4)
    # what a picture shows of the mask, looked up where its pixels lie
    shown = picture(client, recipe, stand="far", mode="presence", layer=1, resting=False)
    for across, down in ((0.4, 0.6), (0.55, 0.7), (0.62, 0.55)):
        col, row = int(across * 80), int(down * 60)
        found = client.post(
            "/api/spot",
            json={
                "recipe": recipe,
                "stand": "far",
                "width_px": 80,
                "height_px": 60,
                "resting": False,
                "across": (col + 0.5) / 80,
                "down": (row + 0.5) / 60,
                "measures": ["wetness"],
                "ring_m": 20,
            },
        ).get_json()
        place = {"east_m": found["spot"]["eastM"], "north_m": found["spot"]["northM"]}
        there = client.post("/api/probe", json={"recipe": recipe} | place).get_json()
        assert shown[row, col, 0] / 255 == pytest.approx(there["shares"][1], abs=1 / 255)
        assert len(found["ring"]) > 8
        assert "wetness" in found["spot"]["measures"]


def test_the_probe_names_the_clause_that_keeps_a_layer_out(client: FlaskClient, site: dict[str, Any]) -> None:
    recipe = site["recipe"]
    recipe["layers"][1]["rule"]["clauses"] = [
        {"kind": "measure", "measure": "elevation", "unit": "m", "lower": 0},
        {"kind": "measure", "measure": "slope", "unit": "°", "lower": 88},
        {
            "kind": "measure",
            "measure": "aspect",
            "unit": "°",
            "lower": 0,
            "upper": 360,
            "join": "or",
            "opposite": True,
        },
    ]
    found = client.post("/api/probe", json={"recipe": recipe, "east_m": 300, "north_m": 300}).get_json()
    told = [(c["words"], round(c["letsIn"], 3), c["decides"]) for c in found["account"][1]["clauses"]]
    assert told == [
        ("above 0 m", 1.0, False),
        ("steeper than 88°", 0.0, True),
        ("not facing north through to north (0° to 360°)", 0.0, False),
    ]
    assert set(found["spot"]["measures"]) > {"elevation", "openness", "flow"}


def test_charts_and_clauses_count_the_whole_ground(client: FlaskClient, site: dict[str, Any]) -> None:
    recipe = site["recipe"]
    for across, up in (("slope", "elevation"), ("drainage", "curvature-mean"), ("aspect", "worn")):
        chart = client.post("/api/where-chart", json={"recipe": recipe, "across": across, "up": up}).get_json()
        assert np.sum(chart["counts"]) == 129 * 129
        for edges in (chart["acrossEdges"], chart["upEdges"]):
            assert np.all(np.diff(edges) >= 0)
    limit = {"kind": "measure", "measure": "elevation", "unit": "m", "lower": 50, "soft_lower": 0}
    told = client.post("/api/clause", json={"recipe": recipe, "layer": 1, "clauses": [limit]}).get_json()
    assert sum(told["counts"]) == 129 * 129
    edges, counts = np.array(told["edges"]), np.array(told["counts"])
    above = counts[(edges[:-1] + edges[1:]) / 2 > 50].sum() / counts.sum()
    assert told["share"] == pytest.approx(above, abs=0.03)
    noise = client.post(
        "/api/clause", json={"recipe": recipe, "clauses": [{"kind": "noise", "size_m": 30}]}
    ).get_json()
    assert noise["counts"] is None
    assert 0.1 < noise["share"] < 0.9
    wrong = client.post("/api/clause", json={"recipe": recipe, "clauses": [limit | {"unit": "°"}]})
    assert "elevation is in m" in wrong.get_json()["message"]


def test_brushed_places_are_lit_up_and_others_left(client: FlaskClient, site: dict[str, Any]) -> None:
    brushed = {"across": "slope", "up": "elevation", "across_from": 0, "across_to": 90, "up_from": 70, "up_to": 95}
    plain, lit = picture(client, site["recipe"]), picture(client, site["recipe"], brushed=brushed)
    red = (lit[..., 0] - lit[..., 2]) - (plain[..., 0] - plain[..., 2])
    heights = picture(client, site["recipe"], mode="height")
    assert heights.shape == lit.shape
    assert 0.02 < (red > 30).mean() < 0.6


def bring(client: FlaskClient, values: np.ndarray, name: str = "packed.png") -> dict[str, Any]:
    data = {"file": (io.BytesIO(imagecodecs.png_encode(values)), name), "width_m": "600", "depth_m": "600"}
    answer = client.post("/api/mask-images", data=data, content_type="multipart/form-data")
    assert answer.status_code == 200, answer.get_json()
    found: dict[str, Any] = answer.get_json()
    return found


def test_an_image_is_taken_apart_seen_and_read_by_a_rule(
    client: FlaskClient, site: dict[str, Any], workshop: Workshop
) -> None:
    values = np.zeros((60, 60, 3), np.uint8)
    values[:30, :, 1] = 255
    values[:, :, 2] = 51
    facts = bring(client, values)
    told = {one["channel"]: (one["lowest"], one["highest"], round(one["share"], 4)) for one in facts["channels"]}
    assert told["G"] == (0, 1, 0.5)
    assert told["B"] == pytest.approx((0.2, 0.2, 0.2), abs=1e-6)
    seen = client.get(f"/api/mask-images/{facts['file']}/G.png").data
    small = decoded.of_bytes(seen)
    assert (small[:28].min(), small[32:].max()) == (255, 0)
    recipe = site["recipe"]
    recipe["marks"]["images"] = [{"id": "imag", "name": "Packed", "file": facts["file"], "file_name": "packed.png"}]
    recipe["layers"][1]["rule"]["clauses"] = [{"kind": "image", "image": "imag", "called": "Packed", "channel": "G"}]
    kept = edited(client, site, recipe)
    shares = client.post("/api/cover-facts", json={"recipe": kept["recipe"]}).get_json()["shares"]
    assert shares == pytest.approx([0.5, 0.5], abs=0.01)
    workshop.tidy()
    answer = client.post(
        "/api/presence",
        json={
            "recipe": kept["recipe"],
            "name": "G/..",
            "size_px": 60,
            "clauses": recipe["layers"][1]["rule"]["clauses"],
        },
    )
    assert answer.headers["Content-Disposition"] == 'attachment; filename="g.png"'
    codes = imagecodecs.png_decode(answer.data)
    assert codes.dtype == np.uint16
    assert (codes[:29].min(), codes[31:].max()) == (65535, 0)


def test_splat_maps_lay_layers_and_hide_the_others(
    client: FlaskClient, site: dict[str, Any], workshop: Workshop
) -> None:
    rng = np.random.default_rng(4)
    values = rng.integers(0, 256, (48, 48, 4), dtype=np.uint8)
    facts = bring(client, values, "splat.png")
    recipe = site["recipe"]
    recipe["layers"] += [recipe["layers"][1] | {"id": f"more{k}", "name": f"More {k}"} for k in range(2)]
    image = {"id": "splt", "name": "Splat", "file": facts["file"], "file_name": "splat.png"}
    order = [("R", recipe["layers"][0]["id"]), ("B", "more0"), ("A", "dark")]
    weights = [{"image": image, "channel": channel, "layer": layer} for channel, layer in order]
    laid = client.post("/api/splat", json={"recipe": recipe, "weights": weights}).get_json()["recipe"]
    assert [layer["on"] for layer in laid["layers"]] == [True, True, True, False]
    cover = from_data(laid)
    app_shares = shares_on_grid(workshop, cover, 48)
    chosen = values[..., [0, 3, 2]].reshape(-1, 3).astype(float)
    np.testing.assert_allclose(app_shares[:, :3], chosen / chosen.sum(axis=1, keepdims=True), atol=1 / 255)
    twice = client.post("/api/splat", json={"recipe": recipe, "weights": weights + weights[:1]})
    assert "two channels" in twice.get_json()["message"]


def shares_on_grid(shop: Workshop, cover: Recipe, size: int) -> np.ndarray:
    at = places.on_grid(shop.grounds.land(cover.ground).survey, size, size, 0, size)
    return function.ask(plan.prepare(cover.layers, shop.store.stock, shop.covers.evidence(cover)), at).shares


@pytest.mark.parametrize(
    ("data", "message"),
    [
        (b"", "an empty file"),
        (b"hello", "image"),
        (imagecodecs.png_encode(np.zeros((2, 2), np.uint8)), "2 x 2 pixels"),
    ],
)
def test_what_is_no_mask_image_is_refused_and_not_kept(
    client: FlaskClient, workshop: Workshop, data: bytes, message: str
) -> None:
    before = list((workshop.store.folder).rglob("*"))
    answer = client.post(
        "/api/mask-images", data={"file": (io.BytesIO(data), "x.png")}, content_type="multipart/form-data"
    )
    assert (answer.status_code, message in answer.get_json()["message"]) == (422, True)
    assert list((workshop.store.folder).rglob("*")) == before


def test_lines_are_seen_where_they_lie(client: FlaskClient, site: dict[str, Any]) -> None:
    ask = {"recipe": site["recipe"], "stand": "far", "width_px": 80, "height_px": 60}
    line = [[100, 100], [300, 320], [500, 480]]
    seen = client.post("/api/lines", json=ask | {"lines": [line]}).get_json()
    assert len(seen["lines"][0]) == 3
    assert seen["curves"][0][12] == pytest.approx(seen["lines"][0][1])
    across, down = seen["lines"][0][1]
    back = client.post("/api/spot", json=ask | {"across": across, "down": down}).get_json()["spot"]
    # what is seen at that spot lies there or in front of it
    assert back is not None
    assert np.hypot(back["eastM"] - 300, back["northM"] - 320) < 200
