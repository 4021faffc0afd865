"""How long work is run: whom it tells how far it is, whom it asks whether to go on."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, field

from elvatch.core.parallel import Token


def _tell_nobody(share: float) -> None:
    del share


def _say_nothing(doing: str, done: int, of: int) -> None:
    del doing, done, of


@dataclass(frozen=True)
class Run:
    """How work is run: ``progress`` is told the share done, ``token`` asked whether to go on.

    ``coarse`` is 1 in full, less for a preview on so many fewer samples along a side. ``step`` is told what is at
    work, and how many pieces of how many are done.
    """

    token: Token = field(default_factory=Token)
    progress: Callable[[float], None] = _tell_nobody
    coarse: float = 1.0
    step: Callable[[str, int, int], None] = _say_nothing

    def part(self, start: float, end: float) -> Run:
        """Return how a part of the work is run that goes from one share done to another."""
        return Run(self.token, lambda share: self.progress(start + (end - start) * share), self.coarse, self.step)

    def at(self, share: float) -> None:
        """Say how far the work is, and stop when that was asked for."""
        self.token.check()
        self.progress(share)
