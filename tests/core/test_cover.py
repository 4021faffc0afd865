"""The cover as a function: shares, limits, edges, slopes, one answer for picture and bake."""

from __future__ import annotations

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from elvatch.core import colour as colours
from elvatch.core.cover import function, plan
from elvatch.core.cover.material import Material
from elvatch.core.document.fit import Fit
from elvatch.core.document.layer import Edge, Layer, Look
from elvatch.core.document.rule import Bracket, Clause, OnNoise, Rule, on
from elvatch.core.ground import places
from elvatch.core.ground.clauses import between
from elvatch.core.ground.heightfield import Heightfield
from elvatch.core.ground.measures import Measures
from elvatch.core.ground.shaped import Shaped
from elvatch.core.ground.survey import survey
from elvatch.core.mapping import ground_image
from elvatch.core.parallel import Token
from elvatch.core.refusal import CancelledError, RefusalError
from elvatch.core.rules import rules
from elvatch.core.rules.evidence import Evidence
from elvatch.core.rules.program import compiled, nowhere
from elvatch.core.stock import pyramid
from elvatch.core.stock.pyramid import Pyramid
from tests.conftest import NAMES, flat_set, layer, plane

SETS: dict[str, Pyramid] = {name: flat_set(0.1 * (k + 1)) for k, name in enumerate(NAMES)}


def ask(
    layers: tuple[Layer, ...],
    ground: Heightfield,
    sets: dict[str, Pyramid] | None = None,
    across: float = 0.05,
    count: int = 300,
) -> Material:
    rng = np.random.default_rng(8)
    x, y = rng.uniform(5, ground.width_m - 5, count), rng.uniform(5, ground.depth_m - 5, count)
    at = places.on_ground(survey(ground), x, y, across)
    return function.ask(plan.prepare(layers, sets or SETS), at)


any_join = st.sampled_from(["and", "or", "except", "add"])
any_measured = st.one_of(
    st.builds(
        lambda join, **limits: on(between("elevation", **limits), join),
        any_join,
        lower=st.none() | st.floats(0, 50),
        upper=st.none() | st.floats(50, 120),
        soft_lower=st.floats(0, 30),
        soft_upper=st.floats(0, 30),
        opposite=st.booleans(),
    ),
    st.builds(
        lambda join, **limits: on(between("slope", **limits), join),
        any_join,
        lower=st.none() | st.floats(0, 20),
        upper=st.none() | st.floats(20, 90),
        soft_lower=st.floats(0, 20),
        soft_upper=st.floats(0, 20),
        opposite=st.booleans(),
    ),
    st.builds(
        lambda join, **limits: on(between("aspect", **limits), join),
        any_join,
        lower=st.floats(0, 360),
        upper=st.floats(0, 360),
        soft_lower=st.floats(0, 40),
        soft_upper=st.floats(0, 40),
        opposite=st.booleans(),
    ),
)
any_clause = st.one_of(
    any_measured,
    st.builds(
        OnNoise,
        join=any_join | st.just("break-up"),
        noise=st.sampled_from(["soft", "ridges", "cells", "patches"]),
        size_m=st.floats(2, 60),
        seed=st.integers(0, 99),
        strength=st.floats(0, 2),
    ),
    st.builds(
        Bracket,
        join=any_join,
        clauses=st.lists(any_measured, min_size=1, max_size=3).map(tuple),
        opposite=st.booleans(),
    ),
)
any_layer = st.builds(
    lambda k, clauses, opacity, edge, width, on: layer(
        f"layer {k}",
        k,
        Rule(clauses=tuple(clauses)),
        opacity=opacity,
        edge=Edge(kind=edge, width_m=width),
        on=on,
    ),
    st.integers(0, 4),
    st.lists(any_clause, max_size=4),
    st.floats(0, 1),
    st.sampled_from(["fade", "height"]),
    st.floats(0, 1),
    st.booleans(),
)


@given(st.lists(any_layer, min_size=1, max_size=6), st.floats(0, 60))
def test_shares_sum_to_one_whatever_lies_there(layers: list[Layer], tilt: float) -> None:
    named = tuple(one.model_copy(update={"id": f"layer{k}"}) for k, one in enumerate(layers))
    shares = ask(named, plane(tilt, 20)).shares
    if any(one.on for one in named):
        assert np.abs(shares.sum(axis=1) - 1).max() < 1e-5
        assert shares.min() >= 0


@given(st.lists(any_clause, max_size=5), st.floats(0, 50))
def test_what_is_told_to_lie_nowhere_is_nowhere(clauses: list[Clause], tilt: float) -> None:
    ground = plane(tilt, 40)
    measures = Measures(Shaped(ground))
    evidence = Evidence(100.0, 100.0, measures.map, reach=measures.reach)
    rule = Rule(clauses=tuple(clauses))
    if nowhere(rule, evidence):
        at = places.on_grid(survey(ground), 24, 24, 0, 24)
        assert rules.presences(compiled([("", rule)], evidence), 0, at).max() == 0


def test_nowhere_is_told_of_what_this_ground_cannot_have_and_of_nothing_else() -> None:
    measures = Measures(Shaped(plane(20, 40)))
    evidence = Evidence(100.0, 100.0, measures.map, reach=measures.reach)
    for clause, told in (
        (between("slope", lower=40.0, soft_lower=5.0), True),
        (between("slope", lower=24.0, soft_lower=5.0), False),
        (between("elevation", upper=20.0, soft_upper=1.0), True),
        (between("elevation", upper=60.0), False),
        (between("slope", lower=40.0, soft_lower=5.0, opposite=True), False),
    ):
        assert nowhere(Rule(clauses=(on(clause),)), evidence) is told, clause


STEEP = Rule(clauses=(on(between("slope", lower=30, upper=90, soft_lower=0, soft_upper=0)),))


def test_a_steep_layer_has_nothing_of_a_plain_and_all_of_a_steep_slope() -> None:
    layers = (layer("base", 0), layer("steep", 1, STEEP))
    assert ask(layers, plane(0)).shares[:, 1].max() == 0
    assert ask(layers, plane(45)).shares[:, 1].min() == 1


@pytest.mark.parametrize(("tilt", "wanted"), [(25.0, 0.0), (27.5, 0.5), (30.0, 1.0), (26.25, 0.15625)])
def test_soft_ends_reach_outwards_and_ease(tilt: float, wanted: float) -> None:
    rule = Rule(clauses=(on(between("slope", lower=30, soft_lower=5)),))
    layers = (layer("base", 0), layer("steep", 1, rule, edge=Edge(kind="fade")))
    assert ask(layers, plane(tilt)).shares[:, 1] == pytest.approx(wanted, abs=2e-3)


def test_the_opposite_is_what_is_left() -> None:
    rule = Rule(clauses=(on(between("elevation", lower=50, soft_lower=20)),))
    other = Rule(clauses=(on(between("elevation", lower=50, soft_lower=20, opposite=True)),))
    fade = Edge(kind="fade")
    ground = plane(30)
    one = ask((layer("base", 0), layer("a", 1, rule, edge=fade)), ground).shares[:, 1]
    two = ask((layer("base", 0), layer("b", 1, other, edge=fade)), ground).shares[:, 1]
    np.testing.assert_allclose(one + two, 1, atol=2e-4)  # shares below 1e-4 are let go


def test_break_up_moves_the_edge_both_ways_and_makes_no_holes() -> None:
    def share(strength: float) -> np.ndarray:
        broken_up = OnNoise(join="break-up", size_m=6, strength=strength)
        rule = Rule(clauses=(on(between("elevation", lower=50, soft_lower=4)), broken_up))
        return ask((layer("base", 0), layer("a", 1, rule, edge=Edge(kind="fade"))), plane(30), count=4000).shares[
            :, 1
        ]

    plain, broken = share(0), share(1.0)
    assert (broken > plain + 0.2).any()
    assert (broken < plain - 0.2).any()
    ground = survey(plane(30))
    rng = np.random.default_rng(8)
    x, y = rng.uniform(5, 95, 4000), rng.uniform(5, 95, 4000)
    height = places.on_ground(ground, x, y, 0.05).elevation_m
    assert (broken[height > 60] == 1).all(), "well inside nothing is missing"
    assert (broken[height < 38] == 0).all(), "well outside nothing is added"


def test_edge_by_height_becomes_a_choice_and_with_equal_heights_the_fade() -> None:
    half = Rule(clauses=(on(between("slope", lower=32, soft_lower=4)),))
    ground = plane(30)

    def upper_share(upper_height: float, width: float, kind: str = "height") -> float:
        # the middle of a layer's relief is its set's mean height: two heights in one set make a step
        level = np.zeros((8, 8, 3), np.float32)
        level[..., 2] = 1
        one = np.ones((8, 8), np.float32)
        stepped = np.where(np.arange(8) < 4, 0.5 + upper_height, 0.5 - upper_height)[None, :] * one
        sets = dict(SETS)
        sets[NAMES[1]] = pyramid.build(pyramid.Maps(level, level, one, stepped.astype(np.float32), one), 1.0, 0.1)
        top = layer("top", 1, half, edge=Edge.model_validate({"kind": kind, "width_m": width}))
        at = places.on_ground(survey(ground), np.array([50.25]), np.array([50.3]), 0.01)
        return float(function.ask(plan.prepare((layer("base", 0), top), sets), at).shares[0, 1])

    assert upper_share(0.3, 0.0) == pytest.approx(1.0, abs=1e-4)
    assert upper_share(-0.3, 0.0) == pytest.approx(0.0, abs=1e-4)
    assert upper_share(0.0, 0.02) == pytest.approx(0.5, abs=2e-3)
    assert upper_share(0.3, 0.02, "fade") == pytest.approx(0.5, abs=2e-3)
    assert 0.5 < upper_share(0.1, 0.02) < 1


def test_a_hidden_layer_and_one_with_no_opacity_change_nothing() -> None:
    base, over = layer("base", 0), layer("over", 1)
    alone = ask((base,), plane(10))
    for upper in (over.model_copy(update={"on": False}), over.model_copy(update={"opacity": 0.0})):
        both = ask((base, upper), plane(10))
        for name in ("colour", "slope", "roughness", "relief_m"):
            np.testing.assert_array_equal(getattr(alone, name), getattr(both, name))


def test_colour_blends_in_linear_light() -> None:
    layers = (layer("base", 0), layer("over", 3, opacity=0.5, edge=Edge(kind="fade")))
    assert ask(layers, plane(0)).colour == pytest.approx(0.5 * 0.1 + 0.5 * 0.4, abs=1e-4)


def _ramp_set(across: bool = True) -> Pyramid:
    """A set whose surface rises eastwards by 0.2 per metre everywhere."""
    size = 8
    normal = np.zeros((size, size, 3), np.float32)
    normal[..., 0] = -0.2
    normal[..., 2] = 1
    normal /= np.linalg.norm(normal, axis=2, keepdims=True)
    one = np.ones((size, size), np.float32)
    return pyramid.build(pyramid.Maps(normal * 0 + 0.5, normal, one * 0.5, one * 0.5, one), 1.0, 0.1)


@pytest.mark.parametrize(("turn", "east", "north"), [(0, 0.2, 0), (90, 0, 0.2), (180, -0.2, 0), (45, 0.1414, 0.1414)])
def test_turning_a_layer_turns_its_slopes(turn: float, east: float, north: float) -> None:
    sets = SETS | {NAMES[0]: _ramp_set()}
    turned = layer("ramp", 0, fit=Fit(tile_m=1, relief_m=0.1, turn_deg=turn))
    found = ask((turned,), plane(0), sets).slope
    np.testing.assert_allclose(found, np.tile([east, north], (len(found), 1)), atol=1e-3)


def test_slopes_follow_relief_and_tile_size() -> None:
    sets = SETS | {NAMES[0]: _ramp_set()}
    for tile, relief, strength in ((2.0, 0.1, 1.0), (1.0, 0.3, 1.0), (4.0, 0.1, 2.0)):
        one = layer(
            "ramp", 0, fit=Fit(tile_m=tile, relief_m=relief), look=Look(variation=0, normal_strength=strength)
        )
        wanted = 0.2 * (relief / 0.1) / tile * strength
        assert ask((one,), plane(0), sets).slope[:, 0] == pytest.approx(wanted, abs=2e-3)


def test_normals_blend_in_slope_space() -> None:
    sets = SETS | {NAMES[0]: _ramp_set(), NAMES[1]: flat_set(0.5)}
    layers = (layer("ramp", 0), layer("flat", 1, opacity=0.25, edge=Edge(kind="fade")))
    assert ask(layers, plane(0), sets).slope[:, 0] == pytest.approx(0.15, abs=1e-3)


def test_relief_lost_to_distance_comes_back_as_roughness() -> None:
    rng = np.random.default_rng(2)
    normal = np.dstack([rng.normal(0, 0.3, (64, 64)), rng.normal(0, 0.3, (64, 64)), np.ones((64, 64))])
    normal = (normal / np.linalg.norm(normal, axis=2, keepdims=True)).astype(np.float32)
    one = np.ones((64, 64), np.float32)
    sets = SETS | {
        NAMES[0]: pyramid.build(pyramid.Maps(normal * 0 + 0.5, normal, one * 0.3, one * 0.5, one), 1.0, 0.1)
    }
    near, far = (ask((layer("rough", 0),), plane(0), sets, across).roughness.mean() for across in (0.001, 4.0))
    # two slopes of variance 0.09 widen alpha^2 = 0.3^4 by 0.18
    assert far == pytest.approx((0.3**4 + 0.18) ** 0.25, abs=0.02)
    assert near < far - 0.15


def test_the_cover_answers_alike_on_a_grid_and_at_single_places() -> None:
    rng = np.random.default_rng(3)
    size = 128
    pattern = rng.uniform(0.05, 0.6, (size, size, 3)).astype(np.float32)
    normal = np.zeros_like(pattern)
    normal[..., 2] = 1
    one = np.ones((size, size), np.float32)
    sets = SETS | {NAMES[0]: pyramid.build(pyramid.Maps(pattern, normal, one, one * 0.5, one), 1.0, 0.1)}
    layers = (layer("pattern", 0, fit=Fit(tile_m=3.7, relief_m=0.1)), layer("steep", 1, STEEP))
    land = survey(plane(28, 40))
    baked_at = places.on_grid(land, 200, 200, 60, 90)
    prepared = plan.prepare(layers, sets)
    baked = function.ask(prepared, baked_at)
    pick = np.arange(0, len(baked_at.x_m), 37)
    seen_at = places.on_ground(land, baked_at.x_m[pick], baked_at.y_m[pick], float(baked_at.across_m[0]))
    seen = function.ask(prepared, seen_at)
    codes = [colours.to_srgb(material.colour) for material in (baked, seen)]
    assert np.abs(codes[0][pick] - codes[1]).max() < 1 / 255


def test_a_missing_set_is_named() -> None:
    with pytest.raises(RefusalError, match="lost: found a texture set that is not in the stock"):
        plan.prepare((layer("lost", 0),), {})


def test_asking_stops_when_it_is_no_longer_wanted() -> None:
    token = Token()
    token.cancel()
    at = places.on_ground(survey(plane(0)), np.zeros(100_000), np.zeros(100_000), 0.1)
    with pytest.raises(CancelledError):
        function.ask(plan.prepare((layer("base", 0),), SETS), at, token)


def test_a_layer_takes_its_colour_from_the_image_over_the_ground() -> None:
    pixels = np.zeros((64, 64, 3), np.uint8)
    pixels[:32, :, 0], pixels[32:, :, 2] = 188, 188
    image = ground_image.prepare(pixels, 100.0, 100.0, "b" * 40)
    at = places.on_ground(survey(plane(0)), np.array([30.0, 30.0, 70.0]), np.array([80.0, 20.0, 80.0]), 0.5)

    def colour(amount: float, over: ground_image.GroundImage | None) -> np.ndarray:
        look = Look(variation=0, ground_image=amount)
        evidence = Evidence(100.0, 100.0, image=over)
        laid = plan.prepare((layer("base", 0).model_copy(update={"look": look}),), SETS, evidence)
        return function.ask(laid, at).colour

    own, half, whole = colour(0, image), colour(0.5, image), colour(1, image)
    # 188 of sRGB is half the light; north of the middle the image is red, south of it blue
    np.testing.assert_allclose(whole[0], [0.5, 0, 0], atol=0.01)
    np.testing.assert_allclose(whole[1], [0, 0, 0.5], atol=0.01)
    np.testing.assert_allclose(whole[2], whole[0], atol=0.01)
    np.testing.assert_allclose(half, (own + whole) / 2, atol=0.01)
    np.testing.assert_array_equal(colour(1, None), own, "without an image the set's colour stays")


def test_thirty_two_layers_of_six_clauses_and_layers_that_are_nowhere() -> None:
    def rule(k: int) -> Rule:
        bands: list[Clause] = [on(between("elevation", 10.0 + 2 * k, 40.0 + 2 * k, 3.0, 3.0))]
        bands += [OnNoise(size_m=5.0 + j, seed=j * 40 + k, lower=0.3, soft_lower=0.3) for j in range(4)]
        return Rule(clauses=(*bands, OnNoise(join="break-up", size_m=7.0, seed=k)))

    layers = tuple(
        layer(f"layer {k}", k % 5, rule(k) if k else None).model_copy(update={"id": f"layer{k}"}) for k in range(32)
    )
    found = ask(layers, plane(40, 15), count=2000)
    assert np.abs(found.shares.sum(axis=1) - 1).max() < 1e-5
    assert (found.shares.max(axis=0) > 0.2).sum() > 20
    nowhere = tuple(
        layer("nowhere", 1, STEEP).model_copy(
            update={"id": f"none{k}", "rule": Rule(clauses=(on(between("slope", 89.0)),))}
        )
        for k in range(20)
    )
    more = ask((*layers, *nowhere), plane(40, 15), count=2000)
    for name in ("colour", "slope", "roughness", "relief_m"):
        np.testing.assert_array_equal(getattr(found, name), getattr(more, name))


@pytest.mark.parametrize(
    ("look", "wanted"),
    [
        # grey of the same luminance: 0.2126 * 0.6 + 0.7152 * 0.2 + 0.0722 * 0.1
        (Look(variation=0, saturation=0), [0.2778] * 3),
        (Look(variation=0, brightness=0.5), [0.3, 0.1, 0.05]),
        (Look(variation=0, colour_lowest=0.5, colour_highest=0.5), None),
        (Look(variation=0, hue_deg=120), None),
    ],
)
def test_colour_is_turned_greyed_and_ranged(look: Look, wanted: list[float] | None) -> None:
    level = np.zeros((8, 8, 3), np.float32)
    level[..., 2] = 1
    one = np.ones((8, 8), np.float32)
    paint = np.broadcast_to(np.array([0.6, 0.2, 0.1], np.float32), (8, 8, 3))
    sets = SETS | {NAMES[0]: pyramid.build(pyramid.Maps(paint, level, one, one * 0.5, one), 1.0, 0.1)}
    found = ask((layer("paint", 0, look=look),), plane(0), sets).colour[0]
    luma = [0.2126, 0.7152, 0.0722]
    if wanted is not None:
        np.testing.assert_allclose(found, wanted, atol=2e-3)
    elif look.hue_deg:
        assert found.argmax() == 1, "a third of the way round red is green"
        assert found @ luma == pytest.approx(0.2778, abs=0.02)
    else:
        assert found @ luma == pytest.approx(0.5**2.2, abs=3e-3)


def test_roughness_is_ranged_and_then_shifted() -> None:
    look = Look(variation=0, roughness_lowest=0.2, roughness_highest=0.6, roughness_shift=0.1)
    assert ask((layer("base", 0, look=look),), plane(0)).roughness == pytest.approx(0.2 + 0.4 * 0.5 + 0.1, abs=2e-3)


def test_wide_areas_vary_slowly_and_keep_their_mean() -> None:
    sets = SETS | {NAMES[0]: _ramp_set()}
    plain = ask((layer("base", 0),), plane(0, size_m=1000), sets, count=4000)
    look = Look(variation=0.3, variation_colour=0.5, variation_offset=0.5, variation_size_m=60)
    varied = ask((layer("base", 0, look=look),), plane(0, size_m=1000), sets, count=4000)
    ratio = varied.colour / plain.colour
    assert 0.02 < ratio[:, 1].std() < 0.3
    assert ratio.mean() == pytest.approx(1, abs=0.06)
    assert (ratio[:, 0] / ratio[:, 2]).std() > 0.02, "warmer here, cooler there"
