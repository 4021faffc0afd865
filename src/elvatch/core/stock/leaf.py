"""Fallen leaves laid in a seamless square, the higher one on top: bent, curled at the edge, ribbed."""

from __future__ import annotations

import math

import numpy as np
from numpy.typing import NDArray

from elvatch.core.kernel import kernel
from elvatch.core.parallel import over_bands
from elvatch.core.stock.scatter import Scattered

_X, _Y, _Z, _LENGTH, _WIDTH, _HEADING, _CURL, _SAG, _LOBES, _TILT = range(10)
LEAF_NUMBERS = 10


@kernel
def _leaf_rows(
    leaves: NDArray[np.float32],
    first: int,
    pixel_m: float,
    height: NDArray[np.float32],
    owner: NDArray[np.int32],
    rib: NDArray[np.float32],
    a: int,
    b: int,
) -> None:
    size = height.shape[0]
    for k in range(leaves.shape[0]):
        leaf = leaves[k]
        half, wide = 0.5 * leaf[_LENGTH], 0.5 * leaf[_WIDTH]
        reach = half * 1.05 / pixel_m
        centre_row, centre_col = leaf[_Y] / pixel_m, leaf[_X] / pixel_m
        cos, sin = math.cos(leaf[_HEADING]), math.sin(leaf[_HEADING])
        for r in range(math.floor(centre_row - reach), math.ceil(centre_row + reach) + 1):
            row = r % size
            if row < a or row >= b:
                continue
            dy = (r - centre_row) * pixel_m
            for c in range(math.floor(centre_col - reach), math.ceil(centre_col + reach) + 1):
                dx = (c - centre_col) * pixel_m
                along = (cos * dx + sin * dy) / half
                if along <= -1.0 or along >= 1.0:
                    continue
                across = (cos * dy - sin * dx) / wide
                side = abs(across)
                # widest behind the middle, drawn out to a tip; the rim in lobes
                outline = math.sqrt(1.0 - along * along) * (1.0 - 0.32 * along)
                outline *= 1.0 - leaf[_LOBES] * (0.5 + 0.5 * math.cos(15.0 * along))
                if side >= outline:
                    continue
                edge = side / outline
                veins = abs((along * 4.5 - side * 1.4) % 1.0 - 0.5)
                ribbed = max(math.exp(-((side / 0.07) ** 2)), 0.55 * math.exp(-((veins / 0.07) ** 2)))
                top = leaf[_Z] + leaf[_CURL] * edge * edge - leaf[_SAG] * along * along
                top += leaf[_TILT] * along * half + 0.0004 * ribbed
                col = c % size
                if top > height[row, col]:
                    height[row, col] = top
                    owner[row, col] = first + k
                    rib[row, col] = ribbed


def lay_leaves(bed: Scattered, leaves: NDArray[np.float32], first: int) -> None:
    """Lay leaves into the bed.

    Parameters
    ----------
    bed : Scattered
        Changed in place; ``inner`` receives how much of a rib a pixel shows, 0..1.
    leaves : ndarray, shape (n, LEAF_NUMBERS), float32
        Place (x, y, z), length, width, heading, rise of the rim, sag of both ends (metres, radians), depth of
        the lobes 0..1, tilt along it in metres per metre.
    first : int
        Number of the first leaf, for ``owner``.
    """
    over_bands(
        bed.height.shape[0],
        lambda a, b: _leaf_rows(leaves, first, bed.pixel_m, bed.height, bed.owner, bed.inner, a, b),
    )
