"""Measures of a ground against shapes whose slope is known."""

from __future__ import annotations

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from scipy import ndimage

from elvatch.core import noise
from elvatch.core.ground import measure, rivers
from elvatch.core.ground.heightfield import Heightfield
from tests.conftest import plane


@given(tilt=st.floats(0, 80), bearing=st.floats(0, 360))
def test_a_tilted_plane_measures_its_tilt_everywhere(tilt: float, bearing: float) -> None:
    slope = measure.slope_deg(measure.gradient(plane(tilt, bearing)))
    assert np.abs(slope - tilt).max() < 0.01


def test_twenty_degrees_are_twenty_degrees_with_oblong_cells() -> None:
    x = np.linspace(0, 300, 61)
    heights = np.tile(x * np.tan(np.radians(20.0)), (41, 1)).astype(np.float32)
    slope = measure.slope_deg(measure.gradient(Heightfield(heights, 300.0, 80.0)))
    assert np.abs(slope - 20.0).max() < 0.01


def test_gradient_points_uphill_east_and_north() -> None:
    east = measure.gradient(plane(30, 90))[10, 10]
    north = measure.gradient(plane(30, 0))[10, 10]
    rise = np.tan(np.radians(30))
    assert east == pytest.approx([rise, 0], abs=1e-4)
    assert north == pytest.approx([0, rise], abs=1e-4)


def test_gradient_is_horns_away_from_the_border() -> None:
    heights = (noise.periodic(64, 4, 3) * 20).astype(np.float32)
    ours = measure.gradient(Heightfield(heights, 63.0, 63.0))[1:-1, 1:-1]
    east = ndimage.sobel(heights.astype(np.float64), axis=1)[1:-1, 1:-1] / 8
    north = -ndimage.sobel(heights.astype(np.float64), axis=0)[1:-1, 1:-1] / 8
    np.testing.assert_allclose(ours[..., 0], east, atol=1e-4)
    np.testing.assert_allclose(ours[..., 1], north, atol=1e-4)


def test_the_sky_is_whole_on_a_plain_and_partly_hidden_in_a_pit() -> None:
    assert measure.sky_view(plane(0)).min() == pytest.approx(1.0)
    steps = np.linspace(-1, 1, 129)
    x, y = np.meshgrid(steps, steps)
    pit = (np.minimum(np.hypot(x, y), 1) * 64).astype(np.float32)  # a cone of 45 degrees, point down
    seen = measure.sky_view(Heightfield(pit, 128.0, 128.0))[64, 64]
    # in every direction the horizon stands at 45 degrees: cos^2 45 of the sky is left
    assert seen == pytest.approx(0.5, abs=0.03)


def test_rivers_leave_no_place_below_its_way_out() -> None:
    rough = Heightfield((noise.periodic(65, 4, 9) * 30 + 100).astype(np.float32), 640.0, 640.0)
    lift = np.full(rough.heights_m.shape, 0.2, np.float32)
    carved = rivers.carve(rough, 0.05, 30, lift).heights_m
    inner = carved[1:-1, 1:-1]
    lowest_neighbour = ndimage.minimum_filter(carved, size=3)[1:-1, 1:-1]
    pits = np.count_nonzero(lowest_neighbour >= inner)
    assert pits == 0
    assert np.array_equal(carved[0], rough.heights_m[0]), "the border is where water leaves and stays"
