"""What the views of this application work with."""

from __future__ import annotations

from dataclasses import dataclass, field

from flask import Flask, current_app

from elvatch.app.workshop import Workshop
from elvatch.web.jobs import Jobs, Latest

_KEY = "elvatch"


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


def jobs() -> Jobs:
    """Return its jobs."""
    return _here().jobs


def latest() -> Latest:
    """Return which request of each asker is the newest."""
    return _here().latest
