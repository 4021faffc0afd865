"""A site as a place: water, what lies beyond the edge, air by the site's size, no specks."""

from __future__ import annotations

import math

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from elvatch.core import noise
from elvatch.core.cover.material import Material
from elvatch.core.document.light import Light
from elvatch.core.document.recipe import Peg, Recipe, Stand, Stands
from elvatch.core.document.water import Water
from elvatch.core.ground.heightfield import Heightfield
from elvatch.core.ground.measures import DRY_M, Measures
from elvatch.core.ground.shaped import Shaped
from elvatch.core.light.lighting import lighting
from elvatch.core.light.water import INDEX, fresnel, pool, ripples, wetness, wetted
from elvatch.core.picture import beyond, camera, gbuffer, scene
from elvatch.core.picture import kinds as kinds_
from elvatch.core.picture.picture import Renderer, View
from elvatch.core.picture.shade import shade
from elvatch.core.picture.terrain import scene_of, terrain
from elvatch.core.stock.pyramid import Pyramid
from tests.conftest import NAMES, flat_set, layer, plane, recipe
from tests.core.shapes import ground_of

SETS = {name: flat_set(0.3) for name in NAMES}


def hills(size_m: float, samples: int = 257) -> Heightfield:
    """Rolling ground that rises by a tenth of its size."""
    height = noise.periodic(samples, 3, 4, 6, 0.5)
    height = (height - height.min()) / np.ptp(height)
    return Heightfield((height * size_m * 0.1).astype(np.float32), size_m, size_m)


def of(ground: Heightfield, **parts: object) -> Recipe:
    return recipe((layer("base", 0),), ground).model_copy(update=parts)


def far_of(ground: Heightfield) -> Stands:
    """Far as a new site has it: the whole site in the picture."""
    return Stands(far=Stand(bearing_deg=20, tilt_deg=24, distance_m=0.98 * ground.width_m, view_deg=38))


def lightness(pixels: np.ndarray) -> np.ndarray:
    """CIE lightness 0..1 of sRGB pixels."""
    code = pixels / 255
    linear = np.where(code <= 0.04045, code / 12.92, ((code + 0.055) / 1.055) ** 2.4) @ [0.2126, 0.7152, 0.0722]
    return np.asarray(1.16 * np.cbrt(np.maximum(linear, 0.008856)) - 0.16)


@pytest.mark.parametrize("size_m", [20.0, 400.0, 5_000.0, 30_000.0, 120_000.0])
def test_the_usual_air_leaves_two_thirds_of_the_contrast_at_any_size(size_m: float) -> None:
    ground = hills(size_m)
    land, stands = terrain(ground), far_of(ground)
    eye = camera.from_stand(stands.far, camera.far_target(ground), 240, 180, ground)
    on_ground = gbuffer.look(scene_of(land, None), eye, 240, 180, 1).fragments.kind.reshape(180, 240) == kinds_.GROUND
    assert np.mean(on_ground) > 0.2
    spread = []
    for visibility in (None, 20_000.0):
        light = Light(visibility_km=visibility)
        shown = Renderer().take(land, of(ground, light=light, stands=stands), SETS, View("far", 240, 180, 1))
        spread.append(lightness(shown.pixels)[on_ground].std())
    assert spread[0] >= 2 / 3 * spread[1]


@given(st.floats(0.0, 1.0))
def test_water_mirrors_as_fresnel_says(cosine: float) -> None:
    there = math.sqrt(1 - (1 - cosine**2) / INDEX**2)
    s = ((cosine - INDEX * there) / (cosine + INDEX * there)) ** 2
    p = ((INDEX * cosine - there) / (INDEX * cosine + there)) ** 2
    assert fresnel(cosine) == pytest.approx((s + p) / 2, abs=1e-9)
    assert fresnel(1.0) == pytest.approx(((INDEX - 1) / (INDEX + 1)) ** 2)
    assert fresnel(0.0) == pytest.approx(1.0)


def white(on_ground: np.ndarray) -> tuple[Material, np.ndarray]:
    """Rough white material for the fragments that the cover is asked about, and their rows in it."""
    count = int(on_ground.sum())
    one = np.ones(count, np.float32)
    made = Material(
        np.full((count, 3), 0.9, np.float32),
        np.zeros((count, 2), np.float32),
        one,
        one * 0,
        one,
        one * 0,
        np.ones((count, 1), np.float32),
        np.empty((0, 3), np.float32),
    )
    index = np.zeros(len(on_ground), np.int64)
    index[on_ground] = np.arange(count)
    return made, index


@pytest.mark.parametrize("depth", [0.3, 1.7])
def test_light_fades_under_water_as_beer_and_lambert_say(depth: float) -> None:
    ground = plane(0.0, size_m=40.0)
    water = Water(on=True, clarity_m=2.0, colour="#8fb39a", ripple_m=0.0, level_m=50.0 + depth)
    made = pool(water)
    # over the way that clarity tells white light turns to the water's colour
    assert np.exp(-np.array(made.takes) * 2.0) == pytest.approx([0.2747, 0.4508, 0.3231], abs=2e-4)
    light = lighting(Light(sun_height_deg=89.99), 57.0, 50.0, water)
    eye = camera.from_stand(Stand(tilt_deg=89, distance_m=10, view_deg=8), (20, 20, 50), 9, 9, ground)
    buffer = gbuffer.look(scene_of(terrain(ground), None, water=made), eye, 9, 9, 1)
    f = buffer.fragments
    assert (f.kind[:81] == kinds_.WATER).all()
    assert f.under_m[40] == pytest.approx(depth, rel=0.01)
    material, index = white(f.on_ground())
    no_sky = light.sky._replace(table=light.sky.table * 0, falling=light.sky.falling * 0)

    def seen(takes: tuple[float, float, float]) -> np.ndarray:
        through = light._replace(sky=no_sky, water=made._replace(takes=takes, deep=(0.0, 0.0, 0.0)))
        sun = np.ones(len(f.kind), np.float32)
        return np.asarray(shade(buffer, material, index, sun, through, beyond.no_around())[40])

    mirrored = seen((1e6, 1e6, 1e6))
    share = (seen(made.takes) - mirrored) / (seen((0.0, 0.0, 0.0)) - mirrored)
    np.testing.assert_allclose(share, np.exp(-np.array(made.takes) * 2 * depth), rtol=0.01)


def lake() -> tuple[Heightfield, float]:
    """Ground that falls away to the north, and water up to 48 m, which begins 64.1 m from the south edge."""
    north = np.linspace(100, 0, 201)[:, None]
    heights = np.where(north < 60, 49.0, 49.0 - (north - 60) * np.tan(np.radians(13.7)))
    return Heightfield(np.repeat(heights, 201, axis=1).astype(np.float32), 100.0, 100.0), 48.0


def test_still_water_mirrors_a_post_at_the_right_pixel() -> None:
    ground, level = lake()
    # beyond the water, which lies between it and the eye, stands the surveyor with a rod
    flipped = Heightfield(np.ascontiguousarray(ground.heights_m[::-1]), 100.0, 100.0)
    peg, water = Peg(east_m=50.0, north_m=46.0), pool(Water(on=True, level_m=level, ripple_m=0.0))
    eye = camera.from_stand(
        Stand(bearing_deg=0, tilt_deg=4, distance_m=30, view_deg=20), (50, 46, 48.5), 400, 300, flipped
    )
    place = scene_of(terrain(flipped), peg, water=water)
    f = gbuffer.look(place, eye, 400, 300, 1).fragments
    kinds = f.kind[: 400 * 300].reshape(300, 400)
    mirror = np.where(f.mirror[: 400 * 300] >= 0, f.kind[f.mirror[: 400 * 300]], 255).reshape(300, 400)

    def at(up: float) -> tuple[int, int]:
        spot = camera.project(eye, (place.figure_x + 0.44, place.figure_y - 0.12, 2 * level - place.figure_z - up))
        assert spot is not None
        return int(spot[1] * 300), int(spot[0] * 400)

    for up in (1.2, 1.9):
        row, col = at(up)
        assert kinds[row, col] == kinds_.WATER
        assert mirror[row, col] == kinds_.FIGURE
    top, col = at(2.0)
    column = np.flatnonzero(mirror[:, col] == kinds_.FIGURE)
    assert column.max() == pytest.approx(top, abs=1)


def test_the_waterline_of_a_picture_lies_where_the_ground_meets_the_level() -> None:
    ground, level = lake()
    water = pool(Water(on=True, level_m=level, ripple_m=0.0))
    eye = camera.from_stand(
        Stand(bearing_deg=0, tilt_deg=25, distance_m=40, view_deg=30), (50, 66, 48), 200, 160, ground
    )
    kinds = gbuffer.look(scene_of(terrain(ground), None, water=water), eye, 200, 160, 1).fragments.kind[:32000]
    column = kinds.reshape(160, 200)[:, 100]
    line = int(np.flatnonzero(column == kinds_.WATER).max())
    shore = 60 + 1.0 / math.tan(math.radians(13.7))
    spot = camera.project(eye, (50.0, shore, level))
    assert spot is not None
    assert line + 1 == pytest.approx(spot[1] * 160, abs=1)


def test_measures_of_water() -> None:
    ground, level = lake()
    dry = Measures(Shaped(ground))
    assert (dry.map("distance-to-water") == DRY_M).all()
    measures = dry.with_water(level)
    above, away, deep = (measures.map(name) for name in ("height-above-water", "distance-to-water", "water-depth"))
    np.testing.assert_allclose(above, ground.heights_m - level, atol=1e-4)
    np.testing.assert_allclose(deep, np.maximum(-above, 0), atol=1e-6)
    assert (away[deep > 0] == 0).all()
    north = np.linspace(100, 0, 201)
    shore = north[(deep[:, 0] > 0)].min()
    np.testing.assert_allclose(away[north < shore, 7], shore - north[north < shore], atol=1e-3)
    assert measures.with_water(level + 0.5).map("height-above-water").max() == pytest.approx(0.5)
    assert dry.map("slope") is measures.map("slope"), "what asks for no water is made once"


def test_ground_at_the_water_is_darker_and_smoother_and_dries_upwards() -> None:
    made = pool(Water(on=True, level_m=10.0, wet_m=0.4))
    wet = [wetness(made, z) for z in (9.0, 10.0, 10.1, 10.3, 10.4, 11.0)]
    assert wet == sorted(wet, reverse=True)
    assert (wet[1], wet[-2], wet[-1]) == (1, 0, 0)
    porous, smooth = np.full(3, 0.4, np.float32), np.full(3, 0.4, np.float32)
    assert wetted(1.0, 0.0, 0.9, porous) < 0.5
    wetted(1.0, 0.0, 0.3, smooth)
    assert porous[0] == pytest.approx(0.12)
    assert smooth[0] == pytest.approx(0.4), "what is smooth takes up no water"


def test_ripples_turn_into_roughness_where_they_are_too_small_to_be_seen() -> None:
    made = pool(Water(on=True, ripple_m=0.02))
    near = np.array([ripples(made, x, 0.3, 1e-4) for x in np.linspace(0, 40, 4000)])
    far = np.array(ripples(made, 3.0, 0.3, 100.0))
    assert (near[:, :2] ** 2).sum(axis=1).mean() == pytest.approx(far[2], rel=0.1)
    assert far[:2] == pytest.approx([0, 0], abs=1e-9)
    assert ripples(pool(Water(on=True, ripple_m=0)), 3.0, 0.3, 0.01) == (0, 0, 0)


def test_beyond_the_edge_the_ground_goes_on_without_a_step_and_calms_down() -> None:
    ground = hills(500.0)
    outer = beyond.outer(ground)
    for t in np.linspace(0, 500, 41):
        for x, y in ((t, 0.0), (t, 500.0), (0.0, t), (500.0, t)):
            assert beyond.height_at(outer.relief, x, y) == pytest.approx(ground.elevation_at(x, y), abs=0.8)
    ring = [beyond.height_at(outer.relief, 250 + 1490 * math.cos(a), 250) for a in (0, math.pi)]
    assert ring == pytest.approx([outer.plane_m] * 2, abs=1.5)
    far = of(ground, light=Light(sun_height_deg=20), stands=far_of(ground))
    land = terrain(ground)
    eye = camera.from_stand(far.stands.far, camera.far_target(ground), 200, 150, ground)
    kinds = [gbuffer.look(scene_of(land, None, outer=o), eye, 200, 150, 1).fragments.kind for o in (None, outer)]
    site = kinds[0] == kinds_.GROUND
    assert (kinds[1][site] == kinds_.GROUND).mean() > 0.97, "it stands before little of the site"
    assert np.sum(kinds[0] == kinds_.SKY) > 5 * np.sum(kinds[1] == kinds_.SKY), "the void is gone"


def test_what_lies_beyond_shades_nothing_of_the_site(monkeypatch: pytest.MonkeyPatch) -> None:
    ground = ground_of(
        lambda x, y: 0.3 * np.abs(x), 129, 128.0
    )  # rises towards both its edges, as what is beyond does
    land, sun = terrain(ground), (-math.cos(math.radians(12)), 0.0, math.sin(math.radians(12)))
    outer = beyond.outer(ground)
    alone, within = (scene_of(land, None, outer=one) for one in (None, outer))
    places = [(x, 64.0, ground.elevation_at(x, 64.0)) for x in np.linspace(2, 126, 63)]
    seen = [[scene.in_sun(place, *at, *sun, 0.02, False) for at in places] for place in (alone, within)]
    assert seen[0] == seen[1]
    assert 0 < sum(seen[0]) < len(places)


def test_the_colours_beyond_are_the_covers_own() -> None:
    ground = plane(0.0)
    sets: dict[str, Pyramid] = {NAMES[0]: flat_set(0.12)}
    stands = Stands(far=Stand(bearing_deg=0, tilt_deg=20, distance_m=120, view_deg=40))
    shown = Renderer().take(terrain(ground), of(ground, stands=stands), sets, View("far", 160, 120, 1)).pixels
    eye = camera.from_stand(stands.far, camera.far_target(ground), 160, 120, ground)
    edge = camera.project(eye, (50.0, 100.0, 50.0))
    assert edge is not None
    row = int(edge[1] * 120)
    np.testing.assert_allclose(shown[row - 3, 80].astype(int), shown[row + 3, 80].astype(int), atol=9)
