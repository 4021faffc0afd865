"""Clauses: limits of a measure with soft ends that reach outwards, as rules and place limits use them."""

from __future__ import annotations

import math
from typing import Annotated, Literal, Self

import numpy as np
from numpy.typing import NDArray
from pydantic import Field, model_validator

from elvatch.core.kernel import inner, kernel
from elvatch.core.parallel import Token, over_bands
from elvatch.core.parts import Part

KIND, LOWER, UPPER, SOFT_LOWER, SOFT_UPPER, OPPOSITE = range(6)
CLAUSE_NUMBERS = 6
ELEVATION, SLOPE = 0.0, 1.0


def _check_order(lower: float | None, upper: float | None) -> None:
    if lower is not None and upper is not None and lower > upper:
        raise ValueError("the lower limit must not lie above the upper one")


class ElevationClause(Part):
    """Between two elevations; a limit left out does not limit. Soft ends reach outwards."""

    measure: Literal["elevation"] = "elevation"
    lower_m: float | None = Field(default=None, ge=-20_000, le=20_000)
    upper_m: float | None = Field(default=None, ge=-20_000, le=20_000)
    soft_lower_m: float = Field(default=2.0, ge=0, le=5_000)
    soft_upper_m: float = Field(default=2.0, ge=0, le=5_000)
    opposite: bool = False

    @model_validator(mode="after")
    def _ordered(self) -> Self:
        _check_order(self.lower_m, self.upper_m)
        return self


class SlopeClause(Part):
    """Between two steepnesses; a limit left out does not limit. Soft ends reach outwards."""

    measure: Literal["slope"] = "slope"
    lower_deg: float | None = Field(default=None, ge=0, le=90)
    upper_deg: float | None = Field(default=None, ge=0, le=90)
    soft_lower_deg: float = Field(default=5.0, ge=0, le=90)
    soft_upper_deg: float = Field(default=5.0, ge=0, le=90)
    opposite: bool = False

    @model_validator(mode="after")
    def _ordered(self) -> Self:
        _check_order(self.lower_deg, self.upper_deg)
        return self


Clause = Annotated[ElevationClause | SlopeClause, Field(discriminator="measure")]


def _limit(value: float | None, without: float) -> float:
    return without if value is None else value


def clause_numbers(clause: ElevationClause | SlopeClause) -> tuple[float, ...]:
    """Return a clause as compiled code takes it, in metres or degrees."""
    if isinstance(clause, ElevationClause):
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
def ease(t: float) -> float:
    """Return a smooth step from 0 at 0 to 1 at 1."""
    t = min(max(t, 0.0), 1.0)
    return t * t * (3.0 - 2.0 * t)


@inner
def _ramp(inside: float, soft: float) -> float:
    """Return 1 at and inside the limit, 0 beyond the soft end, as an un-eased position."""
    if soft > 0.0:
        return inside / soft + 1.0
    return 1e9 if inside >= 0.0 else -1e9


@inner
def position(clauses: NDArray[np.float64], k: int, value: float) -> float:
    """Return where a value lies on clause ``k``'s soft ends: 1 inside, 0 outside, not yet eased."""
    return min(
        _ramp(value - clauses[k, LOWER], clauses[k, SOFT_LOWER]),
        _ramp(clauses[k, UPPER] - value, clauses[k, SOFT_UPPER]),
    )


@kernel
def _multiply_rows(
    clauses: NDArray[np.float64], k: int, values: NDArray[np.float32], out: NDArray[np.float32], a: int, b: int
) -> None:
    for row in range(a, b):
        for col in range(values.shape[1]):
            part = ease(position(clauses, k, values[row, col]))
            out[row, col] *= 1.0 - part if clauses[k, OPPOSITE] > 0.0 else part


def limit_to(
    out: NDArray[np.float32], clause: ElevationClause | SlopeClause, values: NDArray[np.float32],
    token: Token | None = None,
) -> None:  # fmt: skip
    """Multiply a map of shares by what a clause lets in.

    Parameters
    ----------
    out : ndarray, shape (rows, cols), float32
        Shares 0..1, changed in place.
    clause : ElevationClause or SlopeClause
        The limit.
    values : ndarray, shape (rows, cols), float32
        The clause's measure, metres or degrees.
    token : Token, optional
        Asked between bands.
    """
    numbers = np.array([clause_numbers(clause)])
    over_bands(len(values), lambda a, b: _multiply_rows(numbers, 0, values, out, a, b), token)
