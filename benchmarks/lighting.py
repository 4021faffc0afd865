"""Light under the hand: what a turn, a moved sun and an edit cost at the sizes that a window of 1280x800 has."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from functools import partial

import numpy as np

from benchmarks.editing import edited
from benchmarks.measure import Line, seconds
from benchmarks.scale import Scale, demo
from elvatch.core.document.recipe import Recipe
from elvatch.core.picture.picture import Renderer, StandName, View

SIZES: dict[StandName, tuple[int, int]] = {"far": (510, 380), "mid": (255, 380), "near": (255, 380)}
LOOKS = {"moving": 1, "at rest": 4}
SHRUNK = {"moving": 2, "at rest": 1}
"""The page asks for pictures of a quarter to the whole of a side while something moves, half as a rule here."""
Change = Callable[[Recipe, int], Recipe]


def turned(stand: StandName) -> Change:
    """Turn one stand by some degrees."""

    def change(recipe: Recipe, k: int) -> Recipe:
        at = getattr(recipe.stands, stand)
        moved = at.model_copy(update={"bearing_deg": (at.bearing_deg + 3.0 + 2.3 * k) % 360})
        return recipe.model_copy(update={"stands": recipe.stands.model_copy(update={stand: moved})})

    return change


def sun_moved(recipe: Recipe, k: int) -> Recipe:
    """Move the sun in bearing and height: its sky has to be worked out."""
    sun = {"sun_bearing_deg": 200.0 + 3 * k, "sun_height_deg": 21.3 + 1.7 * k}
    return recipe.model_copy(update={"light": recipe.light.model_copy(update=sun)})


def brightened(recipe: Recipe, k: int) -> Recipe:
    """Edit the look of the top layer."""
    return edited(recipe, 0.61 + 0.07 * k)


CASES: tuple[tuple[str, Change, tuple[StandName, ...], dict[str, float]], ...] = (
    ("an edit of the cover", brightened, ("far", "mid", "near"), {"moving": 60, "at rest": 250}),
    ("the sun moved", sun_moved, ("far", "mid", "near"), {"moving": 150}),
    ("Near turned with its relief", turned("near"), ("near",), {"moving": 60, "at rest": 250}),
    ("Far turned", turned("far"), ("far",), {"at rest": 250}),
)


def run(scale: Scale) -> Iterator[Line]:
    """Time pictures of the demo after changes of light, view and cover."""
    workshop, recipe = demo(scale)
    land, sets = workshop.grounds.land(recipe.ground), workshop.store.stock
    for name, change, stands, marks in CASES:
        for looks, mark in marks.items():
            renderer = Renderer()

            def take(
                wanted: Recipe, by: Renderer, looks: str = looks, stands: tuple[StandName, ...] = stands
            ) -> list[np.ndarray]:
                evidence = workshop.covers.evidence(wanted)
                sizes = [[scale.side(px // SHRUNK[looks]) for px in SIZES[one]] for one in stands]
                views = [View(one, size[0], size[1], LOOKS[looks]) for one, size in zip(stands, sizes, strict=True)]
                return [by.take(land, wanted, sets, view, evidence=evidence).pixels for view in views]

            take(recipe, renderer)
            times = []
            for k in range(scale.times(6)):
                wanted = change(recipe, k)
                times.append(seconds(partial(take, wanted, renderer)))
            for kept, new in zip(take(wanted, renderer), take(wanted, Renderer()), strict=True):
                if not np.array_equal(kept, new):
                    raise AssertionError(f"{name} shows another picture than a cold start")
            note = f"median of {len(times)}: {np.median(times) * 1000:.0f} ms; {', '.join(stands)}"
            yield Line(f"{name}, {looks}", min(times) * 1000, mark, " ms", False, note)
