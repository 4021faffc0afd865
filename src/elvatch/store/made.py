"""Grounds once shaped, kept on disk so that a later start need not shape them again."""

from __future__ import annotations

from pathlib import Path

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
        self._shelf = Shelf(folder, "ground 2", most_bytes)

    def sweep(self) -> None:
        """Remove what was not finished when an earlier process ended."""
        self._shelf.sweep()

    def get(self, name: str) -> Shaped | None:
        """Return a shaped ground, or None when it is not there or not whole."""
        found = self._shelf.get(name)
        if found is None:
            return None
        arrays, about = found
        ground = Heightfield(arrays["heights_m"], about["width_m"], about["depth_m"])
        left = [arrays[trace] for trace in Traces._fields if trace in arrays]
        return Shaped(ground, Traces(*left) if left else None)

    def put(self, name: str, shaped: Shaped) -> None:
        """Keep a shaped ground; a full disk keeps nothing and harms nothing."""
        traces = shaped.traces._asdict() if shaped.traces else {}
        self._shelf.put(
            name, {"heights_m": shaped.ground.heights_m, **traces},
            {"width_m": shaped.ground.width_m, "depth_m": shaped.ground.depth_m},
        )  # fmt: skip
