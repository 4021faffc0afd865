"""Rules as numbers: how much a clause lets in at a place, and a whole rule."""

from __future__ import annotations

import math

import numpy as np
from numpy.typing import NDArray

from elvatch.core.cover import recipe as r
from elvatch.core.kernel import inner
from elvatch.core.noise import fractal_noise

KIND, LOWER, UPPER, SOFT_LOWER, SOFT_UPPER, OPPOSITE = range(6)
CLAUSE_NUMBERS = 6
ELEVATION, SLOPE = 0.0, 1.0
_OCTAVES = 3


def _limit(value: float | None, without: float) -> float:
    return without if value is None else value


def clause_numbers(clause: r.ElevationClause | r.SlopeClause) -> tuple[float, ...]:
    """Return a clause as the kernel takes it, in metres or degrees."""
    if isinstance(clause, r.ElevationClause):
        limits = (clause.lower_m, clause.upper_m, clause.soft_lower_m, clause.soft_upper_m)
        kind = ELEVATION
    else:
        limits = (clause.lower_deg, clause.upper_deg, clause.soft_lower_deg, clause.soft_upper_deg)
        kind = SLOPE
    return (
        kind,
        _limit(limits[0], -math.inf),
        _limit(limits[1], math.inf),
        *limits[2:],
        float(clause.opposite),
    )


@inner
def _ease(t: float) -> float:
    t = min(max(t, 0.0), 1.0)
    return t * t * (3.0 - 2.0 * t)


@inner
def _ramp(inside: float, soft: float) -> float:
    """Return 1 at and inside the limit, 0 beyond the soft end, as an un-eased position."""
    if soft > 0.0:
        return inside / soft + 1.0
    return 1e9 if inside >= 0.0 else -1e9


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
        t = min(
            _ramp(value - clauses[k, LOWER], clauses[k, SOFT_LOWER]),
            _ramp(clauses[k, UPPER] - value, clauses[k, SOFT_UPPER]),
        )
        if not asked and -noise_strength < t < 1.0 + noise_strength:
            noise = (
                noise_strength * fractal_noise(x / noise_size, y / noise_size, noise_seed, 0, _OCTAVES, 0.55) * 1.6
            )
            asked = True
        part = _ease(t + noise)
        share *= 1.0 - part if clauses[k, OPPOSITE] > 0.0 else part
        if share <= 0.0:
            return 0.0
    return share
