"""A wear's strength dragged, and what eight wears over eight layers cost."""

from __future__ import annotations

from collections.abc import Iterator
from functools import partial

import numpy as np

from benchmarks.dragging import dragged, views
from benchmarks.fitting import seen_from_far
from benchmarks.measure import Line, best_of, seconds
from benchmarks.scale import Scale, demo
from elvatch.app.workshop import Workshop
from elvatch.core.cover import function
from elvatch.core.document.recipe import Recipe
from elvatch.core.document.wear import Made, Wear

EIGHT = ("smears", "runs", "scratches", "scuffs", "cracks", "film", "bloom", "damp")


def _eight(workshop: Workshop, recipe: Recipe) -> tuple[Wear, ...]:
    """Eight wears of eight kinds, as each begins, but everywhere."""
    made = [workshop.wears.of_kind(recipe, f"wear{what}", what) for what in EIGHT]
    return tuple(wear.model_copy(update={"rule": recipe.layers[0].rule}) for wear in made)


def _with(recipe: Recipe, which: int, strength: float) -> Recipe:
    wears = list(recipe.wears)
    wears[which] = wears[which].model_copy(update={"strength": strength})
    return recipe.model_copy(update={"wears": tuple(wears)})


def _dragging(workshop: Workshop, recipe: Recipe, scale: Scale) -> Iterator[Line]:
    which = next(k for k, wear in enumerate(recipe.wears) if wear.effects.relief is None)

    def moved(turn: int) -> Recipe:
        return _with(recipe, which, 0.9 - 0.05 * turn)

    return dragged(workshop, recipe, moved, "a wear's strength dragged", scale, f"{recipe.wears[which].name}, ")


def _drawing(workshop: Workshop, recipe: Recipe, scale: Scale) -> Iterator[Line]:
    """A number that cracks are drawn by, dragged: drawn small while it moves, against drawn in full each time."""
    cracks = workshop.wears.of_kind(recipe, "cracks", "cracks")
    assert isinstance(cracks.source, Made)

    def spaced(spacing: float) -> Recipe:
        source = cracks.source.model_copy(update={"controls": {"spacing": spacing}})
        return recipe.model_copy(update={"wears": (*recipe.wears, cracks.model_copy(update={"source": source}))})

    def take(wanted: Recipe, whole: bool) -> list[bytes]:
        if whole:
            workshop.wears.sheets.codes(wanted.wears[-1].source)
        return [workshop.pictures.png(wanted, view)[0] for view in views(1, scale)]

    take(spaced(40.0), whole=True)
    small = [seconds(partial(take, spaced(60.0 + k), whole=False)) for k in range(scale.times(5))]
    in_full = [seconds(partial(take, spaced(70.0 + k), whole=True)) for k in range(scale.times(5))]
    # once it was drawn in full, what was drawn small on the way leaves nothing behind
    if take(spaced(60.0), whole=True) != [
        Workshop(workshop.store).pictures.png(spaced(60.0), v)[0] for v in views(1, scale)
    ]:
        raise AssertionError("a drawing that was tuned gives another picture than one that was not")
    note = f"three pictures, {np.median(small) * 1000:.0f} ms against {np.median(in_full) * 1000:.0f} ms"
    yield Line(
        "a number of a drawing dragged, times faster than drawn in full",
        float(np.median(in_full) / np.median(small)),
        3.0,
        "x",
        True,
        note,
    )


def _over_eight(workshop: Workshop, recipe: Recipe, scale: Scale) -> Iterator[Line]:
    """What Far asks of the cover, with eight wears and without, asked anew."""
    layers = tuple(layer for layer in recipe.layers if layer.id not in ("tyresilt", "peat"))[-8:]
    bare = recipe.model_copy(update={"layers": layers, "wears": ()})
    worn = bare.model_copy(update={"wears": _eight(workshop, bare)})
    at = seen_from_far(workshop, bare, scale)
    plans = [workshop.covers.prepared(one) for one in (bare, worn)]
    off = worn.model_copy(update={"wears": tuple(w.model_copy(update={"strength": 0.0}) for w in worn.wears)})
    for plain, none in zip(function.ask(plans[0], at), function.ask(workshop.covers.prepared(off), at), strict=True):
        if not np.array_equal(plain, none):
            raise AssertionError("wear without strength changes what is seen")
    alone, beside = best_of(scale.times(7), lambda: function.ask(plans[0], at), lambda: function.ask(plans[1], at))
    note = f"{len(at.x_m)} places, {alone * 1000:.0f} ms; with eight wears that lie everywhere {beside * 1000:.0f} ms"
    yield Line(
        "eight wears over eight layers at Far, times eight layers alone", beside / alone, 2.0, "x", False, note
    )


def run(scale: Scale) -> Iterator[Line]:
    """Yield one line a measurement."""
    workshop, recipe = demo(scale)
    yield from _dragging(workshop, recipe, scale)
    yield from _drawing(workshop, recipe, scale)
    yield from _over_eight(workshop, recipe, scale)
