"""Results kept by the name of their inputs."""

from __future__ import annotations

import threading
from collections import OrderedDict
from collections.abc import Callable
from typing import Generic, TypeVar

T = TypeVar("T")


class Kept(Generic[T]):
    """A few results by name; the least recently used goes first. Safe from any thread.

    Parameters
    ----------
    most : int
        How many results are kept.
    weigh : callable, optional
        How much a result weighs, bytes.
    most_bytes : int, optional
        How much all results together may weigh; the last one is kept whatever it weighs.
    """

    def __init__(self, most: int, weigh: Callable[[T], int] | None = None, most_bytes: int = 1 << 62) -> None:
        self._most, self._weigh, self._most_bytes = most, weigh, most_bytes
        self._items: OrderedDict[str, T] = OrderedDict()
        self._making: dict[str, threading.Event] = {}
        self._lock = threading.Lock()

    def peek(self, name: str) -> T | None:
        """Return the result kept under ``name``, or None."""
        with self._lock:
            if name in self._items:
                self._items.move_to_end(name)
            return self._items.get(name)

    def _too_much(self) -> bool:
        if len(self._items) > self._most:
            return True
        weigh = self._weigh
        return weigh is not None and sum(weigh(item) for item in self._items.values()) > self._most_bytes

    def get(self, name: str, make: Callable[[], T]) -> T:
        """Return the result kept under ``name``, or make and keep it.

        Who asks for what another thread is making waits for that; when the other fails or is
        cancelled, the waiting one makes it itself.
        """
        while True:
            with self._lock:
                if name in self._items:
                    self._items.move_to_end(name)
                    return self._items[name]
                others = self._making.get(name)
                if others is None:
                    self._making[name] = threading.Event()
                    break
            others.wait()
        try:
            made = make()
            with self._lock:
                self._items[name] = made
                while len(self._items) > 1 and self._too_much():
                    self._items.popitem(last=False)
            return made
        finally:
            with self._lock:
                self._making.pop(name).set()
