"""Files that were dropped and not yet decided on: each drop in a folder of its own, gone when it is done with."""

from __future__ import annotations

import re
import secrets
import shutil
import threading
import time
from collections.abc import Callable, Iterator
from pathlib import Path

from pydantic import BaseModel

from elvatch.core.refusal import RefusalError, of_disk
from elvatch.core.stock import archive
from elvatch.store.paths import inside

_ID = re.compile(r"[0-9a-f]{16}")
_MOST_FILES = 2000
_MOST_BYTES = 4 << 30
_FORGOTTEN_S = 24 * 3600


class _Index(BaseModel):
    """What a drop holds: paths as text, and the number each file has on disk."""

    title: str
    files: dict[str, str] = {}
    bytes: int = 0
    next: int = 0


class Tray:
    """All drops of a data folder. A file's own path is kept as text; on disk it is a number.

    Parameters
    ----------
    folder : Path
        Where they lie.
    """

    def __init__(self, folder: Path) -> None:
        self._folder = folder
        self._lock = threading.Lock()
        self._taken: set[str] = set()

    def begin(self, title: str) -> str:
        """Start a drop; ``title`` names a set whose files name none."""
        self._forget_old()
        drop = secrets.token_hex(8)
        try:
            (self._folder / drop).mkdir(parents=True)
            self._write(drop, _Index(title=" ".join(title.split())[:80] or "New set"))
        except OSError as error:
            raise of_disk("the drop", error) from None
        return drop

    def add(self, drop: str, path: str, data: bytes) -> int:
        """Put a file in, a zip unpacked; return how many files that gave.

        Raises
        ------
        RefusalError
            When the drop has become too large, or a zip is unsafe or damaged; nothing of it is kept.
        """
        if not archive.is_zip(data):
            return self._put(drop, iter([(path, data)])) if archive.wanted(path) else 0
        name = Path(path).stem
        # one file after the other: what is unpacked is never in memory all at once
        return self._put(drop, ((f"{name}/{one.path}", one.data) for one in archive.members(Path(path).name, data)))

    def files(self, drop: str) -> dict[str, Callable[[], bytes]]:
        """Return what gives each file's bytes, by its path as text."""
        folder, known = self._open(drop), self._read(drop).files
        return {path: (folder / number).read_bytes for path, number in known.items()}

    def title(self, drop: str) -> str:
        """Return what the drop was called."""
        return self._read(drop).title

    def clear(self, drop: str) -> None:
        """Remove a drop; one that is gone already is no matter."""
        if _ID.fullmatch(drop):
            shutil.rmtree(self._folder / drop, ignore_errors=True)

    def _forget_old(self) -> None:
        """Remove drops that nobody has touched for a day: their windows were closed."""
        long_ago = time.time() - _FORGOTTEN_S
        for folder in self._folder.glob("*"):
            if folder.is_dir() and folder.stat().st_mtime < long_ago:
                shutil.rmtree(folder, ignore_errors=True)

    def clear_all(self) -> None:
        """Remove every drop that an earlier run left."""
        shutil.rmtree(self._folder, ignore_errors=True)

    def _put(self, drop: str, found: Iterator[tuple[str, bytes]]) -> int:
        folder = self._open(drop)
        with self._lock:
            index = self._read(drop)
            files, written = dict(index.files), list[Path]()
            try:
                for count, (path, data) in enumerate(found, start=1):
                    index.bytes += len(data)
                    if len(index.files) + count > _MOST_FILES or index.bytes > _MOST_BYTES:
                        raise RefusalError(
                            "the drop",
                            f"{len(index.files) + count} files, {index.bytes / 1e9:.1f} GB",
                            f"at most {_MOST_FILES} and {_MOST_BYTES / 1e9:.1f} GB",
                            "bring it in in parts",
                        )
                    plain = path.replace("\\", "/").replace("\0", "")[-400:].encode("utf-8", "replace").decode()
                    # a file that comes again gets a number of its own too, so that a refusal leaves the first
                    written.append(folder / str(index.next))
                    index.next += 1
                    written[-1].write_bytes(data)
                    files[plain] = written[-1].name
                index.files = files
                self._write(drop, index)
            except BaseException as error:
                # the index does not know of them: the room is given back at once
                for one in written:
                    one.unlink(missing_ok=True)
                if isinstance(error, OSError):
                    raise of_disk("the drop", error) from None
                raise
        return len(written)

    def take(self, drop: str) -> None:
        """Take a drop to bring it in: nobody else brings it in until it is given back or cleared.

        Raises
        ------
        RefusalError
            When somebody has it already, or it is gone.
        """
        self._open(drop)
        with self._lock:
            if drop in self._taken:
                raise RefusalError(
                    "the drop", "files that are being brought in already", "a drop to be kept once", "wait for that"
                )
            self._taken.add(drop)

    def give_back(self, drop: str) -> None:
        """Let somebody else take a drop."""
        with self._lock:
            self._taken.discard(drop)

    def _open(self, drop: str) -> Path:
        folder = inside(self._folder, drop) if _ID.fullmatch(drop) else self._folder
        if not _ID.fullmatch(drop) or not folder.is_dir():
            raise RefusalError("the drop", "files that are no longer there", "a drop of this run", "drop them again")
        return folder

    def _read(self, drop: str) -> _Index:
        return _Index.model_validate_json((self._open(drop) / "index.json").read_text("utf-8"))

    def _write(self, drop: str, index: _Index) -> None:
        path = self._folder / drop / "index.json"
        beside = path.with_suffix(".new")
        beside.write_text(index.model_dump_json(), "utf-8")
        beside.replace(path)
