"""Long work in the background: how far it is, how long is left, and a Cancel that cancels."""

from __future__ import annotations

import secrets
import threading
import time
from collections.abc import Callable
from dataclasses import dataclass, field
from typing import Any, Literal, TypeVar

from flask import has_request_context
from pydantic import TypeAdapter

from elvatch.core.parallel import Token, watching
from elvatch.core.refusal import CancelledError, RefusalError, is_full, of_disk
from elvatch.core.results import result
from elvatch.core.run import Run
from elvatch.web.answers import window
from elvatch.web.waiting import Waiting

T = TypeVar("T")
State = Literal["running", "done", "cancelled", "failed"]
_KEPT = 50


@dataclass
class Job:
    """One piece of work."""

    id: str
    title: str
    state: State = "running"
    share_done: float = 0.0
    message: str = ""
    steps_done: int = 0
    steps: int = 0
    result: dict[str, Any] = field(default_factory=dict)
    started: float = field(default_factory=time.monotonic)
    token: Token = field(default_factory=Token)
    ended: threading.Event = field(default_factory=threading.Event)

    @property
    def seconds_left(self) -> float | None:
        """What is left at the pace so far; None while that cannot be told."""
        gone = time.monotonic() - self.started
        if self.state != "running" or self.share_done <= 0.01 or gone < 0.3:
            return None
        return gone / self.share_done * (1 - self.share_done)


@result
class JobState:
    """How far a job is, 0..1; ``seconds_left`` None while that cannot be told, ``result`` empty until it is done.

    While it runs, ``message`` is what is at work, and ``steps_done`` of ``steps`` pieces are done, of work that has
    pieces.
    """

    id: str
    title: str
    state: State
    share_done: float
    seconds_left: float | None
    message: str
    steps_done: int
    steps: int
    result: dict[str, Any]


def state_of(job: Job) -> JobState:
    """Return how far a job is."""
    return JobState(
        job.id,
        job.title,
        job.state,
        job.share_done,
        job.seconds_left,
        job.message,
        job.steps_done,
        job.steps,
        job.result,
    )


class Jobs:
    """All jobs of this run of the application."""

    def __init__(self) -> None:
        self._jobs: dict[str, Job] = {}
        self._lock = threading.Lock()

    def start(self, title: str, work: Callable[[Run], object]) -> Job:
        """Begin ``work(run)`` on a thread of its own; what it returns, a result, is told once it is done."""
        job = Job(secrets.token_hex(8), title)
        with self._lock:
            self._jobs[job.id] = job
            for old in [j.id for j in self._jobs.values() if j.state != "running"][:-_KEPT]:
                del self._jobs[old]

        def progress(share: float) -> None:
            job.share_done = share

        def step(doing: str, done: int, of: int) -> None:
            job.message, job.steps_done, job.steps = doing, done, of

        def run() -> None:
            try:
                found = work(Run(job.token, progress, step=step))
                job.message = ""
                job.result = TypeAdapter(type(found)).dump_python(found, mode="json", by_alias=True) if found else {}
                job.share_done, job.state = 1.0, "done"
            except CancelledError:
                kept = f"{job.steps_done} of {job.steps} are kept: writing goes on from there."
                job.state, job.message = (
                    "cancelled",
                    f"Cancelled; {kept if job.steps_done else 'nothing was changed.'}",
                )
            except RefusalError as error:
                job.state, job.message = "failed", str(error)
            except Exception as error:
                if isinstance(error, OSError) and is_full(error):
                    job.state, job.message = "failed", str(of_disk(error.filename or "the data folder", error))
                    return
                job.state, job.message = (
                    "failed",
                    "Something went wrong here; the log of the server says what.",
                )
                raise
            finally:
                job.ended.set()

        threading.Thread(target=run, name=f"job-{job.id}", daemon=True).start()
        return job

    def get(self, job: str) -> Job:
        """Return a job by its id."""
        with self._lock:
            if job not in self._jobs:
                raise RefusalError("job", f"no job {job[:40]!r}", "one started in this run", "start it again")
            return self._jobs[job]


class Latest:
    """Lets the newest request of each asker and purpose go on and stops the older ones."""

    def __init__(self) -> None:
        self._tokens: dict[str, Token] = {}
        self._lock = threading.Lock()

    def begin(self, purpose: str) -> Token:
        """Return a token for a new request; the one before it for the same purpose is cancelled."""
        token = Waiting() if has_request_context() else Token()
        with self._lock:
            before = self._tokens.get(purpose)
            if before is not None:
                before.cancel()
            if len(self._tokens) > 500:
                self._tokens.clear()
            self._tokens[purpose] = token
        return token

    def run(self, purpose: str, work: Callable[[Token], T]) -> T:
        """Run work that a newer request for the same purpose cancels, also where it hands the token on to nobody."""
        token = self.begin(purpose)
        try:
            with watching(token):
                return work(token)
        finally:
            self.end(purpose, token)

    def newest(self, purpose: str, work: Callable[[Token], T]) -> T:
        """Run work that a newer request of the asking window for the same purpose cancels."""
        return self.run(f"{window()}/{purpose}", work)

    def end(self, purpose: str, token: Token) -> None:
        """Forget a finished request."""
        with self._lock:
            if self._tokens.get(purpose) is token:
                del self._tokens[purpose]
