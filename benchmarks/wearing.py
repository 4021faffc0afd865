"""A wear's strength dragged, and what eight wears over eight layers cost."""

from __future__ import annotations

import tempfile
from collections.abc import Iterator
from pathlib import Path

import numpy as np

from benchmarks.dragging import dragged
from benchmarks.fitting import seen_from_far
from benchmarks.measure import Line, best_of
from elvatch.core.cover import function
from elvatch.core.cover.recipe import Recipe
from elvatch.core.cover.wear import Wear
from elvatch.demo import scenario
from elvatch.store.store import Store
from elvatch.workshop import Workshop

EIGHT = ("smears", "runs", "scratches", "scuffs", "cracks", "film", "bloom", "damp")


def _eight(workshop: Workshop, recipe: Recipe) -> tuple[Wear, ...]:
    """Eight wears of eight kinds, as each begins, but everywhere."""
    made = [workshop.wears.of_kind(recipe, f"wear{what}", what) for what in EIGHT]
    return tuple(wear.model_copy(update={"rule": recipe.layers[0].rule}) for wear in made)


def _with(recipe: Recipe, which: int, strength: float) -> Recipe:
    wears = list(recipe.wears)
    wears[which] = wears[which].model_copy(update={"strength": strength})
    return recipe.model_copy(update={"wears": tuple(wears)})


def _dragging(workshop: Workshop, recipe: Recipe) -> Iterator[Line]:
    which = next(k for k, wear in enumerate(recipe.wears) if wear.effects.relief is None)

    def moved(turn: int) -> Recipe:
        return _with(recipe, which, 0.9 - 0.05 * turn)

    return dragged(workshop, recipe, moved, "a wear's strength dragged", f"{recipe.wears[which].name}, ")


def _over_eight(workshop: Workshop, recipe: Recipe) -> Iterator[Line]:
    """What Far asks of the cover, with eight wears and without, asked anew."""
    layers = tuple(layer for layer in recipe.layers if layer.id not in ("tyresilt", "peat"))[-8:]
    bare = recipe.model_copy(update={"layers": layers, "wears": ()})
    worn = bare.model_copy(update={"wears": _eight(workshop, bare)})
    at = seen_from_far(workshop, bare)
    plans = [workshop.covers.prepared(one) for one in (bare, worn)]
    off = worn.model_copy(update={"wears": tuple(w.model_copy(update={"strength": 0.0}) for w in worn.wears)})
    for plain, none in zip(function.ask(plans[0], at), function.ask(workshop.covers.prepared(off), at), strict=True):
        if not np.array_equal(plain, none):
            raise AssertionError("wear without strength changes what is seen")
    alone, beside = best_of(7, lambda: function.ask(plans[0], at), lambda: function.ask(plans[1], at))
    note = f"{len(at.x_m)} places, {alone * 1000:.0f} ms; with eight wears that lie everywhere {beside * 1000:.0f} ms"
    yield Line(
        "eight wears over eight layers at Far, times eight layers alone", beside / alone, 2.0, "x", False, note
    )


def run() -> Iterator[Line]:
    """Yield one line a measurement."""
    with tempfile.TemporaryDirectory() as folder:
        workshop = Workshop(Store(Path(folder)))
        site = scenario.lay_out(workshop, lambda _: None, set_px=512)
        recipe = workshop.store.sites.state(site).recipe
        yield from _dragging(workshop, recipe)
        yield from _over_eight(workshop, recipe)
