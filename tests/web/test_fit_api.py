"""Fit and relief over the web: what is shown, what is measured, what is refused."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path
from typing import Any

import imagecodecs
import numpy as np
import pytest
import tifffile
from flask.testing import FlaskClient

from elvatch.app.workshop import Workshop
from elvatch.core.document import begin_sheet
from elvatch.core.picture import ramp
from elvatch.core.picture.modes import LEGENDS
from elvatch.web.app import create_app
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


def ask(client: FlaskClient, path: str, site: dict[str, Any], **parts: object) -> dict[str, Any]:
    answer = client.post(path, json={"recipe": site["recipe"]} | parts)
    assert answer.status_code == 200, answer.get_json()
    found: dict[str, Any] = answer.get_json()
    return found


def test_relief_about_the_peg_is_that_of_the_set_and_of_the_cut(client: FlaskClient, site: dict[str, Any]) -> None:
    fit = site["recipe"]["layers"][0]["fit"]
    fit |= {"relief_m": 0.2, "relief_mid": 0.5, "repeats": {"kind": "none"}}
    found = ask(client, "/api/relief", site, limit_m=0.05)
    # the ripple takes 40000 of 65535 steps of height, evenly about its middle
    most = 0.2 * 20000 / 65535
    assert found["highestM"] == pytest.approx(most, rel=0.02)
    assert found["lowestM"] == pytest.approx(-most, rel=0.02)
    assert found["shareAbove"] == pytest.approx(np.arccos(0.05 / most) / np.pi, abs=0.02)
    cut = ask(client, "/api/boot-cut", site, bearing_deg=90, length_m=4)
    relief = np.array(cut["surfaceM"]) - np.array(cut["groundM"])
    assert relief.max() == pytest.approx(most, rel=0.1)
    assert cut["standM"] - np.interp(cut["pegAtM"], cut["distanceM"], cut["groundM"]) == pytest.approx(
        found["standM"], abs=2e-3
    )
    assert set(cut["layer"]) == {0}


def test_a_set_replaced_on_the_steep_planes_alone_is_seen_at_once(
    client: FlaskClient, site: dict[str, Any], workshop: Workshop
) -> None:
    """Pictures are kept under the content of all of a layer's sets, not only of its first."""
    put_set(workshop.store, 0.8, "Chalk", 64, 2.0)
    layer = site["recipe"]["layers"][0]
    layer["fit"] |= {"projection": "triplanar", "plane_edge": 2, "steep_set": workshop.store.stock.find("Chalk")}
    shown = picture(client, site["recipe"], mode="colour", stand="far")
    layer["fit"]["steep_set"] = None
    plain = picture(client, site["recipe"], mode="colour", stand="far")
    assert (np.abs(shown - plain).max(axis=2) > 3).mean() > 0.05
    layer["fit"]["steep_set"] = "e" * 40
    answer = client.post("/api/cover-facts", json={"recipe": site["recipe"]})
    assert answer.status_code == 422
    assert "a texture set that is not in the stock" in answer.get_json()["message"]


def test_repetition_is_told_before_and_after(client: FlaskClient, site: dict[str, Any]) -> None:
    before = ask(client, "/api/repetition", site, layer=0)
    assert before["farBefore"] == pytest.approx(before["farAfter"], abs=1e-9)
    answer = client.post("/api/repetition", json={"recipe": site["recipe"], "layer": 5})
    assert answer.status_code == 422
    assert "expected 0 to 0" in answer.get_json()["message"]


@pytest.mark.parametrize("mode", ["stretch", "density"])
def test_a_measured_mode_has_the_colour_of_its_legend_at_the_value_under_the_pointer(
    client: FlaskClient, site: dict[str, Any], mode: str
) -> None:
    shown = picture(client, site["recipe"], mode=mode, stand="far")
    wanted = {"recipe": site["recipe"], "stand": "far", "width_px": shown.shape[1], "height_px": shown.shape[0]}
    at = (0.5, 0.62)
    answer = client.post("/api/spot", json=wanted | {"across": at[0], "down": at[1], "fit": True}).get_json()
    value = answer["fit"][mode]
    legend = LEGENDS[mode]  # type: ignore[index]
    place = float(ramp.positions(np.array([value], np.float32), legend.scale, legend.low, legend.high)[0])
    strip = imagecodecs.png_decode(client.get(f"/api/legends/{mode}.png").data)
    colour = strip[4, round(place * 255)].astype(int)
    here = shown[int(at[1] * shown.shape[0]), int(at[0] * shown.shape[1])]
    assert np.abs(here - colour).max() <= 6
    told = client.get("/api/legends").get_json()[mode]
    assert (told["low"], told["high"], told["unit"]) == (legend.low, legend.high, legend.unit)
    assert client.get("/api/legends/lit.png").status_code == 422


def test_a_tile_larger_than_any_ground_is_refused_with_its_reason(client: FlaskClient, site: dict[str, Any]) -> None:
    recipe = site["recipe"]
    recipe["layers"][0]["fit"]["tile_m"] = 1e9
    answer = client.put(
        f"/api/sites/{site['id']}/recipe", json={"base": site["revision"], "label": "x", "recipe": recipe}
    )
    assert answer.status_code == 422
    assert "less than or equal to 10000" in answer.get_json()["message"]


def test_heights_are_handed_off_as_floats_in_metres(
    client: FlaskClient, site: dict[str, Any], workshop: Workshop
) -> None:
    recipe = site["recipe"]
    recipe["layers"][0]["fit"] |= {"relief_m": 0.5, "relief_mid": 0.0}
    sheet = begin_sheet.plain(("height", "relief", "normal"), 96, float_heights=True)
    recipe["sheets"] = [sheet.model_dump(mode="json")]
    edited(client, site, recipe)
    state = workshop.store.sites.state(site["id"])
    told = workshop.handoffs.write(state, "plain")
    folder = Path(told.path)
    relief = tifffile.imread(next(folder.glob("*_relief.tif")))
    height = tifffile.imread(next(folder.glob("*_height.tif")))
    assert relief.dtype == height.dtype == np.float32
    land = workshop.grounds.land(state.recipe.ground).ground
    assert height.min() > land.lowest_m - 1
    assert float(relief.max()) <= 0.5
    with tifffile.TiffFile(next(folder.glob("*_height.tif"))) as file:
        assert "height, m: elevation of the ground with relief" in file.pages.first.description
    lines = client.post(f"/api/sites/{site['id']}/sheet", json={"recipe": recipe, "sheet": "plain"}).get_json()
    assert [(one["id"], one["widthPx"]) for one in lines["entries"]] == [
        ("height", 96),
        ("relief", 96),
        ("normal", 96),
    ]
    assert lines["diskBytes"] >= 2 * height.nbytes


def test_near_shows_shape_and_far_does_not_change_with_relief(client: FlaskClient, site: dict[str, Any]) -> None:
    """More relief moves edges in Near; in Far, where it is smaller than a pixel, only shading may change."""
    flat, raised = dict(site["recipe"]), dict(site["recipe"])
    layer = site["recipe"]["layers"][0]
    look = layer["look"] | {"normal_strength": 0.0, "variation": 0.0}
    flat["layers"] = [layer | {"look": look, "fit": layer["fit"] | {"relief_m": 0.0}}]
    raised["layers"] = [layer | {"look": look, "fit": layer["fit"] | {"relief_m": 0.6}}]
    near = [picture(client, one, stand="near", width_px=130, height_px=180) for one in (flat, raised)]
    far = [picture(client, one, stand="far", width_px=130, height_px=180) for one in (flat, raised)]
    assert (np.abs(near[0] - near[1]).max(axis=2) > 8).mean() > 0.04
    np.testing.assert_array_equal(far[0], far[1])
