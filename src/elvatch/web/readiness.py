"""What a first start still has to do: told while it is done, so that the page is there from the beginning.

What can be done later begins when everything is there that computing needs, and stands back, between its parts, while
questions are answered: two sets drawn at once on two cores would make a first picture take twice its time.
"""

from __future__ import annotations

import threading
import time
from collections.abc import Callable
from dataclasses import dataclass, field
from typing import Literal

from flask import Flask, Response, g, jsonify, request

from elvatch.core.refusal import RefusalError
from elvatch.core.results import result
from elvatch.web.answers import Routes

StageName = Literal["waiting", "running", "done", "failed"]
_STILL_S = 2.0
"""For so long nothing must have been asked before what can be done later goes on."""
_LONGEST_BACK_S = 30.0
"""For so long it stands back at most."""


@dataclass
class Stage:
    """One thing to be done: ``needed`` says that nothing can be computed before it is, ``later`` that it can wait."""

    title: str
    work: Callable[[Callable[[str], None], Callable[[float], None]], object]
    needed: bool = False
    later: bool = False
    share_done: float = 0.0
    said: str = ""
    state: StageName = "waiting"


@dataclass
class Readiness:
    """The stages of a start, in order. ``changes`` counts what became another while pages were open."""

    stages: list[Stage] = field(default_factory=list)
    trouble: str = ""
    changes: int = 0
    _heard: threading.Condition = field(default_factory=threading.Condition)
    _under_way: int = 0
    _ended: float = 0.0

    def begin(self, say: Callable[[str], None]) -> None:
        """Do what computing needs, and beside it the rest, one stage after the other."""
        for needed in (True, False):
            stages = [stage for stage in self.stages if stage.needed is needed]
            threading.Thread(target=self._run, args=(stages, say), name="getting-ready", daemon=True).start()

    def _run(self, stages: list[Stage], say: Callable[[str], None]) -> None:
        for stage in stages:
            if stage.later:
                with self._heard:
                    self._heard.wait_for(lambda: self.computes or bool(self.trouble))
                    # whoever waits for a page that says that it is ready asks now
                    self._ended = time.monotonic()
                self.stand_back()
            stage.state = "running"

            def told(text: str, stage: Stage = stage) -> None:
                say(text)
                stage.said = text
                self.changes += 1

            def progress(share: float, stage: Stage = stage) -> None:
                stage.share_done = share
                if stage.later:
                    self.stand_back()

            try:
                stage.work(told, progress)
            except RefusalError as error:
                self._fail(stage, str(error))
                say(self.trouble)
                return
            except Exception:
                self._fail(stage, f"{stage.title}: something went wrong; the log of the server says what.")
                raise
            with self._heard:
                stage.share_done, stage.state, stage.said = 1.0, "done", ""
                self.changes += 1
                self._heard.notify_all()

    def _fail(self, stage: Stage, trouble: str) -> None:
        with self._heard:
            self.trouble, stage.state = trouble, "failed"
            self._heard.notify_all()

    def asked(self, more: int) -> None:
        """Count a question: 1 when its answer begins, -1 when it ends."""
        with self._heard:
            self._under_way += more
            self._ended = time.monotonic()
            self._heard.notify_all()

    def stand_back(self) -> None:
        """Wait until nothing is asked, for a while at most."""
        until = time.monotonic() + _LONGEST_BACK_S
        with self._heard:
            while (now := time.monotonic()) < until:
                still_s = 0.0 if self._under_way else now - self._ended
                if still_s >= _STILL_S:
                    return
                self._heard.wait(until - now if self._under_way else _STILL_S - still_s)

    def next_stillness(self) -> None:
        """Wait until something is asked, and then until nothing is, for a while at most."""
        with self._heard:
            before = self._ended
            self._heard.wait_for(lambda: self._ended != before)
        self.stand_back()

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

    def counts() -> bool:
        return request.method == "POST" and request.path.startswith("/api/")

    @app.before_request
    def begun() -> None:
        if counts():
            readiness.asked(1)
            g.asked = True

    @app.teardown_request
    def ended(_: BaseException | None) -> None:
        if g.pop("asked", False):
            readiness.asked(-1)


_ALWAYS = frozenset({"/api/readiness", "/api/sites", "/api/stock", "/api/generators", "/api/supplier"})
"""What is only read from the store."""
