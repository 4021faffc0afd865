"""A texture set stored for filtered lookups: all maps of a texel side by side, in every size.

Ten numbers a texel, 16 bits each, one after the other, so that one lookup touches few cache
lines. Colour is linear. Normals are kept as slopes (rise per metre at the set's own size),
because slopes may be averaged; their mean square is kept beside them, so that what an average
loses in relief comes back as roughness (Olano & Baker 2010, "LEAN mapping").
"""

from __future__ import annotations

import functools
import math
from dataclasses import dataclass
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from elvatch.core import digest
from elvatch.core.refusal import RefusalError
from elvatch.core.stock import periodic

RED, GREEN, BLUE, ROUGH, OCCLUSION, METALLIC, HEIGHT, SLOPE_X, SLOPE_Y, SLOPE_RMS = range(10)
CHANNELS = 10
STEEPEST = 8.0
"""Slopes are held within +-8, that is 83 degrees."""

_SHARE_CODE = 65535.0
_SLOPE_CODE = 4095.0
_RMS_CODE = 5700.0
SCALE = np.array([1 / _SHARE_CODE] * 7 + [1 / _SLOPE_CODE] * 2 + [1 / _RMS_CODE], np.float32)
SHIFT = np.array([0.0] * 7 + [-STEEPEST] * 2 + [0.0], np.float32)


MOST_LEVELS = 16
_BINS = 256


class ReliefSpread(NamedTuple):
    """How a set's heights are spread.

    ``heights`` (bins,) 0..1 and ``shares`` (bins,) of the area that has them; ``lost`` (MOST_LEVELS,) the part of
    their variance that a texel of each level averages away, 1 beyond the last.
    """

    heights: NDArray[np.float64]
    shares: NDArray[np.float64]
    lost: NDArray[np.float64]


@dataclass(frozen=True)
class Pyramid:
    """A stored set.

    Parameters
    ----------
    texels : ndarray, shape (n, 10), uint16
        Level 0 row by row, then each smaller level; ``value = texel * SCALE + SHIFT``.
    size : int
        Pixels along a side of level 0, a power of two.
    tile_m : float
        The set's physical size, metres per repeat.
    relief_m : float
        Metres from height 0 to height 1 at that size.
    name : str
        Content name of what it was made from, '' when it was made from nothing that has one.
    glow : Pyramid, optional
        What it sends out by itself, as the colour of a set that is flat otherwise. Few sets have it, and only
        those pay for it.
    """

    texels: NDArray[np.uint16]
    size: int
    tile_m: float
    relief_m: float
    name: str = ""
    glow: Pyramid | None = None

    @functools.cached_property
    def mean(self) -> NDArray[np.float32]:
        """The ten numbers averaged over the whole set (its smallest level)."""
        result: NDArray[np.float32] = (self.texels[-1].astype(np.float32) * SCALE + SHIFT).astype(np.float32)
        return result

    def heights(self, level: int) -> NDArray[np.float32]:
        """Return the heights 0..1 of one level, shape (side, side)."""
        first, side = sum((self.size >> finer) ** 2 for finer in range(level)), self.size >> level
        codes = self.texels[first : first + side * side, HEIGHT].astype(np.float32)
        result: NDArray[np.float32] = (codes * SCALE[HEIGHT] + SHIFT[HEIGHT]).reshape(side, side)
        return result

    @functools.cached_property
    def relief(self) -> ReliefSpread:
        """How its heights are spread, and what of that is lost where a lookup averages."""
        levels = int(math.log2(self.size)) + 1
        # a quarter of a million texels tell the spread
        first = max(0, levels - 10)
        heights = [self.heights(level) for level in range(first, levels)]
        counts = np.histogram(heights[0], _BINS, (0.0, 1.0))[0]
        left = np.array([one.var(dtype=np.float64) for one in heights])
        lost = np.ones(MOST_LEVELS)
        lost[:first] = 0.0
        lost[first:levels] = 1.0 - left / left[0] if left[0] > 0 else 0.0
        return ReliefSpread((np.arange(_BINS) + 0.5) / _BINS, counts / counts.sum(), lost)

    @functools.cached_property
    def content_name(self) -> str:
        """Its name, or else one over texels and sizes."""
        if self.name:
            return self.name
        glow = [digest.of_array(self.glow.texels)] if self.glow else []
        return digest.of_json([digest.of_array(self.texels), self.tile_m, self.relief_m, *glow])


@dataclass(frozen=True)
class Maps:
    """The maps of a set, all of one power-of-two size; row 0 is the north edge.

    ``colour`` and ``emission`` linear, (n, n, 3); ``normal`` unit vectors, (n, n, 3), x right, y up the picture;
    the others (n, n), 0..1.
    """

    colour: NDArray[np.float32]
    normal: NDArray[np.float32]
    roughness: NDArray[np.float32]
    height: NDArray[np.float32]
    occlusion: NDArray[np.float32]
    metallic: NDArray[np.float32] | None = None
    emission: NDArray[np.float32] | None = None


def _interleave(maps: Maps, rows: slice) -> NDArray[np.float32]:
    normal = maps.normal[rows]
    out = np.zeros((*normal.shape[:2], CHANNELS), np.float32)
    out[..., RED : BLUE + 1] = maps.colour[rows]
    out[..., ROUGH] = maps.roughness[rows]
    out[..., OCCLUSION] = maps.occlusion[rows]
    out[..., METALLIC] = 0.0 if maps.metallic is None else maps.metallic[rows]
    out[..., HEIGHT] = maps.height[rows]
    up = np.maximum(normal[..., 2], 1e-3)
    out[..., SLOPE_X] = np.clip(-normal[..., 0] / up, -STEEPEST, STEEPEST)
    out[..., SLOPE_Y] = np.clip(-normal[..., 1] / up, -STEEPEST, STEEPEST)
    out[..., SLOPE_RMS] = out[..., SLOPE_X] ** 2 + out[..., SLOPE_Y] ** 2
    return out


def _encode(level: NDArray[np.float32]) -> NDArray[np.uint16]:
    values = level.copy()
    values[..., SLOPE_RMS] = np.sqrt(values[..., SLOPE_RMS])
    coded = np.rint((values - SHIFT) / SCALE)
    result: NDArray[np.uint16] = np.clip(coded, 0, 65535).astype(np.uint16).reshape(-1, CHANNELS)
    return result


def build(maps: Maps, tile_m: float, relief_m: float) -> Pyramid:
    """Store a set's maps for filtered lookups.

    Parameters
    ----------
    maps : Maps
        Square, of one power-of-two size from 1 to 8192.
    tile_m, relief_m : float
        Physical size, metres.

    Returns
    -------
    Pyramid
        All levels, each the 2 x 2 mean of the one before.

    Raises
    ------
    RefusalError
        When a map's size is another or no power of two.
    """
    size = maps.height.shape[0]
    for name, array in (
        ("colour", maps.colour),
        ("normal", maps.normal),
        ("roughness", maps.roughness),
        ("height", maps.height),
        ("occlusion", maps.occlusion),
    ):
        if array.shape[:2] != (size, size) or size & (size - 1) or not 1 <= size <= 8192:
            raise RefusalError(
                name,
                f"{array.shape[1]} x {array.shape[0]} pixels",
                f"{size} x {size}, a power of two to 8192",
                "resize the map",
            )
    texels = np.empty(((4 * size * size - 1) // 3, CHANNELS), np.uint16)

    def begin(rows: slice) -> NDArray[np.float32]:
        level = _interleave(maps, rows)
        texels[rows.start * size : rows.stop * size] = _encode(level)
        return level

    # the largest level is never held whole as floats
    level = begin(slice(0, 1)) if size == 1 else periodic.halved_rows(size, begin)
    at = size * size
    while at < len(texels):
        texels[at : at + level.shape[0] ** 2] = _encode(level)
        at += level.shape[0] ** 2
        level = periodic.halve(level) if level.shape[0] > 1 else level
    glow = None if maps.emission is None else plain(maps.emission, tile_m)
    return Pyramid(texels, size, tile_m, relief_m, glow=glow)


def plain(colour: NDArray[np.float32], tile_m: float) -> Pyramid:
    """Store one coloured map, linear (n, n, 3), as a set that is flat, rough and not metallic."""
    size = colour.shape[0]
    none, full = (np.broadcast_to(np.float32(value), (size, size)) for value in (0.0, 1.0))
    upright = np.broadcast_to(np.array([0, 0, 1], np.float32), (size, size, 3))
    return build(Maps(colour, upright, full, none, full), tile_m, 1.0)
