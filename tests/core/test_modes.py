"""Looking modes drawn over the ground: hatch and grid lie where they say."""

from __future__ import annotations

import numpy as np
import pytest

from elvatch.core.cover.material import Material
from elvatch.core.ground.places import Places, zeros
from elvatch.core.picture import modes

LIT = np.array([[0.2, 0.3, 0.25]], np.float32)


def row_of_places(count: int, across: float, length_m: float) -> Places:
    at = zeros(count)
    at.x_m[:] = np.linspace(0, length_m, count)
    at.y_m[:] = 45.5  # between the lines of every spacing
    at.across_m[:] = across
    return at


def material(count: int, shares: np.ndarray) -> Material:
    one = np.ones(count, np.float32)
    return Material(
        np.tile(LIT, (count, 1)),
        np.zeros((count, 2), np.float32),
        one * 0.5,
        one * 0,
        one,
        one * 0,
        np.stack([1 - shares, shares], axis=1).astype(np.float32),
        np.empty((0, 3), np.float32),
    )


def test_hatch_lies_only_where_the_layer_does() -> None:
    count = 4000
    shares = (np.arange(count) >= count // 2).astype(np.float32)
    at = row_of_places(count, 0.01, 20.0)
    lit = np.tile(LIT, (count, 1))
    drawn = modes._coverage(at, material(count, shares), 1, lit)
    red = (drawn[:, 0] - drawn[:, 2]) > 0.15
    assert red[: count // 2].sum() == 0
    assert 0.05 < red[count // 2 :].mean() < 0.5
    np.testing.assert_array_equal(modes._coverage(at, material(count, shares), -1, lit), lit)


def test_hatch_keeps_its_size_on_the_picture_from_near_to_far() -> None:
    for across in (0.01, 0.03, 0.1, 1.0, 7.3):
        count = 4000
        at = row_of_places(count, across, across * count)
        drawn = modes._coverage(at, material(count, np.ones(count)), 1, np.tile(LIT, (count, 1)))
        red = ((drawn[:, 0] - drawn[:, 2]) > 0.15).astype(int)
        # a power of two of the area seen: one line every 7 to 14 pixels, from near to far
        assert count / 14 - 2 <= int((np.diff(red) == 1).sum()) <= count / 7 + 2


@pytest.mark.parametrize(("across", "spacing"), [(0.005, 1.0), (0.5, 10.0), (6.0, 100.0)])
def test_the_grid_is_as_fine_as_can_be_told_apart(across: float, spacing: float) -> None:
    length = 12 * spacing
    count = int(length / across * 2) + 1
    drawn = modes._grid(row_of_places(count, across, length), np.tile(LIT, (count, 1)))
    dark = drawn[:, 1] < LIT[0, 1] * 0.85
    x = np.linspace(0, length, count)
    away = np.abs(x / spacing - np.rint(x / spacing)) * spacing
    width = max(across * 0.7, spacing * 0.004)
    assert dark[away < width * 0.5].mean() > 0.95
    assert dark[away > width * 4].mean() < 0.01


def test_height_mode_runs_from_black_to_white_over_the_relief_in_view() -> None:
    count = 1000
    relief = np.linspace(-0.1, 0.3, count).astype(np.float32)
    of = material(count, np.ones(count))._replace(relief_m=relief)
    shown = modes._one_map("height", row_of_places(count, 0.1, 1.0), of, -1)[:, 0]
    assert shown[0] == 0
    assert shown[-1] == pytest.approx(1.0)
    assert (np.diff(shown) >= 0).all()
