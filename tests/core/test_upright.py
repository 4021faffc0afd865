"""A face that stands: its measures are the world's, water runs down it, light and eyes meet it as it stands."""

from __future__ import annotations

import math

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from numpy.typing import NDArray

from elvatch.core.document.begin_cover import Candidate, Sized, column, layer_of
from elvatch.core.document.light import Light
from elvatch.core.document.recipe import Peg, Recipe, Stand, Stands
from elvatch.core.document.rule import OnMeasure, Rule
from elvatch.core.ground import places
from elvatch.core.ground.begin import beginnings
from elvatch.core.ground.description import FlatSource, Ground
from elvatch.core.ground.heightfield import Heightfield
from elvatch.core.ground.measures import KINDS, MeasureName, Measures
from elvatch.core.ground.shaped import Shaped
from elvatch.core.ground.step import Extent
from elvatch.core.ground.survey import survey
from elvatch.core.ground.upright import Upright, axes_of
from elvatch.core.light.lighting import Lighting, lighting
from elvatch.core.picture import camera, gbuffer, pointing
from elvatch.core.picture.kinds import BEYOND, FIGURE, GROUND, SKY
from elvatch.core.picture.picture import View
from elvatch.core.picture.terrain import Terrain, scene_of, terrain
from elvatch.core.rules import program, rules
from elvatch.core.rules.evidence import Evidence
from tests.core.shapes import Formula, ground_of

SIZE_M = 16.0
bearings = st.floats(0, 359.9)


def face(formula: Formula, stands: Upright, samples: int = 129) -> Measures:
    """A face of 16 x 16 m that comes out by a formula of metres along and up from its middle."""
    return Measures(Shaped(ground_of(formula, samples, SIZE_M)), stands)


def inner(values: NDArray[np.float32]) -> NDArray[np.float32]:
    """Without the edge, where slopes are one-sided."""
    return values[2:-2, 2:-2]


@given(bearings)
def test_its_axes_are_a_rotation_that_keeps_up_up(bearing: float) -> None:
    axes = axes_of(Upright(faces_deg=bearing)).matrix()
    assert axes @ axes.T == pytest.approx(np.eye(3), abs=1e-12)
    assert np.linalg.det(axes) == pytest.approx(1.0)
    assert axes[1] == pytest.approx([0, 0, 1])
    turn = math.radians(bearing)
    assert axes[2] == pytest.approx([math.sin(turn), math.cos(turn), 0])


@pytest.mark.parametrize(("leans_deg", "steep_deg"), [(0.0, 90.0), (12.0, 78.0), (-20.0, 110.0)])
def test_a_face_that_leans_back_is_less_steep_than_one_that_hangs_over(leans_deg: float, steep_deg: float) -> None:
    measures = face(lambda x, y: -y * math.tan(math.radians(leans_deg)), Upright(faces_deg=30, foot_m=200))
    assert inner(measures.map("slope")) == pytest.approx(steep_deg, abs=0.01)
    assert inner(measures.map("aspect")) == pytest.approx(30, abs=0.01)
    elevation = measures.map("elevation")
    assert (elevation[0].min(), elevation[-1].max()) == (216, 200)


@given(bearings, st.floats(-60, 60))
def test_a_fold_faces_aside_by_its_own_angle(bearing: float, turned_deg: float) -> None:
    stands, rise = Upright(faces_deg=bearing), math.tan(math.radians(turned_deg))
    found = inner(face(lambda x, y: x * rise, stands, 17).map("aspect"))
    # the normal of what comes out by `rise` a metre along, turned into the world
    normal = np.array([-rise, 0.0, 1.0]) @ axes_of(stands).matrix()
    wanted = math.degrees(math.atan2(normal[0], normal[1])) % 360
    assert np.abs((found - wanted + 180) % 360 - 180).max() < 0.01


def test_water_runs_down_it_and_gathers_in_a_groove() -> None:
    measures = face(lambda x, y: -0.25 * np.exp(-((x / 0.8) ** 2)), Upright())
    drained = measures.map("drainage")
    assert drained[0].max() < 1.0, "at its upper edge nothing has come yet"
    middle = drained.shape[1] // 2
    foot = drained[-2]
    assert foot[middle - 4 : middle + 5].max() > 4 * np.median(foot)
    # a straight way down: what stands beside the groove drains its own strip
    cell = SIZE_M / (drained.shape[1] - 1)
    assert np.median(foot[16:32]) == pytest.approx(SIZE_M * cell, rel=0.1)


def test_water_before_it_covers_what_stands_below_its_level() -> None:
    measures = face(lambda x, y: 0 * x, Upright(foot_m=100)).with_water(104.0)
    assert (measures.map("water-depth") > 0).mean() == pytest.approx(4 / SIZE_M, abs=0.01)
    assert measures.map("height-above-water")[0].max() == pytest.approx(12)
    assert measures.map("distance-to-water")[0].max() == pytest.approx(12, abs=0.2)


@pytest.mark.parametrize(
    ("name", "lower", "upper"),
    [("slope", 80.0, 95.0), ("elevation", 104.0, 109.0), ("aspect", 350.0, 15.0), ("drainage", 2.5, None)],
)
def test_rules_read_it_as_its_measures_say(name: MeasureName, lower: float, upper: float | None) -> None:
    stands = Upright(faces_deg=2.0, foot_m=100)
    measures = face(lambda x, y: 0.35 * np.sin(x) + 0.3 * np.cos(1.3 * y + x), stands)
    ground = measures.shaped.ground
    evidence = Evidence(SIZE_M, SIZE_M, measures.map, reach=measures.reach, upright=stands)
    rule = Rule(clauses=(OnMeasure(measure=name, unit=KINDS[name].unit, lower=lower, upper=upper),))
    x = np.tile(np.linspace(0, SIZE_M, ground.cols), ground.rows)
    y = np.repeat(np.linspace(SIZE_M, 0, ground.rows), ground.cols)
    at = places.on_ground(survey(ground), x, y, 1e-3)
    found = rules.presences(program.compiled([("rule", rule)], evidence, ()), 0, at) > 0.5
    values = measures.map(name).ravel()
    above = values >= lower
    below = np.ones(len(values), bool) if upper is None else values <= upper
    wanted = (above | below) if name == "aspect" else (above & below)
    near = np.zeros(len(values), bool)
    for end in (lower, upper):
        near |= np.abs(values - end) < 0.02 if end is not None else False
    assert 0.05 < wanted.mean() < 0.95
    assert (found == wanted)[~near].all()


def lit(bearing: float, sun_bearing: float, height: float = 35.0) -> Lighting:
    light = Light(sun_bearing_deg=sun_bearing, sun_height_deg=height)
    return lighting(light, 20.0, 0.0, axes=axes_of(Upright(faces_deg=bearing)))


@given(bearings, bearings, st.floats(3, 85))
def test_the_sun_stands_before_it_as_far_aside_as_in_the_world(faces: float, bearing: float, height: float) -> None:
    aside, up = math.radians(bearing - faces), math.radians(height)
    sun = lit(faces, bearing, height).sun
    assert sun[2] == pytest.approx(math.cos(up) * math.cos(aside), abs=1e-9)
    assert sun[1] == pytest.approx(math.sin(up))


def test_what_falls_on_it_is_the_half_of_the_sky_before_it_and_the_ground() -> None:
    """Against a sum over directions of the world, of the same sky lying."""
    world = lighting(Light(sun_bearing_deg=140, sun_height_deg=35), 20.0, 0.0)
    before = lit(200.0, 140.0)
    rng = np.random.default_rng(3)
    toward = rng.normal(size=(400_000, 3))
    toward /= np.linalg.norm(toward, axis=1, keepdims=True)
    out = toward @ np.array(axes_of(Upright(faces_deg=200)).z)
    x, y = (toward[:, 0] * world.cos + toward[:, 1] * world.sin, toward[:, 1] * world.cos - toward[:, 0] * world.sin)
    # rows go with the root of the height's sine, columns with the bearing
    rows, cols = world.sky.table.shape[:2]
    row = (np.sqrt(np.clip(toward[:, 2], 0, 1)) * (rows - 1)).round().astype(int)
    col = ((np.arctan2(y, x) / (2 * math.pi)) % 1 * cols).round().astype(int) % cols
    seen = world.sky.table[row, col].astype(np.float64)
    ground = np.array([0.17, 0.155, 0.13]) / math.pi
    direct = np.array(world.sun_colour) * world.sun[2]
    seen[toward[:, 2] <= 0] = ground * (0.7 * np.array(world.sky.level) + direct)
    wanted = (seen * np.maximum(out, 0)[:, None]).mean(axis=0) * 4 * math.pi
    assert np.array(before.sky.level) == pytest.approx(wanted, rel=0.02)


def test_turned_with_its_sun_it_is_lit_alike() -> None:
    one, other = lit(180.0, 230.0), lit(75.0, 125.0)
    assert one.sun == pytest.approx(other.sun, abs=1e-9)
    assert one.level == pytest.approx(other.level, rel=2e-3)
    assert one.exposure == pytest.approx(other.exposure, rel=2e-3)


def place(formula: Formula, stands: Upright) -> Terrain:
    return terrain(ground_of(formula, 129, SIZE_M), upright=stands)


def test_an_eye_before_it_sees_up_as_up_and_right_as_right() -> None:
    land = place(lambda x, y: 0 * x, Upright(faces_deg=322))
    stand, middle = Stand(bearing_deg=(322 + 150) % 360, tilt_deg=5, distance_m=12), (8.0, 8.0, 0.0)
    eye = camera.from_stand(stand, middle, 300, 200, land.ground, land.axes)
    assert camera.project(eye, middle) == pytest.approx((0.5, 0.5), abs=1e-9)
    above, aside = camera.project(eye, (8.0, 9.0, 0.0)), camera.project(eye, (9.0, 8.0, 0.0))
    assert above is not None
    assert aside is not None
    assert above[1] < 0.45
    assert above[0] == pytest.approx(0.5, abs=1e-9)
    assert aside[0] > 0.52
    assert eye.eye_z == pytest.approx(12 * math.cos(math.radians(5)) * math.cos(math.radians(30)))


def test_a_figure_stands_at_its_foot_on_level_ground_before_it() -> None:
    land = place(lambda x, y: 0 * x, Upright(faces_deg=90))
    stand, peg = Stand(bearing_deg=270, tilt_deg=4, distance_m=9, view_deg=50), Peg(east_m=8, north_m=0)
    eye = camera.from_stand(stand, (8.0, 1.0, 0.0), 200, 200, land.ground, land.axes)
    kinds = gbuffer.look(scene_of(land, peg), eye, 200, 200, 1).fragments.kind.reshape(200, 200)
    rows, cols = np.nonzero(kinds == FIGURE)
    head, feet = (camera.project(eye, (8.0, up, 0.32)) for up in (1.75, 0.0))
    assert head is not None
    assert feet is not None
    assert rows.min() / 200 == pytest.approx(head[1], abs=0.04), "its rod stands a hand higher"
    assert rows.max() / 200 == pytest.approx(feet[1], abs=0.03)
    assert np.ptp(rows) > 1.6 * np.ptp(cols)
    assert (kinds[-5:] == BEYOND).all(), "it stands on level ground"
    assert (kinds[60:100, 5:60] == GROUND).all()
    wide = camera.from_stand(stand, (8.0, 24.0, 0.0), 200, 200, land.ground, land.axes)
    assert gbuffer.look(scene_of(land, None), wide, 200, 200, 1).fragments.kind.reshape(200, 200)[0, 0] == SKY


def test_what_is_pointed_at_on_a_picture_is_where_it_is_shown() -> None:
    land = place(lambda x, y: 0.1 * np.sin(2 * x) * np.cos(y), Upright(faces_deg=200))
    ground = Ground(width_m=SIZE_M, depth_m=SIZE_M, source=FlatSource(samples=129), upright=land.upright)
    stand = Stand(bearing_deg=40, tilt_deg=-6, distance_m=9)
    recipe = Recipe(ground=ground, peg=Peg(east_m=7, north_m=6), stands=Stands(far=stand, mid=stand, near=stand))
    view = View("mid", 320, 240)
    spots = [(0.5, 0.5), (0.3, 0.7), (0.6, 0.25)]
    met = pointing.on_ground(land, recipe, view, spots)
    assert all(one is not None for one in met)
    back = [
        camera.project(pointing.camera_of(land, recipe, view), (x, y, land.ground.elevation_at(x, y)))
        for x, y in (one for one in met if one is not None)
    ]
    for spot, shown in zip(spots, back, strict=True):
        assert shown == pytest.approx(spot, abs=0.01)


def test_the_kept_name_of_a_ground_tells_how_it_stands() -> None:
    flat = Heightfield(np.zeros((33, 33), np.float32), 4.0, 4.0)
    names = {terrain(flat, upright=stands).name for stands in (None, Upright(), Upright(faces_deg=90))}
    assert len(names) == 3


def test_what_is_begun_on_a_face_suits_it() -> None:
    lying, standing = (beginnings(Extent(20, 6, 0, 0.2, stands)) for stands in (None, Upright(foot_m=100)))
    assert (lying.spans["slope"].most, standing.spans["slope"].most) == (90, 180)
    assert lying.limits["elevation"].lower == pytest.approx(0.1, abs=0.5)
    assert standing.limits["elevation"].lower == pytest.approx(103, abs=0.5)
    assert standing.limits["slope"].upper == 70, "ledges, not all of a wall"
    assert standing.steps == lying.steps, "steps shape it lying"


def test_a_new_face_begins_as_a_wall() -> None:
    stock = {
        "Rough grass": "grass and plants",
        "Slate bedrock": "rock",
        "Coursed masonry": "rock",
        "Cast concrete": "concrete",
        "Moss": "grass and plants",
    }
    sets = [Candidate("0" * 40, title, category, 2.0, 0.05) for title, category in stock.items()]

    def plumb(measure: MeasureName, share: float) -> float:
        return 90.0

    begun = column(sets, Sized(plumb, 20.0, face=True))
    assert [(place, one.title) for place, one in begun] == [
        ("all", "Coursed masonry"),
        ("patches", "Cast concrete"),
        ("patches", "Moss"),
    ]
    assert layer_of(begun[0][1], "wall", Rule(), Sized(plumb, 20.0, face=True)).fit.projection == "above"
