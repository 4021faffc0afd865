"""Drainage: against scikit-image, a GIS library, a linear system, and shapes whose flow is known."""

from __future__ import annotations

import numpy as np
import pyflwdir
import pytest
from scipy import sparse
from scipy.sparse.linalg import spsolve
from skimage.morphology import reconstruction

from elvatch.core import noise
from elvatch.core.ground import drainage, slope
from elvatch.core.ground.heightfield import Heightfield
from elvatch.core.ground.steps import rivers
from elvatch.core.run import Run
from tests.conftest import plane
from tests.core.shapes import ground_of

RNG = np.random.default_rng(7)
CASES = {
    "noise": (noise.periodic(97, 4, 3, 6, 0.6) * 60).astype(np.float32),
    "random": RNG.random((60, 80)).astype(np.float32) * 9,
    "coarse levels": np.round(noise.periodic(96, 4, 8) * 6).astype(np.float32),
    "flat": np.full((40, 50), 3.0, np.float32),
}


def ground(name: str) -> Heightfield:
    heights = CASES[name]
    return Heightfield(heights, (heights.shape[1] - 1) * 2.0, (heights.shape[0] - 1) * 2.0)


@pytest.mark.parametrize("name", CASES)
def test_filling_is_the_reconstruction_from_the_border(name: str) -> None:
    land = ground(name)
    seed = np.full_like(land.heights_m, land.heights_m.max())
    for edge in (np.s_[0], np.s_[-1], np.s_[:, 0], np.s_[:, -1]):
        seed[edge] = land.heights_m[edge]
    expected = reconstruction(seed, land.heights_m, "erosion", footprint=np.ones((3, 3)))
    np.testing.assert_array_equal(drainage.fill(land).level_m, expected)


@pytest.mark.parametrize("name", CASES)
def test_every_place_drains_to_the_border(name: str) -> None:
    land = ground(name)
    network = drainage.fill(land)
    level, way_out = network.level_m.ravel(), network.way_out
    cells = np.arange(way_out.size)
    assert (level[way_out] <= level).all(), "water never has to climb"
    at = np.asarray(cells, way_out.dtype)
    for _ in range(2 * way_out.size):
        further = way_out[at]
        if np.array_equal(further, at):
            break
        at = further
    row, col = at // land.cols, at % land.cols
    assert ((row == 0) | (col == 0) | (row == land.rows - 1) | (col == land.cols - 1)).all()


@pytest.mark.parametrize("name", CASES)
def test_what_leaves_is_what_fell(name: str) -> None:
    land = ground(name)
    network = drainage.fill(land)
    area = drainage.drainage_area(land, network)
    leaves = network.way_out == np.arange(area.size)
    assert area.ravel()[leaves].sum(dtype=float) == pytest.approx(area.size * 4.0, rel=1e-4)


def test_areas_solve_the_equations_of_multiple_flow() -> None:
    land = ground("noise")
    network = drainage.fill(land)
    rows, cols = land.heights_m.shape
    n = rows * cols
    level, give, take, share = network.level_m, [], [], []
    for cell in range(n):
        row, col = divmod(cell, cols)
        if network.way_out[cell] == cell:
            continue
        falls = {}
        for down, right in ((-1, -1), (-1, 0), (-1, 1), (0, -1), (0, 1), (1, -1), (1, 0), (1, 1)):
            fall = float(level[row, col]) - float(level[row + down, col + right])
            if fall > 0:
                falls[cell + down * cols + right] = (fall / (2.0 * np.hypot(down, right))) ** 1.1
        falls = falls or {int(network.way_out[cell]): 1.0}
        for beside, pull in falls.items():
            give.append(cell)
            take.append(beside)
            share.append(pull / sum(falls.values()))
    system = sparse.identity(n, format="csc") - sparse.csc_matrix((share, (take, give)), (n, n))
    expected = spsolve(system, np.full(n, 4.0)).reshape(rows, cols)
    np.testing.assert_allclose(drainage.drainage_area(land, network), expected, rtol=2e-3)


def test_a_plane_drains_straight_down_and_a_valley_into_its_bottom() -> None:
    tilted = plane(20, 0, samples=65, size_m=64)
    area = drainage.drainage_area(tilted, drainage.fill(tilted))
    # away from its sides, each place has the strip above it, the border aside: cells one metre wide
    np.testing.assert_allclose(area[40, 25:40], 40, rtol=1e-3)
    valley = ground_of(lambda x, y: 0.8 * np.abs(x) + 0.05 * y)
    area = drainage.drainage_area(valley, drainage.fill(valley))
    assert area[-2, 64] > 0.9 * 128 * 126
    assert area[64, 10] < 40


def test_wetness_is_its_formula() -> None:
    tilted = plane(20, 0, samples=65, size_m=64)
    area = drainage.drainage_area(tilted, drainage.fill(tilted))
    wet = drainage.wetness(area, np.full(area.shape, 20.0, np.float32), tilted)
    np.testing.assert_allclose(wet, np.log(area / 1.0 / np.tan(np.radians(20))), rtol=1e-5)


def test_fill_slope_and_steepest_flow_are_those_of_a_gis_library() -> None:
    x = np.arange(128)
    tilted = noise.periodic(128, 2, 3, 3, 0.35) * 60 + x[None] * 0.9 + x[:, None] * 0.35
    land = Heightfield(tilted.astype(np.float32), 127.0, 127.0)
    network = drainage.fill(land)
    filled, _ = pyflwdir.fill_depressions(land.heights_m, outlets="edge")
    np.testing.assert_array_equal(network.level_m, filled)
    rise = pyflwdir.dem.slope(land.heights_m, transform=(1.0, 0.0, 0.0, 0.0, -1.0, 0.0))
    ours = np.tan(np.radians(slope.slope_deg(slope.gradient(land))))
    np.testing.assert_allclose(ours[1:-1, 1:-1], rise[1:-1, 1:-1], atol=1e-4)
    # every cell to its steepest lower neighbour, the first of equals, in the codes of the library
    level = np.pad(network.level_m, 1, constant_values=np.inf)
    ways = ((-1, -1, 32), (-1, 0, 64), (-1, 1, 128), (0, -1, 16), (0, 1, 1), (1, -1, 8), (1, 0, 4), (1, 1, 2))
    falls = np.stack(
        [
            (network.level_m - level[1 + r : 129 + r, 1 + c : 129 + c]) * np.float32(1 / np.hypot(r, c))
            for r, c, _ in ways
        ]
    )
    codes = np.array([code for *_, code in ways], np.uint8)[falls.argmax(axis=0)]
    codes[[0, -1]], codes[:, [0, -1]] = 0, 0
    flat = (falls.max(axis=0) <= 0) & (codes > 0)
    cells = np.arange(128 * 128).reshape(128, 128)
    steps = network.way_out.reshape(128, 128) - cells
    for r, c, code in ways:
        codes[flat & (steps == r * 128 + c)] = code
    expected = pyflwdir.from_array(codes, ftype="d8").upstream_area(unit="cell")
    _, area = rivers.one_round(land, 0.01, 0.5, 0.0, Run())
    np.testing.assert_allclose(area, expected, rtol=1e-5)
