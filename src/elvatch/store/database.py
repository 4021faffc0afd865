"""The database: one SQLite file, plain SQL, numbered migrations, every commit on disk."""

from __future__ import annotations

import sqlite3
import threading
from collections.abc import Iterator
from contextlib import contextmanager
from datetime import UTC, datetime
from importlib import resources
from pathlib import Path

from elvatch.core.refusal import RefusalError

_MIGRATIONS = ("schema.sql", "schema_2.sql", "schema_3.sql")


def now() -> str:
    """Return the present moment as stored: UTC, ISO 8601, to the millisecond."""
    return datetime.now(UTC).isoformat(timespec="milliseconds")


def plain_title(title: str) -> str:
    """Return a name as it is kept, spaces evened out.

    Raises
    ------
    RefusalError
        When it is empty or too long.
    """
    plain = " ".join(title.split())
    if not 1 <= len(plain) <= 80:
        raise RefusalError("name", f"{len(plain)} characters", "1 to 80", "enter a shorter or longer name")
    return plain


class Database:
    """A connection for each thread, and transactions that are on disk when they end.

    Parameters
    ----------
    path : Path
        The database file; made with its schema when missing.
    """

    def __init__(self, path: Path) -> None:
        self._path, self._local = path, threading.local()
        self._migrate()

    def _connection(self) -> sqlite3.Connection:
        kept: sqlite3.Connection | None = getattr(self._local, "connection", None)
        if kept is None:
            kept = sqlite3.connect(self._path, timeout=20, isolation_level=None)
            kept.row_factory = sqlite3.Row
            kept.execute("pragma journal_mode = wal")
            kept.execute("pragma synchronous = full")
            kept.execute("pragma foreign_keys = on")
            self._local.connection = kept
        return kept

    @contextmanager
    def reading(self) -> Iterator[sqlite3.Connection]:
        """A connection to read from."""
        yield self._connection()

    @contextmanager
    def writing(self) -> Iterator[sqlite3.Connection]:
        """A transaction: committed to disk at the end, undone on any error."""
        connection = self._connection()
        try:
            connection.execute("begin immediate")
            try:
                yield connection
            except BaseException:
                connection.execute("rollback")
                raise
            connection.execute("commit")
        except sqlite3.OperationalError as error:
            raise RefusalError(
                str(self._path), str(error), "room and permission to write", "free the data folder and try again"
            ) from None

    def _migrate(self) -> None:
        with self.reading() as connection:
            version: int = connection.execute("pragma user_version").fetchone()[0]
        if version > len(_MIGRATIONS):
            raise RefusalError(
                str(self._path), f"database version {version}", f"version {len(_MIGRATIONS)} or earlier",
                "open it with a newer Elvatch",
            )  # fmt: skip
        for number, name in enumerate(_MIGRATIONS[version:], start=version + 1):
            sql = resources.files("elvatch.store").joinpath(name).read_text("utf-8")
            with self.reading() as connection:
                # tables may be renamed and made anew without what refers to them by name being changed
                connection.executescript(
                    "pragma foreign_keys = off; pragma legacy_alter_table = on; "
                    f"begin immediate; {sql}; pragma user_version = {number}; commit; "
                    "pragma legacy_alter_table = off; pragma foreign_keys = on;"
                )
