"""Heights mapped by a rising curve over their own range."""

from __future__ import annotations

import numpy as np
from scipy.interpolate import PchipInterpolator

from elvatch.core.ground.description import RemapStep
from elvatch.core.ground.shaped import Map, Shaped
from elvatch.core.parallel import over_bands
from elvatch.core.run import Run

_TABLE = 4096


def curve_of(step: RemapStep) -> tuple[Map, Map]:
    """Return a table of the curve: shares of the range before and after (Fritsch & Carlson 1980).

    Beyond its first and last point the curve is level.
    """
    before = np.array([p.before for p in step.curve])
    after = np.array([p.after for p in step.curve])
    at = np.linspace(0.0, 1.0, _TABLE)
    shaped = PchipInterpolator(before, after)(np.clip(at, before[0], before[-1]))
    x, y = at, np.clip(shaped, 0.0, 1.0)
    if step.opposite:
        # where the curve is level its inverse would be upright: the tiniest rise picks one side
        y = y + 1e-9 * at
        x, y = at, np.interp(at, y / y[-1] if y[-1] > 0 else y, at)
    return x.astype(np.float32), y.astype(np.float32)


def apply(shaped: Shaped, step: RemapStep, run: Run) -> Shaped:
    """Map heights by the curve; lowest and highest elevation are what its ends say of the range."""
    ground = shaped.ground
    low, rise = ground.lowest_m, max(ground.highest_m - ground.lowest_m, 1e-9)
    before, after = curve_of(step)
    out = np.empty_like(ground.heights_m)

    def work(a: int, b: int) -> None:
        out[a:b] = low + rise * np.interp((ground.heights_m[a:b] - low) / rise, before, after)

    over_bands(ground.rows, work, run.token)
    return shaped.with_heights(out)
