"""What a generator of things is asked for: chance and its controls."""

from __future__ import annotations

from collections.abc import Mapping
from typing import NamedTuple

import numpy as np


class Asked(NamedTuple):
    """``seed`` of this variant, ``rng`` made of it, ``controls`` by name."""

    seed: int
    rng: np.random.Generator
    controls: Mapping[str, float]

    def of(self, control: str) -> float:
        """Return the value of a control."""
        return self.controls[control]
