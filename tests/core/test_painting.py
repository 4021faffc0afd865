"""Strokes of the brush: where they reach, how they gather, what stays as it was."""

from __future__ import annotations

import math

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from elvatch.core.document.marks import TILE, MaskStroke, StrokeAt
from elvatch.core.document.rule import OnPainted, Rule
from elvatch.core.ground.places import zeros
from elvatch.core.rules import painting, rules
from elvatch.core.rules.evidence import Evidence
from elvatch.core.rules.mask import Mask, usual_sample_m
from elvatch.core.rules.program import compiled

SIDE = 400.0


def bare(sample_m: float = 0.5) -> Mask:
    return Mask(SIDE, SIDE, sample_m, {}, "bare")


def stroke(*points: tuple[float, float], **parts: object) -> MaskStroke:
    at = tuple(StrokeAt(east_m=x, north_m=y) for x, y in points)
    return MaskStroke.model_validate({"size_m": 20.0, "points": at, "soft": 0.5} | parts)


def read(mask: Mask, x: np.ndarray, y: np.ndarray) -> np.ndarray:
    """What a rule reads of the mask at places."""
    at = zeros(len(x))
    at.x_m[:], at.y_m[:] = x, y
    rule = Rule(clauses=(OnPainted(mask="paint", called="paint"),))
    return rules.presences(compiled([("", rule)], Evidence(SIDE, SIDE, masks={"paint": mask})), 0, at)


def read_at(mask: Mask, x: float, y: float) -> float:
    return float(read(mask, np.array([x]), np.array([y]))[0])


@given(st.floats(-20, 420), st.floats(-20, 420), st.floats(2, 60), st.floats(0, 1))
@settings(max_examples=25)
def test_a_stroke_reaches_as_far_as_its_size_and_is_full_in_its_core(
    x: float, y: float, size: float, soft: float
) -> None:
    painted = painting.paint(bare(), stroke((x, y), size_m=size, soft=soft))
    rng = np.random.default_rng(1)
    px, py = rng.uniform(0, SIDE, (2, 4000))
    found, away = read(painted, px, py), np.hypot(px - x, py - y)
    # samples are half a metre apart: a place reads those about it
    assert (found[away > size / 2 + 1.0] == 0).all()
    core = size / 2 * (1 - soft) - 1.0
    assert (found[away < core] > 0.999).all()


def test_a_line_is_as_wide_all_along_and_crosses_tiles_without_a_mark() -> None:
    painted = painting.paint(bare(), stroke((20, 200), (380, 200), size_m=12, soft=0.0))
    along = np.linspace(20, 380, 1441)
    assert (read(painted, along, np.full_like(along, 200.0)) == 1).all()
    assert (read(painted, along, np.full_like(along, 205.0)) > 0.99).all()
    assert (read(painted, along, np.full_like(along, 207.0)) == 0).all()


def test_only_what_is_painted_is_held_and_the_rest_is_shared() -> None:
    first = painting.paint(bare(), stroke((30, 370)))
    second = painting.paint(first, stroke((370, 30)))
    assert set(first.tiles) == {(0, 0)}
    assert set(second.tiles) == {(0, 0), (2, 2)}
    assert second.tiles[0, 0] is first.tiles[0, 0]
    assert sum(tile.nbytes for tile in second.tiles.values()) == 2 * TILE * TILE * 2
    site = Mask(1200.0, 1200.0, usual_sample_m(1200, 1200), {}, "site")
    assert site.sample_m == 0.25
    assert len(painting.paint(site, stroke((600, 600))).tiles) <= 4
    taken = painting.paint(second, stroke((30, 370), tool="take", size_m=60))
    assert set(taken.tiles) == {(2, 2)}, "what is wiped clean is let go"


def test_adding_and_taking_away_go_as_far_as_their_strength() -> None:
    half = painting.paint(bare(), stroke((100, 100), strength=0.5, soft=0.0))
    assert read_at(half, 100, 100) == pytest.approx(0.5, abs=1e-4)
    again = painting.paint(half, stroke((100, 100), strength=0.5, soft=0.0))
    assert read_at(again, 100, 100) == pytest.approx(0.75, abs=1e-4)
    less = painting.paint(again, stroke((100, 100), tool="take", strength=0.2, soft=0.0))
    assert read_at(less, 100, 100) == pytest.approx(0.6, abs=1e-4)


def test_with_less_flow_a_stroke_gathers_with_the_distance_it_goes() -> None:
    one = painting.paint(bare(), stroke((100, 100), soft=0.0, flow=0.2))
    assert read_at(one, 100, 100) == pytest.approx(0.2, abs=1e-4)
    # under the middle of a long stroke the brush passes six touches a size: three each way reach it
    long = painting.paint(bare(), stroke((40, 100), (160, 100), soft=0.0, flow=0.2))
    assert pytest.approx(read_at(long, 100, 100), abs=0.08) == 1 - 0.8**7
    pressed = MaskStroke(size_m=20, soft=0, points=(StrokeAt(east_m=100, north_m=100, pressure=0.3),))
    assert read_at(painting.paint(bare(), pressed), 100, 100) == pytest.approx(0.3, abs=1e-4)


def test_smoothing_softens_an_edge_and_leaves_the_rest() -> None:
    edge = painting.paint(bare(), stroke((50, 200), (350, 200), size_m=40, soft=0.0))
    calm = painting.paint(edge, stroke((100, 220), (300, 220), tool="smooth", size_m=40, soft=0.3))
    across = np.arange(190, 260, 0.5)
    before, after = (read(mask, np.full_like(across, 200.0), across) for mask in (edge, calm))
    assert np.abs(np.diff(after)).max() < 0.5 * np.abs(np.diff(before)).max()
    np.testing.assert_array_equal(read(edge, across * 0 + 60, across), read(calm, across * 0 + 60, across))
    assert math.isclose(before[0], after[0])
