"""Paint on a thing's own surface: touches of the brush as balls in the thing's axes, in parts of its longest side.

So paint turns, moves and grows with the thing. A stroke is known to belong to one variant: on others, whose shapes
differ, it lies nowhere.
"""

from __future__ import annotations

import itertools
import math
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from elvatch.core import digest
from elvatch.core.document.marks import Brush
from elvatch.core.kernel import kernel
from elvatch.core.parallel import Token, over_bands
from elvatch.core.refusal import RefusalError
from elvatch.core.rules.touches import lays, spaced

# columns of a touch; the last says 1 where a stroke begins
X, Y, Z, LAYS, RADIUS, SOFT, AMOUNT, VARIANT, BEGINS = range(9)
_NUMBERS = 9
_FIRST, _END, _MIDDLE, _REACH = 0, 1, 2, 5
_MOST_TOUCHES = 40_000
FURTHEST = 4.0
"""In longest sides: nothing of a thing lies so far from its axes."""
_TYPE = np.dtype("<f4")


class ThingStroke(NamedTuple):
    """A stroke on a thing: where the brush went, (n, 4) x, y, z in parts of the thing's longest side and pressure
    0..1; its ``radius`` in the same parts; ``soft``, ``strength`` and ``flow`` 0..1; ``variant`` of the thing."""

    tool: Brush
    along: NDArray[np.float64]
    radius: float
    soft: float
    strength: float
    flow: float
    variant: int


class Paint(NamedTuple):
    """All strokes on a thing under one name: ``touches`` (n, 9) float32; ``strokes`` (m, 6) first and last touch,
    middle and reach of each; ``name`` of all of it."""

    touches: NDArray[np.float32]
    strokes: NDArray[np.float64]
    name: str

    def written(self) -> bytes:
        """Return it as a file: nine little-endian 32-bit floats a touch."""
        return self.touches.astype(_TYPE).tobytes()


def _bounds(touches: NDArray[np.float32], first: int, end: int) -> list[float]:
    """Return a stroke's row: its first and last touch, its middle and its reach."""
    at = touches[first:end, X : Z + 1].astype(np.float64)
    middle = (at.min(axis=0) + at.max(axis=0)) / 2
    reach = np.linalg.norm(at - middle, axis=1).max() + touches[first, RADIUS]
    return [float(first), float(end), *middle.tolist(), float(reach)]


def nothing() -> Paint:
    """Return a surface on which nothing was painted."""
    none = np.zeros((0, _NUMBERS), np.float32)
    return Paint(none, np.zeros((0, 6)), digest.of_array(none))


def read(name: str, data: bytes) -> Paint:
    """Return paint from a file.

    Parameters
    ----------
    name : str
        Of the mask, for messages.
    data : bytes
        As :meth:`Paint.written` wrote it, by whomever.

    Raises
    ------
    RefusalError
        When it is nothing of the kind, or too long.
    """
    each = _NUMBERS * _TYPE.itemsize
    if len(data) % each or not 0 < len(data) <= _MOST_TOUCHES * each:
        raise RefusalError(
            name,
            f"a file of {len(data):,} bytes",
            f"1 to {_MOST_TOUCHES:,} touches of {each} bytes each",
            "paint it anew",
        )
    touches = np.frombuffer(data, _TYPE).reshape(-1, _NUMBERS).astype(np.float32)
    shares = touches[:, [LAYS, SOFT]]
    whole = np.isfinite(touches).all() and (np.abs(touches[:, X : Z + 1]) <= FURTHEST).all()
    if (
        not whole
        or touches[0, BEGINS] != 1
        or ((shares < 0) | (shares > 1)).any()
        or (np.abs(touches[:, AMOUNT]) > 1).any()
        or ((touches[:, RADIUS] <= 0) | (touches[:, RADIUS] > FURTHEST)).any()
    ):
        raise RefusalError(name, "numbers that no brush leaves", "touches of the brush", "paint it anew")
    begins = np.flatnonzero(touches[:, BEGINS] > 0).tolist()
    strokes = [_bounds(touches, *ends) for ends in itertools.pairwise([*begins, len(touches)])]
    return Paint(touches, np.array(strokes), digest.of_array(touches))


def with_stroke(paint: Paint, stroke: ThingStroke) -> Paint:
    """Return paint with one more stroke over it.

    Raises
    ------
    RefusalError
        When a thing would have been painted on too often.
    """
    along = spaced(stroke.along, 3, 2 * stroke.radius, _MOST_TOUCHES)
    touches = np.zeros((len(along), _NUMBERS), np.float32)
    touches[:, X : Z + 1], touches[:, LAYS] = along[:, :3], along[:, 3] * stroke.flow
    touches[:, RADIUS], touches[:, SOFT], touches[:, VARIANT] = stroke.radius, stroke.soft, stroke.variant
    touches[:, AMOUNT] = -stroke.strength if stroke.tool == "take" else stroke.strength
    touches[0, BEGINS] = 1.0
    whole = np.concatenate([paint.touches, touches])
    if len(whole) > _MOST_TOUCHES:
        raise RefusalError(
            "paint",
            f"{len(whole):,} touches of the brush on one thing",
            f"at most {_MOST_TOUCHES:,}",
            "use a larger brush, or another mask for the rest",
        )
    strokes = np.concatenate([paint.strokes, [_bounds(whole, len(paint.touches), len(whole))]])
    return Paint(whole, strokes, digest.of_array(whole))


@kernel
def _values_band(
    at: NDArray[np.float32],
    variant: NDArray[np.int64],
    touches: NDArray[np.float32],
    strokes: NDArray[np.float64],
    out: NDArray[np.float32],
    a: int,
    b: int,
) -> None:
    for i in range(a, b):
        x, y, z = float(at[i, 0]), float(at[i, 1]), float(at[i, 2])
        value = 0.0
        for k in range(strokes.shape[0]):
            dx, dy, dz = x - strokes[k, _MIDDLE], y - strokes[k, _MIDDLE + 1], z - strokes[k, _MIDDLE + 2]
            reach = strokes[k, _REACH]
            first = int(strokes[k, _FIRST])
            if dx * dx + dy * dy + dz * dz >= reach * reach or int(touches[first, VARIANT]) != variant[i]:
                continue
            radius, amount = float(touches[first, RADIUS]), float(touches[first, AMOUNT])
            core = radius * (1.0 - touches[first, SOFT])
            bare = 1.0
            for j in range(first, int(strokes[k, _END])):
                dx, dy, dz = x - touches[j, X], y - touches[j, Y], z - touches[j, Z]
                square = dx * dx + dy * dy + dz * dz
                if square >= radius * radius:
                    continue
                bare *= 1.0 - touches[j, LAYS] * lays(math.sqrt(square), core, radius)
            share = (1.0 - bare) * abs(amount)
            value = value + (1.0 - value) * share if amount > 0.0 else value * (1.0 - share)
        out[i] = value


def values(
    paint: Paint, at: NDArray[np.float32], variant: NDArray[np.int64], token: Token | None = None
) -> NDArray[np.float32]:
    """Return how much is painted at places on a thing, 0..1, as the brush does it on the ground.

    Parameters
    ----------
    paint : Paint
        Strokes, the later over the earlier.
    at : ndarray, shape (n, 3), float32
        In the thing's axes, in parts of its longest side before it is stretched.
    variant : ndarray, shape (n,), int64
        Of the thing.
    token : Token, optional
        Asked between bands.
    """
    out = np.zeros(len(at), np.float32)
    if len(paint.strokes):
        over_bands(
            len(at),
            lambda a, b: _values_band(at, variant, paint.touches, paint.strokes, out, a, b),
            token,
            least=4096,
        )
    return out
