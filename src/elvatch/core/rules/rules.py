"""Rules at work: how much a program lets in at places.

A program is run for a block of places at once, row by row: what kind of clause a row is, is asked once a
block, and each clause is a short loop.
"""

from __future__ import annotations

import math
from collections.abc import Sequence

import numpy as np
from numpy.typing import NDArray

from elvatch.core.ground import clauses as c
from elvatch.core.ground.clauses import ease, facing_position, let_in, position, ramp, to_positions
from elvatch.core.ground.places import Places
from elvatch.core.kernel import inner, kernel, part, peek_value
from elvatch.core.noise import add_octaves, cell_noise, fractal_noise
from elvatch.core.parallel import Token, over_bands
from elvatch.core.rules import program as p
from elvatch.core.rules.crowds import from_edge
from elvatch.core.rules.mask import painted_at
from elvatch.core.rules.mask_image import value_at
from elvatch.core.rules.paths import beside
from elvatch.core.rules.program import Programs, Tables
from elvatch.core.thing.grain import noise_3d

_OCTAVES, _GAIN = 3, 0.55
_DEGREES = 180.0 / math.pi
_LINES = 8
"""Of a block: three that say where places lie in the ground's cells, slopes, which block it is, three of noise."""
BLOCK = 256
"""Most places that a program is run for at once."""


def scratch(depth: int) -> NDArray[np.float64]:
    """Return scratch for a program whose brackets open ``depth`` deep."""
    made = np.empty((depth + 3 + _LINES, BLOCK))
    made[-_LINES + 4] = -1.0  # no block is surveyed yet
    return made


@inner
def _degrees_of(rise: float) -> float:
    """Return the angle of a rise per metre, 0 or more, degrees; within 1e-6 (Abramowitz & Stegun 1964, 4.4.49)."""
    x = min(rise, 1.0 / max(rise, 1e-30))
    s = x * x
    bent = -0.0752896400 + s * (0.0429096138 + s * (-0.0161657367 + s * 0.0028662257))
    bent = -0.3333314528 + s * (0.1999355085 + s * (-0.1420889944 + s * (0.1065626393 + s * bent)))
    angle = _DEGREES * x * (1.0 + s * bent)
    return 90.0 - angle if rise > 1.0 else angle


@inner
def survey_block(tables: Tables, places: Places, start: int, count: int, scratch: NDArray[np.float64]) -> None:
    """Fill in what many clauses ask of the places of a block, once for all programs: in which of the ground's cells
    each lies and where in it, and how steep it is, degrees."""
    block = scratch[scratch.shape[0] - _LINES :]
    if block[4, 0] == start:
        return
    block[4, 0] = start
    rows, cols = tables.grid[0], tables.grid[1]
    per_col, per_row, depth = 1.0 / tables.grid[2], 1.0 / tables.grid[3], tables.grid[4]
    located = tables.maps.shape[0] > 0
    for j in range(count):
        i = start + j
        if located:
            right = min(max(places.x_m[i] * per_col, 0.0), cols - 1.0)
            down = min(max((depth - places.y_m[i]) * per_row, 0.0), rows - 1.0)
            col, row = min(np.floor(right), cols - 2.0), min(np.floor(down), rows - 2.0)
            block[0, j], block[1, j], block[2, j] = row * cols + col, right - col, down - row
    for j in range(count):
        east, north = float(places.rise_east[start + j]), float(places.rise_north[start + j])
        block[3, j] = _degrees_of(math.sqrt(east * east + north * north))


@inner
def _measure_at(address: int, cols: int, block: NDArray[np.float64], j: int) -> float:
    """Return a measure at place ``j`` of a block that was surveyed, bilinear between the ground's samples."""
    first, u, v = int(block[0, j]), block[1, j], block[2, j]
    a, b = peek_value(address, first), peek_value(address, first + 1)
    c_, d = peek_value(address, first + cols), peek_value(address, first + cols + 1)
    top, low = a + (b - a) * u, c_ + (d - c_) * u
    return float(top + (low - top) * v)


@inner
def _noise_at(rows: NDArray[np.float64], k: int, x: float, y: float) -> float:
    """Return a noise clause's value, about 0 to 1."""
    u, v, seed = x / rows[k, c.A], y / rows[k, c.A], int(rows[k, c.C])
    which = int(rows[k, c.B])
    if which >= 2:
        away, number = cell_noise(u, v, seed)
        return number if which == 3 else min(away, 1.0)
    raw = fractal_noise(u, v, seed, 0, _OCTAVES, _GAIN)
    return 0.5 + 0.8 * raw if which == 0 else 1.0 - min(1.0, abs(raw) * 2.4)


@inner
def _own_noise(carried: NDArray[np.float32], i: int, size: float, which: int, seed: int) -> float:
    """Return a noise clause's value, about 0 to 1, at a place of a thing: noise in space, in the thing's own axes."""
    x, y, z = carried[i, p.OWN_PLACE] / size, carried[i, p.OWN_PLACE + 1] / size, carried[i, p.OWN_PLACE + 2] / size
    if which >= 2:
        # cells on the plane that is bent least by leaning it both ways
        away, number = cell_noise(x + 0.5 * z, y + 0.866 * z, seed)
        return number if which == 3 else min(away, 1.0)
    raw, weight, norm, scale = 0.0, 1.0, 0.0, 1.0
    for octave in range(_OCTAVES):
        raw += weight * noise_3d(x * scale, y * scale, z * scale, seed + octave * 131)
        norm, weight, scale = norm + weight, weight * _GAIN, scale * 2.0
    raw /= norm
    return 0.5 + 0.8 * raw if which == 0 else 1.0 - min(1.0, abs(raw) * 2.4)


@inner
def _noises(
    tables: Tables,
    rows: NDArray[np.float64],
    k: int,
    places: Places,
    index: NDArray[np.int64],
    count: int,
    left: NDArray[np.float64],
    lines: NDArray[np.float64],
    out: NDArray[np.float64],
) -> None:
    """Fill in positions on a noise clause; where nothing is left for it to let in it is not asked."""
    spared = _narrows(rows, k) and left[0] >= 0.0
    asked, which, size = 0, int(rows[k, c.B]), rows[k, c.A]
    if tables.carried.shape[0] > 0:
        for j in range(count):
            out[j] = _own_noise(tables.carried, index[j], size, which, int(rows[k, c.C]))
        to_positions(rows, k, count, out)
        return
    x, y, values = lines[0], lines[1], lines[2]
    for j in range(count):
        if spared and left[j] <= 0.0:
            continue
        x[asked], y[asked], values[asked] = places.x_m[index[j]] / size, places.y_m[index[j]] / size, 0.0
        asked += 1
    if which >= 2:
        for i in range(asked):
            away, number = cell_noise(x[i], y[i], int(rows[k, c.C]))
            values[i] = number if which == 3 else min(away, 1.0)
    else:
        add_octaves(x, y, asked, int(rows[k, c.C]), _OCTAVES, _GAIN, values)
        if which == 0:
            for i in range(asked):
                values[i] = 0.5 + 0.8 * values[i]
        else:
            for i in range(asked):
                values[i] = 1.0 - min(1.0, 2.4 * abs(values[i]))
    to_positions(rows, k, asked, values)
    i = 0
    for j in range(count):
        if spared and left[j] <= 0.0:
            out[j] = 0.0
            continue
        out[j] = values[i]
        i += 1


@inner
def _narrows(rows: NDArray[np.float64], k: int) -> bool:
    """Return whether clause ``k`` can only take away from what was let in before it."""
    join = int(rows[k, c.JOIN])
    return join == p.AND or join == p.EXCEPT


@inner
def _marked(
    tables: Tables,
    rows: NDArray[np.float64],
    k: int,
    places: Places,
    index: NDArray[np.int64],
    count: int,
    out: NDArray[np.float64],
) -> None:
    """Fill in positions on clauses that read what is marked on the ground."""
    source, which = int(rows[k, c.SOURCE]), int(rows[k, c.A])
    if source == p.PAINTED:
        first, tile_rows, tile_cols = tables.masks[which, 0], tables.masks[which, 1], tables.masks[which, 2]
        sample, depth = tables.mask_numbers[which, 0], tables.mask_numbers[which, 1]
        for j in range(count):
            x, y = places.x_m[index[j]], places.y_m[index[j]]
            out[j] = painted_at(tables.mask_table, first, tile_rows, tile_cols, sample, depth, x, y)
        to_positions(rows, k, count, out)
    elif source == p.PATH:
        for j in range(count):
            aside = beside(tables.lines, which, places.x_m[index[j]], places.y_m[index[j]])
            out[j] = ramp(rows[k, c.UPPER] - aside, rows[k, c.SOFT_UPPER])
    elif source == p.NEAR:
        of_things, inside = rows[k, c.B] > 0.0, rows[k, c.C]
        for j in range(count):
            x, y = places.x_m[index[j]], places.y_m[index[j]]
            away = from_edge(tables.crowds, which, x, y) if of_things else beside(tables.lines, which, x, y) - inside
            out[j] = max(away, 0.0)
        to_positions(rows, k, count, out)
    elif source == p.PLANE:
        address, wide, high = tables.planes[which, 0], tables.planes[which, 1], tables.planes[which, 2]
        for j in range(count):
            x, y = places.x_m[index[j]], places.y_m[index[j]]
            out[j] = value_at(address, wide, high, tables.plane_numbers, which, x, y)
        to_positions(rows, k, count, out)
    else:
        for j in range(count):
            out[j] = -1e9


@inner
def _positions(
    tables: Tables,
    rows: NDArray[np.float64],
    k: int,
    places: Places,
    index: NDArray[np.int64],
    count: int,
    block: NDArray[np.float64],
    left: NDArray[np.float64],
    out: NDArray[np.float64],
) -> None:
    """Fill in where places lie on the soft ends of clause ``k``: 1 inside, 0 outside, not yet eased.

    Noise is not asked where ``left`` says that nothing is left for it to let in.
    """
    source, start = int(rows[k, c.SOURCE]), int(block[4, 0])
    if source == p.ELEVATION:
        for j in range(count):
            out[j] = places.elevation_m[index[j]]
        to_positions(rows, k, count, out)
    elif source == p.SLOPE:
        for j in range(count):
            out[j] = block[3, index[j] - start]
        to_positions(rows, k, count, out)
    elif source == p.FACING:
        for j in range(count):
            east, north = places.rise_east[index[j]], places.rise_north[index[j]]
            bearing = -1.0
            if east != 0.0 or north != 0.0:
                bearing = math.degrees(math.atan2(-east, -north)) % 360.0
            out[j] = facing_position(rows, k, bearing)
    elif source == p.MAP:
        address, cols = tables.maps[int(rows[k, c.A])], int(tables.grid[1])
        for j in range(count):
            out[j] = _measure_at(address, cols, block, index[j] - start)
        if rows[k, c.B] > 0.0:
            for j in range(count):
                out[j] = facing_position(rows, k, out[j] % 360.0)
        else:
            to_positions(rows, k, count, out)
    elif source == p.NOISE:
        _noises(tables, rows, k, places, index, count, left, block[5:], out)
    elif source == p.CARRIED and tables.carried.shape[0] > 0:
        for j in range(count):
            out[j] = tables.carried[index[j], int(rows[k, c.A])]
        to_positions(rows, k, count, out)
    else:
        _marked(tables, rows, k, places, index, count, out)


@inner
def _shift(
    tables: Tables,
    first: int,
    last: int,
    places: Places,
    one: NDArray[np.int64],
    block: NDArray[np.float64],
    at: NDArray[np.float64],
) -> float:
    """Return how far break-ups move the edges at one place, in widths of their soft ends."""
    total = 0.0
    for k in range(first, last):
        if int(tables.breaks[k, c.SOURCE]) == p.NOISE:
            if tables.carried.shape[0] > 0:
                size, which = tables.breaks[k, c.A], int(tables.breaks[k, c.B])
                value = _own_noise(tables.carried, one[0], size, which, int(tables.breaks[k, c.C]))
            else:
                value = _noise_at(tables.breaks, k, places.x_m[one[0]], places.y_m[one[0]])
        else:
            # below 0: it is not known what is left to be let in
            at[1] = -1.0
            _positions(tables, tables.breaks, k, places, one, 1, block, at[1:], at)
            value = let_in(tables.curves, int(tables.breaks[k, c.CURVE]), at[0])
        moved = 2.0 * value - 1.0
        total += tables.breaks[k, c.STRENGTH] * (-moved if tables.breaks[k, c.OPPOSITE] > 0.0 else moved)
    return total


@inner
def _broken_up(
    tables: Tables,
    k: int,
    places: Places,
    index: NDArray[np.int64],
    count: int,
    t: NDArray[np.float64],
    shift: NDArray[np.float64],
    block: NDArray[np.float64],
    levels: NDArray[np.float64],
) -> None:
    """Move positions near clause ``k``'s edges; ``shift`` holds what was found before, NaN where it was not.

    Nothing is moved where ``levels[0]`` says that nothing is left to be let in; ``levels[1]`` is scratch.
    """
    rows = tables.rows
    reach, source = rows[k, c.BREAK_REACH], int(rows[k, c.SOURCE])
    first, last = int(rows[k, c.BREAK_FIRST]), int(rows[k, c.BREAK_LAST])
    # what ends at 0 and 1 has no way further: beyond its ends nothing is moved
    bounded = source == p.PAINTED or source == p.PLANE or source == p.NOISE
    left, at = levels[0], levels[1]
    spared = _narrows(rows, k) and left[0] >= 0.0
    for j in range(count):
        if spared and left[j] <= 0.0:
            continue
        if -reach < t[j] < 1.0 + reach:
            if np.isnan(shift[j]):
                shift[j] = _shift(tables, first, last, places, index[j : j + 1], block, at)
            t[j] += shift[j] * (min(max(4.0 * t[j] * (1.0 - t[j]), 0.0), 1.0) if bounded else 1.0)


@inner
def _let_in_all(
    rows: NDArray[np.float64], curves: NDArray[np.float64], k: int, count: int, t: NDArray[np.float64]
) -> None:
    """Turn positions on clause ``k`` into how much it lets in."""
    curve = int(rows[k, c.CURVE])
    if curve < 0:
        for j in range(count):
            t[j] = ease(t[j])
    else:
        for j in range(count):
            t[j] = let_in(curves, curve, t[j])


@inner
def _join(total: NDArray[np.float64], part: NDArray[np.float64], count: int, join: int) -> None:
    """Join one more clause to what was let in; ``total[0]`` below 0 means that it is the first."""
    if total[0] < 0.0:
        for j in range(count):
            total[j] = 1.0 - part[j] if join == p.EXCEPT else part[j]
    elif join == p.AND:
        for j in range(count):
            total[j] *= part[j]
    elif join == p.OR:
        for j in range(count):
            total[j] = total[j] + part[j] - total[j] * part[j]
    elif join == p.EXCEPT:
        for j in range(count):
            total[j] *= 1.0 - part[j]
    else:
        for j in range(count):
            total[j] = min(1.0, total[j] + part[j])


@inner
def _nothing_left(total: NDArray[np.float64], count: int) -> bool:
    j = 0
    while j < count and total[j] <= 0.0:
        j += 1
    return j == count


@part
def run(
    tables: Tables,
    first: int,
    last: int,
    places: Places,
    index: NDArray[np.int64],
    count: int,
    scratch: NDArray[np.float64],
    out: NDArray[np.float32],
) -> None:
    """Fill in how much a program lets in, 0..1, at some places.

    Parameters
    ----------
    tables : Tables
        Programs and all they read.
    first, last : int
        The program's rows are ``first`` to ``last - 1``.
    places : Places
        All places.
    index : ndarray, shape (count,), int64
        Which of them, all of one block.
    count : int
        How many.
    scratch : ndarray
        From :func:`scratch`: a line for each bracket that may be open, one for a clause, one for its break-up, and
        those of the block, which :func:`survey_block` was asked to fill in.
    out : ndarray, shape (count,), float32
        Filled in.
    """
    rows = tables.rows
    height = scratch.shape[0]
    part, shift, block = scratch[height - _LINES - 2], scratch[height - _LINES - 1], scratch[height - _LINES :]
    if first == last:
        out[:count] = 1.0
        return
    level, k, shift_of = 0, first, -1
    scratch[0, 0] = -1.0
    while k < last:
        source = int(rows[k, c.SOURCE])
        if source == p.OPEN:
            level += 1
            scratch[level, 0] = -1.0
            k += 1
            continue
        if source == p.CLOSE:
            empty, opacity, limited = scratch[level, 0] < 0.0, rows[k, c.A], rows[k, c.B] > 0.0
            for j in range(count):
                part[j] = opacity * (1.0 if empty else scratch[level, j])
                if limited:
                    part[j] = let_in(tables.curves, int(rows[k, c.CURVE]), position(rows, k, part[j]))
            level -= 1
        else:
            _positions(tables, rows, k, places, index, count, block, scratch[level], part)
            if rows[k, c.BREAK_REACH] > 0.0:
                if shift_of != int(rows[k, c.BREAK_FIRST]):
                    shift_of = int(rows[k, c.BREAK_FIRST])
                    shift[:count] = np.nan
                # the line of the next bracket is free while a clause is read
                _broken_up(tables, k, places, index, count, part, shift, block, scratch[level : level + 2])
            _let_in_all(rows, tables.curves, k, count, part)
        if rows[k, c.OPPOSITE] > 0.0:
            for j in range(count):
                part[j] = 1.0 - part[j]
        total = scratch[level]
        _join(total, part, count, int(rows[k, c.JOIN]))
        skip = int(rows[k, c.SKIP])
        k = skip if skip >= 0 and _nothing_left(total, count) else k + 1
    whole = scratch[0, 0] < 0.0
    for j in range(count):
        out[j] = 1.0 if whole else scratch[0, j]


@kernel
def _presence_band(
    tables: Tables,
    first: int,
    last: int,
    places: Places,
    index: NDArray[np.int64],
    scratch: NDArray[np.float64],
    out: NDArray[np.float32],
    a: int,
    b: int,
) -> None:
    for start in range(a, b, BLOCK):
        count = min(BLOCK, b - start)
        for j in range(count):
            index[j] = start + j
        survey_block(tables, places, start, count, scratch)
        run(tables, first, last, places, index, count, scratch, out[start : start + count])


def presences(programs: Programs, which: int, places: Places, token: Token | None = None) -> NDArray[np.float32]:
    """Return how much one program lets in at places, shape (n,), float32, 0..1.

    Parameters
    ----------
    programs : Programs
        From :func:`elvatch.core.rules.program.compiled`.
    which : int
        Which of its programs.
    places : Places
        Where.
    token : Token, optional
        Asked between bands.
    """
    return presences_of(programs.tables, programs.spans[which], programs.depth, places, token)


def presences_of(
    tables: Tables, span: Sequence[int], depth: int, places: Places, token: Token | None = None
) -> NDArray[np.float32]:
    """Return how much the program at some rows of tables lets in, whose rules are so ``depth``; see
    :func:`presences`."""
    out = np.empty(len(places.x_m), np.float32)

    def band(a: int, b: int) -> None:
        _presence_band(tables, span[0], span[1], places, np.empty(BLOCK, np.int64), scratch(depth), out, a, b)

    over_bands(len(out), band, token, least=8192)
    return out
