"""Maps between their samples: through the samples, smooth, and filtered when there will be fewer."""

from __future__ import annotations

import math
from collections.abc import Callable

import numpy as np
from numpy.typing import NDArray

from elvatch.core.ground.blur import blur
from elvatch.core.kernel import inner, kernel
from elvatch.core.parallel import Token, over_bands

MOST_SAMPLES = 8193
"""Along a side that a ground is made or resampled to."""


@inner
def _through(a: float, b: float, c: float, d: float, t: float) -> float:
    """Return a cubic through b and c (Catmull & Rom 1974)."""
    return b + 0.5 * t * (c - a + t * (2.0 * a - 5.0 * b + 4.0 * c - d + t * (3.0 * (b - c) + d - a)))


@inner
def _at(image: NDArray[np.float32], row: int, col: int) -> float:
    """Return a sample; beyond the border the map goes straight on."""
    rows, cols = image.shape
    r, c = min(max(row, 0), rows - 1), min(max(col, 0), cols - 1)
    value = float(image[r, c])
    if row < 0:
        value += image[0, c] - image[1, c]
    elif row >= rows:
        value += image[rows - 1, c] - image[rows - 2, c]
    if col < 0:
        value += image[r, 0] - image[r, 1]
    elif col >= cols:
        value += image[r, cols - 1] - image[r, cols - 2]
    return value


@inner
def cubic_at(image: NDArray[np.float32], row: float, col: float) -> float:
    """Return a map's value between its samples; places outside take the border's."""
    rows, cols = image.shape
    row, col = min(max(row, 0.0), rows - 1.0), min(max(col, 0.0), cols - 1.0)
    r, c = min(int(row), rows - 2), min(int(col), cols - 2)
    v, u = row - r, col - c
    lines = (
        _through(
            _at(image, r - 1, c - 1), _at(image, r - 1, c), _at(image, r - 1, c + 1), _at(image, r - 1, c + 2), u
        ),
        _through(_at(image, r, c - 1), _at(image, r, c), _at(image, r, c + 1), _at(image, r, c + 2), u),
        _through(
            _at(image, r + 1, c - 1), _at(image, r + 1, c), _at(image, r + 1, c + 1), _at(image, r + 1, c + 2), u
        ),
        _through(
            _at(image, r + 2, c - 1), _at(image, r + 2, c), _at(image, r + 2, c + 1), _at(image, r + 2, c + 2), u
        ),
    )
    return _through(lines[0], lines[1], lines[2], lines[3], v)


@kernel
def _resample_rows(image: NDArray[np.float32], out: NDArray[np.float32], a: int, b: int) -> None:
    down = (image.shape[0] - 1) / (out.shape[0] - 1)
    right = (image.shape[1] - 1) / (out.shape[1] - 1)
    for row in range(a, b):
        for col in range(out.shape[1]):
            out[row, col] = cubic_at(image, row * down, col * right)


def resampled(image: NDArray[np.float32], rows: int, cols: int, token: Token | None = None) -> NDArray[np.float32]:
    """Return a map over the same ground with another number of samples, corners on corners.

    Parameters
    ----------
    image : ndarray, shape (old rows, old cols), float32
        At least 2 x 2.
    rows, cols : int
        Wanted, at least 2 each.
    token : Token, optional
        Asked between bands.

    Returns
    -------
    ndarray, shape (rows, cols), float32
        Cubic through the old samples; smoothed first where there will be fewer.
    """
    if image.shape == (rows, cols):
        return image
    fewer_x, fewer_y = (image.shape[1] - 1) / (cols - 1), (image.shape[0] - 1) / (rows - 1)
    sigma_x, sigma_y = (0.45 * math.sqrt(max(f * f - 1.0, 0.0)) for f in (fewer_x, fewer_y))
    source = blur(image, sigma_x, sigma_y, token) if sigma_x > 0.0 or sigma_y > 0.0 else image
    out = np.empty((rows, cols), np.float32)
    over_bands(rows, lambda a, b: _resample_rows(source, out, a, b), token)
    return out


@kernel
def _taken_rows(
    image: NDArray[np.float32],
    rows_at: NDArray[np.float32],
    cols_at: NDArray[np.float32],
    out: NDArray[np.float32],
    a: int,
    b: int,
) -> None:
    for row in range(a, b):
        for col in range(out.shape[1]):
            out[row, col] = cubic_at(image, rows_at[row, col], cols_at[row, col])


def taken_from(
    image: NDArray[np.float32], rows_at: NDArray[np.float32], cols_at: NDArray[np.float32], token: Token | None = None
) -> NDArray[np.float32]:
    """Return a map whose values are taken from other places of it, in samples from the north-west."""
    out = np.empty_like(image)
    over_bands(len(image), lambda a, b: _taken_rows(image, rows_at, cols_at, out, a, b), token)
    return out


def grid_of(samples: int, width_m: float, depth_m: float) -> tuple[int, int]:
    """Return rows and columns of a grid whose longer side has ``samples``, its cells nearly square."""
    longest = max(width_m, depth_m)
    rows = max(8, round((samples - 1) * depth_m / longest) + 1)
    cols = max(8, round((samples - 1) * width_m / longest) + 1)
    return rows, cols


@kernel
def _texel_rows(
    image: NDArray[np.float32], width: int, height: int, first: int, out: NDArray[np.float32], a: int, b: int
) -> None:
    rows, cols = image.shape
    for row in range(a, b):
        down = (first + row + 0.5) / height * (rows - 1)
        r = min(int(down), rows - 2)
        v = np.float32(down - r)
        for col in range(width):
            right = (col + 0.5) / width * (cols - 1)
            c = min(int(right), cols - 2)
            u = np.float32(right - c)
            top = image[r, c] + (image[r, c + 1] - image[r, c]) * u
            low = image[r + 1, c] + (image[r + 1, c + 1] - image[r + 1, c]) * u
            out[row, col] = top + (low - top) * v


def texels(image: NDArray[np.float32], width_px: int, height_px: int, first: int, last: int) -> NDArray[np.float32]:
    """Return rows ``first`` to ``last - 1`` of a map as texels, whose places are their middles; bilinear.

    Parameters
    ----------
    image : ndarray, shape (rows, cols), float32
        Samples on the corners of the ground.
    width_px, height_px : int
        Size of the whole map of texels.
    first, last : int
        Which rows, 0 the northernmost.
    """
    out = np.empty((last - first, width_px), np.float32)
    over_bands(last - first, lambda a, b: _texel_rows(image, width_px, height_px, first, out, a, b))
    return out


def nearest_samples(
    shape: tuple[int, ...], width_px: int, height_px: int
) -> tuple[NDArray[np.int64], NDArray[np.int64]]:
    """Return the rows (height_px, 1) and columns (1, width_px) of a map's samples nearest to texels' middles."""
    rows, cols = shape[:2]
    down = ((np.arange(height_px) + 0.5) / height_px * (rows - 1) + 0.5).astype(np.int64)
    right = ((np.arange(width_px) + 0.5) / width_px * (cols - 1) + 0.5).astype(np.int64)
    return down[:, None], right[None, :]


def texel_rows(
    image: NDArray[np.float32], width_px: int, height_px: int, bearings: bool = False
) -> Callable[[int, int], NDArray[np.float32]]:
    """Return what gives rows of texels of a map, smoothed once as far as fewer texels than samples need it.

    Parameters
    ----------
    image : ndarray, shape (rows, cols), float32
        Samples on the corners of the ground.
    width_px, height_px : int
        Size of the whole map of texels.
    bearings : bool
        Whether values are compass degrees, of which no mean can be taken: the nearest is given.

    Returns
    -------
    callable
        Given the first row and the one after the last, returns them, shape (n, width_px), float32.
        No value lies outside the range of the samples.
    """
    if bearings:
        down, right = nearest_samples(image.shape, width_px, height_px)
        return lambda first, last: image[down[first:last], right]
    fewer = [(samples - 1) / count for samples, count in zip(image.shape[::-1], (width_px, height_px), strict=True)]
    sigma_x, sigma_y = (0.4 * math.sqrt(max(f * f - 1.0, 0.0)) for f in fewer)
    source = image
    if sigma_x > 0.0 or sigma_y > 0.0:
        source = np.clip(blur(image, sigma_x, sigma_y), image.min(), image.max())
    return lambda first, last: texels(source, width_px, height_px, first, last)
