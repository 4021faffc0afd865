"""What a hand changes is told by place: the recipe that comes out is the one that would have been sent whole."""

from __future__ import annotations

import json
from typing import Any

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from elvatch.core.document import recipe as r
from elvatch.core.document.change import Put, changed
from elvatch.core.document.layer import Edge
from elvatch.core.document.rule import OnLayer, OnNoise, Rule
from elvatch.core.ground.steps.form import FormStep
from elvatch.core.ground.steps.settle import SettleStep
from elvatch.core.refusal import RefusalError
from tests.conftest import layer, recipe
from tests.core.test_wear import wear

_SITE = recipe((layer("low", 0), layer("top", 1, Rule(clauses=(OnNoise(), OnNoise(size_m=3))))))
_STEPS = (FormStep(id="first1", name="Hills"), SettleStep(id="second2", name="Scree", strength=0.5))
SITE = _SITE.model_copy(
    update={"wears": (wear("dust"),), "ground": _SITE.ground.model_copy(update={"steps": _STEPS})}
)
DATA: dict[str, Any] = json.loads(r.write(SITE))

_SOME = [
    (("layers", 1, "rule", "clauses", 1, "size_m"), st.floats(0.1, 100)),
    (("layers", 1, "rule", "clauses"), st.just([])),
    (("layers", 0, "fit", "tile_m"), st.floats(0.5, 50)),
    (("layers", 0, "look"), st.builds(lambda b: DATA["layers"][0]["look"] | {"brightness": b}, st.floats(0.2, 3))),
    (("layers", 0, "edge"), st.just(Edge(kind="fade").model_dump())),
    (("wears", 0, "strength"), st.floats(0, 1)),
    (("light", "sun_bearing_deg"), st.floats(0, 360)),
    (("stands", "far", "tilt_deg"), st.floats(0, 80)),
    (("peg", "east_m"), st.floats(0, 100)),
    (("ground", "steps", 1, "strength"), st.floats(0, 1)),
    (("ground", "steps", 0, "name"), st.text(max_size=3)),
    (("ground", "steps", 1, "id"), st.sampled_from(["first1", "other2"])),
    (("ground", "steps"), st.builds(lambda n: DATA["ground"]["steps"][:n], st.integers(0, 2))),
    (("ground", "width_m"), st.floats(50, 200)),
    (("marks",), st.just({"masks": [], "paths": [], "images": []})),
    (("layers",), st.just(DATA["layers"][:1])),
    (("wears",), st.just([])),
    (("layers",), st.just([])),
    (("strews",), st.just([])),
]
_PUTS = st.lists(
    st.sampled_from(_SOME).flatmap(lambda one: st.builds(Put, at=st.just(one[0]), put=one[1])), max_size=4
)


def _whole(puts: list[Put]) -> dict[str, Any]:
    """The same by plain dictionaries."""
    data: Any = json.loads(json.dumps(DATA))
    for one in puts:
        inside = data
        for name in one.at[:-1]:
            inside = inside[name]
        inside[one.at[-1]] = json.loads(json.dumps(one.put))
    return dict(data)


@given(_PUTS)
@settings(max_examples=150, deadline=None)
def test_changes_make_the_recipe_that_would_be_sent_whole(puts: list[Put]) -> None:
    try:
        expected: r.Recipe | None = r.from_data(_whole(puts))
    except (RefusalError, IndexError):
        expected = None
    if expected is None:
        with pytest.raises(RefusalError):
            changed(SITE, puts)
        return
    made = changed(SITE, puts)
    assert json.loads(r.write(made)) == json.loads(r.write(expected)), [(one.at, one.put) for one in puts]
    if not any(one.at[:2] == ("layers", 0) or len(one.at) == 1 for one in puts):
        # what was not touched is the same, so that what is kept for it is found again
        assert made.layers[0] is SITE.layers[0]


@pytest.mark.parametrize(
    ("at", "put"),
    [
        (("layers", 2, "opacity"), 0.5),
        (("layers", -1, "opacity"), 0.5),
        (("layers", 0, "colour"), 1),
        (("layers", 0, "opacity"), 7),
        (("layers", 0, "opacity"), float("nan")),
        (("layers", "0", "opacity"), 0.5),
        (("nothing",), 1),
        (("peg", "east_m"), 5000.0),
        (("layers", 0, "rule", "clauses"), [json.loads(OnNoise().model_dump_json())] * 99_999),
        (("version",), 99),
        (("light",), "bright"),
        (("light", "sun_bearing_deg", "deep"), 1),
        (("layers", 0, "look"), json.loads("[" * 900 + "]" * 900)),
    ],
)
def test_what_does_not_fit_is_refused_with_a_sentence(at: tuple[str | int, ...], put: Any) -> None:
    with pytest.raises(RefusalError):
        changed(SITE, [Put(at=at, put=put)])


def test_layers_that_would_ask_for_each_other_are_refused() -> None:
    ask = [json.loads(OnLayer(layer=SITE.layers[k].id, called="x").model_dump_json()) for k in (1, 0)]
    puts = [Put(at=("layers", k, "rule", "clauses"), put=[ask[k]]) for k in (0, 1)]
    with pytest.raises(RefusalError, match="circle"):
        changed(SITE, puts)
