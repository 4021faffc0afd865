"""A single-channel overlay stored for filtered lookups: its value and how it rises, in every size.

Four numbers a texel, 16 bits each. The value is what the overlay's range makes of it, so that averages are of
what is shown; slopes are kept beside it, in value per texel of the finest level, with their root mean square,
so that relief made of it is lit right and what an average loses comes back as roughness (Olano & Baker 2010).
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from elvatch.core.kernel import kernel
from elvatch.core.parallel import over_bands
from elvatch.core.refusal import RefusalError

VALUE, RISE_RIGHT, RISE_UP, RISE_RMS = range(4)
CHANNELS = 4
CODES = 65536
_MOST = 65535.0
_RISE_CODE = 65534.0
SCALE = np.array([1 / _MOST, 1 / _RISE_CODE, 1 / _RISE_CODE, 1 / _MOST], np.float32)
SHIFT = np.array([0.0, -0.5, -0.5, 0.0], np.float32)


@dataclass(frozen=True)
class OverlaySheet:
    """A stored overlay.

    Parameters
    ----------
    texels : ndarray, shape (n, 4), uint16
        Level 0 row by row, then each smaller level; ``number = texel * SCALE + SHIFT``.
    size : int
        Pixels along a side of level 0, a power of two.
    name : str
        Content name of the overlay and its range.
    """

    texels: NDArray[np.uint16]
    size: int
    name: str

    @property
    def mean(self) -> NDArray[np.float32]:
        """The four numbers averaged over the whole sheet (its smallest level)."""
        result: NDArray[np.float32] = (self.texels[-1].astype(np.float32) * SCALE + SHIFT).astype(np.float32)
        return result


@kernel
def _finest(codes: NDArray[np.uint16], table: NDArray[np.float32], out: NDArray[np.uint16], a: int, b: int) -> None:
    side = codes.shape[0]
    for row in range(a, b):
        up, down = (row - 1) % side, (row + 1) % side
        for col in range(side):
            left, right = (col - 1) % side, (col + 1) % side
            rise_right = 0.5 * (table[codes[row, right]] - table[codes[row, left]])
            rise_up = 0.5 * (table[codes[up, col]] - table[codes[down, col]])
            rms = np.sqrt(rise_right * rise_right + rise_up * rise_up)
            at = row * side + col
            out[at, VALUE] = np.uint16(table[codes[row, col]] * _MOST + 0.5)
            out[at, RISE_RIGHT] = np.uint16((rise_right + 0.5) * _RISE_CODE + 0.5)
            out[at, RISE_UP] = np.uint16((rise_up + 0.5) * _RISE_CODE + 0.5)
            out[at, RISE_RMS] = np.uint16(rms * _MOST + 0.5)


@kernel
def _halved(fine: NDArray[np.uint16], out: NDArray[np.uint16], side: int, a: int, b: int) -> None:
    """Fill rows of a level of ``side`` pixels from the one twice as fine."""
    for row in range(a, b):
        for col in range(side):
            first = 4 * row * side + 2 * col
            for k in range(RISE_RMS):
                total = (
                    int(fine[first, k])
                    + int(fine[first + 1, k])
                    + int(fine[first + 2 * side, k])
                    + int(fine[first + 2 * side + 1, k])
                )
                out[row * side + col, k] = np.uint16((total + 2) // 4)
            squares = 0.0
            for k in range(4):
                one = float(fine[first + (k & 1) + (2 * side if k > 1 else 0), RISE_RMS])
                squares += 0.25 * one * one
            out[row * side + col, RISE_RMS] = np.uint16(np.sqrt(squares) + 0.5)


def build(codes: NDArray[np.uint16], table: NDArray[np.float32], name: str) -> OverlaySheet:
    """Store an overlay for filtered lookups.

    Parameters
    ----------
    codes : ndarray, shape (n, n), uint16
        The overlay as it is kept; n a power of two from 1 to 8192.
    table : ndarray, shape (65536,), float32
        What its range makes of each code, 0..1.
    name : str
        Content name of both.

    Raises
    ------
    RefusalError
        When it is not square or no power of two.
    """
    size = codes.shape[0]
    if codes.shape != (size, size) or size & (size - 1) or not 1 <= size <= 8192:
        raise RefusalError(
            "overlay",
            f"{codes.shape[1]} x {codes.shape[0]} pixels",
            "a square of a power of two to 8192",
            "resize the image",
        )
    texels = np.empty(((4 * size * size - 1) // 3, CHANNELS), np.uint16)
    fine = texels[: size * size]
    over_bands(size, lambda a, b: _finest(codes, table, fine, a, b), least=64)
    first, side = size * size, size // 2
    while side >= 1:
        coarse = texels[first : first + side * side]
        _fill(fine, coarse, side)
        fine, first, side = coarse, first + side * side, side // 2
    return OverlaySheet(texels, size, name)


def _fill(fine: NDArray[np.uint16], coarse: NDArray[np.uint16], side: int) -> None:
    over_bands(side, lambda a, b: _halved(fine, coarse, side, a, b), least=64)
