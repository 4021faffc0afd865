"""Measures of a ground against shapes whose measures are known, and against SciPy."""

from __future__ import annotations

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from scipy import ndimage

from elvatch.core import noise
from elvatch.core.ground import curvature, horizon, relative, slope
from elvatch.core.ground.heightfield import Heightfield
from elvatch.core.ground.measures import KINDS, NAMES, Measures, named
from elvatch.core.ground.shaped import Shaped, Traces
from elvatch.core.refusal import RefusalError
from tests.conftest import plane
from tests.core.shapes import ground_of, places

INNER = (slice(2, -2), slice(2, -2))


@given(tilt=st.floats(0, 80), bearing=st.floats(0, 360))
def test_a_tilted_plane_measures_its_tilt_everywhere(tilt: float, bearing: float) -> None:
    steep = slope.slope_deg(slope.gradient(plane(tilt, bearing)))
    assert np.abs(steep - tilt).max() < 0.01


def test_twenty_degrees_are_twenty_degrees_with_oblong_cells() -> None:
    x = np.linspace(0, 300, 61)
    heights = np.tile(x * np.tan(np.radians(20.0)), (41, 1)).astype(np.float32)
    steep = slope.slope_deg(slope.gradient(Heightfield(heights, 300.0, 80.0)))
    assert np.abs(steep - 20.0).max() < 0.01


def test_gradient_points_uphill_east_and_north() -> None:
    east = slope.gradient(plane(30, 90))[10, 10]
    north = slope.gradient(plane(30, 0))[10, 10]
    np.testing.assert_allclose(east, [np.tan(np.pi / 6), 0], atol=1e-4)
    np.testing.assert_allclose(north, [0, np.tan(np.pi / 6)], atol=1e-4)


def test_gradient_is_that_of_scipy() -> None:
    heights = noise.periodic(64, 4, 3) * 20
    ours = slope.gradient(Heightfield(heights, 63.0, 63.0))[1:-1, 1:-1]
    # Horn's weights are Sobel's over eight
    np.testing.assert_allclose(ours[..., 0], ndimage.sobel(heights, 1)[1:-1, 1:-1] / 8, atol=1e-5)
    np.testing.assert_allclose(ours[..., 1], -ndimage.sobel(heights, 0)[1:-1, 1:-1] / 8, atol=1e-5)


@given(bearing=st.floats(0, 359.9), tilt=st.floats(1, 70))
def test_a_plane_faces_away_from_where_it_rises(bearing: float, tilt: float) -> None:
    facing = slope.aspect_deg(slope.gradient(plane(tilt, bearing)))[20, 30]
    assert abs((facing - bearing - 180 + 180) % 360 - 180) < 0.1


def test_level_ground_faces_nowhere() -> None:
    assert (slope.aspect_deg(slope.gradient(plane(0))) == slope.LEVEL).all()


@pytest.mark.parametrize("kind", ["profile", "plan", "mean"])
@pytest.mark.parametrize("sign", [1, -1])
def test_a_sphere_bends_by_one_over_its_radius_everywhere(kind: curvature.Kind, sign: int) -> None:
    radius = 150.0
    dome = ground_of(lambda x, y: sign * np.sqrt(radius**2 - x * x - y * y))
    bend = curvature.curvature(dome, kind)
    np.testing.assert_allclose(bend[INNER], sign / radius, rtol=0.02)


def test_a_plane_bends_nowhere_and_a_saddle_both_ways() -> None:
    assert np.abs(curvature.curvature(plane(25, 40), "mean")).max() < 1e-5
    # z = a (x^2 - y^2): along the x axis the way down is along x, hollow; across it the ground is convex
    a = 0.002
    saddle = ground_of(lambda x, y: a * (x * x - y * y))
    x, _ = places()
    rise = 2 * a * x[64]
    along = curvature.curvature(saddle, "profile")[64]
    across = curvature.curvature(saddle, "plan")[64]
    np.testing.assert_allclose(along[70:-2], (-2 * a / (1 + rise**2) ** 1.5)[70:-2], rtol=0.01)
    np.testing.assert_allclose(across[70:-2], (2 * a / (1 + rise**2) ** 0.5)[70:-2], rtol=0.01)


def test_a_cone_is_straight_along_its_way_down_and_round_across_it() -> None:
    steep = 0.5
    cone = ground_of(lambda x, y: -steep * np.hypot(x, y))
    x, _ = places()
    away = x[64][80:-2]
    assert np.abs(curvature.curvature(cone, "profile")[64, 80:-2]).max() < 2e-4
    expected = steep / away / np.sqrt(1 + steep**2)
    np.testing.assert_allclose(curvature.curvature(cone, "plan")[64, 80:-2], expected, rtol=0.02)
    np.testing.assert_allclose(
        slope.slope_deg(slope.gradient(cone))[64, 80:-2], np.degrees(np.arctan(steep)), atol=0.05
    )


def test_sky_is_whole_on_a_plane_and_narrow_in_a_pit() -> None:
    assert horizon.sky_view(plane(0)).min() == pytest.approx(1.0)
    pit = np.full((129, 129), 40.0, np.float32)
    pit[54:75, 54:75] = 0
    seen = horizon.sky_view(Heightfield(pit, 128.0, 128.0))[64, 64]
    assert 0.03 < seen < 0.15


def test_openness_is_ninety_on_a_plane_and_known_in_a_valley() -> None:
    # away from the border every look uphill has one downhill against it
    open_plane = horizon.openness_deg(plane(20, 30, samples=129, size_m=128), 30.0)
    np.testing.assert_allclose(open_plane[40:-40, 40:-40], 90.0, atol=0.3)
    rise = np.tan(np.radians(35))
    valley = ground_of(lambda x, y: rise * np.abs(x))
    bottom = horizon.openness_deg(valley, 40.0)[64, 64]
    bearings = 2 * np.pi * np.arange(8) / 8
    expected = 90 - np.degrees(np.arctan(rise * np.abs(np.cos(bearings)))).mean()
    assert bottom == pytest.approx(expected, abs=1.5)
    ridge = Heightfield(-valley.heights_m, 128.0, 128.0)
    assert horizon.openness_deg(ridge, 40.0)[64, 64] == pytest.approx(180 - expected, abs=1.5)


def test_relative_height_is_that_over_a_disc() -> None:
    rough = Heightfield((noise.periodic(96, 6, 3) * 30).astype(np.float32), 95.0, 95.0)
    radius = 9.0
    steps = np.arange(-9, 10)
    disc = (np.hypot(*np.meshgrid(steps, steps)) <= radius).astype(float)
    mean = ndimage.convolve(rough.heights_m.astype(float), disc / disc.sum())
    ours = relative.relative_height(rough, radius)
    np.testing.assert_allclose(ours[10:-10, 10:-10], (rough.heights_m - mean)[10:-10, 10:-10], atol=1e-3)
    tilted = relative.relative_height(plane(30, 70, samples=129, size_m=128), 12.0)
    assert np.abs(tilted[14:-14, 14:-14]).max() < 1e-2


def test_every_measure_is_made_once_in_floats_and_remembered() -> None:
    hills = Heightfield((noise.periodic(64, 4, 3) * 20).astype(np.float32), 63.0, 63.0)
    left = Traces(*(np.full_like(hills.heights_m, k) for k in (1, 2, 3)))
    measures = Measures(Shaped(hills, left))
    for name in NAMES:
        values = measures.map(name)
        assert values.dtype == np.float32, name
        assert values.shape == (64, 64), name
        assert np.isfinite(values).all(), name
        assert measures.map(name) is values, name
    assert [measures.map(name)[5, 5] for name in ("worn", "dropped", "flow")] == [1, 2, 3]
    assert not np.array_equal(measures.map("relative-height", 5.0), measures.map("relative-height"))
    assert set(KINDS) == set(NAMES)
    with pytest.raises(RefusalError, match="expected one of elevation, slope"):
        named("steepness")


@given(st.integers(9, 150), st.integers(9, 40), st.integers(0, 99))
def test_slopes_by_bands_are_those_of_the_whole_padded_ground(rows: int, cols: int, seed: int) -> None:
    heights = np.random.default_rng(seed).normal(size=(rows, cols)).astype(np.float32)
    ground = Heightfield(heights, 3.0 * (cols - 1), 2.0 * (rows - 1))
    padded = slope.pad_straight_on(heights)
    east = (padded[:-2, 2:] + 2 * padded[1:-1, 2:] + padded[2:, 2:]) - (
        padded[:-2, :-2] + 2 * padded[1:-1, :-2] + padded[2:, :-2]
    )
    found = slope.gradient(ground)
    np.testing.assert_allclose(found[..., 0], east / 24.0, atol=1e-5)
    np.testing.assert_array_equal(slope.steepness_of(ground), slope.slope_deg(found))
