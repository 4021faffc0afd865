"""Findings about things: those that float, those that are left out."""

from __future__ import annotations

import numpy as np

from elvatch.core.document.recipe import Recipe
from elvatch.core.ground import places
from elvatch.core.judging.finding import Mendable, changed, found
from elvatch.core.judging.judged import Judged

FLOATS_M = 0.05


def floats(site: Judged) -> list[Mendable]:
    """Find things set by hand whose foot is above the ground."""
    out = []
    for one in site.recipe.set_things:
        if one.follows or not one.on:
            continue
        under = places.on_ground(site.survey, np.array([one.east_m]), np.array([one.north_m]), 0.1)
        above = one.foot_m - float(under.elevation_m[0])
        if above <= FLOATS_M:
            continue

        def mend(recipe: Recipe, id: str = one.id) -> Recipe:
            things = tuple(changed(each, follows=True) if each.id == id else each for each in recipe.set_things)
            return recipe.model_copy(update={"set_things": things})

        out.append(
            found(
                "floats",
                (one.id, one.name),
                f"its foot is {above:.2f} m above the ground",
                above,
                "m",
                ("let it follow the ground", mend),
                (one.east_m, one.north_m),
            )
        )
    return out


def ceiling(site: Judged) -> list[Mendable]:
    """Find strews that ask for more things than their ceiling lets in."""
    out = []
    for strew in site.recipe.strews:
        asked = site.counts.get(strew.id, 0.0)
        if not strew.on or asked <= 1.01 * strew.at_most:
            continue
        share = strew.at_most / asked
        thinner = max(round(strew.per_100_m2 * share * 0.98, 4), 1e-4)

        def mend(recipe: Recipe, id: str = strew.id, thinner: float = thinner) -> Recipe:
            strews = tuple(changed(one, per_100_m2=thinner) if one.id == id else one for one in recipe.strews)
            return recipe.model_copy(update={"strews": strews})

        text = f"asks for {asked:,.0f} things; its ceiling lets in {strew.at_most:,}"
        out.append(found("ceiling", (strew.id, strew.name), text, asked, "things", (f"{thinner:g} on 100 m²", mend)))
    return out
