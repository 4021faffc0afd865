"""A folder of results by content name that can always be made anew; the least used goes when it is full."""

from __future__ import annotations

import os
import re
import tempfile
from collections.abc import Mapping
from pathlib import Path
from typing import Any

from numpy.typing import NDArray

from elvatch.store import blocks
from elvatch.store.blocks import About, Arrays, Later
from elvatch.store.paths import inside

_NAME = re.compile(r"[0-9a-f]{40}")


class Shelf:
    """Arrays on disk, mapped when asked for.

    Parameters
    ----------
    folder : Path
        Where they lie; made when missing.
    kind : str
        What they are, with the version of their layout: those of another are made anew.
    most_bytes : int
        How much is kept; the newest stays whatever it weighs.
    """

    ENDING = ".arrays"

    def __init__(self, folder: Path, kind: str, most_bytes: int) -> None:
        self._folder, self._kind, self._most_bytes = folder, kind, most_bytes

    def path(self, name: str) -> Path:
        """Return where a result lies, whether it is there or not."""
        if not _NAME.fullmatch(name):
            raise ValueError(f"{name!r} is no content name")
        return inside(self._folder, f"{name}{self.ENDING}")

    def get(self, name: str) -> tuple[Arrays, About] | None:
        """Return a result's arrays, mapped, and what is said about them; None when it is not there or not whole."""
        path = self.path(name)
        try:
            found = blocks.open_mapped(path, self._kind)
            path.touch()
        except blocks.DamagedError:
            path.unlink(missing_ok=True)
            return None
        except OSError:
            return None
        return found

    def put(self, name: str, arrays: Mapping[str, NDArray[Any] | Later], about: About) -> bool:
        """Keep a result, on disk when this returns; a full disk keeps nothing and harms nothing."""
        try:
            self._folder.mkdir(parents=True, exist_ok=True)
            handle, temporary = tempfile.mkstemp(prefix=".new-", dir=self._folder)
            try:
                with os.fdopen(handle, "wb") as stream:
                    blocks.write(stream, self._kind, arrays, about)
                    stream.flush()
                    os.fsync(stream.fileno())
                Path(temporary).replace(self.path(name))
            except BaseException:
                Path(temporary).unlink(missing_ok=True)
                raise
            self._clear()
        except OSError:
            return False
        return True

    def sweep(self) -> None:
        """Remove what was not finished when an earlier process ended, and what earlier versions kept."""
        for path in self._folder.glob("*"):
            if path.suffix != self.ENDING or not _NAME.fullmatch(path.stem):
                path.unlink(missing_ok=True)

    def _clear(self) -> None:
        kept = sorted(self._folder.glob(f"*{self.ENDING}"), key=lambda path: path.stat().st_mtime)
        total = sum(path.stat().st_size for path in kept)
        for path in kept[:-1]:
            if total <= self._most_bytes:
                break
            total -= path.stat().st_size
            path.unlink(missing_ok=True)


class Shelved:
    """Results of one kind on a shelf of their own, by the name of what led to them.

    Parameters
    ----------
    folder : Path
        Where they lie.
    most_bytes : int, optional
        How much is kept; what is usual for the kind where left out.
    """

    KIND: str
    MOST_BYTES: int

    def __init__(self, folder: Path, most_bytes: int | None = None) -> None:
        self._shelf = Shelf(folder, self.KIND, self.MOST_BYTES if most_bytes is None else most_bytes)

    def sweep(self) -> None:
        """Remove what was not finished when an earlier process ended."""
        self._shelf.sweep()
