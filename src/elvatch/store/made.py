"""Grounds once shaped, kept on disk so that a later start need not shape them again."""

from __future__ import annotations

from elvatch.core.ground.heightfield import Heightfield
from elvatch.core.ground.shaped import Shaped, Traces
from elvatch.store.shelf import Shelved


class GroundShelf(Shelved):
    """Shaped grounds by the name of what led to them."""

    KIND, MOST_BYTES = "ground 2", 2 << 30

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
            name,
            {"heights_m": shaped.ground.heights_m, **traces},
            {"width_m": shaped.ground.width_m, "depth_m": shaped.ground.depth_m},
        )
