"""Wear kept under a name, to be used on any site."""

from __future__ import annotations

import secrets
import sqlite3
from dataclasses import dataclass

from elvatch.core.document.wear import FromStock, Preset
from elvatch.core.refusal import RefusalError
from elvatch.store.database import Database, now


@dataclass(frozen=True)
class KeptPreset:
    """A preset with its id."""

    id: str
    preset: Preset


class Presets:
    """All kept wear.

    Parameters
    ----------
    database : Database
        Where it is kept.
    """

    def __init__(self, database: Database) -> None:
        self._database = database

    def all(self) -> list[KeptPreset]:
        """Return all presets by name."""
        with self._database.reading() as db:
            rows = db.execute("select id, preset from wear_preset order by name collate nocase").fetchall()
        return [KeptPreset(row["id"], Preset.model_validate_json(row["preset"])) for row in rows]

    def preset(self, id: str) -> Preset:
        """Return a preset."""
        with self._database.reading() as db:
            row = db.execute("select preset from wear_preset where id = ?", (id,)).fetchone()
        if row is None:
            raise RefusalError("kept wear", f"none called {id[:40]!r}", "one that is kept", "choose another")
        return Preset.model_validate_json(row["preset"])

    def keep(self, preset: Preset) -> KeptPreset:
        """Keep a preset; one of the same name is replaced."""
        source, id = preset.laid.source, secrets.token_hex(6)
        of_set = source.set if isinstance(source, FromStock) else None
        with self._database.writing() as db:
            db.execute("delete from wear_preset where name = ?", (preset.name,))
            try:
                db.execute(
                    "insert into wear_preset values (?, ?, ?, ?, ?)",
                    (id, preset.name, preset.model_dump_json(), of_set, now()),
                )
            except sqlite3.IntegrityError:
                raise RefusalError(
                    preset.name, "an overlay that is not in the stock", "one that is", "bring it in first"
                ) from None
        return KeptPreset(id, preset)

    def remove(self, id: str) -> None:
        """Remove a preset; wear that was made from it stays."""
        with self._database.writing() as db:
            db.execute("delete from wear_preset where id = ?", (id,))
