"""An edit of the cover with the view unchanged, against a cold picture; and a start's first picture."""

from __future__ import annotations

import subprocess
import sys
from collections.abc import Iterator
from functools import partial

import numpy as np

from benchmarks.measure import Line, seconds
from benchmarks.scale import Scale, demo
from elvatch.core.document.recipe import Recipe
from elvatch.core.picture.picture import Renderer, View

PICTURES = (View("far", 420, 400), View("mid", 260, 400), View("near", 260, 400))
FIRST = """
import sys, time
started = time.perf_counter()
from pathlib import Path
from elvatch.core.picture.picture import View
from elvatch.store.store import Store
from elvatch.app.workshop import Workshop
workshop = Workshop(Store(Path(sys.argv[1])))
workshop.pictures.png(workshop.store.sites.find("Vellin Water").recipe, View("far", 510, 380, 1))
print(time.perf_counter() - started)
"""


def edited(recipe: Recipe, brightness: float) -> Recipe:
    """The recipe with its top layer's brightness changed."""
    top = recipe.layers[-1]
    look = top.look.model_copy(update={"brightness": brightness})
    return recipe.model_copy(update={"layers": (*recipe.layers[:-1], top.model_copy(update={"look": look}))})


def run(scale: Scale) -> Iterator[Line]:
    """Time cold pictures and edits of the demo."""
    workshop, recipe = demo(scale)
    land, sets = workshop.grounds.land(recipe.ground), workshop.store.stock

    def take(renderer: Renderer, wanted: Recipe, looks: int) -> list[np.ndarray]:
        views = [View(v.stand, scale.side(v.width_px), scale.side(v.height_px), looks) for v in PICTURES]
        evidence = workshop.covers.evidence(wanted)
        return [renderer.take(land, wanted, sets, view, evidence=evidence).pixels for view in views]

    for looks in (4, 1):
        take(Renderer(), recipe, looks)
        cold, warm = [], []
        for turn in range(scale.times(4)):
            renderer = Renderer()
            cold.append(seconds(partial(take, renderer, recipe, looks)))
            wanted = edited(recipe, 0.6 + 0.2 * turn)
            warm.append(seconds(partial(take, renderer, wanted, looks)))
            fresh = take(Renderer(), wanted, looks)
            for kept, new in zip(take(renderer, wanted, looks), fresh, strict=True):
                if not np.array_equal(kept, new):
                    raise AssertionError("an edit shows another picture than a cold start")
        name = "at rest" if looks == 4 else "while moving"
        note = f"cold {min(cold) * 1000:.0f} ms, edit {min(warm) * 1000:.0f} ms, all three pictures"
        yield Line(f"a cover edit {name}, share of a cold picture", min(warm) / min(cold) * 100, 40, "%", False, note)
    said = subprocess.run(
        [sys.executable, "-c", FIRST, workshop.store.folder], capture_output=True, text=True, check=True
    )
    yield Line("a later start's first picture", float(said.stdout), 8, " s", False)
