"""What can be asked of how layers lie: repeats, stretch, density, relief, and the cut under a boot."""

from __future__ import annotations

import math

import numpy as np

from elvatch.app.covers import Covers, positions_shown
from elvatch.app.grounds import Grounds
from elvatch.core import digest
from elvatch.core.cache import Cache
from elvatch.core.cover import function, repetition, standing, stretch
from elvatch.core.cover.repetition import Repetition
from elvatch.core.document.recipe import Recipe
from elvatch.core.ground import places
from elvatch.core.ground.places import Places
from elvatch.core.mapping import surface
from elvatch.core.parallel import Token
from elvatch.core.refusal import RefusalError
from elvatch.core.results import Counts, Hundredths, TenthsOfMillimetres, result
from elvatch.core.stock.pyramid import Pyramid
from elvatch.store.store import Store

ABOUT_M = 6.0
"""How much ground about the peg the figures of relief are of."""
_GRID = 256
_CUT = 600


@result
class ReliefFacts:
    """The relief of ``about_m`` of ground about the peg: lowest and highest (m, along the ground's normal), the
    share above a limit, how far above the plain ground one stands on it (m), and the share of the whole ground
    that is too steep for a height field to hold its relief."""

    lowest_m: float
    highest_m: float
    share_above: float
    stand_m: float
    share_held_back: float
    about_m: float = ABOUT_M


@result
class BootCut:
    """A cut through the peg at the scale of a boot: distance, plain ground and surface (m), the foremost layer
    (-1 none), and the elevation on which one stands."""

    distance_m: TenthsOfMillimetres
    ground_m: Hundredths
    surface_m: Hundredths
    layer: Counts
    stand_m: float
    peg_at_m: float


@result
class FitAt:
    """At a place: stretch (1 is true to size), texel density (px/m), and relief (m)."""

    stretch: float
    density: float
    relief_m: float


class Fits:
    """How the layers of the sites of one store lie.

    Parameters
    ----------
    store : Store
        Texture sets.
    grounds : Grounds
        What they lie on.
    covers : Covers
        Where they lie.
    """

    def __init__(self, store: Store, grounds: Grounds, covers: Covers) -> None:
        self._store, self._grounds, self._covers = store, grounds, covers
        self._repetitions = Cache[Repetition](64)
        self._reliefs = Cache[ReliefFacts](24)

    def repetition(self, recipe: Recipe, k: int, token: Token | None = None) -> Repetition:
        """Return how much a layer's tile is found again, before and after what its fit does against it."""
        if not 0 <= k < len(recipe.layers):
            raise RefusalError("layer", str(k), f"0 to {len(recipe.layers) - 1}", "choose another")
        layer = recipe.layers[k]
        names = list(dict.fromkeys(layer.uses()))
        sets: dict[str, Pyramid] = {name: self._store.stock[name] for name in names if name in self._store.stock}
        contents = self._store.stock.contents(names)
        key = [layer.id, layer.set, digest.of_part(layer.fit), digest.of_part(layer.look), contents]
        return self._repetitions.get(digest.of_json(key), lambda: repetition.of_layer(layer, sets, token))

    def relief(self, recipe: Recipe, limit_m: float, token: Token | None = None) -> ReliefFacts:
        """Return the relief about the peg; see :class:`ReliefFacts`."""
        evidence = self._covers.evidence(recipe)
        key = [self._covers.name(recipe, evidence), digest.of_part(recipe.peg), limit_m]

        def make() -> ReliefFacts:
            land, peg = self._grounds.land(recipe.ground), recipe.peg
            prepared = self._covers.prepared(recipe)
            steps = ((np.arange(_GRID) + 0.5) / _GRID - 0.5) * ABOUT_M
            x, y = np.meshgrid(peg.east_m + steps, peg.north_m + steps)
            inside = (x >= 0) & (y >= 0) & (x <= land.ground.width_m) & (y <= land.ground.depth_m)
            at = places.on_ground(land.survey, x[inside], y[inside], ABOUT_M / _GRID)
            found = function.ask(prepared, at, token).relief_m
            steep = surface.steepness_deg(land.survey.gradient[::4, ::4])
            return ReliefFacts(
                float(found.min()),
                float(found.max()),
                float((found > limit_m).mean()),
                standing.on_top(prepared, land.survey, peg.east_m, peg.north_m),
                float((steep > surface.STEEPEST_DEG).mean()),
            )

        return self._reliefs.get(digest.of_json(key), make)

    def cut(self, recipe: Recipe, bearing_deg: float, length_m: float, token: Token | None = None) -> BootCut:
        """Return the relief along a short line through the peg."""
        land, peg = self._grounds.land(recipe.ground), recipe.peg
        dx, dy = math.sin(math.radians(bearing_deg)), math.cos(math.radians(bearing_deg))
        along = np.linspace(0.0, length_m, _CUT)
        x = np.clip(peg.east_m + (along - length_m / 2) * dx, 0, land.ground.width_m)
        y = np.clip(peg.north_m + (along - length_m / 2) * dy, 0, land.ground.depth_m)
        at = places.on_ground(land.survey, x, y, length_m / _CUT)
        prepared = self._covers.prepared(recipe)
        found = function.ask(prepared, at, token)
        surfaces = at.elevation_m + found.relief_m * surface.lifts(at.rise())
        level = land.ground.elevation_at(peg.east_m, peg.north_m)
        stand = level + standing.on_top(prepared, land.survey, peg.east_m, peg.north_m)
        layers = positions_shown(prepared, found.shares)
        return BootCut(along, at.elevation_m, surfaces, layers, stand, length_m / 2)

    def at(self, recipe: Recipe, at: Places) -> FitAt:
        """Return how what lies at a place is fitted; only the first place counts."""
        prepared = self._covers.prepared(recipe)
        found = function.ask(prepared, at)
        pulled, dense = stretch.of_cover(prepared, at, found.shares)
        return FitAt(float(pulled[0]), float(dense[0]), float(found.relief_m[0]))
