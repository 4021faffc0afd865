"""A real page in Debian's headless Chromium over a copy of the demo."""

from __future__ import annotations

import shutil
from collections.abc import Iterator
from concurrent.futures import ThreadPoolExecutor
from pathlib import Path

import pytest
from playwright.sync_api import Browser, ConsoleMessage, Page, expect, sync_playwright

from tests.serving import Served, serve

expect.set_options(timeout=45_000)

ARGUMENTS = [
    "--no-sandbox", "--disable-gpu", "--disable-quic", "--no-first-run", "--disable-background-networking",
    "--disable-component-update", "--disable-sync",
]  # fmt: skip


@pytest.fixture(scope="session")
def browser() -> Iterator[Browser]:
    chromium = shutil.which("chromium")
    assert chromium, "Debian's chromium is missing: make test installs it"
    with sync_playwright() as playwright:
        browser = playwright.chromium.launch(executable_path=chromium, args=ARGUMENTS)
        yield browser
        browser.close()


class Pool:
    """Keeps one application ahead: the next test's starts, and takes its first picture, while this one runs."""

    def __init__(self, demo: Path, folder: Path) -> None:
        self._demo, self._folder, self._count = demo, folder, 0
        self._starter = ThreadPoolExecutor(max_workers=1)
        self._next = self._starter.submit(self._start)

    def _start(self) -> Served:
        self._count += 1
        served = serve(Path(shutil.copytree(self._demo, self._folder / f"served{self._count}")))
        site = served.ask("GET", "/api/sites")[1]["sites"][0]["id"]
        served.ask("GET", f"/api/sites/{site}/far.png")
        return served

    def take(self) -> Served:
        """Return a running application over its own copy of the demo."""
        served = self._next.result()
        self._next = self._starter.submit(self._start)
        return served

    def close(self) -> None:
        """End the one that nobody took."""
        self._next.result().kill()


@pytest.fixture(scope="session")
def pool(demo_data: Path, tmp_path_factory: pytest.TempPathFactory) -> Iterator[Pool]:
    pool = Pool(demo_data, tmp_path_factory.mktemp("pool"))
    yield pool
    pool.close()


@pytest.fixture
def served(pool: Pool) -> Iterator[Served]:
    served = pool.take()
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
    page.set_default_timeout(45_000)
    page.on("console", hear)
    page.on("pageerror", lambda error: complaints.append(str(error)))
    page.goto(served.url)
    yield page
    context.close()
    assert complaints == []
