"""Rules as numbers: how much a clause lets in at a place, and a whole rule."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from elvatch.core.clauses import ELEVATION, KIND, OPPOSITE, ease, position
from elvatch.core.kernel import inner
from elvatch.core.noise import fractal_noise

_OCTAVES = 3


@inner
def presence(
    clauses: NDArray[np.float64], first: int, last: int, elevation: float, slope: float, x: float, y: float,
    noise_size: float, noise_strength: float, noise_seed: int,
) -> float:  # fmt: skip
    """Return how much a rule lets in at a place, 0..1.

    Parameters
    ----------
    clauses : ndarray, shape (n, CLAUSE_NUMBERS), float64
        All clauses; this rule's are ``first`` to ``last - 1``.
    elevation, slope : float
        Metres and degrees.
    x, y : float
        World position, metres.
    noise_size, noise_strength, noise_seed
        The break-up: it shifts every soft edge by up to ``noise_strength`` of its width.
    """
    share = 1.0
    noise, asked = 0.0, noise_strength <= 0.0
    for k in range(first, last):
        value = elevation if clauses[k, KIND] == ELEVATION else slope
        t = position(clauses, k, value)
        if not asked and -noise_strength < t < 1.0 + noise_strength:
            noise = (
                noise_strength * fractal_noise(x / noise_size, y / noise_size, noise_seed, 0, _OCTAVES, 0.55) * 1.6
            )
            asked = True
        part = ease(t + noise)
        share *= 1.0 - part if clauses[k, OPPOSITE] > 0.0 else part
        if share <= 0.0:
            return 0.0
    return share
