"""What was found before at the same places: each layer's presence and material, kept while neither changes.

An edit of one layer's rule then costs that rule, at the places where it is asked; all else is read.
"""

from __future__ import annotations

import threading
from collections import OrderedDict
from collections.abc import Sequence
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from elvatch.core.stock.pyramid import CHANNELS

_MOST_BYTES = 320 << 20


class Memo(NamedTuple):
    """Memory as compiled code takes it.

    ``values`` (slots, n, CHANNELS) a layer's numbers at each place where ``done`` (slots, n) is 1;
    ``presence`` (slots, n), NaN where it was not asked yet. ``value_slot`` and ``presence_slot`` say for
    each layer which slot is its own, -1 for none.
    """

    values: NDArray[np.float32]
    done: NDArray[np.uint8]
    presence: NDArray[np.float32]
    value_slot: NDArray[np.int64]
    presence_slot: NDArray[np.int64]


def nothing_kept(layers: int) -> Memo:
    """Return a memory that keeps nothing."""
    none = np.full(layers, -1, np.int64)
    return Memo(
        np.empty((0, 0, CHANNELS), np.float32), np.empty((0, 0), np.uint8), np.empty((0, 0), np.float32), none, none
    )


class _Slots:
    """Which slot belongs to which name; the longest unused one is given to a new name."""

    def __init__(self, count: int) -> None:
        self._free = list(range(count))
        self._of: OrderedDict[str, int] = OrderedDict()

    def take(self, names: Sequence[str]) -> tuple[list[int], list[int]]:
        """Return each name's slot (-1 where there are too few) and which slots are new to their name."""
        for name in names:
            if name in self._of:
                self._of.move_to_end(name)
        slots, fresh = [], []
        for name in names:
            slot = self._of.get(name)
            if slot is None:
                if self._free:
                    slot = self._free.pop()
                else:
                    oldest = next(iter(self._of), None)
                    if oldest is None or oldest in names:
                        slots.append(-1)
                        continue
                    slot = self._of.pop(oldest)
                self._of[name] = slot
                fresh.append(slot)
            slots.append(slot)
        return slots, fresh


class Memory:
    """What is kept of a cover at ``count`` places that stay the same.

    Hold ``lock`` from :meth:`memo` until the answer is there: a slot may be given to another layer after.
    """

    def __init__(self, count: int) -> None:
        self.lock = threading.Lock()
        self._count, self._layers = count, 0
        self._memo = nothing_kept(0)
        self._values, self._presence = _Slots(0), _Slots(0)

    @property
    def nbytes(self) -> int:
        """Memory set aside, bytes; what was never written takes none."""
        return self._memo.values.nbytes + self._memo.done.nbytes + self._memo.presence.nbytes

    def _grow(self, layers: int) -> None:
        """Begin anew with room for so many layers, and one more for the way an edit takes."""
        self._layers = layers
        slots = min(layers + 1, _MOST_BYTES // max(1, self._count * CHANNELS * 4))
        self._memo = Memo(
            np.empty((slots, self._count, CHANNELS), np.float32), np.zeros((slots, self._count), np.uint8),
            np.full((layers + 1, self._count), np.nan, np.float32), np.empty(0, np.int64), np.empty(0, np.int64),
        )  # fmt: skip
        self._values, self._presence = _Slots(slots), _Slots(layers + 1)

    def memo(self, materials: Sequence[str], presences: Sequence[str]) -> Memo:
        """Return the memory for layers whose material and presence have these names."""
        if len(materials) > self._layers:
            self._grow(len(materials))
        value_slots, fresh_values = self._values.take(materials)
        presence_slots, fresh_presences = self._presence.take(presences)
        for slot in fresh_values:
            self._memo.done[slot] = 0
        for slot in fresh_presences:
            self._memo.presence[slot] = np.nan
        return self._memo._replace(
            value_slot=np.array(value_slots, np.int64), presence_slot=np.array(presence_slots, np.int64)
        )
