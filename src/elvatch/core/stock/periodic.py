"""Maps derived from one seamless height: everything wraps round at the edges."""

from __future__ import annotations

import math
from collections.abc import Callable, Iterator
from concurrent.futures import ThreadPoolExecutor

import numpy as np
import scipy.fft
from numpy.typing import NDArray

from elvatch.core.kernel import kernel
from elvatch.core.parallel import WORKERS, over_bands

Map = NDArray[np.float32]


def slopes(height_m: Map, pixel_m: float) -> NDArray[np.float32]:
    """Return the rise per metre of a seamless height, by central differences with wrap.

    Parameters
    ----------
    height_m : ndarray, shape (rows, cols), float32
        Metres, row 0 north.
    pixel_m : float
        Metres per pixel.

    Returns
    -------
    ndarray, shape (rows, cols, 2), float32
        (dh/dx, dh/dy), x east (along a row), y north (up the picture).
    """
    out = np.empty((*height_m.shape, 2), np.float32)
    out[..., 0] = (np.roll(height_m, -1, 1) - np.roll(height_m, 1, 1)) / (2 * pixel_m)
    out[..., 1] = (np.roll(height_m, 1, 0) - np.roll(height_m, -1, 0)) / (2 * pixel_m)
    return out


def blur(values: Map, sigma_px: float) -> Map:
    """Return a seamless map blurred by a Gaussian of ``sigma_px`` pixels, by FFT."""
    rows, cols = values.shape
    fy = scipy.fft.fftfreq(rows)[:, None]
    fx = scipy.fft.rfftfreq(cols)[None, :]
    gain = np.exp(-2.0 * (math.pi * sigma_px) ** 2 * (fx * fx + fy * fy)).astype(np.float32)
    spectrum = scipy.fft.rfft2(values.astype(np.float32), workers=-1) * gain
    return scipy.fft.irfft2(spectrum, s=values.shape, workers=-1).astype(np.float32)


_DIRECTIONS = 8


@kernel
def _occlusion_rows(
    padded: Map, pad: int, offsets: NDArray[np.int64], away_m: Map, highest: Map, out: Map, a: int, b: int
) -> None:
    cols = out.shape[1]
    for row in range(a, b):
        out[row, :] = 0.0
        for k in range(offsets.shape[0]):
            highest[:] = 0.0
            for step in range(offsets.shape[1]):
                there, along = row + pad + offsets[k, step, 0], pad + offsets[k, step, 1]
                steeper = np.float32(1.0) / away_m[k, step]
                for col in range(cols):
                    rise = (padded[there, col + along] - padded[row + pad, col + pad]) * steeper
                    highest[col] = max(highest[col], rise)
            for col in range(cols):
                out[row, col] += np.float32(1.0) / (np.float32(1.0) + highest[col] * highest[col])
        for col in range(cols):
            out[row, col] /= np.float32(offsets.shape[0])


def occlusion(height_m: Map, pixel_m: float, reach_m: float) -> Map:
    """Return the part of the sky that each place of a seamless height sees, 0..1.

    Horizon angles in eight directions (after Yokoyama 2002), cosine weighted.

    Parameters
    ----------
    height_m : ndarray, shape (rows, cols), float32
        Metres.
    pixel_m : float
        Metres per pixel.
    reach_m : float
        How far obstacles are looked for, metres.
    """
    steps, step = [], 1.0
    while step < max(reach_m / pixel_m, 1.5):
        steps.append(step)
        step = step * 1.45 + 0.5
    # along rows, columns and diagonals, so that every step meets a sample
    angles = 2.0 * math.pi * np.arange(_DIRECTIONS) / _DIRECTIONS
    ways = np.stack([np.sin(angles), np.cos(angles)], 1)
    offsets = np.rint(ways[:, None, :] * np.array(steps)[None, :, None]).astype(np.int64)
    away_m = (np.hypot(offsets[..., 0], offsets[..., 1]) * pixel_m).astype(np.float32)
    # whole repeats round it: a place asks beyond the edge as it asks within
    pad = int(np.abs(offsets).max())
    padded = np.ascontiguousarray(np.pad(height_m, pad, mode="wrap"), np.float32)
    out = np.empty_like(height_m)
    cols = height_m.shape[1]

    def work(a: int, b: int) -> None:
        _occlusion_rows(padded, pad, offsets, away_m, np.empty(cols, np.float32), out, a, b)

    over_bands(height_m.shape[0], work)
    return out


def halve(values: NDArray[np.float32]) -> NDArray[np.float32]:
    """Return the 2 x 2 means of a map with even sides; further axes are kept."""
    pairs = values[0::2] + values[1::2]
    return (pairs[:, 0::2] + pairs[:, 1::2]) * np.float32(0.25)


def soften(values: NDArray[np.float32]) -> NDArray[np.float32]:
    """Return a seamless map a little smoothed: each pixel half itself and half its four neighbours."""
    around = np.roll(values, 1, 0) + np.roll(values, -1, 0) + np.roll(values, 1, 1) + np.roll(values, -1, 1)
    return values * np.float32(0.5) + around * np.float32(0.125)


_ROWS_AT_ONCE = 64


def row_bands(rows: int) -> Iterator[slice]:
    """Some rows at a time, an even number of them where there are more: for maps too large to be held twice."""
    for first in range(0, rows, _ROWS_AT_ONCE):
        yield slice(first, min(first + _ROWS_AT_ONCE, rows))


def halved_rows(rows: int, numbers: Callable[[slice], NDArray[np.float32]]) -> NDArray[np.float32]:
    """Return the 2 x 2 means of a map whose numbers are made some rows at a time; see :func:`halve`.

    Parameters
    ----------
    rows : int
        How many it has, an even number.
    numbers : callable
        Returns some of its rows.
    """
    first, *others = row_bands(rows)
    begun = halve(numbers(first))
    out = np.empty((rows // 2, *begun.shape[1:]), np.float32)
    out[: len(begun)] = begun

    def work(some: slice) -> None:
        out[some.start // 2 : some.stop // 2] = halve(numbers(some))

    with ThreadPoolExecutor(WORKERS) as pool:
        list(pool.map(work, others))
    return out
