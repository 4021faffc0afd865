"""A real page in Debian's headless Chromium over a copy of the demo."""

from __future__ import annotations

import shutil
from collections.abc import Iterator
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


@pytest.fixture
def served(demo_data: Path, tmp_path: Path) -> Iterator[Served]:
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
    page.set_default_timeout(45_000)
    page.on("console", hear)
    page.on("pageerror", lambda error: complaints.append(str(error)))
    page.goto(served.url)
    yield page
    context.close()
    assert complaints == []
