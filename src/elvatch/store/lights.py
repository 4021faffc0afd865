"""Light kept under a name, to be used at any site."""

from __future__ import annotations

import secrets

from elvatch.core.document.water import KeptLight
from elvatch.core.refusal import RefusalError
from elvatch.core.results import result
from elvatch.store.database import Database, now


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
        self._database = database

    def all(self) -> list[KeptLightLine]:
        """Return all kept lights by name."""
        with self._database.reading() as db:
            rows = db.execute("select id, light from kept_light order by name collate nocase").fetchall()
        return [KeptLightLine(row["id"], KeptLight.model_validate_json(row["light"])) for row in rows]

    def keep(self, kept: KeptLight) -> KeptLightLine:
        """Keep a light; one of the same name is replaced.

        Raises
        ------
        RefusalError
            When its image is not at hand.
        """
        id = secrets.token_hex(6)
        with self._database.writing() as db:
            db.execute("delete from kept_light where name = ?", (kept.name,))
            db.execute("insert into kept_light values (?, ?, ?, ?)", (id, kept.name, kept.model_dump_json(), now()))
            for file in kept.files():
                if db.execute("select 1 from file where name = ?", (file,)).fetchone() is None:
                    raise RefusalError(kept.name, "an image that is not at hand", "one that is", "bring it in again")
                db.execute("insert into kept_light_file values (?, ?)", (id, file))
        return KeptLightLine(id, kept)

    def remove(self, id: str) -> None:
        """Remove a kept light; sites that use it stay as they are."""
        with self._database.writing() as db:
            db.execute("delete from kept_light where id = ?", (id,))
