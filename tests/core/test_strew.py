"""Strews: the same places however they are asked for, as dense and as large as told, none afloat, hands respected."""

from __future__ import annotations

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from numpy.typing import NDArray
from scipy.spatial import cKDTree
from scipy.stats import kstest

from elvatch.core.document.marks import DrawnPath, Marks, PaintedMask, PathPoint
from elvatch.core.document.rule import OnNear, OnNoise, Rule, on
from elvatch.core.document.strew import Added, ByHand, Clusters, Mixed, Size, Standing, Strew, Touch
from elvatch.core.ground import places
from elvatch.core.ground.clauses import between
from elvatch.core.ground.heightfield import Heightfield
from elvatch.core.ground.places import Places
from elvatch.core.ground.survey import Survey, survey
from elvatch.core.rules import program, rules
from elvatch.core.rules.evidence import Evidence
from elvatch.core.strew import candidates as c
from elvatch.core.strew.candidates import Box
from elvatch.core.strew.field import Field, places_and_radii, stocked
from elvatch.core.strew.laid import Laid, On, ceiling, densities, laid, sizes
from elvatch.core.strew.standing import stood
from elvatch.core.thing import model
from elvatch.core.thing.traced import bounds
from tests.conftest import plane

SIDE = 400.0


def bumpy(samples: int = 257, size_m: float = SIDE) -> Heightfield:
    """Hills of some metres, so that slopes and heights differ."""
    steps = np.linspace(0, size_m, samples)
    x, y = np.meshgrid(steps, size_m - steps)
    z = 50 + 6 * np.sin(x / 31) * np.cos(y / 23) + 0.02 * x
    return Heightfield(z.astype(np.float32), size_m, size_m)


LAND = survey(bumpy())
NOTHING = np.zeros((0, 3))


def lies_on(land: Survey = LAND, **more: object) -> On:
    return On(land, Evidence(land.width_m, land.depth_m, **more), (), lambda id: NOTHING, {"stone": 0.4})  # type: ignore[arg-type]


def strew(**more: object) -> Strew:
    given: dict[str, object] = {"id": "stones", "name": "Stones", "kinds": (Mixed(thing="stone"),)}
    return Strew.model_validate(given | more)


HILLY = Rule(clauses=(on(between("elevation", lower=50.0, soft_lower=4.0)), OnNoise(join="break-up", size_m=9)))


def numbers(found: Laid, box: Box) -> set[int]:
    inside = (found.x_m >= box.west) & (found.x_m < box.east) & (found.y_m >= box.south) & (found.y_m < box.north)
    return set(found.number[inside].tolist())


PART = st.tuples(st.floats(0, 380), st.floats(0, 380), st.floats(0.5, 120), st.floats(0.5, 120))


@given(part=PART, apart=st.sampled_from([0.0, 1.1]))
def test_any_part_holds_what_the_whole_holds_there(part: tuple[float, float, float, float], apart: float) -> None:
    what = strew(per_100_m2=12.0, apart_m=apart, rule=HILLY, clusters=Clusters(clustered=0.5, size_m=6, apart_m=11))
    west, south, wide, deep = part
    box = Box(west, south, min(west + wide, SIDE), min(south + deep, SIDE))
    whole, there = laid(what, lies_on()), laid(what, lies_on(), box)
    assert numbers(whole, box) == set(there.number.tolist())
    order = np.argsort(whole.number)
    at = order[np.searchsorted(whole.number[order], there.number)]
    np.testing.assert_array_equal(whole.x_m[at], there.x_m)
    np.testing.assert_array_equal(whole.size_m[at], there.size_m)


def test_one_thread_lays_what_two_do(monkeypatch: pytest.MonkeyPatch) -> None:
    what = strew(per_100_m2=20.0, apart_m=0.9, rule=HILLY)
    two = laid(what, lies_on())

    def one_by_one(count: int, work: object, token: object = None, least: int = 1) -> None:
        assert callable(work)
        for k in reversed(range(count)):
            work(k, k + 1)

    monkeypatch.setattr("elvatch.core.strew.candidates.over_bands", one_by_one)
    one = laid(what, lies_on())
    np.testing.assert_array_equal(one.number, two.number)


@pytest.mark.parametrize("apart", [0.0, 1.0])
def test_half_as_dense_is_a_part_of_it(apart: float) -> None:
    clusters = Clusters(clustered=0.6, size_m=5, apart_m=9)
    full = laid(strew(per_100_m2=8.0, apart_m=apart, rule=HILLY, clusters=clusters), lies_on())
    half = laid(strew(per_100_m2=4.0, apart_m=apart, rule=HILLY, clusters=clusters), lies_on())
    assert set(half.number.tolist()) < set(full.number.tolist())
    assert 0.42 < len(half.number) / len(full.number) < 0.62


def test_none_of_a_hundred_thousand_lie_nearer_than_told() -> None:
    wide = survey(plane(3, samples=33, size_m=700.0))
    found = laid(strew(per_100_m2=25.0, apart_m=1.2), On(wide, Evidence(700, 700), (), lambda id: NOTHING, {}))
    assert len(found.number) > 100_000
    at = np.stack([found.x_m, found.y_m], 1)
    away = np.asarray(cKDTree(at).query(at, 2)[0])[:, 1]
    assert away.min() >= 1.2
    assert np.quantile(away, 0.2) < 1.5, "they are no grid"


@pytest.mark.parametrize("clustered", [0.0, 0.7])
@pytest.mark.parametrize("apart", [0.0, 0.8])
def test_as_many_lie_there_as_the_rule_comes_to(apart: float, clustered: float) -> None:
    what = strew(
        per_100_m2=18.0, apart_m=apart, rule=HILLY, clusters=Clusters(clustered=clustered, size_m=8, apart_m=10)
    )
    at = places.on_grid(LAND, 1200, 1200, 0, 1200)
    wanted = np.minimum(densities(what, lies_on(), at).whole, c.FULLEST / apart**2 if apart else np.inf)
    assert len(laid(what, lies_on()).number) == pytest.approx(float(wanted.mean()) * SIDE**2, rel=0.03)


def test_clusters_move_things_and_make_none() -> None:
    rng = np.random.default_rng(3)
    x, y = rng.random((2, 400_000)) * 900
    factor = c.clustered(x, y, 5, 14.0, 6.0)
    assert factor.mean() == pytest.approx(1.0, abs=0.02)
    assert (factor == 0).mean() > 0.5
    assert factor.max() > 3


def test_sizes_are_as_told() -> None:
    what = strew(per_100_m2=30.0, size=Size(from_m=0.2, to_m=1.6, bias=2.0))
    found = laid(what, lies_on())

    def below(size: NDArray[np.float64]) -> NDArray[np.float64]:
        return np.asarray(1 - (1 - np.clip((size - 0.2) / 1.4, 0, 1)) ** 3)

    assert kstest(below(found.size_m), "uniform").pvalue > 0.01
    low = sizes(
        strew(size=Size(from_m=0.2, to_m=1.6, at_foot=1.0, foot_m=0.0, top_m=100.0)),
        np.full(3, 0.9),
        np.array([0.0, 50.0, 100.0], np.float32),
    )
    assert low[0] > low[1] > low[2] == pytest.approx(0.2)


def test_kinds_lie_by_their_weights() -> None:
    what = strew(kinds=(Mixed(thing="stone", weight=3), Mixed(thing="slab", weight=1)), per_100_m2=20.0)
    found = laid(what, lies_on())
    assert (found.kind == 0).mean() == pytest.approx(0.75, abs=0.015)


MODELS = {"stone": model.drawn("boulder", 3, 3, {}), "post": model.drawn("fence-post", 3, 2, {})}


def field_of(*strews: Strew, land: Survey = LAND) -> Field:
    found = stocked(strews, MODELS)
    on_land = On(land, Evidence(land.width_m, land.depth_m), (), lambda id: NOTHING, {})
    return Field(strews, tuple(one.model_dump_json() for one in strews), found, on_land, (), "test", MODELS)


def ripple(at: Places) -> np.ndarray[tuple[int], np.dtype[np.float32]]:
    return (0.05 + 0.05 * np.sin(at.x_m * 9) * np.cos(at.y_m * 7)).astype(np.float32)


@pytest.mark.parametrize("leans", [0.0, 1.0])
def test_nothing_floats_and_all_sink_as_told(leans: float) -> None:
    what = strew(
        per_100_m2=6.0,
        size=Size(from_m=0.3, to_m=1.5),
        stands=Standing(sunk_from=0.2, sunk_to=0.2, leans=leans, tilt_deg=12),
    )
    field = field_of(what)
    found = field.whole(0)
    stands = stood(what, found, field.stocks[0], LAND, (), ripple)
    turn = stands.turn.reshape(-1, 3, 3)
    stock = field.stocks[0]
    variant = (stands.shape - stock.first[found.kind]) // stock.levels[found.kind]
    ring = stock.feet[found.kind, variant] * found.size_m[:, None, None]
    foot = stands.at[:, None] + np.einsum("nij,nkj->nki", turn, ring)
    at = places.on_ground(LAND, foot[..., 0].ravel().clip(0, SIDE), foot[..., 1].ravel().clip(0, SIDE), 0.1)
    ground = (at.elevation_m + ripple(at)).reshape(foot.shape[:2])
    assert (foot[..., 2] <= ground + 1e-3).all(axis=1).mean() > 0.999
    deepest = (ground - foot[..., 2]).min(axis=1)
    share = deepest / (stock.height[found.kind, variant] * found.size_m)
    np.testing.assert_allclose(share, 0.2, atol=0.01)


def test_what_stands_lies_in_its_bounds() -> None:
    field = field_of(strew(per_100_m2=3.0))
    block = field.stands(0, field.blocks(0, Box(0, 0, 50, 50))[0], None, "")
    low, high = bounds(block.stood, field.shapes)
    assert ((low <= block.stood.at + 0.5) & (high >= block.stood.at - 0.5)).all()


def test_blocks_asked_for_together_stand_as_each_by_itself() -> None:
    asked: list[int] = []

    def counted(at: Places) -> np.ndarray[tuple[int], np.dtype[np.float32]]:
        asked.append(len(at.x_m))
        return ripple(at)

    what = (strew(per_100_m2=6.0), strew(per_100_m2=2.0, size=Size(from_m=0.8, to_m=1.5)))
    field = field_of(*what)
    wanted = [(k, block, k == 0 or block[0] > 0) for k in (0, 1) for block in field.blocks(k, Box(0, 0, SIDE, SIDE))]
    together = field.stand(wanted, counted, "together")
    assert len(asked) == 1
    for (k, block, raised), one in zip(wanted, together, strict=True):
        alone = stood(what[k], field.lies(k, block), field.stocks[k], LAND, (), ripple if raised else None)
        assert (one.stood.at == alone.at).all()
        assert (one.stood.turn == alone.turn).all()
    assert (
        sum(8 * len(one.laid.number) for (*_, raised), one in zip(wanted, together, strict=True) if raised)
        == asked[0]
    )
    field.stand(wanted, counted, "together")
    assert len(asked) == 1, "what stands is kept"
    # another cover: nothing but the height is another
    anew = field.stand(wanted, lambda at: ripple(at) + np.float32(0.5), "another")
    for (*_, raised), one, other in zip(wanted, together, anew, strict=True):
        np.testing.assert_allclose(other.stood.at[:, 2] - one.stood.at[:, 2], 0.5 if raised else 0.0, atol=1e-5)


def test_blocks_together_are_the_whole() -> None:
    field = field_of(strew(per_100_m2=9.0, apart_m=0.7, rule=HILLY))
    blocks = field.blocks(0, Box(0, 0, SIDE, SIDE))
    parts = [number for block in blocks for number in field.lies(0, block).number.tolist()]
    assert sorted(parts) == sorted(field.whole(0).number.tolist())
    assert field.count(0) == (len(parts), True)


def test_what_hands_did_survives_another_density_rule_and_ground() -> None:
    plain = strew(per_100_m2=10.0)
    first = laid(plain, lies_on())
    moved, gone = int(first.number[0]), int(first.number[1])
    hands = {
        "by_hand": (ByHand(number=moved, east_m=7.0, north_m=9.0, times=2.0), ByHand(number=gone, gone=True)),
        "added": (Added(number=4, thing="stone", east_m=SIDE, north_m=SIDE, size_m=3.0),),
    }
    hills = lies_on()
    flat = lies_on(survey(plane(0, size_m=SIDE)))
    for what, on_land in ((plain, hills), (strew(per_100_m2=3.0), hills), (strew(rule=HILLY), flat)):
        found = laid(what.model_copy(update=hands), on_land)
        at = np.flatnonzero(found.number == moved)
        assert [found.x_m[at].tolist(), found.y_m[at].tolist()] == [[7.0], [9.0]]
        assert gone not in found.number.tolist()
        assert found.size_m.max() == 3.0
        assert found.x_m.max() == SIDE
    doubled = laid(plain.model_copy(update=hands), hills)
    assert doubled.size_m[doubled.number == moved][0] == pytest.approx(2 * first.size_m[0])


def test_what_is_set_fast_stays_as_it_was() -> None:
    plain = strew(per_100_m2=6.0, size=Size(from_m=0.2, to_m=2.0, at_foot=1.0, foot_m=45.0, top_m=58.0))
    first = laid(plain, lies_on())
    fixed = tuple(
        ByHand(number=int(first.number[k]), east_m=float(first.x_m[k]), north_m=float(first.y_m[k]))
        for k in range(50)
    )
    none = Rule(clauses=(on(between("elevation", lower=1e6)),))
    kept = laid(plain.model_copy(update={"by_hand": fixed, "rule": none}), lies_on())
    order = np.argsort(kept.number)
    like = np.argsort(first.number[:50])
    np.testing.assert_array_equal(kept.number[order], first.number[:50][like])
    np.testing.assert_allclose(kept.size_m[order], first.size_m[:50][like], rtol=1e-6)
    np.testing.assert_array_equal(kept.kind[order], first.kind[:50][like])


def test_a_ceiling_leaves_out_the_last_ones() -> None:
    open_, held = strew(per_100_m2=20.0), strew(per_100_m2=20.0, at_most=5000)
    every, some = field_of(open_).whole(0), field_of(held).whole(0)
    assert len(some.number) == pytest.approx(5000, rel=0.02)
    assert set(some.number.tolist()) < set(every.number.tolist())
    at = places.on_grid(LAND, 64, 64, 0, 64)
    assert ceiling(open_, densities(open_, lies_on(), at).whole, SIDE**2) == np.inf


def test_a_brush_takes_away_and_adds(monkeypatch: pytest.MonkeyPatch) -> None:
    east = Rule(clauses=(on(between("elevation", lower=-1e6)),))
    plain = strew(per_100_m2=10.0, rule=east)
    seen: list[str] = []

    def presences(programs: object, which: int, at: Places, token: object = None) -> object:
        seen.append(str(which))
        return np.ones(len(at.x_m)) if which == 0 else (at.x_m > SIDE / 2).astype(float)

    monkeypatch.setattr("elvatch.core.strew.laid.rules.presences", presences)
    marks = Marks(masks=(PaintedMask(id="mask", name="mask"),))
    on_land = lies_on(marks=marks)
    fewer = laid(plain.model_copy(update={"touches": (Touch(mask="mask", does="fewer"),)}), on_land)
    more = laid(plain.model_copy(update={"touches": (Touch(mask="mask", does="more"),)}), on_land)
    assert seen
    assert fewer.x_m.max() <= SIDE / 2
    east_of, west_of = (more.x_m > SIDE / 2).sum(), (more.x_m <= SIDE / 2).sum()
    assert east_of / west_of == pytest.approx(2.0, rel=0.1)


def test_what_lies_along_a_path_is_found_wherever_it_is_looked_for(monkeypatch: pytest.MonkeyPatch) -> None:
    points = tuple(PathPoint(east_m=e, north_m=n) for e, n in ((20, 30), (150, 210), (300, 180), (390, 390)))
    way = DrawnPath(id="lane", name="Lane", points=points, width_m=3.0, soft_m=0.5, wobble_m=0.8, wobble_size_m=9)
    near = OnNear(to="path", target="lane", called="Lane", lower=0.5, upper=3.0, soft_lower=0, soft_upper=2.0)
    what = strew(per_100_m2=30.0, rule=Rule(clauses=(near, OnNoise(join="break-up", strength=0.6))))
    on_land = lies_on(marks=Marks(paths=(way,)))
    found = laid(what, on_land)
    monkeypatch.setattr("elvatch.core.strew.laid._far_from", lambda lines, box: False)
    np.testing.assert_array_equal(found.number, laid(what, on_land).number)
    assert len(found.number) > 200


def test_bigger_things_are_kept_clear_of() -> None:
    big = laid(strew(id="bigones", per_100_m2=1.0, size=Size(from_m=2, to_m=4)), lies_on())
    there = places_and_radii(big, strew(), {"stone": 0.5})
    on_land = lies_on()._replace(others=lambda id: there)
    small = laid(strew(id="smalls", per_100_m2=40.0, size=Size(from_m=0.3, to_m=0.3), clear_of=("bigones",)), on_land)
    away = cKDTree(there[:, :2]).query(np.stack([small.x_m, small.y_m], 1))
    assert (away[0] >= there[away[1], 2] + 0.3 * 0.4 - 1e-9).all()


def test_rules_ask_how_near_things_lie() -> None:
    rng = np.random.default_rng(2)
    there = np.column_stack([rng.random((300, 2)) * SIDE, rng.uniform(0.2, 1.5, 300)])
    rule = Rule(clauses=(OnNear(target="stones", called="Stones", lower=0.5, upper=2.0, soft_upper=1.0),))
    evidence = Evidence(SIDE, SIDE, things=lambda id: there if id == "stones" else None)
    at = places.on_ground(LAND, rng.random(4000) * SIDE, rng.random(4000) * SIDE, 0.1)
    found = rules.presences(program.compiled([("dust", rule)], evidence), 0, at)
    away = np.maximum(
        (np.hypot(at.x_m[:, None] - there[:, 0], at.y_m[:, None] - there[:, 1]) - there[:, 2]).min(axis=1), 0
    )
    assert (found[(away >= 0.5) & (away <= 2.0)] == 1).all()
    assert (found[(away < 0.5) | (away > 3.0)] == 0).all()
    gone = rules.presences(program.compiled([("dust", rule)], Evidence(SIDE, SIDE)), 0, at)
    assert (gone == 0).all()
