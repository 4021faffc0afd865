"""What was found where a picture looked, for where it looks now: a stroke raises the ground under a few of its
pixels, and all others see the same places as before.
"""

from __future__ import annotations

import threading

import numpy as np
from numpy.typing import NDArray

from elvatch.core.cache import Weighs
from elvatch.core.cover.asked_again import AskedAgain, AskedCover
from elvatch.core.cover.material import Material
from elvatch.core.ground.places import Places
from elvatch.core.kernel import kernel
from elvatch.core.parallel import Token, over_bands


@kernel
def _numbered(pixel: NDArray[np.int32], seen: NDArray[np.int64], nth: NDArray[np.int64]) -> None:
    """Number the places that each pixel sees, in the order in which it sees them."""
    for i in range(pixel.shape[0]):
        nth[i] = seen[pixel[i]]
        seen[pixel[i]] += 1


@kernel
def _same_band(
    before: Places,
    table: NDArray[np.int64],
    now: Places,
    pixel: NDArray[np.int32],
    nth: NDArray[np.int64],
    rows: NDArray[np.int64],
    a: int,
    b: int,
) -> None:
    for i in range(a, b):
        rows[i] = -1
        row = table[pixel[i], nth[i]] if pixel[i] < table.shape[0] and nth[i] < table.shape[1] else -1
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


def _in_order(pixel: NDArray[np.int32]) -> NDArray[np.int64]:
    nth = np.empty(len(pixel), np.int64)
    _numbered(pixel, np.zeros(int(pixel.max(initial=0)) + 1, np.int64), nth)
    return nth


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
    nth_before, nth = _in_order(pixel_before), _in_order(pixel)
    table = np.full((int(pixel_before.max()) + 1, int(nth_before.max()) + 1), -1, np.int64)
    table[pixel_before, nth_before] = np.arange(len(pixel_before))
    over_bands(len(pixel), lambda a, b: _same_band(before, table, now, pixel, nth, rows, a, b), least=16384)
    return rows


class Remembered(Weighs):
    """What is kept of a cover where one picture looks. Safe from any thread.

    Parameters
    ----------
    places : Places
        Where it looks first.
    taps : int
        Most lookups along an area that is longer than wide.
    pixel : ndarray, int32, optional
        Which pixel sees each place; without it always at the same.
    """

    def __init__(self, places: Places, taps: int, pixel: NDArray[np.int32] | None = None) -> None:
        self._places, self._pixel = places, pixel
        self._asked = AskedAgain(places, taps)
        self._lock = threading.Lock()

    @property
    def weight_bytes(self) -> int:
        """Memory that it takes by itself."""
        return self._asked.weight_bytes

    def ask(
        self, cover: AskedCover, places: Places, pixel: NDArray[np.int32] | None = None, token: Token | None = None
    ) -> Material:
        """Return what lies where the picture looks now."""
        with self._lock:
            if places is not self._places and pixel is not None and self._pixel is not None:
                self._asked.move(places, same_rows(self._places, self._pixel, places, pixel))
                self._places, self._pixel = places, pixel
            return self._asked.ask(cover, token)
