"""Stands: where the eye goes, what it looks at, and that it never sinks into the ground."""

from __future__ import annotations

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from scipy import ndimage

from elvatch.core import noise
from elvatch.core.document.recipe import Peg, Stand
from elvatch.core.ground import places
from elvatch.core.ground.heightfield import Heightfield
from elvatch.core.ground.survey import ground_at, survey
from elvatch.core.picture import camera
from tests.conftest import plane

HILLS = Heightfield((noise.periodic(65, 3, 4) * 25 + 60).astype(np.float32), 300.0, 200.0)


@given(st.floats(0, 360), st.floats(5, 88), st.floats(60, 5000), st.floats(10, 90))
def test_a_stand_looks_at_its_target_from_its_distance(
    bearing: float, tilt: float, distance: float, view: float
) -> None:
    stand = Stand(bearing_deg=bearing, tilt_deg=tilt, distance_m=distance, view_deg=view)
    target = (50.0, 50.0, 50.0)
    eye = camera.from_stand(stand, target, 300, 200, plane(0))
    away = np.array(target) - [eye.eye_x, eye.eye_y, eye.eye_z]
    assert np.linalg.norm(away) == pytest.approx(distance, rel=1e-6)
    assert camera.project(eye, target) == pytest.approx((0.5, 0.5), abs=1e-9)
    # looking north means the eye stands south
    assert away[1] == pytest.approx(np.cos(np.radians(bearing)) * np.cos(np.radians(tilt)) * distance, abs=1e-6)
    half = np.tan(np.radians(view) / 2)
    top = np.array([eye.forward_x + eye.up_x, eye.forward_y + eye.up_y, eye.forward_z + eye.up_z])
    forward = np.array([eye.forward_x, eye.forward_y, eye.forward_z])
    assert np.linalg.norm(top - forward) == pytest.approx(half, rel=1e-6)
    assert eye.pixel == pytest.approx(2 * half / 200)


@given(st.floats(0, 300), st.floats(0, 200), st.floats(0, 360), st.floats(-30, 10), st.floats(0.3, 60))
def test_the_eye_stays_above_the_ground(x: float, y: float, bearing: float, tilt: float, distance: float) -> None:
    stand = Stand(bearing_deg=bearing, tilt_deg=tilt, distance_m=distance)
    eye = camera.from_stand(stand, (x, y, HILLS.elevation_at(x, y)), 100, 100, HILLS)
    if 0 <= eye.eye_x <= 300 and 0 <= eye.eye_y <= 200:
        assert eye.eye_z >= HILLS.elevation_at(eye.eye_x, eye.eye_y) + 0.249


def test_mid_and_near_look_beside_the_figure() -> None:
    ground = plane(0)
    near = Stand(bearing_deg=0, tilt_deg=10, distance_m=5)
    eye = camera.from_stand(near, camera.peg_target(near, Peg(east_m=50, north_m=50), ground), 200, 300, ground)
    figure = camera.project(eye, (50.0, 50.0, 50.9))
    assert figure is not None
    assert 0.55 < figure[0] < 0.85, "the figure stands right of the middle"
    assert 0.2 < figure[1] < 0.8
    assert camera.project(eye, (50.0, 30.0, 50.0)) is None, "behind the eye"


@given(st.floats(0, 300), st.floats(0, 200))
def test_the_ground_between_samples_is_bilinear(x: float, y: float) -> None:
    land = survey(HILLS)
    at = [[(200 - y) / HILLS.cell_y_m], [x / HILLS.cell_x_m]]
    found = ground_at(land, x, y)
    for value, grid in zip(
        found, (land.heights, land.gradient[..., 0], land.gradient[..., 1], land.sky), strict=True
    ):
        wanted = ndimage.map_coordinates(grid.astype(np.float64), at, order=1, mode="nearest")[0]
        assert value == pytest.approx(wanted, abs=1e-4)
    assert HILLS.elevation_at(x, y) == pytest.approx(found[0], abs=1e-4)


def test_places_beyond_the_border_take_the_nearest_edge() -> None:
    assert HILLS.elevation_at(-50, 230) == pytest.approx(float(HILLS.heights_m[0, 0]), abs=1e-4)
    assert ground_at(survey(HILLS), 999.0, -9.0)[0] == pytest.approx(float(HILLS.heights_m[-1, -1]), abs=1e-4)


def test_a_grid_of_texels_covers_the_ground_from_north_to_south() -> None:
    land = survey(HILLS)
    whole = places.on_grid(land, 30, 20, 0, 20)
    assert (whole.x_m[0], whole.y_m[0]) == pytest.approx((5.0, 195.0))
    assert (whole.x_m[-1], whole.y_m[-1]) == pytest.approx((295.0, 5.0))
    assert (whole.across_m == 10).all()
    part = places.on_grid(land, 30, 20, 7, 11)
    for of_whole, of_part in zip(map(np.asarray, whole), part, strict=True):
        np.testing.assert_array_equal(of_whole[7 * 30 : 11 * 30], of_part)
    settled = places.on_ground(land, whole.x_m, whole.y_m, 10.0)
    for one, other in zip(whole, settled, strict=True):
        np.testing.assert_array_equal(one, other)
    picked = places.some(whole, np.array([3, 599, 3]))
    assert picked.elevation_m.tolist() == whole.elevation_m[[3, 599, 3]].tolist()
