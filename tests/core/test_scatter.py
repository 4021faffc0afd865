"""Plates and blades laid in a seamless square: where they lie, what hides what, and no seam."""

from __future__ import annotations

import math

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from elvatch.core.stock import scatter
from elvatch.core.stock.scatter import BLADE_NUMBERS, PlateStyle, Scattered, lay_blades, lay_plates

SIZE, PIXEL_M = 128, 0.01  # a square of 1.28 m


def floor() -> Scattered:
    return Scattered.floor(np.zeros((SIZE, SIZE), np.float32), PIXEL_M)


def blade(x: float, y: float, heading: float, length: float = 0.3, rise: float = 0.02) -> np.ndarray:
    numbers = np.zeros((1, BLADE_NUMBERS), np.float32)
    numbers[0] = (x, y, 0.0, length, heading, 0.0, 0.02, rise)
    return numbers


def plates(x: float, y: float, base: float) -> np.ndarray:
    style = PlateStyle(
        radius=0.2,
        stretch=1.0,
        along=None,
        tilt=0.0,
        dip=(0.0, 0.0),
        thickness=0.05,
        bevel=0.04,
        steep=0.5,
        warp=0.0,
        ridge=0.0,
        ledges=0,
    )
    return scatter.plates(np.random.default_rng(1), np.array([[x, y]]), np.array([base]), style)


@given(heading=st.floats(-math.pi, math.pi), x=st.floats(0, 1.28), y=st.floats(0, 1.28))
def test_a_straight_blade_lies_along_its_heading_and_wraps(heading: float, x: float, y: float) -> None:
    bed = floor()
    lay_blades(bed, blade(x, y, heading), first=5)
    rows, cols = np.nonzero(bed.owner == 5)
    assert len(rows) > 20
    side = SIZE * PIXEL_M
    ahead = bed.inner[rows, cols] * 0.3
    for place, start, step in ((cols, x, math.cos(heading)), (rows, y, math.sin(heading))):
        away = (place + 0.5) * PIXEL_M - (start + ahead * step)
        away -= np.round(away / side) * side
        assert np.abs(away).max() < 0.035  # half its width, a step along it and a pixel's corner


def test_a_blade_rises_from_the_root_to_its_arch_and_falls_again() -> None:
    bed = floor()
    lay_blades(bed, blade(0.3, 0.6, 0.0), first=0)
    spine = bed.height[60, 30:58]
    top = int(spine.argmax())
    assert spine.max() == pytest.approx(0.02, rel=0.1)
    assert 0.5 < top / len(spine) < 0.75
    assert (np.diff(spine[: top - 1]) > 0).all()


def test_the_higher_one_hides_the_lower_whatever_the_order() -> None:
    low, high = plates(0.6, 0.6, 0.0), plates(0.6, 0.6, 0.2)
    first, second = floor(), floor()
    lay_plates(first, low, 0)
    lay_plates(first, high, 1)
    lay_plates(second, high, 1)
    lay_plates(second, low, 0)
    np.testing.assert_array_equal(first.height, second.height)
    np.testing.assert_array_equal(first.owner, second.owner)
    assert first.owner[60, 60] == 1
    assert first.owner[5, 5] == -1


@given(shift=st.tuples(st.integers(0, SIZE - 1), st.integers(0, SIZE - 1)))
def test_a_plate_moved_by_whole_pixels_is_the_same_picture_rolled(shift: tuple[int, int]) -> None:
    here, there = floor(), floor()
    stone = plates(0.5, 0.5, 0.0)
    lay_plates(here, stone, 0)
    moved = plates((0.5 + shift[1] * PIXEL_M) % 1.28, (0.5 + shift[0] * PIXEL_M) % 1.28, 0.0)
    lay_plates(there, moved, 0)
    rolled = np.roll(here.height, shift, axis=(0, 1))
    # single precision may tip a pixel on the very outline over
    assert (np.abs(rolled - there.height) > 2e-3).sum() <= 6


def test_plates_stay_inside_their_reach_and_slope_down_at_the_rim() -> None:
    bed = floor()
    stone = plates(0.64, 0.64, 0.0)
    lay_plates(bed, stone, 0)
    rows, cols = np.nonzero(bed.owner == 0)
    away = np.hypot((rows + 0.5) * PIXEL_M - 0.64, (cols + 0.5) * PIXEL_M - 0.64)
    assert 0.1 < away.max() < 0.45
    inside = bed.inner[rows, cols]
    rim, middle = inside < 0.01, inside > np.quantile(inside, 0.8)
    assert bed.height[rows, cols][rim].mean() < bed.height[rows, cols][middle].mean()
