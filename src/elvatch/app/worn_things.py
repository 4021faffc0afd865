"""What wear on a thing does, in numbers: the thing's cover with it against its cover without it."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np

from elvatch.app.covers import Covers
from elvatch.app.grounds import Grounds
from elvatch.app.strews import Strews
from elvatch.app.wears import Told
from elvatch.core import digest
from elvatch.core.cache import Cache
from elvatch.core.cover import on_thing, readout
from elvatch.core.cover.material import Material
from elvatch.core.cover.on_thing import Covered, Own
from elvatch.core.cover.readout import Readout
from elvatch.core.document.recipe import Recipe
from elvatch.core.document.set_thing import SetThing
from elvatch.core.document.thing import Covering, Thing
from elvatch.core.document.wear import Wear
from elvatch.core.ground.survey import Survey
from elvatch.core.handoff.baked import ThingForm, spread_over
from elvatch.core.parallel import Token
from elvatch.core.picture import covering
from elvatch.core.refusal import RefusalError
from elvatch.core.rules.evidence import Evidence
from elvatch.core.stock import overlays
from elvatch.core.strew import single
from elvatch.core.thing.traced import Stood
from elvatch.core.wear import wear_plan
from elvatch.store.store import Store

_PLACES = 6000


class WornThings:
    """Wear on the things of one store's sites.

    Parameters
    ----------
    store : Store
        Texture sets.
    grounds, covers, strews
        What things stand on, what their rules read, and their shapes.
    """

    def __init__(self, store: Store, grounds: Grounds, covers: Covers, strews: Strews) -> None:
        self._store, self._grounds, self._covers, self._strews = store, grounds, covers, strews
        self._told = Cache[Readout](64)

    def told(self, recipe: Recipe, id: str, k: int, token: Token | None = None) -> Told:
        """Return what a wear of a thing does.

        Raises
        ------
        RefusalError
            When there is no such thing or wear.
        """
        thing = next((one for one in recipe.things if one.id == id), None)
        if thing is None or not 0 <= k < len(thing.cover.wears):
            raise RefusalError("wear", f"{k} of {id[:40]!r}", "a wear of one of the site's things", "choose another")
        evidence = self._covers.evidence(recipe)
        placed = self._placed(recipe, thing)
        whole = on_thing.name_of(thing.cover, self._store.stock, evidence)
        name = digest.of_json([whole, k, digest.of_part(thing, "cover", "name"), digest.of_part(placed, "name")])
        survey = self._grounds.land(recipe.ground).survey
        found = self._told.get(name, lambda: self._compared(evidence, survey, thing, placed, k, token))
        return Told(**vars(found), limited=_limited(thing.cover, k))

    def _placed(self, recipe: Recipe, thing: Thing) -> SetThing:
        """Return how one of a kind stands: the first that was set, else upright at the peg."""
        there = next((one for one in recipe.set_things if one.thing == thing.id and one.on), None)
        if there is not None:
            return there
        sizes = [s.size.to_m for s in recipe.strews if any(kind.thing == thing.id for kind in s.kinds)]
        return SetThing(
            id="atthepeg",
            name=thing.name,
            thing=thing.id,
            east_m=recipe.peg.east_m,
            north_m=recipe.peg.north_m,
            size_m=max(sizes, default=1.0),
        )

    def _compared(
        self, evidence: Evidence, survey: Survey, thing: Thing, placed: SetThing, k: int, token: Token | None
    ) -> Readout:
        model = self._strews.model(thing)
        stands = single.stood([single.placed(placed, model, 0, [])], survey)
        solid, wear = single.levels_of(placed, model)[-1], thing.cover.wears[k]
        form = ThingForm(min(placed.variant, len(model.variants) - 1), placed.stretch)
        seen = spread_over(solid, stands, survey, _PLACES, form)
        rows = np.arange(len(seen.buffer.fragments.kind))
        points = covering.points(seen.things, seen.buffer, rows, seen.stocked, token)
        points.across_m[:] = wear.lie.tile_m / overlays.SIZE_PX
        clad = seen.buffer.clad
        own, turn = Own(clad.colour, clad.rough, clad.metal), _turn(stands)
        found = []
        for on in (False, True):
            cover = thing.cover.model_copy(update={"wears": _with(thing.cover.wears, k, on)})
            ready = on_thing.prepare(cover, self._store.stock, evidence)
            found.append(_as_material(on_thing.ask(ready, points, own, turn, token)))
        return readout.compare(found[0], found[1], 1.0, "the thing", bool(wear.effects.worn_through))


def _with(wears: Sequence[Wear], k: int, on: bool) -> tuple[Wear, ...]:
    return tuple(one.model_copy(update={"on": on}) if at == k else one for at, one in enumerate(wears))


def _turn(stands: Stood) -> np.ndarray[tuple[int, int], np.dtype[np.float32]]:
    turn: np.ndarray[tuple[int, int], np.dtype[np.float32]] = stands.turn[0].reshape(3, 3)
    return turn


def _as_material(of: Covered) -> Material:
    """Return what covers a thing as the cover's own answer; the share of its own material comes first."""
    shares = np.concatenate([of.own[:, None], of.shares], axis=1)
    slope = of.bump[:, :2].copy()
    return Material(of.colour, slope, of.rough, of.metal, of.open, of.relief_m, shares, of.glow)


def _limited(cover: Covering, k: int) -> str | None:
    fitted, shown = wear_plan.shown_with((on_thing.OWN, *cover.layers), cover.wears)
    at = fitted.positions[k]
    return wear_plan.depth_of(fitted.wears[at], fitted.places[at], shown).reason if at >= 0 else None
