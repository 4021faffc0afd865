"""The ground with its relief on it: which way it faces, how high it stands, where a height field gives out.

Relief stands along the ground's normal. A height field can only be lifted straight up, so a relief is lifted by
as much more as the ground is steep; beyond :data:`STEEPEST_DEG` that would tear it apart, and it is held back.
"""

from __future__ import annotations

import math

import numpy as np
from numpy.typing import NDArray

from elvatch.core.kernel import inner, kernel

STEEPEST_DEG = 75.0
"""Steeper ground does not get its whole relief."""
_MOST_LIFT = 1.0 / math.cos(math.radians(STEEPEST_DEG))


@inner
def lift(rise_e: float, rise_n: float) -> float:
    """Return how many metres straight up a metre of relief along the normal is."""
    return min(math.sqrt(1.0 + rise_e * rise_e + rise_n * rise_n), _MOST_LIFT)


@inner
def normal(rise_e: float, rise_n: float, slope_e: float, slope_n: float) -> tuple[float, float, float]:
    """Return the unit normal of ground with relief (Mikkelsen 2010).

    Parameters
    ----------
    rise_e, rise_n : float
        The ground's rise per metre east and north.
    slope_e, slope_n : float
        Horizontal parts of the relief's gradient along the surface.
    """
    up = 1.0 / math.sqrt(1.0 + rise_e * rise_e + rise_n * rise_n)
    x, y = -rise_e * up - slope_e, -rise_n * up - slope_n
    z = up - rise_e * slope_e - rise_n * slope_n
    length = math.sqrt(x * x + y * y + z * z)
    return x / length, y / length, z / length


@kernel
def _lift_rows(
    ground_m: NDArray[np.float32],
    east: NDArray[np.float32],
    north: NDArray[np.float32],
    relief_m: NDArray[np.float32],
    out: NDArray[np.float32],
) -> None:
    one, most = np.float32(1.0), np.float32(_MOST_LIFT)
    for i in range(len(out)):
        # as lift() has it, at the precision of what it is for
        times = min(np.sqrt(one + east[i] * east[i] + north[i] * north[i]), most)
        out[i] = ground_m[i] + relief_m[i] * times


def lifted(
    ground_m: NDArray[np.float32],
    east: NDArray[np.float32],
    north: NDArray[np.float32],
    relief_m: NDArray[np.float32],
) -> NDArray[np.float32]:
    """Return the elevation of ground that rises so much east and north with its relief on it, all of shape (n,)."""
    out = np.empty_like(ground_m)
    _lift_rows(ground_m, east, north, relief_m, out)
    return out


def lifts(rise: NDArray[np.float32]) -> NDArray[np.float32]:
    """Return :func:`lift` of gradients, shape (n, 2)."""
    steep: NDArray[np.float32] = np.sqrt(1.0 + np.square(rise).sum(axis=-1)).astype(np.float32)
    return np.minimum(steep, np.float32(_MOST_LIFT))


def most_lift(rise: NDArray[np.float32]) -> float:
    """Return the largest :func:`lift` of gradients, shape (..., 2)."""
    steepest = float(np.einsum("...k,...k->...", rise, rise).max(initial=0.0))
    return min(math.sqrt(1.0 + steepest), _MOST_LIFT)


def steepness_deg(rise: NDArray[np.float32]) -> NDArray[np.float32]:
    """Return the slope of gradients, shape (n, 2), in degrees."""
    steep: NDArray[np.float32] = np.degrees(np.arctan(np.hypot(rise[..., 0], rise[..., 1]))).astype(np.float32)
    return steep


def normals(rise: NDArray[np.float32], slope: NDArray[np.float32]) -> NDArray[np.float32]:
    """Return :func:`normal` of gradients and slopes, shapes (n, 2), as unit vectors, shape (n, 3)."""
    up = 1.0 / np.sqrt(1.0 + np.square(rise).sum(axis=1, keepdims=True))
    level = -rise * up - slope
    vertical = up - (rise * slope).sum(axis=1, keepdims=True)
    made = np.concatenate([level, vertical], axis=1)
    out: NDArray[np.float32] = (made / np.linalg.norm(made, axis=1, keepdims=True)).astype(np.float32)
    return out
