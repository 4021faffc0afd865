"""Relief maps and ramps: contours where they belong, ramps even to the eye."""

from __future__ import annotations

import numpy as np
import pytest

from elvatch.core.ground.measures import Scale
from elvatch.core.ground.sampling import nearest_samples
from elvatch.core.ground.survey import survey
from elvatch.core.picture import ramp, relief_map
from tests.conftest import plane
from tests.core.shapes import ground_of


def lightness(linear: np.ndarray) -> np.ndarray:
    """CIE L* of linear Rec.709."""
    y = linear @ np.array([0.2126, 0.7152, 0.0722])
    return np.asarray(np.where(y > 216 / 24389, 116 * np.cbrt(y) - 16, y * 24389 / 27))


@pytest.mark.parametrize("scale", ["even", "logarithmic", "about zero"])
def test_ramps_change_their_lightness_evenly(scale: Scale) -> None:
    steps = np.diff(lightness(ramp.table(scale).astype(float)))
    assert (np.sign(steps) == np.sign(steps[0])).all()
    assert steps.std() < 0.12 * abs(steps.mean())


def test_no_two_bearings_look_alike_on_the_compass_ramp() -> None:
    colours = ramp.table("compass").astype(float)
    apart = np.linalg.norm(colours[:, None] - colours[None], axis=2)
    far = np.abs((np.arange(256)[:, None] - np.arange(256)[None] + 128) % 256 - 128) > 24
    assert apart[far].min() > 0.02
    assert apart[0, 255] < 0.02


def test_contours_lie_on_their_elevations() -> None:
    # a plane rising eastwards by one metre a metre: contours every 10 m are 10 m apart
    land = plane(45, 90, samples=129, size_m=100)
    shown = relief_map.draw(survey(land), 400, 100, 10.0)[50].astype(int).sum(axis=1)
    dark = np.flatnonzero(shown < np.median(shown) - 60)
    middles = [run.mean() for run in np.split(dark, np.flatnonzero(np.diff(dark) > 2) + 1)]
    elevations = (np.array(middles) + 0.5) / 4
    np.testing.assert_allclose(elevations, np.rint(elevations / 10) * 10, atol=0.3)
    assert len(middles) >= 9
    bare = relief_map.draw(survey(land), 400, 100, 0.0)[50].astype(int)
    assert np.ptp(bare[5:-5], axis=0).max() <= 3, "no contours when none are asked for"


def test_slopes_to_the_north_west_are_light() -> None:
    hill = ground_of(lambda x, y: 20 * np.exp(-(x * x + y * y) / 600))
    shown = relief_map.draw(survey(hill), 128, 128, 0.0).astype(int).sum(axis=2)
    assert shown[52, 52] > shown[64, 120] > shown[76, 76]


def test_a_measure_is_shown_in_its_ramps_colours() -> None:
    land = plane(0, samples=65)
    values = np.tile(np.linspace(0, 1, 65, dtype=np.float32), (65, 1))
    tint = ramp.colours(values[nearest_samples(values.shape, 65, 20)], "even", 0.0, 1.0)
    shown = relief_map.draw(survey(land), 65, 20, 0.0, tint)[10].astype(int).sum(axis=1)
    assert (np.diff(shown) <= 2).all()
    assert shown[0] - shown[-1] > 300
