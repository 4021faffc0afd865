"""Whether a map is seamless: the step across its wrap edge against the steps inside, per axis."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

import numpy as np
from numpy.typing import NDArray

from elvatch.core.stock import periodic

Axis = Literal["across", "down"]
_SCALES = (1, 2, 4, 8, 16, 32)
_LEAST_CELLS = 48
_STRETCHES = 16
_USUAL = 85.0
_ROWS = 384
"""As many rows tell what steps are usual."""
SEAMLESS, SHOWS = 1.5, 3.0
"""Below the first no seam can be made out, above the second it is plain to see."""


@dataclass(frozen=True)
class Seam:
    """The seam along one axis of one map.

    ``ratio`` is near 1 for a seamless map. ``worst_from`` to ``worst_to`` is the stretch along the
    edge, 0..1 from the left or from the top, where it shows most; ``worst_ratio`` the figure there.
    """

    ratio: float
    worst_ratio: float
    worst_from: float
    worst_to: float


def measure(values: NDArray[np.float32]) -> dict[Axis, Seam]:
    """Measure both seams of a map.

    Parameters
    ----------
    values : ndarray, shape (rows, cols) or (rows, cols, channels), float32
        As it is looked at: colours as encoded, the rest raw.

    Returns
    -------
    dict
        ``across``: from the right edge to the left; ``down``: from the bottom to the top.

    Notes
    -----
    The step is measured between means of blocks of 1 to 32 pixels on either side, since noise hides
    small steps from single pixels but not from the eye; the scale where it shows most counts. What is
    usual inside is the step that one place in seven exceeds, since many maps are busier in some parts.
    """
    stack = values[..., None] if values.ndim == 2 else values
    return {"across": _along(stack), "down": _along(stack.transpose(1, 0, 2))}


def _along(values: NDArray[np.float32]) -> Seam:
    """Measure the seam between the last and the first column."""
    best = Seam(1.0, 1.0, 0.0, 1.0)
    found = False
    blocks = values
    for scale in _SCALES:
        if scale > 1:
            rows, cols = blocks.shape[0] // 2 * 2, blocks.shape[1] // 2 * 2
            if min(rows, cols) // 2 < _LEAST_CELLS:
                break
            blocks = periodic.halve(blocks[:rows, :cols])
        rows = blocks.shape[0]
        # blocks begin at both edges alike, so that the wrap lies between two of them
        last = values[: rows * scale, -scale:].reshape(rows, scale, scale, -1).mean(axis=(1, 2))
        some = blocks[:: max(1, rows // _ROWS)]
        inside = np.abs(some[:, 1:] - some[:, :-1])
        wrap = np.abs(blocks[:, 0] - last).mean(axis=1)
        usual = max(float(np.percentile(inside.mean(axis=(0, 2)), _USUAL)), 1e-7)
        ratio = max(float(wrap.mean()), 1e-7) / usual if usual > 1e-5 or wrap.mean() > 1e-5 else 1.0
        if not found or ratio > best.ratio:
            best, found = _seam(ratio, wrap, usual), True
    return best


def _seam(ratio: float, wrap: NDArray[np.float32], usual: float) -> Seam:
    stretches = min(_STRETCHES, len(wrap))
    means = [float(part.mean()) for part in np.array_split(wrap, stretches)]
    k = int(np.argmax(means))
    return Seam(ratio, means[k] / usual, k / stretches, (k + 1) / stretches)
