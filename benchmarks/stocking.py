"""Bringing in a set of five maps at 2048 px, and searching a thousand sets, both through the store."""

from __future__ import annotations

import tempfile
import time
from collections.abc import Iterator
from pathlib import Path

import numpy as np

from benchmarks.measure import Line
from benchmarks.scale import Scale
from elvatch.app.workshop import Workshop
from elvatch.core.formats import png, texture
from elvatch.core.run import Run
from elvatch.core.stock import generators, intake
from elvatch.core.stock.canonical import KeptMap, Whole
from elvatch.store.stock import Draft
from elvatch.store.store import Store
from elvatch.store.wall import Wish

SIZE = 2048
SETS = 1000
TAILS = {"colour": "basecolor", "normal": "normal", "roughness": "roughness", "occlusion": "ao", "height": "height"}


def _tiled(values: Whole, turns: int) -> Whole:
    """A map so many times beside and below itself."""
    wide: Whole = np.concatenate([values] * turns, axis=1)
    return np.concatenate([wide] * turns, axis=0)


def _files(maps: list[KeptMap], size: int) -> dict[str, bytes]:
    """A set's maps as PNG files at full size."""
    turns = size // maps[0].values.shape[0]
    return {f"bank_{TAILS[one.role]}.png": png.encode(_tiled(one.values, turns)) for one in maps}


def _bring_in(workshop: Workshop, files: dict[str, bytes], shown: list[float]) -> tuple[str, float, float]:
    """Return the set's name, the seconds that it took, and those until progress was first told."""
    began = time.perf_counter()

    def progress(share: float) -> None:
        shown.append(time.perf_counter() - began)

    given = {path: (lambda data=data: data) for path, data in files.items()}
    run = Run(progress=progress)
    (guess,) = intake.propose(list(given.items()), "bank", run).sets
    name = workshop.sets.keep(intake.decide(guess), given, run)
    return name, time.perf_counter() - began, shown[0]


def run(scale: Scale) -> Iterator[Line]:
    """Time both, after checking that what was brought in is what was given."""
    drawn = generators.kept(generators.draw("slate-scree", scale.side(1024), 5))
    files = _files(drawn, scale.side(SIZE))
    took, first = [], []
    with tempfile.TemporaryDirectory() as folder:
        for turn in range(scale.times(3)):
            workshop = Workshop(Store(Path(folder) / str(turn)))
            name, seconds, told = _bring_in(workshop, files, [])
            took.append(seconds)
            first.append(told)
        maps = workshop.store.stock.state(name).description.maps
        for role, tail in TAILS.items():
            kept = texture.decode(role, workshop.store.files.get(maps[role].file)).values  # type: ignore[index]
            if not np.array_equal(kept, texture.decode(role, files[f"bank_{tail}.png"]).values):
                raise AssertionError(f"the {role} map kept is not the one given")
        yield Line("bring in five maps of 2048 px", min(took), 3.0, " s", False, f"first progress {min(first):.2f} s")
        yield _search(workshop.store, name, SETS // scale.shrink)


def _search(store: Store, name: str, sets: int) -> Line:
    state = store.stock.state(name)
    for k in range(sets - 1):
        told = {"title": f"Bank {k}", "tags": (f"tag{k % 40}", "shore"), "notes": "found above the dam " * 4}
        store.stock.add(Draft(state.description.model_copy(update=told), state.facts, b"swatch"), "brought in")
    expected = sum("tag7" in f"tag{k % 40}" for k in range(sets - 1))
    times = []
    for _ in range(20):
        began = time.perf_counter()
        found = store.wall.find(Wish(text="shore tag7 dam"))
        times.append((time.perf_counter() - began) * 1000)
        if len(found.lines) != expected:
            raise AssertionError(f"found {len(found.lines)} sets instead of {expected}")
    everything = time.perf_counter()
    count = len(store.wall.find(Wish()).lines)
    whole = (time.perf_counter() - everything) * 1000
    note = f"all {count} listed in {whole:.0f} ms"
    return Line(f"search {SETS} sets", float(np.median(times)), 50.0, " ms", False, note)
