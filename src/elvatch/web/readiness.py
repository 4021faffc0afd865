"""What a first start still has to do: told while it is done, so that the page is there from the beginning."""

from __future__ import annotations

import threading
from collections.abc import Callable
from dataclasses import dataclass, field
from typing import Literal

from flask import Flask, Response, jsonify, request

from elvatch.core.refusal import RefusalError
from elvatch.core.results import result
from elvatch.web.answers import Routes

StageName = Literal["waiting", "running", "done", "failed"]


@dataclass
class Stage:
    """One thing to be done: ``needed`` says that nothing can be computed before it is."""

    title: str
    work: Callable[[Callable[[str], None], Callable[[float], None]], object]
    needed: bool = False
    share_done: float = 0.0
    said: str = ""
    state: StageName = "waiting"


@dataclass
class Readiness:
    """The stages of a start, in order. ``changes`` counts what became another while pages were open."""

    stages: list[Stage] = field(default_factory=list)
    trouble: str = ""
    changes: int = 0

    def begin(self, say: Callable[[str], None]) -> None:
        """Do what computing needs, and beside it the rest, one stage after the other."""
        for needed in (True, False):
            stages = [stage for stage in self.stages if stage.needed is needed]
            threading.Thread(target=self._run, args=(stages, say), name="getting-ready", daemon=True).start()

    def _run(self, stages: list[Stage], say: Callable[[str], None]) -> None:
        for stage in stages:
            stage.state = "running"

            def told(text: str, stage: Stage = stage) -> None:
                say(text)
                stage.said = text
                self.changes += 1

            def progress(share: float, stage: Stage = stage) -> None:
                stage.share_done = share

            try:
                stage.work(told, progress)
            except RefusalError as error:
                self.trouble = str(error)
                stage.state = "failed"
                say(self.trouble)
                return
            except Exception:
                self.trouble = f"{stage.title}: something went wrong; the log of the server says what."
                stage.state = "failed"
                raise
            stage.share_done, stage.state, stage.said = 1.0, "done", ""
            self.changes += 1

    @property
    def computes(self) -> bool:
        """Whether everything is done that computing needs."""
        return all(stage.state == "done" for stage in self.stages if stage.needed)


@result
class StageState:
    """How far one stage of a start is."""

    title: str
    state: StageName
    share_done: float
    said: str


@result
class ReadinessState:
    """What a start still has to do, what stopped it, and how often something became another since."""

    stages: list[StageState]
    trouble: str
    changes: int


def install(app: Flask, readiness: Readiness) -> None:
    """Tell how far a start is, and put off what needs what is not there yet."""
    routes = Routes("readiness")

    @routes.get("/api/readiness")
    def told() -> ReadinessState:
        stages = [StageState(one.title, one.state, one.share_done, one.said) for one in readiness.stages]
        return ReadinessState(stages, readiness.trouble, readiness.changes)

    app.register_blueprint(routes.blueprint)

    def check() -> tuple[Response, int, dict[str, str]] | None:
        if readiness.computes or request.path in _ALWAYS or not request.path.startswith("/api/"):
            return None
        message = readiness.trouble or "Elvatch is still getting ready; this goes on by itself."
        return jsonify(message=message), 503, {"Retry-After": "1"}

    app.before_request(check)


_ALWAYS = frozenset({"/api/readiness", "/api/sites", "/api/stock", "/api/generators", "/api/supplier"})
"""What is only read from the store."""
