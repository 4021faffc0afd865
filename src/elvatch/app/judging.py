"""What is judged of sites: findings, what mends them, rules found from masks."""

from __future__ import annotations

import math
from collections.abc import Callable

import numpy as np
from numpy.typing import NDArray

from elvatch.app.covers import Covers
from elvatch.app.fits import Fits
from elvatch.app.grounds import Grounds
from elvatch.app.handoffs import HandOffs
from elvatch.app.marks import new_id
from elvatch.app.strews import Strews
from elvatch.core import digest
from elvatch.core.cache import Cache
from elvatch.core.document.clause import Join
from elvatch.core.document.marks import Marks, MaskTile, PaintedMask
from elvatch.core.document.recipe import Recipe
from elvatch.core.document.rule import OnPainted, Rule
from elvatch.core.formats import png
from elvatch.core.ground import places
from elvatch.core.ground.measures import asked_of
from elvatch.core.ground.places import Places
from elvatch.core.judging import find_rule, findings, left_over
from elvatch.core.judging.find_rule import FoundRule
from elvatch.core.judging.finding import Finding
from elvatch.core.judging.judged import Judged, SetKnown
from elvatch.core.parallel import Token, in_background
from elvatch.core.picture.sample import finest_pixel_m
from elvatch.core.refusal import RefusalError
from elvatch.core.results import result
from elvatch.core.rules import program, rules
from elvatch.core.rules.mask import FULL
from elvatch.store.store import Store

_FEET_LIMIT_M = 0.1
_PLACES = 18_000
"""So many tell a rule; more only take longer."""
_MOST_PLACES, _ENOUGH = 120_000, 200
_MOST_ASKED = 1_500_000
"""Samples of the ground that strokes are looked for among."""
_ERRORS_PX = 256
_LEFT_SAMPLES = 1024
"""Along the longer side of the ground, of the masks that hold what a rule leaves."""
# in and said so, neither, missed, too much
_SHADES = np.array([[28, 29, 30], [236, 235, 232], [191, 59, 28], [70, 110, 150]], np.uint8)


@result
class Findings:
    """What is odd about a site, those waved through last."""

    findings: list[Finding]

    @property
    def open(self) -> int:
        """How many were not waved through."""
        return sum(one.waved is None for one in self.findings)


@result
class MendedSite:
    """A recipe after a finding was mended, and what was done, in words."""

    label: str
    recipe: Recipe


Says = Callable[[Places], NDArray[np.floating]]
"""Returns what a mask says at places, 0..1."""


def _by_strokes(
    order: NDArray[np.int64],
    yes: Callable[[NDArray[np.int64]], NDArray[np.floating]],
    no: Callable[[NDArray[np.int64]], NDArray[np.floating]],
) -> tuple[NDArray[np.int64], NDArray[np.floating]]:
    """Return places that one of two strokes means, no more of either than of what the rule needs, and what is said
    there: yes, also where both lie."""
    said, denied = yes(order) > 0.5, no(order) > 0.5
    chosen = [order[said][: _PLACES // 2], order[denied & ~said][: _PLACES // 2]]
    if not all(map(len, chosen)):
        raise RefusalError(
            "strokes",
            f"{len(chosen[0]):,} places of yes, {len(chosen[1]):,} of no",
            "some of both",
            "paint where it is, and where it is not",
        )
    return np.concatenate(chosen), np.repeat([1.0, 0.0], [len(one) for one in chosen])


@result
class TakenRule:
    """A site's marks with what a rule leaves of its mask painted, the rule that reads them, the share of places that
    it gets right without them, and the shares of the ground that were painted: missed and too much."""

    marks: Marks
    rule: Rule
    right: float
    missed: float
    too_much: float


class Judging:
    """Judges the sites of one store.

    Parameters
    ----------
    store : Store
        Texture sets.
    grounds, covers, fits, strews, handoffs
        What is judged.
    """

    def __init__(
        self, store: Store, grounds: Grounds, covers: Covers, fits: Fits, strews: Strews, handoffs: HandOffs
    ) -> None:
        self._store, self._grounds, self._covers, self._fits = store, grounds, covers, fits
        self._strews, self._handoffs = strews, handoffs
        self._known = Cache[SetKnown](96)
        self._found = Cache[Findings](8)

    def _set(self, name: str) -> SetKnown:
        content = self._store.stock.contents([name])[0]

        def read() -> SetKnown:
            state = self._store.stock.state(name)
            told = state.description
            return SetKnown(told.title, told.category, self._store.stock[name].size, state.facts, told.tile_m)

        return self._known.get(f"{name} {content}", read)

    def judged(self, title: str, recipe: Recipe, token: Token | None = None) -> Judged:
        """Return a site as findings look at it."""
        land = self._grounds.land(recipe.ground)
        prepared, facts = self._covers.prepared(recipe), self._covers.facts(recipe, token)
        at = self._covers.spread(land)
        shares = self._covers.shares_over(recipe, at, token)
        evidence = self._covers.evidence(recipe)
        counts: dict[str, float] = {}
        if recipe.strews:
            field = self._strews.field(recipe, evidence, hidden=True)
            counts = {strew.id: field.expected(k) for k, strew in enumerate(field.strews)}
        sets = {layer.set: self._set(layer.set) for layer in recipe.layers if layer.set in self._store.stock}
        return Judged(
            recipe,
            land.survey,
            prepared,
            at,
            shares,
            facts.reasons,
            sets,
            finest_pixel_m(recipe.stands.near),
            self._fits.relief(recipe, _FEET_LIMIT_M, token).stand_m,
            counts,
            self._handoffs.source(title, recipe),
            lambda k: self._fits.repetition(recipe, k, token),
        )

    def findings(self, title: str, recipe: Recipe, dear: bool, token: Token | None = None) -> Findings:
        """Return what is odd about a site; with ``dear`` also what takes long to find.

        The page asks by itself, and triangles of a mesh that is to be handed off take seconds: pictures come first.
        """
        cover = self._covers.name(recipe, self._covers.evidence(recipe))
        name = digest.of_json([title, digest.of_part(recipe), cover, dear])

        def make() -> Findings:
            with in_background(stands_back=True):
                return Findings(findings.of_site(self.judged(title, recipe, token), dear))

        return self._found.get(name, make)

    def find_rule(
        self, recipe: Recipe, target: Says, token: Token | None = None, no: Says | None = None
    ) -> FoundRule:
        """Return the rule that says best where something lies.

        Parameters
        ----------
        recipe : Recipe
            The site's.
        target : callable
            Returns what a mask says at places, 0..1.
        token : Token, optional
            Asked between steps.
        no : callable, optional
            Returns where a stroke says that it is not, 0..1: then only places that either means are judged by.

        Raises
        ------
        RefusalError
            When too few places are meant, or all of them.
        """
        survey = self._grounds.land(recipe.ground).survey
        measures = self._grounds.measures(recipe.ground, water=recipe.water)
        rows, cols = survey.heights.shape
        most = min(_MOST_PLACES if no is None else _MOST_ASKED, rows * cols)
        order = np.random.default_rng(1).choice(rows * cols, most, replace=False)

        def says(of: Says, some: NDArray[np.int64]) -> NDArray[np.floating]:
            x = (some % cols) * (survey.width_m / (cols - 1))
            y = survey.depth_m - (some // cols) * (survey.depth_m / (rows - 1))
            return np.clip(of(places.on_ground(survey, x, y, survey.width_m / cols)), 0, 1)

        if no is not None:
            some, told = _by_strokes(order, lambda at: says(target, at), lambda at: says(no, at))
        else:
            some = order[:_PLACES]
            told = says(target, some)
            meant = min(int((told > 0.5).sum()), int((told <= 0.5).sum()))
            if 0 < meant < _ENOUGH:
                # what is rare takes more places to be told from chance
                some = order[: _PLACES * _ENOUGH // meant]
                told = says(target, some)
        names = asked_of(recipe.water.on)
        values = {name: measures.map(name, None, token).ravel()[some] for name in names}
        return find_rule.find(values, told, token)

    def says(self, recipe: Recipe, rule: Rule, at: Places, token: Token | None = None) -> NDArray[np.float32]:
        """Return how much a rule lets in at places, 0..1."""
        programs = program.compiled([("", rule)], self._covers.evidence(recipe), recipe.layers)
        return rules.presences(programs, 0, at, token)

    def errors_png(self, recipe: Recipe, mask: Rule, found: Rule) -> bytes:
        """Return where a rule errs against a mask as a picture of the ground: what both let in is dark, what neither
        does light, what the rule misses red, what it has too much blue."""
        survey = self._grounds.land(recipe.ground).survey
        width, height = places.size_of(survey.width_m, survey.depth_m, _ERRORS_PX)
        at = places.on_grid(survey, width, height, 0, height)
        wanted, said = (self.says(recipe, rule, at) > 0.5 for rule in (mask, found))
        which = np.select([wanted & said, ~wanted & ~said, wanted], [0, 1, 2], 3)
        return png.encode(np.ascontiguousarray(_SHADES[which].reshape(height, width, 3)))

    def taken(self, recipe: Recipe, mask: Rule, found: Rule, called: str, token: Token | None = None) -> TakenRule:
        """Return a rule that was found together with what it leaves of its mask, painted: what is too much is taken
        away, what was missed added.

        Parameters
        ----------
        recipe : Recipe
            The site's.
        mask, found : Rule
            What it was found from, and the rule.
        called : str
            What the mask is called.
        token : Token, optional
            Asked between steps.
        """
        survey = self._grounds.land(recipe.ground).survey
        sample_m = min(max(survey.width_m, survey.depth_m) / _LEFT_SAMPLES, 100.0)
        rows, cols = (math.ceil(side / sample_m - 1e-9) for side in (survey.depth_m, survey.width_m))
        x = np.minimum((np.arange(cols) + 0.5) * sample_m, survey.width_m)
        y = np.maximum(survey.depth_m - (np.arange(rows) + 0.5) * sample_m, 0.0)
        across, up = (one.ravel() for one in np.meshgrid(x, y))
        at = places.on_ground(survey, across, up, sample_m)
        wanted, said = (self.says(recipe, rule, at, token).reshape(rows, cols) for rule in (mask, found))
        masks, clauses = list(recipe.marks.masks), list(found.clauses)
        left = left_over.left_over(wanted, said)
        # what was missed comes last: it is there whatever else is said
        joins: tuple[Join, Join] = ("except", "add")
        for join, words, codes in zip(joins, ("too much", "missed"), (left.too_much, left.missed), strict=True):
            if codes is None:
                continue
            name = f"{called}, {words}"[-80:]
            kept = tuple(
                MaskTile(row=r, col=c, file=self._covers.keep_tile(tile))
                for (r, c), tile in sorted(left_over.tiles(codes).items())
            )
            masks.append(PaintedMask(id=new_id(), name=name, sample_m=sample_m, tiles=kept))
            clauses.append(OnPainted(join=join, mask=masks[-1].id, called=name))
        marks = recipe.marks.model_copy(update={"masks": tuple(masks)})
        rule = Rule(clauses=tuple(clauses))
        right = float(((wanted > 0.5) == (said > 0.5)).mean())
        painted = [0.0 if codes is None else float((codes > FULL // 2).mean()) for codes in left]
        return TakenRule(marks, rule, right, painted[0], painted[1])

    def mended(self, title: str, recipe: Recipe, id: str, token: Token | None = None) -> MendedSite:
        """Return a recipe after a finding was mended."""
        label, after = findings.mended(self.judged(title, recipe, token), id)
        return MendedSite(label, after)
