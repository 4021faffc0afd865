"""Maps that a set lacks, derived from those it has; everything is periodic."""

from __future__ import annotations

import math

import numpy as np
import scipy.fft
from numpy.typing import NDArray

from elvatch.core.stock import periodic

Map = NDArray[np.float32]


def normal_from_height(height: Map, tile_m: float, relief_m: float) -> Map:
    """Return unit normals of a seamless height by central differences with wrap.

    Parameters
    ----------
    height : ndarray, shape (n, n), float32
        0..1.
    tile_m, relief_m : float
        Metres that one repeat covers, and from height 0 to height 1.

    Returns
    -------
    ndarray, shape (n, n, 3), float32
        x right, y up the picture, z out.
    """
    slope = periodic.slopes(height * np.float32(relief_m), tile_m / height.shape[0])
    out = np.empty((*height.shape, 3), np.float32)
    out[..., :2] = -slope
    out[..., 2] = 1.0
    out /= np.linalg.norm(out, axis=2, keepdims=True)
    return out


def height_from_normal(normal: Map, tile_m: float) -> tuple[Map, float]:
    """Return the periodic height whose slopes come nearest to a normal map's, and its relief in metres.

    Projection on integrable slopes in Fourier space (Frankot & Chellappa 1988), with the transfer
    of the central difference, so that :func:`normal_from_height` is undone exactly but for the
    frequencies that differences cannot see.

    Parameters
    ----------
    normal : ndarray, shape (n, n, 3), float32
        Unit vectors.
    tile_m : float
        Metres that one repeat covers.

    Returns
    -------
    height : ndarray, shape (n, n), float32
        0..1.
    relief_m : float
        Metres from 0 to 1.
    """
    n = normal.shape[0]
    up = np.maximum(normal[..., 2], 0.05).astype(np.float64)
    right = scipy.fft.rfft2(-normal[..., 0] / up, workers=-1)
    north = scipy.fft.rfft2(-normal[..., 1] / up, workers=-1)
    pixel = tile_m / n
    # rows run south, so the difference northwards has the other sign
    dx = 1j * np.sin(2 * math.pi * scipy.fft.rfftfreq(n))[None, :] / pixel
    dy = -1j * np.sin(2 * math.pi * scipy.fft.fftfreq(n))[:, None] / pixel
    power = np.abs(dx) ** 2 + np.abs(dy) ** 2
    # differences see little of the finest ripple; what they see there is mostly rounding
    floor = 0.02 * float(power.max())
    spectrum = (np.conj(dx) * right + np.conj(dy) * north) / np.where(power > 1e-9, power, 1.0)
    fine = np.maximum(np.abs(scipy.fft.fftfreq(n))[:, None], scipy.fft.rfftfreq(n)[None, :]) > 0.4
    spectrum = np.where((power <= 1e-9) | (fine & (power < floor)), 0.0, spectrum)
    spectrum[0, 0] = 0.0
    metres = scipy.fft.irfft2(spectrum, s=(n, n), workers=-1)
    low, high = float(metres.min()), float(metres.max())
    relief = max(high - low, 1e-6)
    return ((metres - low) / relief).astype(np.float32), relief


def relief_between(normal: Map, height: Map, across_m: float) -> float | None:
    """Return how many metres of relief make the slopes of a height map those of a normal map.

    Parameters
    ----------
    normal : ndarray, shape (rows, cols, 3), float32
        Vectors pointing out of the picture, of a map or a piece of it.
    height : ndarray, shape (rows, cols), float32
        0..1, the same piece.
    across_m : float
        Metres that its width covers.

    Returns
    -------
    float or None
        By least squares; None where the two do not go together.
    """
    if height.shape != normal.shape[:2] or min(height.shape) < 8:
        return None
    up = np.maximum(normal[1:-1, 1:-1, 2], 0.05)
    said = np.stack([-normal[1:-1, 1:-1, 0] / up, -normal[1:-1, 1:-1, 1] / up])
    rise = periodic.slopes(height, across_m / height.shape[1])[1:-1, 1:-1].transpose(2, 0, 1)
    both, own = float((said * rise).sum()), float((rise * rise).sum())
    together = both > 0.5 * math.sqrt(own * float((said * said).sum())) > 0
    return both / own if together else None


def occlusion_from_height(height: Map, tile_m: float, relief_m: float, reach_share: float = 0.12) -> Map:
    """Return the part of the sky each place of a seamless height sees, 0..1; see :func:`periodic.occlusion`."""
    metres = height * np.float32(relief_m)
    return periodic.occlusion(metres, tile_m / height.shape[0], tile_m * reach_share)


def roughness_from_colour(luminance: Map, dark: float, light: float) -> Map:
    """Return roughness that runs from ``dark`` at the darkest twentieth to ``light`` at the lightest."""
    low, high = (float(v) for v in np.percentile(luminance, (5, 95)))
    share = np.clip((luminance - low) / max(high - low, 1e-6), 0, 1)
    result: Map = (dark + (light - dark) * share).astype(np.float32)
    return result
