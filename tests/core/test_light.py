"""Sun, sky, air and exposure against almanacs, integrals and formulas."""

from __future__ import annotations

import datetime
import math
from types import SimpleNamespace

import ephem
import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from elvatch.core.document.light import Light, Mist
from elvatch.core.gloss import mirrored_share
from elvatch.core.ground.heightfield import Heightfield
from elvatch.core.ground.horizon import sky_view
from elvatch.core.light import harmonics, sky, sun
from elvatch.core.light.air import Air, air, lost_over, passed, usual_visibility_km
from elvatch.core.light.lighting import Lighting, lighting
from elvatch.core.light.spectrum import LUMINANCE
from elvatch.core.light.sun import direction
from elvatch.core.picture.lit import lit


@pytest.mark.parametrize(
    ("bearing", "height", "wanted"),
    [(0, 0, (0, 1, 0)), (90, 0, (1, 0, 0)), (180, 45, (0, -math.sqrt(0.5), math.sqrt(0.5))), (10, 90, (0, 0, 1))],
)
def test_bearings_are_a_compass(bearing: float, height: float, wanted: tuple[float, float, float]) -> None:
    assert direction(bearing, height) == pytest.approx(wanted, abs=1e-12)


@given(st.floats(0, 360), st.floats(0, 90))
def test_directions_have_length_one(bearing: float, height: float) -> None:
    assert math.hypot(*direction(bearing, height)) == pytest.approx(1)


def test_the_sun_stands_where_published_examples_have_it() -> None:
    # Reda & Andreas 2004, appendix: 17 October 2003, 19:30:30 UT, without refraction
    day = datetime.datetime(2003, 10, 17)
    bearing, height = sun.place_at(39.742476, -105.1786, day, 19 + 30 / 60 + 30 / 3600)
    assert bearing == pytest.approx(194.34024, abs=0.01)
    assert height == pytest.approx(39.872046, abs=0.01)
    # Meeus 1998, example 25.a: 13 October 1992, 0h: from the pole the height is the declination
    assert sun.place_at(90.0, 0.0, datetime.datetime(1992, 10, 13), 0.0)[1] == pytest.approx(-7.78507, abs=0.01)
    # the solstice of June 2000, 01:48 UT, at the mean obliquity
    assert sun.place_at(90.0, 0.0, datetime.datetime(2000, 6, 21), 1.8)[1] == pytest.approx(23.438, abs=0.01)


@pytest.mark.parametrize(
    ("latitude", "longitude", "moment"),
    [
        (54.0, 0.0, "2026-06-21 09:00"),
        (0.0, 37.0, "2026-03-20 15:30"),
        (-33.9, 18.4, "2025-12-21 06:00"),
        (64.1, -21.9, "2024-02-29 13:00"),
        (35.7, 139.7, "2030-09-01 03:15"),
        (-54.8, -68.3, "1999-08-11 16:45"),
    ],
)
def test_the_sun_stands_where_an_almanac_has_it(latitude: float, longitude: float, moment: str) -> None:
    there = ephem.Observer()
    there.lat, there.lon, there.pressure, there.date = str(latitude), str(longitude), 0, moment.replace("-", "/")
    body = ephem.Sun(there)
    at = datetime.datetime.fromisoformat(moment)
    day = datetime.datetime(at.year, at.month, at.day)
    bearing, height = sun.place_at(latitude, longitude, day, at.hour + at.minute / 60)
    assert height == pytest.approx(math.degrees(body.alt), abs=0.1)
    assert (bearing - math.degrees(body.az) + 180) % 360 - 180 == pytest.approx(0, abs=0.1)


def test_at_noon_it_stands_in_the_south_and_highest() -> None:
    day = datetime.date(2026, 3, 20)
    heights = [sun.place(50.0, day, hour)[1] for hour in np.arange(6, 18.01, 0.25)]
    assert np.argmax(heights) * 0.25 + 6 == pytest.approx(12, abs=0.26)
    assert max(heights) == pytest.approx(40.0, abs=0.3)
    assert sun.place(50.0, day, 12.1)[0] == pytest.approx(180, abs=3)


def whole_sky(made: sky.Sky, steps: int = 120) -> tuple[np.ndarray, np.ndarray, np.ndarray]:
    """Directions all over the sky, their solid angles, and the radiance from each, by plain midpoint sums."""
    z = (np.arange(steps) + 0.5) / steps
    turn = (np.arange(180) + 0.5) * math.pi / 90
    up, aside = (one.ravel() for one in np.meshgrid(z, turn, indexing="ij"))
    level = np.sqrt(1 - up * up)
    toward = np.stack([level * np.cos(aside), level * np.sin(aside), up], axis=1)
    weight = np.full(len(up), 2 * math.pi / len(up))
    return toward, weight, np.array([sky.radiance(made.table, *one) for one in toward])


@pytest.fixture(scope="module", params=[8.0, 35.0, 70.0])
def seen(request: pytest.FixtureRequest) -> SimpleNamespace:
    made = lighting(Light(sun_height_deg=request.param))
    toward, weight, radiance = whole_sky(made.sky)
    return SimpleNamespace(light=made, toward=toward, weight=weight, radiance=radiance)


def test_level_white_ground_sends_back_what_falls_over_pi(seen: SimpleNamespace) -> None:
    falls = (seen.radiance * (seen.weight * seen.toward[:, 2])[:, None]).sum(axis=0)
    falls += np.array(seen.light.sun_colour) * seen.light.sun[2]
    np.testing.assert_allclose(seen.light.level, falls, rtol=0.01)
    out, white = np.zeros(3, np.float32), np.ones(3, np.float32)
    # seen from straight above, rough: what its surface mirrors is taken off what it scatters
    lit(seen.light, white, 0.0, 1.0, 1.0, 1.0, 0.0, 0.0, 1.0, 0.0, 0.0, 1.0, out)
    scale, more = mirrored_share(1.0, 1.0)
    mirrors = 0.04 * scale + more
    lobe = out - falls / math.pi * (1 - mirrors)
    assert 0 < lobe.max() < 0.05 * falls.max() / math.pi
    sky_alone = seen.light._replace(sun_colour=(0.0, 0.0, 0.0))
    lit(sky_alone, white, 0.0, 1.0, 1.0, 0.0, 0.0, 0.0, 1.0, 0.0, 0.0, 1.0, out)
    np.testing.assert_allclose(out, np.array(seen.light.sky.level) / math.pi, rtol=0.01)


def test_what_falls_by_harmonics_is_what_an_integral_says(seen: SimpleNamespace) -> None:
    level = np.array(seen.light.sky.level).max()
    for normal in ((0, 0, 1), (0.6, 0, 0.8), (-0.6, 0, 0.8), (0, 0.8, 0.6), (1, 0, 0), (-1, 0, 0)):
        cosine = np.maximum(seen.toward @ np.array(normal), 0)
        wanted = (seen.radiance * (seen.weight * cosine)[:, None]).sum(axis=0)
        found = harmonics.irradiance(seen.light.sky.falling, *map(float, normal))
        np.testing.assert_allclose(found, wanted, atol=0.03 * level)


@pytest.mark.parametrize("side_deg", [20.0, 35.0, 45.0])
def test_a_valley_sees_the_share_of_the_sky_that_its_angle_leaves(side_deg: float) -> None:
    x = np.abs(np.linspace(-200, 200, 401))
    heights = np.tile((x * math.tan(math.radians(side_deg))).astype(np.float32), (401, 1))
    found = sky_view(Heightfield(heights, 400.0, 400.0))[200, 200]
    assert found == pytest.approx(math.cos(math.radians(side_deg)), rel=0.02)


def test_level_grey_is_shown_alike_whatever_the_light() -> None:
    for light in (
        Light(),
        Light(sun_height_deg=4),
        Light(sky=2.5, sun=0.3),
        Light(overcast=1.0),
        Light(sun_height_deg=-4),
    ):
        made = lighting(light)
        shown = np.dot(made.level, LUMINANCE) / math.pi * 0.18 * made.exposure
        assert shown == pytest.approx(0.28, rel=1e-6)
    assert lighting(Light(exposure_ev=1)).exposure == pytest.approx(2 * lighting(Light()).exposure)


def test_a_low_sun_is_warm_and_the_horizon_is_never_green() -> None:
    low, high = (np.array(lighting(Light(sun_height_deg=h)).sun_colour) for h in (6, 60))
    assert low[0] / low[2] > 2 * high[0] / high[2]
    assert (low < high).all()
    for height in (5, 15, 35, 60):
        made = lighting(Light(sun_height_deg=height))
        horizon, zenith = made.sky.table[0], made.sky.table[-1, 0]
        assert zenith[2] > 1.15 * zenith[0]
        assert (horizon[:, 1] < 1.06 * horizon[:, [0, 2]].max(axis=1)).all()


@pytest.mark.parametrize("height", [45.0, 60.0, 90.0])
def test_a_shadow_at_noon_is_several_times_darker_than_sun_and_bluish(height: float) -> None:
    made = lighting(Light(sun_height_deg=height))
    sky_alone = np.array(made.sky.level)
    ratio = np.dot(made.level, LUMINANCE) / np.dot(sky_alone, LUMINANCE)
    assert 4 < ratio < 12
    assert sky_alone[2] > sky_alone[0]


def test_cloud_takes_the_sun_and_leaves_an_even_grey() -> None:
    closed = lighting(Light(overcast=1.0, sun_height_deg=40))
    assert max(closed.sun_colour) == 0.0
    table = closed.sky.table
    assert table[-1, 0] / table[0, 0] == pytest.approx([3, 3, 3], rel=0.01)
    half = lighting(Light(overcast=0.5, sun_height_deg=40))
    clear = lighting(Light(sun_height_deg=40))
    assert half.sun_colour == pytest.approx(np.array(clear.sun_colour) / 2)


@given(st.floats(0.1, 500))
def test_a_black_thing_keeps_two_hundredths_at_the_visibility_told(km: float) -> None:
    made = air(Light(visibility_km=km, scale_height_m=1e5), 1000.0, 0.0)
    clear, misty = passed(made, 1.0, 1.0, km * 1000)
    assert misty == 0
    assert math.exp(-clear * made.takes[1]) == pytest.approx(0.02, rel=0.01)
    assert made.takes[2] > made.takes[1] > made.takes[0], "blue goes first"


@given(st.floats(-50, 400), st.floats(-50, 400), st.floats(1, 5000))
def test_the_way_through_air_and_mist_is_the_integral_of_their_density(start: float, end: float, way: float) -> None:
    made = air(
        Light(visibility_km=8, scale_height_m=120, mist=Mist(on=True, top_m=60, soft_m=15, visibility_m=300)),
        1000.0,
        0.0,
    )
    z = start + (end - start) * (np.arange(20_000) + 0.5) / 20_000
    clear = np.exp(-z / 120).mean() * way
    misty = np.where(z < 60, 1.0, np.exp(-np.maximum(z - 60, 0) / 15)).mean() * way * made.mist
    assert passed(made, start, end, way) == pytest.approx((clear, misty), rel=2e-3, abs=1e-6)


def test_over_a_site_the_usual_air_takes_little_whatever_its_size() -> None:
    for diagonal in (28.0, 570.0, 42_000.0):
        made: Air = air(Light(), diagonal, 0.0)
        lost = lost_over(made, 0.0, np.zeros(1, np.float32), np.full(1, diagonal, np.float32))
        assert 0 < lost[0] < 0.1
        assert usual_visibility_km(diagonal) == pytest.approx(max(80.0, diagonal / 1000 * 46.9), rel=0.01)


def test_a_light_is_worked_out_once() -> None:
    before = sky.clear.cache_info().misses
    first: Lighting = lighting(Light(sun_height_deg=33.25))
    again = lighting(Light(sun_height_deg=33.25, sun_bearing_deg=11, exposure_ev=2))
    assert again.sky is first.sky
    assert sky.clear.cache_info().misses <= before + 3
