"""All kinds that there are, for the page to learn from: what each is called, what its numbers may be, how it begins.

What depends on a ground comes with that ground's facts; see :class:`elvatch.core.ground.begin.Beginnings`.
"""

from __future__ import annotations

from typing import get_args

from pydantic import BaseModel

from elvatch.app.grounds import MeasureKind, measure_kinds
from elvatch.core.document import begin_layer, fit, recipe, wear
from elvatch.core.document.recipe import Layer, MapName
from elvatch.core.document.rule import Clause
from elvatch.core.ground import description
from elvatch.core.ground.begin import Beginnings, beginnings
from elvatch.core.ground.step import Extent, steps
from elvatch.core.ground.steps.form import Character
from elvatch.core.picture import modes
from elvatch.core.picture.modes import ModeKind
from elvatch.core.results import result
from elvatch.core.shown import NumberField, numbers_of
from elvatch.core.stock import roles
from elvatch.core.stock.description import Category
from elvatch.core.stock.roles import Role

_NOMINAL = Extent(1000.0, 1000.0, 0.0, 100.0)
_NUMBERED: tuple[type[BaseModel], ...] = (
    description.FlatSource,
    fit.Repeats, fit.Lie, fit.Fit, recipe.Edge, recipe.Look, recipe.Light, wear.Range, wear.AlongPath, wear.ByRelief,
)  # fmt: skip


@result
class StepKind:
    """A kind of step: what it does, which numbers it has, what its switch "opposite" does, whether chance plays."""

    kind: str
    title: str
    about: str
    opposite: str
    seeded: bool
    numbers: list[NumberField]


@result
class RoleKind:
    """What a map of a set is for."""

    role: Role
    title: str


@result
class Catalogue:
    """All kinds, each family in the order in which it is offered."""

    steps: list[StepKind]
    characters: list[Character]
    measures: list[MeasureKind]
    clauses: dict[str, Clause]
    layer: Layer
    modes: tuple[ModeKind, ...]
    roles: list[RoleKind]
    categories: list[Category]
    maps: list[MapName]
    numbers: dict[str, list[NumberField]]
    nominal: Beginnings


def catalogue() -> Catalogue:
    """Return all kinds that there are."""
    kinds = [
        StepKind(
            one.kind_name(), one.title, one.about, one.opposite_title, "seed" in one.model_fields, numbers_of(one)
        )
        for one in steps()
    ]
    return Catalogue(
        kinds, list(get_args(Character)), measure_kinds().measures, begin_layer.clauses(), begin_layer.layer(),
        modes.KINDS, [RoleKind(role, roles.FACTS[role].title.capitalize()) for role in roles.ROLES],
        list(get_args(Category)), list(get_args(MapName)),
        {model.__name__: numbers_of(model) for model in _NUMBERED}, beginnings(_NOMINAL),
    )  # fmt: skip
