"""Headerless heights: samples row by row, nothing else. Their layout is guessed from the bytes.

Real ground is smooth: the right layout has small second differences along rows and columns
alike. A wrong byte order makes noise, a wrong width shears rows against each other, a wrong
sign tears the ground where it crosses zero.
"""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from elvatch.core.formats.decoded import Decoded, Samples
from elvatch.core.formats.limits import MOST_SAMPLES, MOST_SIDE, check_size
from elvatch.core.formats.reading import RawLayout, Reading, SampleKind
from elvatch.core.refusal import RefusalError

ENDINGS = (".raw", ".r8", ".r16", ".r32", ".f32", ".bin", ".dat", ".bil", ".hgt", ".gray", ".grey", ".img")
_TYPES: dict[SampleKind, str] = {
    "u8": "u1",
    "i8": "i1",
    "u16": "u2",
    "i16": "i2",
    "u32": "u4",
    "i32": "i4",
    "f32": "f4",
}
_LEAST_SIDE = 8
_LOOKED_AT_ROWS = 160
_MOST_GUESSES = 6
_SHAPES_A_TYPE = 4


@dataclass(frozen=True)
class Guess:
    """A layout, how rough the ground would be (0 smooth, about 2 noise), and how sure that it is right, 0..1."""

    layout: RawLayout
    roughness: float
    confidence: float


def looks_like_name(name: str) -> bool:
    """Whether a file's name says that it is headerless."""
    return name.lower().endswith(ENDINGS)


def _dtype(layout: RawLayout) -> np.dtype[np.generic]:
    return np.dtype((">" if layout.big_endian else "<") + _TYPES[layout.samples])


def decode(name: str, data: bytes, reading: Reading) -> Decoded:
    """Decode headerless samples by the reading's layout; :func:`guesses` gives one where it is not known."""
    layout = reading.raw
    if layout is None:
        raise RefusalError(name, "no header", "a layout", "give width, height and sample type")
    check_size(name, layout.width, layout.height)
    dtype = _dtype(layout)
    wanted = layout.width * layout.height * dtype.itemsize
    if len(data) - layout.skip_bytes < wanted:
        raise RefusalError(
            name,
            f"{len(data)} bytes",
            f"{layout.skip_bytes + wanted} for {layout.width} x {layout.height} samples of {dtype.itemsize * 8} bits",
            "choose a size that fits",
        )
    values = np.frombuffer(data, dtype, layout.width * layout.height, layout.skip_bytes)
    return Decoded(values.reshape(layout.height, layout.width).astype(dtype.newbyteorder("=")))


def _shapes(count: int) -> list[tuple[int, int]]:
    """Return plausible (width, height) of so many samples, squares first, then by how near a square."""
    root = math.isqrt(count)
    shapes = []
    for short in range(root, max(_LEAST_SIDE, root // 4) - 1, -1):
        if count % short == 0 and short >= _LEAST_SIDE and count // short <= MOST_SIDE:
            shapes += (
                [(count // short, short)]
                if short * short == count
                else [(count // short, short), (short, count // short)]
            )
        if len(shapes) >= 2 * _SHAPES_A_TYPE:
            break
    return shapes


def _strips(rows: int) -> list[tuple[int, int]]:
    """Return the strips of rows that are looked at: all of a small file, eight of a large one."""
    if rows <= _LOOKED_AT_ROWS:
        return [(0, rows)]
    tall = _LOOKED_AT_ROWS // 8
    return [(a, a + tall) for a in np.linspace(0, rows - tall, 8).astype(int).tolist()]


def _roughness(values: Samples) -> float:
    """Return second differences against the spread of the values: towards 0 smooth, about 2 for noise.

    The rougher of the two directions counts, so that sheared rows show.
    """
    with np.errstate(invalid="ignore"):
        strips = [values[a:b].astype(np.float64) for a, b in _strips(len(values))]
    part = np.concatenate(strips)
    if values.dtype.kind == "f":
        if not np.isfinite(part).all() or np.abs(part).max() > 1e12:
            return math.inf
        # numbers that are not heights have exponents of all sizes
        small = np.abs(part[part != 0])
        if small.size and np.median(small) < 1e-12:
            return math.inf
    spread = float(part.std())
    if spread <= 0:
        return math.inf
    bends = []
    for axis in (0, 1):
        steps = np.concatenate([np.diff(strip, n=2, axis=axis).ravel() for strip in strips])
        bends.append(float(np.sqrt(np.mean(np.minimum(np.abs(steps) / spread, 4.0) ** 2))))
    # ground is about as rough east-west as north-south
    lopsided = max(bends) / max(min(bends), 1e-9)
    return max(bends) * (1.0 + 0.25 * math.log(max(lopsided, 1.0)))


def guesses(name: str, data: bytes) -> list[Guess]:
    """Return the likeliest layouts of headerless heights, the best first.

    Parameters
    ----------
    name : str
        For messages.
    data : bytes
        The whole file.

    Raises
    ------
    RefusalError
        When no sample size gives a plausible width and height.
    """
    found: list[tuple[float, float, RawLayout]] = []
    for kind, code in _TYPES.items():
        size = np.dtype(code).itemsize
        if len(data) % size or len(data) // size > MOST_SAMPLES:
            continue
        for width, height in _shapes(len(data) // size)[:_SHAPES_A_TYPE]:
            for big in (False, True) if size > 1 else (False,):
                layout = RawLayout(width=width, height=height, samples=kind, big_endian=big)
                values = np.frombuffer(data, _dtype(layout)).reshape(height, width)
                rough = _roughness(values)
                if math.isfinite(rough):
                    found.append((rough * _unlikeliness(layout, values), rough, layout))
    if not found:
        raise RefusalError(
            name,
            f"{len(data)} bytes that fit no plausible size",
            "rows times columns of 1, 2 or 4 bytes a sample",
            "give width, height and sample type",
        )
    found.sort(key=lambda one: one[0])
    return _with_confidence(data, found)[:_MOST_GUESSES]


def _unlikeliness(layout: RawLayout, values: Samples) -> float:
    """Return a factor that tips the balance between layouts that are about as smooth."""
    factor = 1.0
    if layout.width != layout.height:
        factor *= 1.35
    if layout.samples in ("i8", "i16", "i32", "u32"):
        factor *= 1.04
    if layout.samples in ("u8", "i8"):
        factor *= 1.02
    if layout.samples in ("u32", "i32"):
        # whole numbers of 32 bits that are heights are small or use their range
        factor *= 4.0 if float(np.abs(values[:: max(1, len(values) // 32)].astype(np.float64)).max()) > 1e8 else 1.0
    return factor


def _with_confidence(data: bytes, found: list[tuple[float, float, RawLayout]]) -> list[Guess]:
    """Say how sure each guess is: the best against the next one that would show other ground."""
    best = found[0]
    rival = next((one for one in found[1:] if not _same_ground(data, best[2], one[2])), None)
    sure = 1.0 - math.exp(-best_lead(best[0], rival[0] if rival else math.inf))
    sure *= 1.0 / (1.0 + (best[1] / 0.6) ** 4)
    rest = 1.0 - sure
    weights = [math.exp(-3.0 * max(0.0, math.log(max(one[0], 1e-9) / max(best[0], 1e-9)))) for one in found[1:]]
    total = sum(weights) or 1.0
    return [Guess(best[2], best[1], sure)] + [
        Guess(layout, rough, rest * weight / total)
        for (_, rough, layout), weight in zip(found[1:], weights, strict=True)
    ]


def best_lead(best: float, rival: float) -> float:
    """Return how clearly the best layout is smoother than the next, as a logarithm times three."""
    return 12.0 if math.isinf(rival) else 3.0 * math.log(max(rival, 1e-9) / max(best, 1e-9))


def _same_ground(data: bytes, one: RawLayout, other: RawLayout) -> bool:
    """Whether two layouts give the same ground but for a constant."""
    if (one.width, one.height) != (other.width, other.height):
        return False
    a, b = (_sample(data, layout) for layout in (one, other))
    if a.shape != b.shape:
        return False
    difference = a - b
    return bool(np.ptp(difference) == 0.0)


def _sample(data: bytes, layout: RawLayout) -> NDArray[np.float64]:
    dtype = _dtype(layout)
    values = np.frombuffer(data, dtype)
    return values[:: max(1, len(values) // 5000)].astype(np.float64)
