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
from elvatch.store import history

_MIGRATIONS = (
    "schema.sql",
    "schema_2.sql",
    "schema_3.sql",
    "schema_4.sql",
    "schema_5.sql",
    "schema_6.sql",
    "schema_7.sql",
    "schema_8.sql",
)
_SPARE_BYTES = 8 << 20


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
        """A transaction: committed to disk at the end, undone on any error; one inside another is part of it."""
        connection = self._connection()
        if connection.in_transaction:
            yield connection
            return
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
        connection = self._connection()
        if self._version(connection) > len(_MIGRATIONS):
            raise RefusalError(
                str(self._path),
                f"database version {self._version(connection)}",
                f"version {len(_MIGRATIONS)} or earlier",
                "open it with a newer Elvatch",
            )
        connection.create_function("packed", 1, history.packed, deterministic=True)
        # tables may be renamed and made anew without what refers to them by name being changed
        connection.execute("pragma foreign_keys = off")
        connection.execute("pragma legacy_alter_table = on")
        for number, name in enumerate(_MIGRATIONS, start=1):
            if self._version(connection) >= number:
                continue
            sql = resources.files("elvatch.store").joinpath(name).read_text("utf-8")
            with self.writing() as db:
                # who opened the folder at the same moment may have done it meanwhile
                if self._version(db) < number:
                    for statement in statements(sql):
                        db.execute(statement)
                    db.execute(f"pragma user_version = {number}")
        connection.execute("pragma legacy_alter_table = off")
        connection.execute("pragma foreign_keys = on")

    @staticmethod
    def _version(connection: sqlite3.Connection) -> int:
        return int(connection.execute("pragma user_version").fetchone()[0])

    def give_back(self) -> int:
        """Give room that nothing needs any more back to the disk; return how many bytes that was."""
        connection = self._connection()
        page, free, pages = (
            int(connection.execute(f"pragma {what}").fetchone()[0])
            for what in ("page_size", "freelist_count", "page_count")
        )
        if free * page < _SPARE_BYTES or free * 4 < pages:
            return 0
        try:
            connection.execute("vacuum")
            connection.execute("pragma wal_checkpoint(truncate)")
        except sqlite3.OperationalError:
            return 0  # no room for the copy that it needs: another time
        return free * page


def statements(sql: str) -> Iterator[str]:
    """Yield the statements of a script one by one, so that they can stand in one transaction."""
    statement = ""
    for line in sql.splitlines(keepends=True):
        statement += line
        if sqlite3.complete_statement(statement):
            yield statement
            statement = ""
