"""Rays against grounds whose meeting points are known."""

from __future__ import annotations

import math

import numpy as np
import pytest
from hypothesis import assume, given
from hypothesis import strategies as st
from scipy.optimize import brentq

from elvatch.core.ground.heightfield import Heightfield
from elvatch.core.picture import relief
from elvatch.core.picture.trace import march, over_ground
from tests.conftest import plane

CELL_SHARE = 0.01


def cast(ground: Heightfield, start: np.ndarray, toward: np.ndarray) -> float:
    """Distance along a unit ray to the ground, infinity when it is missed."""
    prepared = relief.prepare(ground)
    unit = toward / np.linalg.norm(toward)
    near, far = over_ground(prepared, start[0], start[1], unit[0], unit[1], 0.0, 1e9)
    if near > far:
        return math.inf
    (x, y, z), (dx, dy, dz) = map(float, start), map(float, unit)
    return march(prepared, x, y, z, dx, dy, dz, near, far)


@given(
    tilt=st.floats(-35, 35),
    bearing=st.floats(0, 360),
    from_x=st.floats(5, 95),
    from_y=st.floats(5, 95),
    to_x=st.floats(5, 95),
    to_y=st.floats(5, 95),
    above=st.floats(0.5, 300),
)
def test_a_plane_is_met_where_it_lies(
    tilt: float, bearing: float, from_x: float, from_y: float, to_x: float, to_y: float, above: float
) -> None:
    ground = plane(tilt, bearing)
    start = np.array([from_x, from_y, ground.elevation_at(from_x, from_y) + above])
    goal = np.array([to_x, to_y, ground.elevation_at(to_x, to_y)])
    assume(np.linalg.norm(goal - start) > 0.5)
    distance = cast(ground, start, goal - start)
    # a flat ray's meeting point moves far for a tiny height: measure square to the surface
    point = start + (goal - start) / np.linalg.norm(goal - start) * distance
    assert abs(point[2] - ground.elevation_at(point[0], point[1])) < CELL_SHARE * ground.cell_x_m
    if above > 5:
        assert distance == pytest.approx(np.linalg.norm(goal - start), abs=CELL_SHARE * ground.cell_x_m)


@pytest.mark.parametrize("angle_deg", [0.5, 2.0, 10.0, 45.0, 89.0])
def test_a_plane_is_met_by_grazing_rays(angle_deg: float) -> None:
    ground = plane(0.0, samples=129, size_m=1000.0)
    drop = math.sin(math.radians(angle_deg))
    start = np.array([20.0, 31.0, 50.0 + 8.0])
    toward = np.array([math.cos(math.radians(angle_deg)) * 0.8, math.cos(math.radians(angle_deg)) * 0.6, -drop])
    wanted = 8.0 / drop
    found = cast(ground, start, toward)
    assert found == pytest.approx(wanted, abs=CELL_SHARE * ground.cell_x_m)


def _sine(samples: int = 1025, waves: int = 4, tall_m: float = 4.0) -> tuple[Heightfield, float]:
    x = np.linspace(0, 1, samples)
    heights = np.tile(tall_m * np.sin(2 * np.pi * waves * x), (samples, 1)).astype(np.float32)
    return Heightfield(heights, 1024.0, 1024.0), 2 * np.pi * waves / 1024.0


@pytest.mark.parametrize("angle_deg", [2.0, 4.0, 12.0, 40.0, 80.0])
@pytest.mark.parametrize("side", [0.0, 0.15])
def test_a_sine_ground_is_met_first_where_it_is_first_met(angle_deg: float, side: float) -> None:
    ground, wave = _sine()
    angle = math.radians(angle_deg)
    start = np.array([30.0, 500.0, 9.0])
    toward = np.array([math.cos(angle), side * math.cos(angle), -math.sin(angle)])
    unit = toward / np.linalg.norm(toward)

    def clearance(t: float) -> float:
        return float(start[2] + t * unit[2] - 4.0 * math.sin(wave * (start[0] + t * unit[0])))

    steps = np.linspace(0, 20 / math.sin(angle), 40_000)
    below = np.flatnonzero([clearance(t) < 0 for t in steps])[0]
    wanted = brentq(clearance, steps[below - 1], steps[below], xtol=1e-9)
    assert cast(ground, start, toward) == pytest.approx(wanted, abs=CELL_SHARE * ground.cell_x_m)


@pytest.mark.parametrize("bearing_deg", [0.0, 33.0, 90.0, 200.0, 315.0])
def test_a_cone_is_met_on_its_side(bearing_deg: float) -> None:
    steps = np.linspace(-256, 256, 1025)
    x, y = np.meshgrid(steps, -steps)
    ground = Heightfield((100 - 0.5 * np.hypot(x, y)).astype(np.float32), 512.0, 512.0)
    bearing = math.radians(bearing_deg)
    start = np.array([256 - 200 * math.sin(bearing), 256 - 200 * math.cos(bearing), 40.0])
    toward = np.array([math.sin(bearing), math.cos(bearing), 0.0])
    # a level ray at 40 m towards the axis meets the side where 100 - r / 2 = 40, at r = 120
    assert cast(ground, start, toward) == pytest.approx(80.0, abs=CELL_SHARE * ground.cell_x_m)


def test_rays_along_cell_borders_and_corners_are_not_lost() -> None:
    ground = plane(0.0, samples=65, size_m=64.0)
    for start, toward in (
        ((32.0, 0.0, 51.0), (0.0, 1.0, -0.02)),
        ((0.0, 32.0, 51.0), (1.0, 0.0, -0.02)),
        ((0.0, 0.0, 51.0), (1.0, 1.0, -0.02)),
        ((64.0, 64.0, 51.0), (-1.0, -1.0, -0.02)),
        ((17.0, 23.0, 60.0), (0.0, 0.0, -1.0)),
    ):
        direction = np.array(toward) / np.linalg.norm(toward)
        wanted = (start[2] - 50.0) / -direction[2]
        assert cast(ground, np.array(start), direction) == pytest.approx(wanted, abs=1e-6)


def test_no_ray_into_rough_ground_slips_through() -> None:
    rng = np.random.default_rng(4)
    ground = Heightfield(rng.uniform(0, 3, (97, 97)).astype(np.float32), 96.0, 96.0)
    missed = 0
    for _ in range(4000):
        start = np.array([rng.uniform(1, 95), rng.uniform(1, 95), rng.uniform(3.01, 9)])
        goal = np.array([rng.uniform(1, 95), rng.uniform(1, 95), -0.1])
        missed += math.isinf(cast(ground, start, goal - start))
    assert missed == 0


def test_rays_that_pass_over_or_beside_meet_nothing() -> None:
    ground = plane(0.0)
    assert math.isinf(cast(ground, np.array([-10.0, 50.0, 51.0]), np.array([1.0, 0.0, 0.0])))
    assert math.isinf(cast(ground, np.array([-10.0, -50.0, 70.0]), np.array([0.0, -1.0, -0.5])))
    assert math.isinf(cast(ground, np.array([50.0, 50.0, 50.5]), np.array([0.1, 0.2, 1.0])))


@given(st.integers(2, 70), st.integers(2, 70), st.integers(0, 99))
def test_each_maximum_is_that_of_the_patches_below_it(rows: int, cols: int, seed: int) -> None:
    heights = np.random.default_rng(seed).normal(size=(rows, cols)).astype(np.float32)
    found = relief.maxima_over(heights)
    assert found.maxima.size == relief.count_of_maxima(rows, cols)
    assert len(found.starts) == len(found.widths) == relief.count_of_levels(rows, cols)
    assert found.maxima[-1] == heights.max()
    ends = [*found.starts[1:].tolist(), found.maxima.size]
    for k, (start, wide, end) in enumerate(zip(found.starts.tolist(), found.widths.tolist(), ends, strict=True)):
        level, side = found.maxima[start:end].reshape(-1, wide), 2**k
        for row, col in ((0, 0), (len(level) - 1, wide - 1), (len(level) // 2, wide // 2)):
            below = heights[row * side : (row + 1) * side + 1, col * side : (col + 1) * side + 1]
            assert level[row, col] == below.max()
