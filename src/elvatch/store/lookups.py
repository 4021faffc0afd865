"""Sets stored for covers, on disk by content and mapped into memory: a later start need not make them again."""

from __future__ import annotations

import threading
from collections import OrderedDict
from pathlib import Path

import numpy as np

from elvatch.core.stock.pyramid import Pyramid
from elvatch.store.shelf import Shelf

_MOST_BYTES = 12 << 30
_MOST_OPEN = 64


class Lookups:
    """Pyramids by the content name of what they were made from.

    Parameters
    ----------
    folder : Path
        Where they lie.
    most_bytes : int
        How much is kept on disk.
    """

    def __init__(self, folder: Path, most_bytes: int = _MOST_BYTES) -> None:
        self._shelf = Shelf(folder, ".npy", most_bytes)
        self._open: OrderedDict[str, Pyramid] = OrderedDict()
        self._lock = threading.Lock()

    def get(self, content: str) -> Pyramid | None:
        """Return a pyramid, mapped into memory, or None when it is not there or not whole."""
        with self._lock:
            if content in self._open:
                self._open.move_to_end(content)
                return self._open[content]
        path = self._shelf.path(content)
        try:
            texels = np.load(path, mmap_mode="r", allow_pickle=False)
            size, tile, relief = np.load(path.with_suffix(".size"), allow_pickle=False).tolist()
            path.touch()
        except (OSError, ValueError, EOFError):
            return None
        return self._hold(content, Pyramid(texels, int(size), tile, relief, content))

    def put(self, content: str, made: Pyramid) -> Pyramid:
        """Keep a pyramid; where the disk is full it is kept in memory alone."""
        size = np.array([made.size, made.tile_m, made.relief_m])
        sizes = Shelf(self._shelf.path(content).parent, ".size", 1 << 30)
        if sizes.put(content, lambda stream: np.save(stream, size)) and self._shelf.put(
            content, lambda stream: np.save(stream, made.texels)
        ):
            kept = self.get(content)
            if kept is not None:
                return kept
        return self._hold(content, Pyramid(made.texels, made.size, made.tile_m, made.relief_m, content))

    def _hold(self, content: str, pyramid: Pyramid) -> Pyramid:
        with self._lock:
            self._open[content] = pyramid
            while len(self._open) > _MOST_OPEN:
                self._open.popitem(last=False)
        return pyramid
