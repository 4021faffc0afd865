"""Overlays once drawn, kept on disk so that a later start need not draw them again."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from elvatch.store.shelf import Shelved


class DrawnShelf(Shelved):
    """Overlays by the name of what draws them."""

    KIND, MOST_BYTES = "overlay 2", 1 << 30

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
