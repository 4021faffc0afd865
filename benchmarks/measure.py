"""Timing: the best of a few runs of each side, taken in turns in the same process."""

from __future__ import annotations

import time
from collections.abc import Callable
from dataclasses import dataclass


@dataclass(frozen=True)
class Line:
    """One result: what was measured, what it came to, what is asked for."""

    name: str
    value: float
    mark: float
    unit: str
    at_least: bool
    note: str = ""

    @property
    def met(self) -> bool:
        """Whether the mark is met."""
        return self.value >= self.mark if self.at_least else self.value <= self.mark

    def __str__(self) -> str:
        """One line of the report."""
        side = "at least" if self.at_least else "at most"
        verdict = "met   " if self.met else "MISSED"
        return f"{verdict} {self.name}: {self.value:.2f}{self.unit} ({side} {self.mark:g}{self.unit}) {self.note}"


def seconds(work: Callable[[], object]) -> float:
    """Return how long one call takes."""
    started = time.perf_counter()
    work()
    return time.perf_counter() - started


def best_of(runs: int, *works: Callable[[], object]) -> list[float]:
    """Return the shortest time of each work, run in turns so that noise falls on all alike."""
    times = [[seconds(work) for work in works] for _ in range(runs)]
    return [min(column) for column in zip(*times, strict=True)]
