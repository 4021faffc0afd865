"""Noise: seamless, even, the same every time, and nothing outside its range."""

from __future__ import annotations

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from elvatch.core import noise
from elvatch.core.stock import scatter


@given(st.floats(-1e4, 1e4), st.floats(-1e4, 1e4), st.integers(1, 40), st.integers(0, 10**6))
def test_a_period_is_a_period(x: float, y: float, period: int, seed: int) -> None:
    here = noise.fractal_noise(x, y, seed, period, 4, 0.5)
    assert noise.fractal_noise(x + period, y, seed, period, 4, 0.5) == pytest.approx(here, abs=1e-6)
    assert noise.fractal_noise(x, y - period, seed, period, 4, 0.5) == pytest.approx(here, abs=1e-6)
    assert -1.3 < here < 1.3


@given(st.integers(-1000, 1000), st.integers(-1000, 1000), st.integers(0, 99))
def test_gradient_noise_is_zero_on_its_lattice_and_smooth_between(x: int, y: int, seed: int) -> None:
    assert noise.gradient_noise(float(x), float(y), seed, 0) == pytest.approx(0, abs=1e-12)
    a, b = (noise.gradient_noise(x + 0.3, y + 0.6 + step, seed, 0) for step in (0, 1e-5))
    assert abs(a - b) < 1e-4


def test_hashes_are_even() -> None:
    values = [noise.hash_cell(x, y, 5) / 2**32 for x in range(100) for y in range(100)]
    counts, _ = np.histogram(values, bins=20, range=(0, 1))
    # chi squared with 19 degrees of freedom stays below 44 with 99.9%
    assert ((counts - 500) ** 2 / 500).sum() < 44


def test_fields_have_the_feature_size_asked_for() -> None:
    for cells in (4, 16):
        field = noise.periodic(128, cells, 3, octaves=1)
        spectrum = np.abs(np.fft.rfft2(field)) ** 2
        rows = np.abs(np.fft.fftfreq(128, 1 / 128))[:, None]
        cols = np.fft.rfftfreq(128, 1 / 128)[None, :]
        mean_frequency = (spectrum * np.hypot(rows, cols)).sum() / spectrum.sum()
        assert 0.4 * cells < mean_frequency < 1.2 * cells
        assert abs(field.mean()) < 0.1


def plate(x: float, y: float, z: float, tilt: float = 0.0) -> np.ndarray:
    style = scatter.PlateStyle(
        radius=0.2,
        stretch=1.0,
        along=0.0,
        tilt=0.0,
        dip=(tilt, 0.0),
        thickness=0.0,
        bevel=0.01,
        steep=1.0,
        warp=0.0,
        ridge=0.0,
        ledges=0,
    )
    return scatter.plates(np.random.default_rng(1), np.array([[x, y]]), np.array([z]), style)


def bed(size: int = 100) -> scatter.Scattered:
    return scatter.Scattered.floor(np.zeros((size, size), np.float32), 1.0 / size)


def test_a_plate_over_the_border_comes_in_on_the_other_side() -> None:
    middle, corner = bed(), bed()
    scatter.lay_plates(middle, plate(0.5, 0.5, 0.1), 0)
    scatter.lay_plates(corner, plate(0.0, 0.0, 0.1), 0)
    assert (middle.owner >= 0).sum() > 500
    np.testing.assert_array_equal(np.roll(corner.owner, (50, 50), (0, 1)), middle.owner)
    np.testing.assert_allclose(np.roll(corner.height, (50, 50), (0, 1)), middle.height, atol=1e-5)


def test_the_higher_plate_wins_in_either_order() -> None:
    one, other = bed(), bed()
    low, high = plate(0.45, 0.5, 0.1), plate(0.55, 0.5, 0.2)
    scatter.lay_plates(one, low, 0)
    scatter.lay_plates(one, high, 1)
    scatter.lay_plates(other, high, 1)
    scatter.lay_plates(other, low, 0)
    np.testing.assert_array_equal(one.height, other.height)
    np.testing.assert_array_equal(one.owner, other.owner)
    assert one.owner[50, 55] == 1
    assert set(np.unique(one.owner)) == {-1, 0, 1}


def test_a_tilted_plate_is_a_plane_inside_its_bevel() -> None:
    laid = bed()
    scatter.lay_plates(laid, plate(0.5, 0.5, 0.5, tilt=0.3), 0)
    rows, cols = np.nonzero(laid.inner > 0.03)
    wanted = 0.5 + 0.3 * (cols / 100 - 0.5)
    np.testing.assert_allclose(laid.height[rows, cols], wanted, atol=1e-5)


def test_a_blade_rises_and_falls_along_its_length() -> None:
    laid = bed(200)
    # x, y, z, length, heading, bend, width, rise
    scatter.lay_blades(laid, np.array([[0.2, 0.5, 0.0, 0.5, 0.0, 0.0, 0.02, 0.1]], np.float32), 7)
    along = laid.height[100, 44:138]
    assert laid.owner[100, 90] == 7
    top = int(along.argmax())
    assert 0.5 < top / len(along) < 0.75, "highest at about three fifths of its length"
    assert along[top] == pytest.approx(0.1, abs=0.01)
    assert (laid.owner[:60] == -1).all(), "it stays straight"


@given(st.integers(0, 99), st.floats(0.01, 3.0), st.integers(1, 4))
def test_octaves_at_many_places_are_those_of_each(seed: int, step: float, octaves: int) -> None:
    x = np.asarray(np.arange(40) * step - 7.3, np.float64)
    y = np.asarray(np.arange(40) * step * 0.31 + 2.2, np.float64)
    found = np.zeros(40)
    noise.add_octaves(x, y, 40, seed, octaves, 0.6, found)
    wanted = [noise.fractal_noise(a, b, seed, 0, octaves, 0.6) for a, b in zip(x, y, strict=True)]
    np.testing.assert_allclose(found, wanted, atol=1e-12)
