"""Grounds once shaped, kept on disk so that a later start need not shape them again.

What lies here can always be made anew; the oldest goes when there is too much.
"""

from __future__ import annotations

import os
import re
import tempfile
import zipfile
from pathlib import Path

import numpy as np

from elvatch.core.ground.heightfield import Heightfield
from elvatch.core.ground.shaped import Shaped, Traces

_NAME = re.compile(r"[0-9a-f]{40}")
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
        self._folder, self._most_bytes = folder, most_bytes

    def _path(self, name: str) -> Path:
        if not _NAME.fullmatch(name):
            raise ValueError(f"{name!r} is no content name")
        return self._folder / f"{name}.npz"

    def get(self, name: str) -> Shaped | None:
        """Return a shaped ground, or None when it is not there or not whole."""
        path = self._path(name)
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
        try:
            self._folder.mkdir(parents=True, exist_ok=True)
            handle, temporary = tempfile.mkstemp(prefix=".new-", dir=self._folder)
            try:
                with os.fdopen(handle, "wb") as stream:
                    np.savez(stream, size_m=size, maps=maps)
                Path(temporary).replace(self._path(name))
            except BaseException:
                Path(temporary).unlink(missing_ok=True)
                raise
            self._clear()
        except OSError:
            return

    def _clear(self) -> None:
        kept = sorted(self._folder.glob("*.npz"), key=lambda path: path.stat().st_mtime)
        total = sum(path.stat().st_size for path in kept)
        for path in kept[:-1]:
            if total <= self._most_bytes:
                break
            total -= path.stat().st_size
            path.unlink(missing_ok=True)
