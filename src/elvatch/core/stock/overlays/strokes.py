"""Strokes drawn into a seamless overlay: soft-edged pieces of line that wrap round and cover each other."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from elvatch.core.kernel import kernel
from elvatch.core.stock.generators.common import Map

# columns of a piece: its ends, half its width and its strength at both, how far its edge fades; pixels
X0, Y0, X1, Y1, HALF0, HALF1, STRONG0, STRONG1, SOFT = range(9)
COLUMNS = 9


@kernel
def _draw(out: Map, pieces: NDArray[np.float64]) -> None:
    size = out.shape[0]
    for k in range(pieces.shape[0]):
        x0, y0, soft = pieces[k, X0], pieces[k, Y0], max(pieces[k, SOFT], 0.7)
        dx, dy = pieces[k, X1] - x0, pieces[k, Y1] - y0
        length2 = max(dx * dx + dy * dy, 1e-12)
        reach = max(pieces[k, HALF0], pieces[k, HALF1]) + soft
        for row in range(int(min(y0, y0 + dy) - reach), int(max(y0, y0 + dy) + reach) + 2):
            for col in range(int(min(x0, x0 + dx) - reach), int(max(x0, x0 + dx) + reach) + 2):
                px, py = col + 0.5 - x0, row + 0.5 - y0
                t = min(max((px * dx + py * dy) / length2, 0.0), 1.0)
                ex, ey = px - t * dx, py - t * dy
                half = pieces[k, HALF0] + (pieces[k, HALF1] - pieces[k, HALF0]) * t
                inside = (half + 0.5 * soft - np.sqrt(ex * ex + ey * ey)) / soft
                if inside <= 0.0:
                    continue
                strong = pieces[k, STRONG0] + (pieces[k, STRONG1] - pieces[k, STRONG0]) * t
                # a line finer than a pixel is as much fainter
                value = strong * min(inside, 1.0) * min(2.0 * half + 0.5, 1.0)
                at = out[row % size]
                at[col % size] = max(at[col % size], np.float32(value))


def drawn(size: int, pieces: list[NDArray[np.float64]]) -> Map:
    """Return pieces of line drawn over nothing, (size, size), 0..1; where they cross the stronger counts.

    Parameters
    ----------
    size : int
        Pixels along a side.
    pieces : list of ndarray, shapes (n, 9)
        As in :func:`along`.
    """
    out = np.zeros((size, size), np.float32)
    if pieces:
        _draw(out, np.concatenate(pieces))
    return out


def held(values: NDArray[np.floating]) -> Map:
    """Return a drawing held to 0..1."""
    result: Map = np.clip(values, 0, 1).astype(np.float32)
    return result


def along(
    points: NDArray[np.float64], half: NDArray[np.float64], strong: NDArray[np.float64], soft: float
) -> NDArray[np.float64]:
    """Return a line through points as pieces.

    Parameters
    ----------
    points : ndarray, shape (n, 2)
        x to the right and y down, pixels; may lie beyond the edges, where it wraps round.
    half, strong : ndarray, shape (n,)
        Half the width (pixels) and the strength (0..1) at each point.
    soft : float
        How far the edge fades, pixels.
    """
    count = len(points) - 1
    return np.column_stack(
        [points[:-1], points[1:], half[:-1], half[1:], strong[:-1], strong[1:], np.full(count, soft)]
    )


def bent(
    rng: np.random.Generator, start: NDArray[np.float64], angle: float, length: float, bend: float, steps: int
) -> NDArray[np.float64]:
    """Return a line that sets out at an angle (radians, clockwise from right) and bends as it goes, (steps + 1, 2).

    ``bend`` is how far its direction wanders along the whole of it, radians.
    """
    turns = np.cumsum(rng.normal(0, bend / np.sqrt(steps), steps)) + angle
    moves = np.column_stack([np.cos(turns), np.sin(turns)]) * (length / steps)
    return np.vstack([start, start + np.cumsum(moves, axis=0)])


def tapered(steps: int, sharp: float = 0.5) -> NDArray[np.float64]:
    """Return a width that comes in from nothing and goes out to nothing along a line, 0..1."""
    t = np.linspace(0, 1, steps + 1)
    result: NDArray[np.float64] = (4 * t * (1 - t)) ** sharp
    return result
