"""Sun, sky and exposure."""

from __future__ import annotations

import math

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from elvatch.core.document.light import Light
from elvatch.core.picture.light import direction, lighting


@pytest.mark.parametrize(
    ("bearing", "height", "wanted"),
    [(0, 0, (0, 1, 0)), (90, 0, (1, 0, 0)), (180, 45, (0, -math.sqrt(0.5), math.sqrt(0.5))), (10, 90, (0, 0, 1))],
)
def test_bearings_are_a_compass(bearing: float, height: float, wanted: tuple[float, float, float]) -> None:
    assert direction(bearing, height) == pytest.approx(wanted, abs=1e-12)


@given(st.floats(0, 360), st.floats(0, 90))
def test_directions_have_length_one(bearing: float, height: float) -> None:
    assert math.hypot(*direction(bearing, height)) == pytest.approx(1)


@given(st.floats(2, 90), st.floats(0, 4))
def test_level_grey_is_shown_alike_whatever_the_light(height: float, sky: float) -> None:
    made = lighting(Light(sun_height_deg=height, sky=sky))
    falling = np.array(made.sun_colour) * made.sun[2] + np.array(made.sky)
    shown = falling @ [0.2126, 0.7152, 0.0722] / math.pi * 0.18 * made.exposure
    assert shown == pytest.approx(0.38, rel=1e-6)


def test_a_low_sun_is_warmer_and_weaker_than_a_high_one() -> None:
    low, high = (lighting(Light(sun_height_deg=h)).sun_colour for h in (6, 60))
    assert low[0] / low[2] > 2 * high[0] / high[2]
    assert all(a < b for a, b in zip(low, high, strict=True))


def test_the_sun_is_several_times_the_sky_and_shadows_are_bluish() -> None:
    made = lighting(Light(sun_height_deg=35))
    sun = np.array(made.sun_colour) * made.sun[2]
    assert 3 < (sun / np.array(made.sky)).mean() < 9
    assert made.sky[2] > made.sky[0]


def test_exposure_is_in_stops_and_mist_only_thickens() -> None:
    plain, brighter = lighting(Light()), lighting(Light(exposure_ev=1))
    assert brighter.exposure == pytest.approx(2 * plain.exposure)
    haze = [lighting(Light(mist=m)).haze_per_m for m in (0, 0.25, 0.5, 1)]
    assert haze == sorted(haze)
    assert math.exp(-haze[0] * 1000) > 0.9, "a clear day is clear at a kilometre"
    assert math.exp(-haze[-1] * 1000) < 0.01, "thick mist hides it"
