"""How much of a ground has each value of a measure."""

from __future__ import annotations

import numpy as np

from elvatch.core.ground.measures import Scale
from elvatch.core.picture import ramp
from elvatch.core.picture.drape import Drape
from elvatch.core.results import Counts, result

_BINS = 96


@result
class Histogram:
    """How much of a ground has each value of a measure: counts between ``low`` and ``high``."""

    counts: Counts
    low: float
    high: float
    shown_low: float
    shown_high: float
    mean: float
    scale: Scale


def of_drape(drape: Drape) -> Histogram:
    """Return how much of a ground has each value of a measure, logarithmic where its scale is."""
    values = drape.values
    low, high = float(values.min()), float(values.max())
    at = ramp.positions(values, drape.scale, drape.low, drape.high)
    counts = np.bincount((at.ravel() * np.float32(_BINS - 1e-3)).astype(np.int64), minlength=_BINS)
    mean = float(values.mean(dtype=np.float64))
    return Histogram(counts, low, high, drape.low, drape.high, mean, drape.scale)
