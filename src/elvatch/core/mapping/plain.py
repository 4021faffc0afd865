"""A layer's set that lies on the ground from above just as it is: looked up at many places at once.

What most layers of a plain site are. Each stage goes over all places before the next begins: a processor then works
on several at a time, where one place after the other it would wait for each (measured: a third of the time).
"""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from elvatch.core.ground.places import Places
from elvatch.core.kernel import inner, unsigned
from elvatch.core.mapping.fit_row import (
    ABOVE,
    ASPECT,
    CURVE,
    DETAIL,
    GAIN_ACROSS,
    GAIN_DOWN,
    MAIN,
    MID,
    OFF_EAST,
    OFF_NORTH,
    PROJECTION,
    RELIEF,
    REPEATS,
    STRENGTH,
    TILE,
)
from elvatch.core.mapping.lookup import decode, gather_taps, spread
from elvatch.core.mapping.planes import along_surface, axes_of
from elvatch.core.mapping.repeats import NONE, OF_SET, in_metres
from elvatch.core.stock.pyramid import CHANNELS, HEIGHT

LINES = 8
"""Of scratch: where places lie in the texture, and the areas they stand for there."""


@inner
def is_plain(layer: NDArray[np.float64], f: int) -> bool:
    """Return whether a layer's set is only looked up where it lies; the numbers of its fit begin at ``f``.

    Its relief may have sides of their own: they are laid over it.
    """
    as_it_is = layer[f + REPEATS] == NONE or layer[f + STRENGTH] <= 0.0
    bent = layer[f + CURVE] != 0.0 or layer[f + DETAIL] > 0.0
    return bool(layer[f + PROJECTION] == ABOVE and as_it_is and not bent)


@inner
def _seen(
    layer: NDArray[np.float64],
    f: int,
    places: Places,
    index: NDArray[np.int64],
    count: int,
    side: int,
    taps: int,
    lines: NDArray[np.float64],
) -> None:
    """Fill in where places lie on a texture, in tiles, the vectors that their areas are longer by, and how they are
    looked up."""
    rx, ry, _, dx, dy, _ = axes_of(layer, f, MAIN, 0.0, 0.0)
    per, aspect = 1.0 / layer[f + TILE], layer[f + ASPECT]
    rx, ry, dx, dy, wide = rx * per, ry * per, dx * per * aspect, dy * per * aspect, per * max(aspect, 1.0)
    east, north = layer[f + OFF_EAST], layer[f + OFF_NORTH]
    for n in range(count):
        i = unsigned(index[n])
        x, y = places.x_m[i] - east, places.y_m[i] - north
        lines[0, n], lines[1, n] = rx * x + ry * y, dx * x + dy * y
    for n in range(count):
        i = unsigned(index[n])
        along_e, along_n = places.along_east_m[i], places.along_north_m[i]
        along_u, along_v = rx * along_e + ry * along_n, dx * along_e + dy * along_n
        lines[2, n], lines[3, n] = along_u, along_v
        lines[4, n], lines[5, n], lines[6, n], lines[7, n] = spread(
            side, places.across_m[i] * wide, along_u, along_v, taps
        )


@inner
def fitted_plainly(
    layer: NDArray[np.float64],
    f: int,
    sets: NDArray[np.int64],
    places: Places,
    start: int,
    index: NDArray[np.int64],
    count: int,
    taps: int,
    lines: NDArray[np.float64],
    out: NDArray[np.float32],
) -> None:
    """Fill in a plain layer's ten numbers at places; see :func:`elvatch.core.mapping.fitting.fitted`.

    Parameters
    ----------
    layer : ndarray, float64
        A layer's numbers; those of its fit begin at ``f``.
    sets : ndarray, shape (6,), int64
        Address and side of its sets.
    places, index, count
        Of these places the first ``count`` of ``index``, all of one block that begins at ``start``.
    taps : int
        Most lookups along a stretched area.
    lines : ndarray, shape (LINES, block), float64
        Scratch.
    out : ndarray, shape (block, 10), float32
        The rows of those places are filled in.
    """
    _seen(layer, f, places, index, count, sets[1], taps, lines)
    for n in range(count):
        row = out[unsigned(index[n] - start)]
        how = int(lines[4, n]), lines[5, n], int(lines[6, n]), lines[7, n]
        gather_taps(sets[0], sets[1], CHANNELS, lines[0, n], lines[1, n], lines[2, n], lines[3, n], how, row)
        decode(row)
    axes = axes_of(layer, f, MAIN, 0.0, 0.0)
    for n in range(count):
        i = unsigned(index[n])
        row = out[unsigned(i - start)]
        east, north = float(places.rise_east[i]), float(places.rise_north[i])
        in_metres(OF_SET, layer[f + GAIN_ACROSS], layer[f + GAIN_DOWN], row)
        along_surface(OF_SET, axes, east, north, 1.0 / (1.0 + east * east + north * north), row)
        row[HEIGHT] = (row[HEIGHT] - layer[f + MID]) * layer[f + RELIEF]
