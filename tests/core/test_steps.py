"""Steps: what each does to shapes whose outcome is known."""

from __future__ import annotations

from typing import get_args

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from scipy import ndimage

from elvatch.core import noise
from elvatch.core.ground import blur as blurring
from elvatch.core.ground import rounds, shaping, slope
from elvatch.core.ground.clauses import between
from elvatch.core.ground.heightfield import Heightfield
from elvatch.core.ground.shaped import Shaped
from elvatch.core.ground.steps import (
    bend,
    brush,
    course,
    form,
    level,
    remap,
    resample,
    ridges,
    rivers,
    runoff,
    settle,
    terrace,
)
from elvatch.core.ground.steps import smooth as smoothing
from elvatch.core.ground.steps.bend import TwistStep, WarpStep
from elvatch.core.ground.steps.brush import BrushStep, Stroke
from elvatch.core.ground.steps.course import CoursePoint, CourseStep
from elvatch.core.ground.steps.form import Character, FormStep
from elvatch.core.ground.steps.level import LevelStep
from elvatch.core.ground.steps.remap import HeightPoint, RemapStep
from elvatch.core.ground.steps.resample import ResampleStep
from elvatch.core.ground.steps.ridges import RidgesStep
from elvatch.core.ground.steps.rivers import RiversStep
from elvatch.core.ground.steps.runoff import RunoffStep
from elvatch.core.ground.steps.settle import SettleStep
from elvatch.core.ground.steps.smooth import SmoothStep
from elvatch.core.ground.steps.terrace import TerraceStep
from elvatch.core.run import Run
from tests.conftest import plane
from tests.core.shapes import ground_of, places

HILLS = Heightfield((noise.periodic(129, 3, 5, 6, 0.5) * 40 + 100).astype(np.float32), 256.0, 256.0)


def steep_deg(ground: Heightfield) -> np.ndarray:
    return slope.slope_deg(slope.gradient(ground))


@pytest.mark.parametrize("character", get_args(Character))
def test_forms_have_about_their_height_and_never_clip(character: Character) -> None:
    flat = Shaped(plane(0, samples=257, size_m=1000))
    step = FormStep(id="form", name="form", character=character, seed=3, size_m=250, height_m=100)
    made = form.apply(flat, step, Run()).ground.heights_m - flat.ground.heights_m
    rise = float(made.max() - made.min())
    assert 50 < rise < 190
    for extreme in (made.min(), made.max()):
        assert np.count_nonzero(made == extreme) / made.size < 0.01, "no plateau at either limit"
    away = form.apply(flat, step.model_copy(update={"opposite": True}), Run()).ground.heights_m - 50
    np.testing.assert_allclose(away, -made, atol=1e-4)
    tall = form.apply(flat, step.model_copy(update={"height_m": 1000.0}), Run()).ground.heights_m - 50
    np.testing.assert_allclose(tall, made * 10, rtol=1e-3, atol=0.01)


def test_a_form_is_the_same_land_at_any_sampling() -> None:
    step = FormStep(id="form", name="form", seed=3, size_m=400, height_m=100, detail=3)
    fine, coarse = (
        form.apply(Shaped(plane(0, samples=n, size_m=1000)), step, Run()).ground.heights_m for n in (513, 129)
    )
    np.testing.assert_allclose(fine[::4, ::4], coarse, atol=1e-3)


@given(spacing=st.floats(1, 20), sharpness=st.floats(0, 1), irregularity=st.floats(0, 1))
@settings(max_examples=15)
def test_terraces_move_no_height_by_more_than_half_a_spacing(
    spacing: float, sharpness: float, irregularity: float
) -> None:
    step = TerraceStep(id="step", name="x", spacing_m=spacing, sharpness=sharpness, irregularity=irregularity, seed=2)
    moved = terrace.apply(Shaped(HILLS), step, Run()).ground.heights_m - HILLS.heights_m
    assert np.abs(moved).max() <= spacing / 2 + 1e-3


def test_sharp_even_terraces_lie_on_their_levels() -> None:
    step = TerraceStep(id="step", name="x", spacing_m=5, offset_m=2, sharpness=1, irregularity=0)
    heights = terrace.apply(Shaped(HILLS), step, Run()).ground.heights_m
    off = np.abs((heights - 2) / 5 - np.rint((heights - 2) / 5))
    assert np.quantile(off, 0.98) < 1e-3


def test_smoothing_is_nearly_a_gaussian_and_leaves_planes_alone() -> None:
    tilted = Shaped(plane(30, 60, samples=129))
    for opposite in (False, True):
        step = SmoothStep(id="step", name="x", radius_m=15, opposite=opposite)
        np.testing.assert_allclose(
            smoothing.apply(tilted, step, Run()).ground.heights_m, tilted.ground.heights_m, atol=2e-3
        )
    spot = np.zeros((101, 101), np.float32)
    spot[50, 50] = 1000
    ours = blurring.blur(spot, 6.0, 4.0)
    theirs = ndimage.gaussian_filter(spot, (4.0, 6.0))
    assert np.abs(ours - theirs).sum() < 0.1 * theirs.sum()
    across = np.average((np.arange(101) - 50) ** 2, weights=ours.sum(axis=0))
    assert across == pytest.approx(36, rel=0.01)
    assert ours.sum() == pytest.approx(1000, rel=1e-4)


def test_sharpened_ridges_are_creases_and_valleys_round() -> None:
    rounded = ground_of(lambda x, y: 20 * np.cos(x / 12))
    sharp = ridges.apply(Shaped(rounded), RidgesStep(id="step", name="x", radius_m=20), Run()).ground.heights_m
    bend_at = np.diff(sharp[64].astype(float), n=2)
    crest, hollow = bend_at[62:65].min(), bend_at[62 - 38 : 65 - 38].max()
    assert crest < 3 * np.diff(rounded.heights_m[64].astype(float), n=2).min()
    assert hollow < 1.1 * np.diff(rounded.heights_m[64].astype(float), n=2).max()
    other = ridges.apply(
        Shaped(Heightfield(-rounded.heights_m, 128.0, 128.0)),
        RidgesStep(id="step", name="x", radius_m=20, opposite=True),
        Run(),
    ).ground.heights_m
    np.testing.assert_allclose(other, -sharp, atol=1e-4)


def test_the_envelope_under_ridges_is_the_least_parabola() -> None:
    row = (noise.periodic(64, 8, 3)[:1] * 9).astype(np.float32)
    curve = 4.0
    ours = ridges.eroded(np.repeat(row, 9, axis=0), 1.0, 1.0, curve, Run().token)[4]
    i = np.arange(64)
    parabolas = row[0][None, :].astype(float) + (i[:, None] - i[None, :]) ** 2 / (2 * curve)
    np.testing.assert_allclose(ours, parabolas.min(axis=1), atol=1e-4)


def test_twisting_turns_the_middle_and_leaves_the_rim() -> None:
    bars = ground_of(lambda x, y: 10 * np.sin(x / 6))
    step = TwistStep(id="step", name="x", turn_deg=90, radius_m=50)
    heights = bend.twist(Shaped(bars), step, Run()).ground.heights_m
    x, y = places()
    rim = np.hypot(x, y) > 52
    np.testing.assert_allclose(heights[rim], bars.heights_m[rim], atol=1e-3)
    near = np.hypot(x, y) < 4
    # a quarter turn counter-clockwise: what rose eastwards now rises northwards
    np.testing.assert_allclose(heights[near], (10 * np.sin(y / 6))[near], atol=1.2)


def test_warping_moves_land_sideways_and_makes_no_new_heights() -> None:
    step = WarpStep(id="step", name="x", amount_m=20, size_m=90)
    heights = bend.warp(Shaped(HILLS), step, Run()).ground.heights_m
    assert np.abs(heights - HILLS.heights_m).max() > 3
    assert heights.min() > HILLS.lowest_m - 1
    assert heights.max() < HILLS.highest_m + 1


def test_a_curve_of_heights_and_its_opposite_undo_each_other() -> None:
    points = tuple(HeightPoint(before=b, after=a) for b, a in ((0, 0), (0.4, 0.2), (0.7, 0.75), (1, 1)))
    step = RemapStep(id="step", name="x", curve=points)
    there = remap.apply(Shaped(HILLS), step, Run())
    assert (there.ground.lowest_m, there.ground.highest_m) == pytest.approx(
        (HILLS.lowest_m, HILLS.highest_m), abs=0.01
    )
    low, rise = HILLS.lowest_m, HILLS.highest_m - HILLS.lowest_m
    at = np.abs(HILLS.heights_m - (low + 0.4 * rise)) < 0.02
    assert there.ground.heights_m[at].mean() == pytest.approx(low + 0.2 * rise, abs=0.05)
    back = remap.apply(there, step.model_copy(update={"opposite": True}), Run()).ground.heights_m
    # near its level end the curve's inverse is steep
    np.testing.assert_allclose(back, HILLS.heights_m, atol=0.15)


def test_cut_and_fill_to_a_level() -> None:
    def levelled(cut: bool, fill: bool, soft: float = 0.0) -> np.ndarray:
        step = LevelStep(id="step", name="x", level_m=100, cut=cut, fill=fill, soft_m=soft)
        return level.apply(Shaped(HILLS), step, Run()).ground.heights_m

    np.testing.assert_array_equal(levelled(True, False), np.minimum(HILLS.heights_m, 100))
    np.testing.assert_array_equal(levelled(False, True), np.maximum(HILLS.heights_m, 100))
    assert np.ptp(levelled(True, True)) == 0
    assert np.abs(levelled(True, False, 4.0) - np.minimum(HILLS.heights_m, 100)).max() == pytest.approx(1.0, abs=0.05)


def test_a_course_has_its_floor_its_width_and_its_sides() -> None:
    points = tuple(CoursePoint(east_m=east, north_m=64, level_m=10, half_width_m=6) for east in (-20, 60, 150))
    step = CourseStep(id="step", name="x", points=points, side_deg=30, soft_m=0)
    flat = ground_of(lambda x, y: np.full_like(x, 20.0))
    heights = course.apply(Shaped(flat), step, Run()).ground.heights_m
    _, y = places()
    expected = np.minimum(20, 10 + np.maximum(np.abs(y[:, 64]) - 6, 0) * np.tan(np.radians(30)))
    np.testing.assert_allclose(heights[:, 64], expected, atol=0.05)
    bank = course.apply(
        Shaped(ground_of(lambda x, y: np.zeros_like(x))), step.model_copy(update={"cut": False, "fill": True}), Run()
    ).ground.heights_m
    np.testing.assert_allclose(bank[:, 64], np.maximum(0, 20 - expected), atol=0.05)


@pytest.mark.parametrize("samples", [129, 257])
def test_settled_ground_is_nowhere_steeper_than_its_repose(samples: int) -> None:
    peaks = form.apply(
        Shaped(plane(0, samples=samples, size_m=300)),
        FormStep(id="form", name="x", character="ridged", seed=5, size_m=90, height_m=55),
        Run(),
    )
    assert (steep_deg(peaks.ground) > 33).mean() > 0.1
    done: list[float] = []
    after = settle.apply(peaks, SettleStep(id="step", name="x", repose_deg=33), Run(progress=done.append))
    assert steep_deg(after.ground)[2:-2, 2:-2].max() < 34
    assert after.traces is not None
    moved = after.traces.dropped_m.sum(dtype=float)
    lost = after.ground.heights_m.sum(dtype=float) - peaks.ground.heights_m.sum(dtype=float)
    assert abs(lost) < 1e-4 * moved
    assert done == sorted(done)
    np.testing.assert_allclose(
        after.ground.heights_m - peaks.ground.heights_m, after.traces.dropped_m - after.traces.worn_m, atol=1e-3
    )


def test_gentle_ground_does_not_settle() -> None:
    gentle = Shaped(plane(30, 25, samples=129))
    after = settle.apply(gentle, SettleStep(id="step", name="x", repose_deg=33), Run())
    np.testing.assert_allclose(after.ground.heights_m, gentle.ground.heights_m, atol=1e-4)


def test_a_heap_comes_to_rest_alike_in_all_directions() -> None:
    tower = ground_of(lambda x, y: np.where(np.hypot(x, y) < 14, 40.0, 0.0))
    after = settle.apply(Shaped(tower), SettleStep(id="step", name="x", repose_deg=35), Run()).ground.heights_m
    x, y = places()
    ring = np.abs(np.hypot(x, y) - 18) < 0.8
    assert after[ring].std() < 1.0
    assert after.sum(dtype=float) == pytest.approx(tower.heights_m.sum(dtype=float), rel=1e-5)


def test_runoff_keeps_its_books() -> None:
    step = RunoffStep(id="step", name="x", rounds=150, rain=0.8, carry=0.8, softness=0.8)
    after, left_m3 = runoff.rained_on(Shaped(HILLS), step, Run())
    assert after.traces is not None
    cell = HILLS.cell_x_m * HILLS.cell_y_m
    moved = float(after.traces.worn_m.sum(dtype=float)) * cell
    change = float((after.ground.heights_m.astype(float) - HILLS.heights_m).sum()) * cell
    assert moved > 100
    assert left_m3 > 0
    assert abs(change + left_m3) < 1e-4 * moved


@pytest.mark.parametrize("kind", ["rain", "settling"])
def test_rounds_in_pieces_are_rounds_on_the_whole(kind: str, monkeypatch: pytest.MonkeyPatch) -> None:
    def made() -> tuple[Shaped, float]:
        if kind == "settling":
            return settle.apply(Shaped(HILLS), SettleStep(id="step", name="x", repose_deg=12), Run()), 0.0
        return runoff.rained_on(Shaped(HILLS), RunoffStep(id="step", name="x", rounds=11, rain=0.8), Run())

    monkeypatch.setattr(rounds, "PIECE", HILLS.rows)
    whole, left_m3 = made()
    monkeypatch.setattr(rounds, "PIECE", 4 * rounds.AT_ONCE + 4)
    pieces, left_of_pieces_m3 = made()
    assert len(rounds.pieces(HILLS.rows)[1]) > 4
    np.testing.assert_array_equal(pieces.ground.heights_m, whole.ground.heights_m)
    np.testing.assert_array_equal(pieces.traces, whole.traces)
    assert np.abs(whole.ground.heights_m - HILLS.heights_m).max() > 0.01
    assert left_of_pieces_m3 == left_m3


def test_runoff_wears_the_valley_sides_and_drops_on_the_flat() -> None:
    # a slope of 25 degrees with a furrow, that runs out onto a plain
    def land(x: np.ndarray, y: np.ndarray) -> np.ndarray:
        return np.asarray(np.maximum(y, 0) * np.tan(np.radians(25)) - 1.5 * np.exp(-((x / 4) ** 2)) + 0.01 * y)

    step = RunoffStep(id="step", name="x", rounds=300, rain=0.8, carry=0.6, softness=0.6)
    after = runoff.apply(Shaped(ground_of(land)), step, Run())
    assert after.traces is not None
    worn, dropped, flow = after.traces
    slope_above, foot, plain = np.s_[16:40, 50:80], np.s_[56:66, 50:80], np.s_[80:120, 50:80]
    assert worn[slope_above].mean() > 5 * worn[plain].mean()
    assert dropped[foot].mean() > 5 * dropped[slope_above].mean()
    assert dropped[foot].mean() > 5 * dropped[plain].mean()
    assert flow[32, 64] > 3 * flow[32, 59], "water gathers in the furrow"


def test_rivers_cut_down_to_the_border_and_keep_it() -> None:
    rough = Heightfield((noise.periodic(129, 4, 9) * 30 + 100).astype(np.float32), 640.0, 640.0)
    step = RiversStep(id="step", name="x", cut=1, branching=0.5, rounds=12, creep_m=0)
    after = rivers.apply(Shaped(rough), step, Run())
    assert after.traces is not None
    np.testing.assert_array_equal(after.ground.heights_m[0], rough.heights_m[0])
    worn, dropped, flow = after.traces
    assert worn.max() > 5
    assert worn.mean() > dropped.mean()
    assert flow.max() > 40_000


def test_one_round_of_rivers_solves_the_stream_power_law() -> None:
    tilted = plane(20, 0, samples=65, size_m=64)
    erode, exponent = 0.05, 0.5
    heights, area = rivers.one_round(tilted, erode, exponent, 0.0, Run())
    # straight down the middle: h' = (h + k h'_below) / (1 + k), k = erode area^m / distance
    column = tilted.heights_m[:, 32].astype(float)
    expected = column.copy()
    for row in range(63, 0, -1):
        pull = erode * float(area[row, 32]) ** exponent / 1.0
        expected[row] = (column[row] + pull * expected[row + 1]) / (1 + pull)
    np.testing.assert_allclose(heights[1:-1, 32], expected[1:-1], atol=1e-3)


def test_resampling_keeps_metres() -> None:
    rough = form.apply(
        Shaped(plane(0, samples=129, size_m=300)), FormStep(id="form", name="x", size_m=120, height_m=60), Run()
    ).ground
    twice = resample.apply(Shaped(rough), ResampleStep(id="step", name="x", samples=257), Run()).ground
    np.testing.assert_allclose(twice.heights_m[::2, ::2], rough.heights_m, atol=1e-4)
    even = form.apply(
        Shaped(plane(0, samples=129, size_m=300)),
        FormStep(id="form", name="x", size_m=120, height_m=60, detail=3),
        Run(),
    ).ground
    double = resample.apply(Shaped(even), ResampleStep(id="step", name="x", samples=258), Run()).ground
    old = [
        double.elevation_at(300 * c / 128, 300 * (1 - r / 128)) for r in range(0, 129, 7) for c in range(0, 129, 7)
    ]
    apart = np.abs(np.array(old) - even.heights_m[::7, ::7].ravel())
    assert apart.max() < 0.001 * (even.highest_m - even.lowest_m)
    fewer = resample.apply(Shaped(rough), ResampleStep(id="step", name="x", samples=65), Run()).ground
    assert fewer.heights_m.mean() == pytest.approx(float(rough.heights_m.mean()), abs=0.3)
    assert (fewer.rows, fewer.width_m) == (65, 300)


def _stroke(**parts: object) -> Stroke:
    points = ({"east_m": 40, "north_m": 64}, {"east_m": 90, "north_m": 64})
    return Stroke.model_validate({"size_m": 20, "strength": 1, "soft": 0, "amount_m": 3, "points": points} | parts)


def test_the_brush_raises_lowers_smooths_and_flattens_where_it_touches() -> None:
    land = ground_of(lambda x, y: 0.3 * x + np.sin(x) + np.sin(y))

    def brushed(*strokes: Stroke) -> np.ndarray:
        return brush.apply(Shaped(land), BrushStep(id="step", name="x", strokes=strokes), Run()).ground.heights_m

    x, y = places()
    beside = np.hypot(np.maximum(np.abs(x - 1) - 25, 0), y)
    inside, outside = beside < 9.5, beside > 10.5
    raised = brushed(_stroke()) - land.heights_m
    np.testing.assert_allclose(raised[inside], 3, atol=1e-4)
    assert np.abs(raised[outside]).max() == 0
    np.testing.assert_allclose(brushed(_stroke(), _stroke(tool="lower")), land.heights_m, atol=1e-4)
    soft = brushed(_stroke(soft=1)) - land.heights_m
    assert soft[64, 65] == pytest.approx(3, abs=0.05)
    assert 1 < soft[59, 65] < 2
    flat = brushed(_stroke(tool="flatten"))
    np.testing.assert_allclose(flat[inside], land.elevation_at(40, 64), atol=1e-3)
    calm = brushed(_stroke(tool="smooth"))
    assert np.abs(np.diff(calm[64, 50:80], n=2)).mean() < 0.5 * np.abs(np.diff(land.heights_m[64, 50:80], n=2)).mean()


def test_a_place_limit_holds_a_step_where_its_clauses_allow() -> None:
    land = ground_of(lambda x, y: np.where(x < 0, 0.02 * x, 1.0 * x))
    where = (between("slope", lower=30, soft_lower=0), between("elevation", upper=40, soft_upper=0))
    step = LevelStep(id="step", name="x", level_m=-50, fill=False, soft_m=0, strength=0.5, where=where)
    share = shaping.place_limit(Shaped(land), step, Run())
    x, _ = places()
    assert (share[:, :60] == 0).all()
    assert (share[(x > 2) & (x < 39)] == 0.5).all()
    assert (share[x > 41] == 0).all()
