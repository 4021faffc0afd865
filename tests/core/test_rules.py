"""Rules against a plain reading of the same sentence, and what marks on the ground say."""

from __future__ import annotations

import math

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from elvatch.core.document.layer import Layer
from elvatch.core.document.marks import DrawnPath, Marks, MaskImage, PathPoint, Placing
from elvatch.core.document.rule import (
    Bracket,
    Channel,
    Clause,
    OnImage,
    OnLayer,
    OnMeasure,
    OnNoise,
    OnPath,
    Rule,
    on,
)
from elvatch.core.ground import places
from elvatch.core.ground.clauses import CurvePoint, between
from elvatch.core.ground.measures import MeasureName, Measures
from elvatch.core.ground.places import Places
from elvatch.core.ground.shaped import Shaped
from elvatch.core.ground.survey import survey
from elvatch.core.rules import rules
from elvatch.core.rules.evidence import Evidence
from elvatch.core.rules.mask_image import ChannelPlane, stored
from elvatch.core.rules.program import compiled
from tests.conftest import layer, plane
from tests.core.test_cover import any_clause, any_measured


def at(x: float, y: float, elevation: float = 0.0, rise: tuple[float, float] = (0.0, 0.0)) -> Places:
    """One place."""
    one = places.zeros(1)
    one.x_m[0], one.y_m[0], one.elevation_m[0] = x, y, elevation
    one.rise_east[0], one.rise_north[0] = rise
    return one


def present(rule: Rule, where: Places, evidence: Evidence | None = None, layers: tuple[Layer, ...] = ()) -> float:
    return float(rules.presences(compiled([("it", rule)], evidence or Evidence(), layers), 0, where)[0])


def inside(clause: OnMeasure, value: float) -> float:
    """How much a value is let in, as the guide says it: soft ends reach outwards and ease."""
    if clause.measure == "aspect":
        if value < 0 or clause.lower is None or clause.upper is None:
            return 0.0 if value < 0 else 1.0
        width, past = (clause.upper - clause.lower) % 360, (value - clause.lower) % 360
        if (width == 0 and clause.upper != clause.lower) or past <= width:
            return 1.0
        gaps = ((360 - past, clause.soft_lower), (past - width, clause.soft_upper))
        t = max(0.0 if soft == 0 else max(0.0, 1 - gap / soft) for gap, soft in gaps)
        return t * t * (3 - 2 * t)
    part = 1.0
    for gap, soft in (
        (math.inf if clause.lower is None else value - clause.lower, clause.soft_lower),
        (math.inf if clause.upper is None else clause.upper - value, clause.soft_upper),
    ):
        if gap < 0:
            t = 0.0 if soft == 0 else max(0.0, 1 + gap / soft)
            part = min(part, t * t * (3 - 2 * t))
    return part


def plain(clauses: tuple[Clause, ...], values: dict[str, float]) -> float:
    """The sentence read from left to right."""
    total: float | None = None
    for clause in clauses:
        if isinstance(clause, Bracket):
            part = plain(clause.clauses, values)
        else:
            assert isinstance(clause, OnMeasure)
            part = inside(clause, values[clause.measure])
        part = 1 - part if clause.opposite else part
        if total is None:
            total = 1 - part if clause.join == "except" else part
        elif clause.join == "and":
            total *= part
        elif clause.join == "or":
            total = total + part - total * part
        elif clause.join == "except":
            total *= 1 - part
        else:
            total = min(1.0, total + part)
    return 1.0 if total is None else total


sentences = st.lists(any_measured | any_clause.filter(lambda c: isinstance(c, Bracket)), max_size=6).map(tuple)


@given(sentences, st.floats(-50, 200), st.floats(-4, 4), st.floats(-4, 4))
def test_a_rule_means_what_its_sentence_says(
    clauses: tuple[Clause, ...], elevation: float, east: float, north: float
) -> None:
    where = at(3, 7, elevation, (east, north))
    rise = float(where.rise_east[0]), float(where.rise_north[0])
    level = rise == (0.0, 0.0)
    values = {
        "elevation": float(where.elevation_m[0]),
        "slope": math.degrees(math.atan(math.hypot(*rise))),
        "aspect": -1.0 if level else math.degrees(math.atan2(-rise[0], -rise[1])) % 360,
    }
    assert present(Rule(clauses=clauses), where) == pytest.approx(plain(clauses, values), abs=2e-6)


@given(st.lists(any_clause, max_size=6), st.floats(-50, 200), st.floats(0, 4), st.floats(-500, 500))
def test_whatever_is_joined_a_presence_lies_between_nothing_and_all(
    clauses: list[Clause], elevation: float, rise: float, x: float
) -> None:
    assert 0 <= present(Rule(clauses=tuple(clauses)), at(x, 7, elevation, (rise, 0.3))) <= 1


@given(st.floats(-50, 200), st.floats(0, 4), st.floats(-500, 500))
def test_hard_limits_are_not_broken_up(elevation: float, strength: float, x: float) -> None:
    hard = on(between("elevation", lower=50, soft_lower=0))
    rule = Rule(clauses=(hard, OnNoise(join="break-up", size_m=5, strength=strength)))
    where = at(x, 7, elevation)
    assert present(rule, where) == (1.0 if where.elevation_m[0] >= 50 else 0.0)


def test_a_curve_takes_the_place_of_easing() -> None:
    curve = (CurvePoint(inside=0, share=0.2), CurvePoint(inside=0.5, share=0.8), CurvePoint(inside=1, share=1))
    clause = between("elevation", lower=50, soft_lower=10).model_copy(update={"curve": curve})
    rule = Rule(clauses=(on(clause),))
    found = [present(rule, at(0, 0, z)) for z in (30, 40, 42.5, 45, 47.5, 50)]
    np.testing.assert_allclose(found, [0.2, 0.2, 0.5, 0.8, 0.9, 1.0], atol=1e-6)


def test_every_measure_is_read_where_it_lies() -> None:
    """On a plane every sample's neighbours say the same, so a clause may be checked by the map's own value."""
    ground = plane(20, 30)
    measures = Measures(Shaped(ground))
    evidence = Evidence(100.0, 100.0, measures.map)
    where = places.on_ground(survey(ground), np.array([41.0]), np.array([37.0]), 0.01)
    names: tuple[MeasureName, ...] = (
        "drainage",
        "wetness",
        "openness",
        "relative-height",
        "curvature-mean",
        "worn",
        "slope",
        "aspect",
    )
    for name in names:
        values = measures.map(name)
        rows, cols = values.shape
        r, c = (100 - 37) / 100 * (rows - 1), 41 / 100 * (cols - 1)
        four = values[int(r) : int(r) + 2, int(c) : int(c) + 2]
        low, high = float(four.min()) - 1e-3, float(four.max()) + 1e-3
        near = Rule(clauses=(on(between(name, low, high, 0.0, 0.0)),))
        beyond = Rule(clauses=(on(between(name, high + 1, high + 2, 0.0, 0.0)),))
        assert (present(near, where, evidence), present(beyond, where, evidence)) == (1.0, 0.0), name


def paths(*paths_: DrawnPath) -> Evidence:
    return Evidence(100.0, 100.0, marks=Marks(paths=paths_))


def line(*points: tuple[float, float], **parts: float) -> DrawnPath:
    given = {"width_m": 4.0, "soft_m": 2.0, "wobble_m": 0.0} | parts
    return DrawnPath.model_validate(
        {"id": "lane", "name": "Lane", "points": [PathPoint(east_m=x, north_m=y) for x, y in points], **given}
    )


@pytest.mark.parametrize(
    ("aside", "wanted"), [(0.0, 1.0), (1.99, 1.0), (3.0, 0.5), (3.5, 0.15625), (4.01, 0.0), (30.0, 0.0)]
)
def test_a_path_lets_in_by_the_distance_from_it(aside: float, wanted: float) -> None:
    rule = Rule(clauses=(OnPath(path="lane", called="Lane"),))
    slanted = line((10, 10), (50, 50), (90, 90))
    where = at(40 + aside / math.sqrt(2), 40 - aside / math.sqrt(2))
    assert present(rule, where, paths(slanted)) == pytest.approx(wanted, abs=1e-5)


def test_a_path_goes_through_its_points_and_a_wider_one_reaches_farther() -> None:
    bent = line((10, 20), (40, 70), (80, 30), (95, 90))
    for point in bent.points:
        assert (
            present(Rule(clauses=(OnPath(path="lane", called="x"),)), at(point.east_m, point.north_m), paths(bent))
            == 1
        )
    rng = np.random.default_rng(5)
    x, y = rng.uniform(0, 100, (2, 400))
    many = places.zeros(400)
    many.x_m[:], many.y_m[:] = x, y
    plainly, wider = (
        rules.presences(
            compiled([("", Rule(clauses=(OnPath(path="lane", called="x", wider_m=w),)))], paths(bent)), 0, many
        )
        for w in (0.0, 6.0)
    )
    assert (wider >= plainly).all()
    assert wider.sum() > plainly.sum() * 1.5


def image_evidence(values: np.ndarray, placing: Placing | None = None) -> Evidence:
    image = MaskImage(id="mask", name="Mask", file="a" * 40, file_name="m.png", placing=placing or Placing())

    def plane_of(file: str, file_name: str, channel: Channel) -> ChannelPlane:
        return stored(values.astype(np.float32))

    return Evidence(100.0, 50.0, marks=Marks(images=(image,)), plane=plane_of)


BY_IMAGE = Rule(clauses=(OnImage(image="mask", called="Mask"),))


def test_an_image_is_read_at_its_texels_and_is_nothing_beyond_its_edges() -> None:
    values = np.random.default_rng(1).integers(0, 256, (5, 10)) / 255
    over_all = image_evidence(values)
    for row, col in ((0, 0), (4, 9), (2, 5), (0, 9)):
        where = at((col + 0.5) * 10, 50 - (row + 0.5) * 10)
        assert present(BY_IMAGE, where, over_all) == pytest.approx(values[row, col], abs=1e-6)
    turned = Placing(
        fit="corner", east_m=20, north_m=10, width_m=40, depth_m=20, flip_east_west=True, flip_north_south=True
    )
    placed = image_evidence(values, turned)
    assert present(BY_IMAGE, at(22, 12), placed) == pytest.approx(values[0, 9], abs=1e-6)
    assert present(BY_IMAGE, at(58, 28), placed) == pytest.approx(values[4, 0], abs=1e-6)
    assert present(BY_IMAGE, at(19, 20), placed) == 0
    assert present(BY_IMAGE, at(40, 31), placed) == 0


@given(st.floats(0, 1), st.floats(0, 1))
def test_another_layers_presence_is_its_rule_with_its_opacity(opacity: float, elevation: float) -> None:
    low = layer("low", 1, Rule(clauses=(on(between("elevation", lower=1, soft_lower=1)),)), opacity=opacity)
    rule = Rule(clauses=(OnLayer(layer=low.id, called="low"),))
    where = at(0, 0, elevation)
    wanted = present(low.rule, where) * opacity
    assert present(rule, where, None, (low,)) == pytest.approx(wanted, abs=1e-6)
    hidden = low.model_copy(update={"on": False})
    assert present(rule, where, None, (hidden,)) == pytest.approx(wanted, abs=1e-6)


def test_what_is_gone_lets_nothing_in() -> None:
    gone = OnPath(path="none", called="Old lane")
    programs = compiled(
        [
            ("Track", Rule(clauses=(gone,))),
            ("Moss", Rule(clauses=(OnLayer(layer="none", called="Peat", join="except"),))),
        ],
        Evidence(),
    )
    assert rules.presences(programs, 0, at(1, 1))[0] == 0
    assert rules.presences(programs, 1, at(1, 1))[0] == 1, "nothing is taken away where nothing is"


def test_rules_of_rules_end_with_a_refusal_and_not_with_the_memory() -> None:
    from elvatch.core.refusal import RefusalError

    layers = [layer("layer 0", 0, Rule(clauses=(on(between("slope", lower=3)),)))]
    for k in range(1, 14):
        below = tuple(OnLayer(layer=layers[-1].id, called="x", join="or") for _ in range(4))
        layers.append(layer(f"layer {k}", 0, Rule(clauses=below)).model_copy(update={"id": f"layer{k}"}))
    with pytest.raises(RefusalError, match="asks for too many"):
        compiled([("top", layers[-1].rule)], Evidence(), tuple(layers))
