"""What is kept between edits never shows: an edited cover is the cover asked anew."""

from __future__ import annotations

import numpy as np
from hypothesis import given, settings
from hypothesis import strategies as st

from elvatch.core.cover import function, plan
from elvatch.core.cover.material import Material
from elvatch.core.cover.memory import Memory, _Slots
from elvatch.core.document.layer import Layer
from elvatch.core.document.marks import DrawnPath, Marks, PathPoint
from elvatch.core.document.rule import OnLayer, OnPath, Rule
from elvatch.core.ground import places
from elvatch.core.ground.survey import survey
from elvatch.core.picture.picture import Renderer, View
from elvatch.core.picture.terrain import terrain
from elvatch.core.rules.evidence import Evidence
from tests.conftest import layer, plane, recipe
from tests.core.test_cover import SETS, any_layer

GROUND = plane(30, 70)
AT = places.on_grid(survey(GROUND), 40, 40, 0, 40)


def asked(layers: tuple[Layer, ...], evidence: Evidence, memory: Memory | None) -> Material:
    prepared = plan.prepare(layers, SETS, evidence)
    memo = memory.memo(plan.names(layers, prepared, evidence)) if memory else None
    return function.ask(prepared, AT, memo=memo)


@given(st.lists(st.lists(any_layer, min_size=1, max_size=5), min_size=2, max_size=5), st.data())
@settings(max_examples=25)
def test_after_any_edits_the_answer_is_that_of_a_cold_start(columns: list[list[Layer]], data: st.DataObject) -> None:
    memory = Memory(len(AT.x_m))
    evidence = Evidence(100.0, 100.0)
    for column in columns:
        # layers stay, go and come back as an artist's do
        layers = tuple(one.model_copy(update={"id": f"layer{k}"}) for k, one in enumerate(column))
        order = data.draw(st.permutations(range(len(layers))))
        layers = tuple(layers[k] for k in order)
        for kept, fresh in zip(asked(layers, evidence, memory), asked(layers, evidence, None), strict=True):
            np.testing.assert_array_equal(kept, fresh)


def test_a_path_that_moves_and_a_layer_that_is_asked_for_are_noticed() -> None:
    lane = Rule(clauses=(OnPath(path="lane", called="Lane"),))
    low = layer("low", 1, lane)
    top = layer("top", 2, Rule(clauses=(OnLayer(layer=low.id, called="low", join="except"),)))
    layers = (layer("base", 0), low.model_copy(update={"on": False}), top)
    memory = Memory(len(AT.x_m))
    for north in (30.0, 70.0):
        points = tuple(PathPoint(east_m=x, north_m=north) for x in (0.0, 100.0))
        path = DrawnPath(id="lane", name="Lane", points=points, width_m=20, wobble_m=0)
        evidence = Evidence(100.0, 100.0, marks=Marks(paths=(path,)))
        found = asked(layers, evidence, memory).shares[:, 1].reshape(40, 40)
        row = int((100 - north) / 100 * 40)
        assert found[row].max() == 0
        assert found[39 - row].min() == 1


def test_one_layer_alone_lies_over_plain_grey_by_its_own_rule() -> None:
    land = terrain(GROUND)
    layers = (layer("base", 4), layer("top", 0, Rule(clauses=(OnPath(path="gone", called="x", opposite=True),))))
    site = recipe(layers, GROUND)
    view = View("far", 90, 60, 1, "colour")
    renderer = Renderer()
    all_of_it = renderer.take(land, site, SETS, view).pixels
    alone = renderer.take(land, site, SETS, View("far", 90, 60, 1, "colour", solo=0)).pixels
    np.testing.assert_array_equal(renderer.take(land, site, SETS, view).pixels, all_of_it)
    # the base's 0.5 instead of the top's 0.1
    assert alone[30, 45].mean() > all_of_it[30, 45].mean() + 60


@given(st.integers(1, 6), st.lists(st.lists(st.sampled_from("abcdefgh"), unique=True, max_size=6), max_size=8))
def test_no_two_names_have_one_slot_and_what_stays_is_not_asked_anew(count: int, calls: list[list[str]]) -> None:
    slots = _Slots(count)
    of: dict[int, str] = {}
    for names in calls:
        found, fresh = slots.take(names)
        used = [slot for slot in found if slot >= 0]
        assert len(set(used)) == len(used) == min(count, len(names))
        for name, slot in zip(names, found, strict=True):
            # a slot that is not said to be new holds what this very name put there
            if slot >= 0 and slot not in fresh:
                assert of[slot] == name
        of |= {slot: name for name, slot in zip(names, found, strict=True) if slot >= 0}
        again, none = slots.take(names)
        assert (again, none) == (found, [])
