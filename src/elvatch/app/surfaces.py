"""Paint on things' own surfaces: read, painted further, kept."""

from __future__ import annotations

from elvatch.core.cache import Cache
from elvatch.core.document.recipe import Recipe
from elvatch.core.document.thing import PaintOnThing, Thing
from elvatch.core.rules import thing_paint
from elvatch.core.rules.thing_paint import Paint, ThingStroke
from elvatch.store.store import Store


def thing_with(recipe: Recipe, mask: str) -> Thing | None:
    """Return the thing that a mask is painted on; None where it is none of a thing's."""
    return next((thing for thing in recipe.things if any(one.id == mask for one in thing.cover.masks)), None)


class Surfaces:
    """Paint on the things of one store's sites.

    Parameters
    ----------
    store : Store
        Where files are kept.
    """

    def __init__(self, store: Store) -> None:
        self._store = store
        self._read = Cache[Paint](64)

    def paint(self, mask: PaintOnThing) -> Paint:
        """Return what was painted.

        Raises
        ------
        RefusalError
            When its file holds something else.
        """
        if mask.file is None:
            return thing_paint.nothing()
        file = mask.file
        return self._read.get(file, lambda: thing_paint.read(mask.name, self._store.files.get(file)))

    def painted(self, thing: Thing, id: str, stroke: ThingStroke) -> Paint:
        """Return the paint of one of a thing's masks with a stroke that is being drawn."""
        mask = next(one for one in thing.cover.masks if one.id == id)
        return thing_paint.with_stroke(self.paint(mask), stroke)

    def painted_on(self, recipe: Recipe, thing: Thing, id: str, stroke: ThingStroke) -> tuple[str, Recipe]:
        """Return a recipe with a finished stroke, its file on disk, and what was done in words."""
        mask = next(one for one in thing.cover.masks if one.id == id)
        file = self._store.files.put(self.painted(thing, id, stroke).written())
        masks = tuple(one.model_copy(update={"file": file}) if one is mask else one for one in thing.cover.masks)
        cover = thing.cover.model_copy(update={"masks": masks})
        things = tuple(one.model_copy(update={"cover": cover}) if one is thing else one for one in recipe.things)
        verb = "took away from" if stroke.tool == "take" else "painted on"
        return f"{verb} {mask.name}", recipe.model_copy(update={"things": things})
