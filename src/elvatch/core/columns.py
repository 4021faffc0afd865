"""Rows of numbers for compiled code, put together by the names of their columns: none forgotten, none given twice."""

from __future__ import annotations

from collections.abc import Mapping

Columns = Mapping[int, float]
"""Numbers by column."""


def beginning_at(first: int, numbers: Columns) -> Columns:
    """Return the same numbers in a row in which their first column is another."""
    return {first + column: value for column, value in numbers.items()}


def row(count: int, *parts: Columns) -> list[float]:
    """Return a row of ``count`` numbers, made of parts.

    Raises
    ------
    ValueError
        When a column has no number, or two.

    Examples
    --------
    >>> row(3, {2: 0.5}, {0: 1.0, 1: 7.0})
    [1.0, 7.0, 0.5]
    >>> row(3, {2: 0.5}, {0: 1.0})
    Traceback (most recent call last):
    ...
    ValueError: columns [0, 2] of 3
    """
    found = [(column, float(value)) for part in parts for column, value in part.items()]
    if sorted(column for column, _ in found) != list(range(count)):
        raise ValueError(f"columns {sorted(column for column, _ in found)} of {count}")
    return [value for _, value in sorted(found)]
