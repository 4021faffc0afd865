"""Maps of a set at another size, each filtered as what it is; everything wraps round at the edges."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray
from PIL import Image

from elvatch.core.stock import periodic

Map = NDArray[np.float32]
MOST_LOST = 0.5
"""More slope variance than this is not turned into roughness: nothing is rougher than rough."""


def resized(values: Map, px: int) -> Map:
    """Return a seamless square map at another size.

    Parameters
    ----------
    values : ndarray, shape (n, n) or (n, n, channels), float32
        Numbers that may be averaged.
    px : int
        Wanted size.

    Returns
    -------
    ndarray, float32
        Means of whole blocks where they fit, else Lanczos filtered over the area a pixel covers.
    """
    while values.shape[0] % 2 == 0 and values.shape[0] >= 2 * px:
        values = periodic.halve(values)
    n = values.shape[0]
    if n == px:
        return values
    if values.ndim == 3:
        return np.dstack([resized(np.ascontiguousarray(values[..., k]), px) for k in range(values.shape[2])])
    # a margin from the other side, as wide as the filter reaches
    margin = min(n, int(4 * max(1.0, n / px)) + 2)
    wide = Image.fromarray(np.pad(values.astype(np.float32), margin, mode="wrap"))
    box = (margin, margin, margin + n, margin + n)
    made = np.asarray(wide.resize((px, px), Image.Resampling.LANCZOS, box=box), np.float32)
    return np.clip(made, values.min(), values.max()).astype(np.float32)


def slopes_of(normal: Map) -> Map:
    """Return (rise to the right, rise up the picture) of unit normals, shape (n, n, 2)."""
    up = np.maximum(normal[..., 2:3], 0.05)
    result: Map = (-normal[..., :2] / up).astype(np.float32)
    return result


def normals_of(slopes: Map) -> Map:
    """Return the unit normals of slopes; the reverse of :func:`slopes_of`."""
    out = np.empty((*slopes.shape[:2], 3), np.float32)
    out[..., :2] = -slopes
    out[..., 2] = 1.0
    out /= np.linalg.norm(out, axis=2, keepdims=True)
    return out


def squares_of(slopes: Map) -> Map:
    """Return how steep slopes are, squared, shape (n, n)."""
    result: Map = np.square(slopes).sum(axis=2).astype(np.float32)
    return result


def normals(slopes: Map, squares: Map, px: int) -> tuple[Map, Map]:
    """Return unit normals at another size, and the slope variance that averaging lost (n, n).

    Slopes are averaged, since slopes may be; their variance comes back as roughness (Olano & Baker 2010).

    Parameters
    ----------
    slopes, squares : ndarray, float32
        From :func:`slopes_of` and :func:`squares_of`, of the whole map or of 2 x 2 means of these.
    px : int
        Wanted size.
    """
    mean = resized(slopes, px)
    lost = resized(squares, px) - squares_of(mean)
    return normals_of(mean), np.clip(lost, 0.0, MOST_LOST).astype(np.float32)


def rougher(roughness: Map, lost: Map) -> Map:
    """Return roughness with lost slope variance added to it: alpha squared grows by the variance (GGX)."""
    result: Map = np.minimum((roughness**4 + lost) ** 0.25, 1.0).astype(np.float32)
    return result
