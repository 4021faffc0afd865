"""What the views of this application work with."""

from __future__ import annotations

from dataclasses import dataclass, field
from typing import Any

from flask import Flask, current_app

from elvatch.app.sites import Base
from elvatch.app.workshop import Workshop
from elvatch.core.document.recipe import Recipe, from_data
from elvatch.core.ground.shaping import Preview
from elvatch.web.jobs import Jobs, Latest

_KEY = "elvatch"
MOVING_SAMPLES = 193
"""Of a ground whose step is under the hand."""


@dataclass(frozen=True)
class _Here:
    workshop: Workshop
    jobs: Jobs = field(default_factory=Jobs)
    latest: Latest = field(default_factory=Latest)


def install(app: Flask, workshop: Workshop) -> None:
    """Let the views of an application work with a workshop."""
    app.extensions[_KEY] = _Here(workshop)


def _here() -> _Here:
    found = current_app.extensions[_KEY]
    assert isinstance(found, _Here)
    return found


def shop() -> Workshop:
    """Return the workshop of the application that was asked."""
    return _here().workshop


def recipe_of(told: dict[str, Any]) -> Recipe:
    """Return the recipe that a question is about: told whole, or by what differs from a kept one.

    Raises
    ------
    RefusalError
        When it is no recipe.
    UnknownBaseError
        When it is told by a revision that is not at hand.
    """
    return shop().sites.recipe(Base.model_validate(told["base"])) if set(told) == {"base"} else from_data(told)


def preview_of(told: dict[str, Any], preview: bool, moving: bool) -> Preview | None:
    """Return which preview of a recipe's ground is shown; while it moves, one that stands on the kept ground."""
    if not preview:
        return None
    if not moving or set(told) != {"base"}:
        return Preview()
    base = Base.model_validate(told["base"])
    return Preview(MOVING_SAMPLES, shop().sites.recipe(base.model_copy(update={"changes": ()})).ground)


def jobs() -> Jobs:
    """Return its jobs."""
    return _here().jobs


def latest() -> Latest:
    """Return which request of each asker is the newest."""
    return _here().latest
