"""Where the ground meets things set on it: by geometry, by what they show, alike in pictures, maps and probes."""

from __future__ import annotations

import numpy as np
import pytest
import trimesh
from scipy.spatial.transform import Rotation

from elvatch.core.cover import function, plan
from elvatch.core.cover.material import Material
from elvatch.core.document.set_thing import SetThing
from elvatch.core.document.thing import Covering, DrawnThing, Thing
from elvatch.core.ground import places
from elvatch.core.ground.heightfield import Heightfield
from elvatch.core.ground.survey import Survey, survey
from elvatch.core.picture.joint import SetThings
from elvatch.core.rules.evidence import Evidence
from elvatch.core.rules.joints import RISE
from elvatch.core.strew.field import Field, stocked
from elvatch.core.strew.laid import On
from elvatch.core.thing import model, traced
from elvatch.core.thing.closest import closest
from elvatch.core.thing.traced import Stood
from tests.conftest import NAMES, flat_set, layer
from tests.core.test_flat import of_trimesh

SIDE = 20.0
LEVEL = survey(Heightfield(np.zeros((65, 65), np.float32), SIDE, SIDE))
SLOPE = survey(Heightfield(np.tile(np.linspace(0, 8, 65, dtype=np.float32), (65, 1)), SIDE, SIDE))
BALL = model.model([of_trimesh(trimesh.creation.icosphere(subdivisions=5), 0.6)])
SETS = {name: flat_set(0.05 + 0.25 * k) for k, name in enumerate(NAMES[:2])}
JOINS = 0.4


def joining(ground: Survey, *set_things: SetThing, cover: Covering | None = None) -> SetThings:
    thing = Thing(id="boulder", name="Ball", source=DrawnThing(what="boulder"), cover=cover or Covering())
    evidence = Evidence(SIDE, SIDE)
    on = On(ground, evidence, (), lambda id: np.zeros((0, 3)), {})
    field = Field((), (), stocked((), {"boulder": BALL}, set_things), on, (), "balls")
    return SetThings("balls", "balls", lambda: field, {"boulder": thing}, SETS, evidence)


def ball(**more: object) -> SetThing:
    """One of a metre across, its middle 20 cm above level ground."""
    given = {"id": "ball1", "name": "Ball", "thing": "boulder", "east_m": 10.0, "north_m": 10.0, "size_m": 1.0}
    return SetThing.model_validate({**given, "joins_m": JOINS, "follows": False, "foot_m": -0.3, **more})


def asked(ground: Survey, with_: SetThings | None, x: np.ndarray, y: np.ndarray) -> Material:
    prepared = plan.prepare((layer("Low", 0),), SETS, Evidence(SIDE, SIDE, joining=with_))
    return function.ask(prepared, places.on_ground(ground, x, y, 0.002))


def test_the_closest_place_is_the_one_that_trimesh_finds() -> None:
    mesh = trimesh.creation.torus(0.35, 0.12)
    solid = of_trimesh(mesh, 0.5)
    turn = Rotation.from_euler("xyz", [20, 50, -130], degrees=True).as_matrix()
    stands = Stood(
        np.array([[4.0, 5.0, 6.0]]),
        np.ascontiguousarray(turn.reshape(1, 9), np.float32),
        np.array([2.5], np.float32),
        np.zeros(1, np.int32),
        np.ones((1, 3), np.float32),
        np.zeros((1, 3), np.float32),
    )
    things = traced.things(stands, traced.shapes([solid]))
    rng = np.random.default_rng(3)
    spots = np.array([4.0, 5.0, 6.0]) + rng.uniform(-1.4, 1.4, (400, 3))
    world = trimesh.Trimesh(solid.places.astype(float) @ turn.T * 2.5 + [4, 5, 6], solid.triangles)
    at, away, faces = trimesh.proximity.closest_point_naive(world, spots)
    near = away < 0.5
    found = closest(things, 0, spots, 0.5)
    assert 50 < near.sum() < 350
    assert np.array_equal(found.triangle >= 0, near)
    np.testing.assert_allclose(found.away_m[near], away[near], atol=2e-6)
    np.testing.assert_allclose(found.at[near], at[near], atol=1e-4)
    # a few lie so near that the mean of the corners' normals and the surface differ
    inside = (world.face_normals[faces[near]] * (spots - at)[near]).sum(axis=1) < 0
    assert (found.within[near] == inside)[away[near] > 0.005].all()


@pytest.mark.parametrize("ground", [LEVEL, SLOPE], ids=["level", "slope"])
def test_the_ground_takes_on_what_lies_near_by_distance(ground: Survey) -> None:
    height = float(places.on_ground(ground, np.array([10.0]), np.array([10.0]), 0.1).elevation_m[0])
    of = ball(foot_m=height - 0.3)
    x, y = (one.ravel() for one in np.meshgrid(np.linspace(9.2, 10.8, 161), np.linspace(9.2, 10.8, 161)))
    bare, joined = asked(ground, None, x, y), asked(ground, joining(ground, of), x, y)
    at = places.on_ground(ground, x, y, 0.002)
    z = at.elevation_m + bare.relief_m * np.sqrt(1 + at.rise_east**2 + at.rise_north**2)
    away = np.sqrt((x - 10) ** 2 + (y - 10) ** 2 + (z - height - 0.2) ** 2) - 0.5
    near = np.clip(1 - np.abs(away) / JOINS, 0, 1)
    outside = (away > 0.01) & (near > 0.15)
    share = 0.5 * near**2 * (3 - 2 * near)
    wanted = bare.colour + (0.6 - bare.colour) * share[:, None]
    np.testing.assert_allclose(joined.colour[outside], wanted[outside], atol=0.004)
    np.testing.assert_allclose(
        (joined.relief_m - bare.relief_m)[outside], RISE * JOINS * near[outside] ** 2, atol=8e-4
    )
    untouched = (away > JOINS) | (away < -JOINS)
    assert untouched.sum() > 2000
    for one, other in zip(bare[:-1], joined[:-1], strict=True):
        assert np.array_equal(one[untouched], other[untouched])


def test_what_climbs_at_the_foot_has_the_slope_of_its_height() -> None:
    of = ball(foot_m=float(SLOPE.heights[32, 32]) - 0.3)
    made, step = joining(SLOPE, of), 0.004
    turn = np.linspace(0, 2 * np.pi, 400)
    x, y = 10 + 0.6 * np.cos(turn), 10 + 0.6 * np.sin(turn)
    lies = asked(SLOPE, made, x, y)
    bare = asked(SLOPE, None, x, y)
    added = lies.slope - bare.slope
    assert np.abs(added).max() > 0.1
    rise = np.array([0.4, 0.0])
    facing = np.array([-rise[0], -rise[1], 1]) / np.sqrt(1 + rise @ rise)
    for axis, (dx, dy) in enumerate(((step, 0.0), (0.0, step))):
        more, less = (
            asked(SLOPE, made, x + k * dx, y + k * dy).relief_m - asked(SLOPE, None, x + k * dx, y + k * dy).relief_m
            for k in (1, -1)
        )
        # per metre along the ground, as its gradient is told by the horizontal parts of one along the surface
        along = np.array([dx, dy, rise @ [dx, dy]]) / step
        told = added @ along[:2] + (-(added @ facing[:2]) / facing[2]) * along[2]
        np.testing.assert_allclose((more - less) / (2 * step), told, atol=0.02, err_msg=str(axis))


def test_what_covers_a_thing_shows_beside_it_and_nowhere_else() -> None:
    x, y = np.linspace(10.47, 10.6, 50), np.full(50, 10.0)
    bare, plain = asked(LEVEL, None, x, y), asked(LEVEL, joining(LEVEL, ball()), x, y)
    covered = asked(LEVEL, joining(LEVEL, ball(), cover=Covering(layers=(layer("Dark", 1),))), x, y)
    assert (plain.colour > bare.colour + 0.05).all()
    assert (np.abs(covered.colour - plain.colour) > 0.02).all()
    beside = asked(LEVEL, joining(LEVEL, ball(east_m=4.0)), x, y)
    assert np.array_equal(beside.colour, bare.colour)
    # things stand on what lies without joints
    prepared = plan.prepare((layer("Low", 0),), SETS, Evidence(SIDE, SIDE, joining=joining(LEVEL, ball())))
    at = places.on_ground(LEVEL, x, y, 0.002)
    assert np.array_equal(function.borne(prepared, at), bare.relief_m)


def test_what_is_wider_than_the_joint_takes_on_its_share() -> None:
    prepared = plan.prepare((layer("Low", 0),), SETS, Evidence(SIDE, SIDE, joining=joining(LEVEL, ball())))
    x, y = np.array([10.5]), np.array([10.0])
    fine, wide = (function.ask(prepared, places.on_ground(LEVEL, x, y, across)) for across in (0.01, 4 * JOINS))
    bare = asked(LEVEL, None, x, y)
    assert float((wide.colour - bare.colour)[0, 0]) == pytest.approx(
        float((fine.colour - bare.colour)[0, 0]) / 4, rel=0.02
    )
