"""Bands are each worked on once, by who asks as well, and what stands back does so."""

from __future__ import annotations

import threading
from contextlib import nullcontext
from types import SimpleNamespace

import pytest
from hypothesis import given
from hypothesis import strategies as st

from elvatch.core import parallel
from elvatch.core.parallel import Token, in_background, over_bands
from elvatch.core.refusal import CancelledError


def test_bands_cover_every_row_once_and_pass_errors_on() -> None:
    seen: list[int] = []
    over_bands(1003, lambda a, b: seen.extend(range(a, b)))
    assert sorted(seen) == list(range(1003))

    def fail(a: int, b: int) -> None:
        raise ZeroDivisionError(f"{a} {b}")

    with pytest.raises(ZeroDivisionError):
        over_bands(1000, fail)
    token = Token()
    done: list[int] = []

    def stop_midway(a: int, b: int) -> None:
        done.append(b - a)
        token.cancel()

    with pytest.raises(CancelledError):
        over_bands(1000, stop_midway, token)
    assert sum(done) < 1000


@given(st.integers(0, 3000), st.integers(1, 400), st.booleans(), st.booleans())
def test_whatever_is_asked_each_row_comes_once(count: int, least: int, back: bool, stands_back: bool) -> None:
    seen: list[int] = []

    def ask() -> None:
        over_bands(count, lambda a, b: seen.extend(range(a, b)), least=least)

    if back:
        with in_background(stands_back):
            ask()
    else:
        ask()
    assert sorted(seen) == list(range(count))


@pytest.mark.parametrize("back", [False, True])
def test_bands_may_ask_for_bands_though_all_threads_are_at_work(back: bool) -> None:
    counts: list[int] = []

    def outer(a: int, b: int) -> None:
        over_bands(64, lambda c, d: counts.append((b - a) * (d - c)), least=1)

    def ask() -> None:
        with in_background() if back else nullcontext():
            over_bands(8 * parallel.WORKERS, outer, least=1)

    worked = threading.Thread(target=ask, daemon=True)
    worked.start()
    worked.join(20)
    assert not worked.is_alive(), "waits for threads that wait for it"
    assert sum(counts) == 64 * 8 * parallel.WORKERS


def test_what_fails_is_told_once_all_that_was_begun_has_ended() -> None:
    here, going, late = threading.get_ident(), threading.Event(), threading.Event()
    ended: list[int] = []

    def work(a: int, b: int) -> None:
        if threading.get_ident() == here:
            # the other one works on arrays of who asked
            going.wait(20)
            threading.Timer(0.05, late.set).start()
            raise ZeroDivisionError
        going.set()
        late.wait(20)
        ended.append(a)

    if parallel.WORKERS < 2:
        going.set()
    with pytest.raises(ZeroDivisionError):
        over_bands(1000, work)
    assert len(ended) == (1 if parallel.WORKERS > 1 else 0)


def test_what_stands_back_waits_for_who_works_in_front_though_not_for_ever(monkeypatch: pytest.MonkeyPatch) -> None:
    now, slept = [100.0], []

    def sleep(seconds: float) -> None:
        slept.append(seconds)
        now[0] += seconds

    monkeypatch.setattr(parallel, "time", SimpleNamespace(monotonic=lambda: now[0], sleep=sleep))
    monkeypatch.setattr(parallel, "WORKERS", 1)
    over_bands(64, lambda a, b: None, least=1)

    def waited(stands_back: bool) -> float:
        slept.clear()
        with in_background(stands_back):
            over_bands(1, lambda a, b: None)
        return sum(slept)

    assert waited(stands_back=False) == 0
    assert waited(stands_back=True) == pytest.approx(parallel._STILL_S, abs=0.011)
    assert waited(stands_back=True) == 0, "nobody has worked in front since"
    monkeypatch.setattr(parallel, "_Front", SimpleNamespace(last_s=1e9))
    assert waited(stands_back=True) == pytest.approx(parallel._LONGEST_S, abs=0.011)
