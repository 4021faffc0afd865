"""What was found before at the same places: where each layer and wear lies and what it is, kept while it does not
change.

An edit of one layer's rule then costs that rule, at the places where it is asked; all else is read.
"""

from __future__ import annotations

import math
from collections import OrderedDict
from collections.abc import Sequence
from typing import Any, NamedTuple

import numpy as np
from numpy.typing import NDArray

from elvatch.core.cache import Weighs
from elvatch.core.kernel import kernel
from elvatch.core.parallel import over_bands
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

    @property
    def slots(self) -> tuple[int, int, int]:
        """How many slots there are of values, of marks and of presences."""
        return len(self.values), len(self.marks), len(self.presence)


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


class _Pairs(NamedTuple):
    """Slots (m, 2) of one memory and those of another that they are copied to: of values, marks and presences."""

    values: NDArray[np.int64]
    marks: NDArray[np.int64]
    presence: NDArray[np.int64]

    def turned(self) -> _Pairs:
        """Return the way back."""
        return _Pairs(*(one[:, ::-1].copy() for one in self))


@kernel
def _copy_band(
    source: Memo, rows: NDArray[np.int64], target: Memo, into: NDArray[np.int64], pairs: _Pairs, a: int, b: int
) -> None:
    """Copy what is known of places, from row ``rows[i]`` to row ``into[i]``; nothing is known of row -1."""
    for p in range(pairs.values.shape[0]):
        s, t = pairs.values[p, 0], pairs.values[p, 1]
        for i in range(a, b):
            row, to = rows[i], into[i]
            target.done[t, to] = source.done[s, row] if row >= 0 else 0
            if target.done[t, to] > 0:
                for c in range(CHANNELS):
                    target.values[t, to, c] = source.values[s, row, c]
                for c in range(3 if target.glow.shape[0] > 0 else 0):
                    target.glow[t, to, c] = source.glow[s, row, c]
    for p in range(pairs.marks.shape[0]):
        s, t = pairs.marks[p, 0], pairs.marks[p, 1]
        for i in range(a, b):
            target.marks[t, into[i], sheet.VALUE] = np.nan
            for c in range(sheet.CHANNELS if rows[i] >= 0 else 0):
                target.marks[t, into[i], c] = source.marks[s, rows[i], c]
    for p in range(pairs.presence.shape[0]):
        s, t = pairs.presence[p, 0], pairs.presence[p, 1]
        for i in range(a, b):
            target.presence[t, into[i]] = source.presence[s, rows[i]] if rows[i] >= 0 else np.nan


def _copy(source: Memo, rows: NDArray[np.int64], target: Memo, into: NDArray[np.int64], pairs: _Pairs) -> None:
    over_bands(len(rows), lambda a, b: _copy_band(source, rows, target, into, pairs, a, b), least=16384)


class _Room:
    """Arrays, laid out anew in the memory of those that stood here before.

    A system clears fresh memory before it gives it, page by page (measured: a sixth of a turn of Far).
    """

    def __init__(self) -> None:
        self._held: dict[str, NDArray[np.uint8]] = {}
        # the most that was written here: it stays in memory
        self.weight_bytes = 0

    def _array(self, name: str, shape: tuple[int, ...], kind: type[np.generic]) -> NDArray[Any]:
        size = math.prod(shape) * np.dtype(kind).itemsize
        held = self._held.get(name)
        if held is None or len(held) < size:
            held = self._held[name] = np.empty(size + size // 8, np.uint8)
        return held[:size].view(kind).reshape(shape)

    def memo(self, like: Memo, count: int, slots: tuple[int, int, int], glowing: bool) -> Memo:
        """Return room for what is known of so many places, with so many slots of values, of marks and of presences;
        nothing is written."""
        values, marks, presences = slots
        return like._replace(
            values=self._array("values", (values, count, CHANNELS), np.float32),
            done=self._array("done", (values, count), np.uint8),
            marks=self._array("marks", (marks, count, sheet.CHANNELS), np.float32),
            glow=self._array("glow", (values, count, 3), np.float32) if glowing else _NO_GLOW,
            presence=self._array("presence", (presences, count), np.float32),
        )

    def like(self, memo: Memo, count: int) -> Memo:
        """Return room for so many places, with as many slots of each kind as another has."""
        return self.memo(memo, count, memo.slots, len(memo.glow) > 0)


class _Fresh(NamedTuple):
    """Slots of values, marks and presences that are given to a new name."""

    values: NDArray[np.int64]
    marks: NDArray[np.int64]
    presence: NDArray[np.int64]


@kernel
def _forget_band(memo: Memo, fresh: _Fresh, a: int, b: int) -> None:
    """Say that nothing is known under fresh slots."""
    for slot in fresh.values:
        memo.done[slot, a:b] = 0
    for slot in fresh.marks:
        for i in range(a, b):
            memo.marks[slot, i, sheet.VALUE] = np.nan
    for slot in fresh.presence:
        memo.presence[slot, a:b] = np.nan


class MemoryPart:
    """What is known of some places, as a memory of its own.

    Parameters
    ----------
    whole : Memo
        What is known of all places.
    rows : ndarray, shape (n,), int64
        Which of them.
    """

    def __init__(self, whole: Memo, rows: NDArray[np.int64]) -> None:
        self._whole, self._rows, self._own = whole, rows, np.arange(len(rows))
        slots = [np.unique(one[one >= 0]) for one in (whole.value_slot, whole.mark_slot, whole.presence_slot)]
        self._pairs = _Pairs(*(np.stack([one, np.arange(len(one))], 1) for one in slots))

        def renumbered(of: NDArray[np.int64], used: NDArray[np.int64]) -> NDArray[np.int64]:
            return np.where(of >= 0, np.searchsorted(used, of), -1).astype(np.int64)

        used = len(slots[0]), len(slots[1]), len(slots[2])
        room = _Room().memo(whole, len(rows), used, len(whole.glow) > 0)
        self.memo = room._replace(
            value_slot=renumbered(whole.value_slot, slots[0]),
            mark_slot=renumbered(whole.mark_slot, slots[1]),
            presence_slot=renumbered(whole.presence_slot, slots[2]),
        )
        _copy(whole, rows, self.memo, self._own, self._pairs)

    def give_back(self) -> None:
        """Write what is known now where the whole is kept."""
        _copy(self.memo, self._own, self._whole, self._rows, self._pairs.turned())


class _Slots:
    """Which slot belongs to which name; the longest unused one is given to a new name."""

    def __init__(self, count: int) -> None:
        self._free = list(range(count))
        self._of: OrderedDict[str, int] = OrderedDict()

    def slots(self, names: Sequence[str]) -> list[int]:
        """Return each name's slot, -1 where it has none."""
        return [self._of.get(name, -1) for name in names]

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
    """What is kept of a cover at ``count`` places that stay the same, or most of them.

    For one thread at a time, from :meth:`memo` until the answer is there: a slot may be given to another layer after.
    """

    def __init__(self, count: int) -> None:
        self._count, self._layers, self._wears = count, 0, 0
        self._room, self._spare = _Room(), _Room()
        self._memo = nothing_kept(0, 0)
        self._values, self._marks, self._presence = _Slots(0), _Slots(0), _Slots(0)

    @property
    def weight_bytes(self) -> int:
        """Memory that it takes: of the room set aside for values only what was written at most."""
        kept = self._memo
        written = int(np.count_nonzero(kept.done)) * CHANNELS * kept.values.itemsize
        now = written + kept.done.nbytes + kept.glow.nbytes + kept.marks.nbytes + kept.presence.nbytes
        self._room.weight_bytes = max(self._room.weight_bytes, now)
        return self._room.weight_bytes + self._spare.weight_bytes

    def _begin(self) -> None:
        """Begin anew with room for as many layers and wears as are told, and more for the way an edit takes: a rule
        that others ask for changes all of them."""
        layers, wears = self._layers, self._wears
        slots = min(layers + 1, _MOST_BYTES // max(1, self._count * CHANNELS * 4))
        marks = min(wears + 1, _MOST_BYTES // max(1, self._count * sheet.CHANNELS * 4)) if wears else 0
        presences = 2 * (layers + wears)
        self._memo = self._room.memo(self._memo, self._count, (slots, marks, presences), glowing=False)
        # what was written is counted here; all else is said when a slot is given to a name
        self._memo.done[:] = 0
        self._values, self._marks, self._presence = _Slots(slots), _Slots(marks), _Slots(presences)

    def turn(self, count: int) -> None:
        """Forget all: other places are asked from now on, of which none was asked before."""
        self._count = count
        self._begin()

    def carry(self, rows: NDArray[np.int64]) -> None:
        """Keep what was found for the places that are asked from now on: place ``i`` is the one that was ``rows[i]``,
        or none that was asked before where that is -1."""
        before, count = self._memo, len(rows)
        if count == self._count and (rows[rows >= 0] == np.flatnonzero(rows >= 0)).all():
            new = np.flatnonzero(rows < 0)
            before.done[:, new], before.marks[:, new, sheet.VALUE], before.presence[:, new] = 0, np.nan, np.nan
            return
        after = self._spare.like(before, count)
        same = _Pairs(*(np.repeat(np.arange(n)[:, None], 2, 1) for n in before.slots))
        _copy(before, rows, after, np.arange(count), same)
        self._memo, self._count = after, count
        self._room, self._spare = self._spare, self._room

    def kept_presences(self, names: Sequence[str]) -> list[NDArray[np.float32] | None]:
        """Return how much is kept to be let in at each place under each name, NaN where it was not asked."""
        return [self._memo.presence[slot] if slot >= 0 else None for slot in self._presence.slots(names)]

    def memo(self, names: Names) -> Memo:
        """Return the memory for layers and wears that have these names."""
        if len(names.materials) > self._layers or len(names.overlays) > self._wears:
            self._layers = max(len(names.materials), self._layers)
            self._wears = max(len(names.overlays), self._wears)
            self._begin()
        if names.shines and not len(self._memo.glow):
            room = np.zeros((len(self._memo.done), self._count, 3), np.float32)
            self._memo = self._memo._replace(glow=room)
        value_slots, fresh_values = self._values.take(names.materials)
        mark_slots, fresh_marks = self._marks.take(names.overlays)
        presence_slots, fresh_presences = self._presence.take(names.presences)
        fresh = _Fresh(*(np.array(slots, np.int64) for slots in (fresh_values, fresh_marks, fresh_presences)))
        if any(map(len, fresh)):
            over_bands(self._count, lambda a, b: _forget_band(self._memo, fresh, a, b), least=16384)
        return self._memo._replace(
            value_slot=np.array(value_slots, np.int64),
            mark_slot=np.array(mark_slots, np.int64),
            presence_slot=np.array(presence_slots, np.int64),
        )
