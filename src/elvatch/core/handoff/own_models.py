"""Models of things among the files of a sheet: those of kinds, and those of single things unlike them."""

from __future__ import annotations

from typing import NamedTuple

import numpy as np
import scipy
from numpy.typing import NDArray

from elvatch.core.document.set_thing import SetThing
from elvatch.core.document.thing import Thing
from elvatch.core.handoff.baked import AS_DRAWN, ThingForm, can_be
from elvatch.core.handoff.instances import Instances
from elvatch.core.handoff.listing import Source
from elvatch.core.strew import single
from elvatch.core.strew.field import Field
from elvatch.core.thing.solid import Solid
from elvatch.core.thing.traced import Stood

Key = tuple[str, int]


class Of(NamedTuple):
    """A model: its ``thing``, its levels, finest first, and whose it is where that is one thing set by hand."""

    thing: Thing
    levels: tuple[Solid, ...]
    only: SetThing | None = None

    def form(self, key: Key) -> ThingForm:
        """Return which of its thing's shapes it is, and how it is stretched."""
        return (
            AS_DRAWN._replace(variant=key[1])
            if self.only is None
            else ThingForm(self.only.variant, self.only.stretch)
        )


class OwnModels(NamedTuple):
    """All models by the name of their thing and a number: first those that a thing's variants have, then those of
    single things; ``single`` says which each of the things set by hand has."""

    of: dict[Key, Of]
    single: list[Key]


def models_of(source: Source, field: Field, baked: bool) -> OwnModels:
    """Return the models that a site's things need.

    Parameters
    ----------
    source, field
        What is handed off.
    baked : bool
        Whether what covers a thing goes into textures: each covered thing that was set by hand has a model then.
    """
    by_id = {thing.id: thing for thing in source.recipe.things}
    used = {one.thing for strew in field.strews for one in strew.kinds}
    alone = [_has_its_own(one.of, by_id[one.of.thing], field, baked) for one in field.stocked.singles]
    used |= {one.of.thing for one, own in zip(field.stocked.singles, alone, strict=True) if not own}
    out = {
        (thing.name, number): Of(thing, levels)
        for thing in source.recipe.things
        if thing.id in used
        for number, levels in enumerate(field.models[thing.id].variants)
    }
    keys: list[Key] = []
    for one, own in zip(field.stocked.singles, alone, strict=True):
        thing, variants = by_id[one.of.thing], field.models[one.of.thing].variants
        number = min(one.of.variant, len(variants) - 1)
        if own:
            number = len(variants)
            while (thing.name, number) in out:
                number += 1
            out[thing.name, number] = Of(thing, single.levels_of(one.of, field.models[one.of.thing]), one.of)
        keys.append((thing.name, number))
    return OwnModels(out, keys)


def _has_its_own(one: SetThing, thing: Thing, field: Field, baked: bool) -> bool:
    covered = thing.cover.shows
    solid = field.models[thing.id].variants[0][0]
    return one.stretch != single.AS_IT_IS or (baked and covered and can_be(solid))


def stands_as(key: Key, of: Instances, middle: tuple[float, float, float]) -> Stood:
    """Return how the first of those things stands that have a model: there its cover is asked; upright in the middle
    of the site where none stands.

    Parameters
    ----------
    key : tuple
        The model.
    of : Instances
        All that stand.
    middle : tuple
        Of the site, metres.
    """
    rows = np.flatnonzero((np.array(of.thing) == key[0]) & (of.variant == key[1]))
    at: NDArray[np.float64] = np.array([middle])
    turn, size = np.eye(3), 1.0
    if len(rows):
        k = int(rows[0])
        at, size = of.at[k : k + 1].copy(), float(of.scale[k])
        turn = scipy.spatial.transform.Rotation.from_quat(of.turn[k]).as_matrix()
    return Stood(
        at,
        turn.reshape(1, 9).astype(np.float32),
        np.full(1, size, np.float32),
        np.zeros(1, np.int32),
        np.ones((1, 3), np.float32),
        np.zeros((1, 3), np.float32),
    )
