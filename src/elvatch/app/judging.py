"""What is judged of sites: findings, what mends them, rules found from masks."""

from __future__ import annotations

import numpy as np

from elvatch.app.covers import Covers
from elvatch.app.fits import Fits
from elvatch.app.grounds import Grounds
from elvatch.app.handoffs import HandOffs
from elvatch.app.strews import Strews
from elvatch.core.cache import Cache
from elvatch.core.cover import function
from elvatch.core.document.recipe import Recipe
from elvatch.core.judging import findings
from elvatch.core.judging.finding import Finding
from elvatch.core.judging.judged import Judged, SetKnown
from elvatch.core.parallel import Token
from elvatch.core.picture.sample import finest_pixel_m
from elvatch.core.results import result
from elvatch.store.store import Store

_FEET_LIMIT_M = 0.1


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
        found = function.ask(prepared, at, token).shares
        shares = np.zeros((len(found), len(recipe.layers)), np.float32)
        for k, position in enumerate(prepared.positions):
            if position >= 0:
                shares[:, k] = found[:, position]
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

    def mended(self, title: str, recipe: Recipe, id: str, token: Token | None = None) -> MendedSite:
        """Return a recipe after a finding was mended."""
        label, after = findings.mended(self.judged(title, recipe, token), id)
        return MendedSite(label, after)
