"""What the pixels of an image look like, whatever its name says."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

_LOOKED_AT = 384


@dataclass(frozen=True)
class PixelFacts:
    """Evidence read from some of an image's pixels, all of it 0..1.

    ``colour_spread`` is how far the channels lie apart on average; ``unit_share`` the share of
    pixels that are unit vectors pointing out of the picture; ``apart`` how little the channels go
    together (0: they rise and fall as one); ``mean`` and ``spread`` are of the brightness;
    ``ends`` the share of pixels near its lowest or highest value; ``means`` are per channel.
    """

    channels: int
    colour_spread: float
    unit_share: float
    apart: float
    mean: float
    spread: float
    ends: float
    means: tuple[float, ...]

    @property
    def grey(self) -> bool:
        """Whether all channels say the same."""
        return self.colour_spread < 0.004

    @property
    def flat(self) -> bool:
        """Whether there is next to nothing to see."""
        return self.spread < 0.002 and self.colour_spread < 0.004

    @property
    def normal(self) -> bool:
        """Whether it looks like a normal map."""
        return self.unit_share > 0.85

    @property
    def coloured(self) -> bool:
        """Whether the channels differ enough to be a picture in colours or several maps in one."""
        return self.colour_spread > 0.012

    @property
    def packed(self) -> bool:
        """Whether the channels look like different maps rather than one picture."""
        return self.coloured and not self.normal and self.apart > 0.55


def look(values: NDArray[np.float32]) -> PixelFacts:
    """Look at an image.

    Parameters
    ----------
    values : ndarray, shape (rows, cols, channels), float32
        0..1 as they stand in the file, 1 or 3 channels.
    """
    step = max(1, min(values.shape[:2]) // _LOOKED_AT)
    some = values[step // 2 :: step, step // 2 :: step].reshape(-1, values.shape[2]).astype(np.float64)
    bright = some.mean(axis=1)
    low, high = float(bright.min()), float(bright.max())
    reach = max(high - low, 1e-6)
    ends = float(((bright < low + 0.08 * reach) | (bright > high - 0.08 * reach)).mean())
    colour_spread, unit, apart = 0.0, 0.0, 0.0
    if values.shape[2] == 3:
        colour_spread = float((some.max(axis=1) - some.min(axis=1)).mean())
        vectors = some * 2 - 1
        length = np.linalg.norm(vectors, axis=1)
        outward = vectors[:, 2] > 0.05
        centred = np.hypot(*vectors[:, :2].mean(axis=0)) < 0.25
        unit = float((outward & (np.abs(length - 1) < 0.08)).mean()) if centred else 0.0
        apart = _apart(some)
    return PixelFacts(
        values.shape[2],
        colour_spread,
        unit,
        apart,
        float(bright.mean()),
        float(bright.std()),
        ends,
        tuple(float(v) for v in some.mean(axis=0)),
    )


def _apart(some: NDArray[np.float64]) -> float:
    """Return 1 less the mean correlation of the channels; a constant channel goes with no other."""
    spread = some.std(axis=0)
    if (spread < 1e-4).all():
        # three constants: different maps when they lie far apart
        return 1.0 if float(np.ptp(some.mean(axis=0))) > 0.3 else 0.0
    centred = (some - some.mean(axis=0)) / np.maximum(spread, 1e-6)
    together = [
        float((centred[:, i] * centred[:, j]).mean()) if min(spread[i], spread[j]) > 1e-4 else 0.0
        for i, j in ((0, 1), (0, 2), (1, 2))
    ]
    return 1.0 - sum(together) / 3
