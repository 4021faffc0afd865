"""Grounds after each of their steps; what was dear to shape also survives a restart."""

from __future__ import annotations

import time
from collections.abc import Callable

from elvatch.core import digest
from elvatch.core.cache import Cache
from elvatch.core.ground.shaped import Shaped
from elvatch.core.kernel import sources_digest
from elvatch.store.made import GroundShelf

_MOST = 400
_DEAR_S = 0.5
"""A step that takes longer is read from disk sooner than it is repeated."""


class Stages(Cache[Shaped]):
    """Grounds on their way through their steps, by what led to them.

    Without those on disk the first edit of a late step, on a server just started, would wait for all steps before it.

    Parameters
    ----------
    shelf : GroundShelf
        Keeps the dear ones.
    most_samples : int
        Larger ones are not put on disk: the shelf would hold little else.
    """

    def __init__(self, shelf: GroundShelf, most_samples: int) -> None:
        super().__init__(_MOST)
        self._shelf, self._most_samples = shelf, most_samples

    def peek(self, name: str) -> Shaped | None:
        """Return the ground kept under ``name``, in memory or on disk, or None."""
        found = super().peek(name)
        if found is None:
            found = self._shelf.get(_on_disk(name))
            if found is not None:
                self.put(name, found)
        return found

    def get(self, name: str, make: Callable[[], Shaped]) -> Shaped:
        """Return the ground kept under ``name``, in memory or on disk, or make and keep it."""

        def made() -> Shaped:
            found = self._shelf.get(_on_disk(name))
            if found is not None:
                return found
            began = time.perf_counter()
            shaped = make()
            dear = time.perf_counter() - began > _DEAR_S
            if dear and shaped.ground.heights_m.size <= self._most_samples:
                self._shelf.put(_on_disk(name), shaped)
            return shaped

        return super().get(name, made)


def _on_disk(name: str) -> str:
    # another build of the kernels may give other bits
    return digest.of_json(["stage", name, sources_digest()])
