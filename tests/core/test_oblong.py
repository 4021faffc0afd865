"""Oblong cells: what steps and measures give must not depend on how the ground is sampled each way."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

import numpy as np
import pytest

from elvatch.core.ground import blur, curvature, drainage, horizon, relative, slope
from elvatch.core.ground.heightfield import Heightfield
from elvatch.core.ground.shaped import Shaped
from elvatch.core.ground.step import StepBase
from elvatch.core.ground.steps import (
    bend,
    brush,
    course,
    form,
    level,
    remap,
    ridges,
    rivers,
    runoff,
    settle,
    smooth,
    terrace,
)
from elvatch.core.ground.steps.bend import TwistStep, WarpStep
from elvatch.core.ground.steps.brush import BrushStep, Stroke, StrokePoint
from elvatch.core.ground.steps.course import CoursePoint, CourseStep
from elvatch.core.ground.steps.form import FormStep
from elvatch.core.ground.steps.level import LevelStep
from elvatch.core.ground.steps.remap import HeightPoint, RemapStep
from elvatch.core.ground.steps.ridges import RidgesStep
from elvatch.core.ground.steps.rivers import RiversStep
from elvatch.core.ground.steps.runoff import RunoffStep
from elvatch.core.ground.steps.settle import SettleStep
from elvatch.core.ground.steps.smooth import SmoothStep
from elvatch.core.ground.steps.terrace import TerraceStep
from elvatch.core.run import Run

WIDE_M, DEEP_M = 300.0, 200.0
COMMON: dict[str, Any] = {"id": "step", "name": "x"}


def land(rows: int, cols: int, rise: float = 1.0) -> Heightfield:
    """The same smooth land at any sampling of 300 x 200 m."""
    east = np.linspace(0, WIDE_M, cols)[None]
    north = np.linspace(DEEP_M, 0, rows)[:, None]
    heights = 60 + rise * (12 * np.sin(east / 31) * np.cos(north / 23) + 0.08 * east + 7 * np.cos(north / 41))
    return Heightfield(heights.astype(np.float32), WIDE_M, DEEP_M)


SQUARE, OBLONG = land(201, 301), land(101, 301)
"""Cells of 1 x 1 m, and of 1 x 2 m."""

LINE = tuple(
    CoursePoint(east_m=east, north_m=north, level_m=52, half_width_m=8)
    for east, north in ((20, 30), (150, 140), (280, 90))
)
STROKES = tuple(
    Stroke(
        tool=tool,
        size_m=44,
        strength=0.8,
        soft=1,
        amount_m=6,
        points=(StrokePoint(east_m=60, north_m=150), StrokePoint(east_m=210, north_m=60)),
    )
    for tool in ("raise", "flatten")
)
CURVE = tuple(HeightPoint(before=b, after=a) for b, a in ((0, 0), (0.5, 0.3), (1, 1)))
STEPS: dict[str, tuple[Callable[..., Shaped], StepBase]] = {
    "form": (form.apply, FormStep(**COMMON, size_m=90, height_m=30, detail=2)),
    "dunes": (form.apply, FormStep(**COMMON, character="dunes", size_m=60, height_m=9, detail=1, bearing_deg=200)),
    "basin": (form.apply, FormStep(**COMMON, character="basin", size_m=90, height_m=30, detail=1)),
    "terrace": (terrace.apply, TerraceStep(**COMMON, spacing_m=9, sharpness=0.2)),
    "smooth": (smooth.apply, SmoothStep(**COMMON, radius_m=24)),
    "ridges": (ridges.apply, RidgesStep(**COMMON, radius_m=30)),
    "warp": (bend.warp, WarpStep(**COMMON, amount_m=12, size_m=120, detail=1)),
    "twist": (bend.twist, TwistStep(**COMMON, turn_deg=50, radius_m=90, east_m=120, north_m=110)),
    "remap": (remap.apply, RemapStep(**COMMON, curve=CURVE)),
    "level": (level.apply, LevelStep(**COMMON, level_m=62, soft_m=4, fill=False)),
    "course": (course.apply, CourseStep(**COMMON, points=LINE, side_deg=20, soft_m=3, wander_m=6)),
    "brush": (brush.apply, BrushStep(**COMMON, strokes=STROKES)),
}


@pytest.mark.parametrize("name", STEPS)
def test_a_step_does_the_same_on_oblong_cells(name: str) -> None:
    how, step = STEPS[name]
    square, oblong = (how(Shaped(ground), step, Run()).ground.heights_m for ground in (SQUARE, OBLONG))
    assert np.abs(square - SQUARE.heights_m).max() > 0.5, "it does something"
    apart = np.abs(square[::2] - oblong)
    assert np.median(apart) < 0.02
    assert apart.max() < 0.6


def test_measures_are_the_same_on_oblong_cells() -> None:
    pairs = {
        "slope": [slope.slope_deg(slope.gradient(ground)) for ground in (SQUARE, OBLONG)],
        "profile": [curvature.curvature(ground, "profile") * 1000 for ground in (SQUARE, OBLONG)],
        "plan": [curvature.curvature(ground, "mean") * 1000 for ground in (SQUARE, OBLONG)],
        "relative": [relative.relative_height(ground, 20.0) for ground in (SQUARE, OBLONG)],
        "openness": [horizon.openness_deg(ground, 60.0) for ground in (SQUARE, OBLONG)],
    }
    for name, (square, oblong) in pairs.items():
        inner = np.s_[12:-12, 24:-24]
        apart = np.abs(square[::2][inner] - oblong[inner])
        spread = float(np.ptp(square))
        # the eight looks of openness follow the grid, whose diagonals lie elsewhere on oblong cells
        near = 0.04 if name == "openness" else 0.01
        assert np.median(apart) < near * spread, name
        assert np.quantile(apart, 0.99) < 6 * near * spread, name


def test_smoothing_over_metres_reaches_as_far_both_ways() -> None:
    spot = np.zeros((101, 301), np.float32)
    spot[50, 150] = 1000
    spread = blur.blur(spot, 12.0, 6.0)
    rows, cols = np.indices(spot.shape)
    along = np.sqrt(np.average((cols - 150.0) ** 2, weights=spread))
    across = 2 * np.sqrt(np.average((rows - 50.0) ** 2, weights=spread))
    assert along == pytest.approx(12, rel=0.02)
    assert across == pytest.approx(12, rel=0.02)


@pytest.mark.parametrize("rows", [101, 201, 301])
def test_settled_slopes_do_not_depend_on_the_cells(rows: int) -> None:
    steep = land(rows, 201, 5.0)
    assert slope.slope_deg(slope.gradient(steep)).max() > 45
    after = settle.apply(Shaped(steep), SettleStep(**COMMON, repose_deg=35), Run())
    assert slope.slope_deg(slope.gradient(after.ground))[2:-2, 2:-2].max() < 36
    assert after.ground.heights_m.sum(dtype=float) == pytest.approx(steep.heights_m.sum(dtype=float), rel=1e-6)


def test_water_keeps_its_books_on_oblong_cells() -> None:
    network = drainage.fill(OBLONG)
    area = drainage.drainage_area(OBLONG, network)
    leaves = network.way_out == np.arange(area.size)
    assert area.ravel()[leaves].sum(dtype=float) == pytest.approx(101 * 301 * 2.0, rel=1e-4)
    after, left_m3 = runoff.rained_on(Shaped(OBLONG), RunoffStep(**COMMON, rounds=60, rain=0.8), Run())
    assert after.traces is not None
    moved = float(after.traces.worn_m.sum(dtype=float)) * 2
    change = float((after.ground.heights_m.astype(float) - OBLONG.heights_m).sum()) * 2
    assert abs(change + left_m3) < 1e-3 * moved
    carved = rivers.apply(Shaped(OBLONG), RiversStep(**COMMON, rounds=3, creep_m=0), Run())
    assert carved.traces is not None
    assert carved.traces.flow_m2.min() == pytest.approx(2.0, rel=1e-5)
    np.testing.assert_array_equal(carved.ground.heights_m[:, 0], OBLONG.heights_m[:, 0])
