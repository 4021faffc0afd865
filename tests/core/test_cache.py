"""What is asked for twice is made once, also by two threads at a time; a failure is nobody else's."""

from __future__ import annotations

import functools
import gc
import threading
from concurrent.futures import ThreadPoolExecutor
from pathlib import Path

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from elvatch.core.cache import Budget, Cache
from elvatch.core.formats.decoded import Decoded
from elvatch.core.refusal import CancelledError


def test_two_threads_share_one_making() -> None:
    kept, calls, gate = Cache[int](3), [], threading.Event()

    def make() -> int:
        calls.append(1)
        gate.wait(20)
        return 7

    with ThreadPoolExecutor(4) as pool:
        asked = [pool.submit(kept.get, "a", make) for _ in range(4)]
        gate.set()
        assert [a.result(20) for a in asked] == [7] * 4
    assert len(calls) == 1


def test_who_waited_for_a_cancelled_making_makes_it_itself() -> None:
    kept, begun, gate = Cache[int](3), threading.Event(), threading.Event()

    def stopped() -> int:
        begun.set()
        gate.wait(20)
        raise CancelledError

    with ThreadPoolExecutor(2) as pool:
        first = pool.submit(kept.get, "a", stopped)
        begun.wait(20)
        second = pool.submit(kept.get, "a", lambda: 8)
        gate.set()
        with pytest.raises(CancelledError):
            first.result(20)
        assert second.result(20) == 8


def test_the_least_recently_used_goes_first() -> None:
    kept = Cache[str](2)
    for name in ("a", "b", "a", "c"):
        kept.get(name, functools.partial(str, name))
    assert kept.get("a", lambda: "new") == "a"
    assert kept.get("b", lambda: "new") == "new"


def texts(budget: Budget, most: int = 99) -> Cache[np.ndarray]:
    return Cache(most, budget)


def put(kept: Cache[np.ndarray], name: str, count: int) -> np.ndarray:
    return kept.get(name, lambda: np.zeros(count, np.uint8))


def test_all_results_share_one_budget_and_the_least_recently_used_of_all_goes() -> None:
    budget = Budget(10_000)
    one, other = texts(budget), texts(budget)
    put(one, "a", 4_000)
    put(other, "b", 4_000)
    one.peek("a")
    put(other, "c", 4_000)
    assert other.peek("b") is None, "used longest ago, though in another collection"
    assert one.peek("a") is not None
    assert budget.held_bytes == 8_000
    put(one, "whole", 50_000)
    assert one.peek("whole") is not None, "the last one stays whatever it weighs"
    assert (one.peek("a"), other.peek("c"), budget.held_bytes) == (None, None, 50_000)
    budget.most_bytes = 0
    put(one, "next", 7)
    assert (one.peek("whole"), budget.held_bytes) == (None, 7)


def test_what_several_hold_weighs_once_and_what_lies_in_a_file_nothing(tmp_path: Path) -> None:
    budget = Budget(1 << 20)
    kept: Cache[object] = Cache(9, budget)
    shared = np.zeros(5_000, np.uint8)
    kept.get("a", lambda: (shared, {"x": shared[100:]}))
    kept.get("b", lambda: Decoded(shared.reshape(50, 100)))
    assert budget.held_bytes == 5_000
    np.save(tmp_path / "big.npy", np.zeros(90_000))
    kept.get("c", lambda: np.asarray(np.load(tmp_path / "big.npy", mmap_mode="r"))[5:])
    assert budget.held_bytes == 5_000
    small: Cache[object] = Cache(1, budget)
    small.get("a", lambda: bytes(6_000))
    small.get("b", lambda: bytes(7_000))
    assert budget.held_bytes == 12_000
    del small
    gc.collect()
    assert budget.held_bytes == 5_000, "what a forgotten collection kept is given back"


@given(st.lists(st.tuples(st.integers(0, 2), st.integers(0, 5), st.integers(1, 4_000)), max_size=60))
def test_the_books_of_a_budget_balance(uses: list[tuple[int, int, int]]) -> None:
    budget = Budget(9_000)
    all_kept = [texts(budget, 3) for _ in range(3)]
    for which, name, count in uses:
        put(all_kept[which], str(name), count)
        held = [one for kept in all_kept for k in range(6) if (one := kept._items.get(str(k))) is not None]
        assert budget.held_bytes == sum(one.nbytes for one in held)
        assert budget.held_bytes <= 9_000 or len(held) == 1
        assert all(len(kept._items) <= 3 for kept in all_kept)


def test_a_peek_makes_nothing_but_counts_as_a_use() -> None:
    kept: Cache[int] = Cache(2)
    kept.get("one", lambda: 1)
    kept.get("two", lambda: 2)
    assert kept.peek("one") == 1
    kept.get("three", lambda: 3)
    assert (kept.peek("one"), kept.peek("two"), kept.peek("nothing")) == (1, None, None)
