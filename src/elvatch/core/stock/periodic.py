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
def _between(height: Map, row: float, col: float) -> float:
    """Return the bilinear height at a place between samples, wrapping round."""
    rows, cols = height.shape
    fr, fc = math.floor(row), math.floor(col)
    r0, c0 = int(fr) % rows, int(fc) % cols
    r1, c1 = (r0 + 1) % rows, (c0 + 1) % cols
    v, u = row - fr, col - fc
    top = height[r0, c0] + (height[r0, c1] - height[r0, c0]) * u
    return float(top + (height[r1, c0] + (height[r1, c1] - height[r1, c0]) * u - top) * v)


@kernel
def _occlusion_rows(height: NDArray[np.float32], pixel_m: float, reach: float, out: Map, a: int, b: int) -> None:
    cols = height.shape[1]
    for row in range(a, b):
        for col in range(cols):
            here = height[row, col]
            open_sky = 0.0
            for k in range(_DIRECTIONS):
                angle = 2.0 * math.pi * (k + 0.37) / _DIRECTIONS
                dc, dr = math.cos(angle), math.sin(angle)
                highest = 0.0
                step = 1.0
                while step < reach:
                    there = _between(height, row + dr * step, col + dc * step)
                    highest = max(highest, (there - here) / (step * pixel_m))
                    step = step * 1.45 + 0.5
                open_sky += 1.0 / (1.0 + highest * highest)
            out[row, col] = open_sky / _DIRECTIONS


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
    out = np.empty_like(height_m)
    reach = reach_m / pixel_m
    over_bands(height_m.shape[0], lambda a, b: _occlusion_rows(height_m, pixel_m, reach, out, a, b))
    return out


def halve(values: NDArray[np.float32]) -> NDArray[np.float32]:
    """Return the 2 x 2 means of a map with even sides; further axes are kept."""
    pairs = values[0::2] + values[1::2]
    return (pairs[:, 0::2] + pairs[:, 1::2]) * np.float32(0.25)


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
