"""What a rule leaves of the mask that it was found from: patches to be painted in addition, and to be taken away."""

from __future__ import annotations

from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray
from scipy.ndimage import gaussian_filter, label

from elvatch.core.document.marks import TILE
from elvatch.core.rules.mask import FULL, Tile

_FEWEST = 24
"""Samples that a patch has at least: single ones are the grain of soft ends, which no hand would paint."""
_SOFT = 0.7
"""Samples over which a patch fades out."""


class LeftOver(NamedTuple):
    """Samples of painted masks, (rows, cols) 0 to 65535, row 0 in the north: what a rule ``missed`` and where it is
    ``too_much``; each None where nothing is left."""

    missed: NDArray[np.uint16] | None
    too_much: NDArray[np.uint16] | None


def left_over(wanted: NDArray[np.floating], said: NDArray[np.floating]) -> LeftOver:
    """Return what a rule leaves.

    Parameters
    ----------
    wanted, said : (rows, cols) float
        What the mask and the rule let in, 0..1.
    """
    inside, let_in = wanted > 0.5, said > 0.5
    return LeftOver(_painted(inside & ~let_in), _painted(let_in & ~inside))


def _painted(errs: NDArray[np.bool_]) -> NDArray[np.uint16] | None:
    patches, count = label(errs, np.ones((3, 3)))
    large = np.bincount(patches.ravel(), minlength=count + 1) >= _FEWEST
    large[0] = False
    kept = large[patches]
    if not kept.any():
        return None
    soft = gaussian_filter(kept.astype(np.float32), _SOFT)
    # full where the patch is, fading out beyond it
    return np.asarray(np.clip(np.maximum(soft, kept), 0, 1) * FULL + 0.5, np.uint16)


def tiles(codes: NDArray[np.uint16]) -> dict[tuple[int, int], Tile]:
    """Return the tiles of a painted mask that hold something, by row and column from the north-west corner."""
    rows, cols = (-(-side // TILE) for side in codes.shape)
    whole = np.zeros((rows * TILE, cols * TILE), np.uint16)
    whole[: codes.shape[0], : codes.shape[1]] = codes
    cut = {
        (r, c): np.ascontiguousarray(whole[r * TILE : (r + 1) * TILE, c * TILE : (c + 1) * TILE])
        for r in range(rows)
        for c in range(cols)
    }
    return {at: tile for at, tile in cut.items() if tile.any()}
