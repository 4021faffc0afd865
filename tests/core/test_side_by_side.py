"""How far apart two pictures look."""

from __future__ import annotations

import numpy as np
import pytest

from elvatch.core.colour_difference import ciede2000
from elvatch.core.judging.side_by_side import difference

# L*, a*, b* of two colours and their difference: table 1 of Sharma, Wu & Dalal 2005
PAIRS = """
50.0000 2.6772 -79.7751 50.0000 0.0000 -82.7485 2.0425
50.0000 3.1571 -77.2803 50.0000 0.0000 -82.7485 2.8615
50.0000 2.8361 -74.0200 50.0000 0.0000 -82.7485 3.4412
50.0000 -1.3802 -84.2814 50.0000 0.0000 -82.7485 1.0000
50.0000 -1.1848 -84.8006 50.0000 0.0000 -82.7485 1.0000
50.0000 -0.9009 -85.5211 50.0000 0.0000 -82.7485 1.0000
50.0000 0.0000 0.0000 50.0000 -1.0000 2.0000 2.3669
50.0000 -1.0000 2.0000 50.0000 0.0000 0.0000 2.3669
50.0000 2.4900 -0.0010 50.0000 -2.4900 0.0009 7.1792
50.0000 2.4900 -0.0010 50.0000 -2.4900 0.0010 7.1792
50.0000 2.4900 -0.0010 50.0000 -2.4900 0.0011 7.2195
50.0000 2.4900 -0.0010 50.0000 -2.4900 0.0012 7.2195
50.0000 -0.0010 2.4900 50.0000 0.0009 -2.4900 4.8045
50.0000 -0.0010 2.4900 50.0000 0.0010 -2.4900 4.8045
50.0000 -0.0010 2.4900 50.0000 0.0011 -2.4900 4.7461
50.0000 2.5000 0.0000 50.0000 0.0000 -2.5000 4.3065
50.0000 2.5000 0.0000 73.0000 25.0000 -18.0000 27.1492
50.0000 2.5000 0.0000 61.0000 -5.0000 29.0000 22.8977
50.0000 2.5000 0.0000 56.0000 -27.0000 -3.0000 31.9030
50.0000 2.5000 0.0000 58.0000 24.0000 15.0000 19.4535
50.0000 2.5000 0.0000 50.0000 3.1736 0.5854 1.0000
50.0000 2.5000 0.0000 50.0000 3.2972 0.0000 1.0000
50.0000 2.5000 0.0000 50.0000 1.8634 0.5757 1.0000
50.0000 2.5000 0.0000 50.0000 3.2592 0.3350 1.0000
60.2574 -34.0099 36.2677 60.4626 -34.1751 39.4387 1.2644
63.0109 -31.0961 -5.8663 62.8187 -29.7946 -4.0864 1.2630
61.2901 3.7196 -5.3901 61.4292 2.2480 -4.9620 1.8731
35.0831 -44.1164 3.7933 35.0232 -40.0716 1.5901 1.8645
22.7233 20.0904 -46.6940 23.0331 14.9730 -42.5619 2.0373
36.4612 47.8580 18.3852 36.2715 50.5065 21.2231 1.4146
90.8027 -2.0831 1.4410 91.1528 -1.6435 0.0447 1.4441
90.9257 -0.5406 -0.9208 88.6381 -0.8985 -0.7239 1.5381
6.7747 -0.2908 -2.4247 5.8714 -0.0985 -2.2286 0.6377
2.0776 0.0795 -1.1350 0.9033 -0.0636 -0.5514 0.9082
"""


def test_the_difference_is_that_of_the_published_pairs() -> None:
    table = np.array(PAIRS.split(), float).reshape(-1, 7)
    assert len(table) == 34
    np.testing.assert_allclose(ciede2000(table[:, :3], table[:, 3:6]), table[:, 6], atol=1e-4)


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
