"""How a number of a recipe is shown and moved: declared with the field, learned by the page."""

from __future__ import annotations

from typing import Any

from pydantic import BaseModel

from elvatch.core.results import result


@result
class Shown:
    """What a slider or a typed number of a field may span, and what it is called.

    ``least`` to ``most`` in ``unit``, by ``step``, ``digits`` behind the point; over ``decades`` where equal ratios
    are equally far apart. Dragged, the number changes by ``pixel`` for every pixel; by its step where that is 0.
    ``usual`` is what it begins with where the field itself may be left out.
    """

    label: str
    unit: str
    least: float
    most: float
    step: float
    digits: int = 0
    decades: bool = False
    hint: str = ""
    pixel: float = 0.0
    usual: float | None = None


@result
class Option:
    """One of the values that a field may have, what it is called, and a word about it."""

    value: str
    label: str
    hint: str = ""


@result
class Choice:
    """How a field is shown that has one of a few values; declared with the field."""

    label: str
    options: tuple[Option, ...]


@result
class ChoiceField:
    """A field that has one of a few values."""

    field: str
    choice: Choice


@result
class NumberField:
    """A field that is shown as a number, and its usual value."""

    field: str
    usual: float
    shown: Shown


def metres(label: str, most: float, hint: str = "", least: float = 0.1, step: float = 0.1) -> Shown:
    """Return how a length is shown that may be anything from a hand's breadth to the whole ground."""
    return Shown(label, "m", least, most, step, 0 if step >= 1 else 1, decades=True, hint=hint)


def share(label: str, hint: str = "") -> Shown:
    """Return how a number from 0 to 1 is shown."""
    return Shown(label, "", 0, 1, 0.01, 2, hint=hint)


def fine(label: str, hint: str = "") -> Shown:
    """Return how a number from 0 to 1 is shown of which next to nothing is often enough."""
    return Shown(label, "", 0, 1, 0.0001, 3, hint=hint, pixel=0.001)


def numbers_of(model: type[BaseModel]) -> list[NumberField]:
    """Return the fields of a model that say how they are shown, in their order."""
    out = []
    for name, field in model.model_fields.items():
        found: list[Any] = [one for one in field.metadata if isinstance(one, Shown)]
        if found:
            begun = field.default if isinstance(field.default, int | float) else found[0].usual
            out.append(NumberField(name, float(found[0].least if begun is None else begun), found[0]))
    # what all steps have stands last
    return sorted(out, key=lambda one: one.field == "strength")


def choices_of(model: type[BaseModel]) -> list[ChoiceField]:
    """Return the fields of a model that have one of a few values, in their order."""
    return [
        ChoiceField(name, one)
        for name, field in model.model_fields.items()
        for one in field.metadata
        if isinstance(one, Choice)
    ]
