"""Kinds of clauses as the page learns them."""

from __future__ import annotations

from elvatch.core.document.clause import Group, Reads, Where, kinds
from elvatch.core.document.rule import Clause
from elvatch.core.results import result
from elvatch.core.shown import ChoiceField, NumberField, choices_of, numbers_of


@result
class ClauseKind:
    """A kind of clause: what it is called, where it is offered and how, its words, what is limited; by which field it
    refers to which kinds of parts, and which field says which of them; what may be done with it; its numbers and
    choices, and how it begins."""

    kind: str
    title: str
    about: str
    group: Group
    offer: str
    short: str
    phrase: str
    reads: Reads
    id_field: str
    refers: tuple[Where, ...]
    where_field: str
    drawn: bool
    breaks_up: bool
    curved: bool
    numbers: list[NumberField]
    choices: list[ChoiceField]
    begins: Clause


_LIMITED = {"strength", "upper", "lower", "irregular", "radius_m"}
"""Numbers that all clauses have, or that their limits are: they are shown as such."""


def clause_kinds() -> list[ClauseKind]:
    """Return all kinds of clauses that begin without a measure."""
    return [
        ClauseKind(
            one.kind_name(),
            one.title,
            one.about,
            one.group,
            one.offer,
            one.short,
            one.phrase,
            one.reads,
            one.id_field,
            one.refers,
            one.where_field,
            one.drawn,
            one.breaks_up,
            "curve" in one.model_fields,
            [number for number in numbers_of(one) if number.field not in _LIMITED],
            choices_of(one),
            one.begun(),
        )
        for one in kinds()
        if one.reads not in ("measure", "place on a thing")
    ]
