"""Rows of work shared among one pool of threads, cancellable between bands."""

from __future__ import annotations

import itertools
import os
import threading
from collections.abc import Callable, Iterator
from concurrent.futures import FIRST_EXCEPTION, ThreadPoolExecutor, wait
from contextlib import contextmanager, suppress
from contextvars import ContextVar

from elvatch.core.refusal import CancelledError

WORKERS = max(1, len(os.sched_getaffinity(0)) if hasattr(os, "sched_getaffinity") else os.cpu_count() or 1)
"""Processors that this process may use; not every system tells more than how many there are."""
_pool = ThreadPoolExecutor(max_workers=WORKERS, thread_name_prefix="band")
_IN_BACKGROUND: ContextVar[bool] = ContextVar("in_background", default=False)
_NICER_BY = 12


def _step_back() -> None:
    """Let this thread go behind all others of the machine, where the system can."""
    _IN_BACKGROUND.set(True)
    with suppress(AttributeError, OSError):
        os.setpriority(os.PRIO_PROCESS, threading.get_native_id(), _NICER_BY)


def background_pool(workers: int, name: str) -> ThreadPoolExecutor:
    """Return threads that work behind all others, and whose bands do."""
    return ThreadPoolExecutor(workers, thread_name_prefix=name, initializer=_step_back)


_back_pool = background_pool(WORKERS, "back")


@contextmanager
def in_background() -> Iterator[None]:
    """Let bands of this thread be worked on behind all others: what nobody waits for at once."""
    before = _IN_BACKGROUND.set(True)
    try:
        yield
    finally:
        _IN_BACKGROUND.reset(before)


class Token:
    """Says whether work should go on. Cheap to ask, safe from any thread."""

    def __init__(self) -> None:
        self._stopped = threading.Event()

    def cancel(self) -> None:
        """Ask the work to stop at its next band."""
        self._stopped.set()

    @property
    def cancelled(self) -> bool:
        """Whether somebody asked for a stop."""
        return self._stopped.is_set()

    def check(self) -> None:
        """Raise :class:`CancelledError` when a stop was asked for."""
        if self._stopped.is_set():
            raise CancelledError


_watched: ContextVar[Token | None] = ContextVar("watched", default=None)


@contextmanager
def watching(token: Token) -> Iterator[None]:
    """Let bands of this thread ask ``token`` where they are given none of their own."""
    before = _watched.set(token)
    try:
        yield
    finally:
        _watched.reset(before)


def watched() -> Token:
    """Return the token that this thread is :func:`watching`, else one that nobody cancels."""
    return _watched.get() or Token()


def rows_worth_it(cols: int) -> int:
    """Return the fewest rows of a cheap kernel that are worth handing to another thread."""
    return max(16, 65_536 // max(cols, 1))


def over_bands(count: int, work: Callable[[int, int], None], token: Token | None = None, least: int = 16) -> None:
    """Call ``work(start, stop)`` for bands that together cover ``range(count)``.

    Parameters
    ----------
    count : int
        Number of rows (or places).
    work : callable
        Usually a closure over a Numba kernel that releases the interpreter lock.
    token : Token, optional
        Asked before every band; else the one that this thread is :func:`watching`.
    least : int
        Fewest rows in a band; fewer bands cost less, more bands cancel sooner.

    Raises
    ------
    CancelledError
        When the token was cancelled before all bands were done.
    """
    if count <= 0:
        return
    token = token or _watched.get()
    # what nobody waits for need not end all at once, nor stop at once: handing it over costs as well
    bands = max(1, min(count // max(1, least), WORKERS * (3 if _IN_BACKGROUND.get() else 8)))
    edges = [count * i // bands for i in range(bands + 1)]

    def run(start: int, stop: int) -> None:
        if token is not None:
            token.check()
        work(start, stop)

    if bands == 1:
        run(0, count)
        return
    pool = _back_pool if _IN_BACKGROUND.get() else _pool
    futures = [pool.submit(run, a, b) for a, b in itertools.pairwise(edges)]
    done, rest = wait(futures, return_when=FIRST_EXCEPTION)
    for future in rest:
        future.cancel()
    wait(rest)
    for future in done:
        future.result()
