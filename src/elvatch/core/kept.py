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
    """

    def __init__(self, most: int) -> None:
        self._most = most
        self._items: OrderedDict[str, T] = OrderedDict()
        self._making: dict[str, threading.Event] = {}
        self._lock = threading.Lock()

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
                while len(self._items) > self._most:
                    self._items.popitem(last=False)
            return made
        finally:
            with self._lock:
                self._making.pop(name).set()
