"""How covers begin: a new site's first layers, and a layer laid later, by what the stock and the ground are."""

from __future__ import annotations

import numpy as np

from elvatch.app.covers import Covers
from elvatch.app.grounds import VAST, Grounds
from elvatch.core import digest
from elvatch.core.cache import Cache
from elvatch.core.document import begin_cover
from elvatch.core.document.begin_cover import Candidate, Sized
from elvatch.core.document.layer import Layer
from elvatch.core.document.recipe import MOST_LAYERS, Recipe
from elvatch.core.ground.measures import MeasureName
from elvatch.core.ground.shaping import Preview
from elvatch.core.refusal import RefusalError
from elvatch.core.results import result
from elvatch.store.store import Store
from elvatch.store.wall import Wish

_SAMPLES = 512
"""Along a side of a ground: as many tell how its measures are spread."""


@result
class BegunLayer:
    """A layer as it begins on a site, and the share of the ground that it takes there."""

    layer: Layer
    share: float


class Beginning:
    """Beginnings of covers over one store.

    Parameters
    ----------
    store : Store
        The stock.
    grounds, covers
        What they sized on, and what asks them.
    """

    def __init__(self, store: Store, grounds: Grounds, covers: Covers) -> None:
        self._store, self._grounds, self._covers = store, grounds, covers
        self._spreads = Cache[np.ndarray](24)

    def layers(self, recipe: Recipe) -> tuple[Layer, ...]:
        """Return the layers that a site with this ground begins with."""
        sets = self._filed()
        # a vast ground is measured when it is looked at: where materials lie is told well enough by fewer samples
        seen = self._grounds.while_measured(recipe.ground)

        def shares(layers: list[Layer]) -> list[float]:
            laid = recipe.model_copy(update={"layers": tuple(layers), "wears": ()})
            return self._covers.facts(laid, preview=seen).shares

        return tuple(begin_cover.begun(sets, self._sized(recipe, seen), shares))

    def layer(self, recipe: Recipe, id: str, name: str) -> BegunLayer:
        """Return a new layer of a set, laid on top of a site's column where such material lies.

        Raises
        ------
        RefusalError
            When there is no such set, or the column is full.
        """
        if len(recipe.layers) >= MOST_LAYERS:
            raise RefusalError(
                "layers", str(len(recipe.layers)), f"at most {MOST_LAYERS}", "take one out before laying another"
            )
        found = self._store.stock.state(name).description
        filed = Candidate(name, found.title, found.category, found.tile_m, found.relief_m)
        sized = self._sized(recipe)
        if not recipe.layers:
            return BegunLayer(begin_cover.layer_of(filed, id, begin_cover.rule_of("all", sized), sized), 1.0)

        def share_of(layer: Layer) -> float:
            return self._covers.facts(recipe.model_copy(update={"layers": (*recipe.layers, layer)})).shares[-1]

        layer = begin_cover.later(filed, id, sized, len(recipe.layers) + 1, share_of)
        return BegunLayer(layer, share_of(layer))

    def _filed(self) -> list[Candidate]:
        return [
            Candidate(line.name, line.title, line.category, line.tile_m, line.relief_m)
            for line in self._store.wall.find(Wish()).lines
            if "colour" in line.roles
        ]

    def _sized(self, recipe: Recipe, seen: Preview | None = None) -> Sized:
        ground = recipe.ground
        land = self._grounds.land(ground, seen).ground

        def quantile(measure: MeasureName, share: float) -> float:
            def make() -> np.ndarray:
                values = self._grounds.measures(ground, seen).map(measure)
                some = values[:: max(1, values.shape[0] // _SAMPLES), :: max(1, values.shape[1] // _SAMPLES)]
                return np.sort(some, axis=None)

            name = digest.of_json([digest.of_part(ground), measure, seen.name if seen else None])
            ordered = self._spreads.get(name, make)
            return float(np.interp(share, np.linspace(0, 1, len(ordered)), ordered))

        size = max(ground.width_m, ground.depth_m)
        return Sized(quantile, size, land.heights_m.size > VAST, ground.upright is not None)
