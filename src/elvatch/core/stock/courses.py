"""Courses across a seamless square, each cut into pieces: bricks, boards, beds of rock, jointed blocks."""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

Map = NDArray[np.float32]


@dataclass(frozen=True)
class Courses:
    """Pieces of a seamless square.

    ``owner`` numbers the piece of each pixel and ``course`` its course; ``edge`` is the distance to the nearest
    edge of the piece, ``along`` and ``across`` the way to its middle, all in sides of the square.
    """

    owner: NDArray[np.int32]
    course: NDArray[np.int32]
    edge: Map
    along: Map
    across: Map
    count: int


@dataclass(frozen=True)
class Bond:
    """How courses are laid.

    ``turns`` says how often a course's direction comes round over a side of the square, right and down: (0, 1) lies
    level, (1, 2) slants. ``courses`` and ``cuts`` are their numbers in one such round, ``uneven`` and ``ragged``
    (0..0.9) how much their widths and lengths differ, ``shift`` how far each course's cuts begin along the one
    before (0.5 is a bond of halves; None at random).
    """

    turns: tuple[int, int]
    courses: int
    cuts: int
    uneven: float = 0.0
    ragged: float = 0.0
    shift: float | None = None


def lay(
    rng: np.random.Generator, laid: Bond, size: int, warp: tuple[NDArray[np.floating], NDArray[np.floating]]
) -> Courses:
    """Divide a seamless square into courses and their pieces.

    Parameters
    ----------
    rng : Generator
        Source of their differences.
    laid : Bond
        How they lie.
    size : int
        Pixels along a side.
    warp : tuple of ndarray, shape (size, size)
        How far places are moved across and along the courses before they are asked, in sides of the square.
    """
    right, down = laid.turns
    length = math.hypot(right, down)
    at = (np.arange(size, dtype=np.float32) + 0.5) / size
    x, y = at[None, :], at[:, None]
    sides = _edges(rng, laid.courses, laid.uneven)
    # the square begins within a course and a piece, not on an edge
    over = x * right + y * down + warp[0] * length + 0.5 * sides[1]
    one = np.zeros((size, size), np.int32)
    number, from_middle, to_side = _cut((over % 1.0).astype(np.float32), sides[None, :], one)
    # along the courses: the other way round by the same turns, so that it closes as well
    run = x * down - y * right + warp[1] * length
    first = np.empty(laid.courses, np.float32)
    for course in range(laid.courses):
        first[course] = rng.random() if laid.shift is None else (course * laid.shift + 0.25) / laid.cuts
    edges = np.stack([_edges(rng, laid.cuts, laid.ragged) for _ in range(laid.courses)])
    piece, along, to_end = _cut(((run + first[number]) % 1.0).astype(np.float32), edges, number)
    return Courses(
        (number * laid.cuts + piece).astype(np.int32),
        number,
        (np.minimum(to_side, to_end) / length).astype(np.float32),
        along / np.float32(length),
        from_middle / np.float32(length),
        laid.courses * laid.cuts,
    )


def _edges(rng: np.random.Generator, count: int, uneven: float) -> NDArray[np.float32]:
    """Return where pieces of one round begin, in [0, 1), rising."""
    lengths = 1.0 + uneven * rng.uniform(-1, 1, count)
    ends = np.cumsum(lengths) / lengths.sum()
    return np.concatenate([[0.0], ends[:-1]]).astype(np.float32)


def _cut(place: Map, edges: NDArray[np.float32], number: NDArray[np.int32]) -> tuple[NDArray[np.int32], Map, Map]:
    """Return the piece of each place (0..1) in its course, its way to the middle and to the nearer end."""
    courses, cuts = edges.shape
    # one rising row of edges for all courses: each a whole number further than the one before
    further = np.arange(courses, dtype=np.float32)[:, None]
    begins = (edges + further).ravel()
    ends = (np.concatenate([edges[:, 1:], np.ones((courses, 1), np.float32)], 1) + further).ravel()
    place = place + number.astype(np.float32)
    piece = np.clip(np.searchsorted(begins, place, side="right") - 1, 0, len(begins) - 1).astype(np.int32)
    low, high = begins[piece], ends[piece]
    return (
        piece - number * np.int32(cuts),
        place - (low + high) * np.float32(0.5),
        np.minimum(place - low, high - place),
    )
