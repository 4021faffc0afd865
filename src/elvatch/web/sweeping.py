"""Looking for what keeps itself alive in circles, while nobody asks for anything.

Python looks by itself when enough was made, and a look at everything holds up all threads for a tenth of a second or
more: under the hand that is a picture too few. Young things are still looked at whenever it wants.
"""

from __future__ import annotations

import gc
import threading

from elvatch.web.readiness import Readiness

_SELDOM = 2_000
"""Looks at what is not young, until everything is looked at though somebody asks."""


def begin(readiness: Readiness) -> None:
    """Look at everything whenever questions have ended and none has come for a while."""
    gc.set_threshold(*gc.get_threshold()[:2], _SELDOM)
    threading.Thread(target=_sweep, args=(readiness,), name="sweeping", daemon=True).start()


def _sweep(readiness: Readiness) -> None:
    while True:
        readiness.next_stillness()
        gc.collect()
        if not gc.get_freeze_count():
            # modules and compiled code stay: they need not be looked at again
            gc.freeze()
