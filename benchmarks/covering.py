"""A clause dragged among eight layers, a stroke drawn on the ground, and rules against NumPy."""

from __future__ import annotations

from collections.abc import Iterator
from functools import partial

import numpy as np
from numpy.typing import NDArray

from benchmarks.dragging import LOOKS, MARKS_MS, dragged, line, views
from benchmarks.measure import Line, best_of, seconds
from benchmarks.scale import Scale, demo
from elvatch.app.pictures import Besides
from elvatch.app.workshop import Workshop
from elvatch.core.cover import function
from elvatch.core.cover.material import Material
from elvatch.core.document.marks import MaskStroke, StrokeAt
from elvatch.core.document.recipe import Recipe
from elvatch.core.document.rule import OnMeasure, Rule, on
from elvatch.core.ground import places
from elvatch.core.ground.clauses import between
from elvatch.core.ground.heightfield import Heightfield
from elvatch.core.ground.measures import Measures
from elvatch.core.ground.shaped import Shaped
from elvatch.core.ground.survey import survey
from elvatch.core.rules import rules
from elvatch.core.rules.evidence import Evidence
from elvatch.core.rules.program import compiled
from elvatch.demo import vellin_cover

Map = NDArray[np.float32]


def _limited(recipe: Recipe, layer: int, lower: float) -> Recipe:
    """The recipe with the first clause of a layer at another limit."""
    one = recipe.layers[layer]
    first, *rest = one.rule.clauses
    rule = Rule(clauses=(first.model_copy(update={"lower": lower}), *rest))
    layers = list(recipe.layers)
    layers[layer] = one.model_copy(update={"rule": rule})
    return recipe.model_copy(update={"layers": tuple(layers)})


def _dragging(workshop: Workshop, recipe: Recipe, scale: Scale) -> Iterator[Line]:
    bedrock = next(k for k, layer in enumerate(recipe.layers) if layer.id == "bedrock")
    name = "a clause of one of eight layers dragged"
    return dragged(workshop, recipe, lambda turn: _limited(recipe, bedrock, 30.0 - turn), name, scale)


def _nowhere(workshop: Workshop, recipe: Recipe, scale: Scale) -> Iterator[Line]:
    """Layers that lie nowhere on this ground must not be felt."""
    bedrock = next(layer for layer in recipe.layers if layer.id == "bedrock")
    steep = Rule(clauses=(on(between("slope", 88.0, None, 1.0)),))
    none = tuple(
        bedrock.model_copy(update={"id": f"nowhere{k}", "name": f"nowhere {k}", "rule": steep}) for k in range(20)
    )
    land = workshop.grounds.land(recipe.ground)
    more = recipe.model_copy(update={"layers": recipe.layers + none})
    at = workshop.covers.spread(land)

    def ask(wanted: Recipe) -> Material:
        return function.ask(workshop.covers.prepared(wanted), at)

    plain, other = ask(recipe), ask(more)
    for name in Material._fields:
        # shares have a column for each layer
        if name != "shares" and not np.array_equal(getattr(plain, name), getattr(other, name)):
            raise AssertionError("layers that lie nowhere change what is seen")
    alone, beside = best_of(scale.times(9), lambda: ask(recipe), lambda: ask(more))
    note = f"256 x 256 places, eight layers {alone * 1000:.0f} ms, with twenty more {beside * 1000:.0f} ms"
    yield Line("twenty layers that lie nowhere, time they add", (beside / alone - 1) * 100, 10, "%", False, note)


def _drawing(workshop: Workshop, recipe: Recipe, scale: Scale) -> Iterator[Line]:
    spots = [(858.0 + 1.5 * k, 468.0 + 0.8 * k) for k in range(60)]

    def take(count: int, looks: int) -> None:
        points = tuple(StrokeAt(east_m=x, north_m=y) for x, y in spots[:count])
        stroke = MaskStroke(size_m=12, points=points)
        painted = {vellin_cover.TYRES: workshop.marks.painted(recipe, vellin_cover.TYRES, stroke)}
        for view in views(looks, scale):
            workshop.pictures.png(recipe, view, with_=Besides(painted=painted))

    for (looks, called), mark in zip(LOOKS, MARKS_MS, strict=True):
        take(1, looks)
        took = [seconds(partial(take, count, looks)) for count in (10, 20, 30, 40, 50, 60)[: scale.times(6)]]
        yield line(called or "a stroke of 12 m drawn", took, mark)


def _bilinear(values: Map, x: NDArray[np.float64], y: NDArray[np.float64], size_m: float) -> Map:
    """A map between its samples, as NumPy would have it."""
    rows, cols = values.shape
    right, down = x / size_m * (cols - 1), (size_m - y) / size_m * (rows - 1)
    col, row = np.minimum(right.astype(np.int32), cols - 2), np.minimum(down.astype(np.int32), rows - 2)
    u, v = (right - col).astype(np.float32), (down - row).astype(np.float32)
    top = values[row, col] * (1 - u) + values[row, col + 1] * u
    low = values[row + 1, col] * (1 - u) + values[row + 1, col + 1] * u
    between: Map = top + (low - top) * v
    return between


def _plain(clauses: list[OnMeasure], measures: Measures, gradient: Map, size: int, size_m: float) -> Map:
    """The same sentence over the texels of a map as NumPy would write it: whole maps, clause by clause."""
    steps = (np.arange(size) + 0.5) / size * size_m
    x, y = np.meshgrid(steps, size_m - steps)
    rise = np.hypot(*(_bilinear(gradient[..., k], x, y, size_m) for k in (0, 1)))
    share = np.ones((size, size), np.float32)
    for clause in clauses:
        if clause.measure == "slope":
            value = np.degrees(np.arctan(rise))
        else:
            value = _bilinear(measures.map(clause.measure), x, y, size_m)
        part = np.ones_like(share)
        for inside, soft in (
            (None if clause.lower is None else value - np.float32(clause.lower), clause.soft_lower),
            (None if clause.upper is None else np.float32(clause.upper) - value, clause.soft_upper),
        ):
            if inside is not None:
                t = np.clip(inside / np.float32(soft) + 1, 0, 1)
                part = np.minimum(part, t * t * (3 - 2 * t))
        share = share + part - share * part if clause.join == "or" else share * part
    return share


def _against_numpy(scale: Scale) -> Iterator[Line]:
    size, size_m = scale.side(2048), 1200.0
    steps = np.linspace(0, 12, scale.side(1024) + 1, dtype=np.float32)
    heights = (
        60 + 25 * np.sin(steps)[None] * np.cos(1.3 * steps)[:, None] + 4 * np.sin(5.1 * steps[None] + steps[:, None])
    )
    ground = Heightfield(heights.astype(np.float32), size_m, size_m)
    measures, land = Measures(Shaped(ground)), survey(ground)
    clauses = [
        on(between("elevation", 45, 80, 6, 9)),
        on(between("slope", 4, 30, 3, 8)),
        on(between("wetness", 4, None, 2)),
        on(between("curvature-mean", None, 0.02, 0, 0.02)),
        on(between("drainage", 4000, None, 3000), "or"),
        on(between("relative-height", -6, 6, 4, 4)),
    ]
    programs = compiled([("bench", Rule(clauses=tuple(clauses)))], Evidence(size_m, size_m, measures.map))

    def ours() -> Map:
        return rules.presences(programs, 0, places.on_grid(land, size, size, 0, size)).reshape(size, size)

    def plain() -> Map:
        return _plain(clauses, measures, land.gradient, size, size_m)

    difference = float(np.abs(ours() - plain()).max())
    if difference > 1e-3:
        raise AssertionError(f"rules differ from NumPy by {difference}")
    quick, slow = best_of(scale.times(3), ours, plain)
    note = f"2048 x 2048 texels, ours {quick * 1000:.0f} ms, NumPy {slow * 1000:.0f} ms, differ by {difference:.0e}"
    yield Line("six clauses against NumPy", slow / quick, 5, "x", True, note)


def run(scale: Scale) -> Iterator[Line]:
    """Time what a hand does in the Cover room, and rules by themselves."""
    workshop, recipe = demo(scale)
    eight = recipe.model_copy(update={"layers": recipe.layers[:7] + recipe.layers[-1:]})
    yield from _dragging(workshop, eight, scale)
    yield from _drawing(workshop, eight, scale)
    yield from _nowhere(workshop, eight, scale)
    yield from _against_numpy(scale)
