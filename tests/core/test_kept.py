"""What is asked for twice is made once, also by two threads at a time; a failure is nobody else's."""

from __future__ import annotations

import threading
from concurrent.futures import ThreadPoolExecutor

import pytest

from elvatch.core.kept import Kept
from elvatch.core.parallel import Token, over_bands
from elvatch.core.refusal import CancelledError


def test_two_threads_share_one_making() -> None:
    kept, calls, gate = Kept[int](3), [], threading.Event()

    def make() -> int:
        calls.append(1)
        gate.wait(5)
        return 7

    with ThreadPoolExecutor(4) as pool:
        asked = [pool.submit(kept.get, "a", make) for _ in range(4)]
        gate.set()
        assert [a.result(5) for a in asked] == [7] * 4
    assert len(calls) == 1


def test_who_waited_for_a_cancelled_making_makes_it_itself() -> None:
    kept, begun, gate = Kept[int](3), threading.Event(), threading.Event()

    def stopped() -> int:
        begun.set()
        gate.wait(5)
        raise CancelledError

    with ThreadPoolExecutor(2) as pool:
        first = pool.submit(kept.get, "a", stopped)
        begun.wait(5)
        second = pool.submit(kept.get, "a", lambda: 8)
        gate.set()
        with pytest.raises(CancelledError):
            first.result(5)
        assert second.result(5) == 8


def test_the_least_recently_used_goes_first() -> None:
    kept = Kept[str](2)
    for name in ("a", "b", "a", "c"):
        kept.get(name, lambda name=name: name)
    assert kept.get("a", lambda: "new") == "a"
    assert kept.get("b", lambda: "new") == "new"


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


def test_heavy_results_make_room_by_weight_and_the_last_one_always_stays() -> None:
    kept: Kept[str] = Kept(99, len, 10)
    for name in ("aaaa", "bbbb", "cccc"):
        kept.get(name, lambda name=name: name)
    assert [kept.peek(name) for name in ("aaaa", "bbbb", "cccc")] == [None, "bbbb", "cccc"]
    kept.get("long", lambda: "x" * 50)
    assert kept.peek("long") == "x" * 50
    assert kept.peek("cccc") is None


def test_a_peek_makes_nothing_but_counts_as_a_use() -> None:
    kept: Kept[int] = Kept(2)
    kept.get("one", lambda: 1)
    kept.get("two", lambda: 2)
    assert kept.peek("one") == 1
    kept.get("three", lambda: 3)
    assert (kept.peek("one"), kept.peek("two"), kept.peek("nothing")) == (1, None, None)
