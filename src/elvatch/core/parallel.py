"""Rows of work shared among one pool of threads, cancellable between bands."""

from __future__ import annotations

import os
import threading
import time
from collections.abc import Callable, Iterator
from concurrent.futures import ThreadPoolExecutor, wait
from contextlib import contextmanager, suppress
from contextvars import ContextVar

from elvatch.core.refusal import CancelledError

WORKERS = max(1, len(os.sched_getaffinity(0)) if hasattr(os, "sched_getaffinity") else os.cpu_count() or 1)
"""Processors that this process may use; not every system tells more than how many there are."""
_pool = ThreadPoolExecutor(max_workers=WORKERS, thread_name_prefix="band")
_IN_BACKGROUND: ContextVar[bool] = ContextVar("in_background", default=False)
_STANDS_BACK: ContextVar[bool] = ContextVar("stands_back", default=False)
_NICER_BY = 12
_STILL_S, _LONGEST_S = 0.05, 0.6
"""What stands back waits before each band until nobody has worked in front for so long, though no longer than so: a
thread of less weight still takes the cores' caches, and the core beside it, from who is waited for."""


_this_thread = threading.local()


def _step_back() -> None:
    """Let this thread go behind all others of the machine, where the system can."""
    _IN_BACKGROUND.set(True)
    _this_thread.is_behind = True
    with suppress(AttributeError, OSError):
        os.setpriority(os.PRIO_PROCESS, threading.get_native_id(), _NICER_BY)


def background_pool(workers: int, name: str) -> ThreadPoolExecutor:
    """Return threads that work behind all others, and whose bands do."""
    return ThreadPoolExecutor(workers, thread_name_prefix=name, initializer=_step_back)


_back_pool = background_pool(WORKERS, "back")


@contextmanager
def in_background(stands_back: bool = False) -> Iterator[None]:
    """Let bands of this thread be worked on behind all others: what nobody waits for at once.

    Parameters
    ----------
    stands_back : bool
        Whether each waits until nobody works in front, for a moment: not for what others may soon wait for.
    """
    before, stood = _IN_BACKGROUND.set(True), _STANDS_BACK.set(stands_back)
    try:
        yield
    finally:
        _IN_BACKGROUND.reset(before)
        _STANDS_BACK.reset(stood)


class _Front:
    """When bands that somebody waits for were last worked on."""

    last_s = 0.0


def _stand_back() -> None:
    until = time.monotonic() + _LONGEST_S
    while (now := time.monotonic()) < until and now - _Front.last_s < _STILL_S:
        time.sleep(0.01)


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
    back, stands_back = _IN_BACKGROUND.get(), _STANDS_BACK.get()
    # what nobody waits for need not end all at once, nor stop at once: handing it over costs as well
    bands = max(1, min(count // max(1, least), WORKERS * (3 if back else 8)))
    left = iter(range(bands))

    def share() -> None:
        try:
            for k in left:
                if stands_back:
                    _stand_back()
                elif not back:
                    _Front.last_s = time.monotonic()
                if token is not None:
                    token.check()
                work(count * k // bands, count * (k + 1) // bands)
        except BaseException:
            # what nobody has begun is not begun any more
            for _ in left:
                pass
            raise

    pool = _back_pool if back else _pool
    # who asks works as well: there is nobody to be woken first, nor waited for who waits as well. Not a thread in
    # front that asks for what is to go on behind
    works = not back or getattr(_this_thread, "is_behind", False)
    others = [pool.submit(share) for _ in range(min(bands, WORKERS) - works)]
    try:
        if works:
            share()
    finally:
        begun = [one for one in others if not one.cancel()] if works else others
        wait(begun)
    for one in begun:
        one.result()
