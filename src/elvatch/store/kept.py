"""Parts of recipes kept under a name, with the files and texture sets that they need."""

from __future__ import annotations

import secrets
from collections.abc import Sequence
from typing import Generic, TypeVar

from pydantic import BaseModel

from elvatch.core.refusal import RefusalError
from elvatch.store.database import Database, now, plain_title

P = TypeVar("P", bound=BaseModel)


class Kept(Generic[P]):
    """All that is kept of one kind.

    Parameters
    ----------
    database : Database
        Where it is kept.
    kind : str
        What it is; its tables are named after it.
    model : type
        Of what is kept.
    """

    def __init__(self, database: Database, kind: str, model: type[P]) -> None:
        self._database, self._kind, self._model = database, kind, model

    def all(self) -> list[tuple[str, str, P]]:
        """Return the id, name and content of all, by name."""
        with self._database.reading() as db:
            rows = db.execute(
                f"select id, name, {self._kind} as body from kept_{self._kind} order by name collate nocase"
            ).fetchall()
        return [(row["id"], row["name"], self._model.model_validate_json(row["body"])) for row in rows]

    def get(self, id: str) -> P:
        """Return what is kept under an id.

        Raises
        ------
        RefusalError
            When nothing is.
        """
        for known, _, found in self.all():
            if known == id:
                return found
        raise RefusalError(f"kept {self._kind}", f"none of id {id[:20]!r}", "one that is kept", "choose another")

    def keep(self, name: str, value: P, files: list[str], sets: Sequence[str] = ()) -> str:
        """Keep something under a name; what had that name is replaced. Return its id.

        Raises
        ------
        RefusalError
            When the name is empty or too long, or a file or texture set that it needs is not at hand.
        """
        id, name = secrets.token_hex(6), plain_title(name)
        with self._database.writing() as db:
            db.execute(f"delete from kept_{self._kind} where name = ?", (name,))
            row = (id, name, value.model_dump_json(), now())
            db.execute(f"insert into kept_{self._kind} values (?, ?, ?, ?)", row)
            for file in files:
                if db.execute("select 1 from file where name = ?", (file,)).fetchone() is None:
                    raise RefusalError(name, "a file that is not at hand", "one that is", "bring it in again")
                db.execute(f"insert or ignore into kept_{self._kind}_file values (?, ?)", (id, file))
            for one in sets:
                if db.execute("select 1 from texture_set where name = ?", (one,)).fetchone() is None:
                    raise RefusalError(
                        name, "a texture set that is not in the stock", "one that is", "choose another"
                    )
                db.execute(f"insert into kept_{self._kind}_set values (?, ?)", (id, one))
        return id

    def remove(self, id: str) -> None:
        """Keep something no longer; sites that use it stay as they are."""
        with self._database.writing() as db:
            db.execute(f"delete from kept_{self._kind} where id = ?", (id,))
