"""What pictures remember comes after what undo showed: behind all else, and not twice."""

from __future__ import annotations

import threading

import pytest

from elvatch.app import catching_up
from elvatch.app.catching_up import CatchingUp
from elvatch.core.document.recipe import Peg, Recipe
from elvatch.core.parallel import Token, over_bands
from elvatch.core.picture.picture import View
from elvatch.core.refusal import RefusalError
from tests.conftest import layer, plane, recipe

FAR, NEAR = View("far", 64, 64), View("near", 64, 64)
BEFORE = recipe((layer("base", 0),), plane(10, 20))
AFTER = BEFORE.model_copy(update={"peg": Peg(east_m=1, north_m=2)})


class Pictures:
    """Makes pictures that take until they are told to end."""

    def __init__(self) -> None:
        self.begun: list[View] = []
        self.stopped = 0
        self.ends, self.begins = threading.Event(), threading.Semaphore(0)

    def make(self, recipe: Recipe, view: View, token: Token) -> None:
        assert recipe == BEFORE
        self.begun.append(view)
        self.begins.release()
        while not self.ends.wait(0.002):
            if token.cancelled:
                self.stopped += 1
            token.check()

    def until_begun(self) -> None:
        assert self.begins.acquire(timeout=20), "nothing is made"


class Practice:
    """Work in bands, some of which wait until they are told to go on."""

    def __init__(self, waits: threading.Event | None = None) -> None:
        self.begun, self.done = threading.Semaphore(0), 0
        self._waits = waits

    def __call__(self) -> None:
        self.begun.release()
        for _ in range(2):
            over_bands(4, lambda a, b: None, least=1)
            if self._waits is not None:
                assert self._waits.wait(20)
        self.done += 1


@pytest.fixture(autouse=True)
def _soon(monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(catching_up, "_STILL_S", 0.02)


def at_rest(of: CatchingUp) -> None:
    for _ in range(2000):
        if not of._works:
            return
        threading.Event().wait(0.01)
    raise AssertionError("it never ends")


def test_only_what_is_not_remembered_is_made_and_once() -> None:
    pictures = Pictures()
    of = CatchingUp(pictures.make, Practice())
    pictures.ends.set()
    of.made("far", "before")
    of.made("near", "after")
    for _ in range(2):
        of.shown(BEFORE, FAR, "far", "before")
        of.shown(BEFORE, NEAR, "near", "before")
        at_rest(of)
    assert pictures.begun == [NEAR]


def test_an_edit_is_practised_once_after_a_picture_and_gives_way() -> None:
    pictures, goes_on = Pictures(), threading.Event()
    practice = Practice(goes_on)
    of = CatchingUp(pictures.make, practice)
    of.made("far", "before")
    assert practice.begun.acquire(timeout=20), "nothing is practised"
    with of.giving_way(BEFORE):
        goes_on.set()
    at_rest(of)
    assert practice.begun.acquire(timeout=20), "what gave way is not done once more"
    of.made("far", "after")
    at_rest(of)
    assert practice.done == 1
    assert not practice.begun.acquire(blocking=False)


def test_a_picture_that_somebody_waits_for_goes_first_and_then_it_goes_on() -> None:
    pictures = Pictures()
    of = CatchingUp(pictures.make, Practice())
    of.shown(BEFORE, NEAR, "near", "before")
    pictures.until_begun()
    with of.giving_way(BEFORE):
        # one of the same recipe is no reason to stop
        threading.Event().wait(0.05)
    with of.giving_way(AFTER):
        for _ in range(2000):
            if pictures.stopped:
                break
            threading.Event().wait(0.01)
        # longer than it waits for stillness
        threading.Event().wait(0.1)
        assert pictures.begun == [NEAR], "it waits while the other is made"
    pictures.until_begun()
    pictures.ends.set()
    at_rest(of)
    assert (pictures.begun, pictures.stopped) == ([NEAR, NEAR], 1)


def test_what_was_made_meanwhile_is_not_made_and_what_is_refused_not_again() -> None:
    asked: list[View] = []

    def refuse(recipe: Recipe, view: View, token: Token) -> None:
        asked.append(view)
        raise RefusalError("set", "none", "one", "choose one")

    of = CatchingUp(refuse, Practice())
    with of.giving_way(AFTER):
        of.shown(BEFORE, NEAR, "near", "before")
        of.shown(BEFORE, FAR, "far", "before")
        of.made("far", "after")
    at_rest(of)
    assert asked == [NEAR]
