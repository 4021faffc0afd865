"""A layer's fit as compiled code takes it: one number a column.

Images laid as sheets have the columns up to the seed alone.
"""

from __future__ import annotations

import math
from typing import TypeVar

import numpy as np
from numpy.typing import NDArray

from elvatch.core import digest
from elvatch.core.columns import Columns
from elvatch.core.document.fit import Fit, Lie
from elvatch.core.stock.pyramid import HEIGHT, Pyramid

ABOVE, TRIPLANAR, DOWNHILL, SIDE = range(4)
_PROJECTIONS = {"above": ABOVE, "triplanar": TRIPLANAR, "downhill": DOWNHILL, "side": SIDE}
_REPEATS = {"none": 0, "shift": 1, "turn": 2, "second": 3}

# columns of a fit's numbers, after the first
(
    PROJECTION,
    TILE,
    ASPECT,
    MIRROR,
    COS,
    SIN,
    EAST_COS,
    EAST_SIN,
    NORTH_COS,
    NORTH_SIN,
    OFF_EAST,
    OFF_NORTH,
    OFF_UP,
    EDGE,
    SIDE_X,
    SIDE_Y,
    REPEATS,
    STRENGTH,
    SECOND,
    SEED,
    GAIN_ACROSS,
    GAIN_DOWN,
    STEEP_ACROSS,
    STEEP_DOWN,
    DETAIL,
    DETAIL_TILE,
    DETAIL_GAIN,
    DETAIL_RELIEF,
    RELIEF,
    MID,
    CURVE,
    STEEP_LEVEL,
    SIDES,
    MEETS,
) = range(34)
NUMBERS = MEETS + 1
LEVELLED, ON_TOP, CUT_IN = range(3)
_MEETS = {"levelled": LEVELLED, "on top": ON_TOP, "cut in": CUT_IN}
MAIN, STEEP, FINER = range(3)
"""Which of a layer's three sets: its own, that of its steep planes, that of its near detail."""

_LEAST_SIDE_M = 0.04
"""Lower relief has no sides that could be seen."""


H = TypeVar("H", float, NDArray[np.float64])


def curved(height: H, curve: float) -> H:
    """Return heights 0..1 with their tops sharpened (curve above 0) or rounded."""
    power = 4.0 ** abs(curve)
    bent: H = height**power if curve >= 0 else 1.0 - (1.0 - height) ** power
    return bent


def middle(fit: Fit, mean_height: float) -> float:
    """Return the curved height, 0..1, that lies level with what the layer lies on."""
    if fit.relief_mid is not None:
        return curved(fit.relief_mid, fit.relief_curve)
    return {"levelled": curved(mean_height, fit.relief_curve), "on top": 0.0, "cut in": 1.0}[fit.meets]


def risen_m(fit: Fit, heights: NDArray[np.float64], mean_height: float) -> NDArray[np.float64]:
    """Return how far heights 0..1 of a set rise above what its layer lies level with, metres."""
    return fit.relief_m * (curved(heights, fit.relief_curve) - middle(fit, mean_height))


def lie_columns(id: str, lie: Lie) -> Columns:
    """Return how an image is repeated, as compiled code takes it: the columns up to ``SEED``."""
    turn = math.radians(lie.turn_deg)
    east, north = math.radians(lie.steep_turn_east_deg), math.radians(lie.steep_turn_north_deg)
    side = math.radians(lie.side_deg)
    return {
        PROJECTION: _PROJECTIONS[lie.projection],
        TILE: lie.tile_m,
        ASPECT: lie.tile_m / lie.down_m,
        MIRROR: -1.0 if lie.mirror else 1.0,
        COS: math.cos(turn),
        SIN: math.sin(turn),
        EAST_COS: math.cos(turn + east),
        EAST_SIN: math.sin(turn + east),
        NORTH_COS: math.cos(turn + north),
        NORTH_SIN: math.sin(turn + north),
        OFF_EAST: lie.offset_east_m,
        OFF_NORTH: lie.offset_north_m,
        OFF_UP: lie.offset_up_m,
        EDGE: lie.plane_edge,
        SIDE_X: math.sin(side),
        SIDE_Y: math.cos(side),
        REPEATS: _REPEATS[lie.repeats.kind],
        STRENGTH: lie.repeats.strength,
        SECOND: lie.repeats.second_scale,
        SEED: int(digest.of_json(id)[:4], 16),
    }


def columns(layer_id: str, fit: Fit, normal_strength: float, sets: tuple[Pyramid, Pyramid, Pyramid]) -> Columns:
    """Return a fit as compiled code takes it; ``sets`` as in :data:`MAIN`, :data:`STEEP`, :data:`FINER`."""
    main, steep, finer = sets

    def gain(one: Pyramid, tile_m: float, relief_m: float) -> float:
        # a normal map's slopes hold at the set's own size and relief; the fit changes both
        return (relief_m / one.relief_m) * (one.tile_m / tile_m) * normal_strength

    detail = fit.detail
    # another set on the steep planes lies as level as the first
    levelled = fit.relief_mid is None and fit.meets == "levelled"
    return {
        **lie_columns(layer_id, fit),
        GAIN_ACROSS: gain(main, fit.tile_m, fit.relief_m),
        GAIN_DOWN: gain(main, fit.down_m, fit.relief_m),
        STEEP_ACROSS: gain(steep, fit.tile_m, fit.relief_m),
        STEEP_DOWN: gain(steep, fit.down_m, fit.relief_m),
        DETAIL: detail.strength if detail else 0.0,
        DETAIL_TILE: detail.tile_m if detail else 1.0,
        DETAIL_GAIN: gain(finer, detail.tile_m, detail.relief_m) if detail else 0.0,
        DETAIL_RELIEF: detail.relief_m if detail else 0.0,
        RELIEF: fit.relief_m,
        MID: middle(fit, float(main.mean[HEIGHT])),
        CURVE: fit.relief_curve,
        STEEP_LEVEL: float(main.mean[HEIGHT] - steep.mean[HEIGHT]) if levelled else 0.0,
        MEETS: _MEETS[fit.meets],
        SIDES: _sides(fit, normal_strength),
    }


def _sides(fit: Fit, normal_strength: float) -> float:
    """Return what the slopes that are shown are multiplied by to be those of the relief, below 0 where its sides are
    not textured by themselves; 0 where no side is seen."""
    if fit.relief_m < _LEAST_SIDE_M or normal_strength <= 0 or fit.projection not in ("above", "triplanar"):
        return 0.0
    return (1.0 if fit.own_sides else -1.0) / normal_strength
