"""Feet on the relief: how high one stands on it, and how deep one would sink in it."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from elvatch.core.cover import function
from elvatch.core.cover.plan import Prepared
from elvatch.core.ground import places
from elvatch.core.ground.survey import Survey
from elvatch.core.mapping import surface

SOLE_M = (0.10, 0.28)
"""How wide and long a boot's sole is."""
_APART_M = 0.22
_STEP_M = 0.01
_BORNE = 95.0
"""Percentile of the heights under a sole that bears it: single sharp points give way."""


def lifted(prepared: Prepared, at: places.Places) -> NDArray[np.float32]:
    """Return how far above the plain ground the relief stands at places, metres straight up."""
    made: NDArray[np.float32] = function.ask(prepared, at).relief_m * surface.lifts(at.rise())
    return made


def on_top(prepared: Prepared, survey: Survey, east_m: float, north_m: float) -> float:
    """Return how far above the plain ground somebody stands on the relief at a place, metres.

    That is how deep the feet are in the relief of somebody who stands on the plain ground, as
    collision without displacement has it; negative where they would hang above it.
    """
    wide, long = SOLE_M
    across = np.arange(-wide / 2, wide / 2 + 1e-9, _STEP_M)
    along = np.arange(-long / 2, long / 2 + 1e-9, _STEP_M * 2)
    x, y = np.meshgrid(across, along)
    sole = ((x / wide) ** 2 + (y / long) ** 2) <= 0.25
    east = np.concatenate([x[sole] + east_m + side * _APART_M for side in (-0.5, 0.5)])
    north = np.tile(y[sole] + north_m, 2)
    borne = lifted(prepared, places.on_ground(survey, east, north, _STEP_M)).reshape(2, -1)
    return float(np.percentile(borne, _BORNE, axis=1).max())
