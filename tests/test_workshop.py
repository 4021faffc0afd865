"""Operations on sites: what is computed once, what is said of layers that cover nothing, transects, probes."""

from __future__ import annotations

import io
import time
from typing import Any

import numpy as np
import pytest

from elvatch.app.workshop import Workshop
from elvatch.core.cover import function, plan
from elvatch.core.document.fit import Fit
from elvatch.core.document.layer import Layer, Look
from elvatch.core.document.recipe import Peg, Recipe
from elvatch.core.document.rule import OnLayer, OnNoise, Rule, on
from elvatch.core.document.wear import Made, Wear
from elvatch.core.ground import horizon
from elvatch.core.ground.clauses import between
from elvatch.core.ground.description import FlatSource, Ground
from elvatch.core.ground.steps.form import FormStep
from elvatch.core.picture.picture import View
from elvatch.core.rules import account
from elvatch.core.stock.overlays import OVERLAYS
from tests.conftest import file_ground, layer, plane, put_set


def laid(workshop: Workshop, *rules: Rule, **parts: object) -> Recipe:
    """A slope of 20 degrees rising northwards, a base layer and one more for each rule."""
    stream = io.BytesIO()
    np.save(stream, plane(20, 0).heights_m)
    kept = put_set(workshop.store)
    base = layer("base", 0).model_copy(update={"set": kept})
    uppers = [
        Layer.model_validate(base.model_dump() | {"id": f"upper{k}", "name": f"upper {k}", "rule": rule} | parts)
        for k, rule in enumerate(rules)
    ]
    ground = file_ground(plane(20, 0), workshop.store.files.put(stream.getvalue()))
    return workshop.sites.new_recipe(ground).model_copy(update={"layers": (base, *uppers)})


@pytest.mark.parametrize(
    ("rule", "parts", "reason"),
    [
        (Rule(clauses=(on(between("slope", lower=70)),)), {}, "nothing here is steeper than 70°"),
        (Rule(clauses=(on(between("elevation", lower=500)),)), {}, "nothing here is above 500 m"),
        (Rule(clauses=(on(between("elevation", upper=-500)),)), {}, "nothing here is below -500 m"),
        (Rule(), {"on": False}, "it is hidden"),
        (Rule(), {"opacity": 0.0}, "its opacity is 0"),
        (Rule(clauses=(on(between("slope", lower=70)),)), {"opacity": 0.5}, "nothing here is steeper than 70°"),
        (Rule(clauses=(on(between("slope", upper=5, soft_upper=0)),)), {}, "nothing here is gentler than 5°"),
        (Rule(clauses=(on(between("slope", lower=10)),)), {}, None),
    ],
)
def test_a_layer_that_covers_nothing_says_why(
    workshop: Workshop, rule: Rule, parts: dict[str, object], reason: str | None
) -> None:
    facts = workshop.covers.facts(laid(workshop, rule, **parts))
    assert facts.reasons == [None if reason else facts.reasons[0], reason]
    assert (facts.shares[1] == 0) is (reason is not None)


def test_shares_are_of_the_whole_ground(workshop: Workshop) -> None:
    upper_half = Rule(clauses=(on(between("elevation", lower=50, soft_lower=0)),))
    facts = workshop.covers.facts(laid(workshop, upper_half))
    assert facts.shares == pytest.approx([0.5, 0.5], abs=0.01)
    assert facts.densities == [64.0, 64.0], "64 pixels over a tile of 1 m"
    chart = workshop.covers.chart(laid(workshop, upper_half), "slope", "elevation")
    assert chart.counts.sum() == 65 * 65
    assert chart.across_edges[-1] == pytest.approx(20, abs=0.01)


def test_the_transect_runs_from_edge_to_edge_through_the_peg(workshop: Workshop) -> None:
    recipe = laid(workshop, Rule(clauses=(on(between("elevation", lower=50, soft_lower=0)),)))
    north = workshop.covers.transect(recipe, 0)
    assert north.distance_m[-1] == pytest.approx(100)
    assert north.peg_at_m == pytest.approx(50)
    wanted = 50 + (north.distance_m - 50) * np.tan(np.radians(20))
    np.testing.assert_allclose(north.elevation_m, wanted, atol=0.01)
    assert (north.layer[north.distance_m < 49] == 0).all()
    assert (north.layer[north.distance_m > 51] == 1).all()
    diagonal = workshop.covers.transect(recipe, 45)
    assert diagonal.distance_m[-1] == pytest.approx(100 * np.sqrt(2))
    assert np.ptp(workshop.covers.transect(recipe, 90).elevation_m) < 0.01


def test_a_probe_agrees_with_the_slope(workshop: Workshop) -> None:
    found = workshop.covers.place(laid(workshop), 30.0, 70.0)
    assert found.slope_deg == pytest.approx(20, abs=0.01)
    assert found.elevation_m == pytest.approx(50 + 20 * np.tan(np.radians(20)), abs=0.01)


def test_the_ground_is_measured_once(workshop: Workshop, monkeypatch: pytest.MonkeyPatch) -> None:
    calls: list[int] = []
    sky_view = horizon.sky_view

    def counted(*given: Any) -> Any:
        calls.append(1)
        return sky_view(*given)

    monkeypatch.setattr(horizon, "sky_view", counted)
    recipe = laid(workshop)
    for stand in ("far", "mid", "near"):
        workshop.pictures.png(recipe, View(stand, 32, 32, 1))
    workshop.covers.facts(recipe)
    assert calls == [1]


def test_a_small_ground_gets_stands_that_fit_it(workshop: Workshop) -> None:
    recipe = laid(workshop)
    assert recipe.stands.far.distance_m == pytest.approx(105)
    assert recipe.stands.mid.distance_m <= 40
    assert (recipe.peg.east_m, recipe.peg.north_m) == (50, 50)


def test_tidying_clears_partial_hand_offs_only(workshop: Workshop) -> None:
    folder = workshop.handoffs.folder
    (folder / ".part-xyz").mkdir(parents=True)
    (folder / ".part-xyz" / "half.png").write_bytes(b"half")
    (folder / "done").mkdir()
    workshop.tidy()
    assert [p.name for p in folder.iterdir()] == ["done"]


def test_figures_of_as_many_layers_and_wears_as_there_may_be_come_quickly(workshop: Workshop) -> None:
    sets = [put_set(workshop.store, 0.1 * (k + 1), f"set {k}") for k in range(8)]
    rules = (
        Rule(clauses=(on(between("slope", lower=89.0)), OnNoise())),
        Rule(clauses=(on(between("elevation", upper=-9.0)),)),
        Rule(clauses=(OnLayer(layer="layer001", called="x"), OnNoise(join="break-up"))),
        Rule(clauses=(on(between("wetness", lower=40.0)), on(between("openness", upper=1.0), "or"))),
    )
    layers = tuple(
        Layer(id=f"layer{k:03d}", name=f"layer {k}", set=sets[k % 8], rule=rules[k % 4], fit=Fit(relief_m=0.1))
        for k in range(64)
    )
    kinds = list(OVERLAYS)
    hills = FormStep(id="hills", name="hills", size_m=120, height_m=40)
    ground = Ground(width_m=300, depth_m=300, source=FlatSource(samples=129), steps=(hills,))
    plain = Recipe(ground=ground, layers=layers, peg=Peg(east_m=150, north_m=150))
    wears = tuple(
        Wear(id=f"wear{k:03d}", name=f"wear {k}", source=Made(what=kinds[k % len(kinds)], seed=k)) for k in range(32)
    )
    whole = plain.model_copy(update={"wears": wears})
    for wear in wears:
        workshop.wears.sheets.sheet(wear, quick=False)
    # what is drawn once or compiled at first use is no part of it
    workshop.covers.facts(plain.model_copy(update={"wears": wears[:2]}))
    at = workshop.covers.spread(workshop.grounds.land(ground))
    began = time.perf_counter()
    function.ask(plan.prepare(layers, workshop.store.stock, workshop.covers.evidence(whole), wears=wears), at)
    asked = time.perf_counter()
    facts = workshop.covers.facts(whole)
    # beside the cover itself the reasons for layers that lie nowhere are little: twice as long, alone
    assert time.perf_counter() - asked < 8.0 * (asked - began)
    assert len(facts.shares) == 64
    assert sum(facts.shares) == pytest.approx(1.0, abs=1e-4)
    assert all(
        (reason is None) == (share >= account.LEAST_SHARE)
        for share, reason in zip(facts.shares, facts.reasons, strict=True)
    )


def test_pictures_asked_for_together_are_those_asked_for_one_by_one(workshop: Workshop) -> None:
    recipe = laid(workshop, Rule(), look=Look(brightness=0.5, variation=0))
    views = [View("far", 48, 40, 1), View("near", 48, 40, 1, solo=0), View("far", 48, 40, 1, solo=0)]
    one_by_one = [Workshop(workshop.store).pictures.take(recipe, view).pixels for view in views]
    together = workshop.pictures.several(recipe, views)
    assert all(np.array_equal(one, other.pixels) for one, other in zip(one_by_one, together, strict=True))
    assert not np.array_equal(one_by_one[0], one_by_one[2])


def test_a_picture_that_rested_before_is_not_made_again_and_no_other_is_taken_for_it(workshop: Workshop) -> None:
    recipe, view = laid(workshop), View("far", 64, 48)
    first = workshop.pictures.take(recipe, view)
    assert workshop.pictures.take(recipe.model_copy(), view) is first
    light = recipe.light
    others = [
        recipe.model_copy(update={"light": light.model_copy(update={"sun_height_deg": light.sun_height_deg / 2})}),
        recipe.model_copy(
            update={
                "layers": (
                    recipe.layers[0].model_copy(
                        update={"look": recipe.layers[0].look.model_copy(update={"brightness": 0.5})}
                    ),
                    *recipe.layers[1:],
                )
            }
        ),
        recipe.model_copy(
            update={
                "stands": recipe.stands.model_copy(
                    update={"far": recipe.stands.far.model_copy(update={"bearing_deg": 180.0})}
                )
            }
        ),
        recipe.model_copy(update={"water": recipe.water.model_copy(update={"on": True, "level_m": 55.0})}),
    ]
    taken = [workshop.pictures.take(other, view).pixels for other in others]
    assert [bool((first.pixels != pixels).any()) for pixels in taken] == [True] * 4
