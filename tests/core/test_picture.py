"""Pictures: light by the book, clean shadows and borders, stages kept, work that can be stopped."""

from __future__ import annotations

import dataclasses
import math
from collections.abc import Callable
from itertools import pairwise

import numpy as np
import pytest

from elvatch.core import colour, gloss
from elvatch.core.document.light import Light
from elvatch.core.document.recipe import Recipe, Stand, Stands
from elvatch.core.ground.heightfield import Heightfield
from elvatch.core.light.sun import direction
from elvatch.core.parallel import Token
from elvatch.core.picture import camera, figure, gbuffer, scene
from elvatch.core.picture import kinds as kinds_
from elvatch.core.picture import picture as pictures
from elvatch.core.picture.picture import Picture, Renderer, View
from elvatch.core.picture.sunlit import sunlit
from elvatch.core.picture.terrain import scene_of, terrain
from elvatch.core.refusal import CancelledError
from tests.conftest import NAMES, flat_set, layer, plane, recipe

SETS = {name: flat_set(0.18) for name in NAMES}
CLEAR = Light(sun_bearing_deg=180, sun_height_deg=40, beyond="block")


def site(ground: Heightfield, **parts: object) -> Recipe:
    return recipe((layer("base", 0),), ground).model_copy(update={"light": CLEAR} | parts)


def take(ground: Heightfield, view: View, **parts: object) -> Picture:
    return Renderer().take(terrain(ground), site(ground, **parts), SETS, view)


LOOKING_DOWN = Stands(mid=Stand(bearing_deg=0, tilt_deg=89, distance_m=60, view_deg=20))


def reference_ggx(roughness: float, n_l: float, n_v: float, n_h: float, v_h: float) -> float:
    """Walter et al. 2007's distribution and separable Smith masking with Schlick's Fresnel."""
    a2 = roughness**4
    d = a2 / (math.pi * (n_h**2 * (a2 - 1) + 1) ** 2)
    g1 = [2 * n / (n + math.sqrt(a2 + (1 - a2) * n**2)) for n in (n_l, n_v)]
    lam = [1 / g - 1 for g in g1]
    g2 = 1 / (1 + lam[0] + lam[1])
    return d * g2 * (0.04 + 0.96 * (1 - v_h) ** 5) / (4 * n_l * n_v)


@pytest.mark.parametrize("roughness", [0.2, 0.5, 0.9])
def test_the_sun_lobe_is_ggx_with_height_correlated_smith(roughness: float) -> None:
    rng = np.random.default_rng(1)
    for _ in range(50):
        to_eye, to_sun = (v / np.linalg.norm(v) for v in np.abs(rng.normal(size=(2, 3))) + 0.05)
        half = (to_eye + to_sun) / np.linalg.norm(to_eye + to_sun)
        cosines = float(to_sun[2]), float(to_eye[2]), float(half[2]), float(half @ to_eye)
        lobe = gloss.sun_shape(roughness, *cosines[:3]) * (0.04 + 0.96 * gloss.facing(cosines[3]))
        assert lobe == pytest.approx(reference_ggx(roughness, *cosines), rel=1e-4)


@pytest.mark.parametrize(
    ("seen", "shown"),
    [
        ((0.5, 0.4, 0.3), (0.461538, 0.361538, 0.261538)),  # below the shoulder nearly a mirror's 0.04
        ((0.02, 0.03, 0.05), (0.016, 0.026, 0.046)),  # of the dark little, so that it keeps its colour
        ((0.0, 0.0, 0.0), (0.0, 0.0, 0.0)),
        ((1.04, 1.04, 1.04), (0.8800331, 0.8800331, 0.8800331)),  # 1 - 0.24^2 / (1 + 0.24 - 0.76)
    ],
)
def test_the_tone_curve_is_the_published_one_but_for_its_toe(
    seen: tuple[float, ...], shown: tuple[float, ...]
) -> None:
    assert colour.tone(*seen) == pytest.approx(shown, abs=1e-6)


def test_srgb_goes_there_and_back_and_meets_the_standards_points() -> None:
    linear = np.linspace(0, 1, 1001).astype(np.float32)
    np.testing.assert_allclose(colour.to_linear(colour.to_srgb(linear)), linear, atol=1e-5)
    assert colour.to_srgb(np.array([0.0031308, 0.214041], np.float32)) == pytest.approx([0.04045, 0.5], abs=1e-4)
    assert colour.srgb_code(0.214041) == pytest.approx(0.5, abs=1e-4)


@pytest.mark.parametrize("sun_deg", [8, 25, 60])
@pytest.mark.parametrize("tilt", [0.0, 20.0, 35.0])
def test_no_speckle_of_shadow_on_an_open_slope(sun_deg: float, tilt: float) -> None:
    ground = plane(tilt, 0.0, samples=257)
    land = terrain(ground)
    place = scene_of(land, None)
    stand = Stand(bearing_deg=0, tilt_deg=30, distance_m=90, view_deg=25)
    eye = camera.from_stand(stand, camera.far_target(ground), 120, 90, ground)
    buffer = gbuffer.look(place, eye, 120, 90, 4)
    sun = direction(180, sun_deg)  # the slope rises northwards: it faces the sun
    seen = sunlit(place, buffer, sun, 0.53, 4, 0.04 * ground.cell_x_m).part
    on_ground = buffer.fragments.kind == kinds_.GROUND
    assert np.sum(on_ground) > 3000
    assert (seen[on_ground] == 1).all()


def test_no_speckle_on_rolling_ground_in_high_light_and_true_shadow_behind_a_wall() -> None:
    heights = np.zeros((129, 129), np.float32)
    heights[60:64, :] = 20.0  # a wall from west to east
    ground = Heightfield(heights, 128.0, 128.0)
    place = scene_of(terrain(ground), None)
    sun = direction(180, 45)
    for north, wanted in ((90.0, True), (75.0, False), (20.0, True)):
        assert scene.in_sun(place, 64.0, north, 0.0, *sun, 0.02, False) is wanted
    # the wall's top stands at 20 m between 65 and 68 m north: its shadow of 20 m ends near 88 m
    edge = [n for n in np.arange(80, 95, 0.1) if not scene.in_sun(place, 64.0, float(n), 0.0, *sun, 0.02, False)]
    assert max(edge) == pytest.approx(88.0, abs=0.3)


def test_the_border_is_a_clean_cut_with_sky_beside_it() -> None:
    ground = plane(0.0)
    stand = Stand(bearing_deg=0, tilt_deg=20, distance_m=220, view_deg=40)
    shown = take(ground, View("far", 160, 120), stands=Stands(far=stand))
    land = terrain(ground)
    eye = camera.from_stand(stand, camera.far_target(ground), 160, 120, ground)
    kinds = gbuffer.look(scene_of(land, None), eye, 160, 120, 1).fragments.kind.reshape(120, 160)
    middle = kinds[:, 80]
    runs = [int(middle[0]), *(int(b) for a, b in pairwise(middle) if a != b)]
    assert runs == [kinds_.SKY, kinds_.GROUND, kinds_.SIDE, kinds_.SKY]
    assert shown.pixels.shape == (120, 160, 3)


def test_four_looks_smooth_an_edge_that_one_look_leaves_hard() -> None:
    ground = plane(0.0)
    stands = Stands(far=Stand(bearing_deg=17, tilt_deg=18, distance_m=220, view_deg=40))
    hard, smooth = (take(ground, View("far", 160, 120, looks), stands=stands).pixels for looks in (1, 4))
    colours = [len(np.unique(p.reshape(-1, 3), axis=0)) for p in (hard, smooth)]
    assert colours[1] > colours[0]
    # away from edges the two agree
    close = np.abs(hard.astype(int) - smooth.astype(int)).max(axis=2) <= 2
    assert close.mean() > 0.9


def test_the_figure_is_one_metre_seventy_five() -> None:
    heights = [
        z
        for z in np.linspace(-0.2, 2.2, 2401)
        if any(figure.distance(x, y, float(z)) < 0 for x in np.linspace(-0.3, 0.3, 31) for y in (-0.06, 0.0))
    ]
    assert max(heights) == pytest.approx(figure.HEIGHT_M, abs=0.02)
    assert min(heights) == pytest.approx(0.0, abs=0.02)


def test_the_rod_is_two_metres_banded_every_half() -> None:
    x, y = 0.44, -0.12
    inside = [z for z in np.linspace(-0.1, 2.2, 2301) if figure.distance(x, y, float(z)) < 0]
    assert (min(inside), max(inside)) == (pytest.approx(0, abs=0.002), pytest.approx(2.0, abs=0.002))
    bands = [figure.tint(x + 0.018, y, z) for z in (0.25, 0.75, 1.75)]
    assert bands == [figure.RED, figure.WHITE, figure.WHITE]
    edges = [z for z in np.linspace(0.3, 0.7, 401) if figure.tint(x + 0.018, y, float(z)) == figure.RED]
    assert max(edges) == pytest.approx(0.5, abs=0.002)


def test_rays_meet_the_whole_figure_and_nothing_else() -> None:
    rng = np.random.default_rng(5)
    met = 0
    for _ in range(250):
        eye = rng.normal(size=3)
        eye = eye / np.linalg.norm(eye) * 3 + [0, 0, 1]
        way = rng.uniform([-0.5, -0.3, 0], [0.5, 0.3, 2.0]) - eye
        way /= np.linalg.norm(way)
        # by its distance alone, asked of all its parts every four millimetres
        along = np.arange(1.5, 5, 0.004)
        away = np.array([figure.distance(*(eye + t * way)) for t in along])
        (x, y, z), (dx, dy, dz) = map(float, eye), map(float, way)
        found = figure.meet(x, y, z, dx, dy, dz, 0.0)
        if away.min() < -0.002:
            met += 1
            assert found == pytest.approx(along[np.argmax(away < 0)], abs=0.006)
        elif away.min() > 0.003:
            assert found == np.inf
    assert 60 < met < 200


def test_the_figure_stands_at_the_peg_and_throws_a_shadow() -> None:
    ground = plane(0.0)
    near = Stands(near=Stand(bearing_deg=0, tilt_deg=12, distance_m=5, view_deg=40))
    light = CLEAR.model_copy(update={"sun_bearing_deg": 90.0, "sun_height_deg": 30.0})
    with_sun = take(ground, View("near", 360, 480), stands=near, light=light)
    pixels = with_sun.pixels.astype(int).sum(axis=2)
    across, down = with_sun.facts.peg or (0, 0)
    row, col = int(down * 480), int(across * 360)
    plain = np.median(pixels[450, :90])
    west, east = pixels[row - 9 : row + 10, 24 : col - 24], pixels[row - 9 : row + 10, col + 70 : -24]
    # seen so flat the ground mirrors the bright horizon, in the shadow as well
    assert west.min() < plain * 0.87, "its shadow falls westwards, away from the sun in the east"
    assert east.min() > plain * 0.95, "and nowhere else"
    land = terrain(ground)
    peg = site(ground).peg
    eye = camera.from_stand(near.near, camera.peg_target(near.near, peg, ground), 120, 160, ground)
    kinds = gbuffer.look(scene_of(land, peg), eye, 120, 160, 1).fragments.kind.reshape(160, 120)
    for height, wanted in ((1.0, kinds_.FIGURE), (1.65, kinds_.FIGURE), (1.85, kinds_.SKY)):
        seen_at = camera.project(eye, (peg.east_m, peg.north_m, 50.0 + height)) or (0, 0)
        assert kinds[int(seen_at[1] * 160), int(seen_at[0] * 120)] == wanted


def test_a_place_projects_to_where_it_is_seen() -> None:
    ground = plane(15, 70)
    eye = camera.from_stand(
        Stand(bearing_deg=25, tilt_deg=30, distance_m=80), camera.far_target(ground), 200, 100, ground
    )
    for x, y in ((50.0, 50.0), (62.0, 41.0), (40.0, 66.0)):
        z = ground.elevation_at(x, y)
        across, down = camera.project(eye, (x, y, z)) or (0, 0)
        dx, dy, dz = gbuffer._ray(eye, 200, 100, 0, 0, across * 200 - 0.5, down * 100 - 0.5)
        toward = np.array([x - eye.eye_x, y - eye.eye_y, z - eye.eye_z])
        np.testing.assert_allclose([dx, dy, dz], toward / np.linalg.norm(toward), atol=1e-9)


def test_each_pixel_stands_for_the_area_it_sees() -> None:
    ground = plane(0.0, samples=257, size_m=400.0)
    land = terrain(ground)
    stand = Stand(bearing_deg=0, tilt_deg=30, distance_m=100, view_deg=30)
    eye = camera.from_stand(stand, (200.0, 200.0, 50.0), 200, 150, ground)
    fragments = gbuffer.look(scene_of(land, None), eye, 200, 150, 1).fragments
    x = fragments.places.x_m.reshape(150, 200)
    y = fragments.places.y_m.reshape(150, 200)
    wide = x[75, 101] - x[75, 100]
    deep = y[74, 100] - y[75, 100]
    across = fragments.places.across_m.reshape(150, 200)[75, 100]
    along = fragments.places.along_north_m.reshape(150, 200)[75, 100]
    assert across == pytest.approx(wide, rel=0.02)
    assert across + abs(along) == pytest.approx(deep, rel=0.03)


def test_an_edit_of_the_cover_keeps_what_was_seen_and_where_the_sun_falls(monkeypatch: pytest.MonkeyPatch) -> None:
    calls: list[str] = []
    look, sun_seen = gbuffer.look, sunlit

    def told(name: str, how: Callable[..., object]) -> Callable[..., object]:
        def call(*given: object, **named: object) -> object:
            calls.append(name)
            return how(*given, **named)

        return call

    monkeypatch.setattr(gbuffer, "look", told("look", look))
    monkeypatch.setattr(pictures, "sunlit", told("sunlit", sun_seen))
    ground = plane(10)
    land, renderer, before = terrain(ground), Renderer(), site(ground)
    view = View("mid", 60, 40)
    first = renderer.take(land, before, SETS, view)
    brighter = before.layers[0].model_copy(
        update={"look": before.layers[0].look.model_copy(update={"brightness": 1.5})}
    )
    edited = renderer.take(land, before.model_copy(update={"layers": (brighter,)}), SETS, view)
    assert calls == ["look", "sunlit"]
    assert edited.pixels.mean() > first.pixels.mean() + 5
    renderer.take(
        land, before.model_copy(update={"light": CLEAR.model_copy(update={"sun_bearing_deg": 10.0})}), SETS, view
    )
    assert calls == ["look", "sunlit", "sunlit"]
    again = renderer.take(land, before, SETS, view)
    np.testing.assert_array_equal(again.pixels, first.pixels)


def test_a_cancelled_picture_stops_and_leaves_nothing_wrong_behind() -> None:
    ground = plane(10)
    land, renderer, token = terrain(ground), Renderer(), Token()
    token.cancel()
    with pytest.raises(CancelledError):
        renderer.take(land, site(ground), SETS, View("mid", 200, 200), token)
    shown = renderer.take(land, site(ground), SETS, View("mid", 200, 200))
    np.testing.assert_array_equal(shown.pixels, take(ground, View("mid", 200, 200)).pixels)


def test_one_map_alone_shows_its_values() -> None:
    ground = plane(0)
    stands = Stands(mid=Stand(bearing_deg=0, tilt_deg=89, distance_m=20, view_deg=20))
    view = View("mid", 40, 40, 1)
    corner = {
        mode: take(ground, dataclasses.replace(view, mode=mode, layer=0), stands=stands).pixels[2, 2]
        for mode in ("colour", "roughness", "normal", "presence")
    }
    code = round(float(colour.srgb_code(0.18)) * 255)
    assert corner["colour"] == pytest.approx([code] * 3, abs=1)
    assert corner["roughness"] == pytest.approx([128] * 3, abs=1)
    assert corner["normal"] == pytest.approx([128, 128, 255], abs=1)
    assert corner["presence"] == pytest.approx([255] * 3, abs=0)
