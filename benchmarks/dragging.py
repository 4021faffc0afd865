"""Something dragged, seen in all three pictures: how long the server takes for each step of it."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from functools import partial

import numpy as np

from benchmarks.editing import PICTURES
from benchmarks.measure import Line, seconds
from benchmarks.scale import Scale
from elvatch.app.workshop import Workshop
from elvatch.core.document.recipe import Recipe
from elvatch.core.picture.picture import View

LOOKS = ((1, ""), (4, "and settled in full"))
"""Looks a pixel, and what it is called."""
MARKS_MS = (60.0, 250.0)


def views(looks: int, scale: Scale) -> list[View]:
    """Return the three pictures' views, small while something moves."""
    part = 1 if looks > 1 else 2
    return [View(v.stand, scale.side(v.width_px // part), scale.side(v.height_px // part), looks) for v in PICTURES]


def dragged(
    workshop: Workshop,
    recipe: Recipe,
    moved: Callable[[int], Recipe],
    name: str,
    scale: Scale,
    note: str = "",
    marks_ms: tuple[float, float] = MARKS_MS,
) -> Iterator[Line]:
    """Yield a line for small pictures and one for full ones; both must be those of a cold start."""

    def take(shop: Workshop, wanted: Recipe, looks: int) -> list[bytes]:
        return [shop.pictures.png(wanted, view)[0] for view in views(looks, scale)]

    for (looks, called), mark in zip(LOOKS, marks_ms, strict=True):
        take(workshop, recipe, looks)
        took = []
        for turn in range(scale.times(9)):
            wanted = moved(turn)
            took.append(seconds(partial(take, workshop, wanted, looks)))
        if take(workshop, wanted, looks) != take(Workshop(workshop.store), wanted, looks):
            raise AssertionError(f"{name}: another picture than a cold start's")
        yield line(called or name, took, mark, note)


def line(name: str, took: list[float], mark: float, note: str = "") -> Line:
    """Return the line of what one step of a drag took, seconds each."""
    told = f"{note}three pictures as PNG, slowest {max(took) * 1000:.0f} ms"
    return Line(name, float(np.median(took)) * 1000, mark, " ms", False, told)
