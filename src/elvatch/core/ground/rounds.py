"""Rounds of a scheme on a grid, several at a time on what is at hand (split tiling: Grosser et al. 2013).

A round that reads and writes all of a large grid waits for memory (measured for rain: as long as it works). So a
piece of the grid is played for several rounds, as far in as what lies beside it does not matter: the second half of
a round is worked out from rows up to two away, so a piece gets narrower by two rows at either end. Then the seams
between pieces are, which get wider. Every row is worked out once a round, and from what it would have been else.
"""

from __future__ import annotations

import itertools
from collections.abc import Callable
from typing import NamedTuple

from elvatch.core.kernel import inner
from elvatch.core.parallel import Token, over_bands

AT_ONCE = 4
"""Rounds that are played one right behind the other. Even, so that a whole lot ends where it began."""
PIECE = 128
"""Rows of a piece, at least: many more than the seams between pieces take of it."""


class Piece(NamedTuple):
    """Rows that several rounds are played on, ``top`` to before ``bottom``.

    By ``in_above`` and ``in_below`` its ends move inwards each round: 1 between others, 0 at the border,
    -1 of a seam.
    """

    top: int
    bottom: int
    in_above: int
    in_below: int


@inner
def fronts(piece: Piece, rounds: int) -> int:
    """Return before where the front of some rounds on a piece ends, which begins at its top."""
    return piece.bottom + 4 * rounds


@inner
def halves(piece: Piece, front: int, k: int) -> tuple[int, bool, bool]:
    """Return which row round ``k`` comes to when the front is where it is, and which halves are due.

    Each round is two rows behind the one before. The first half of a round is due on that row, from what the row and
    both beside it are; the second on the row before it, whose first half and those of both beside it are then done.
    """
    top, bottom, row = piece.top + 2 * k * piece.in_above, piece.bottom - 2 * k * piece.in_below, front - 2 * k
    return row, top <= row < bottom, top + piece.in_above <= row - 1 < bottom - piece.in_below


def pieces(rows: int) -> tuple[list[Piece], list[Piece]]:
    """Return what several rounds are played on: first pieces by themselves, then the seams between them."""
    count = max(1, rows // PIECE)
    edges = [rows * k // count for k in range(count + 1)]
    apart = [Piece(a, b, int(a > 0), int(b < rows)) for a, b in itertools.pairwise(edges)]
    return apart, [Piece(edge, edge, -1, -1) for edge in edges[1:-1]]


def play(rows: int, on: Callable[[Piece], None], token: Token | None = None) -> None:
    """Play several rounds, at most :data:`AT_ONCE`, on all rows.

    Parameters
    ----------
    rows : int
        Of the grid.
    on : callable
        Plays them on one piece, a kernel that goes by :func:`halves`.
    token : Token, optional
        Asked before every piece.
    """
    for several in pieces(rows):

        def some(a: int, b: int, several: list[Piece] = several) -> None:
            for piece in several[a:b]:
                on(piece)

        over_bands(len(several), some, token, least=1)
