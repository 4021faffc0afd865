"""Light from all sides as few numbers: spherical harmonics, and what falls on a surface by the way it faces.

Ramamoorthi & Hanrahan (2001) keep three orders; the fourth is kept as well, since a sky ends at its horizon.
"""

from __future__ import annotations

import math

import numpy as np
from numpy.typing import NDArray

from elvatch.core.kernel import inner, plainly

COUNT = 18
"""Orders 0, 1, 2 and 4; of the third nothing falls on a surface."""
_FALLS = (math.pi, 2 * math.pi / 3, math.pi / 4, -math.pi / 24)
"""What of an order falls on a surface: the cosine lobe's own coefficients."""


def _polynomials(x: NDArray[np.float64], y: NDArray[np.float64], z: NDArray[np.float64]) -> NDArray[np.float64]:
    """Return the real spherical harmonics of directions, shape (..., 18), orthonormal over the sphere."""
    one, pi = np.ones_like(x), math.pi
    return np.stack(
        [
            0.5 / math.sqrt(pi) * one,
            math.sqrt(3 / (4 * pi)) * y,
            math.sqrt(3 / (4 * pi)) * z,
            math.sqrt(3 / (4 * pi)) * x,
            math.sqrt(15 / (4 * pi)) * x * y,
            math.sqrt(15 / (4 * pi)) * y * z,
            math.sqrt(5 / (16 * pi)) * (3 * z * z - 1),
            math.sqrt(15 / (4 * pi)) * x * z,
            math.sqrt(15 / (16 * pi)) * (x * x - y * y),
            0.75 * math.sqrt(35 / pi) * x * y * (x * x - y * y),
            0.75 * math.sqrt(35 / (2 * pi)) * y * z * (3 * x * x - y * y),
            0.75 * math.sqrt(5 / pi) * x * y * (7 * z * z - 1),
            0.75 * math.sqrt(5 / (2 * pi)) * y * z * (7 * z * z - 3),
            3 / 16 / math.sqrt(pi) * (35 * z**4 - 30 * z * z + 3),
            0.75 * math.sqrt(5 / (2 * pi)) * x * z * (7 * z * z - 3),
            3 / 8 * math.sqrt(5 / pi) * (x * x - y * y) * (7 * z * z - 1),
            0.75 * math.sqrt(35 / (2 * pi)) * x * z * (x * x - 3 * y * y),
            3 / 16 * math.sqrt(35 / pi) * (x * x * (x * x - 3 * y * y) - y * y * (3 * x * x - y * y)),
        ],
        axis=-1,
    )


def falling(
    radiance: NDArray[np.float64], toward: NDArray[np.float64], weight: NDArray[np.float64]
) -> NDArray[np.float32]:
    """Return what :func:`irradiance` needs of light that comes from all sides.

    Parameters
    ----------
    radiance : ndarray, shape (n, 3)
        From each direction.
    toward : ndarray, shape (n, 3)
        Unit vectors to where it comes from.
    weight : ndarray, shape (n,)
        Solid angle that each stands for, steradians.

    Returns
    -------
    ndarray, shape (18, 3), float32
    """
    made = _polynomials(toward[:, 0], toward[:, 1], toward[:, 2]) * weight[:, None]
    sums = made.T @ radiance
    orders = np.repeat(_FALLS, (1, 3, 5, 9))
    return np.asarray(sums * orders[:, None], np.float32)


def leaning(falls: NDArray[np.float32], level: NDArray[np.float64]) -> NDArray[np.float32]:
    """Return the same with just ``level`` (3,) on what faces up, less of the difference the more a surface leans.

    Few orders miss a bright ring about a low sun by some hundredths; on level ground nothing may be missed.
    """
    up = np.array(plainly(irradiance)(falls, 0.0, 0.0, 1.0))
    missed = (level - up).astype(np.float32)
    out = falls.copy()
    out[0] += 0.5 * missed / np.float32(_polynomials(*np.eye(3)[:, 2:3])[0, 0])
    out[2] += 0.5 * missed / np.float32(_polynomials(*np.eye(3)[:, 2:3])[0, 2])
    return out


@inner
def irradiance(s: NDArray[np.float32], x: float, y: float, z: float) -> tuple[float, float, float]:
    """Return what falls on a surface that faces along the unit vector ``x, y, z``, red, green and blue."""
    xx, yy, zz = x * x, y * y, z * z
    b1, b2, b3 = 0.48860251 * y, 0.48860251 * z, 0.48860251 * x
    b4, b5, b6 = 1.09254843 * x * y, 1.09254843 * y * z, 0.31539157 * (3.0 * zz - 1.0)
    b7, b8 = 1.09254843 * x * z, 0.54627422 * (xx - yy)
    b9, b10 = 2.50334294 * x * y * (xx - yy), 1.77013077 * y * z * (3.0 * xx - yy)
    b11, b12 = 0.94617470 * x * y * (7.0 * zz - 1.0), 0.66904654 * y * z * (7.0 * zz - 3.0)
    b13, b14 = 0.10578555 * ((35.0 * zz - 30.0) * zz + 3.0), 0.66904654 * x * z * (7.0 * zz - 3.0)
    b15, b16 = 0.47308735 * (xx - yy) * (7.0 * zz - 1.0), 1.77013077 * x * z * (xx - 3.0 * yy)
    b17 = 0.62583574 * (xx * (xx - 3.0 * yy) - yy * (3.0 * xx - yy))
    r = g = b = 0.0
    for c in range(3):
        low = 0.28209479 * s[0, c] + b1 * s[1, c] + b2 * s[2, c] + b3 * s[3, c] + b4 * s[4, c] + b5 * s[5, c]
        mid = b6 * s[6, c] + b7 * s[7, c] + b8 * s[8, c] + b9 * s[9, c] + b10 * s[10, c] + b11 * s[11, c]
        high = b12 * s[12, c] + b13 * s[13, c] + b14 * s[14, c] + b15 * s[15, c] + b16 * s[16, c] + b17 * s[17, c]
        value = max(low + mid + high, 0.0)
        if c == 0:
            r = value
        elif c == 1:
            g = value
        else:
            b = value
    return r, g, b
