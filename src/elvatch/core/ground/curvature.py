"""How a ground bends: curvatures of its normal sections, 1/m, convex positive.

Second derivatives by a quartic through three by three samples (Zevenbergen & Thorne 1987),
brought to curvatures of the surface itself, so that a sphere has one over its radius
everywhere (Shary 1995).
"""

from __future__ import annotations

from typing import Literal

import numpy as np
from numpy.typing import NDArray

from elvatch.core.ground.heightfield import Heightfield
from elvatch.core.kernel import kernel
from elvatch.core.parallel import Token, over_bands

Kind = Literal["profile", "plan", "mean"]
_KINDS: tuple[Kind, ...] = ("profile", "plan", "mean")


def _pad_bending_on(heights: NDArray[np.float32]) -> NDArray[np.float32]:
    """Add one sample on each side that goes on bending as the last three do."""
    padded = np.pad(heights, 1)
    padded[0, :] = 3 * padded[1, :] - 3 * padded[2, :] + padded[3, :]
    padded[-1, :] = 3 * padded[-2, :] - 3 * padded[-3, :] + padded[-4, :]
    padded[:, 0] = 3 * padded[:, 1] - 3 * padded[:, 2] + padded[:, 3]
    padded[:, -1] = 3 * padded[:, -2] - 3 * padded[:, -3] + padded[:, -4]
    return padded


@kernel
def _curve_rows(
    padded: NDArray[np.float32], cell_x: float, cell_y: float, kind: int, out: NDArray[np.float32], a: int, b: int
) -> None:
    one, two = np.float32(1.0), np.float32(2.0)
    per_x, per_y = np.float32(1.0 / cell_x), np.float32(1.0 / cell_y)
    for row in range(a, b):
        up, here, down = padded[row], padded[row + 1], padded[row + 2]
        for col in range(out.shape[1]):
            w, z, e = here[col], here[col + 1], here[col + 2]
            n, s = up[col + 1], down[col + 1]
            p, q = (e - w) * per_x / two, (n - s) * per_y / two
            r = (e - two * z + w) * per_x * per_x
            t = (n - two * z + s) * per_y * per_y
            c = (up[col + 2] - up[col] - down[col + 2] + down[col]) * per_x * per_y / np.float32(4.0)
            steep2 = p * p + q * q
            root = np.sqrt(one + steep2)
            mean = -((one + q * q) * r - two * p * q * c + (one + p * p) * t) / (two * root * root * root)
            # level ground has no way down: both sections take the mean
            per = one / max(steep2, np.float32(1e-12))
            along = -(p * p * r + two * p * q * c + q * q * t) * per / (root * root * root)
            across = -(q * q * r - two * p * q * c + p * p * t) * per / root
            part = along if kind == 0 else across
            out[row, col] = mean if kind == 2 or steep2 < np.float32(1e-12) else part


def curvature(ground: Heightfield, kind: Kind, token: Token | None = None) -> NDArray[np.float32]:
    """Return a curvature of a ground, 1/m, convex positive.

    Parameters
    ----------
    ground : Heightfield
        Heights in metres.
    kind : "profile", "plan" or "mean"
        Along the way down, across it, or the mean of the two.
    token : Token, optional
        Asked between bands.

    Returns
    -------
    ndarray, shape (rows, cols), float32
    """
    out = np.empty_like(ground.heights_m)
    # about its middle the ground's heights keep more digits
    middle = np.float32((ground.lowest_m + ground.highest_m) / 2)
    padded = _pad_bending_on(ground.heights_m - middle)
    number = _KINDS.index(kind)
    over_bands(
        ground.rows, lambda a, b: _curve_rows(padded, ground.cell_x_m, ground.cell_y_m, number, out, a, b), token
    )
    return out
