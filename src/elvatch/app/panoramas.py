"""Panoramas that light sites: brought in, drawn to begin with, made ready to light."""

from __future__ import annotations

import tempfile
from pathlib import Path

from elvatch.core.cache import Cache
from elvatch.core.document.light import Light
from elvatch.core.formats import exr, isolated
from elvatch.core.light import drawn_sky
from elvatch.core.light import panorama as panoramas
from elvatch.core.light.drawn_sky import DrawnSky
from elvatch.core.light.panorama import Panorama
from elvatch.core.results import result
from elvatch.store.store import Store


@result
class PanoramaFacts:
    """A panorama that was brought in: its stored name, its size, what was mended, whether it has a sun."""

    file: str
    file_name: str
    width_px: int
    height_px: int
    notes: list[str]
    has_sun: bool


class Panoramas:
    """Panoramas of one store.

    Parameters
    ----------
    store : Store
        Where files are kept.
    """

    def __init__(self, store: Store) -> None:
        self._store = store
        self._ready = Cache[Panorama](3)

    def bring(self, name: str, data: bytes) -> PanoramaFacts:
        """Keep a panorama once it has proved one; return what it is."""
        found = isolated.panorama(name, data)
        made = panoramas.prepare(name, found.values)
        rows, cols = found.values.shape[:2]
        return PanoramaFacts(self._store.files.put(data), name, cols, rows, list(found.notes), made.sun is not None)

    def drawn(self, kind: DrawnSky) -> PanoramaFacts:
        """Keep one of the panoramas that are drawn by code; return what it is."""
        values = drawn_sky.draw(kind)
        with tempfile.TemporaryDirectory() as folder:
            path = Path(folder) / "drawn.exr"
            exr.write(path, {"": (("R", "G", "B"), values)})
            return self.bring(f"{kind}.exr", path.read_bytes())

    def of(self, light: Light) -> Panorama | None:
        """Return the panorama of a light, ready to light; None where it has none."""
        image = light.image
        if image is None:
            return None

        def make() -> Panorama:
            found = isolated.panorama(image.file_name, self._store.files.get(image.file))
            return panoramas.prepare(image.file, found.values)

        return self._ready.get(image.file, make)
