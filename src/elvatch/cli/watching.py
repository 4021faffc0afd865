"""Stays with a site, and writes again what its edits change."""

from __future__ import annotations

import shutil
import time
from collections.abc import Callable
from pathlib import Path

from elvatch.app.workshop import Workshop
from elvatch.cli.terminal import say
from elvatch.core.document.sheet import Sheet
from elvatch.core.handoff import job
from elvatch.core.handoff.job import Elsewhere
from elvatch.core.handoff.manifest import FILE_NAME
from elvatch.core.parallel import Token
from elvatch.core.refusal import CancelledError, RefusalError
from elvatch.core.run import Run
from elvatch.store.sites import SiteState

_LOOK_S = 0.3


class _Superseded:
    """Stops a run when its site has been edited meanwhile."""

    def __init__(self, shop: Workshop, state: SiteState) -> None:
        self._shop, self._state, self.token, self._looked = shop, state, Token(), time.monotonic()

    def progress(self, share: float) -> None:
        """Look whether the site still is what is written, not more often than is worth it."""
        del share
        if time.monotonic() - self._looked < _LOOK_S:
            return
        self._looked = time.monotonic()
        if self._shop.store.sites.state(self._state.id).revision != self._state.revision:
            self.token.cancel()


def _written(
    shop: Workshop, state: SiteState, sheet: Sheet, out: Path, elsewhere: Elsewhere | None
) -> list[Path] | None:
    """Write what has changed; return the new files, None when an edit came in between."""
    begun, watched = time.time_ns(), _Superseded(shop, state)
    run = Run(watched.token, watched.progress)
    try:
        paths = shop.handoffs.bake(state.title, state.recipe, sheet, out, run, elsewhere)
    except CancelledError:
        source = shop.handoffs.source(state.title, state.recipe)
        shutil.rmtree(job.part_of(sheet, source, out), ignore_errors=True)
        return None
    return [path for path in paths if path.stat().st_mtime_ns >= begun and path.name != FILE_NAME]


def watch(
    shop: Workshop, site: str, sheet: Sheet, out: Path, elsewhere: Callable[[SiteState], Elsewhere | None]
) -> None:
    """Write a sheet, and again after every edit what it changes, until interrupted."""
    seen = None
    while True:
        state = shop.store.sites.state(site)
        if state.revision == seen:
            time.sleep(_LOOK_S)
            continue
        try:
            found = _written(shop, state, sheet, out, elsewhere(state))
        except RefusalError as error:
            say(f"elvatch: {error}")
            found = []
        if found is None:
            continue
        seen = state.revision
        names = ", ".join(path.name for path in found) or "nothing"
        print(f"revision {seen}: wrote {names}", flush=True)
