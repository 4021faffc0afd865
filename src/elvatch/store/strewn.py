"""Where strewn things lie, kept on disk by content, block by block: a later start need not lay them again."""

from __future__ import annotations

from elvatch.core.strew.laid import Laid
from elvatch.store.shelf import Shelved


class StrewnShelf(Shelved):
    """Blocks of strews by the name of what led to them."""

    KIND, MOST_BYTES = "strewn 1", 512 << 20

    def get(self, name: str) -> Laid | None:
        """Return what lies in a block, mapped, or None when it is not there or not whole."""
        found = self._shelf.get(name)
        return None if found is None else Laid(**found[0])

    def put(self, name: str, found: Laid) -> None:
        """Keep a block; a full disk keeps nothing and harms nothing."""
        self._shelf.put(name, found._asdict(), {})
