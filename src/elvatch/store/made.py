"""Grounds once shaped, kept on disk so that a later start need not shape them again."""

from __future__ import annotations

import zipfile
from pathlib import Path
from typing import BinaryIO

import numpy as np

from elvatch.core.ground.heightfield import Heightfield
from elvatch.core.ground.shaped import Shaped, Traces
from elvatch.store.shelf import Shelf

_MOST_BYTES = 2 << 30


class Made:
    """Shaped grounds by the name of what led to them.

    Parameters
    ----------
    folder : Path
        Where they lie.
    most_bytes : int
        How much is kept.
    """

    def __init__(self, folder: Path, most_bytes: int = _MOST_BYTES) -> None:
        self._shelf = Shelf(folder, ".npz", most_bytes)

    def get(self, name: str) -> Shaped | None:
        """Return a shaped ground, or None when it is not there or not whole."""
        path = self._shelf.path(name)
        try:
            with np.load(path, allow_pickle=False) as kept:
                width, depth = kept["size_m"].tolist()
                heights, *left = kept["maps"]
                made = Shaped(Heightfield(heights, width, depth), Traces(*left) if left else None)
            path.touch()
        except (OSError, ValueError, KeyError, zipfile.BadZipFile):
            return None
        return made

    def put(self, name: str, shaped: Shaped) -> None:
        """Keep a shaped ground; a full disk keeps nothing and harms nothing."""
        # one array of maps: heights, then what shaping left behind
        maps = np.stack([shaped.ground.heights_m, *(shaped.traces or ())])
        size = np.array([shaped.ground.width_m, shaped.ground.depth_m])

        def write(stream: BinaryIO) -> None:
            np.savez(stream, size_m=size, maps=maps)

        self._shelf.put(name, write)
