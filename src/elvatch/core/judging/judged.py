"""A site as findings look at it: its recipe, and what was measured of it."""

from __future__ import annotations

import math
from collections.abc import Callable, Mapping
from dataclasses import dataclass

import numpy as np
import scipy.ndimage
from numpy.typing import NDArray

from elvatch.core.cover.plan import Prepared
from elvatch.core.cover.repetition import Repetition
from elvatch.core.document.layer import Layer
from elvatch.core.document.recipe import Recipe
from elvatch.core.ground.places import Places
from elvatch.core.ground.survey import Survey
from elvatch.core.handoff.listing import Source
from elvatch.core.stock.description import Category
from elvatch.core.stock.facts import SetFacts

_BESIDE = scipy.ndimage.generate_binary_structure(2, 1)


@dataclass(frozen=True)
class SetKnown:
    """A set of the stock: its title, category, side in pixels, facts, and metres per repeat at its true size."""

    title: str
    category: Category
    size_px: int
    facts: SetFacts
    tile_m: float


@dataclass(frozen=True)
class Judged:
    """What findings are made from.

    ``at`` (n) places spread evenly over the ground, as many down as across, row by row, and ``shares`` (n, layers) of
    all layers there, hidden ones 0; ``reasons`` why a layer lies nowhere; ``sets`` by content name; ``near_pixel_m``
    the ground a pixel of Near covers where it is nearest, ``stand_m`` how far above the plain ground one stands on
    the relief at the peg; ``counts`` how many things each strew asks for, by id; ``repeats`` measures a layer's
    repetition, dear.
    """

    recipe: Recipe
    survey: Survey
    prepared: Prepared
    at: Places
    shares: NDArray[np.float32]
    reasons: list[str | None]
    sets: Mapping[str, SetKnown]
    near_pixel_m: float
    stand_m: float
    counts: Mapping[str, float]
    source: Source
    repeats: Callable[[int], Repetition]

    def shown(self) -> list[tuple[int, Layer, float]]:
        """Return the layers that are on, with their number and their share of the ground."""
        return [(k, layer, float(self.shares[:, k].mean())) for k, layer in enumerate(self.recipe.layers) if layer.on]

    def meet(self, one: int, other: int) -> NDArray[np.float32]:
        """Return how far two layers lie side by side at each place, (n,), 0..1: one there, the other next to it."""
        beside = [
            scipy.ndimage.maximum_filter(self._grid(k), footprint=_BESIDE, mode="nearest") for k in (one, other)
        ]
        made: NDArray[np.float32] = np.minimum(*beside).ravel()
        return made

    def ends(self, layer: int) -> tuple[float, float] | None:
        """Return the place at which a layer ends most suddenly; None where it never does."""
        sudden = scipy.ndimage.morphological_gradient(self._grid(layer), footprint=_BESIDE, mode="nearest")
        return self.worst(sudden.ravel())

    def _grid(self, layer: int) -> NDArray[np.float32]:
        """Return a layer's shares as they lie on the ground, rows from the north."""
        side = math.isqrt(len(self.shares))
        return self.shares[: side * side, layer].reshape(side, side)

    def worst(self, weight: NDArray[np.floating]) -> tuple[float, float] | None:
        """Return the place at which something is most; None where it is nowhere."""
        if len(weight) == 0 or float(weight.max()) <= 0:
            return None
        k = int(weight.argmax())
        return float(self.at.x_m[k]), float(self.at.y_m[k])
