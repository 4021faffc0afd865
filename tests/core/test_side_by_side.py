"""How far apart two pictures look."""

from __future__ import annotations

import numpy as np
import pytest

from elvatch.core.judging.side_by_side import difference


def test_a_picture_and_itself_do_not_differ() -> None:
    one = np.random.default_rng(1).integers(0, 256, (20, 30, 3), dtype=np.uint8)
    found = difference(one, one)
    assert (found.mean, found.seen) == (0, 0)
    assert np.ptp(found.pixels.astype(int), axis=2).max() == 0, "grey everywhere"


def test_where_they_differ_it_is_red_and_the_mean_is_of_all() -> None:
    # grey of L* 50 against L* 60: CIEDE2000 of two greys is dL / S_L, by Sharma, Wu & Dalal 2005
    one = np.full((10, 10, 3), 119, np.uint8)
    other = one.copy()
    other[:, 5:] = 145
    lightness = [116 * (_linear(v)) ** (1 / 3) - 16 for v in (119, 145)]
    middle = (sum(lightness) / 2 - 50) ** 2
    wanted = (lightness[1] - lightness[0]) / (1 + 0.015 * middle / np.sqrt(20 + middle))
    found = difference(one, other)
    assert found.mean == pytest.approx(wanted / 2, rel=1e-3)
    assert found.seen == 0.5
    red = found.pixels[:, 5:].astype(int)
    assert (red[..., 0] - red[..., 2] > 100).all()
    assert np.ptp(found.pixels[:, :5].astype(int), axis=2).max() == 0


def _linear(code: int) -> float:
    return float(((code / 255 + 0.055) / 1.055) ** 2.4)
