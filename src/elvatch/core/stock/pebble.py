"""Rounded stones laid in a seamless square, the higher one on top: squashed, a little lumpy, partly sunk."""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from elvatch.core.kernel import kernel
from elvatch.core.noise import gradient_noise
from elvatch.core.parallel import over_bands
from elvatch.core.stock.scatter import Scattered

_X, _Y, _Z, _LONG, _SHORT, _THICK, _COS, _SIN, _POWER, _LUMPS, _TILT_X, _TILT_Y, _FACETS = range(13)
PEBBLE_NUMBERS = 13


@dataclass(frozen=True)
class PebbleStyle:
    """What the stones of one size class have in common; lengths in metres.

    ``power`` 2 is an ellipsoid, more is boxier; ``lumps`` and ``facets`` 0..1 roughen and flatten it;
    ``sunk`` is the share of its thickness that lies below what it rests on.
    """

    radius: float
    stretch: float
    flatness: float
    power: float
    lumps: float
    facets: float
    tilt: float
    sunk: float


@kernel
def _pebble_rows(
    stones: NDArray[np.float32],
    first: int,
    pixel_m: float,
    height: NDArray[np.float32],
    owner: NDArray[np.int32],
    inner: NDArray[np.float32],
    a: int,
    b: int,
) -> None:
    size = height.shape[0]
    for k in range(stones.shape[0]):
        s = stones[k]
        reach = s[_LONG] * 1.2 / pixel_m
        centre_row, centre_col = s[_Y] / pixel_m, s[_X] / pixel_m
        for r in range(math.floor(centre_row - reach), math.ceil(centre_row + reach) + 1):
            row = r % size
            if row < a or row >= b:
                continue
            dy = (r - centre_row) * pixel_m
            for c in range(math.floor(centre_col - reach), math.ceil(centre_col + reach) + 1):
                dx = (c - centre_col) * pixel_m
                along = (s[_COS] * dx + s[_SIN] * dy) / s[_LONG]
                across = (s[_COS] * dy - s[_SIN] * dx) / s[_SHORT]
                plain = abs(along) ** s[_POWER] + abs(across) ** s[_POWER]
                if plain > 1.5:
                    continue
                lump = gradient_noise(along * 1.3 + 31.0 * k, across * 1.3 + 17.0, 5, 0)
                lump += 0.5 * gradient_noise(along * 2.9 + 11.0, across * 2.9 + 23.0 * k, 6, 0)
                inside = 1.0 - plain * (1.0 + s[_LUMPS] * lump)
                if inside <= 0.0:
                    continue
                dome = inside ** (1.0 / s[_POWER])
                if s[_FACETS] > 0.0:
                    # a few planes cut the dome: broken stone
                    for f in range(5):
                        angle = f * 1.2566 + 2.399 * (k % 97)
                        lean = 0.55 + 0.25 * math.sin(k * 1.7 + f * 2.3)
                        cut = 0.92 - lean * (math.cos(angle) * along + math.sin(angle) * across)
                        dome = min(dome, dome + s[_FACETS] * (cut - dome)) if cut < dome else dome
                top = s[_Z] + s[_THICK] * dome + s[_TILT_X] * dx + s[_TILT_Y] * dy
                top += 0.05 * s[_THICK] * s[_LUMPS] * lump
                col = c % size
                if top > height[row, col]:
                    height[row, col] = top
                    owner[row, col] = first + k
                    inner[row, col] = inside


def lay_pebbles(bed: Scattered, stones: NDArray[np.float32], first: int) -> None:
    """Lay stones into the bed; ``inner`` receives how far inside its outline a pixel lies, 0..1.

    Parameters
    ----------
    bed : Scattered
        Changed in place.
    stones : ndarray, shape (n, PEBBLE_NUMBERS), float32
        As made by :func:`pebbles`.
    first : int
        Number of the first stone, for ``owner``.
    """
    over_bands(
        bed.height.shape[0],
        lambda a, b: _pebble_rows(stones, first, bed.pixel_m, bed.height, bed.owner, bed.inner, a, b),
    )


def pebbles(
    rng: np.random.Generator, places: NDArray[np.float64], base_m: NDArray[np.float64], style: PebbleStyle
) -> NDArray[np.float32]:
    """Describe stones of one size class.

    Parameters
    ----------
    rng : Generator
        Source of their differences.
    places : ndarray, shape (n, 2)
        Centres (x, y), metres, y down the picture.
    base_m : ndarray, shape (n,)
        Height of what each rests on, metres.
    style : PebbleStyle
        What they have in common.
    """
    n = len(places)
    out = np.zeros((n, PEBBLE_NUMBERS), np.float32)
    radius = style.radius * np.clip(rng.lognormal(0, 0.22, n), 0.6, 1.5)
    long = np.clip(style.stretch * rng.lognormal(0, 0.18, n), 1.0, 2.4)
    turn = rng.uniform(0, 2 * math.pi, n)
    thick = radius * style.flatness * rng.uniform(0.75, 1.3, n)
    out[:, _X], out[:, _Y] = places[:, 0], places[:, 1]
    out[:, _Z] = base_m - thick * style.sunk * rng.uniform(0.5, 1.5, n)
    out[:, _LONG], out[:, _SHORT], out[:, _THICK] = radius * np.sqrt(long), radius / np.sqrt(long), thick
    out[:, _COS], out[:, _SIN] = np.cos(turn), np.sin(turn)
    out[:, _POWER] = style.power * rng.uniform(0.92, 1.15, n)
    out[:, _LUMPS] = style.lumps * rng.uniform(0.5, 1.5, n)
    out[:, _TILT_X], out[:, _TILT_Y] = rng.normal(0, style.tilt, n), rng.normal(0, style.tilt, n)
    out[:, _FACETS] = style.facets * rng.uniform(0.4, 1.2, n)
    return out
