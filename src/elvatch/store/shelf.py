"""A folder of results by content name that can always be made anew; the least used goes when it is full."""

from __future__ import annotations

import os
import re
import tempfile
from collections.abc import Callable
from pathlib import Path
from typing import BinaryIO

_NAME = re.compile(r"[0-9a-f]{40}")


class Shelf:
    """Results on disk.

    Parameters
    ----------
    folder : Path
        Where they lie; made when missing.
    ending : str
        Of their files, with its point.
    most_bytes : int
        How much is kept; the newest stays whatever it weighs.
    """

    def __init__(self, folder: Path, ending: str, most_bytes: int) -> None:
        self._folder, self._ending, self._most_bytes = folder, ending, most_bytes

    def path(self, name: str) -> Path:
        """Return where a result lies, whether it is there or not."""
        if not _NAME.fullmatch(name):
            raise ValueError(f"{name!r} is no content name")
        return self._folder / f"{name}{self._ending}"

    def put(self, name: str, write: Callable[[BinaryIO], object]) -> bool:
        """Keep what ``write`` writes; a full disk keeps nothing and harms nothing."""
        try:
            self._folder.mkdir(parents=True, exist_ok=True)
            handle, temporary = tempfile.mkstemp(prefix=".new-", dir=self._folder)
            try:
                with os.fdopen(handle, "wb") as stream:
                    write(stream)
                Path(temporary).replace(self.path(name))
            except BaseException:
                Path(temporary).unlink(missing_ok=True)
                raise
            self._clear()
        except OSError:
            return False
        return True

    def _clear(self) -> None:
        kept = sorted(self._folder.glob(f"*{self._ending}"), key=lambda path: path.stat().st_mtime)
        total = sum(path.stat().st_size for path in kept)
        for path in kept[:-1]:
            if total <= self._most_bytes:
                break
            total -= path.stat().st_size
            path.unlink(missing_ok=True)
