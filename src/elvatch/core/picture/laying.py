"""Covers made ready for pictures, and what is kept of their answers where pictures look."""

from __future__ import annotations

import weakref
from collections.abc import Mapping
from dataclasses import replace
from typing import NamedTuple

from elvatch.core import digest
from elvatch.core.cache import Cache
from elvatch.core.cover import plan
from elvatch.core.cover.asked_again import AskedCover
from elvatch.core.cover.material import Material
from elvatch.core.document.recipe import Recipe
from elvatch.core.parallel import Token
from elvatch.core.picture.laid import LaidCover
from elvatch.core.picture.remembered import Looked, Remembered
from elvatch.core.picture.terrain import Terrain
from elvatch.core.rules.evidence import Evidence
from elvatch.core.stock.pyramid import Pyramid


class _Asked(NamedTuple):
    """What a cover was laid of last: the very recipe, sets and evidence, by the ground's name; what it is called.

    The cover itself lies where all that is kept lies, and what was looked up for it goes with who asked.
    """

    recipe: Recipe
    sets: Mapping[str, Pyramid]
    evidence: weakref.ref[Evidence]
    land: str
    solo: int
    name: str

    def same(self, land: Terrain, recipe: Recipe, sets: Mapping[str, Pyramid], evidence: Evidence, solo: int) -> bool:
        """Return whether the same is asked again, without looking into it."""
        very = self.recipe is recipe and self.sets is sets and self.evidence() is evidence
        return very and (self.land, self.solo) == (land.name, solo)


class LaidCovers:
    """Lays covers.

    Parameters
    ----------
    keep : int
        How many pictures are kept.
    """

    def __init__(self, keep: int) -> None:
        self._laid = Cache[LaidCover](keep)
        self._last: _Asked | None = None

    def lay(
        self, land: Terrain, recipe: Recipe, sets: Mapping[str, Pyramid], evidence: Evidence, solo: int
    ) -> LaidCover:
        """Return a recipe's layers made ready, the same for all three pictures."""
        # asked by the same for all of them it need not be named three times
        last = self._last
        if last is not None and last.same(land, recipe, sets, evidence, solo):
            known = self._laid.peek(last.name)
            if known is not None:
                return known
        laid = self._named(land, recipe, sets, evidence, solo)
        self._last = _Asked(recipe, sets, weakref.ref(evidence), land.name, solo, laid.name)
        return laid

    def _named(
        self, land: Terrain, recipe: Recipe, sets: Mapping[str, Pyramid], evidence: Evidence, solo: int
    ) -> LaidCover:
        named = dict.fromkeys(name for layer in recipe.layers for name in layer.uses())
        stored = {name: found for name in named if (found := sets.get(name)) is not None}
        contents: list[object] = [(name, one.content_name) for name, one in stored.items()]
        # a set's files may be replaced under its name, and what moves is drawn smaller than what rests
        contents += [evidence.sheet(wear).name for wear in recipe.wears if wear.on]
        # names do not change what lies where; of hidden layers the rules may be asked
        layers = [digest.of_part(layer, "name", "group") for layer in recipe.layers]
        image = evidence.image.name if evidence.image else None
        wears = [digest.of_part(wear, "name") for wear in recipe.wears]
        bare = digest.of_json([land.name, layers, wears, solo, image, contents, evidence.names()])

        def make() -> LaidCover:
            prepared = plan.prepare(recipe.layers, stored, evidence, solo, recipe.wears)
            names = plan.names(recipe.layers, prepared, evidence)
            reliefs = digest.of_json(plan.relief_names(recipe.layers, prepared, names))
            unruled = plan.unruled_name(recipe.layers, recipe.wears, prepared, names)
            return LaidCover(prepared._replace(joints=None), names, reliefs, reliefs, "", bare, bare, unruled)

        laid, joining = self._laid.get(bare, make), evidence.joining
        if joining is None or solo >= 0:
            return laid
        name, shapes = digest.of_json([bare, joining.name]), digest.of_json([laid.reliefs, joining.shape])
        joined = laid.prepared._replace(joints=joining.on())
        known = replace(laid, prepared=joined, shapes=shapes, shown=joining.name, name=name)
        return self._laid.get(name, lambda: known)


class AskedCovers:
    """Asks covers, and remembers what was found.

    Parameters
    ----------
    keep : int
        How many pictures and patches of them are remembered.
    """

    def __init__(self, keep: int) -> None:
        self._remembered = Cache[Remembered](keep)

    def ask(self, picture: str, at: Looked, laid: LaidCover, taps: int, token: Token | None = None) -> Material:
        """Ask a cover, without joints, with what was found there before.

        Parameters
        ----------
        picture : str
            Names the picture, or the part of one, wherever it looks from: what it saw elsewhere makes room.
        at : Looked
            Where; from one place most pixels see what they saw before.
        laid : LaidCover
            What is asked.
        taps : int
            Most lookups along an area that is longer than wide; always the same for one name.
        token : Token, optional
            Asked between bands.
        """
        remembered = self._remembered.get(picture, lambda: Remembered(at, taps))
        found = remembered.ask(AskedCover(laid.prepared, laid.names, laid.unruled), at, token)
        self._remembered.weigh(picture)
        return found
