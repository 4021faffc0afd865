"""What was found before at the same places: where each layer and wear lies and what it is, kept while it does not
change.

An edit of one layer's rule then costs that rule, at the places where it is asked; all else is read.
"""

from __future__ import annotations

import threading
from collections import OrderedDict
from collections.abc import Sequence
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from elvatch.core.cache import Weighs
from elvatch.core.stock import sheet
from elvatch.core.stock.pyramid import CHANNELS

_MOST_BYTES = 320 << 20
WITH_LIGHT = 2
"""Done: what a layer sends out is known as well."""
_NO_GLOW = np.empty((0, 0, 3), np.float32)


class Names(NamedTuple):
    """What names each layer's material, what each wear's overlay says, and where each layer and each wear lies;
    whether any layer sends out light."""

    materials: list[str]
    overlays: list[str]
    presences: list[str]
    shines: bool = False


class Memo(NamedTuple):
    """Memory as compiled code takes it.

    ``values`` (slots, n, CHANNELS) a layer's numbers at each place where ``done`` (slots, n) is not 0; ``marks``
    (slots, n, 4) what a wear's overlay says, NaN where it was not asked yet; ``glow`` (slots, n, 3) what a layer
    sends out, without slots where none does; ``presence`` (slots, n) of layers and
    of wears, likewise. ``value_slot``, ``mark_slot`` and ``presence_slot`` say for each layer, each wear, and each
    layer and then each wear, which slot is its own, -1 for none.
    """

    values: NDArray[np.float32]
    done: NDArray[np.uint8]
    marks: NDArray[np.float32]
    glow: NDArray[np.float32]
    presence: NDArray[np.float32]
    value_slot: NDArray[np.int64]
    mark_slot: NDArray[np.int64]
    presence_slot: NDArray[np.int64]


def nothing_kept(layers: int, wears: int) -> Memo:
    """Return a memory that keeps nothing."""
    return Memo(
        np.empty((0, 0, CHANNELS), np.float32),
        np.empty((0, 0), np.uint8),
        np.empty((0, 0, sheet.CHANNELS), np.float32),
        _NO_GLOW,
        np.empty((0, 0), np.float32),
        *(np.full(count, -1, np.int64) for count in (layers, wears, layers + wears)),
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


class Memory(Weighs):
    """What is kept of a cover at ``count`` places that stay the same.

    Hold ``lock`` from :meth:`memo` until the answer is there: a slot may be given to another layer after.
    """

    def __init__(self, count: int) -> None:
        self.lock = threading.Lock()
        self._count, self._layers, self._wears = count, 0, 0
        self._memo = nothing_kept(0, 0)
        self._values, self._marks, self._presence = _Slots(0), _Slots(0), _Slots(0)

    @property
    def weight_bytes(self) -> int:
        """Memory that it takes: of the room set aside for values only what was written."""
        kept = self._memo
        written = int(np.count_nonzero(kept.done)) * CHANNELS * kept.values.itemsize
        return written + kept.done.nbytes + kept.glow.nbytes + kept.marks.nbytes + kept.presence.nbytes

    def _grow(self, layers: int, wears: int) -> None:
        """Begin anew with room for so many layers and wears, and one more for the way an edit takes."""
        self._layers, self._wears = layers, wears
        slots = min(layers + 1, _MOST_BYTES // max(1, self._count * CHANNELS * 4))
        marks = min(wears + 1, _MOST_BYTES // max(1, self._count * sheet.CHANNELS * 4)) if wears else 0
        presences = layers + wears + 1
        none = np.empty(0, np.int64)
        self._memo = Memo(
            np.empty((slots, self._count, CHANNELS), np.float32),
            np.zeros((slots, self._count), np.uint8),
            np.empty((marks, self._count, sheet.CHANNELS), np.float32),
            _NO_GLOW,
            np.full((presences, self._count), np.nan, np.float32),
            none,
            none,
            none,
        )
        self._values, self._marks, self._presence = _Slots(slots), _Slots(marks), _Slots(presences)

    def memo(self, names: Names) -> Memo:
        """Return the memory for layers and wears that have these names."""
        if len(names.materials) > self._layers or len(names.overlays) > self._wears:
            self._grow(max(len(names.materials), self._layers), max(len(names.overlays), self._wears))
        if names.shines and not len(self._memo.glow):
            room = np.zeros((len(self._memo.done), self._count, 3), np.float32)
            self._memo = self._memo._replace(glow=room)
        value_slots, fresh_values = self._values.take(names.materials)
        mark_slots, fresh_marks = self._marks.take(names.overlays)
        presence_slots, fresh_presences = self._presence.take(names.presences)
        for slot in fresh_values:
            self._memo.done[slot] = 0
        for slot in fresh_marks:
            self._memo.marks[slot, :, sheet.VALUE] = np.nan
        for slot in fresh_presences:
            self._memo.presence[slot] = np.nan
        return self._memo._replace(
            value_slot=np.array(value_slots, np.int64),
            mark_slot=np.array(mark_slots, np.int64),
            presence_slot=np.array(presence_slots, np.int64),
        )
