"""Smoothing over a radius in metres that leaves planes as they are, up to the border."""

from __future__ import annotations

import math

import numpy as np
from numpy.typing import NDArray

from elvatch.core.kernel import inner, kernel
from elvatch.core.parallel import Token, over_bands

_PASSES = 3


@inner
def _beyond(line: NDArray[np.float32], i: int) -> float:
    """Return a sample of a line, mirrored through its end points, so that a slope goes on."""
    n = line.shape[0]
    last = n - 1
    if i < 0:
        j = min(-i, last)
        return float(2.0 * line[0] - line[j])
    if i > last:
        j = max(2 * last - i, 0)
        return float(2.0 * line[last] - line[j])
    return float(line[i])


@kernel
def _blur_rows(
    image: NDArray[np.float32],
    half: float,
    out: NDArray[np.float32],
    sums: NDArray[np.float64],
    line: NDArray[np.float32],
    a: int,
    b: int,
) -> None:
    """Average each row over ``half`` samples to both sides, three times."""
    n = image.shape[1]
    pad = int(half) + 2
    whole = int(half)
    part = half - whole
    for row in range(a, b):
        for i in range(n):
            line[i] = image[row, i]
        for _ in range(_PASSES):
            # about the first sample, so that sums of high ground stay exact
            origin = line[0]
            total = 0.0
            for i in range(-pad, n + pad):
                total += _beyond(line, i) - origin
                sums[i + pad + 1] = total
            for i in range(n):
                at = i + pad + 1
                inside = sums[at + whole] - sums[at - whole - 1]
                left = sums[at - whole - 1] - sums[at - whole - 2]
                right = sums[at + whole + 1] - sums[at + whole]
                out[row, i] = origin + (inside + part * (left + right)) / (2.0 * half + 1.0)
            for i in range(n):
                line[i] = out[row, i]


def _along_rows(image: NDArray[np.float32], half: float, token: Token | None) -> NDArray[np.float32]:
    out = np.empty_like(image)
    cols = image.shape[1]

    def work(a: int, b: int) -> None:
        sums, line = np.zeros(cols + 2 * int(half) + 8), np.empty(cols, np.float32)
        _blur_rows(image, half, out, sums, line, a, b)

    over_bands(len(image), work, token)
    return out


def blur(
    image: NDArray[np.float32], sigma_x: float, sigma_y: float, token: Token | None = None
) -> NDArray[np.float32]:
    """Smooth a map nearly as a Gaussian does: three box averages of fractional width (Wells 1986).

    Parameters
    ----------
    image : ndarray, shape (rows, cols), float32
        C order.
    sigma_x, sigma_y : float
        Standard deviation along rows and columns, in samples; 0 leaves that direction alone.
    token : Token, optional
        Asked between bands.

    Returns
    -------
    ndarray, shape (rows, cols), float32
        Of the same variance as the Gaussian; planes stay planes.
    """
    out = image
    if sigma_x > 0.0 and image.shape[1] > 2:
        out = _along_rows(out, _half(sigma_x, image.shape[1]), token)
    if sigma_y > 0.0 and image.shape[0] > 2:
        turned = _along_rows(np.ascontiguousarray(out.T), _half(sigma_y, image.shape[0]), token)
        out = np.ascontiguousarray(turned.T)
    return out if out is not image else image.copy()


def _half(sigma: float, samples: int) -> float:
    """Return how far a box reaches to both sides, in samples, so that three of them have the variance wanted.

    A box over m whole samples to both sides and a part p of the next has the variance
    (m (m + 1) (2 m + 1) / 3 + 2 p (m + 1)^2) / (2 m + 1 + 2 p).
    """
    wanted = sigma * sigma / _PASSES
    m = int((math.sqrt(1.0 + 12.0 * wanted) - 1.0) / 2.0)
    part = (2 * m + 1) * (wanted - m * (m + 1) / 3) / (2 * (m + 1) ** 2 - 2 * wanted)
    return min(m + part, samples - 2.0)
