"""Rules against a plain NumPy reading of the same sentence."""

from __future__ import annotations

import math

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from elvatch.core.clauses import CLAUSE_NUMBERS, ElevationClause, SlopeClause, clause_numbers
from elvatch.core.cover import rules
from tests.core.test_cover import any_clause

Clause = ElevationClause | SlopeClause


def plain(clauses: list[Clause], elevation: float, slope: float) -> float:
    """The product of each clause's eased ramps, as the guide says it."""
    share = 1.0
    for clause in clauses:
        if isinstance(clause, ElevationClause):
            value, lower, upper = elevation, clause.lower_m, clause.upper_m
            soft = clause.soft_lower_m, clause.soft_upper_m
        else:
            value, lower, upper = slope, clause.lower_deg, clause.upper_deg
            soft = clause.soft_lower_deg, clause.soft_upper_deg
        part = 1.0
        for inside, width in ((math.inf if lower is None else value - lower, soft[0]),
                              (math.inf if upper is None else upper - value, soft[1])):  # fmt: skip
            if inside < 0:
                t = 0.0 if width == 0 else max(0.0, 1 + inside / width)
                part = min(part, t * t * (3 - 2 * t))
        share *= 1 - part if clause.opposite else part
    return share


def ours(clauses: list[Clause], elevation: float, slope: float, strength: float = 0.0, x: float = 3.0) -> float:
    numbers = np.array([clause_numbers(c) for c in clauses]).reshape(-1, CLAUSE_NUMBERS)
    return float(rules.presence(numbers, 0, len(clauses), elevation, slope, x, 7.0, 5.0, strength, 3))


@given(st.lists(any_clause, max_size=6), st.floats(-50, 200), st.floats(0, 90))
def test_a_rule_means_what_its_sentence_says(clauses: list[Clause], elevation: float, slope: float) -> None:
    assert ours(clauses, elevation, slope) == pytest.approx(plain(clauses, elevation, slope), abs=1e-9)


@given(st.lists(any_clause, max_size=6), st.floats(-50, 200), st.floats(0, 90), st.floats(0, 4), st.floats(-500, 500))
def test_break_up_keeps_a_presence_between_nothing_and_all(
    clauses: list[Clause], elevation: float, slope: float, strength: float, x: float
) -> None:
    assert 0 <= ours(clauses, elevation, slope, strength, x) <= 1


@given(st.floats(-50, 200), st.floats(0, 4), st.floats(-500, 500))
def test_hard_limits_are_not_broken_up(elevation: float, strength: float, x: float) -> None:
    hard: list[Clause] = [ElevationClause(lower_m=50, soft_lower_m=0)]
    assert ours(hard, elevation, 10.0, strength, x) == (1.0 if elevation >= 50 else 0.0)


def test_a_rule_of_another_layer_is_not_read() -> None:
    numbers = np.array([clause_numbers(c) for c in (SlopeClause(lower_deg=80), ElevationClause(lower_m=0))])
    assert rules.presence(numbers, 1, 2, 10.0, 0.0, 0.0, 0.0, 1.0, 0.0, 1) == 1.0
    assert rules.presence(numbers, 0, 1, 10.0, 0.0, 0.0, 0.0, 1.0, 0.0, 1) == 0.0
    assert rules.presence(numbers, 0, 0, 10.0, 0.0, 0.0, 0.0, 1.0, 0.0, 1) == 1.0, "no clauses: everywhere"
