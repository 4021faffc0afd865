"""A part with another name is called by it wherever it is spoken of; what is gone is known by its id."""

from __future__ import annotations

import numpy as np
import pytest

from elvatch.core.document.marks import DrawnPath, Marks, PaintedMask, PathPoint
from elvatch.core.document.naming import renamed
from elvatch.core.document.recipe import Recipe
from elvatch.core.document.rule import Bracket, KeptRule, OnLayer, OnNear, OnPainted, OnPath, Rule
from elvatch.core.document.set_thing import SetThing
from elvatch.core.document.strew import Mixed, Strew
from elvatch.core.document.wear import AlongPath, FromStock, Wear
from elvatch.core.ground import places
from elvatch.core.ground.survey import survey
from elvatch.core.refusal import RefusalError
from elvatch.core.rules import account
from elvatch.core.rules.evidence import Evidence
from tests.conftest import layer, plane, recipe

POINTS = tuple(PathPoint(east_m=20.0 + 40 * k, north_m=50) for k in range(2))
EVERY = (
    OnPainted(mask="mask1", called="Old"),
    OnPath(path="path1", called="Old"),
    OnLayer(layer="low0000", called="Old"),
    OnNear(target="strew1", called="Old"),
    OnNear(to="thing", target="thing1", called="Old"),
    Bracket(clauses=(OnPath(path="path1", called="Old"), OnPainted(mask="mask1", called="Old"))),
)


def site() -> Recipe:
    rule = Rule(clauses=EVERY)
    wear = Wear(
        id="wear1",
        name="Old",
        source=FromStock(set="1" * 40),
        rule=rule,
        follows=AlongPath(path="path1", called="Old"),
    )
    marks = Marks(
        masks=(PaintedMask(id="mask1", name="Old"),), paths=(DrawnPath(id="path1", name="Old", points=POINTS),)
    )
    plain = recipe((layer("low", 0), layer("top", 1, rule)))
    kept = KeptRule(id="kept1", name="Old", rule=rule)
    strew = Strew(id="strew1", name="Old", kinds=(Mixed(thing="stone"),))
    placed = SetThing(id="thing1", name="Old", thing="stone", east_m=5, north_m=5, size_m=1)
    stands = {"strews": (strew,), "set_things": (placed,)}
    return plain.model_copy(update={"wears": (wear,), "marks": marks, "kept_rules": (kept,), **stands})


@pytest.mark.parametrize(
    ("id", "spoken_of"), [("mask1", 7), ("path1", 8), ("low0000", 4), ("wear1", 1), ("strew1", 4), ("thing1", 4)]
)
def test_a_name_changes_wherever_the_part_is_spoken_of_and_nowhere_else(id: str, spoken_of: int) -> None:
    before = site().model_dump_json()
    after = renamed(site(), id, "  New   one ").model_dump_json()
    assert after.count('"New one"') == spoken_of
    assert after.replace('"New one"', '"Old"') == before.replace(
        '"name":"low"', '"name":"Old"' if id == "low0000" else '"name":"low"'
    )


@pytest.mark.parametrize(("id", "name"), [("none0", "New"), ("mask1", "  "), ("mask1", "x" * 81)])
def test_what_cannot_be_named_is_refused(id: str, name: str) -> None:
    with pytest.raises(RefusalError, match="name: found"):
        renamed(site(), id, name)


def test_parts_that_say_nothing_of_it_stay_the_very_same() -> None:
    before = site()
    after = renamed(before, "path1", "Lane")
    assert after.layers[0] is before.layers[0]
    assert after.marks.masks[0] is before.marks.masks[0]
    assert renamed(before, "path1", "Old").marks is before.marks


def test_what_is_gone_is_known_by_its_id_not_by_words_that_look_alike() -> None:
    ground = plane(0)
    x = np.array([50.0])
    at = places.on_ground(survey(ground), x, x, 1.0)
    # a layer called like a part of the sentence of another clause, whose own path is gone
    there = DrawnPath(id="path1", name="on", points=POINTS)
    painted = layer("a", 1, Rule(clauses=(OnPainted(mask="mask1", called="Wheel on path"),)))
    gone = layer("b", 2, Rule(clauses=(Bracket(clauses=(OnPath(path="lost0", called="on"),)),)))
    layers = (layer("low", 0), painted, gone)
    evidence = Evidence(100.0, 100.0, marks=Marks(paths=(there,)))
    assert account.why_nowhere(layers, 1, 0.0, evidence, at) == "the mask Wheel on path is gone"
    assert account.why_nowhere(layers, 2, 0.0, evidence, at) == "the path on is gone"
    follows = layer("c", 3, Rule(clauses=(OnPath(path="path1", called="on"),)))
    assert account.why_nowhere((*layers, follows), 3, 0.0, evidence, at) == "layers above it cover it"
