"""Things set by hand: how they stand, what their surface is like, that textures turn with them."""

from __future__ import annotations

import math
from typing import Any

import numpy as np
import pytest
import trimesh
from hypothesis import given
from hypothesis import strategies as st
from scipy.spatial.transform import Rotation

from elvatch.core import colour
from elvatch.core.colour_difference import ciede2000, lab
from elvatch.core.cover import on_thing
from elvatch.core.document import begin
from elvatch.core.document.layer import Layer
from elvatch.core.document.light import Light
from elvatch.core.document.marks import DrawnPath
from elvatch.core.document.recipe import Peg, Recipe, Stand, Stands
from elvatch.core.document.rule import OnThing, Rule
from elvatch.core.document.set_thing import SetThing
from elvatch.core.document.thing import Covering, DrawnThing, Thing
from elvatch.core.document.wear import Effects, Made, Wear
from elvatch.core.ground import places
from elvatch.core.ground.description import FlatSource, Ground
from elvatch.core.ground.heightfield import Heightfield
from elvatch.core.ground.places import Places
from elvatch.core.ground.survey import survey
from elvatch.core.picture.joint import SetThings
from elvatch.core.picture.picture import Renderer, Setting, View
from elvatch.core.picture.terrain import terrain
from elvatch.core.refusal import RefusalError
from elvatch.core.rules.evidence import Evidence
from elvatch.core.stock import pyramid, sheet
from elvatch.core.stock.overlays import OVERLAYS
from elvatch.core.strew import single
from elvatch.core.strew.field import Field, stocked
from elvatch.core.strew.laid import On
from elvatch.core.thing import model
from elvatch.core.thing.bend import mean_curvature
from elvatch.core.thing.measures import NAMES as NAMES_OF_MEASURES
from elvatch.core.thing.shelter import left_open_at
from elvatch.core.thing.solid import solid
from tests.conftest import NAMES, flat_set, layer
from tests.core.handing import rolling
from tests.core.test_flat import covered, of_trimesh, stains

LAND = survey(rolling())
BOULDER = model.drawn("boulder", 3, 2, {})


def ripple(at: Places) -> np.ndarray[tuple[int], np.dtype[np.float32]]:
    return (0.05 + 0.05 * np.sin(at.x_m * 9) * np.cos(at.y_m * 7)).astype(np.float32)


def set_thing(**more: object) -> SetThing:
    return SetThing.model_validate(
        {"id": "boulder1", "name": "One", "thing": "boulder", "east_m": 40.0, "north_m": 60.0, "size_m": 2.0, **more}
    )


def corners(of: SetThing, relief_m: float = 0.0) -> tuple[np.ndarray, float]:
    """The thing's corners in the world, and how high the ground with its relief is at its place."""
    placed = single.placed(of, BOULDER, 0, [])
    stands = single.stood([placed], LAND, ripple if relief_m else None)
    turn = stands.turn[0].reshape(3, 3).astype(float)
    return placed.corners @ turn.T * stands.size[0] + stands.at[0], float(stands.at[0, 2])


@given(
    st.floats(5, 95),
    st.floats(5, 95),
    st.floats(-180, 180),
    st.floats(-60, 60),
    st.floats(-180, 180),
    st.floats(0, 1),
)
def test_none_of_its_foot_floats_however_it_is_turned(
    east: float, north: float, turn: float, nod: float, roll: float, leans: float
) -> None:
    of = set_thing(east_m=east, north_m=north, turn_deg=turn, nod_deg=nod, roll_deg=roll, leans=leans, sunk=0.0)
    world, _ = corners(of, 0.05)
    # the outline of what is near the ground: no place of it is above the ground there
    low = world[world[:, 2] < world[:, 2].min() + 0.02]
    ground = places.on_ground(LAND, low[:, 0], low[:, 1], 0.3).elevation_m.astype(float)
    assert (low[:, 2] <= ground + 0.1 + 0.02).all()


def test_sunk_is_a_share_of_its_height() -> None:
    lain, deeper = corners(set_thing(sunk=0.0))[0], corners(set_thing(sunk=0.25))[0]
    height = np.ptp(lain[:, 2])
    assert (lain[:, 2] - deeper[:, 2]) == pytest.approx(0.25 * height, rel=1e-4)


def test_it_turns_nods_and_rolls_as_told() -> None:
    def along(**angles: float) -> np.ndarray:
        return single.turn(set_thing(**angles)) @ np.eye(3)

    assert along(turn_deg=90)[:, 0] == pytest.approx([0, 1, 0], abs=1e-9)
    assert along(nod_deg=90)[:, 0] == pytest.approx([0, 0, 1], abs=1e-9)
    assert along(roll_deg=90)[:, 1] == pytest.approx([0, 0, 1], abs=1e-9)
    on_slope = single.turn(set_thing(leans=1.0), 0.5, 0.0)
    assert on_slope[:, 2] == pytest.approx(np.array([-0.5, 0, 1]) / math.sqrt(1.25), abs=1e-9)


def test_a_stretched_one_is_as_long_as_told() -> None:
    plain, long = corners(set_thing())[0], corners(set_thing(along=2.0))[0]
    assert np.ptp(long[:, 0]) == pytest.approx(2 * np.ptp(plain[:, 0]), rel=1e-4)
    assert np.ptp(long[:, 1]) == pytest.approx(np.ptp(plain[:, 1]), rel=1e-4)


def test_bends_of_a_ball_and_a_pipe() -> None:
    ball = trimesh.creation.icosphere(subdivisions=4, radius=0.25)
    assert mean_curvature(ball.vertices, ball.faces) == pytest.approx(4.0, rel=0.02)
    turn, up = np.meshgrid(np.arange(96) / 96 * 2 * np.pi, np.linspace(0, 2, 65))
    places = np.stack([0.5 * np.cos(turn), 0.5 * np.sin(turn), up], 2).reshape(-1, 3)
    k = np.arange(64 * 96)
    beside = k // 96 * 96 + (k + 1) % 96
    faces = np.concatenate([np.stack([k, beside, k + 96], 1), np.stack([beside, beside + 96, k + 96], 1)])
    inner = (places[:, 2] > 0.1) & (places[:, 2] < 1.9)
    assert mean_curvature(places, faces)[inner] == pytest.approx(1.0, rel=0.02)


@pytest.mark.parametrize("opens_deg", [40.0, 75.0, 90.0, 130.0])
def test_a_wedge_leaves_what_its_angle_says(opens_deg: float) -> None:
    # on one wall of a long wedge, far from its rim: (1 - cos(angle)) / 2 of what a wall alone sees
    angle, long, wide = math.radians(opens_deg), 400.0, 100.0
    other = [wide * math.cos(angle), 0.0, wide * math.sin(angle)]
    places = np.array(
        [
            [0, -long, 0],
            [0, long, 0],
            [wide, -long, 0],
            [wide, long, 0],
            [other[0], -long, other[2]],
            [other[0], long, other[2]],
        ]
    )
    faces = np.array([[0, 2, 1], [2, 3, 1], [0, 1, 4], [1, 5, 4]])
    wedge = solid(places, faces, np.full((1, 3), 0.5))
    at = np.stack([np.full(64, 1.0), np.linspace(-1, 1, 64), np.zeros(64)], 1)
    found = left_open_at(wedge, at, np.tile([0.0, 0.0, 1.0], (64, 1)))
    assert float(found.mean()) == pytest.approx((1 - math.cos(angle)) / 2, rel=0.02, abs=0.004)


def plain(count: int) -> on_thing.Own:
    return on_thing.Own(
        np.full((count, 3), OWN[0], np.float32), np.full(count, OWN[1], np.float32), np.full(count, 0.0, np.float32)
    )


OWN = 0.4, 0.5
"""What the thing itself is: its colour and its roughness."""


def on_ball(count: int) -> on_thing.Points:
    """Places all over a ball of 1 m about (50, 50, 12), as it stands."""
    way = np.random.default_rng(4).normal(size=(count, 3))
    way /= np.linalg.norm(way, axis=1, keepdims=True)
    points = on_thing.no_points(count)
    points.own[:], points.own_facing[:] = way, way
    points.at[:], points.facing[:] = way + np.array([50, 50, 12]), way
    points.across_m[:] = 0.01
    points.carried[:, NAMES_OF_MEASURES.index("up")] = np.degrees(np.arccos(way[:, 2]))
    return points


def wear(over: tuple[str, ...] = (), place: str | None = None, **effects: object) -> Wear:
    """Wear that lies in full on all that faces up by less than 60°."""
    up = Rule(clauses=(OnThing(of="up", upper=60.0, soft_upper=0.0),))
    return Wear(
        id="white0000",
        name="White",
        source=Made(what="speckle"),
        rule=up,
        over=over,
        place=place,
        effects=Effects.model_validate(effects),
    )


def worn(wears: tuple[Wear, ...], layers: tuple[Layer, ...] = ()) -> on_thing.Covered:
    full = sheet.build(np.full((64, 64), 65535, np.uint16), np.linspace(0, 1, 65536).astype(np.float32), "full")
    evidence = Evidence(LAND.width_m, LAND.depth_m, sheet=lambda _: full)
    sets = {layer.set: pyramid.plain(np.full((8, 8, 3), 0.8, np.float32), 1.0) for layer in layers}
    ready = on_thing.prepare(Covering(layers=layers, wears=wears), sets, evidence)
    points = on_ball(3000)
    return on_thing.ask(ready, points, plain(3000), np.eye(3, dtype=np.float32))


UP = on_ball(3000).facing[:, 2] > 0.5


def test_wear_changes_a_things_own_material_where_its_rule_says() -> None:
    found = worn(
        (
            wear(
                colour={"mode": "multiply", "colour": "#808080", "strength": 0.5},
                roughness={"mode": "replace", "strength": 1.0, "towards": 0.9},
            ),
        )
    )
    grey = float(colour.to_linear(np.array([0x80 / 255], np.float32))[0])
    assert np.allclose(found.colour[~UP], OWN[0], atol=1e-5)
    assert np.allclose(found.colour[UP], OWN[0] * (0.5 + 0.5 * grey), atol=1e-3)
    assert np.allclose(found.rough[UP], 0.9, atol=1e-3)
    assert np.allclose(found.rough[~UP], OWN[1], atol=1e-3)
    assert np.allclose(found.own, 1.0)


def test_wear_lies_at_its_place_in_a_things_column_and_wears_layers_through() -> None:
    green = layer("Green", 0)
    white: dict[str, Any] = {"colour": {"mode": "replace", "colour": "#ffffff", "strength": 1.0}}
    under = worn((wear(place=on_thing.OWN_MATERIAL, **white),), (green,))
    over = worn((wear(**white),), (green,))
    through = worn((wear(worn_through=1.0),), (green,))
    assert np.allclose(under.colour, 0.8, atol=1e-3)
    assert np.allclose(over.colour[UP], 1.0, atol=1e-3)
    assert np.allclose(over.colour[~UP], 0.8, atol=1e-3)
    assert np.allclose(through.colour[UP], OWN[0], atol=1e-3)
    assert np.allclose(through.shares[~UP, 0], 1.0, atol=1e-3)


@given(st.sampled_from(sorted(set(OVERLAYS) - {"tyres", "boots", "barrow"})), st.floats(0.02, 40))
def test_every_kind_that_follows_no_path_begins_on_a_thing_no_larger_than_it(what: str, size_m: float) -> None:
    site = begin.SiteSpans(0.0, 100.0, 9.0, (), 50.0)
    made = begin.on_thing(begin.of_kind(what, "wear00001", site), size_m)
    assert made.lie.projection == "triplanar"
    assert made.lie.tile_m <= size_m / 2 + 0.005
    Covering.model_validate({"wears": [made.model_dump()]})


def test_what_follows_a_path_is_refused_on_a_thing() -> None:
    path = DrawnPath.model_validate(
        {"id": "path00001", "name": "Way", "points": [{"east_m": 1, "north_m": 1}, {"east_m": 9, "north_m": 9}]}
    )
    tyres = begin.of_kind("tyres", "wear00001", begin.SiteSpans(0.0, 100.0, 9.0, (path,), 50.0))
    with pytest.raises(RefusalError, match="follows a path"):
        begin.on_thing(tyres, 2.0)
    with pytest.raises(ValueError, match="follows a path"):
        Covering(wears=(tyres,))


def test_textures_in_its_own_axes_turn_with_it_bit_for_bit() -> None:
    rng = np.random.default_rng(4)
    own = rng.uniform(-1, 1, (4000, 3)).astype(np.float32)
    facing = own / np.linalg.norm(own, axis=1, keepdims=True)
    ready = covered(Rule(), colour=stains())
    found = []
    for matrix in (np.eye(3), Rotation.random(random_state=2).as_matrix()):
        points = on_thing.no_points(len(own))
        points.own[:], points.own_facing[:] = own, facing
        points.at[:], points.facing[:] = own @ matrix.T + [50, 50, 12], facing @ matrix.T
        points.across_m[:] = 0.01
        found.append(on_thing.ask(ready, points, plain(len(own)), matrix.astype(np.float32)))
    assert np.array_equal(found[0].colour, found[1].colour)
    assert np.array_equal(found[0].rough, found[1].rough)
    assert float(np.ptp(found[0].colour[:, 0])) > 0.2


def ball_on_light_ground(joins_m: float, both_ways: bool = True) -> np.ndarray:
    """A picture of a dark ball, sunk to a third, linear."""
    side = 20.0
    land = terrain(Heightfield(np.zeros((65, 65), np.float32), side, side))
    ball = of_trimesh(trimesh.creation.icosphere(subdivisions=4), 0.03)
    of = set_thing(east_m=10.0, north_m=10.0, size_m=1.0, sunk=0.3, joins_m=joins_m)
    found = stocked((), {"boulder": model.model([ball])}, (of,), f"ball {joins_m}")
    on = On(land.survey, Evidence(side, side), (), lambda id: np.zeros((0, 3)), {})
    field = Field((), (), found, on, (), f"ball {joins_m}")
    recipe = Recipe(
        ground=Ground(width_m=side, depth_m=side, source=FlatSource(samples=65)),
        layers=(layer("Low", 0),),
        things=(Thing(id="boulder", name="Ball", source=DrawnThing(what="boulder")),),
        set_things=(of,),
        peg=Peg(east_m=2.0, north_m=2.0),
        stands=Stands(far=Stand(bearing_deg=0, tilt_deg=30, distance_m=4.0, view_deg=14)),
        light=Light(sun_height_deg=40, sun_bearing_deg=200),
    )
    view = View("far", 400, 300, 1)
    sets = {NAMES[0]: flat_set(0.3)}
    things = {one.id: one for one in recipe.things}
    joining = SetThings("ball", "ball", lambda: field, things, sets, Evidence(side, side)) if both_ways else None
    evidence = Evidence(side, side, joining=joining)
    taken = Renderer().take(land, recipe, sets, view, evidence=evidence, setting=Setting(None, field))
    return colour.to_linear((taken.pixels[..., :3] / 255).astype(np.float32)).astype(np.float64)


def test_at_the_contact_line_thing_and_ground_are_one_colour() -> None:
    joined, sharp = ball_on_light_ground(0.25), ball_on_light_ground(0.0)
    # without a joint the lowest pixel of the ball in each column, below the middle, is where tone jumps most
    steps = np.diff(sharp[..., 1], axis=0)
    steps[:150] = 0
    # in the middle: to the sides it hangs over, and its shadow begins
    cols = 100 + np.flatnonzero(steps[:, 100:280].max(axis=0) > 0.05)
    rows = steps.argmax(axis=0)[cols]
    assert len(cols) > 80
    assert np.median(ciede2000(lab(sharp[rows, cols]), lab(sharp[rows + 1, cols]))) > 5
    apart = ciede2000(lab(joined[rows, cols]), lab(joined[rows + 1, cols]))
    assert np.median(apart) < 1.0
    assert np.quantile(apart, 0.9) < 2.0
    # the ground before it is the darker, the nearer
    one_way = ball_on_light_ground(0.25, both_ways=False)
    before = rows + 6
    darker = joined[before, cols, 1] / one_way[before, cols, 1]
    assert np.median(darker) < 0.8
    assert np.array_equal(joined[290:, :40], one_way[290:, :40])
