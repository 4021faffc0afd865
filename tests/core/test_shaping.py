"""The list of steps: only what depends on an edit is done again, always with the same bits."""

from __future__ import annotations

from collections.abc import Callable

import numpy as np
import pytest

from elvatch.core import parallel
from elvatch.core.cache import Cache
from elvatch.core.ground import description as d
from elvatch.core.ground import shaping
from elvatch.core.ground.shaped import Shaped
from elvatch.core.ground.step import StepBase, steps
from elvatch.core.ground.steps.form import FormStep
from elvatch.core.ground.steps.resample import ResampleStep
from elvatch.core.ground.steps.rivers import RiversStep
from elvatch.core.ground.steps.runoff import RunoffStep
from elvatch.core.ground.steps.settle import SettleStep
from elvatch.core.ground.steps.terrace import TerraceStep
from elvatch.core.parallel import Token
from elvatch.core.refusal import CancelledError
from elvatch.core.run import Run
from elvatch.demo import vellin_ground

STEPS = (
    FormStep(id="hills", name="hills", size_m=200, height_m=60, seed=4),
    RiversStep(id="rivers", name="rivers", rounds=2),
    SettleStep(id="settle", name="settle", repose_deg=30),
    RunoffStep(id="runoff", name="runoff", rounds=48),
    TerraceStep(id="terrace", name="terrace", strength=0.5),
)


def ground(*steps: d.Step, samples: int = 129) -> d.Ground:
    return d.Ground(width_m=500, depth_m=400, source=d.FlatSource(samples=samples), steps=steps)


def no_file(source: d.FileSource) -> np.ndarray:
    raise AssertionError(f"{source} was not asked for")


def shape(
    described: d.Ground, kept: Cache[Shaped] | None = None, run: Run | None = None, most: int | None = None
) -> Shaped:
    return shaping.shape(described, no_file, kept or Cache(99), run or Run(), most)


def test_only_steps_from_the_changed_one_on_are_done_again(monkeypatch: pytest.MonkeyPatch) -> None:
    done: list[str] = []

    def told(how: Callable[..., Shaped]) -> Callable[..., Shaped]:
        def apply(step: StepBase, shaped: Shaped, run: Run) -> Shaped:
            done.append(step.id)
            return how(step, shaped, run)

        return apply

    for kind in steps():
        monkeypatch.setattr(kind, "apply", told(kind.apply))
    kept: Cache[Shaped] = Cache(99)
    shape(ground(*STEPS), kept)
    assert done == ["hills", "rivers", "settle", "runoff", "terrace"]
    done.clear()
    changed = STEPS[3].model_copy(update={"rain": 0.9})
    shape(ground(*STEPS[:3], changed, STEPS[4]), kept)
    assert done == ["runoff", "terrace"]
    done.clear()
    renamed = STEPS[3].model_copy(update={"name": "another name"})
    shape(ground(*STEPS[:3], renamed, STEPS[4]), kept)
    assert done == [], "a name changes nothing"
    off = STEPS[4].model_copy(update={"on": False})
    assert shape(ground(*STEPS[:4], off), kept).ground is shape(ground(*STEPS[:4]), kept).ground


def test_the_same_description_gives_the_same_bits_whatever_the_threads(monkeypatch: pytest.MonkeyPatch) -> None:
    every = ground(*vellin_ground.steps(), samples=150)
    first = shape(every)
    for workers in (1, 3, 7):
        monkeypatch.setattr(parallel, "WORKERS", workers)
        again = shape(every)
        np.testing.assert_array_equal(again.ground.heights_m, first.ground.heights_m)
        assert again.traces is not None
        assert first.traces is not None
        for one, other in zip(again.traces, first.traces, strict=True):
            np.testing.assert_array_equal(one, other)


def test_a_preview_shows_the_same_land_on_fewer_samples() -> None:
    whole, preview = shape(ground(*STEPS, samples=257)), shape(ground(*STEPS, samples=257), most=65)
    assert preview.ground.heights_m.shape == (52, 65)
    rise = whole.ground.highest_m - whole.ground.lowest_m
    at = [(60, 70), (250, 200), (400, 330), (120, 300), (330, 90)]
    for east, north in at:
        apart = preview.ground.elevation_at(east, north) - whole.ground.elevation_at(east, north)
        assert abs(apart) < 0.12 * rise


def test_progress_rises_to_the_end_and_a_cancel_stops_between_rounds() -> None:
    told: list[float] = []
    shape(ground(*STEPS), run=Run(progress=told.append))
    assert told == sorted(told)
    assert told[-1] == pytest.approx(1.0)
    assert len(told) > 20
    token = Token()

    def stop(share: float) -> None:
        if share > 0.5:
            token.cancel()

    kept: Cache[Shaped] = Cache(99)
    with pytest.raises(CancelledError):
        shape(ground(*STEPS), kept, Run(token, stop))
    assert kept.peek(shaping.name_of(ground(*STEPS))) is None
    assert kept.peek(shaping.name_of(ground(STEPS[0]))) is not None, "finished steps are kept"


def test_resampling_in_the_middle_carries_on_what_shaping_left_behind() -> None:
    made = shape(ground(*STEPS[:4], ResampleStep(id="resample", name="x", samples=201), STEPS[4]))
    assert made.ground.cols == 201
    assert made.traces is not None
    assert made.traces.flow_m2.shape == made.ground.heights_m.shape
    assert made.traces.worn_m.min() >= 0
