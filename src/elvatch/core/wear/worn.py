"""Wear at work: what it does to the material of the layers that lie under it at a place."""

from __future__ import annotations

import math

import numpy as np
from numpy.typing import NDArray

from elvatch.core.blend import blended, coloured
from elvatch.core.ground.clauses import ease
from elvatch.core.kernel import inner, kernel
from elvatch.core.stock.pyramid import HEIGHT, METALLIC, ROUGH, SLOPE_RMS, SLOPE_X, SLOPE_Y
from elvatch.core.stock.sheet import RISE_RIGHT, RISE_RMS, RISE_UP, VALUE
from elvatch.core.wear import overlaid as o

EVERYWHERE, HOLLOWS, RAISED = range(3)


@inner
def by_relief(wear: NDArray[np.float64], height_m: float, tall_m: float) -> float:
    """Return how much a wear is let through where relief ``tall_m`` in all stands ``height_m`` above its middle."""
    if wear[o.RELIEF_WAY] == EVERYWHERE:
        return 1.0
    stands = min(max(0.5 + height_m / max(tall_m, 1e-6), 0.0), 1.0)
    beyond = (stands - wear[o.RELIEF_LEVEL]) / max(wear[o.RELIEF_SOFT], 1e-3)
    return ease(0.5 + (beyond if wear[o.RELIEF_WAY] == RAISED else -beyond))


@kernel
def on_the_whole(
    wear: NDArray[np.float64], heights_m: NDArray[np.float64], shares: NDArray[np.float64], tall_m: float
) -> float:
    """Return how much a wear is let through on relief whose heights have these shares of the area."""
    whole = 0.0
    for k in range(len(heights_m)):
        whole += shares[k] * by_relief(wear, heights_m[k], tall_m)
    return whole


@inner
def _changed(mode: float, to: float, backdrop: float, value: float, amount: float) -> float:
    """Return a raw number as an effect leaves it."""
    if to >= 0.0:
        return backdrop + (blended(int(mode), backdrop, to) - backdrop) * amount * value
    return backdrop + (blended(int(mode), backdrop, value) - backdrop) * amount


@inner
def wear_down(
    wear: NDArray[np.float64], value: NDArray[np.float32], presence: float, total: NDArray[np.float32]
) -> None:
    """Let a wear do to the ten numbers in ``total`` what it does.

    Parameters
    ----------
    wear : ndarray, float64
        Its numbers.
    value : ndarray, shape (4,), float32
        What its overlay says there.
    presence : float
        How much it is there, 0..1: rule, strength, relief and the layers it lies over.
    total : ndarray, shape (10,), float32
        The material so far; height in metres, slopes along the surface.
    """
    mark = float(value[VALUE])
    if wear[o.ROUGH] > 0.0:
        rough = _changed(wear[o.ROUGH_MODE], wear[o.ROUGH_TO], total[ROUGH], mark, wear[o.ROUGH] * presence)
        total[ROUGH] = min(max(rough, 0.03), 1.0)
    if wear[o.METAL] > 0.0:
        total[METALLIC] = _changed(
            wear[o.METAL_MODE], wear[o.METAL_TO], total[METALLIC], mark, wear[o.METAL] * presence
        )
    amount = wear[o.COLOUR] * presence * mark
    if amount > 0.0:
        coloured(int(wear[o.COLOUR_MODE]), total, wear[o.RED], wear[o.GREEN], wear[o.BLUE], amount)
    depth = wear[o.DEPTH] * presence
    if depth != 0.0:
        total[HEIGHT] += depth * mark
        total[SLOPE_X] += depth * value[RISE_RIGHT]
        total[SLOPE_Y] += depth * value[RISE_UP]
        lost = depth * depth * value[RISE_RMS]
        total[SLOPE_RMS] += lost
        # what an area averages away of the marks' slopes, it shows as roughness
        total[ROUGH] = min(1.0, math.sqrt(math.sqrt(total[ROUGH] ** 4 + min(lost, 0.5))))
