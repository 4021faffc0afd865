"""What pictures remember, brought back to a recipe whose pictures were kept whole.

Undo shows what was kept at once, but what the renderer knows is still of the recipe before it: the next edit would
make anew what both of them changed. So it is caught up with while nobody asks for anything else. The first edit after
a start, too, would wait: until what edits use is read from disk. So one is practised, on something small.
"""

from __future__ import annotations

import threading
import time
from collections import OrderedDict
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from functools import partial
from typing import NamedTuple

from elvatch.core.cache import Cache
from elvatch.core.document.recipe import Recipe
from elvatch.core.parallel import Token, in_background, watching
from elvatch.core.picture.picture import View
from elvatch.core.refusal import CancelledError, RefusalError

_MOST_VIEWS = 32
_STILL_S = 0.25
"""For so long nobody must have waited for a picture."""


class Owed(NamedTuple):
    """A picture to be made, and what names all that is seen in it."""

    recipe: Recipe
    view: View
    name: str


class CatchingUp:
    """Makes pictures that need not be shown, behind all else. Safe from any thread.

    Parameters
    ----------
    make : callable
        Makes a picture of a recipe, and forgets it.
    practise : callable
        Edits something small; done once.
    """

    def __init__(self, make: Callable[[Recipe, View, Token], object], practise: Callable[[], None]) -> None:
        self._make, self._practise = make, practise
        self._practised = False
        self._lock = threading.Lock()
        self._remembered = Cache[str](_MOST_VIEWS)
        self._owed = OrderedDict[str, Owed]()
        self._works = False
        self._now: tuple[Recipe | None, Token] | None = None
        self._asked, self._ended = 0, 0.0

    def made(self, where: str, name: str) -> None:
        """Take note that a picture was made: it is what is remembered of those places."""
        with self._lock:
            self._note(where, name)
            if not self._practised:
                self._begin()

    def _begin(self) -> None:
        if not self._works:
            self._works = True
            threading.Thread(target=self._work, name="catching-up", daemon=True).start()

    def _note(self, where: str, name: str) -> None:
        self._owed.pop(where, None)
        self._remembered.put(where, name)

    def shown(self, recipe: Recipe, view: View, where: str, name: str) -> None:
        """Catch up with a picture that was kept, unless it is what is remembered.

        Parameters
        ----------
        recipe, view
            What it shows.
        where : str
            Names the places that it looks at, whatever lies there.
        name : str
            Names all that is seen in it.
        """
        with self._lock:
            if self._remembered.peek(where) == name:
                self._owed.pop(where, None)
                return
            self._owed[where] = Owed(recipe, view, name)
            if len(self._owed) > _MOST_VIEWS:
                self._owed.popitem(last=False)
            self._begin()

    @contextmanager
    def giving_way(self, recipe: Recipe) -> Iterator[None]:
        """Let a picture be made that somebody waits for; one of the same recipe is no reason to stop."""
        with self._lock:
            self._asked += 1
            if self._now is not None and self._now[0] != recipe:
                self._now[1].cancel()
        try:
            yield
        finally:
            with self._lock:
                self._asked -= 1
                self._ended = time.monotonic()

    def _work(self) -> None:
        try:
            while (work := self._next()) is not None:
                work()
        except Exception:
            with self._lock:
                self._works = False
            raise

    def _next(self) -> Callable[[], None] | None:
        """Wait until nobody asks, and return what is to be done; None when nothing is owed any more."""
        while True:
            with self._lock:
                if not self._owed and self._practised:
                    self._works = False
                    return None
                still_s = 0.0 if self._asked else time.monotonic() - self._ended
                if still_s >= _STILL_S:
                    token = Token()
                    if not self._practised:
                        self._now = None, token
                        return partial(self._practise_once, token)
                    where, owed = next(iter(self._owed.items()))
                    self._now = owed.recipe, token
                    return partial(self._catch_up, where, owed, token)
            time.sleep(_STILL_S - still_s)

    def _practise_once(self, token: Token) -> None:
        self._practised = True
        try:
            with in_background(), watching(token):
                self._practise()
        except CancelledError:
            # once more: what was read by now is at hand
            self._practised = False
        finally:
            with self._lock:
                self._now = None

    def _catch_up(self, where: str, owed: Owed, token: Token) -> None:
        name, stopped = "", False
        try:
            with in_background():
                self._make(owed.recipe, owed.view, token)
            name = owed.name
        except CancelledError:
            stopped = True
        except RefusalError:
            # nobody is there to be told: whoever asks for it is
            pass
        finally:
            with self._lock:
                self._now = None
                if not stopped and self._owed.get(where) is owed:
                    self._note(where, name)
