"""Wear in the column: on which layer each stands, and what holds for every strength and every limit."""

from __future__ import annotations

import numpy as np
from hypothesis import given, settings
from hypothesis import strategies as st

from elvatch.core import blend
from elvatch.core.cover import alone, function, plan
from elvatch.core.document.layer import Layer
from elvatch.core.document.wear import Blend, ByRelief, Effects, Wear
from elvatch.core.wear import wear_plan
from tests.conftest import NAMES, layer, plane
from tests.core.test_wear import asked, cracked, even, evidence_of, grid, sheet_of, wear

MUD = {NAMES[0]: cracked()}
NOISY = sheet_of(np.random.default_rng(3).random((64, 64)))

columns = st.lists(st.booleans(), min_size=1, max_size=6).map(
    lambda on: [layer(f"l{k}", k % 5, on=shown).model_copy(update={"id": f"layer{k}"}) for k, shown in enumerate(on)]
)
places_in = st.tuples(st.sampled_from([None, "layer0", "layer1", "layer3", "layer5", "gone"]), st.booleans())
wears_in = st.lists(places_in, max_size=6).map(
    lambda made: [wear(f"wear{k}", place=place, on=on) for k, (place, on) in enumerate(made)]
)


@given(columns, wears_in)
def test_a_wear_stands_on_its_layer_or_the_next_below_that_is_shown(layers: list[Layer], wears: list[Wear]) -> None:
    shown = [k for k, one in enumerate(layers) if one.on]
    positions = [shown.index(k) if k in shown else -1 for k in range(len(layers))]
    fitted = wear_plan.fit_in(wears, layers, positions)
    ids = [one.id for one in layers]
    for one, position in zip(wears, fitted.positions, strict=True):
        named = ids.index(one.place) if one.place in ids else len(layers) - 1
        below = [k for k in shown if k <= named]
        if not one.on or not below:
            assert position == -1
            continue
        assert fitted.wears[position] is one
        assert shown[fitted.places[position]] == below[-1]
    # from the bottom up; on one layer they keep their order
    stand = [(place, wears.index(one)) for place, one in zip(fitted.places, fitted.wears, strict=True)]
    assert stand == sorted(stand)


@given(st.sampled_from(list(blend.MODES)), st.floats(0.01, 1), st.floats(0.05, 1))
@settings(max_examples=25)
def test_a_strength_goes_that_part_of_the_way(mode: str, strength: float, effect: float) -> None:
    at = grid(plane(10, 40))
    does = Effects(roughness=Blend.model_validate({"mode": mode, "strength": effect, "towards": 0.3}))
    before = asked((), {}, at).roughness
    whole = asked((wear(effects=does),), {"wear": NOISY}, at).roughness
    part = asked((wear(effects=does, strength=strength),), {"wear": NOISY}, at).roughness
    # what is kept within the limits of roughness does not scale
    free = (whole > 0.0301) & (whole < 0.9999)
    np.testing.assert_allclose((part - before)[free], strength * (whole - before)[free], atol=2e-5)


@given(st.floats(0.2, 0.8), st.floats(0.02, 0.5), st.integers(20, 400))
@settings(max_examples=25)
def test_what_is_not_in_hollows_is_on_raised_parts(level: float, soft: float, px: int) -> None:
    at = grid(plane(15, 60, size_m=3.0), px)
    masks = []
    for where in ("hollows", "raised"):
        one = wear(by_relief=ByRelief.model_validate({"where": where, "level": level, "soft": soft}))
        prepared = plan.prepare((layer("mud", 0),), MUD, evidence_of({"wear": even(1.0)}), wears=(one,))
        masks.append(alone.mask(prepared, 0, at, function.ask(prepared, at)))
    np.testing.assert_allclose(masks[0] + masks[1], 1.0, atol=1e-5)
    assert masks[0].min() >= 0


def test_a_wear_between_layers_is_covered_by_those_above() -> None:
    at = grid(plane(10, 40))
    layers = (layer("base", 1), layer("top", 2))
    does = Effects(roughness=Blend(mode="replace", strength=1.0, towards=0.05))
    under = asked((wear(effects=does, place=layers[0].id),), {"wear": even(1.0)}, at, layers)
    np.testing.assert_array_equal(under.roughness, asked((), {}, at, layers).roughness)
    over = asked((wear(effects=does),), {"wear": even(1.0)}, at, layers)
    np.testing.assert_allclose(over.roughness, 0.05, atol=1e-5)


def test_the_mask_of_a_wear_without_effects_shows_where_it_would_be() -> None:
    at = grid(plane(10, 40))
    way = ByRelief(where="hollows", level=0.6, soft=0.4)
    masks = []
    for does in (Effects(), Effects(roughness=Blend(strength=0.5))):
        one = wear(by_relief=way, effects=does, strength=0.5)
        prepared = plan.prepare((layer("mud", 0),), MUD, evidence_of({"wear": even(1.0)}), wears=(one,))
        masks.append(alone.mask(prepared, 0, at, function.ask(prepared, at)))
    np.testing.assert_array_equal(masks[0], masks[1])
    assert 0 < masks[0].mean() < 0.5
