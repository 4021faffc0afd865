"""Sets stored for covers, on disk by content and mapped into memory: a later start need not make them again."""

from __future__ import annotations

import threading
from collections import OrderedDict
from dataclasses import replace
from pathlib import Path

from elvatch.core.stock.pyramid import CHANNELS, Pyramid
from elvatch.store.blocks import About
from elvatch.store.shelf import Shelved

_MOST_OPEN = 64


class Lookups(Shelved):
    """Pyramids by the content name of what they were made from."""

    KIND, MOST_BYTES = f"lookup 2, {CHANNELS} numbers a texel", 12 << 30

    def __init__(self, folder: Path, most_bytes: int | None = None) -> None:
        super().__init__(folder, most_bytes)
        self._open: OrderedDict[str, Pyramid] = OrderedDict()
        self._lock = threading.Lock()

    def get(self, content: str) -> Pyramid | None:
        """Return a pyramid, mapped into memory, or None when it is not there or not whole."""
        with self._lock:
            if content in self._open:
                self._open.move_to_end(content)
                return self._open[content]
        found = self._shelf.get(content)
        if found is None:
            return None
        arrays, about = found
        glow = arrays.get("glow")
        size, tile_m = int(about["size_px"]), about["tile_m"]
        shining = None if glow is None else Pyramid(glow, size, tile_m, 1.0, content)
        made = Pyramid(arrays["texels"], size, tile_m, about["relief_m"], content, shining)
        return self._hold(content, made)

    def put(self, content: str, made: Pyramid) -> Pyramid:
        """Keep a pyramid; where the disk is full it is kept in memory alone."""
        about: About = {"size_px": made.size, "tile_m": made.tile_m, "relief_m": made.relief_m}
        arrays = {"texels": made.texels} | ({"glow": made.glow.texels} if made.glow else {})
        if self._shelf.put(content, arrays, about):
            kept = self.get(content)
            if kept is not None:
                return kept
        return self._hold(content, replace(made, name=content))

    def _hold(self, content: str, pyramid: Pyramid) -> Pyramid:
        with self._lock:
            self._open[content] = pyramid
            while len(self._open) > _MOST_OPEN:
                self._open.popitem(last=False)
        return pyramid
