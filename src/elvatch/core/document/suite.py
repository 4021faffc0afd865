"""Suites: layers and their wear kept together under a name, to be laid elsewhere as they are or by quantile.

A suite remembers how each measure that its rules read was spread over the ground it was kept from. Laid by quantile,
a limit that cut off the steepest tenth there cuts off the steepest tenth here, whatever that is in degrees.
"""

from __future__ import annotations

from collections.abc import Callable, Iterable, Mapping, Sequence
from typing import Literal, NamedTuple, Self, TypeGuard

import numpy as np
from numpy.typing import NDArray
from pydantic import Field, model_validator

from elvatch.core.document.layer import Layer
from elvatch.core.document.recipe import MOST_LAYERS, Recipe
from elvatch.core.document.rule import Bracket, Clause, OnMeasure, Rule, Single, refers_to, singles
from elvatch.core.document.wear import MOST_WEARS, AlongPath, Wear
from elvatch.core.ground.clauses import MeasureClause
from elvatch.core.ground.measures import MeasureName
from elvatch.core.parts import ContentName, Name, Part
from elvatch.core.refusal import RefusalError

How = Literal["limits", "quantiles"]
Measured = tuple[MeasureName, float | None]
"""A measure, and the radius that it is taken within, metres."""
SpreadOf = Callable[[MeasureName, float | None], NDArray[np.floating]]
"""Returns the values of a measure that so much of a ground lies below, at :data:`SHARES`, never falling."""
_TAILS = 9.0
_POINTS = 127
SHARES: NDArray[np.float64] = np.concatenate([[0.0], 1 / (1 + np.exp(-np.linspace(-_TAILS, _TAILS, _POINTS))), [1.0]])
"""Of a ground at which a spread is told: closer together towards its ends, where rare places lie."""


class Spread(Part):
    """How a measure is spread over a ground: its values, never falling, that so much of the ground lies below."""

    measure: MeasureName
    radius_m: float | None = Field(default=None, gt=0, le=20_000)
    values: tuple[float, ...] = Field(min_length=len(SHARES), max_length=len(SHARES))

    @model_validator(mode="after")
    def _never_falling(self) -> Self:
        if any(a > b for a, b in zip(self.values, self.values[1:], strict=False)):
            raise ValueError("values of a spread never fall")
        return self


class Suite(Part):
    """Layers kept together, from the bottom up, with the wear that lies on them."""

    name: Name
    layers: tuple[Layer, ...] = Field(min_length=1, max_length=MOST_LAYERS)
    wears: tuple[Wear, ...] = Field(default=(), max_length=MOST_WEARS)
    of_site: str = Field(default="", max_length=200, description="Title of the site it was kept from")
    spreads: tuple[Spread, ...] = Field(default=(), max_length=128, description="Of what its rules read, there")

    def sets(self) -> list[ContentName]:
        """Return the names of all texture sets it needs, each once, in order."""
        layers = {name for layer in self.layers for name in layer.uses()}
        return sorted({*layers, *(name for wear in self.wears for name in wear.sets())})

    def files(self) -> list[str]:
        """Return the content names of the files it needs itself: none beside those of its sets."""
        return []


class LaidSuite(NamedTuple):
    """A recipe with a suite laid on it: ids of its layers there, and what could not come along, in sentences."""

    recipe: Recipe
    layers: tuple[str, ...]
    notes: tuple[str, ...]


def _rules(layers: Iterable[Layer], wears: Iterable[Wear]) -> list[Rule]:
    return [*(layer.rule for layer in layers), *(wear.rule for wear in wears)]


def measured(rules: Iterable[Rule]) -> list[Measured]:
    """Return what of a ground some rules read that has quantiles, each once."""
    read = [(one.measure, one.radius_m) for rule in rules for one in singles(rule) if _follows(one)]
    return list(dict.fromkeys(read))


def _follows(clause: Single) -> TypeGuard[OnMeasure]:
    """Tell limits that follow a ground from those that do not: a facing has no order, bands have a size of their
    own."""
    return isinstance(clause, OnMeasure) and clause.measure != "aspect" and clause.every is None


def keep(recipe: Recipe, layers: Sequence[str], name: str, of_site: str, spread: SpreadOf) -> Suite:
    """Return layers of a recipe as a suite.

    Parameters
    ----------
    recipe : Recipe
        The site's.
    layers : sequence of str
        Their ids; they keep the order of the column. Wear that stands on one of them comes along, and with all of
        the column also what lies on top of all.
    name : str
        What it is called.
    of_site : str
        The site's title.
    spread : callable
        Tells how measures are spread over its ground.

    Raises
    ------
    RefusalError
        When one of the layers is not there.
    """
    known = {layer.id for layer in recipe.layers}
    lost = set(layers) - known
    if lost or not layers:
        found = f"no layer {sorted(lost)[0][:40]!r}" if lost else "no layer"
        raise RefusalError("suite", found, "layers of this column", "choose them again")
    chosen = tuple(layer for layer in recipe.layers if layer.id in set(layers))
    whole = len(chosen) == len(recipe.layers)
    wears = tuple(one for one in recipe.wears if (one.place in set(layers) if one.place else whole))
    spreads = [
        Spread(measure=measure, radius_m=radius, values=tuple(float(f"{v:.7g}") for v in spread(measure, radius)))
        for measure, radius in measured(_rules(chosen, wears))
    ]
    return Suite(name=name, layers=chosen, wears=wears, of_site=of_site[:200], spreads=tuple(spreads))


def lay(
    suite: Suite, recipe: Recipe, above: str | None, how: How, spread: SpreadOf, new_id: Callable[[], str]
) -> LaidSuite:
    """Return a recipe with a suite laid on it.

    Parameters
    ----------
    suite : Suite
        What is laid.
    recipe : Recipe
        Of the site it is laid on.
    above : str or None
        Id of the layer right under it; None lays it on top of all.
    how : str
        With its limits as they are, or at the same quantiles of this ground.
    spread : callable
        Tells how measures are spread over this ground.
    new_id : callable
        Returns an id that no part has.

    Raises
    ------
    RefusalError
        When the column would hold too many layers or wears, or ``above`` is not in it.
    """
    if len(recipe.layers) + len(suite.layers) > MOST_LAYERS or len(recipe.wears) + len(suite.wears) > MOST_WEARS:
        found = f"{len(recipe.layers) + len(suite.layers)} layers, {len(recipe.wears) + len(suite.wears)} wears"
        raise RefusalError(suite.name, found, f"at most {MOST_LAYERS} and {MOST_WEARS}", "take some out first")
    order = [layer.id for layer in recipe.layers]
    if above is not None and above not in order:
        raise RefusalError(suite.name, f"no layer {above[:40]!r}", "a layer of this column", "choose another")
    ids = {id: new_id() for id in (*(one.id for one in suite.layers), *(one.id for one in suite.wears))}
    moves = _moves(suite, spread) if how == "quantiles" else {}
    here = recipe.part_ids()
    notes: list[str] = []

    def rule(of: Layer | Wear) -> Rule:
        stays = [one for one in singles(of.rule) if (refers_to(one) or "") not in {"", *ids, *here}]
        notes.extend(_not_here(of.name, getattr(one, "called", "")) for one in stays)
        if isinstance(of, Wear) and isinstance(of.follows, AlongPath) and of.follows.path not in here:
            notes.append(_not_here(of.name, of.follows.called))
        return Rule(clauses=tuple(_clause(one, ids, moves) for one in of.rule.clauses))

    several = len(suite.layers) > 1
    layers = tuple(
        one.model_copy(
            update={"id": ids[one.id], "rule": rule(one), "group": one.group or (suite.name if several else "")}
        )
        for one in suite.layers
    )
    wears = tuple(_wear(one, ids, rule(one), layers[-1].id) for one in suite.wears)
    at = len(order) if above is None else order.index(above) + 1
    made = recipe.model_copy(
        update={"layers": (*recipe.layers[:at], *layers, *recipe.layers[at:]), "wears": (*recipe.wears, *wears)}
    )
    try:
        made.check()
    except ValueError as error:
        raise RefusalError(suite.name, str(error), "rules that fit this site", "lay it on another") from None
    return LaidSuite(made, tuple(one.id for one in layers), tuple(dict.fromkeys(notes)))


def _not_here(of: str, called: str) -> str:
    return f"{of} asks for {called}, which is not here"


def _wear(wear: Wear, ids: Mapping[str, str], rule: Rule, top: str) -> Wear:
    over = tuple(ids[one] for one in wear.over if one in ids)
    place = ids[wear.place] if wear.place else top
    return wear.model_copy(update={"id": ids[wear.id], "place": place, "over": over, "rule": rule})


Moves = Mapping[Measured, tuple[NDArray[np.float64], NDArray[np.float64]]]
"""How a measure was spread there and is here."""


def _moves(suite: Suite, spread: SpreadOf) -> Moves:
    there = {(one.measure, one.radius_m): np.array(one.values) for one in suite.spreads}
    wanted = measured(_rules(suite.layers, suite.wears))
    return {one: (there[one], np.asarray(spread(*one), np.float64)) for one in wanted if one in there}


def _clause(clause: Clause, ids: Mapping[str, str], moves: Moves) -> Clause:
    if isinstance(clause, Bracket):
        inside = tuple(_clause(one, ids, moves) for one in clause.clauses)
        return clause.model_copy(update={"clauses": inside})
    if (referred := refers_to(clause)) is not None and referred in ids:
        return clause.pointed_at(ids[referred])
    if _follows(clause):
        known = moves.get((clause.measure, clause.radius_m))
        return clause if known is None else _moved(clause, *known)
    return clause


def _moved(clause: OnMeasure, there: NDArray[np.float64], here: NDArray[np.float64]) -> OnMeasure:
    """Return a clause with its limits and the feet of its soft ends at the same quantiles of another ground."""

    def to(value: float) -> float:
        return float(f"{at_same_quantile(value, there, here):.5g}")

    fields: dict[str, float] = {}
    if clause.lower is not None:
        fields["lower"] = to(clause.lower)
        fields["soft_lower"] = fields["lower"] - to(clause.lower - clause.soft_lower)
    if clause.upper is not None:
        fields["upper"] = to(clause.upper)
        fields["soft_upper"] = to(clause.upper + clause.soft_upper) - fields["upper"]
    moved = clause.model_copy(update={key: float(f"{value:.5g}") for key, value in fields.items()})
    MeasureClause.model_validate(moved.model_dump(exclude={"join", "strength"}))
    return moved


def at_same_quantile(value: float, there: NDArray[np.floating], here: NDArray[np.floating]) -> float:
    """Return the value that as much of one ground lies below as of another below a given one.

    Parameters
    ----------
    value : float
        Of a measure, on the other ground.
    there, here : (n,) float
        Values that :data:`SHARES` of each ground lie below, never falling. Beyond both ends values keep their
        distance from the end, stretched as the grounds' spans are.

    Examples
    --------
    >>> there, here = SHARES * 40, SHARES * 20
    >>> round(at_same_quantile(30, there, here), 6), round(at_same_quantile(44, there, here), 6)
    (15.0, 22.0)
    """
    span = float(there[-1] - there[0])
    times = float(here[-1] - here[0]) / span if span > 0 else 1.0
    if value <= there[0]:
        return float(here[0] + (value - there[0]) * times)
    if value >= there[-1]:
        return float(here[-1] + (value - there[-1]) * times)
    # in the middle of what is even: half of it lies below
    first, last = np.searchsorted(there, value, "left"), np.searchsorted(there, value, "right")
    if last > first:
        share = 0.5 * float(SHARES[first] + SHARES[last - 1])
    else:
        part = (value - there[first - 1]) / (there[first] - there[first - 1])
        share = float(SHARES[first - 1] + part * (SHARES[first] - SHARES[first - 1]))
    return float(np.interp(share, SHARES, here))
