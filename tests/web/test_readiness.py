"""A first start answers from the beginning: what it still has to do, and not yet where nothing can be computed."""

from __future__ import annotations

import gc
import threading
import weakref
from collections.abc import Callable, Iterator
from pathlib import Path
from typing import IO, ClassVar, TypeAlias

import pytest

from elvatch.app import warm
from elvatch.app.workshop import Workshop
from elvatch.core.refusal import RefusalError
from elvatch.demo import scenario
from elvatch.web import readiness, server, sweeping
from elvatch.web.app import create_app
from elvatch.web.readiness import Readiness, Stage

Tell: TypeAlias = Callable[[str], None]
Progress: TypeAlias = Callable[[float], None]


def until(true: Callable[[], bool]) -> None:
    gate = threading.Event()
    for _ in range(3000):
        if true():
            return
        gate.wait(0.01)
    raise AssertionError("it did not come to that")


def test_what_needs_compiled_code_is_put_off_until_it_is_there(workshop: Workshop) -> None:
    gate, laid = threading.Event(), threading.Event()

    def compile_all(told: Tell, progress: Progress) -> None:
        told("compiling: cover")
        progress(0.25)
        gate.wait(20)

    ready = Readiness([Stage("Compiling", compile_all, needed=True), Stage("Laying out", lambda *_: laid.wait(20))])
    client = create_app(workshop, ready=ready).test_client()
    ready.begin(lambda text: None)
    until(lambda: ready.stages[0].said != "" and ready.stages[1].state == "running")
    told = client.get("/api/readiness").get_json()
    assert told["stages"][0] == {
        "title": "Compiling",
        "state": "running",
        "shareDone": 0.25,
        "said": "compiling: cover",
    }
    put_off = client.post("/api/picture", json={})
    assert (put_off.status_code, put_off.headers["Retry-After"]) == (503, "1")
    assert client.get("/").status_code == client.get("/api/sites").status_code == 200
    gate.set()
    until(lambda: ready.computes)
    assert client.post("/api/picture", json={}).status_code == 400, "asked properly it would be answered"
    laid.set()
    until(lambda: all(stage.state == "done" for stage in ready.stages))
    assert client.get("/api/readiness").get_json()["changes"] > told["changes"]


def test_what_can_wait_stands_back_while_a_question_is_answered(
    workshop: Workshop, monkeypatch: pytest.MonkeyPatch
) -> None:
    monkeypatch.setattr(readiness, "_STILL_S", 0.02)
    compiled, answer, parted, order = threading.Event(), threading.Event(), threading.Event(), []

    def draw(told: Tell, progress: Progress) -> None:
        order.append("first part")
        asked.start()
        until(lambda: "asked" in order)
        parted.set()
        progress(0.5)
        order.append("second part")

    ready = Readiness(
        [
            Stage("Compiling", lambda *_: order.append("compiled") if compiled.wait(20) else None, needed=True),
            Stage("Drawing", draw, later=True),
        ]
    )
    app = create_app(workshop, ready=ready)

    @app.post("/api/slow")
    def slow() -> str:
        order.append("asked")
        answer.wait(20)
        order.append("answered")
        return ""

    asked = threading.Thread(target=lambda: app.test_client().post("/api/slow"))
    ready.begin(lambda text: None)
    compiled.set()
    assert parted.wait(20)
    answer.set()
    until(lambda: ready.stages[1].state == "done")
    assert order == ["compiled", "first part", "asked", "answered", "second part"]


class _Circle:
    def __init__(self) -> None:
        self.itself = self


def test_what_is_old_and_lives_in_a_circle_goes_when_nobody_asks(monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(readiness, "_STILL_S", 0.02)
    usual, ready, circle = gc.get_threshold(), Readiness(), _Circle()
    gone = weakref.ref(circle)
    gc.collect()
    try:
        sweeping.begin(ready)
        ready.asked(1)
        del circle
        gc.collect(1)
        assert gone() is not None, "what is old is not looked at while a question is answered"
        assert gc.get_threshold()[2] > 50 * usual[2]
        ready.asked(-1)
        until(lambda: gone() is None and gc.get_freeze_count() > 0)
    finally:
        gc.set_threshold(*usual)
        gc.unfreeze()


def test_what_cannot_be_done_is_said(workshop: Workshop) -> None:
    def fail(*_: object) -> None:
        raise RefusalError("compiling", "no compiler", "one", "install it")

    ready = Readiness([Stage("Compiling", fail, needed=True)])
    ready.begin(lambda text: None)
    until(lambda: ready.trouble != "")
    answer = create_app(workshop, ready=ready).test_client().get("/api/kept-wear")
    assert (answer.status_code, "install it" in answer.get_json()["message"]) == (503, True)


def test_sets_that_were_sketched_are_drawn_in_full_in_their_places(workshop: Workshop) -> None:
    kinds = ("wet-silt", "pebbles")
    names = {kind: workshop.sets.make(kind, 64, scenario.SEED) for kind in kinds}
    touched = workshop.store.stock.state(names["pebbles"])
    named = touched.description.model_copy(update={"title": "My pebbles"})
    workshop.store.stock.edit(touched.name, touched.revision, "named", named)
    scenario.draw_in_full(workshop, lambda text: None, full_px=128)
    silt = workshop.store.stock.state(names["wet-silt"])
    assert (silt.description.maps["colour"].width_px, silt.undo) == (128, None)
    assert workshop.store.stock.state(names["pebbles"]).description.maps["colour"].width_px == 64, "changed meanwhile"


class _Child:
    """Compiles parts as another process would, at once; or cannot."""

    asked: ClassVar[list[list[str]]] = []
    fails: ClassVar[str | None] = None

    def __init__(self, command: list[str], stderr: IO[str], **_: object) -> None:
        self.parts = command[command.index("--only") + 1 :]
        self.asked.append(self.parts)
        self.failed = self.fails in self.parts
        if self.failed:
            stderr.write("no compiler here")

    @property
    def stdout(self) -> Iterator[str]:
        for part in () if self.failed else self.parts:
            yield f"begins {part}\n"
            warm._marker(part).touch()
            yield f"done {part}\n"

    def wait(self) -> int:
        return int(self.failed)

    def terminate(self) -> None:
        pass


@pytest.fixture
def children(monkeypatch: pytest.MonkeyPatch, tmp_path: Path) -> type[_Child]:
    monkeypatch.setattr(warm, "cache_folder", lambda: tmp_path)
    monkeypatch.setattr("elvatch.app.warm.subprocess.Popen", _Child)
    monkeypatch.setattr(_Child, "asked", [])
    return _Child


def test_pictures_wait_only_for_what_they_need(children: type[_Child]) -> None:
    warming = warm.Warming()
    demo = Stage("Laying out", lambda *_: None)
    stages = server._with_compiling(warming, [demo])
    assert [stage.needed for stage in stages] == [True, False, False]
    shares: list[float] = []
    said: list[str] = []
    stages[0].work(said.append, shares.append)
    first = {part for parts in children.asked for part in parts}
    assert (set(warm.PARTS) - first, shares[-1]) == ({"looking", "hand-off"}, 1.0)
    assert set(said) == {f"compiling: {part}" for part in first}
    [things] = [parts for parts in children.asked if "things" in parts]
    assert "cover" in things[: things.index("things")], "what they share would be compiled twice"
    # ended here and begun again, it goes on with the rest; then there is nothing left
    again = warm.Warming()
    (_, later) = server._with_compiling(again, [demo])
    later.work(lambda _: None, shares.append)
    asked = [part for parts in children.asked for part in parts]
    assert sorted(asked) == sorted(warm.PARTS)
    assert server._with_compiling(warm.Warming(), [demo]) == [demo]


def test_what_cannot_be_compiled_is_told_to_whoever_waits(
    children: type[_Child], monkeypatch: pytest.MonkeyPatch
) -> None:
    monkeypatch.setattr(children, "fails", "sets")
    warming = warm.Warming()
    with pytest.raises(RefusalError, match="no compiler here"):
        warming.run_first(lambda _: None)
    for part in ("sets", "pictures"):
        with pytest.raises(RefusalError, match="no compiler here"):
            warming.wait_for(part)
    assert not warm.shows_pictures()
