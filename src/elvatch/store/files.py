"""Content-addressed files: a file's name is the digest of its bytes, so it can only be whole."""

from __future__ import annotations

import os
import re
import sys
import tempfile
import threading
from collections import Counter
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from pathlib import Path

from elvatch.core import digest
from elvatch.core.refusal import RefusalError, of_disk
from elvatch.store.database import Database, now
from elvatch.store.paths import inside

_NAME = re.compile(r"[0-9a-f]{40}")


class Files:
    """Files beside the database, by content.

    Parameters
    ----------
    folder : Path
        Where they lie.
    database : Database
        Knows which there are.
    """

    def __init__(self, folder: Path, database: Database) -> None:
        self._folder, self._database = folder, database
        self._held: Counter[str] = Counter()
        self._holding = threading.Lock()

    def path(self, name: str) -> Path:
        """Return where a file lies; the name must be a content name."""
        if not _NAME.fullmatch(name):
            raise RefusalError("file name", repr(name[:60]), "40 hex digits", "use a name that the store gave")
        return inside(self._folder, name[:2], name[2:])

    def put(self, data: bytes) -> str:
        """Store bytes, on disk before this returns; return their content name."""
        name = digest.of_bytes(data)
        path = self.path(name)
        if not path.exists():
            _keep(path, data)
        with self._database.writing() as db:
            db.execute("insert or ignore into file values (?, ?, ?)", (name, len(data), now()))
            # whoever lets a file go does so in a transaction too: what went before this one is put back
            if not path.exists():
                _keep(path, data)
        return name

    def get(self, name: str) -> bytes:
        """Return a file's bytes."""
        try:
            return self.path(name).read_bytes()
        except FileNotFoundError:
            raise RefusalError("file", f"no file {name}", "a file in the store", "bring it in again") from None

    def collect(self) -> int:
        """Remove files that nothing refers to, unknown and unfinished ones; return how many went that were known.

        For a time when nobody else brings files in: one that is on disk but not yet known would go too.
        """
        with self._database.writing() as db:
            loose = [row["name"] for row in db.execute(f"select name from file where {_LOOSE}")]
            db.executemany("delete from file where name = ?", [(name,) for name in loose])
            for name in loose:
                self.path(name).unlink(missing_ok=True)
            known = {row["name"] for row in db.execute("select name from file")}
            for path in self._folder.glob("*/*"):
                if path.parent.name + path.name not in known:
                    path.unlink(missing_ok=True)
        return len(loose)

    @contextmanager
    def putting(self) -> Iterator[Callable[[bytes], str]]:
        """Give what stores bytes for something that is about to refer to them.

        When that fails they go again, unless something refers to them or somebody else is putting the same.
        """
        names: list[str] = []

        def put(data: bytes) -> str:
            name = digest.of_bytes(data)
            with self._holding:
                self._held[name] += 1
            names.append(name)
            return self.put(data)

        try:
            yield put
        except BaseException:
            self._release(names, forget=True)
            raise
        self._release(names, forget=False)

    def _release(self, names: list[str], forget: bool) -> None:
        with self._holding:
            self._held.subtract(names)
            free = [name for name in dict.fromkeys(names) if self._held[name] <= 0]
            for name in free:
                del self._held[name]
            if forget:
                self.let_go(free)

    def let_go(self, names: list[str]) -> None:
        """Remove those of these files that nothing refers to."""
        for name in dict.fromkeys(names):
            with self._database.writing() as db:
                if db.execute(f"delete from file where name = ? and {_LOOSE}", (name,)).rowcount:
                    self.path(name).unlink(missing_ok=True)


_LOOSE = (
    "name not in (select file from site_file) and name not in (select file from snapshot_file) "
    "and name not in (select file from set_file) and name not in (select file from kept_light_file) "
    "and name not in (select file from kept_ground_file) and name not in (select file from kept_thing_file) "
    "and name not in (select swatch from set_revision) and name not in (select swatch from texture_set) "
    "and name not in (select texels from texture_set_1) and name not in (select swatch from texture_set_1)"
)


def _keep(path: Path, data: bytes) -> None:
    try:
        _write_beside(path, data)
    except OSError as error:
        raise of_disk(path.parent, error) from None


def _write_beside(path: Path, data: bytes) -> None:
    """Write a file under a temporary name, on disk, and rename it."""
    path.parent.mkdir(parents=True, exist_ok=True)
    handle, temporary = tempfile.mkstemp(prefix=".new-", dir=path.parent)
    try:
        with os.fdopen(handle, "wb") as stream:
            stream.write(data)
            stream.flush()
            os.fsync(stream.fileno())
        Path(temporary).replace(path)
        _sync_folder(path.parent)
    except BaseException:
        Path(temporary).unlink(missing_ok=True)
        raise


def _sync_folder(folder: Path) -> None:
    if sys.platform == "win32":
        return  # where folders cannot be opened; a rename is on disk there when it returns
    handle = os.open(folder, os.O_RDONLY)
    try:
        os.fsync(handle)
    finally:
        os.close(handle)
