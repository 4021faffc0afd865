"""A repeated texture without visible repeats: patches of it, shifted or turned, blended so that contrast is kept.

The plane is cut into a lattice of triangles; about each of its corners lies a patch with a placement of
its own (Heitz & Neyret 2018). Where patches overlap, what each adds to the mean is blended and brought back
to the variance of one; weights are sharpened so that mostly one patch is seen (Mikkelsen 2022).

What is looked up has a number of ``values`` that are kept about their mean (seven of a set, one of an
overlay), and after them slopes to the right and up and the variance of slope that filtering took away.
"""

from __future__ import annotations

import math

import numpy as np
from numpy.typing import NDArray

from elvatch.core.kernel import inner, part
from elvatch.core.mapping.lookup import look_up, look_up_sheet
from elvatch.core.stock.pyramid import SLOPE_X

OF_SET, OF_SHEET = SLOPE_X, 1
"""How many values are looked up, before the slopes."""
NONE, SHIFT, TURN, SECOND = range(4)
PATCH = 0.5
"""From one corner of the lattice to the next, in tiles."""
_UNSEEN = 0.02
_BEGINS, _FULL = 1.0 / 128.0, 1.0 / 28.0
"""Area seen, in tiles, from which a larger copy is mixed in, and where it has its full part."""
_MOST_SECOND = 0.72


@inner
def draw(seed: int, column: int, row: int, which: int) -> float:
    """Return a number in 0..1 that a corner of the lattice always has."""
    n = np.uint32(seed * 374761393 + column * 668265263 + row * 2246822519 + which * 3266489917)
    n = np.uint32((n ^ (n >> np.uint32(15))) * np.uint32(2246822519))
    n = np.uint32((n ^ (n >> np.uint32(13))) * np.uint32(3266489917))
    return float(n ^ (n >> np.uint32(16))) / 4294967296.0


@inner
def _heading(part: float) -> tuple[float, float]:
    """Return cosine and sine of a part of a whole turn, 0..1, within 3e-8, by their series about a quarter."""
    quarter = int(4.0 * part + 0.5)
    x = (part - 0.25 * quarter) * (2.0 * math.pi)
    q = x * x
    c = 1.0 - q * (1.0 / 2.0 - q * (1.0 / 24.0 - q * (1.0 / 720.0 - q * (1.0 / 40320.0))))
    s = x * (1.0 - q * (1.0 / 6.0 - q * (1.0 / 120.0 - q * (1.0 / 5040.0 - q * (1.0 / 362880.0)))))
    if quarter & 1:
        c, s = -s, c
    if quarter & 2:
        c, s = -c, -s
    return c, s


@inner
def lattice(x: float, y: float, corner: int) -> tuple[int, int, float]:
    """Return column, row and weight of one of the three corners about a place, in units of the lattice's edge.

    The weights of the three sum to 1 (barycentric).
    """
    skew_x, skew_y = x - 0.5773502691896258 * y, 1.1547005383792515 * y
    column, row = math.floor(skew_x), math.floor(skew_y)
    fx, fy = skew_x - column, skew_y - row
    rest = 1.0 - fx - fy
    if rest > 0.0:
        weight = rest if corner == 0 else (fy if corner == 1 else fx)
        return int(column) + (1 if corner == 2 else 0), int(row) + (1 if corner == 1 else 0), weight
    weight = -rest if corner == 0 else (1.0 - fy if corner == 1 else 1.0 - fx)
    return int(column) + (0 if corner == 2 else 1), int(row) + (0 if corner == 1 else 1), weight


@inner
def sharpened(weight: float) -> float:
    """Return a weight of the lattice sharpened, before the three are made to sum to 1."""
    cube = weight * weight * weight
    return cube * cube


@inner
def at_corner(column: int, row: int) -> tuple[float, float]:
    """Return where a corner of the lattice lies, in units of its edge."""
    return column + 0.5 * row, 0.8660254037844386 * row


@inner
def gather(
    values: int, total: NDArray[np.float32], one: NDArray[np.float32], mean: NDArray[np.float32], weight: float
) -> None:
    """Add one of several independent samples to ``total``: what it has beyond the mean, and what it lost."""
    part = np.float32(weight)
    for k in range(values):
        total[k] += part * (one[k] - mean[k])
    total[values] += part * one[values]
    total[values + 1] += part * one[values + 1]
    total[values + 2] += part * part * one[values + 2]


@inner
def settle(values: int, total: NDArray[np.float32], mean: NDArray[np.float32], squares: float) -> None:
    """Make the samples gathered one again, with the mean and the variance of each of them."""
    gain = np.float32(1.0 / math.sqrt(max(squares, 1e-9)))
    for k in range(values):
        total[k] = min(max(mean[k] + total[k] * gain, np.float32(0.0)), np.float32(1.0))
    total[values] *= gain
    total[values + 1] *= gain
    total[values + 2] *= gain * gain


@inner
def in_metres(values: int, gain_u: float, gain_v: float, out: NDArray[np.float32]) -> None:
    """Turn the slopes that were looked up into rise per metre, and their mean square into the variance lost."""
    sx, sy, rms = out[values], out[values + 1], out[values + 2]
    across, down = np.float32(gain_u), np.float32(gain_v)
    out[values + 2] = across * down * max(np.float32(0.0), rms * rms - sx * sx - sy * sy)
    out[values], out[values + 1] = sx * across, sy * down


@inner
def _placed(
    values: int,
    texels: int,
    side: int,
    u: float,
    v: float,
    c: float,
    s: float,
    shift_u: float,
    shift_v: float,
    across: float,
    along_u: float,
    along_v: float,
    aspect: float,
    gain_u: float,
    gain_v: float,
    taps: int,
    out: NDArray[np.float32],
) -> None:
    """Look an image up at a place turned about the origin and shifted; slopes come out unturned, in real metres."""
    pu, pv = c * u + s * v + shift_u, (c * v - s * u + shift_v) * aspect
    au, av = c * along_u + s * along_v, (c * along_v - s * along_u) * aspect
    if values == OF_SHEET:
        look_up_sheet(texels, side, pu, pv, across * max(aspect, 1.0), au, av, taps, out)
    else:
        look_up(texels, side, pu, pv, across * max(aspect, 1.0), au, av, taps, out)
    in_metres(values, gain_u, gain_v, out)
    sx, sy = out[values], out[values + 1]
    # u runs right and v down, a slope's second number up
    out[values], out[values + 1] = c * sx + s * sy, c * sy - s * sx


@inner
def _as_it_is(
    values: int,
    texels: int,
    side: int,
    u: float,
    v: float,
    across: float,
    along_u: float,
    along_v: float,
    aspect: float,
    gain_u: float,
    gain_v: float,
    taps: int,
    out: NDArray[np.float32],
) -> None:
    """Look an image up where it lies, neither turned nor shifted."""
    _placed(
        values, texels, side, u, v, 1.0, 0.0, 0.0, 0.0, across, along_u, along_v, aspect, gain_u, gain_v, taps, out
    )


@inner
def _with_larger(
    values: int,
    texels: int,
    side: int,
    u: float,
    v: float,
    across: float,
    along_u: float,
    along_v: float,
    aspect: float,
    gain_u: float,
    gain_v: float,
    strength: float,
    second: float,
    taps: int,
    mean: NDArray[np.float32],
    out: NDArray[np.float32],
    one: NDArray[np.float32],
) -> None:
    """Fill ``out`` with an image and, from afar, a larger copy of it mixed in."""
    seen = math.sqrt(across * (across + math.sqrt(along_u * along_u + along_v * along_v)))
    t = min(max(math.log(max(seen, 1e-9) / _BEGINS) / math.log(_FULL / _BEGINS), 0.0), 1.0)
    part = _MOST_SECOND * strength * t * t * (3.0 - 2.0 * t)
    _as_it_is(values, texels, side, u, v, across, along_u, along_v, aspect, gain_u, gain_v, taps, out)
    if part <= 0.0:
        return
    _placed(
        values,
        texels,
        side,
        u / second,
        v / second,
        1.0,
        0.0,
        0.37,
        0.71,
        across / second,
        along_u / second,
        along_v / second,
        aspect,
        gain_u / second,
        gain_v / second,
        taps,
        one,
    )
    for k in range(values):
        out[k] = (1.0 - part) * (out[k] - mean[k])
    out[values] *= 1.0 - part
    out[values + 1] *= 1.0 - part
    out[values + 2] *= (1.0 - part) ** 2
    gather(values, out, one, mean, part)
    settle(values, out, mean, (1.0 - part) ** 2 + part * part)


@part
def _sampled(
    values: int,
    texels: int,
    side: int,
    u: float,
    v: float,
    across: float,
    along_u: float,
    along_v: float,
    aspect: float,
    gain_u: float,
    gain_v: float,
    kind: int,
    strength: float,
    second: float,
    seed: int,
    taps: int,
    mean: NDArray[np.float32],
    out: NDArray[np.float32],
    one: NDArray[np.float32],
) -> None:
    """Fill ``out`` as :func:`sample` does, of a set or of an overlay whose repeats are broken up."""
    if kind == SECOND:
        _with_larger(
            values,
            texels,
            side,
            u,
            v,
            across,
            along_u,
            along_v,
            aspect,
            gain_u,
            gain_v,
            strength,
            second,
            taps,
            mean,
            out,
            one,
        )
        return
    for k in range(values + 3):
        out[k] = 0.0
    x, y = u / PATCH, v / PATCH
    sum_of = 0.0
    for corner in range(3):
        sum_of += sharpened(lattice(x, y, corner)[2])
    still, squares = 0.0, 0.0
    for corner in range(3):
        column, row, weight = lattice(x, y, corner)
        weight = sharpened(weight) / sum_of
        if weight < _UNSEEN:
            continue
        if draw(seed, column, row, 0) >= strength:
            still += weight
            continue
        c, s = 1.0, 0.0
        if kind == TURN:
            c, s = _heading(draw(seed, column, row, 1))
        cx, cy = at_corner(column, row)
        cx, cy = cx * PATCH, cy * PATCH
        # turned about its own corner, so that far patches are not swept round
        shift_u = cx - (c * cx + s * cy) + draw(seed, column, row, 2)
        shift_v = cy - (c * cy - s * cx) + draw(seed, column, row, 3)
        _placed(
            values,
            texels,
            side,
            u,
            v,
            c,
            s,
            shift_u,
            shift_v,
            across,
            along_u,
            along_v,
            aspect,
            gain_u,
            gain_v,
            taps,
            one,
        )
        gather(values, out, one, mean, weight)
        squares += weight * weight
    if still > 0.0:
        _as_it_is(values, texels, side, u, v, across, along_u, along_v, aspect, gain_u, gain_v, taps, one)
        gather(values, out, one, mean, still)
        squares += still * still
    settle(values, out, mean, squares)


@inner
def sample(
    texels: int,
    side: int,
    u: float,
    v: float,
    across: float,
    along_u: float,
    along_v: float,
    aspect: float,
    gain_u: float,
    gain_v: float,
    kind: int,
    strength: float,
    second: float,
    seed: int,
    taps: int,
    mean: NDArray[np.float32],
    out: NDArray[np.float32],
    one: NDArray[np.float32],
) -> None:
    """Fill ``out`` with a set's ten numbers at a place of a plane.

    Parameters
    ----------
    texels, side : int
        The stored set, as :func:`~elvatch.core.mapping.lookup.look_up` takes it.
    u, v : float
        Place on the plane in tiles across, v downwards.
    across, along_u, along_v : float
        The area it stands for, likewise.
    aspect : float
        How many times a tile is longer across than down.
    gain_u, gain_v : float
        What the set's own slopes are multiplied by, across and down.
    kind : int
        ``NONE``, ``SHIFT``, ``TURN`` or ``SECOND``.
    strength, second : float
        As in :class:`~elvatch.core.document.fit.Repeats`.
    seed : int
        Of the placements.
    taps : int
        Most lookups along a stretched area.
    mean : ndarray, shape (10,), float32
        The set's mean.
    out, one : ndarray, shape (10,), float32
        Result, and scratch. Slopes are rise per metre to the right and up the texture as it lies,
        their last number the variance of slope that filtering took away.
    """
    if kind == NONE or strength <= 0.0:
        _as_it_is(OF_SET, texels, side, u, v, across, along_u, along_v, aspect, gain_u, gain_v, taps, out)
        return
    _sampled(
        OF_SET,
        texels,
        side,
        u,
        v,
        across,
        along_u,
        along_v,
        aspect,
        gain_u,
        gain_v,
        kind,
        strength,
        second,
        seed,
        taps,
        mean,
        out,
        one,
    )


@inner
def sample_sheet(
    texels: int,
    side: int,
    u: float,
    v: float,
    across: float,
    along_u: float,
    along_v: float,
    aspect: float,
    gain_u: float,
    gain_v: float,
    kind: int,
    strength: float,
    second: float,
    seed: int,
    taps: int,
    mean: NDArray[np.float32],
    out: NDArray[np.float32],
    one: NDArray[np.float32],
) -> None:
    """Fill ``out``, shape (4,), with an overlay's numbers at a place of a plane; see :func:`sample`."""
    if kind == NONE or strength <= 0.0:
        _as_it_is(OF_SHEET, texels, side, u, v, across, along_u, along_v, aspect, gain_u, gain_v, taps, out)
        return
    _sampled(
        OF_SHEET,
        texels,
        side,
        u,
        v,
        across,
        along_u,
        along_v,
        aspect,
        gain_u,
        gain_v,
        kind,
        strength,
        second,
        seed,
        taps,
        mean,
        out,
        one,
    )
