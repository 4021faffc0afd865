"""Clauses: limits of a value with soft ends that reach outwards, as rules and place limits use them."""

from __future__ import annotations

import math
from collections.abc import Sequence
from typing import Annotated, Literal, Self

import numpy as np
from numpy.typing import NDArray
from pydantic import Field, model_validator

from elvatch.core.ground.measures import KINDS, MeasureName, Unit
from elvatch.core.kernel import inner, kernel
from elvatch.core.noise import hash_cell
from elvatch.core.parallel import Token, over_bands
from elvatch.core.parts import Part, Share
from elvatch.core.shown import Shown, share

MOST_POINTS = 8
"""Of a clause's curve."""

# columns of a clause's numbers
(
    SOURCE,
    JOIN,
    LOWER,
    UPPER,
    SOFT_LOWER,
    SOFT_UPPER,
    OPPOSITE,
    EVERY,
    IRREGULAR,
    CURVE,
    A,
    B,
    C,
    D,
    BREAK_FIRST,
    BREAK_LAST,
    BREAK_REACH,
    SKIP,
    STRENGTH,
) = range(19)
ROW_NUMBERS = 19


class CurvePoint(Part):
    """A point of a clause's curve: so far inside (0 at the soft end's foot, 1 at the limit), so much let in."""

    inside: Share
    share: Share


STRAIGHT = (CurvePoint(inside=0, share=0), CurvePoint(inside=1, share=1))
"""A soft end that is a straight ramp: what a painted mask or an image says is taken as it is."""


class Limits(Part):
    """Between two values; a limit left out does not limit. Soft ends reach outwards.

    With ``every`` what lies between them comes again and again, below and above: bands.
    """

    lower: float | None = Field(default=None, ge=-1e9, le=1e9)
    upper: float | None = Field(default=None, ge=-1e9, le=1e9)
    soft_lower: float = Field(default=0.0, ge=0, le=1e9)
    soft_upper: float = Field(default=0.0, ge=0, le=1e9)
    opposite: bool = False
    every: float | None = Field(
        default=None, gt=0, le=1e9, description="Comes again every so much, in the clause's unit; None: once"
    )
    irregular: Annotated[
        Share, share("Irregular", "How far bands lie off their even places, and differ in width")
    ] = Field(default=0.0, description="How far repeated bands lie off their even places and differ in width")
    curve: tuple[CurvePoint, ...] = Field(
        default=(), max_length=MOST_POINTS, description="Of the soft ends; without points they ease in and out"
    )

    @model_validator(mode="after")
    def _ordered(self) -> Self:
        round_about = getattr(self, "measure", "") == "aspect"
        if self.lower is not None and self.upper is not None and self.lower > self.upper and not round_about:
            raise ValueError("the lower limit must not lie above the upper one")
        if any(a.inside >= b.inside for a, b in zip(self.curve, self.curve[1:], strict=False)):
            raise ValueError("the points of a curve go from outside to inside")
        if self.every is not None:
            if round_about:
                raise ValueError("a facing comes round by itself: it does not repeat")
            if self.lower is None or self.upper is None or self.upper - self.lower >= self.every:
                raise ValueError("bands need a lower and an upper limit that lie closer than they repeat")
        return self


class MeasureClause(Limits):
    """Between two values of a measure of the ground, in the measure's own unit.

    Facing (``aspect``) goes clockwise from ``lower`` to ``upper``, also through north; level ground
    faces nowhere.
    """

    kind: Literal["measure"] = "measure"
    measure: MeasureName
    unit: Unit = Field(description="Of all its numbers")
    radius_m: Annotated[float | None, Shown("Radius", "m", 1, 2_000, 1, 0)] = Field(
        default=None, gt=0, le=20_000, description="Of relative height and openness"
    )

    @model_validator(mode="after")
    def _in_its_unit(self) -> Self:
        if self.unit != KINDS[self.measure].unit:
            raise ValueError(f"{self.measure} is in {KINDS[self.measure].unit}")
        if self.measure == "aspect" and any(v is not None and not 0 <= v <= 360 for v in (self.lower, self.upper)):
            raise ValueError("a facing is 0 to 360 degrees")
        return self


def between(
    measure: MeasureName,
    lower: float | None = None,
    upper: float | None = None,
    soft_lower: float | None = None,
    soft_upper: float | None = None,
    opposite: bool = False,
    radius_m: float | None = None,
) -> MeasureClause:
    """Return a clause on a measure, in the measure's unit; soft ends left out are the usual ones."""
    soft = [KINDS[measure].soft if given is None else given for given in (soft_lower, soft_upper)]
    return MeasureClause.model_validate(
        {
            "measure": measure,
            "unit": KINDS[measure].unit,
            "lower": lower,
            "upper": upper,
            "soft_lower": soft[0],
            "soft_upper": soft[1],
            "opposite": opposite,
            "radius_m": radius_m,
        }
    )


def begun(measure: MeasureName, lowest_m: float, highest_m: float) -> MeasureClause:
    """Return a new clause on a measure, its limits where they are seen to do something on a ground.

    Parameters
    ----------
    measure : str
        Which.
    lowest_m, highest_m : float
        Elevations between which the ground lies.
    """
    kind = KINDS[measure]
    lower, upper = kind.start(lowest_m, highest_m)
    soft = kind.span(lowest_m, highest_m).soft
    return between(measure, lower, upper, soft, soft)


def limit_numbers(limits: Limits) -> list[float]:
    """Return the columns LOWER to IRREGULAR of a clause, in its own unit."""
    return [
        -math.inf if limits.lower is None else limits.lower,
        math.inf if limits.upper is None else limits.upper,
        limits.soft_lower,
        limits.soft_upper,
        float(limits.opposite),
        limits.every or 0.0,
        limits.irregular,
    ]


def curve_table(curves: Sequence[tuple[CurvePoint, ...]]) -> NDArray[np.float64]:
    """Return curves as compiled code takes them, shape (n, MOST_POINTS, 2): the last point fills up."""
    table = np.zeros((len(curves), MOST_POINTS, 2))
    for row, curve in zip(table, curves, strict=True):
        points = [(p.inside, p.share) for p in curve]
        row[:] = points + [points[-1]] * (MOST_POINTS - len(points))
    return table


@inner
def ease(t: float) -> float:
    """Return a smooth step from 0 at 0 to 1 at 1."""
    t = min(max(t, 0.0), 1.0)
    return t * t * (3.0 - 2.0 * t)


@inner
def let_in(curves: NDArray[np.float64], curve: int, t: float) -> float:
    """Return how much is let in at position ``t`` of a soft end: eased, or by a curve (index from 0; -1 none)."""
    if curve < 0:
        return ease(t)
    if t <= curves[curve, 0, 0]:
        return float(curves[curve, 0, 1])
    for k in range(1, MOST_POINTS):
        end = curves[curve, k, 0]
        if t <= end:
            start = curves[curve, k - 1, 0]
            part = (t - start) / (end - start)
            low, high = curves[curve, k - 1, 1], curves[curve, k, 1]
            return float(low + (high - low) * part)
    return float(curves[curve, MOST_POINTS - 1, 1])


@inner
def ramp(inside: float, soft: float) -> float:
    """Return 1 at and inside the limit, 0 beyond the soft end, as a position that is not yet eased."""
    if soft > 0.0:
        return inside / soft + 1.0
    return 1e9 if inside >= 0.0 else -1e9


@inner
def _in_bands(rows: NDArray[np.float64], k: int, value: float) -> float:
    """Return where a value lies on the soft ends of the nearest of clause ``k``'s bands."""
    every, half = rows[k, EVERY], 0.5 * (rows[k, UPPER] - rows[k, LOWER])
    away, best = value - (rows[k, LOWER] + half), -1e9
    nearest = math.floor(away / every + 0.5)
    for number in range(nearest - 1, nearest + 2):
        drawn = hash_cell(number, 977, 31)
        aside = (drawn & 0xFFFF) / 65535.0 - 0.5
        wide = half * (1.0 + rows[k, IRREGULAR] * (2.0 * (drawn >> 16) / 65535.0 - 1.0))
        # never so far that it would meet the next
        at = away - number * every - rows[k, IRREGULAR] * aside * max(every - 4.0 * half, 0.0)
        best = max(best, min(ramp(at + wide, rows[k, SOFT_LOWER]), ramp(wide - at, rows[k, SOFT_UPPER])))
    return best


@inner
def position(rows: NDArray[np.float64], k: int, value: float) -> float:
    """Return where a value lies on clause ``k``'s soft ends: 1 inside, 0 outside, not yet eased."""
    if rows[k, EVERY] > 0.0:
        return _in_bands(rows, k, value)
    return min(ramp(value - rows[k, LOWER], rows[k, SOFT_LOWER]), ramp(rows[k, UPPER] - value, rows[k, SOFT_UPPER]))


@inner
def _per(soft: float) -> float:
    """Return how much of a soft end a unit is; what it is of a hard one does not matter."""
    return min(1.0 / soft, 1e300) if soft > 0.0 else 0.0


@inner
def to_positions(rows: NDArray[np.float64], k: int, count: int, values: NDArray[np.float64]) -> None:
    """Turn values into their :func:`position` on clause ``k``, in place; all at once, as processors like it."""
    if rows[k, EVERY] > 0.0:
        for j in range(count):
            values[j] = _in_bands(rows, k, values[j])
        return
    lower, upper = rows[k, LOWER], rows[k, UPPER]
    per_lower, per_upper = _per(rows[k, SOFT_LOWER]), _per(rows[k, SOFT_UPPER])
    for j in range(count):
        above, below = values[j] - lower, upper - values[j]
        from_lower = above * per_lower + 1.0 if per_lower > 0.0 else (1e9 if above >= 0.0 else -1e9)
        from_upper = below * per_upper + 1.0 if per_upper > 0.0 else (1e9 if below >= 0.0 else -1e9)
        values[j] = min(from_lower, from_upper)


@inner
def facing_position(rows: NDArray[np.float64], k: int, bearing: float) -> float:
    """Return the same for a facing in compass degrees, clockwise from the lower to the upper limit; -1 is none."""
    if bearing < 0.0:
        return -1e9
    lower, upper = rows[k, LOWER], rows[k, UPPER]
    if not (lower > -1e8 and upper < 1e8):
        return 1e9
    width = (upper - lower) % 360.0
    if width == 0.0 and upper != lower:
        return 1e9
    past = (bearing - lower) % 360.0
    if past <= width:
        return 1e9
    return max(ramp(past - 360.0, rows[k, SOFT_LOWER]), ramp(width - past, rows[k, SOFT_UPPER]))


@kernel
def _multiply_rows(
    rows: NDArray[np.float64],
    curves: NDArray[np.float64],
    facing: bool,
    values: NDArray[np.float32],
    out: NDArray[np.float32],
    a: int,
    b: int,
) -> None:
    for row in range(a, b):
        for col in range(values.shape[1]):
            value = values[row, col]
            t = facing_position(rows, 0, value) if facing else position(rows, 0, value)
            part = let_in(curves, int(rows[0, CURVE]), t)
            out[row, col] *= 1.0 - part if rows[0, OPPOSITE] > 0.0 else part


def limit_to(
    out: NDArray[np.float32], clause: MeasureClause, values: NDArray[np.float32], token: Token | None = None
) -> None:
    """Multiply a map of shares by what a clause lets in.

    Parameters
    ----------
    out : ndarray, shape (rows, cols), float32
        Shares 0..1, changed in place.
    clause : MeasureClause
        The limit.
    values : ndarray, shape (rows, cols), float32
        The clause's measure, in its unit.
    token : Token, optional
        Asked between bands.
    """
    rows = np.zeros((1, ROW_NUMBERS))
    rows[0, LOWER : IRREGULAR + 1] = limit_numbers(clause)
    rows[0, CURVE] = 0 if clause.curve else -1
    curves = curve_table([clause.curve] if clause.curve else [])
    facing = clause.measure == "aspect"
    over_bands(len(values), lambda a, b: _multiply_rows(rows, curves, facing, values, out, a, b), token)
