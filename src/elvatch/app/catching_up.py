"""What pictures remember, brought back to a recipe whose pictures were kept whole.

Undo shows what was kept at once, but what the renderer knows is still of the recipe before it: the next edit would
make anew what both of them changed. So it is caught up with while nobody asks for anything else.
"""

from __future__ import annotations

import threading
import time
from collections import OrderedDict
from collections.abc import Callable, Iterator
from contextlib import contextmanager

from elvatch.core.document.recipe import Recipe
from elvatch.core.parallel import Token, in_background
from elvatch.core.picture.picture import View
from elvatch.core.refusal import CancelledError, RefusalError

_MOST_VIEWS = 32
_STILL_S = 0.25
"""For so long no picture of another recipe must have been asked for."""


class CatchingUp:
    """Makes pictures that need not be shown, behind all else. Safe from any thread.

    Parameters
    ----------
    make : callable
        Makes a picture of a recipe, and forgets it.
    """

    def __init__(self, make: Callable[[Recipe, View, Token], object]) -> None:
        self._make = make
        self._lock = threading.Lock()
        self._remembered = OrderedDict[View, str]()
        self._owed = OrderedDict[View, tuple[Recipe, str]]()
        self._works = False
        self._now: tuple[Recipe, Token] | None = None
        self._asked, self._ended = 0, 0.0

    def made(self, view: View, name: str) -> None:
        """Take note that a picture was made: it is what is remembered of that view."""
        with self._lock:
            self._note(view, name)

    def _note(self, view: View, name: str) -> None:
        self._owed.pop(view, None)
        self._remembered[view] = name
        self._remembered.move_to_end(view)
        if len(self._remembered) > _MOST_VIEWS:
            self._remembered.popitem(last=False)

    def shown(self, recipe: Recipe, view: View, name: str) -> None:
        """Catch up with a picture that was kept, unless it is what is remembered."""
        with self._lock:
            if self._remembered.get(view) == name:
                self._owed.pop(view, None)
                return
            self._owed[view] = recipe, name
            if len(self._owed) > _MOST_VIEWS:
                self._owed.popitem(last=False)
            if not self._works:
                self._works = True
                threading.Thread(target=self._work, name="catching-up", daemon=True).start()

    @contextmanager
    def giving_way(self, recipe: Recipe) -> Iterator[None]:
        """Let a picture be made that somebody waits for; one of the same recipe is no reason to stop."""
        with self._lock:
            self._asked += 1
            other = self._now is not None and self._now[0] != recipe
            if self._now is not None and other:
                self._now[1].cancel()
        try:
            yield
        finally:
            with self._lock:
                self._asked -= 1
                self._ended = time.monotonic() if other or not self._now else self._ended

    def _work(self) -> None:
        try:
            while (next_one := self._next()) is not None:
                view, owed, token = next_one
                self._catch_up(view, owed, token)
        except Exception:
            with self._lock:
                self._works = False
            raise

    def _next(self) -> tuple[View, tuple[Recipe, str], Token] | None:
        """Wait until nobody asks, and return what is to be made; None when nothing is owed any more."""
        while True:
            with self._lock:
                if not self._owed:
                    self._works = False
                    return None
                still_s = 0.0 if self._asked else time.monotonic() - self._ended
                if still_s >= _STILL_S:
                    view, owed = next(iter(self._owed.items()))
                    token = Token()
                    self._now = owed[0], token
                    return view, owed, token
            time.sleep(_STILL_S - still_s)

    def _catch_up(self, view: View, owed: tuple[Recipe, str], token: Token) -> None:
        name, stopped = "", False
        try:
            with in_background():
                self._make(owed[0], view, token)
            name = owed[1]
        except CancelledError:
            stopped = True
        except RefusalError:
            # nobody is there to be told: whoever asks for it is
            pass
        finally:
            with self._lock:
                self._now = None
                if not stopped and self._owed.get(view) is owed:
                    self._note(view, name)
