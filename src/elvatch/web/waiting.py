"""Whether somebody still waits for the answer: what nobody waits for is not worked on."""

from __future__ import annotations

from collections.abc import Callable
from typing import cast

from flask import Flask, request

from elvatch.core.parallel import Token
from elvatch.core.refusal import CancelledError


def _gone() -> Callable[[], bool]:
    """Return what tells whether the client of this request has left; nobody does where that is not known."""
    return cast(Callable[[], bool], request.environ.get("waitress.client_disconnected", lambda: False))


class Waiting(Token):
    """A token that also stops once the client of this request has left."""

    def __init__(self) -> None:
        super().__init__()
        self._gone = _gone()

    @property
    def cancelled(self) -> bool:
        """Whether somebody asked for a stop, or nobody waits any more."""
        return super().cancelled or self._gone()

    def check(self) -> None:
        """Raise :class:`CancelledError` when nobody waits for the work any more."""
        if self.cancelled:
            raise CancelledError


def install(app: Flask) -> None:
    """Leave questions be whose client has left while they stood in the queue; writing ones are carried out."""

    def check() -> None:
        # edits are kept by whoever sent them, even from a window that was closed at once
        asks = request.method == "GET" or request.path in _ASKING
        if asks and _gone()():
            raise CancelledError

    app.before_request(check)


_ASKING = frozenset(
    f"/api/{question}"
    for question in (
        "picture",
        "cover-facts",
        "where-chart",
        "clause",
        "probe",
        "lines",
        "transect",
        "spot",
        "repetition",
        "relief",
        "boot-cut",
        "ground/facts",
        "ground/map",
        "ground/histogram",
        "ground/cut",
        "ground/at",
        "overlay.png",
        "wear/told",
        "generators/preview",
        "presence",
    )
)
"""Questions that are put with POST, since they bring their recipe along."""
