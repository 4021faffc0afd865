"""What was found where a picture looked, for where it looks now: a stroke raises the ground under a few of its
pixels, and all others see the same places as before.
"""

from __future__ import annotations

import threading
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from elvatch.core.cache import Weighs
from elvatch.core.cover.asked_again import AskedAgain, AskedCover
from elvatch.core.cover.material import Material
from elvatch.core.ground.places import Places
from elvatch.core.kernel import kernel
from elvatch.core.parallel import Token, over_bands
from elvatch.core.picture.fragments import Fragments


@kernel
def _numbered(pixel: NDArray[np.int32], seen: NDArray[np.int32], nth: NDArray[np.int32]) -> None:
    """Number the places that each pixel sees, in the order in which it sees them."""
    for i in range(pixel.shape[0]):
        nth[i] = seen[pixel[i]]
        seen[pixel[i]] += 1


@kernel
def _strung(pixel: NDArray[np.int32], first: NDArray[np.int32], further: NDArray[np.int32]) -> None:
    """String together the places that each pixel sees: its first, and the next of each; -1 where there is none."""
    for back in range(pixel.shape[0]):
        i = pixel.shape[0] - 1 - back
        further[i] = first[pixel[i]]
        first[pixel[i]] = i


@kernel
def _same_band(
    before: Places,
    first: NDArray[np.int32],
    further: NDArray[np.int32],
    now: Places,
    pixel: NDArray[np.int32],
    nth: NDArray[np.int32],
    rows: NDArray[np.int64],
    a: int,
    b: int,
) -> None:
    for i in range(a, b):
        rows[i] = -1
        row = int(first[pixel[i]]) if pixel[i] < first.shape[0] else -1
        for _ in range(nth[i]):
            row = int(further[row]) if row >= 0 else -1
        if (
            row >= 0
            and before.x_m[row] == now.x_m[i]
            and before.y_m[row] == now.y_m[i]
            and before.elevation_m[row] == now.elevation_m[i]
            and before.rise_east[row] == now.rise_east[i]
            and before.rise_north[row] == now.rise_north[i]
            and before.sky[row] == now.sky[i]
            and before.across_m[row] == now.across_m[i]
            and before.along_east_m[row] == now.along_east_m[i]
            and before.along_north_m[row] == now.along_north_m[i]
        ):
            rows[i] = row


def same_rows(
    before: Places, pixel_before: NDArray[np.int32], now: Places, pixel: NDArray[np.int32]
) -> NDArray[np.int64]:
    """Return which of the places before each place is, or -1 where a pixel sees another than it did.

    Parameters
    ----------
    before, now : Places
        Where pixels of one picture looked, and where they look.
    pixel_before, pixel : ndarray, int32
        Which pixel sees each.
    """
    rows = np.full(len(pixel), -1, np.int64)
    if len(pixel) == 0 or len(pixel_before) == 0:
        return rows
    first = np.full(int(pixel_before.max()) + 1, -1, np.int32)
    further, nth = np.empty(len(pixel_before), np.int32), np.empty(len(pixel), np.int32)
    _strung(pixel_before, first, further)
    _numbered(pixel, np.zeros(int(pixel.max()) + 1, np.int32), nth)
    asked = before, first, further, now, pixel, nth, rows
    over_bands(len(pixel), lambda a, b: _same_band(*asked, a, b), least=16384)
    return rows


class Since(NamedTuple):
    """In what a picture differs from an earlier one of the same places, which ``name`` names.

    ``rows`` say which fragment of that each of its own is, -1 for none; ``boxes`` (n, 8, 3) hold all that differs,
    None where these are not known.
    """

    name: str
    rows: NDArray[np.int64]
    boxes: NDArray[np.float64] | None


@kernel
def _as_before_band(f: Fragments, g: Fragments, rows: NDArray[np.int64], a: int, b: int) -> None:
    for i in range(a, b):
        j = rows[i]
        if j < 0:
            continue
        if f.kind[i] != g.kind[j] or f.height_m[i] != g.height_m[j] or (f.weight[i] > 0.0) != (g.weight[j] > 0.0):
            rows[i] = -1
        for c in range(3):
            if f.normal[i, c] != g.normal[j, c]:
                rows[i] = -1


def since(name: str, before: Fragments, now: Fragments, boxes: NDArray[np.float64] | None) -> Since:
    """Return in what fragments differ from those of an earlier picture of this name, whose boxes are told."""
    rows = same_rows(before.places, before.pixel, now.places, now.pixel)
    over_bands(len(rows), lambda a, b: _as_before_band(now, before, rows, a, b), least=16384)
    return Since(name, rows, boxes)


class Looked(NamedTuple):
    """Where a picture looks: what names the place that it looks from, places, and which pixel sees each; None where
    they are always the same from there."""

    from_where: str
    places: Places
    pixel: NDArray[np.int32] | None = None


class Remembered(Weighs):
    """What is kept of a cover where one picture looks. Safe from any thread.

    Parameters
    ----------
    at : Looked
        Where it looks first.
    taps : int
        Most lookups along an area that is longer than wide.
    """

    def __init__(self, at: Looked, taps: int) -> None:
        self._at = at
        self._asked = AskedAgain(at.places, taps)
        self._lock = threading.Lock()

    @property
    def weight_bytes(self) -> int:
        """Memory that it takes by itself."""
        return self._asked.weight_bytes

    def ask(self, cover: AskedCover, at: Looked, token: Token | None = None) -> Material:
        """Return what lies where the picture looks now."""
        with self._lock:
            before, self._at = self._at, at
            if before.from_where != at.from_where:
                self._asked.turn(at.places)
            elif before.places is not at.places and before.pixel is not None and at.pixel is not None:
                self._asked.move(at.places, same_rows(before.places, before.pixel, at.places, at.pixel))
            return self._asked.ask(cover, token)
