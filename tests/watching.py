"""Waits for what a page shows without taking anything from it."""

from __future__ import annotations

from playwright.sync_api import Page

KEPT = '[...document.querySelectorAll("[role=status]")].some((one) => /^kept \\d\\d:\\d\\d$/.test(one.textContent))'
"""All edits are kept."""

_WATCH = """
(most_ms) => new Promise((done, fail) => {
  const met = () => %s;
  if (met()) return done();
  const watch = new MutationObserver(() => met() && end(done));
  const told = () => [...document.querySelectorAll("[role=status], [role=alert], [data-stand]")].map(
    (one) => `${one.dataset.stand ?? "said"} ${one.dataset.resting ?? ""}: ${one.innerText.replace(/\\s+/g, " ")}`);
  const missed = () => new Error(`not seen within ${most_ms} ms; what the page tells:\\n${told().join("\\n")}`);
  const late = setTimeout(() => end(fail, missed()), most_ms);
  const end = (how, what) => {
    watch.disconnect();
    clearTimeout(late);
    how(what);
  };
  watch.observe(document, { subtree: true, childList: true, attributes: true, characterData: true });
})
"""


def shown(selector: str) -> str:
    """Return the condition that something can be seen."""
    return f"document.querySelector({selector!r})?.checkVisibility()"


def seen(page: Page, *conditions: str, seconds: float = 90) -> None:
    """Wait until conditions (JavaScript) are true all at once.

    The page looks itself, when something on it changed and not between. A wait that asks again and again reads the
    whole page each time, which takes one of two processors from what it waits for.
    """
    page.evaluate(_WATCH % " && ".join(f"({one})" for one in conditions), seconds * 1000)
