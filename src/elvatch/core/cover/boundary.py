"""Boundaries as places: the soft end of a layer's rule broken up into fingers and islands, and what lies along it.

A rule's soft end says how surely a layer lies at a place. Shown as it is, that is a smooth band. Moved in and out by
a noise that follows the ground's rise and then cut sharply, it fingers, thins out and leaves islands; over the whole
of it the layer covers about as much as before.
"""

from __future__ import annotations

import math

import numpy as np
from numpy.typing import NDArray

from elvatch.core.cover import plan as p
from elvatch.core.cover.plan import Plan
from elvatch.core.ground.clauses import ease
from elvatch.core.ground.places import Places
from elvatch.core.kernel import inner
from elvatch.core.mapping.fit_row import SEED
from elvatch.core.mapping.lookup import look_up
from elvatch.core.noise import gradient_noise
from elvatch.core.stock.pyramid import HEIGHT, OCCLUSION, SLOPE_RMS, SLOPE_X, SLOPE_Y

_CUT = 0.16
"""Over how much of a soft end a finger's own edge goes."""
_OCTAVES = 4
_RISE = 0.6
"""How much a metre of rise counts beside one across: fingers bend with the ground."""


@inner
def _moved(layer: NDArray[np.float64], places: Places, i: int, presence: float, across: float) -> float:
    """Return a presence moved in or out by the noise of the layer's fingers, as fine as a place ``across`` metres
    wide can show."""
    size, rise = layer[p.FINGER_SIZE], _RISE * places.elevation_m[i]
    u, v = (places.x_m[i] + rise) / size, (places.y_m[i] - rise) / size
    drawn, weight, seed = 0.0, 0.67, 211 + int(layer[p.FIT + SEED])
    for octave in range(_OCTAVES):
        drawn += weight * gradient_noise(u, v, seed + octave * 131, 0)
        u, v, weight, size = u * 2.0, v * 2.0, weight * 0.62, size * 0.5
        if size < across:
            break
    return float(presence + layer[p.FINGERS] * drawn * min(6.0 * presence * (1.0 - presence), 1.0))


@inner
def broken(layer: NDArray[np.float64], places: Places, i: int, presence: float) -> tuple[float, float]:
    """Return how much of a place a layer and its strip take, and how much the layer without it, 0 to 1.

    Parameters
    ----------
    layer : ndarray, float64
        A layer's numbers.
    places, i
        Where.
    presence : float
        How much its rule lets in there, above 0 and below 1.
    """
    at = presence
    # fingers finer than what a place stands for are seen as their mean: the soft end
    across = places.across_m[i] + math.hypot(places.along_east_m[i], places.along_north_m[i])
    shown = min(max(1.5 - across / layer[p.FINGER_SIZE], 0.0), 1.0) * min(2.0 * layer[p.FINGERS], 1.0)
    if shown > 0.0:
        at = _moved(layer, places, i, presence, across)
    own = presence + (ease((at - 0.5) / _CUT + 0.5) - presence) * shown
    if layer[p.STRIP] <= 0.0:
        return own, own
    around = ease((at - 0.5 + 0.5 * layer[p.STRIP]) / _CUT + 0.5)
    return max(own, around), own


@inner
def lay_strip(
    plan: Plan,
    k: int,
    places: Places,
    i: int,
    taps: int,
    share: float,
    out: NDArray[np.float32],
    one: NDArray[np.float32],
) -> None:
    """Move ``out``, layer ``k``'s numbers at a place, by ``share`` towards what lies along its boundary."""
    layer = plan.layers[k]
    per = 1.0 / layer[p.STRIP_TILE]
    look_up(
        plan.strips[k, 0],
        plan.strips[k, 1],
        places.x_m[i] * per,
        -places.y_m[i] * per,
        places.across_m[i] * per,
        places.along_east_m[i] * per,
        -places.along_north_m[i] * per,
        taps,
        one,
    )
    one[HEIGHT] = (one[HEIGHT] - layer[p.STRIP_MID]) * layer[p.STRIP_RELIEF]
    gx, gy = places.rise_east[i], places.rise_north[i]
    out_of = (gx * one[SLOPE_X] + gy * one[SLOPE_Y]) / (1.0 + gx * gx + gy * gy)
    one[SLOPE_X] -= out_of * gx
    one[SLOPE_Y] -= out_of * gy
    one[OCCLUSION] = min(one[OCCLUSION], 1.0)
    for channel in range(SLOPE_RMS):
        out[channel] += (one[channel] - out[channel]) * share
