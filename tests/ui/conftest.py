"""A real page in Debian's headless Chromium over a copy of the demo."""

from __future__ import annotations

import shutil
import sqlite3
from collections.abc import Iterator
from contextlib import closing
from pathlib import Path

import pytest
from playwright.sync_api import Browser, ConsoleMessage, Page, expect, sync_playwright

from tests.serving import Served, serve

expect.set_options(timeout=90_000)

DATABASE = "elvatch.sqlite"

ARGUMENTS = [
    "--no-sandbox",
    "--disable-gpu",
    "--disable-quic",
    "--no-first-run",
    "--disable-background-networking",
    "--disable-component-update",
    "--disable-sync",
]


@pytest.fixture(scope="session")
def browser() -> Iterator[Browser]:
    chromium = shutil.which("chromium")
    assert chromium, "Debian's chromium is missing: make test installs it"
    with sync_playwright() as playwright:
        browser = playwright.chromium.launch(executable_path=chromium, args=ARGUMENTS)
        yield browser
        browser.close()


class Application:
    """One application for all tests of a worker: each finds the demo as it was, and what is costly kept.

    What an application keeps in memory goes by content, and files are never changed, so putting the
    database back is enough.
    """

    def __init__(self, demo: Path, folder: Path) -> None:
        self._demo, self._folder, self._count = demo, folder, 0
        self._served: Served | None = None

    def take(self) -> Served:
        """Return it running over the demo as it was."""
        if self._served is None or self._served.process.poll() is not None:
            self._count += 1
            self._data = Path(shutil.copytree(self._demo, self._folder / f"served{self._count}"))
            self._served = serve(self._data)
            return self._served
        shutil.rmtree(self._data / "hand-off", ignore_errors=True)
        was, now = sqlite3.connect(self._demo / DATABASE), sqlite3.connect(self._data / DATABASE)
        with closing(was), closing(now):
            # numbers of revisions are never given twice, whatever is put back
            given = now.execute("select last_seq, id from site").fetchall()
            was.backup(now)
            with now:
                now.executemany("update site set last_seq = max(last_seq, ?) where id = ?", given)
        return self._served

    def close(self) -> None:
        """End it."""
        if self._served is not None:
            self._served.kill()


@pytest.fixture(scope="session")
def application(demo_data: Path, tmp_path_factory: pytest.TempPathFactory) -> Iterator[Application]:
    application = Application(demo_data, tmp_path_factory.mktemp("application"))
    yield application
    application.close()


@pytest.fixture
def served(application: Application) -> Served:
    return application.take()


@pytest.fixture
def mortal(demo_data: Path, tmp_path: Path) -> Iterator[Served]:
    """An application that a test may kill."""
    served = serve(Path(shutil.copytree(demo_data, tmp_path / "served")))
    yield served
    served.kill()


@pytest.fixture
def page(browser: Browser, served: Served) -> Iterator[Page]:
    """The Sites room; anything the page complains of fails the test."""
    complaints: list[str] = []

    def hear(message: ConsoleMessage) -> None:
        # refused requests are shown to the user; the browser also logs their status
        if message.type == "error" and "Failed to load resource" not in message.text:
            complaints.append(message.text)

    context = browser.new_context(viewport={"width": 1280, "height": 800}, accept_downloads=True)
    page = context.new_page()
    page.set_default_timeout(90_000)
    page.on("console", hear)
    page.on("pageerror", lambda error: complaints.append(str(error)))
    page.goto(served.url)
    yield page
    context.close()
    assert complaints == []
