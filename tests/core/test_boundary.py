"""Bands in one clause, boundaries that finger and carry a strip, and sides of relief: against what they mean."""

from __future__ import annotations

import math

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from numpy.typing import NDArray
from pydantic import ValidationError
from scipy import ndimage

from elvatch.core.cover import function, plan, stretch
from elvatch.core.cover.material import Material
from elvatch.core.document.fit import Fit
from elvatch.core.document.layer import Edge, Layer, Look
from elvatch.core.document.rule import OnMeasure, Rule, on, words
from elvatch.core.ground import places
from elvatch.core.ground.clauses import between
from elvatch.core.ground.heightfield import Heightfield
from elvatch.core.ground.survey import survey
from elvatch.core.picture.picture import Renderer, View
from elvatch.core.picture.terrain import terrain
from elvatch.core.rules import rules
from elvatch.core.rules.evidence import Evidence
from elvatch.core.rules.program import compiled
from elvatch.core.stock import generators, pyramid
from elvatch.core.stock.pyramid import Pyramid
from tests.conftest import NAMES, flat_set, layer, plane, recipe

SETS = {name: flat_set(0.1 * (k + 1)) for k, name in enumerate(NAMES)}


def banded(lower: float, upper: float, every: float, irregular: float = 0.0, soft: float = 0.0) -> OnMeasure:
    clause = on(between("elevation", lower, upper, soft, soft)).model_dump()
    return OnMeasure.model_validate(clause | {"every": every, "irregular": irregular})


def present(clause: OnMeasure, elevations: NDArray[np.floating]) -> NDArray[np.float32]:
    at = places.zeros(len(elevations))
    at.elevation_m[:] = elevations
    return rules.presences(compiled([("bands", Rule(clauses=(clause,)))], Evidence()), 0, at)


@given(st.floats(-500, 500), st.floats(0.2, 3.0), st.floats(3.5, 40.0))
def test_bands_come_again_below_and_above(lower: float, wide: float, every: float) -> None:
    values = lower + np.linspace(-6 * every, 6 * every, 4001)
    found = present(banded(lower, lower + wide, every), values)
    within = (values - lower) % every
    # not on the very edge, where rounding decides
    clear = (np.abs(within) > 1e-3) & (np.abs(within - wide) > 1e-3) & (np.abs(within - every) > 1e-3)
    np.testing.assert_array_equal(found[clear] > 0.5, (within <= wide)[clear])


@given(st.floats(0.05, 1.0), st.integers(-50, 50))
def test_irregular_bands_are_as_many_and_never_meet(irregular: float, first: int) -> None:
    every, wide = 6.0, 2.0
    values = first * every + np.linspace(0, 100 * every, 60001)
    found = present(banded(0.0, wide, every, irregular), values) > 0.5
    begins = int((np.diff(found.astype(int)) == 1).sum())
    assert 98 <= begins <= 101
    share = found.mean()
    assert share == pytest.approx(wide / every, abs=0.06 * (1 + 2 * irregular))


def test_bands_say_so_and_refuse_what_cannot_repeat() -> None:
    assert words(banded(101.0, 103.2, 6.4)).endswith("again every 6.4 m")
    for wrong in ({"every": 2.0}, {"every": 10.0, "upper": None}):
        with pytest.raises(ValidationError, match="bands need"):
            OnMeasure.model_validate(banded(0.0, 3.0, 6.0).model_dump() | wrong)
    with pytest.raises(ValidationError, match="does not repeat"):
        OnMeasure.model_validate(on(between("aspect", 10.0, 50.0)).model_dump() | {"every": 90.0})


def shares(
    edge: Edge, sets: dict[str, Pyramid] = SETS, across: float = 0.05
) -> tuple[NDArray[np.float32], Heightfield]:
    """The upper layer's share over a slope whose rule goes from nothing to all of it within 20 m."""
    ground = plane(20, 0, 129)
    steps = (np.arange(256) + 0.5) / 256 * 100
    x, y = np.meshgrid(steps, steps[::-1])
    rule = Rule(clauses=(on(between("elevation", lower=54.0, soft_lower=8.0)),))
    plain = Look(variation=0)
    upper = Layer(id="upper", name="upper", set=NAMES[1], rule=rule, edge=edge, look=plain, fit=Fit(relief_m=0.1))
    at = places.on_ground(survey(ground), x.ravel(), y.ravel(), across)
    found = function.ask(plan.prepare((layer("base", 0), upper), sets), at)
    return found.shares[:, 1].reshape(256, 256), ground


def test_fingers_leave_islands_and_about_as_much_as_a_fade() -> None:
    faded = shares(Edge(kind="fade"))[0]
    fingered = shares(Edge(kind="fade", fingers=1.0, fingers_m=6.0))[0]
    assert ndimage.label(faded > 0.5)[1] == 1
    assert ndimage.label(fingered > 0.5)[1] > 2, "islands lie off the main body"
    between_ = (faded > 0.02) & (faded < 0.98)
    # nearly everywhere it is one or the other, where it was something between
    assert ((fingered[between_] < 0.1) | (fingered[between_] > 0.9)).mean() > 0.75
    assert fingered.mean() == pytest.approx(faded.mean(), abs=0.03)
    np.testing.assert_array_equal(fingered[faded == 0], 0)
    np.testing.assert_array_equal(fingered[faded == 1], 1)


def test_fingers_too_fine_to_be_seen_are_the_fade() -> None:
    faded, fingered = (
        shares(Edge(kind="fade", fingers=fingers, fingers_m=6.0), across=12.0)[0] for fingers in (0.0, 1.0)
    )
    np.testing.assert_allclose(fingered, faded, atol=1e-6)


def test_a_strip_lies_along_the_boundary_and_nowhere_else() -> None:
    ground = plane(20, 0, 129)
    steps = (np.arange(200) + 0.5) / 2
    at = places.on_ground(survey(ground), np.full(200, 50.0), steps, 0.05)
    rule = Rule(clauses=(on(between("elevation", lower=54.0, soft_lower=8.0)),))

    def colours(strip: str | None) -> NDArray[np.float32]:
        edge = Edge(kind="fade", fingers=1.0, fingers_m=200.0, strip_set=strip, strip=0.5)
        upper = Layer(
            id="upper",
            name="upper",
            set=NAMES[1],
            rule=rule,
            edge=edge,
            look=Look(variation=0),
            fit=Fit(relief_m=0.1),
        )
        return function.ask(plan.prepare((layer("base", 0), upper), SETS), at).colour[:, 0]

    without, with_strip = colours(None), colours(NAMES[4])
    changed = np.flatnonzero(np.abs(with_strip - without) > 0.02)
    assert len(changed) > 3
    assert np.ptp(changed) < 60, "in one run along the slope"
    # it is the strip's own colour there, and the layers' own on either side
    assert with_strip.max() == pytest.approx(0.5, abs=0.05)
    assert with_strip[0] == pytest.approx(0.1, abs=1e-3)
    assert with_strip[-1] == pytest.approx(0.2, abs=1e-3)


def _steps_set(rise: float) -> Pyramid:
    """A set of one slope in height and bands of colour across it, so that a side can be told from what is level."""
    size = 64
    height = np.tile(np.linspace(0, 1, size, endpoint=False).astype(np.float32), (size, 1))
    normal = np.dstack([np.full_like(height, -rise), np.zeros_like(height), np.ones_like(height)])
    normal /= np.linalg.norm(normal, axis=2, keepdims=True)
    colour = np.repeat((0.2 + 0.5 * (np.arange(size) % 8 < 4)).astype(np.float32)[:, None], size, 1)
    full = np.ones_like(height)
    maps = pyramid.Maps(np.dstack([colour] * 3), normal.astype(np.float32), full * 0.5, height, full)
    return pyramid.build(maps, 1.0, 1.0)


@pytest.mark.parametrize("rise", [0.2, 3.0])
def test_only_steep_sides_get_texture_of_their_own(rise: float) -> None:
    one = _steps_set(rise)
    at = places.on_ground(survey(plane(0)), np.linspace(20, 20.9, 200), np.full(200, 30.4), 0.002)

    def asked(own: bool) -> Material:
        fit = Fit(tile_m=1.0, relief_m=1.0, own_sides=own)
        return function.ask(plan.prepare((layer("base", 0, fit=fit),), {NAMES[0]: one}), at)

    plain, sided = asked(False), asked(True)
    np.testing.assert_array_equal(plain.relief_m, sided.relief_m)
    # seen from above the colour is one along the row; across the side it changes with the height
    assert np.ptp(plain.colour[:, 0]) < 0.01
    assert bool(np.ptp(sided.colour[:, 0]) > 0.4) is (rise > 1)


def test_no_side_of_bedrock_is_stretched() -> None:
    """99% of Near under 1.5 at a relief of 0.4 m, and far more without sides of their own."""
    stored = generators.stored(generators.draw("slate-bedrock", 512, 3))
    land = terrain(Heightfield(np.zeros((33, 33), np.float32), 80.0, 80.0))
    told: dict[bool, NDArray[np.float32]] = {}

    def near(own: bool) -> None:
        base = layer("base", 0, fit=Fit(tile_m=4.0, relief_m=0.4, own_sides=own))
        site = recipe((base,), Heightfield(np.zeros((33, 33), np.float32), 80.0, 80.0))
        kept = stretch.of_cover

        def heard(*given: object, **named: object) -> tuple[NDArray[np.float32], NDArray[np.float32]]:
            found = kept(*given, **named)  # type: ignore[arg-type]
            told[own] = found[0]
            return found

        with pytest.MonkeyPatch.context() as patch:
            patch.setattr(stretch, "of_cover", heard)
            Renderer(2).take(land, site, {NAMES[0]: stored}, View("near", 480, 320, 4, mode="stretch"))

    near(True)
    near(False)
    assert np.percentile(told[True], 99) < 1.5
    assert told[True].max() <= 1 / math.cos(math.radians(47.4)) + 0.01
    assert np.percentile(told[False], 99) > 2.0
