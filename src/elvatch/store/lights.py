"""Light kept under a name, to be used at any site."""

from __future__ import annotations

from elvatch.core.document.water import KeptLight
from elvatch.core.results import result
from elvatch.store.database import Database
from elvatch.store.kept import Kept


@result
class KeptLightLine:
    """A kept light with its id."""

    id: str
    kept: KeptLight


class Lights:
    """All kept lights.

    Parameters
    ----------
    database : Database
        Where they are kept.
    """

    def __init__(self, database: Database) -> None:
        self._kept = Kept(database, "light", KeptLight)

    def all(self) -> list[KeptLightLine]:
        """Return all kept lights by name."""
        return [KeptLightLine(id, kept) for id, _, kept in self._kept.all()]

    def keep(self, kept: KeptLight) -> KeptLightLine:
        """Keep a light; one of the same name is replaced.

        Raises
        ------
        RefusalError
            When its image is not at hand.
        """
        return KeptLightLine(self._kept.keep(kept.name, kept, kept.files()), kept)

    def remove(self, id: str) -> None:
        """Remove a kept light; sites that use it stay as they are."""
        self._kept.remove(id)
