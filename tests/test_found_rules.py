"""A rule found by strokes, by rare places, and with what it leaves of its mask painted beside it."""

from __future__ import annotations

import io
from collections.abc import Callable

import numpy as np
import pytest
from numpy.typing import NDArray

from elvatch.app.workshop import Workshop
from elvatch.core.document.recipe import Recipe
from elvatch.core.document.rule import OnMeasure, Rule, on
from elvatch.core.ground.clauses import between
from elvatch.core.ground.places import Places
from elvatch.core.judging import left_over
from elvatch.core.refusal import RefusalError
from elvatch.core.rules.mask import FULL
from tests.conftest import file_ground
from tests.core.handing import rolling


def test_the_rule_and_what_it_leaves_say_what_the_mask_says(workshop: Workshop) -> None:
    land = rolling(129, 200.0)
    stream = io.BytesIO()
    np.save(stream, land.heights_m)
    recipe = workshop.sites.new_recipe(file_ground(land, workshop.store.files.put(stream.getvalue())), empty=True)
    low, high = np.quantile(land.heights_m, (0.2, 0.85))
    slope = OnMeasure.model_validate(between("slope", lower=8.0, soft_lower=0.5).model_dump())
    found = Rule(clauses=(slope,))
    mask = Rule(
        clauses=(
            slope,
            on(between("elevation", lower=float(high), soft_lower=0.01), "except"),
            on(between("elevation", upper=float(low), soft_upper=0.01), "add"),
        )
    )
    at = workshop.covers.spread(workshop.grounds.land(recipe.ground))
    wanted = workshop.judging.says(recipe, mask, at) > 0.5
    by_rule = workshop.judging.says(recipe, found, at) > 0.5
    taken = workshop.judging.taken(recipe, mask, found, "Bands")
    assert taken.right == pytest.approx(float((wanted == by_rule).mean()), abs=0.01)
    assert taken.missed == pytest.approx(float((wanted & ~by_rule).mean()), abs=0.01)
    assert taken.too_much == pytest.approx(float((by_rule & ~wanted).mean()), abs=0.01)
    assert [one.name for one in taken.marks.masks] == ["Bands, too much", "Bands, missed"]
    after = recipe.model_copy(update={"marks": taken.marks})
    says = workshop.judging.says(after, taken.rule, at) > 0.5
    assert float((says == wanted).mean()) > 0.99 > 0.9 > taken.right


def test_a_rule_that_says_all_leaves_nothing_and_specks_are_left_alone() -> None:
    wanted = np.zeros((300, 400))
    wanted[20:90, 30:200] = 1.0
    assert left_over.left_over(wanted, wanted) == left_over.LeftOver(None, None)
    speckled = wanted.copy()
    speckled[::7, ::11] = 1 - speckled[::7, ::11]
    assert left_over.left_over(wanted, speckled) == left_over.LeftOver(None, None)
    shifted = np.roll(wanted, 12, axis=0)
    missed, too_much = left_over.left_over(wanted, shifted)
    assert missed is not None
    assert too_much is not None
    np.testing.assert_array_equal(missed == FULL, (wanted > 0) & (shifted == 0))
    np.testing.assert_array_equal(too_much == FULL, (shifted > 0) & (wanted == 0))
    cut = left_over.tiles(missed)
    assert set(cut) == {(0, 0)}
    np.testing.assert_array_equal(cut[0, 0][:, :256], missed[:256, :256])


def rolling_site(workshop: Workshop) -> Recipe:
    land = rolling(513, 200.0)
    stream = io.BytesIO()
    np.save(stream, land.heights_m)
    return workshop.sites.new_recipe(file_ground(land, workshop.store.files.put(stream.getvalue())), empty=True)


def test_strokes_of_yes_and_no_tell_a_rule(workshop: Workshop) -> None:
    recipe = rolling_site(workshop)
    truth = Rule(clauses=(on(between("slope", lower=9.0)),))

    def stroke(x_m: float, wide_m: float, inside: bool) -> Callable[[Places], NDArray[np.floating]]:
        def says(at: Places) -> NDArray[np.floating]:
            there = (np.abs(at.x_m - x_m) < wide_m) & (at.y_m > 40) & (at.y_m < 160)
            is_so = (workshop.judging.says(recipe, truth, at) > 0.5) == inside
            return np.asarray(there & is_so, np.float32)

        return says

    # two narrow bands of the ground, painted without going over the border
    found = workshop.judging.find_rule(recipe, stroke(60, 3, True), None, stroke(140, 3, False))
    assert found.explained
    at = workshop.covers.spread(workshop.grounds.land(recipe.ground))
    wanted, said = (workshop.judging.says(recipe, rule, at) > 0.5 for rule in (truth, found.rule))
    assert float((wanted == said).mean()) > 0.9
    with pytest.raises(RefusalError, match="where it is not"):
        workshop.judging.find_rule(recipe, stroke(60, 3, True), None, stroke(-50, 3, False))


def test_a_rare_place_is_looked_for_in_more_places(workshop: Workshop) -> None:
    recipe = rolling_site(workshop)
    slope = workshop.grounds.measures(recipe.ground).map("slope")
    truth = Rule(clauses=(on(between("slope", lower=float(np.quantile(slope, 0.998)))),))
    found = workshop.judging.find_rule(recipe, lambda at: workshop.judging.says(recipe, truth, at))
    assert found.overlap > 0.85
    (clause,) = found.rule.clauses
    assert isinstance(clause, OnMeasure)
    assert clause.measure == "slope"
