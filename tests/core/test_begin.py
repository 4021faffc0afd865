"""What can be begun: on grounds of every size, within what its numbers may be; and what layers may ask for."""

from __future__ import annotations

import math

import pytest
from hypothesis import given
from hypothesis import strategies as st
from pydantic import ValidationError

from elvatch.core.document import begin_layer
from elvatch.core.document.layer import Layer
from elvatch.core.document.recipe import Peg, Recipe, askable
from elvatch.core.document.rule import Bracket, OnLayer, Rule
from elvatch.core.ground import clauses
from elvatch.core.ground.begin import beginnings
from elvatch.core.ground.description import FlatSource, Ground
from elvatch.core.ground.measures import KINDS, NAMES, MeasureName
from elvatch.core.ground.step import Extent, StepBase, steps
from elvatch.core.shown import numbers_of

extents = st.builds(
    lambda width, depth, low, rise: Extent(width, depth, low, low + rise),
    st.floats(0.5, 120_000),
    st.floats(0.5, 120_000),
    st.floats(-400, 8000),
    st.floats(0, 4000),
)


@given(extents)
def test_every_step_and_clause_begins_on_every_ground(extent: Extent) -> None:
    begun = beginnings(extent)
    assert begun.steps.keys() == {kind.kind_name() for kind in steps()}
    assert tuple(begun.limits) == tuple(begun.spans) == NAMES
    for step in begun.steps.values():
        assert all(math.isfinite(value) for value in step.model_dump().values() if isinstance(value, float))


@pytest.mark.parametrize("kind", steps())
def test_the_numbers_of_a_step_may_be_what_they_are_said_to_span(kind: type[StepBase]) -> None:
    begun = kind.begun("new0", Extent(24, 16, 0, 0))
    for number in numbers_of(kind):
        shown = number.shown
        assert shown.least <= getattr(begun, number.field) <= shown.most, number.field
        for end in (shown.least, shown.most):
            kind.model_validate(begun.model_dump() | {number.field: end})
        assert shown.label
        assert shown.step > 0


@pytest.mark.parametrize("name", NAMES)
def test_a_new_clause_limits_softly_inside_what_its_measure_may_be(name: MeasureName) -> None:
    clause, span = clauses.begun(name, 83, 226), KINDS[name].span(83, 226)
    limits = [value for value in (clause.lower, clause.upper) if value is not None]
    assert limits
    assert all(span.least <= value <= span.most for value in limits)
    assert clause.soft_lower == clause.soft_upper == span.soft > 0


def test_a_set_dropped_on_a_slope_begins_with_that_slope_and_that_elevation() -> None:
    high, steep, broken = begin_layer.rule_at(60, 32, 0, 100).clauses
    assert high.model_dump(include={"measure", "lower", "upper"}) == {
        "measure": "elevation",
        "lower": 52,
        "upper": 68,
    }
    assert steep.model_dump(include={"measure", "lower", "upper"}) == {"measure": "slope", "lower": 26, "upper": 38}
    assert broken.join == "break-up"
    gentle = begin_layer.rule_at(60, 3, 0, 100).clauses[1]
    assert gentle.model_dump(include={"lower", "upper"}) == {"lower": None, "upper": 9}


@given(st.lists(st.tuples(st.integers(0, 4), st.integers(0, 4)), max_size=7), st.integers(0, 4))
def test_a_layer_may_ask_for_just_those_that_make_no_circle(asks: list[tuple[int, int]], of: int) -> None:
    def asking(pairs: list[tuple[int, int]]) -> Recipe:
        rules = {
            k: Rule(
                clauses=tuple(Bracket(clauses=(OnLayer(layer=f"layer{b}", called="x"),)) for a, b in pairs if a == k)
            )
            for k in range(5)
        }
        layers = tuple(Layer(id=f"layer{k}", name=f"{k}", set="5" * 40, rule=rules[k]) for k in range(5))
        ground = Ground(width_m=9, depth_m=9, source=FlatSource(samples=33))
        return Recipe(ground=ground, layers=layers, peg=Peg(east_m=4, north_m=4))

    try:
        site = asking(asks)
    except ValidationError:
        return
    free = set()
    for other in range(5):
        try:
            asking([*asks, (of, other)])
            free.add(f"layer{other}")
        except ValidationError:
            pass
    assert set(askable(site.layers, f"layer{of}")) == free
