"""What generators lay: cells against a search of all points, stones and hollows against their own shapes."""

from __future__ import annotations

import numpy as np
import pytest
from scipy.spatial import cKDTree

from elvatch.core.refusal import RefusalError
from elvatch.core.stock import generators, pebble, scatter
from elvatch.core.stock.cells import cells
from elvatch.core.stock.generators.controls import Control, complete

FLAT = np.zeros((96, 96), np.float32)


def all_points(seed: int, grid: int, left_out: float) -> tuple[np.ndarray, np.ndarray]:
    """The points that cells with this seed are about, in nine squares, and the numbers of their cells."""
    rng = np.random.default_rng(seed)
    inside = 0.5 + (rng.random((grid, grid, 2)) - 0.5).astype(np.float32) * 0.85
    gone = rng.random((grid, grid)) < left_out
    gone[::3, ::3] = False
    rows, cols = np.nonzero(~gone)
    at = (np.stack([cols, rows], axis=1) + inside[rows, cols]) / grid
    moves = [(i, j) for j in (-1, 0, 1) for i in (-1, 0, 1)]
    return np.concatenate([at + move for move in moves]), np.tile(rows * grid + cols, 9)


@pytest.mark.parametrize("left_out", [0.0, 0.25])
def test_cells_are_those_of_the_nearest_point_round_the_edges(left_out: float) -> None:
    found = cells(np.random.default_rng(4), 96, 6, (FLAT, FLAT), left_out)
    points, numbers = all_points(4, 6, left_out)
    y, x = (np.mgrid[0:96, 0:96] + 0.5) / 96
    away, nearest = map(np.asarray, cKDTree(points).query(np.stack([x.ravel(), y.ravel()], axis=1), k=2))
    # where two points are as good as equally near either may win
    clear = away[:, 1] - away[:, 0] > 1e-4
    np.testing.assert_array_equal(found.owner.ravel()[clear], numbers[nearest[:, 0]][clear])
    to_centre = np.hypot(found.centre_x, found.centre_y).ravel()
    np.testing.assert_allclose(to_centre[clear], away[clear, 0], atol=1e-4)


def test_the_distance_to_a_border_is_that_of_the_nearest_bisector() -> None:
    found = cells(np.random.default_rng(9), 96, 5, (FLAT, FLAT))
    points, _ = all_points(9, 5, 0.0)
    tree = cKDTree(points)
    for row, col in ((3, 5), (50, 50), (95, 0), (20, 77)):
        place = np.array([col + 0.5, row + 0.5]) / 96
        order = np.asarray(tree.query(place, k=30)[1])
        own, others = points[order[0]], points[order[1:]]
        across = others - own
        bisectors = (((others + own) / 2 - place) * across).sum(axis=1) / np.linalg.norm(across, axis=1)
        assert found.border[row, col] == pytest.approx(bisectors.min(), abs=1e-4)


def stone(x: float, y: float, **more: float) -> np.ndarray:
    """One smooth round stone of 10 cm radius lying on the floor."""
    given = {
        "radius": 0.1,
        "stretch": 1.0,
        "flatness": 0.5,
        "power": 2.0,
        "lumps": 0,
        "facets": 0,
        "tilt": 0,
        "sunk": 0,
    }
    style = pebble.PebbleStyle(**(given | more))
    return pebble.pebbles(np.random.default_rng(2), np.array([[x, y]]), np.zeros(1), style)


def test_a_stone_is_a_dome_on_its_outline() -> None:
    bed = scatter.Scattered.floor(np.zeros((200, 200), np.float32), 0.005)
    described = stone(0.5, 0.5)
    pebble.lay_pebbles(bed, described, 7)
    on = bed.owner == 7
    long, short, thick = described[0, 3], described[0, 4], described[0, 5]
    assert on.sum() * 0.005**2 == pytest.approx(np.pi * long * short, rel=0.03)
    assert bed.height.max() == pytest.approx(thick, rel=0.01)
    assert bed.height[on].min() > 0
    assert (bed.height[~on] == 0).all()


def test_a_stone_over_the_edge_comes_in_on_the_other_side() -> None:
    beds = []
    for x, y in ((0.5, 0.5), (0.0, 1.0)):
        bed = scatter.Scattered.floor(np.zeros((128, 128), np.float32), 1 / 128)
        pebble.lay_pebbles(bed, stone(x, y), 0)
        beds.append(bed.height)
    np.testing.assert_allclose(np.roll(beds[1], (64, 64), (0, 1)), beds[0], atol=1e-5)


def test_of_two_stones_the_higher_shows() -> None:
    bed = scatter.Scattered.floor(np.zeros((100, 100), np.float32), 0.01)
    pebble.lay_pebbles(bed, np.concatenate([stone(0.5, 0.5), stone(0.5, 0.5, flatness=0.9)]), 0)
    assert bed.owner[50, 50] == 1


def test_places_are_drawn_towards_hollows() -> None:
    lying = np.tile(np.linspace(0, 1, 128, dtype=np.float32), (128, 1))
    places, base = scatter.hollows(np.random.default_rng(1), lying, 20_000, 2.0)
    # of two uniform places the lower: the mean of the smaller of two is a third
    assert places[:, 0].mean() / 2.0 == pytest.approx(1 / 3, abs=0.01)
    np.testing.assert_array_equal(base.astype(np.float32), lying[scatter.pixels(places, 128, 2.0)])


def test_a_blade_lies_where_it_is_whatever_band_draws_it() -> None:
    blade = np.zeros((1, scatter.BLADE_NUMBERS), np.float32)
    blade[0] = [0.98, 0.02, 0.0, 0.3, 0.4, 0.2, 0.02, 0.05]
    moved = blade.copy()
    moved[0, :2] = [0.48, 0.52]
    beds = []
    for one in (blade, moved):
        bed = scatter.Scattered.floor(np.full((256, 256), -1, np.float32), 1 / 256)
        scatter.lay_blades(bed, one, 0)
        beds.append(bed.height)
    assert (beds[0] > -1).sum() > 200
    np.testing.assert_allclose(np.roll(beds[0], (128, 128), (0, 1)), np.roll(beds[1], (0, 256), (0, 1)), atol=1e-5)


CONTROLS = [(kind, control) for kind, one in generators.GENERATORS.items() for control in one.controls]


@pytest.mark.parametrize(("kind", "control"), CONTROLS, ids=lambda part: getattr(part, "name", part))
def test_every_control_changes_its_material(kind: str, control: Control) -> None:
    usual, turned = (generators.draw(kind, 48, 3, {control.name: end}) for end in (control.least, control.most))
    changed = max(
        float(np.abs(turned.colour - usual.colour).mean()) / float(usual.colour.mean()),
        float(np.abs(turned.height * turned.relief_m - usual.height * usual.relief_m).mean()) / usual.relief_m,
        float(np.abs(turned.roughness - usual.roughness).mean()),
    )
    assert changed > 0.01
    assert turned.colour.min() >= 0.0199
    assert turned.colour.max() <= 0.8501


def test_controls_are_completed_and_checked() -> None:
    controls = generators.GENERATORS["pebbles"].controls
    assert complete(controls, {}) == {"stones": 1.0, "sand": 0.35, "wet": 0.0}
    assert complete(controls, {"wet": 1.0})["wet"] == 1.0
    for wrong in ({"wet": 1.01}, {"wet": float("nan")}, {"dry": 0.5}):
        with pytest.raises(RefusalError):
            complete(controls, wrong)
