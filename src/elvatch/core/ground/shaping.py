"""A ground as its recipe describes it: the source, then step after step, each kept for the next time."""

from __future__ import annotations

import functools
from collections.abc import Callable
from dataclasses import dataclass

import numpy as np

from elvatch.core import digest
from elvatch.core.cache import Cache
from elvatch.core.ground.clauses import limit_to
from elvatch.core.ground.description import FileSource, FlatSource, Ground, Step
from elvatch.core.ground.heightfield import Heightfield
from elvatch.core.ground.measures import Measures
from elvatch.core.ground.sampling import grid_of
from elvatch.core.ground.shaped import Map, Shaped, Traces, no_traces
from elvatch.core.ground.steps.resample import ResampleStep, to_samples
from elvatch.core.ground.upright import Upright
from elvatch.core.refusal import RefusalError
from elvatch.core.run import Run

ReadFile = Callable[[FileSource], Map]
"""Gives the elevations of a file's samples, metres, as its reading and range say."""


def _cost(step: Step) -> float:
    return step.cost * getattr(step, "rounds", 1)


def _source(ground: Ground, read: ReadFile) -> Shaped:
    if isinstance(ground.source, FlatSource):
        rows, cols = grid_of(ground.source.samples, ground.width_m, ground.depth_m)
        heights = np.full((rows, cols), ground.source.level_m, np.float32)
    else:
        heights = read(ground.source)
    return Shaped(Heightfield(heights, ground.width_m, ground.depth_m))


def place_limit(shaped: Shaped, step: Step, run: Run, upright: Upright | None = None) -> Map:
    """Return how far a step takes hold at each sample, 0..1: its strength where its clauses allow."""
    share = np.full_like(shaped.ground.heights_m, step.strength)
    measured = Measures(shaped, upright)
    for clause in step.where:
        limit_to(share, clause, measured.map(clause.measure, clause.radius_m, run.token), run.token)
    return share


def _mixed(before: Shaped, after: Shaped, share: Map) -> Shaped:
    heights = before.ground.heights_m + (after.ground.heights_m - before.ground.heights_m) * share
    traces = None
    if after.traces is not None:
        was = before.traces or no_traces(before.ground)
        traces = Traces(*(a + (b - a) * share for a, b in zip(was, after.traces, strict=True)))
    return Shaped(before.with_heights(heights).ground, traces)


def _stepped(before: Shaped, step: Step, most_samples: int | None, run: Run, upright: Upright | None) -> Shaped:
    if isinstance(step, ResampleStep):
        wanted = step.samples if most_samples is None else min(step.samples, most_samples)
        return to_samples(before, wanted, run)
    after = step.apply(before, run)
    heights = after.ground.heights_m
    if not np.isfinite(heights.min()) or not np.isfinite(heights.max()):
        raise RefusalError(step.name, "heights that are not finite", "metres", "lower its amounts")
    if step.strength >= 1.0 and not step.where:
        return after
    return _mixed(before, after, place_limit(before, step, run, upright))


def _in_force(ground: Ground) -> list[Step]:
    return [step for step in ground.steps if step.on and step.strength > 0.0]


def _names(ground: Ground, steps: list[Step], most_samples: int | None) -> list[str]:
    """Return the names of the source and of the ground after each step: what led there, nothing else."""
    source = digest.of_part(ground.source, "file_name")
    upright = [digest.of_part(ground.upright)] if ground.upright else []
    name = digest.of_json([ground.width_m, ground.depth_m, source, most_samples, *upright])
    names = [name]
    for step in steps:
        name = digest.of_json([name, digest.of_part(step, "id", "name")])
        names.append(name)
    return names


_named = Cache[str](256)


def name_of(ground: Ground, most_samples: int | None = None) -> str:
    """Return the name of a shaped ground: the same whenever the same heights come out."""
    known = f"{digest.of_part(ground)} {most_samples}"
    return _named.get(known, lambda: _names(ground, _in_force(ground), most_samples)[-1])


def _samples(ground: Ground, read: ReadFile) -> int:
    """Return how many samples the source has along its longer side."""
    return ground.source.samples if isinstance(ground.source, FlatSource) else max(read(ground.source).shape)


@dataclass(frozen=True)
class Preview:
    """A ground of fewer samples, quick to shape.

    Parameters
    ----------
    samples : int
        Along the longer side.
    kept : Ground, optional
        The ground before a hand took hold of one of its steps: while it moves, what the later steps add is what they
        added there, carried along. The whole is right again when it rests.
    thinned : bool
        Of the whole ground, once it is shaped, some samples: quick to be had of a vast one.
    """

    samples: int = 257
    kept: Ground | None = None
    thinned: bool = False

    @property
    def name(self) -> str:
        """What tells one preview from others of a ground."""
        way = "thinned" if self.thinned else ""
        return f"{self.samples} {name_of(self.kept, self.samples) if self.kept else way}"


def up_to(ground: Ground, last: int) -> Ground:
    """Return a ground with no step after the one at place ``last``; -1 leaves its source alone."""
    return ground.model_copy(update={"steps": ground.steps[: last + 1]})


def _under_hand(ground: Ground, kept: Ground) -> int | None:
    """Return which step alone differs between two grounds; None where more does, or all that comes after is cheap."""
    if ground.model_copy(update={"steps": ()}) != kept.model_copy(update={"steps": ()}):
        return None
    if [step.id for step in ground.steps] != [step.id for step in kept.steps]:
        return None
    apart = [k for k, step in enumerate(ground.steps) if step != kept.steps[k]]
    return apart[0] if len(apart) == 1 and apart[0] < len(ground.steps) - 1 else None


def name_seen(ground: Ground, preview: Preview | None = None) -> str:
    """Return the name of a ground as it is shown; see :func:`seen`."""
    if preview is None:
        return name_of(ground)
    if preview.thinned:
        return digest.of_json([name_of(ground), preview.name])
    k = _under_hand(ground, preview.kept) if preview.kept else None
    if k is None:
        return name_of(ground, preview.samples)
    return digest.of_json([name_of(up_to(ground, k), preview.samples), preview.name])


def _thinned(whole: Shaped, samples: int) -> Shaped:
    """Return about so many samples of a ground along its longer side, its edges among them."""
    step = max(1, round((max(whole.ground.heights_m.shape) - 1) / (samples - 1)))
    rows, cols = (
        np.linspace(0, n - 1, (n - 1) // step + 1).round().astype(int) for n in whole.ground.heights_m.shape
    )
    traces = whole.traces and Traces(*(one[np.ix_(rows, cols)] for one in whole.traces))
    return Shaped(whole.with_heights(whole.ground.heights_m[np.ix_(rows, cols)]).ground, traces)


def seen(ground: Ground, read: ReadFile, kept: Cache[Shaped], run: Run, preview: Preview | None = None) -> Shaped:
    """Shape a ground as it is shown: whole, or a preview of it; see :func:`shape` and :class:`Preview`."""
    if preview is None:
        return shape(ground, read, kept, run)
    if preview.thinned:
        return _thinned(shape(ground, read, kept, run), preview.samples)
    k = _under_hand(ground, preview.kept) if preview.kept else None
    if k is None or preview.kept is None:
        return shape(ground, read, kept, run, preview.samples)
    whole = shape(preview.kept, read, kept, Run(run.token), preview.samples)
    was, now = (shape(up_to(one, k), read, kept, Run(run.token), preview.samples) for one in (preview.kept, ground))
    if not was.ground.heights_m.shape == now.ground.heights_m.shape == whole.ground.heights_m.shape:
        # a later step changes the grid: it cannot be carried along
        return shape(ground, read, kept, run, preview.samples)
    return whole.with_heights(now.ground.heights_m + (whole.ground.heights_m - was.ground.heights_m))


def make_ready(ground: Ground, at: int, read: ReadFile, kept: Cache[Shaped], run: Run) -> None:
    """Shape a ground up to its step ``at``, and work out what later ones need whatever the heights are: an edit of
    that step repeats nothing of it."""
    before = shape(up_to(ground, at - 1), read, kept, run)
    for step in _in_force(ground.model_copy(update={"steps": ground.steps[at:]})):
        step.make_ready(before.ground, Run(run.token))


def shape(ground: Ground, read: ReadFile, kept: Cache[Shaped], run: Run, most_samples: int | None = None) -> Shaped:
    """Shape a ground, beginning after the last step whose result is still kept.

    Parameters
    ----------
    ground : Ground
        The description.
    read : callable
        Reads a height file.
    kept : Cache of Shaped
        Results by what led to them.
    run : Run
        Told the share done, asked whether to go on.
    most_samples : int, optional
        Along the longer side; a preview takes fewer than the ground has. All amounts are metres,
        so a preview shows the same land.

    Returns
    -------
    Shaped
        The same bits for the same description on the same machine, however many threads work.
    """
    steps = _in_force(ground)
    names = _names(ground, steps, most_samples)
    begin, shaped = 0, None
    for k in range(len(steps), 0, -1):
        shaped = kept.peek(names[k])
        if shaped is not None:
            begin = k
            break

    def first() -> Shaped:
        full = _source(ground, read)
        longest = max(full.ground.rows, full.ground.cols)
        if most_samples is None or longest <= most_samples:
            return full
        return to_samples(full, most_samples, run)

    if shaped is None:
        shaped = kept.get(names[0], first)
    if most_samples is not None and begin < len(steps):
        run = Run(run.token, run.progress, min(1.0, most_samples / _samples(ground, read)))
    total = sum(_cost(step) for step in steps[begin:]) or 1.0
    done = 0.0
    for k in range(begin, len(steps)):
        part = run.part(done / total, (done + _cost(steps[k])) / total)
        shaped = kept.get(
            names[k + 1], functools.partial(_stepped, shaped, steps[k], most_samples, part, ground.upright)
        )
        done += _cost(steps[k])
        run.at(done / total)
    return shaped
