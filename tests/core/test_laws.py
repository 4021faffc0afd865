"""Laws that hold for any ground and any amounts."""

from __future__ import annotations

from typing import Any

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from hypothesis.extra import numpy as hnp
from numpy.typing import NDArray

from elvatch.core.document.rule import Rule, on
from elvatch.core.ground import blur, clauses, drainage, mend, places, sampling
from elvatch.core.ground.clauses import between
from elvatch.core.ground.heightfield import Heightfield
from elvatch.core.ground.shaped import Shaped, Traces
from elvatch.core.ground.steps import bend, brush, remap, resample, settle, terrace
from elvatch.core.ground.steps.bend import TwistStep
from elvatch.core.ground.steps.brush import BrushStep, Stroke, StrokePoint
from elvatch.core.ground.steps.level import soft_least
from elvatch.core.ground.steps.remap import HeightPoint, RemapStep
from elvatch.core.ground.steps.settle import SettleStep
from elvatch.core.ground.steps.terrace import TerraceStep
from elvatch.core.rules import rules
from elvatch.core.rules.evidence import Evidence
from elvatch.core.rules.program import compiled
from elvatch.core.run import Run
from tests.conftest import plane

heights = hnp.arrays(
    np.float32, st.tuples(st.integers(9, 24), st.integers(9, 24)), elements=st.floats(-50, 50, width=16)
)
FEW = settings(max_examples=25)


def ground(values: np.ndarray) -> Heightfield:
    return Heightfield(values, float(values.shape[1] - 1), float(values.shape[0] - 1))


@given(heights)
@FEW
def test_filling_raises_only_and_never_above_the_highest_way_out(values: np.ndarray) -> None:
    level = drainage.fill(ground(values)).level_m
    assert (level >= values).all()
    border = np.concatenate([values[0], values[-1], values[:, 0], values[:, -1]])
    raised = level > values
    assert level[raised].max(initial=-np.inf) <= max(values.max(), border.max())
    np.testing.assert_array_equal(drainage.fill(ground(level)).level_m, level, "filled ground stays as it is")


@given(heights, st.floats(0.2, 3))
@FEW
def test_what_runs_off_any_ground_is_what_fell_on_it(values: np.ndarray, power: float) -> None:
    land = ground(values)
    network = drainage.fill(land)
    rain = np.random.default_rng(1).random(values.shape)
    runs = drainage.accumulate(land, network, rain, power=power)
    leaves = network.way_out == np.arange(values.size)
    assert runs.ravel()[leaves].sum() == pytest.approx(rain.sum(), rel=1e-6)
    assert (runs >= rain - 1e-9).all()


@given(st.floats(0, 60), st.floats(0, 359), st.floats(0.1, 9), st.floats(0.1, 9))
@FEW
def test_smoothing_leaves_any_plane_as_it_is(tilt: float, bearing: float, sigma_x: float, sigma_y: float) -> None:
    tilted = plane(tilt, bearing, samples=33, size_m=32).heights_m
    np.testing.assert_allclose(blur.blur(tilted, sigma_x, sigma_y), tilted, atol=2e-3)


@given(heights, st.floats(0.5, 6))
@FEW
def test_smoothing_does_not_care_where_zero_lies(values: np.ndarray, sigma: float) -> None:
    high = values + np.float32(4096)
    np.testing.assert_allclose(blur.blur(high, sigma, sigma) - 4096, blur.blur(values, sigma, sigma), atol=4e-3)


@given(heights, st.integers(9, 60), st.integers(9, 60))
@FEW
def test_resampling_keeps_corners_and_planes(values: np.ndarray, rows: int, cols: int) -> None:
    corners = np.ix_([0, -1], [0, -1])
    if rows >= values.shape[0] and cols >= values.shape[1]:
        np.testing.assert_allclose(sampling.resampled(values, rows, cols)[corners], values[corners], atol=1e-4)
    tilted = plane(30, 50, samples=21, size_m=20)
    again = Heightfield(sampling.resampled(tilted.heights_m, rows, cols), 20.0, 20.0)
    for east, north in ((0, 0), (20, 20), (7.3, 11.9)):
        assert again.elevation_at(east, north) == pytest.approx(tilted.elevation_at(east, north), abs=1e-2)


@given(heights)
@FEW
def test_texels_are_the_bilinear_surface_at_their_middles(values: np.ndarray) -> None:
    land = ground(values)
    width, height = 17, 13
    whole = sampling.texels(values, width, height, 0, height)
    bands = np.concatenate(
        [sampling.texels(values, width, height, a, min(a + 5, height)) for a in range(0, height, 5)]
    )
    np.testing.assert_array_equal(whole, bands)
    for row, col in ((0, 0), (6, 9), (12, 16)):
        east = (col + 0.5) / width * land.width_m
        north = land.depth_m * (1 - (row + 0.5) / height)
        assert whole[row, col] == pytest.approx(land.elevation_at(east, north), abs=1e-3)


@given(heights, st.floats(5, 60))
@settings(max_examples=12)
def test_settling_keeps_the_ground_there_is(values: np.ndarray, repose: float) -> None:
    before = ground(values)
    after = settle.apply(Shaped(before), SettleStep(id="step", name="x", repose_deg=repose), Run()).ground
    moved = float(np.abs(after.heights_m - values).sum(dtype=float))
    assert after.heights_m.sum(dtype=float) == pytest.approx(values.sum(dtype=float), abs=1e-4 * moved + 1e-2)
    assert after.highest_m <= before.highest_m + 1e-3
    assert after.lowest_m >= before.lowest_m - 1e-3


@given(heights, st.lists(st.tuples(st.floats(0.05, 0.95), st.floats(0, 1)), max_size=4))
@FEW
def test_a_rising_curve_keeps_the_order_of_heights(values: np.ndarray, inner: list[tuple[float, float]]) -> None:
    before = sorted({0.0, 1.0, *(round(b, 2) for b, _ in inner)})
    after = [*sorted([0.0, 1.0, *(a for _, a in inner)])[: len(before) - 1], 1.0]
    curve = tuple(HeightPoint(before=b, after=a) for b, a in zip(before, after, strict=True))
    out = remap.apply(Shaped(ground(values)), RemapStep(id="step", name="x", curve=curve), Run()).ground.heights_m
    order = np.argsort(values, axis=None)
    assert (np.diff(out.ravel()[order]) >= -1e-3).all()


@given(heights, heights, st.floats(0, 20))
@FEW
def test_the_softer_lower_of_two_lies_below_both_by_a_quarter_at_most(
    a: np.ndarray, b: np.ndarray, soft: float
) -> None:
    rows, cols = min(a.shape[0], b.shape[0]), min(a.shape[1], b.shape[1])
    a, b = a[:rows, :cols], b[:rows, :cols]
    least, rounded = np.minimum(a, b), soft_least(a, b, soft)
    assert (rounded <= least + 1e-4).all()
    assert (least - rounded <= soft / 4 + 1e-3).all()


@given(
    heights,
    st.floats(-80, 80),
    st.floats(0, 30),
    st.floats(0, 12),
    st.booleans(),
    st.sampled_from(["lower", "upper"]),
)
@FEW
def test_a_place_limit_is_the_rule_of_the_same_clause(
    values: np.ndarray, limit: float, span: float, soft: float, opposite: bool, end: str
) -> None:
    ends = (limit, limit + span, soft, 2.0) if end == "lower" else (limit - span, limit, 2.0, soft)
    clause = between("elevation", *ends, opposite=opposite)
    share = np.ones_like(values)
    clauses.limit_to(share, clause, values)
    at = places.zeros(values.size)
    at.elevation_m[:] = values.ravel()
    same = rules.presences(compiled([("", Rule(clauses=(on(clause),)))], Evidence()), 0, at)
    np.testing.assert_allclose(share.ravel(), same, atol=1e-5)


def test_two_clauses_multiply() -> None:
    values = np.linspace(0, 60, 61, dtype=np.float32)[None].repeat(9, axis=0)
    share = np.ones_like(values)
    clauses.limit_to(share, between("slope", lower=20, soft_lower=10), values)
    once = share.copy()
    clauses.limit_to(share, between("slope", lower=20, soft_lower=10), values)
    np.testing.assert_allclose(share, once**2, atol=1e-6)


@given(st.floats(-40, 140), st.floats(-40, 140), st.floats(1, 30))
@FEW
def test_a_stroke_reaches_no_farther_than_its_size(east: float, north: float, size: float) -> None:
    land = plane(0, samples=65, size_m=100)
    stroke = Stroke(size_m=size, amount_m=5, strength=1, points=(StrokePoint(east_m=east, north_m=north),))
    out = brush.apply(Shaped(land), BrushStep(id="step", name="x", strokes=(stroke,)), Run()).ground.heights_m
    steps = np.linspace(0, 100, 65)
    away = np.hypot(steps[None] - east, (100 - steps)[:, None] - north)
    assert (out[away >= size / 2] == land.heights_m[away >= size / 2]).all()
    assert (out >= land.heights_m).all()
    if (away < size / 8).any():
        assert out.max() > land.highest_m


@given(
    st.sampled_from([np.float32, np.int16, np.uint16, np.int32, np.uint32]),
    st.integers(1, 40),
    st.integers(1, 200),
    st.integers(0, 2**31),
)
@FEW
def test_levels_are_counted_as_sorting_finds_them(kind: type, different: int, count: int, seed: int) -> None:
    rng = np.random.default_rng(seed)
    whole = kind in (np.uint16, np.uint32)
    spread = rng.normal(0, 300, different) + (400 if whole else 0)
    pool: NDArray[Any] = np.asarray(spread.clip(0 if whole else -30000, 30000).astype(kind))
    values = rng.choice(pool, count)
    if kind is np.float32:
        values[0] = -0.0
    levels = mend.Levels(20)
    for some in np.array_split(values, 3):
        levels.add(some)
    true = np.unique(values).astype(np.float64)
    assert levels.count == len(true)
    assert levels.step == (float(np.median(np.diff(true))) if 1 < len(true) <= 20 else 0.0)


@given(heights, st.data())
@FEW
def test_filled_holes_lie_between_what_is_around_them(values: np.ndarray, data: st.DataObject) -> None:
    hole = data.draw(hnp.arrays(bool, values.shape))
    hole[0, 0] = False
    filled = np.where(hole, np.nan, values).astype(np.float32)
    mend.fill_holes(filled, hole)
    known = values[~hole]
    np.testing.assert_array_equal(filled[~hole], known)
    assert known.min() - 1e-3 <= filled.min()
    assert filled.max() <= known.max() + 1e-3


@given(heights, st.integers(2, 12))
@FEW
def test_smoothed_steps_stay_within_half_a_level(values: np.ndarray, step: int) -> None:
    stepped = (np.round(values / step) * step).astype(np.float32)
    assert np.abs(mend.smooth_steps(stepped, float(step)) - stepped).max() <= step / 2


def test_what_was_left_behind_moves_along_when_the_ground_is_bent_or_resampled() -> None:
    land = plane(10, 90, samples=65, size_m=64)
    mark = np.zeros_like(land.heights_m)
    mark[20:30, 30:40] = 5
    shaped = Shaped(land, Traces(mark, mark * 2, mark * 3))
    turned = bend.twist(shaped, TwistStep(id="step", name="x", turn_deg=180, radius_m=300), Run())
    assert turned.traces is not None
    for one, before in zip(turned.traces, (mark, mark * 2, mark * 3), strict=True):
        assert one.sum() == pytest.approx(before.sum(), rel=0.1)
        assert one[20:30, 30:40].mean() < 0.5 * before[20:30, 30:40].mean()
    fewer = resample.to_samples(shaped, 33, Run())
    assert fewer.traces is not None
    assert fewer.traces.dropped_m[12, 17] == pytest.approx(10, abs=0.5)


def test_terraces_of_no_sharpness_change_nothing() -> None:
    land = plane(20, 30)
    step = TerraceStep(id="step", name="x", spacing_m=3, sharpness=0, irregularity=0)
    np.testing.assert_allclose(terrace.apply(Shaped(land), step, Run()).ground.heights_m, land.heights_m, atol=1e-4)


@given(heights, st.integers(5, 40), st.integers(5, 40))
@FEW
def test_texels_of_any_map_stay_within_its_range(values: np.ndarray, width: int, height: int) -> None:
    made = sampling.texel_rows(values, width, height)(0, height)
    assert values.min() <= made.min()
    assert made.max() <= values.max()


def test_bearings_are_never_averaged() -> None:
    # ground that faces a little east and a little west of north in turn: no mean of the two faces south
    values = np.where(np.indices((65, 65)).sum(axis=0) % 2 == 0, 359.0, 1.0).astype(np.float32)
    made = sampling.texel_rows(values, 20, 20, bearings=True)(0, 20)
    assert set(np.unique(made)) <= {1.0, 359.0}
    assert 100 < sampling.texel_rows(values, 20, 20)(0, 20).mean() < 260, "as plain numbers they would be"
