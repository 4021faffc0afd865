"""Results kept by the name of their inputs, all of them within one budget of memory."""

from __future__ import annotations

import itertools
import mmap
import os
import threading
import weakref
from collections import OrderedDict
from collections.abc import Callable, Iterable
from dataclasses import fields, is_dataclass
from typing import Any, Generic, TypeVar

import numpy as np

T = TypeVar("T")
LEAST_BYTES = 600 << 20
_SMALL_BYTES = 4096
_WEIGHTLESS = frozenset({int, float, bool, type(None), np.float64, np.float32, np.int64})


class Weighs:
    """What says itself how much memory it takes. A plain base: whether something is one is asked very often."""

    @property
    def weight_bytes(self) -> int:
        """Memory that it takes by itself."""
        raise NotImplementedError


def usual_bytes() -> int:
    """Return how much memory all results together may take: an eighth of the machine's, no less than is needed."""
    try:
        whole = os.sysconf("SC_PAGE_SIZE") * os.sysconf("SC_PHYS_PAGES")
    except (AttributeError, ValueError, OSError):  # not every system tells
        return LEAST_BYTES
    return max(LEAST_BYTES, whole // 8)


def weights(of: object) -> dict[int, int]:
    """Return an identity and bytes for each buffer that a result holds in memory; those mapped from files none."""
    found: dict[int, int] = {}
    _weigh(of, found)
    return found


_names: dict[type, tuple[str, ...]] = {}
"""Of the fields of each dataclass; of any other kind none."""


def _weigh(of: object, found: dict[int, int]) -> None:
    if isinstance(of, np.ndarray):
        owner: Any = of
        while isinstance(owner.base, np.ndarray):
            owner = owner.base
        if not isinstance(owner.base, mmap.mmap):
            found[id(owner)] = owner.nbytes
    elif isinstance(of, bytes | str):
        if len(of) > _SMALL_BYTES:
            found[id(of)] = len(of)
    elif isinstance(of, Weighs):
        found[id(of)] = of.weight_bytes
    else:
        # most of what results hold are plain numbers, and arrays of their own
        for one in _parts(of):
            kind = type(one)
            if kind is np.ndarray and one.base is None:
                found[id(one)] = one.nbytes
            elif kind not in _WEIGHTLESS:
                _weigh(one, found)


def _parts(of: object) -> Iterable[Any]:
    if isinstance(of, tuple | list):
        return of
    if isinstance(of, dict):
        return of.values()
    kind = type(of)
    names = _names.get(kind)
    if names is None:
        names = _names[kind] = tuple(field.name for field in fields(kind)) if is_dataclass(kind) else ()
    return [getattr(of, name) for name in names]


class Budget:
    """How much memory the results of many :class:`Cache` may take together; the least recently used goes first.

    A buffer that several results share counts once.

    Parameters
    ----------
    most_bytes : int
        The last result stays whatever it weighs.
    """

    def __init__(self, most_bytes: int) -> None:
        self.lock = threading.RLock()
        self.most_bytes = most_bytes
        self._counted: dict[int, list[int]] = {}
        self._total = 0
        self._used: OrderedDict[tuple[int, str], dict[int, int]] = OrderedDict()
        self._owners: weakref.WeakValueDictionary[int, Cache[Any]] = weakref.WeakValueDictionary()
        self._numbers = itertools.count()

    @property
    def held_bytes(self) -> int:
        """How much all results weigh now."""
        return self._total

    def enter(self, owner: Cache[Any]) -> int:
        """Return the number of a new collection of results; when it is forgotten, so is what it kept."""
        number = next(self._numbers)
        with self.lock:
            self._owners[number] = owner
        weakref.finalize(owner, self._leave, number)
        return number

    def _leave(self, number: int) -> None:
        with self.lock:
            # a copy: another collection may be forgotten while this one is
            for key in list(self._used):
                if key[0] == number:
                    self.drop(*key)

    def use(self, number: int, name: str) -> None:
        """Count a use of a result."""
        self._used.move_to_end((number, name))

    def add(self, number: int, name: str, weighs: dict[int, int]) -> None:
        """Count a new result, or one that weighs otherwise now, and make room for it."""
        if (number, name) in self._used:
            self.drop(number, name)
        self._used[number, name] = weighs
        for one, count in weighs.items():
            entry = self._counted.setdefault(one, [0, count])
            self._total += count if entry[0] == 0 else 0
            entry[0] += 1
        self.settle()

    def drop(self, number: int, name: str) -> None:
        """Count a result no more."""
        for one in self._used.pop((number, name), {}):
            entry = self._counted[one]
            entry[0] -= 1
            if entry[0] == 0:
                self._total -= entry[1]
                del self._counted[one]

    def settle(self) -> None:
        """Let the least recently used go until all fit."""
        with self.lock:
            while self._total > self.most_bytes and len(self._used) > 1:
                number, name = next(iter(self._used))
                owner = self._owners.get(number)
                self.drop(number, name)
                if owner is not None:
                    owner.forget(name)


SHARED = Budget(usual_bytes())
"""Of all results of this process."""


class Cache(Generic[T]):
    """A few results by name; the least recently used goes first. Safe from any thread.

    Parameters
    ----------
    most : int
        How many results are kept.
    budget : Budget, optional
        Of the memory that they take together with those of others.
    """

    def __init__(self, most: int, budget: Budget = SHARED) -> None:
        self._most, self._budget = most, budget
        self._items: OrderedDict[str, T] = OrderedDict()
        self._making: dict[str, threading.Event] = {}
        self._lock = budget.lock
        self._number = budget.enter(self)

    def peek(self, name: str) -> T | None:
        """Return the result kept under ``name``, or None."""
        with self._lock:
            if name in self._items:
                self._used(name)
            return self._items.get(name)

    def _used(self, name: str) -> None:
        self._items.move_to_end(name)
        self._budget.use(self._number, name)

    def forget(self, name: str) -> None:
        """Let a result go."""
        with self._lock:
            self._items.pop(name, None)
            self._budget.drop(self._number, name)

    def get(self, name: str, make: Callable[[], T]) -> T:
        """Return the result kept under ``name``, or make and keep it.

        Who asks for what another thread is making waits for that; when the other fails or is
        cancelled, the waiting one makes it itself.
        """
        while True:
            with self._lock:
                if name in self._items:
                    self._used(name)
                    return self._items[name]
                others = self._making.get(name)
                if others is None:
                    self._making[name] = threading.Event()
                    break
            others.wait()
        try:
            made = make()
            self.put(name, made)
            return made
        finally:
            with self._lock:
                self._making.pop(name).set()

    def put(self, name: str, made: T) -> None:
        """Keep a result under ``name``, in place of another that is kept there."""
        weighs = weights(made)
        with self._lock:
            self._items[name] = made
            self._items.move_to_end(name)
            while len(self._items) > self._most:
                oldest, _ = self._items.popitem(last=False)
                self._budget.drop(self._number, oldest)
            self._budget.add(self._number, name, weighs)

    def weigh(self, name: str) -> None:
        """Weigh a result again that has grown since it was made."""
        with self._lock:
            if name in self._items:
                self._budget.add(self._number, name, weights(self._items[name]))
