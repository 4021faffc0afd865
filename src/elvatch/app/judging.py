"""What is judged of sites: findings, what mends them, rules found from masks."""

from __future__ import annotations

from collections.abc import Callable

import numpy as np
from numpy.typing import NDArray

from elvatch.app.covers import Covers
from elvatch.app.fits import Fits
from elvatch.app.grounds import Grounds
from elvatch.app.handoffs import HandOffs
from elvatch.app.strews import Strews
from elvatch.core.cache import Cache
from elvatch.core.document.recipe import Recipe
from elvatch.core.document.rule import Rule
from elvatch.core.formats import png
from elvatch.core.ground import places
from elvatch.core.ground.measures import asked_of
from elvatch.core.ground.places import Places
from elvatch.core.judging import find_rule, findings
from elvatch.core.judging.find_rule import FoundRule
from elvatch.core.judging.finding import Finding
from elvatch.core.judging.judged import Judged, SetKnown
from elvatch.core.parallel import Token
from elvatch.core.picture.sample import finest_pixel_m
from elvatch.core.results import result
from elvatch.core.rules import program, rules
from elvatch.store.store import Store

_FEET_LIMIT_M = 0.1
_PLACES = 18_000
"""So many tell a rule; more only take longer."""
_ERRORS_PX = 256
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

    def _set(self, name: str) -> SetKnown:
        content = self._store.stock.contents([name])[0]

        def read() -> SetKnown:
            state = self._store.stock.state(name)
            return SetKnown(
                state.description.title, state.description.category, self._store.stock[name].size, state.facts
            )

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
            recipe, land.survey, prepared, at, shares, facts.reasons, sets, finest_pixel_m(recipe.stands.near),
            self._fits.relief(recipe, _FEET_LIMIT_M, token).stand_m, counts, self._handoffs.source(title, recipe),
            lambda k: self._fits.repetition(recipe, k, token),
        )  # fmt: skip

    def findings(self, title: str, recipe: Recipe, dear: bool, token: Token | None = None) -> Findings:
        """Return what is odd about a site; with ``dear`` also what takes long to find."""
        return Findings(findings.of_site(self.judged(title, recipe, token), dear))

    def find_rule(
        self, recipe: Recipe, target: Callable[[Places], NDArray[np.floating]], token: Token | None = None
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
        """
        survey = self._grounds.land(recipe.ground).survey
        measures = self._grounds.measures(recipe.ground, water=recipe.water)
        rows, cols = survey.heights.shape
        some = np.random.default_rng(1).choice(rows * cols, min(_PLACES, rows * cols), replace=False)
        x = (some % cols) * (survey.width_m / (cols - 1))
        y = survey.depth_m - (some // cols) * (survey.depth_m / (rows - 1))
        at = places.on_ground(survey, x, y, survey.width_m / cols)
        names = asked_of(recipe.water.on)
        values = {name: measures.map(name, None, token).ravel()[some] for name in names}
        return find_rule.find(values, np.clip(target(at), 0, 1), token)

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

    def mended(self, title: str, recipe: Recipe, id: str, token: Token | None = None) -> MendedSite:
        """Return a recipe after a finding was mended."""
        label, after = findings.mended(self.judged(title, recipe, token), id)
        return MendedSite(label, after)
