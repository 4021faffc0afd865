"""What pictures remember, brought back to a recipe whose pictures were kept whole.

Undo shows what was kept at once, but what the renderer knows is still of the recipe before it: the next edit would
make anew what both of them changed. So it is caught up with while nobody asks for anything.
"""

from __future__ import annotations

import threading
from collections import OrderedDict
from collections.abc import Callable

from elvatch.core.document.recipe import Recipe
from elvatch.core.parallel import Token, background_pool
from elvatch.core.picture.picture import View
from elvatch.core.refusal import CancelledError, RefusalError

_MOST_VIEWS = 32


class CatchingUp:
    """Makes pictures that need not be shown, behind all else. Safe from any thread.

    Parameters
    ----------
    make : callable
        Makes a picture of a recipe, and forgets it.
    """

    def __init__(self, make: Callable[[Recipe, View, Token], object]) -> None:
        self._make = make
        self._pool = background_pool(1, "catching-up")
        self._lock = threading.Lock()
        self._remembered = OrderedDict[View, str]()
        self._recipe: Recipe | None = None
        self._token = Token()

    def made(self, view: View, name: str) -> None:
        """Take note that a picture was made: it is what is remembered of that view."""
        with self._lock:
            self._note(view, name)

    def _note(self, view: View, name: str) -> None:
        self._remembered[view] = name
        self._remembered.move_to_end(view)
        if len(self._remembered) > _MOST_VIEWS:
            self._remembered.popitem(last=False)

    def shown(self, recipe: Recipe, view: View, name: str) -> None:
        """Catch up with a picture that was kept, unless it is what is remembered."""
        with self._lock:
            if self._remembered.get(view) == name:
                return
            self._note(view, name)
            self._recipe, token = recipe, self._token
        self._pool.submit(self._catch_up, recipe, view, name, token)

    def stop(self, recipe: Recipe) -> None:
        """Give way to pictures of another recipe."""
        with self._lock:
            if self._recipe is not None and self._recipe != recipe:
                self._token.cancel()
                self._token, self._recipe = Token(), None

    def _catch_up(self, recipe: Recipe, view: View, name: str, token: Token) -> None:
        try:
            token.check()
            self._make(recipe, view, token)
        except (CancelledError, RefusalError):
            # nobody is there to be told: whoever asks for it is
            with self._lock:
                if self._remembered.get(view) == name:
                    del self._remembered[view]
