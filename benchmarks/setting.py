"""The cover of a thing set by hand edited, seen in all three pictures."""

from __future__ import annotations

from collections.abc import Iterator

from benchmarks.dragging import dragged
from benchmarks.measure import Line
from benchmarks.scale import Scale, demo
from elvatch.app.workshop import Workshop
from elvatch.core.document.recipe import Peg, Recipe
from elvatch.demo import scenario, split_boulder

_MARKS_MS = (80.0, 300.0)


def _boulder(workshop: Workshop, recipe: Recipe) -> Recipe:
    """The demo's split boulder with its cover, the peg beside it."""
    sets = {kind: name for (kind, seed, _), name in workshop.store.stock.made().items() if seed == scenario.SEED}
    stands = split_boulder.standing()
    peg = Peg(east_m=stands.east_m + 2.6, north_m=stands.north_m)
    return recipe.model_copy(
        update={"things": (split_boulder.thing(sets),), "strews": (), "set_things": (stands,), "peg": peg}
    )


def _mossed(recipe: Recipe, turn: int) -> Recipe:
    """The same with its moss reaching further round."""
    (thing,) = recipe.things
    *below, moss, silt = thing.cover.layers
    first, *rest = moss.rule.clauses
    rule = moss.rule.model_copy(update={"clauses": (first.model_copy(update={"upper": 38.0 + turn}), *rest)})
    cover = thing.cover.model_copy(update={"layers": (*below, moss.model_copy(update={"rule": rule}), silt)})
    return recipe.model_copy(update={"things": (thing.model_copy(update={"cover": cover}),)})


def run(scale: Scale) -> Iterator[Line]:
    """Yield how long one step of dragging a rule of a thing's cover takes."""
    workshop, recipe = demo(scale)
    covered = _boulder(workshop, recipe)
    name = "a rule of a set thing's cover dragged"
    yield from dragged(workshop, covered, lambda turn: _mossed(covered, turn), name, scale, marks_ms=_MARKS_MS)
