"""All findings about a site."""

from __future__ import annotations

from collections.abc import Callable, Iterator, Sequence
from dataclasses import replace

from elvatch.core.document.recipe import Recipe
from elvatch.core.judging import of_ground, of_layers, of_sheets, of_things, of_wear
from elvatch.core.judging.finding import Finding, Mendable
from elvatch.core.judging.judged import Judged
from elvatch.core.refusal import RefusalError

Check = Callable[[Judged], list[Mendable]]
CHEAP: Sequence[Check] = (
    of_ground.at_limits,
    of_ground.few_levels,
    of_layers.gone,
    of_layers.covers_nothing,
    of_layers.stretched,
    of_layers.density,
    of_layers.scale,
    of_layers.hard_edge,
    of_layers.relief_large,
    of_layers.direction,
    of_layers.tone,
    of_ground.feet,
    of_layers.of_sets,
    of_wear.deep,
    of_wear.scale,
    of_things.floats,
    of_things.ceiling,
    of_sheets.as_written,
    of_sheets.finer_than_sets,
    of_sheets.many_layers,
)
"""These follow every edit."""
DEAR: Sequence[Check] = (of_layers.repeats,)
"""These are made when they are asked for."""


def _all(site: Judged, dear: bool) -> Iterator[Mendable]:
    """Yield findings check by check: who looks for one of them stops before what is dear."""
    for check in (*CHEAP, *(DEAR if dear else ())):
        yield from check(site)


def of_site(site: Judged, dear: bool = True) -> list[Finding]:
    """Return what is odd about a site, those waved through last.

    Parameters
    ----------
    site : Judged
        The site.
    dear : bool
        Also what takes long to find.
    """
    words = {one.id: one.word for one in site.recipe.waved}
    found = [replace(one.finding, waved=words.get(one.finding.id)) for one in _all(site, dear)]
    return sorted(found, key=lambda one: one.waved is not None)


def mended(site: Judged, id: str) -> tuple[str, Recipe]:
    """Return what is done about a finding, in words, and the recipe after it.

    Raises
    ------
    RefusalError
        When there is no such finding, or nothing mends it.
    """
    for one in _all(site, True):
        if one.finding.id == id:
            if one.mend is None or one.finding.mend is None:
                raise RefusalError(
                    one.finding.title,
                    "a finding that nothing mends by itself",
                    "one that can be mended",
                    "change it by hand, or wave it through",
                )
            return f"{one.finding.name}: {one.finding.mend}", one.mend(site.recipe)
    raise RefusalError("finding", f"none with the id {id[:40]!r}", "one of this site", "look at the list again")
