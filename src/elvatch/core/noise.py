"""Smooth noise from hashed gradients (Perlin 2002), endless or periodic, and its sums."""

from __future__ import annotations

import math

import numpy as np
from numpy.typing import NDArray

from elvatch.core.kernel import inner, kernel, mixed_bits
from elvatch.core.parallel import over_bands


@inner
def hash_cell(ix: int, iy: int, seed: int) -> int:
    """Return 32 well-mixed bits for a lattice cell."""
    return mixed_bits(ix, iy, seed)


_HEADINGS = 32
_EAST = np.cos(2 * math.pi * (np.arange(_HEADINGS) + 0.31) / _HEADINGS)
_NORTH = np.sin(2 * math.pi * (np.arange(_HEADINGS) + 0.31) / _HEADINGS)


@inner
def _corner(ix: int, iy: int, seed: int, dx: float, dy: float) -> float:
    heading = hash_cell(ix, iy, seed) & (_HEADINGS - 1)
    result: float = _EAST[heading] * dx + _NORTH[heading] * dy
    return result


@inner
def _faded(d: float) -> float:
    return d * d * d * (d * (d * 6.0 - 15.0) + 10.0)


@kernel
def gradient_noise(x: float, y: float, seed: int, period: int) -> float:
    """Return noise in about [-1, 1] with features one unit across.

    Parameters
    ----------
    x, y : float
        Place, in units of the feature size.
    seed : int
        Which noise.
    period : int
        Repeat after so many units in both directions; 0 never repeats.
    """
    fx, fy = math.floor(x), math.floor(y)
    ix, iy = int(fx), int(fy)
    dx, dy = x - fx, y - fy
    jx, jy = ix + 1, iy + 1
    if period > 0:
        ix, iy, jx, jy = ix % period, iy % period, jx % period, jy % period
    u, v = _faded(dx), _faded(dy)
    a = _corner(ix, iy, seed, dx, dy)
    b = _corner(jx, iy, seed, dx - 1.0, dy)
    c = _corner(ix, jy, seed, dx, dy - 1.0)
    d = _corner(jx, jy, seed, dx - 1.0, dy - 1.0)
    top = a + (b - a) * u
    return (top + (c + (d - c) * u - top) * v) * 1.5


@kernel
def fractal_noise(x: float, y: float, seed: int, period: int, octaves: int, gain: float) -> float:
    """Return a sum of octaves of :func:`gradient_noise`, scaled to about [-1, 1]."""
    total, weight, norm = 0.0, 1.0, 0.0
    for octave in range(octaves):
        total += weight * gradient_noise(x, y, seed + octave * 131, period)
        norm += weight
        weight *= gain
        x, y, period = x * 2.0, y * 2.0, period * 2
    return total / norm


@inner
def add_octave(
    x: NDArray[np.float64],
    y: NDArray[np.float64],
    count: int,
    scale: float,
    seed: int,
    weight: float,
    out: NDArray[np.float64],
) -> None:
    """Add endless :func:`gradient_noise` at places one after the other, times ``weight``, to ``out``.

    Where the next place lies in the same cell, as most do that were asked for side by side, the cell's corners are
    known.
    """
    east_a, east_b, east_c, east_d = 0.0, 0.0, 0.0, 0.0
    north_a, north_b, north_c, north_d = 0.0, 0.0, 0.0, 0.0
    last_x, last_y = math.inf, math.inf
    for j in range(count):
        px, py = x[j] * scale, y[j] * scale
        fx, fy = math.floor(px), math.floor(py)
        if fx != last_x or fy != last_y:
            ix, iy = int(fx), int(fy)
            a = hash_cell(ix, iy, seed) & (_HEADINGS - 1)
            b = hash_cell(ix + 1, iy, seed) & (_HEADINGS - 1)
            c = hash_cell(ix, iy + 1, seed) & (_HEADINGS - 1)
            d = hash_cell(ix + 1, iy + 1, seed) & (_HEADINGS - 1)
            east_a, east_b, east_c, east_d = _EAST[a], _EAST[b], _EAST[c], _EAST[d]
            north_a, north_b, north_c, north_d = _NORTH[a], _NORTH[b], _NORTH[c], _NORTH[d]
            last_x, last_y = fx, fy
        dx, dy = px - fx, py - fy
        u, v = _faded(dx), _faded(dy)
        left, right = east_a * dx + north_a * dy, east_b * (dx - 1.0) + north_b * dy
        low_left, low_right = east_c * dx + north_c * (dy - 1.0), east_d * (dx - 1.0) + north_d * (dy - 1.0)
        top = left + (right - left) * u
        out[j] += weight * ((top + (low_left + (low_right - low_left) * u - top) * v) * 1.5)


@inner
def add_octaves(
    x: NDArray[np.float64],
    y: NDArray[np.float64],
    count: int,
    seed: int,
    octaves: int,
    gain: float,
    out: NDArray[np.float64],
) -> None:
    """Add endless :func:`fractal_noise` at places one after the other to ``out``; see :func:`add_octave`."""
    norm, weight = 0.0, 1.0
    for _ in range(octaves):
        norm, weight = norm + weight, weight * gain
    weight, scale = 1.0 / norm, 1.0
    for octave in range(octaves):
        add_octave(x, y, count, scale, seed + octave * 131, weight, out)
        weight, scale = weight * gain, scale * 2.0


@kernel
def cell_noise(x: float, y: float, seed: int) -> tuple[float, float]:
    """Return the distance to the nearest of scattered points (Worley 1996), and that point's own number.

    Parameters
    ----------
    x, y : float
        Place, in units of the points' mean spacing.
    seed : int
        Which points.

    Returns
    -------
    tuple of float
        Distance in units of the spacing, about 0 to 1; a number of the nearest point, 0 to 1.
    """
    ix, iy = math.floor(x), math.floor(y)
    best, number = 9.0, 0.0
    for cy in range(iy - 1, iy + 2):
        for cx in range(ix - 1, ix + 2):
            h = hash_cell(cx, cy, seed)
            dx = cx + (h & 0xFFFF) / 65536.0 - x
            dy = cy + (h >> 16) / 65536.0 - y
            away = dx * dx + dy * dy
            if away < best:
                best = away
                number = hash_cell(cx, cy, seed + 7919) / 4294967296.0
    return math.sqrt(best), number


@kernel
def _add_octave(line: NDArray[np.float64], y: float, cells: int, down: int, seed: int, weight: float) -> None:
    """Add a row of :func:`gradient_noise`, cell by cell, so that no pixel asks for its corners anew."""
    size = line.shape[0]
    fy = math.floor(y)
    dy = y - fy
    iy = int(fy) % down
    jy = (iy + 1) % down
    v = dy * dy * dy * (dy * (dy * 6.0 - 15.0) + 10.0)
    weight *= 1.5
    upper = hash_cell(0, iy, seed) & (_HEADINGS - 1)
    lower = hash_cell(0, jy, seed) & (_HEADINGS - 1)
    for ix in range(cells):
        right = (ix + 1) % cells
        next_upper = hash_cell(right, iy, seed) & (_HEADINGS - 1)
        next_lower = hash_cell(right, jy, seed) & (_HEADINGS - 1)
        # along a row each corner's share is a straight line: of the two on a side one line is left
        left = _NORTH[upper] * dy * (1.0 - v) + _NORTH[lower] * (dy - 1.0) * v
        left_rise = _EAST[upper] * (1.0 - v) + _EAST[lower] * v
        end_rise = _EAST[next_upper] * (1.0 - v) + _EAST[next_lower] * v
        end = _NORTH[next_upper] * dy * (1.0 - v) + _NORTH[next_lower] * (dy - 1.0) * v - end_rise
        first = -((cells - 2 * ix * size) // (2 * cells))
        stop = -((cells - 2 * (ix + 1) * size) // (2 * cells))
        for col in range(first, stop):
            dx = (col + 0.5) * cells / size - ix
            u = dx * dx * dx * (dx * (dx * 6.0 - 15.0) + 10.0)
            here = left + left_rise * dx
            line[col] += weight * (here + (end + end_rise * dx - here) * u)
        upper, lower = next_upper, next_lower


@kernel
def _fill_rows(
    out: NDArray[np.float32],
    line: NDArray[np.float64],
    across: int,
    down: int,
    seed: int,
    octaves: int,
    gain: float,
    a: int,
    b: int,
) -> None:
    size = out.shape[1]
    for row in range(a, b):
        line[:] = 0.0
        weight, norm, times = 1.0, 0.0, 1
        for octave in range(octaves):
            y = (row + 0.5) / size * down * times
            _add_octave(line, y, across * times, down * times, seed + octave * 131, weight)
            norm += weight
            weight *= gain
            times *= 2
        for col in range(size):
            out[row, col] = line[col] / norm


def periodic(
    size: int, cells: int, seed: int, octaves: int = 4, gain: float = 0.5, down: int | None = None
) -> NDArray[np.float32]:
    """Return a seamless square of fractal noise.

    Parameters
    ----------
    size : int
        Samples along a side.
    cells : int
        Features of the lowest octave along a side, at least 1.
    seed : int
        Which noise.
    octaves : int
        How many octaves are summed.
    gain : float
        Strength of an octave relative to the one below it.
    down : int, optional
        Features down the picture, where they are not as many as across: grain that runs one way.

    Returns
    -------
    ndarray, shape (size, size), float32
        About -1..1, mean near 0.
    """
    out = np.empty((size, size), np.float32)
    over_bands(size, lambda a, b: _fill_rows(out, np.empty(size), cells, down or cells, seed, octaves, gain, a, b))
    return out
