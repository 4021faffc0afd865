"""Who works on a data folder: locks that end with the process that holds them, however it ends."""

from __future__ import annotations

import json
import os
import sys
import time
from datetime import UTC, datetime
from pathlib import Path
from types import TracebackType
from typing import BinaryIO, Self

from elvatch.core.refusal import RefusalError

_BEYOND = 1 << 30
"""Where the locked byte stands: far behind what the file tells, so that others may read that."""


def _try(stream: BinaryIO, shared: bool) -> bool:
    """Lock a file unless somebody else has; the system lets go of it when the process ends."""
    try:
        if sys.platform == "win32":
            import msvcrt

            stream.seek(_BEYOND)
            msvcrt.locking(stream.fileno(), msvcrt.LK_NBLCK, 1)
        else:
            import fcntl

            fcntl.flock(stream, (fcntl.LOCK_SH if shared else fcntl.LOCK_EX) | fcntl.LOCK_NB)
    except OSError:
        return False
    return True


class Lock:
    """A file that one process holds, or several that share it.

    What a file of an earlier process says counts for nothing: only the system's own lock does.

    Parameters
    ----------
    path : Path
        The file; made when missing.
    shared : bool
        Whether others that share may hold it too (on Windows nobody shares).
    """

    def __init__(self, path: Path, shared: bool = False) -> None:
        self._path, self._shared = path, shared
        self._stream: BinaryIO | None = None

    def take(self, wait_s: float = 0.0) -> bool:
        """Return whether it is held now, after waiting for no longer than that."""
        stream = self._path.open("a+b")
        until = time.monotonic() + wait_s
        while not _try(stream, self._shared):
            if time.monotonic() >= until:
                stream.close()
                return False
            time.sleep(0.05)
        self._stream = stream
        return True

    def tell(self, **what: object) -> None:
        """Write beside the lock who holds it."""
        if self._stream is not None:
            told = {"process": os.getpid(), "since": datetime.now(UTC).isoformat(timespec="seconds"), **what}
            self._stream.truncate(0)
            self._stream.write(json.dumps(told).encode())
            self._stream.flush()

    def holder(self) -> str:
        """Return who holds it, in words, as far as the holder has told."""
        try:
            told = json.loads(self._path.read_bytes()[:2000])
            where = f" at {told['address']}" if "address" in told else ""
            return f"process {int(told['process'])}{where}, since {str(told['since'])[:40]}"
        except (OSError, ValueError, TypeError, KeyError):
            return "another process"

    def release(self) -> None:
        """Let go."""
        if self._stream is not None:
            self._stream.close()
            self._stream = None

    def __enter__(self) -> Self:
        return self

    def __exit__(
        self, kind: type[BaseException] | None, error: BaseException | None, trace: TracebackType | None
    ) -> None:
        self.release()


def opening(folder: Path) -> Lock:
    """Return the lock under which a data folder is opened and brought up to date, held."""
    return _waited_for(Lock(folder / "opening.lock"), folder, "which is opening it")


def using(folder: Path) -> Lock:
    """Return the lock that commands share while they work on a data folder, held."""
    return _waited_for(Lock(folder / "using.lock", shared=True), folder, "which is clearing it up")


def _waited_for(lock: Lock, folder: Path, doing: str) -> Lock:
    if not lock.take(120):
        raise RefusalError(str(folder), f"{lock.holder()}, {doing}", "a folder that is free", "try again later")
    lock.tell()
    return lock


def clearing(folder: Path) -> Lock | None:
    """Return the lock of one who clears a data folder up, or None while a command works on it."""
    lock = Lock(folder / "using.lock")
    return lock if lock.take() else None


def serving(folder: Path) -> Lock:
    """Return the lock of the one server of a data folder, held.

    Raises
    ------
    RefusalError
        When another server has it; says who.
    """
    lock = Lock(folder / "server.lock")
    if not lock.take():
        raise RefusalError(
            str(folder),
            f"another server on this data folder ({lock.holder()})",
            "one server a folder",
            "open that one, end it, or choose another folder with --data",
        )
    lock.tell()
    return lock
