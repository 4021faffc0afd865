"""How much of a set the eye finds again in every repeat, from afar and from nearer by."""

from __future__ import annotations

import math

import numpy as np
import scipy.fft
from numpy.typing import NDArray

JUST_SEEN = 0.03
"""A tone this far from its surroundings, as a share of their brightness, is just told apart."""
FAR_PX, NEAR_PX = 16, 64
"""How wide one repeat is seen, pixels: from afar and from nearer by."""


def measure(luminance: NDArray[np.float32], seen_px: int) -> float:
    """Return the autocorrelation of a repeated set at its tile's period, 0 (none) to 1.

    Parameters
    ----------
    luminance : ndarray, shape (rows, cols), float32
        Linear, of one repeat.
    seen_px : int
        How wide one repeat appears, pixels; what is finer has blurred into its mean.

    Notes
    -----
    A repeated picture always matches itself a period on. What makes it show is whether the match
    stands out of what the eye cannot tell apart: with signal S, the variance of relative brightness
    left at that distance, and N, that of a just noticeable tone, the autocorrelation at the period
    of what is seen is S / (S + N).
    """
    rows, cols = luminance.shape
    mean = max(float(luminance.mean()), 1e-6)
    spectrum = np.abs(scipy.fft.rfft2(luminance / mean, workers=-1)) ** 2
    fy = np.abs(scipy.fft.fftfreq(rows, 1 / rows))[:, None]
    fx = scipy.fft.rfftfreq(cols, 1 / cols)[None, :]
    # a pixel's area as a filter, and nothing beyond what it can hold
    seen = (np.sinc(fx / seen_px) * np.sinc(fy / seen_px)) ** 2 * (np.hypot(fx, fy) <= seen_px / 2)
    seen[0, 0] = 0.0
    twice = np.full(spectrum.shape[1], 2.0)
    twice[0] = 1.0
    if cols % 2 == 0:
        twice[-1] = 1.0
    signal = float((spectrum * seen * twice).sum()) / float(rows * cols) ** 2
    return signal / (signal + JUST_SEEN**2) if math.isfinite(signal) else 0.0
