"""What can be asked of things that are strewn: their models, where they lie, how many they are."""

from __future__ import annotations

from concurrent.futures import ThreadPoolExecutor

import numpy as np
from numpy.typing import NDArray

from elvatch import core
from elvatch.app.grounds import Grounds
from elvatch.core import digest
from elvatch.core.cache import Cache
from elvatch.core.document.recipe import Recipe
from elvatch.core.document.set_thing import SetThing
from elvatch.core.document.strew import MOST_BY_HAND, Added
from elvatch.core.document.thing import BroughtThing, DrawnThing, Thing
from elvatch.core.ground.shaping import Preview
from elvatch.core.kernel import sources_digest
from elvatch.core.refusal import RefusalError
from elvatch.core.results import result
from elvatch.core.rules.evidence import Evidence
from elvatch.core.strew import naming
from elvatch.core.strew.candidates import FULLEST, Box
from elvatch.core.strew.field import Field, Stocked, places_and_radii, stocked
from elvatch.core.strew.laid import Laid, On
from elvatch.core.thing import brought, model
from elvatch.core.thing.model import Model
from elvatch.store.store import Store


@result
class StrewFacts:
    """What a strew comes to.

    ``count`` of things on the site, ``counted`` one by one or ``False`` for the integral of their density; ``wanted``
    without its ceiling; ``fits`` how many its spacing lets on 100 m² at most, None without spacing; ``triangles`` of
    all at their finest; ``bytes`` of its models; how many a hand ``moved``, took away (``gone``) and ``added``.
    """

    id: str
    count: int
    counted: bool
    wanted: int
    fits: float | None
    triangles: int
    bytes: int
    moved: int
    gone: int
    added: int


@result
class FieldFacts:
    """What all strews of a site come to, those that are hidden among them; ``things`` and ``kinds`` that stand on it,
    with those set by hand."""

    strews: list[StrewFacts]
    things: int
    kinds: int
    bytes: int


@result
class Picked:
    """A thing under a spot of a picture: of which strew, which one, what it is, where and how large; ``strew`` None
    where there is none, or where a hand set it: then ``set`` is its id."""

    strew: str | None
    number: int
    thing: str
    east_m: float
    north_m: float
    size_m: float
    set: str | None = None


@result
class SetFast:
    """Things of a strew as single ones, and the numbers of those that they were."""

    added: list[Added]
    numbers: list[int]
    left_out: int


class _Lasting:
    """What was laid by just this code, on the shelf of a store."""

    def __init__(self, store: Store) -> None:
        self._shelf = store.strewn
        self._there: set[str] = set()
        self._writer = ThreadPoolExecutor(1, "strewn")

    @staticmethod
    def _name(name: str) -> str:
        return digest.of_json([sources_digest(), digest.of_package(core), name])

    def get(self, name: str) -> Laid | None:
        """Return what is kept, None where nothing is."""
        found = self._shelf.get(self._name(name))
        if found is not None:
            self._there.add(name)
        return found

    def put(self, name: str, found: Laid) -> None:
        """Keep it, unless it is kept already; whoever asks does not wait."""
        if name not in self._there:
            self._there.add(name)
            self._writer.submit(self._shelf.put, self._name(name), found)


class Strews:
    """Things strewn over the sites of one store.

    Parameters
    ----------
    store : Store
        Where models that were brought in are kept.
    grounds : Grounds
        What they lie on.
    """

    def __init__(self, store: Store, grounds: Grounds) -> None:
        self._store, self._grounds = store, grounds
        self._lasting = _Lasting(store)
        self._models = Cache[Model](96)
        self._stocked = Cache[Stocked](6)

    def model(self, thing: Thing) -> Model:
        """Return a thing's model, drawn or read once."""
        source = thing.source
        made_of = source.file if isinstance(source, BroughtThing) else digest.of_part(source)
        name = digest.of_json([sources_digest(), digest.of_package(model), made_of])
        return self._models.get(name, lambda: self._store.models.get(name) or self._made(source, name))

    def _made(self, source: BroughtThing | DrawnThing, name: str) -> Model:
        if isinstance(source, BroughtThing):
            made = model.model([brought.unpacked(self._store.files.get(source.file))])
        else:
            made = model.drawn(source.what, source.seed, source.variants, source.controls)
        self._store.models.put(name, made)
        return made

    def feet(self, recipe: Recipe) -> dict[str, float]:
        """Return how wide the foot of each strewn thing is, half of it, at a longest side of 1 m, by id."""
        used = {one.thing for strew in recipe.strews for one in strew.kinds}
        return {thing.id: self.model(thing).wide for thing in recipe.things if thing.id in used}

    def names(self, recipe: Recipe, marks: dict[str, str], preview: Preview | None) -> dict[str, str]:
        """Return what names where each strew's things lie."""
        if not recipe.strews:
            return {}
        ground = digest.of_json([digest.of_part(recipe.ground), preview.name if preview else None])
        return naming.names(recipe.strews, recipe.layers, marks, ground, self.feet(recipe))

    def field(
        self,
        recipe: Recipe,
        evidence: Evidence,
        preview: Preview | None = None,
        hidden: bool = False,
        rests: bool = False,
    ) -> Field:
        """Return the strews of a recipe at work; with those that are hidden where rules ask. What is laid while it
        ``rests`` is kept on disk."""
        land = self._grounds.land(recipe.ground, preview)
        strews = tuple(strew for strew in recipe.strews if strew.on or hidden)
        models = {thing.id: self.model(thing) for thing in recipe.things}
        names = tuple(evidence.strews[strew.id] for strew in strews)
        kinds = digest.of_json(
            [
                [digest.of_part(thing.source) for thing in recipe.things],
                [[strew.id, [one.thing for one in strew.kinds]] for strew in strews],
            ]
        )
        by_hand = tuple(one for one in recipe.set_things if one.on)
        shown = digest.of_json([kinds, [digest.of_part(one, "name") for one in by_hand]])
        shapes = digest.of_json([kinds, [[one.thing, one.variant, one.stretch] for one in by_hand]])
        found = self._stocked.get(shapes, lambda: stocked(strews, models, by_hand)).as_set(by_hand, shown)
        how = [[digest.of_part(strew.stands), digest.of_part(strew.looks), strew.at_most] for strew in strews]
        ways = [digest.of_part(path, "name") for path in recipe.marks.paths]
        on = On(
            land.survey,
            evidence,
            recipe.layers,
            lambda id: self._others(evidence, id),
            {id: one.wide for id, one in models.items()},
        )
        return Field(
            strews,
            names,
            found,
            on,
            recipe.marks.paths,
            digest.of_json([land.name, names, how, shown, ways]),
            models,
            digest.of_json([kinds, [digest.of_part(strew.size) for strew in strews]]),
            land.name,
            self._lasting if preview is None else None,
            rests,
        )

    def _others(self, evidence: Evidence, id: str) -> NDArray[np.float64]:
        found = evidence.things(id)
        return np.zeros((0, 3)) if found is None else found

    def spots(
        self, recipe: Recipe, evidence: Evidence, id: str, preview: Preview | None, rests: bool = False
    ) -> NDArray[np.float64] | None:
        """Return the places and radii of a strew's things, hidden or not; None where there is no such strew."""
        if all(strew.id != id for strew in recipe.strews):
            return None
        field = self.field(recipe, evidence, preview, hidden=True, rests=rests)
        k = next(k for k, strew in enumerate(field.strews) if strew.id == id)
        return places_and_radii(field.whole(k), field.strews[k], field.on.foot)

    def names_of_set(self, recipe: Recipe) -> dict[str, str]:
        """Return what names where each thing that is set by hand lies, and how wide its foot is, by its id."""
        sources = {thing.id: digest.of_part(thing.source) for thing in recipe.things}
        return {one.id: f"{digest.of_part(one, 'name')} {sources[one.thing]}" for one in recipe.set_things}

    def spot_of_set(self, recipe: Recipe, one: SetThing) -> NDArray[np.float64]:
        """Return the place and radius of a thing that is set by hand, (1, 3) metres; without rows where it is off."""
        thing = next(thing for thing in recipe.things if thing.id == one.thing)
        wide = self.model(thing).wide * one.size_m * max(one.along, one.across)
        return np.array([(one.east_m, one.north_m, wide)] if one.on else [], np.float64).reshape(-1, 3)

    def facts(self, recipe: Recipe, evidence: Evidence, preview: Preview | None = None) -> FieldFacts:
        """Return how many things each strew comes to, and what they take."""
        by_hand = [one for one in recipe.set_things if one.on]
        if not recipe.strews and not by_hand:
            return FieldFacts([], 0, 0, 0)
        field = self.field(recipe, evidence, preview, hidden=True)
        found = []
        for k, strew in enumerate(field.strews):
            count, counted = field.count(k)
            models = [field.models[one.thing] for one in strew.kinds]
            weights = np.array([one.weight for one in strew.kinds])
            weights = weights / max(float(weights.sum()), 1e-9)
            each = float(sum(w * one.triangles[0] for w, one in zip(weights, models, strict=True)))
            moved = [one for one in strew.by_hand if not one.gone]
            found.append(
                StrewFacts(
                    strew.id,
                    count,
                    counted,
                    round(field.expected(k)),
                    100 * FULLEST / strew.apart_m**2 if strew.apart_m > 0 else None,
                    round(each * count),
                    sum(_bytes(one) for one in models),
                    len(moved),
                    len(strew.by_hand) - len(moved),
                    len(strew.added),
                )
            )
        used = {one.thing for strew in recipe.strews for one in strew.kinds} | {one.thing for one in by_hand}
        strewn = sum(one.count for one, strew in zip(found, field.strews, strict=True) if strew.on)
        return FieldFacts(
            found,
            strewn + len(by_hand),
            len(used),
            sum(_bytes(field.models[id]) for id in used) + 80 * (sum(one.count for one in found) + len(by_hand)),
        )

    def picked(
        self, recipe: Recipe, evidence: Evidence, strew: str, number: int, near: tuple[float, float]
    ) -> Picked:
        """Return a thing that was met by a ray near a place."""
        field = self.field(recipe, evidence)
        k = next(k for k, one in enumerate(field.strews) if one.id == strew)
        reach = 2 * field.strews[k].size.to_m + 1
        box = Box(near[0] - reach, near[1] - reach, near[0] + reach, near[1] + reach)
        for block in field.blocks(k, box):
            found = field.lies(k, block)
            at = np.flatnonzero(found.number == number)
            if len(at):
                i = int(at[0])
                return Picked(
                    strew,
                    number,
                    field.strews[k].kinds[int(found.kind[i])].thing,
                    float(found.x_m[i]),
                    float(found.y_m[i]),
                    float(found.size_m[i]),
                )
        return NOTHING_PICKED

    def picked_set(self, recipe: Recipe, number: int) -> Picked:
        """Return a thing that a hand set, by its number among those that are on."""
        of = [one for one in recipe.set_things if one.on][number]
        return Picked(None, number, of.thing, of.east_m, of.north_m, of.size_m, of.id)

    def set_fast(self, recipe: Recipe, evidence: Evidence, id: str, corners: list[tuple[float, float]]) -> SetFast:
        """Return a strew's things within a lasso, all of them without one, as things added by hand.

        Raises
        ------
        RefusalError
            When there is no such strew.
        """
        if all(strew.id != id for strew in recipe.strews):
            raise RefusalError("strew", repr(id[:20]), "one of this site's", "choose a strew")
        field = self.field(recipe, evidence, hidden=True)
        k = next(k for k, strew in enumerate(field.strews) if strew.id == id)
        strew, found = field.strews[k], field.whole(k)
        if len(corners) >= 3:
            found = found.some(_inside(np.array(corners), found.x_m, found.y_m))
        order = np.argsort(found.turn, kind="stable")
        kept = order[:MOST_BY_HAND]
        added = [
            Added(
                number=n,
                thing=strew.kinds[int(found.kind[i])].thing,
                east_m=float(found.x_m[i]),
                north_m=float(found.y_m[i]),
                size_m=float(found.size_m[i]),
                turn_deg=float(found.turn_deg[i]),
            )
            for n, i in enumerate(kept)
        ]
        return SetFast(added, [int(found.number[i]) for i in kept], len(order) - len(kept))


NOTHING_PICKED = Picked(None, 0, "", 0.0, 0.0, 0.0)


def _bytes(of: Model) -> int:
    return sum(
        3 * level.places.nbytes + level.triangles.nbytes + 36 * len(level.triangles)
        for variant in of.variants
        for level in variant
    )


def _inside(corners: NDArray[np.float64], x: NDArray[np.float64], y: NDArray[np.float64]) -> NDArray[np.bool_]:
    """Return which places lie inside a polygon, by how often a line to the east crosses its sides."""
    out = np.zeros(len(x), bool)
    for (ax, ay), (bx, by) in zip(corners, np.roll(corners, -1, axis=0), strict=True):
        between = (ay > y) != (by > y)
        with np.errstate(divide="ignore", invalid="ignore"):
            out ^= between & (x < (bx - ax) * (y - ay) / (by - ay) + ax)
    return out
