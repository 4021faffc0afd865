"""Overlays once drawn, kept on disk so that a later start need not draw them again."""

from __future__ import annotations

from pathlib import Path

import numpy as np
from numpy.typing import NDArray

from elvatch.store.shelf import Shelf

_MOST_BYTES = 1 << 30


class Drawn:
    """Overlays by the name of what draws them.

    Parameters
    ----------
    folder : Path
        Where they lie.
    """

    def __init__(self, folder: Path) -> None:
        self._shelf = Shelf(folder, "overlay 2", _MOST_BYTES)

    def sweep(self) -> None:
        """Remove what was not finished when an earlier process ended."""
        self._shelf.sweep()

    def get(self, name: str) -> NDArray[np.uint16] | None:
        """Return an overlay's codes, or None when it is not there or not whole."""
        found = self._shelf.get(name)
        return found[0]["codes"] if found else None

    def __contains__(self, name: str) -> bool:
        """Return whether an overlay lies there, whole or not."""
        return self._shelf.path(name).exists()

    def put(self, name: str, codes: NDArray[np.uint16]) -> None:
        """Keep an overlay; a full disk keeps nothing and harms nothing."""
        self._shelf.put(name, {"codes": codes}, {})
