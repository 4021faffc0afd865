"""OpenEXR (2.0) written and read some rows at a time, as half or float."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from pathlib import Path
from typing import Any

import Imath
import numpy as np
import OpenEXR
from numpy.typing import NDArray

_PIXELS = {"float16": Imath.PixelType.HALF, "float32": Imath.PixelType.FLOAT}


class ExrWriter:
    """Writes rows of shape (n, width, channels), north first, each channel under its name.

    Parameters
    ----------
    path : Path
        The file; made or replaced.
    width, height : int
        Size in pixels.
    names : sequence of str
        Of the channels, in the rows' order.
    type : str
        ``float16`` or ``float32``.
    primaries : sequence of float
        Red, green, blue and white, x and y of each; left out where empty.
    """

    def __init__(
        self, path: Path, width: int, height: int, names: Sequence[str], type: str, primaries: Sequence[float] = ()
    ) -> None:
        self._names, self._type, self._left = tuple(names), np.dtype(type), height
        header = OpenEXR.Header(width, height)
        header["compression"] = Imath.Compression(Imath.Compression.ZIP_COMPRESSION)
        header["channels"] = {name: Imath.Channel(Imath.PixelType(_PIXELS[type])) for name in names}
        if primaries:
            points = [Imath.V2f(primaries[k], primaries[k + 1]) for k in range(0, 8, 2)]
            header["chromaticities"] = Imath.Chromaticities(*points)
        self._file = OpenEXR.OutputFile(str(path), header)

    def write(self, rows: NDArray[Any]) -> None:
        """Add rows."""
        planes = {
            name: np.ascontiguousarray(rows[..., k], self._type).tobytes() for k, name in enumerate(self._names)
        }
        self._file.writePixels(planes, len(rows))
        self._left -= len(rows)

    def finish(self) -> None:
        """Make the file whole."""
        self._file.close()
        if self._left != 0:
            raise ValueError(f"{self._left} rows are missing")

    def close(self) -> None:
        """Let go of the file, whole or not."""
        self._file.close()


def bands(path: Path, names: Sequence[str], type: str, rows: int) -> Iterator[NDArray[Any]]:
    """Yield a file's rows, so many at a time, shape (n, width, channels)."""
    file, kind = OpenEXR.InputFile(str(path)), Imath.PixelType(_PIXELS[type])
    try:
        window = file.header()["dataWindow"]
        width, height = window.max.x - window.min.x + 1, window.max.y - window.min.y + 1
        for first in range(0, height, rows):
            last = min(first + rows, height)
            planes = [np.frombuffer(file.channel(name, kind, first, last - 1), type) for name in names]
            yield np.stack([plane.reshape(last - first, width) for plane in planes], axis=-1)
    finally:
        file.close()
