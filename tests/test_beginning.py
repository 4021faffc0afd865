"""How covers begin: on ten made grounds of different kinds, on one that water made, and on a slab."""

from __future__ import annotations

import io
from collections.abc import Callable

import numpy as np
import pytest
from numpy.typing import NDArray

from elvatch.app.workshop import Workshop
from elvatch.core import noise
from elvatch.core.document.begin_cover import Sized, rule_of
from elvatch.core.document.recipe import Recipe
from elvatch.core.ground.description import FlatSource, Ground
from elvatch.core.ground.heightfield import Heightfield
from elvatch.core.picture.picture import View
from elvatch.core.run import Run
from elvatch.demo import scenario, vellin_ground
from elvatch.store.store import Store
from tests.conftest import file_ground

N = 129
KINDS = ("moor-peat", "rough-grass", "wet-silt", "slate-scree", "slate-bedrock", "cast-concrete", "gravel-track")
_Y, _X = np.mgrid[0:N, 0:N] / (N - 1)


def hills(cells: int, gain: float, seed: int) -> NDArray[np.float32]:
    return noise.periodic(2 * N, cells, seed, 6, gain)[:N, :N]


# metres of height over a side of metres
GROUNDS: dict[str, tuple[float, Callable[[], NDArray[np.floating]]]] = {
    "hills": (2000, lambda: 150 * hills(4, 0.5, 1)),
    "ridges": (8000, lambda: 1400 * (1 - np.abs(hills(5, 0.5, 2)))),
    "plain": (3000, lambda: 6 * hills(3, 0.45, 3)),
    "dunes": (400, lambda: 9 * np.sin(_X * 40 + 6 * hills(3, 0.5, 4)) + 2 * hills(4, 0.5, 5)),
    "canyon": (1500, lambda: 180 * np.clip(np.abs(_X - 0.5 + 0.2 * hills(3, 0.5, 6)) * 6 - 0.2, 0, 1)),
    "cone": (4000, lambda: 900 * np.exp(-9 * ((_X - 0.5) ** 2 + (_Y - 0.5) ** 2)) + 20 * hills(9, 0.6, 8)),
    "crater": (600, lambda: 60 * np.clip(np.hypot(_X - 0.5, _Y - 0.5) * 4, 0, 1) ** 3 + 3 * hills(7, 0.6, 9)),
    "terraces": (900, lambda: 15 * np.round(6 * (_Y + 0.15 * hills(3, 0.5, 10))) + hills(20, 0.6, 11)),
    "slope": (500, lambda: 200 * _Y + 0.0 * _X),
    "mesa": (2500, lambda: 220 / (1 + np.exp(-14 * hills(3, 0.5, 12))) + 2 * hills(11, 0.6, 13)),
}


@pytest.fixture(scope="module")
def stocked(tmp_path_factory: pytest.TempPathFactory) -> Workshop:
    workshop = Workshop(Store(tmp_path_factory.mktemp("begun")))
    for kind in KINDS:
        workshop.sets.make(kind, 256, 3)
    return workshop


def begun(workshop: Workshop, heights: NDArray[np.floating], side_m: float) -> Recipe:
    stream = io.BytesIO()
    field = Heightfield(np.ascontiguousarray(heights, np.float32), side_m, side_m)
    np.save(stream, field.heights_m)
    return workshop.sites.new_recipe(file_ground(field, workshop.store.files.put(stream.getvalue())))


def check(workshop: Workshop, recipe: Recipe) -> list[float]:
    """No layer is nearly nothing or nearly everything, and from afar it is neither dark nor burnt out."""
    shares = workshop.covers.facts(recipe).shares
    named = dict(zip((layer.name for layer in recipe.layers), shares, strict=True))
    assert all(0.03 < share < 0.70 for share in shares), named
    seen = workshop.pictures.take(recipe, View("far", 160, 100, 1)).pixels
    light = seen.astype(float).mean() / 255
    assert 0.25 < light < 0.6, light
    return shares


@pytest.mark.parametrize("kind", GROUNDS)
def test_a_new_site_begins_as_a_place(stocked: Workshop, kind: str) -> None:
    side_m, heights = GROUNDS[kind]
    recipe = begun(stocked, heights(), side_m)
    assert len(check(stocked, recipe)) == 5
    assert all(layer.edge.fingers > 0 for layer in recipe.layers)


def test_a_valley_that_water_made_and_a_slab_begin_as_such(stocked: Workshop) -> None:
    valley = stocked.sites.new_recipe(vellin_ground.ground(257))
    assert len(check(stocked, valley)) == 5
    slab = stocked.sites.new_recipe(Ground(width_m=24, depth_m=16, source=FlatSource(samples=33)))
    assert slab.layers[0].name.startswith("Cast concrete")
    assert sum(stocked.covers.facts(slab).shares[1:]) < 0.5
    assert stocked.sites.new_recipe(slab.ground, empty=True).layers == ()


@pytest.mark.parametrize("kind", ["slate-bedrock", "wet-silt", "rough-grass", "slate-scree"])
def test_a_layer_laid_later_begins_where_such_material_lies(stocked: Workshop, kind: str) -> None:
    side_m, heights = GROUNDS["ridges"]
    recipe = begun(stocked, heights(), side_m)
    name = next(name for (made, _, _), name in stocked.store.stock.made().items() if made == kind)
    laid = stocked.beginning.layer(recipe, "later0", name)
    assert laid.layer.rule.clauses, "it says where it lies"
    assert 0.03 < laid.share < 0.70
    with_it = recipe.model_copy(update={"layers": (*recipe.layers, laid.layer)})
    assert stocked.covers.facts(with_it).shares[-1] == pytest.approx(laid.share, abs=1e-6)
    first = stocked.beginning.layer(recipe.model_copy(update={"layers": ()}), "later0", name)
    assert first.layer.rule.clauses == ()
    assert first.share == 1.0


def test_the_quarry_is_laid_out_from_scratch_and_again_under_another_name(stocked: Workshop) -> None:
    told: list[float] = []
    first = scenario.learn(stocked, Run(progress=told.append), set_px=64, samples=129)
    again = scenario.learn(stocked, Run(), set_px=64, samples=129)
    assert (first.title, again.title) == ("Hallin Delph", "Hallin Delph 2")
    assert told == sorted(told)
    assert told[-1] > 0.9
    recipe = first.recipe
    heights = stocked.grounds.land(recipe.ground).ground.heights_m
    assert heights.max() - heights.min() > 25, "benches, a sump and tips"
    shares = dict(zip((layer.id for layer in recipe.layers), stocked.covers.facts(recipe).shares, strict=True))
    assert all(share > 0.004 for share in shares.values()), shares
    assert [snapshot.name for snapshot in stocked.store.snapshots.all(first.id)] == ["Clean", "Worn in"]


def test_of_a_vast_ground_it_is_not_asked_where_water_gathers() -> None:
    asked: list[str] = []

    def quantile(measure: str, share: float) -> float:
        asked.append(measure)
        return 90 * share

    for vast, measure in ((False, "wetness"), (True, "elevation")):
        asked.clear()
        rule = rule_of("wet", Sized(quantile, 9000.0, vast=vast))
        assert getattr(rule.clauses[0], "measure", "") == measure
        assert ("wetness" in asked) is not vast
