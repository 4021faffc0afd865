"""Grounds whose measures are known in closed form."""

from __future__ import annotations

from collections.abc import Callable

import numpy as np

from elvatch.core.ground.heightfield import Heightfield

Formula = Callable[[np.ndarray, np.ndarray], np.ndarray]


def ground_of(formula: Formula, samples: int = 129, size_m: float = 128.0) -> Heightfield:
    """A square ground from heights as a function of metres east and north of its middle."""
    steps = np.linspace(-size_m / 2, size_m / 2, samples)
    x, y = np.meshgrid(steps, steps[::-1])
    return Heightfield(formula(x, y).astype(np.float32), size_m, size_m)


def places(samples: int = 129, size_m: float = 128.0) -> tuple[np.ndarray, np.ndarray]:
    """The metres east and north of the middle of each sample."""
    steps = np.linspace(-size_m / 2, size_m / 2, samples)
    x, y = np.meshgrid(steps, steps[::-1])
    return x, y
