"""Rules at work: how much a program lets in at a place, and what a whole map of places comes to."""

from __future__ import annotations

import math

import numpy as np
from numpy.typing import NDArray

from elvatch.core import clauses as c
from elvatch.core.clauses import facing_position, let_in, position, ramp
from elvatch.core.cover import program as p
from elvatch.core.cover.mask import painted_at
from elvatch.core.cover.mask_image import value_at
from elvatch.core.cover.paths import beside
from elvatch.core.cover.places import Places
from elvatch.core.cover.program import Programs, Tables
from elvatch.core.kernel import inner, kernel, peek_value
from elvatch.core.noise import cell_noise, fractal_noise
from elvatch.core.parallel import Token, over_bands

_OCTAVES = 3


@inner
def _measure_at(tables: Tables, which: int, x: float, y: float) -> float:
    """Return a measure at a place, bilinear between the ground's samples."""
    rows, cols = int(tables.grid[0]), int(tables.grid[1])
    right = min(max(x / tables.grid[2], 0.0), cols - 1.0)
    down = min(max((tables.grid[4] - y) / tables.grid[3], 0.0), rows - 1.0)
    col, row = min(int(right), cols - 2), min(int(down), rows - 2)
    u, v = right - col, down - row
    address, first = tables.maps[which], row * cols + col
    top = peek_value(address, first) * (1.0 - u) + peek_value(address, first + 1) * u
    low = peek_value(address, first + cols) * (1.0 - u) + peek_value(address, first + cols + 1) * u
    return float(top + (low - top) * v)


@inner
def _noise_at(rows: NDArray[np.float64], k: int, x: float, y: float) -> float:
    """Return a noise clause's value, about 0 to 1."""
    u, v, seed = x / rows[k, c.A], y / rows[k, c.A], int(rows[k, c.C])
    which = int(rows[k, c.B])
    if which >= 2:
        away, number = cell_noise(u, v, seed)
        return number if which == 3 else min(away, 1.0)
    raw = fractal_noise(u, v, seed, 0, _OCTAVES, 0.55)
    return 0.5 + 0.8 * raw if which == 0 else 1.0 - min(1.0, abs(raw) * 2.4)


@inner
def _position(tables: Tables, rows: NDArray[np.float64], k: int, places: Places, i: int) -> float:
    """Return where a place lies on the soft ends of clause ``k``: 1 inside, 0 outside, not yet eased."""
    source = int(rows[k, c.SOURCE])
    x, y = places.x_m[i], places.y_m[i]
    if source == p.ELEVATION:
        return position(rows, k, places.elevation_m[i])
    if source == p.SLOPE:
        east, north = places.rise_east[i], places.rise_north[i]
        return position(rows, k, math.degrees(math.atan(math.sqrt(east * east + north * north))))
    if source == p.FACING:
        east, north = places.rise_east[i], places.rise_north[i]
        bearing = -1.0
        if east != 0.0 or north != 0.0:
            bearing = math.degrees(math.atan2(-east, -north)) % 360.0
        return facing_position(rows, k, bearing)
    if source == p.MAP:
        return position(rows, k, _measure_at(tables, int(rows[k, c.A]), x, y))
    if source == p.NOISE:
        return position(rows, k, _noise_at(rows, k, x, y))
    which = int(rows[k, c.A])
    if source == p.PAINTED:
        first, tile_rows, tile_cols = tables.masks[which, 0], tables.masks[which, 1], tables.masks[which, 2]
        sample, depth = tables.mask_numbers[which, 0], tables.mask_numbers[which, 1]
        return position(rows, k, painted_at(tables.mask_table, first, tile_rows, tile_cols, sample, depth, x, y))
    if source == p.PATH:
        return ramp(rows[k, c.UPPER] - beside(tables.lines, which, x, y), rows[k, c.SOFT_UPPER])
    if source == p.PLANE:
        address, wide, high = tables.planes[which, 0], tables.planes[which, 1], tables.planes[which, 2]
        return position(rows, k, value_at(address, wide, high, tables.plane_numbers, which, x, y))
    return -1e9


@inner
def _shift(tables: Tables, first: int, last: int, places: Places, i: int) -> float:
    """Return how far break-ups move the edges at a place, in widths of their soft ends."""
    total = 0.0
    for k in range(first, last):
        if int(tables.breaks[k, c.SOURCE]) == p.NOISE:
            value = _noise_at(tables.breaks, k, places.x_m[i], places.y_m[i])
        else:
            t = _position(tables, tables.breaks, k, places, i)
            value = let_in(tables.curves, int(tables.breaks[k, c.CURVE]), t)
        moved = 2.0 * value - 1.0
        total += tables.breaks[k, c.JOIN] * (-moved if tables.breaks[k, c.OPPOSITE] > 0.0 else moved)
    return total


@inner
def _joined(total: float, part: float, join: int) -> float:
    """Return what is let in once one more clause is joined; ``total`` below 0 means that it is the first."""
    if total < 0.0:
        return 1.0 - part if join == p.EXCEPT else part
    if join == p.AND:
        return total * part
    if join == p.OR:
        return total + part - total * part
    if join == p.EXCEPT:
        return total * (1.0 - part)
    return min(1.0, total + part)


@inner
def presence(tables: Tables, first: int, last: int, places: Places, i: int, stack: NDArray[np.float64]) -> float:
    """Return how much a program lets in at place ``i``, 0..1.

    Parameters
    ----------
    tables : Tables
        Programs and all they read.
    first, last : int
        The program's rows are ``first`` to ``last - 1``.
    places : Places
        Where.
    i : int
        Which place.
    stack : ndarray, shape (depth + 1,), float64
        Scratch, one for each bracket that may be open.
    """
    rows = tables.rows
    level, k = 0, first
    stack[0] = -1.0
    shift_of, shift = -1, 0.0
    while k < last:
        source = int(rows[k, c.SOURCE])
        if source == p.OPEN:
            level += 1
            stack[level] = -1.0
            k += 1
            continue
        if source == p.CLOSE:
            part = 1.0 if stack[level] < 0.0 else stack[level]
            level -= 1
            part *= rows[k, c.A]
            if rows[k, c.B] > 0.0:
                part = let_in(tables.curves, int(rows[k, c.CURVE]), position(rows, k, part))
        else:
            t = _position(tables, rows, k, places, i)
            reach = rows[k, c.BREAK_REACH]
            if reach > 0.0 and -reach < t < 1.0 + reach:
                if shift_of != int(rows[k, c.BREAK_FIRST]):
                    shift_of = int(rows[k, c.BREAK_FIRST])
                    shift = _shift(tables, shift_of, int(rows[k, c.BREAK_LAST]), places, i)
                # what ends at 0 and 1 has no way further: beyond its ends nothing is moved
                bounded = source == p.PAINTED or source == p.PLANE or source == p.NOISE
                t += shift * (min(max(4.0 * t * (1.0 - t), 0.0), 1.0) if bounded else 1.0)
            part = let_in(tables.curves, int(rows[k, c.CURVE]), t)
        if rows[k, c.OPPOSITE] > 0.0:
            part = 1.0 - part
        total = _joined(stack[level], part, int(rows[k, c.JOIN]))
        stack[level] = total
        skip = int(rows[k, c.SKIP])
        k = skip if total <= 0.0 and skip >= 0 else k + 1
    return 1.0 if stack[0] < 0.0 else stack[0]


@kernel
def _presence_band(
    tables: Tables, first: int, last: int, places: Places, stack: NDArray[np.float64], out: NDArray[np.float32],
    a: int, b: int,
) -> None:  # fmt: skip
    for i in range(a, b):
        out[i] = presence(tables, first, last, places, i, stack)


def presences(programs: Programs, which: int, places: Places, token: Token | None = None) -> NDArray[np.float32]:
    """Return how much one program lets in at places, shape (n,), float32, 0..1.

    Parameters
    ----------
    programs : Programs
        From :func:`elvatch.core.cover.program.compiled`.
    which : int
        Which of its programs.
    places : Places
        Where.
    token : Token, optional
        Asked between bands.
    """
    out = np.empty(len(places.x_m), np.float32)
    first, last = programs.spans[which]

    def band(a: int, b: int) -> None:
        _presence_band(programs.tables, first, last, places, np.empty(programs.depth + 1), out, a, b)

    over_bands(len(out), band, token, least=2048)
    return out
