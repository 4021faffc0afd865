"""What names where a strew's things lie: all that decides it, and nothing else."""

from __future__ import annotations

from collections.abc import Mapping

from elvatch.core import digest
from elvatch.core.document.layer import Layer
from elvatch.core.document.rule import OnLayer, singles
from elvatch.core.document.strew import Strew, asks_for
from elvatch.core.rules.evidence import marks_of

_ELSEWHERE = ("name", "looks", "stands", "on", "at_most")
"""Fields that do not change which things lie where."""


def names(
    strews: tuple[Strew, ...],
    layers: tuple[Layer, ...],
    marks: Mapping[str, str],
    ground: str,
    feet: Mapping[str, float],
) -> dict[str, str]:
    """Return what names where each strew's things lie, by its id.

    Parameters
    ----------
    strews, layers
        Of the recipe.
    marks : mapping
        What names each mark by its content.
    ground : str
        What names the ground.
    feet : mapping
        How wide each thing's foot is, by its id.
    """
    by_id = {strew.id: strew for strew in strews}
    column = [[layer.id, layer.opacity, digest.of_part(layer.rule)] for layer in layers]
    known: dict[str, str] = {}

    def name_of(id: str, above: tuple[str, ...]) -> str:
        if id not in by_id or id in above:
            return "none"
        if id not in known:
            strew = by_id[id]
            rules = [strew.rule, *(layer.rule for layer in layers)] if _on_layers(strew) else [strew.rule]
            read = [mark for rule in rules for mark in marks_of(rule)] + [one.mask for one in strew.touches]
            others = [*(other for rule in rules for other in asks_for(rule)), *strew.clear_of]
            known[id] = digest.of_json(
                [
                    ground,
                    digest.of_part(strew, *_ELSEWHERE),
                    [marks.get(mark) for mark in read],
                    [name_of(other, (*above, id)) for other in others],
                    column if _on_layers(strew) else None,
                    [feet.get(one.thing) for one in strew.kinds],
                ]
            )
        return known[id]

    return {strew.id: name_of(strew.id, ()) for strew in strews}


def _on_layers(strew: Strew) -> bool:
    return any(isinstance(clause, OnLayer) for clause in singles(strew.rule))
