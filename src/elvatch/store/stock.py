"""The stock: texture sets, stored for lookups and mapped into memory when they are asked for."""

from __future__ import annotations

import io
import threading
from collections.abc import Iterator, Mapping
from dataclasses import dataclass

import numpy as np

from elvatch.core.refusal import RefusalError
from elvatch.core.stock.pyramid import Pyramid
from elvatch.store.database import Database, now
from elvatch.store.files import Files


@dataclass(frozen=True)
class SetLine:
    """A set as the stock lists it."""

    name: str
    title: str
    kind: str
    seed: int
    size_px: int
    tile_m: float
    relief_m: float


class Stock(Mapping[str, Pyramid]):
    """All sets by content name; a set's texels are read from disk as they are touched.

    Parameters
    ----------
    database, files
        Where they are kept.
    """

    def __init__(self, database: Database, files: Files) -> None:
        self._database, self._files = database, files
        self._open: dict[str, Pyramid] = {}
        self._lock = threading.Lock()

    def all(self) -> list[SetLine]:
        """Return all sets by title."""
        with self._database.reading() as db:
            rows = db.execute(
                "select name, title, kind, seed, size_px, tile_m, relief_m from texture_set order by title, name"
            ).fetchall()
        return [SetLine(**dict(row)) for row in rows]

    def add(self, title: str, kind: str, seed: int, pyramid: Pyramid, swatch_png: bytes) -> str:
        """Store a set, on disk before this returns; return its content name."""
        stream = io.BytesIO()
        np.save(stream, pyramid.texels)
        texels, swatch = self._files.put(stream.getvalue()), self._files.put(swatch_png)
        name = pyramid.content_name
        with self._database.writing() as db:
            db.execute(
                "insert or ignore into texture_set values (?, ?, ?, ?, ?, ?, ?, ?, ?, ?)",
                (
                    name,
                    title,
                    kind,
                    seed,
                    pyramid.size,
                    pyramid.tile_m,
                    pyramid.relief_m,
                    texels,
                    swatch,
                    now(),
                ),
            )
        return name

    def swatch(self, name: str) -> bytes:
        """Return a set's swatch, a PNG."""
        with self._database.reading() as db:
            row = db.execute("select swatch from texture_set where name = ?", (name,)).fetchone()
        if row is None:
            raise RefusalError("texture set", f"no set {name[:40]!r}", "one in the stock", "choose another")
        return self._files.get(row["swatch"])

    def __getitem__(self, name: str) -> Pyramid:
        """Return a set's pyramid, mapped into memory."""
        with self._lock:
            if name not in self._open:
                with self._database.reading() as db:
                    row = db.execute(
                        "select texels, size_px, tile_m, relief_m from texture_set where name = ?", (name,)
                    ).fetchone()
                if row is None:
                    raise KeyError(name)
                texels = np.load(self._files.path(row["texels"]), mmap_mode="r")
                self._open[name] = Pyramid(texels, row["size_px"], row["tile_m"], row["relief_m"])
            return self._open[name]

    def __iter__(self) -> Iterator[str]:
        """Iterate over content names."""
        return iter([line.name for line in self.all()])

    def __len__(self) -> int:
        """Return how many sets there are."""
        return len(self.all())
