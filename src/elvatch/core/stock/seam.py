"""Whether a map is seamless: the step across its wrap edge against the steps inside, per axis."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any, Literal

import numpy as np
from numpy.typing import NDArray

from elvatch.core.stock import periodic
from elvatch.core.stock.loaded import shares

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


def measure(values: NDArray[np.float32] | NDArray[np.uint8] | NDArray[np.uint16]) -> dict[Axis, Seam]:
    """Measure both seams of a map.

    Parameters
    ----------
    values : ndarray, shape (rows, cols) or (rows, cols, channels), float32, or uint8 or uint16 for 0..1
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
    best: dict[Axis, Seam] = {}
    # large maps become numbers where they are looked at, and are halved some rows at a time
    blocks: NDArray[Any] = stack
    for scale in _SCALES:
        if scale > 1:
            rows, cols = blocks.shape[0] // 2 * 2, blocks.shape[1] // 2 * 2
            if min(rows, cols) // 2 < _LEAST_CELLS:
                break
            blocks = _halved(blocks[:rows, :cols])
        turned = _along(blocks.transpose(1, 0, 2), stack.transpose(1, 0, 2), scale)
        both: dict[Axis, Seam] = {"across": _along(blocks, stack, scale), "down": turned}
        for axis, found in both.items():
            if axis not in best or found.ratio > best[axis].ratio:
                best[axis] = found
    return best


def _numbers(values: NDArray[Any]) -> NDArray[np.float32]:
    """Return whole numbers as 0..1; floats as they are."""
    return values if values.dtype.kind == "f" else shares(values)


def _halved(blocks: NDArray[Any]) -> NDArray[np.float32]:
    return periodic.halved_rows(len(blocks), lambda some: _numbers(blocks[some]))


def _along(blocks: NDArray[Any], whole: NDArray[Any], scale: int) -> Seam:
    """Measure the seam between the last and the first column of a map's blocks."""
    rows = blocks.shape[0]
    # blocks begin at both edges alike, so that the wrap lies between two of them
    last = _numbers(whole[: rows * scale, -scale:]).reshape(rows, scale, scale, -1).mean(axis=(1, 2))
    some = _numbers(blocks[:: max(1, rows // _ROWS)])
    inside = np.abs(some[:, 1:] - some[:, :-1])
    wrap = np.abs(_numbers(blocks[:, 0]) - last).mean(axis=1)
    usual = max(float(np.percentile(inside.mean(axis=(0, 2)), _USUAL)), 1e-7)
    seen = usual > 1e-5 or wrap.mean() > 1e-5
    return _seam(max(float(wrap.mean()), 1e-7) / usual if seen else 1.0, wrap, usual)


def _seam(ratio: float, wrap: NDArray[np.float32], usual: float) -> Seam:
    stretches = min(_STRETCHES, len(wrap))
    means = [float(part.mean()) for part in np.array_split(wrap, stretches)]
    k = int(np.argmax(means))
    return Seam(ratio, means[k] / usual, k / stretches, (k + 1) / stretches)
