"""A cover asked again where only its rules changed: places where they let in what they did keep their answer.

Where layers lie follows from what rules let in. A clause that is dragged changes that at few places, and a stroke of
the brush at fewer; all else is as it was.
"""

from __future__ import annotations

from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from elvatch.core.cache import Weighs, weights
from elvatch.core.cover import function
from elvatch.core.cover.material import Material
from elvatch.core.cover.memory import Memo, Memory, MemoryPart, Names
from elvatch.core.cover.plan import Prepared
from elvatch.core.ground import places as cover_places
from elvatch.core.ground.places import Places
from elvatch.core.parallel import Token
from elvatch.core.rules import rules

_MOST = 0.5
"""Part of all places up to which it pays to ask them by themselves."""


class AskedCover(NamedTuple):
    """A cover made ready, what names its layers and wears and where they lie, and what names all but its rules."""

    prepared: Prepared
    names: Names
    unruled: str


class AskedBefore(NamedTuple):
    """What was found at all places, and of what."""

    material: Material
    names: Names
    unruled: str


class AskedAgain(Weighs):
    """What a cover answers at places that stay the same, or most of them. For one thread at a time.

    Parameters
    ----------
    places : Places
        Where it is asked first.
    taps : int
        Most lookups along an area that is longer than wide.
    """

    def __init__(self, places: Places, taps: int) -> None:
        self._places, self._taps = places, taps
        self._memory = Memory(len(places.x_m))
        self._answer: AskedBefore | None = None
        # places whose answer is not known yet
        self._stale = np.zeros(len(places.x_m), np.bool_)

    @property
    def weight_bytes(self) -> int:
        """Memory that it takes by itself."""
        held = weights(self._answer.material) if self._answer else {}
        return self._memory.weight_bytes + sum(held.values())

    def turn(self, places: Places) -> None:
        """Look at other places, of which none was looked at before."""
        self._memory.turn(len(places.x_m))
        self._places, self._answer, self._stale = places, None, np.zeros(len(places.x_m), np.bool_)

    def move(self, places: Places, rows: NDArray[np.int64]) -> None:
        """Look at other places: place ``i`` is the one that was ``rows[i]``, or -1."""
        self._memory.carry(rows)
        if self._answer is not None and len(self._stale):
            self._stale = self._stale[rows] | (rows < 0)
            # what was not looked at before is asked before anybody sees it
            found = Material(*(one.take(rows, 0, mode="clip") if len(one) else one for one in self._answer.material))
            self._answer = self._answer._replace(material=found)
        else:
            self._answer, self._stale = None, np.zeros(len(rows), np.bool_)
        self._places = places

    def ask(self, cover: AskedCover, token: Token | None = None) -> Material:
        """Return what lies at the places; see :func:`elvatch.core.cover.function.unjoined`.

        Parameters
        ----------
        cover : AskedCover
            What is asked.
        token : Token, optional
            Asked between bands.

        Raises
        ------
        CancelledError
            When it was cancelled; what was found so far is kept.
        """
        memo, known = self._memory.memo(cover.names), self._answer
        if known is not None and known.unruled == cover.unruled:
            found = self._anew(cover, known, memo, token)
        else:
            found = function.unjoined(cover.prepared, self._places, token, self._taps, memo)
        self._answer = AskedBefore(found, cover.names, cover.unruled)
        self._stale = np.zeros(len(self._stale), np.bool_)
        return found

    def _anew(self, cover: AskedCover, known: AskedBefore, memo: Memo, token: Token | None) -> Material:
        """Ask the places that changed."""
        changed = self._changed(cover, known, memo, token)
        if changed is None or changed.sum() > _MOST * len(changed):
            return function.unjoined(cover.prepared, self._places, token, self._taps, memo)
        rows = np.flatnonzero(changed)
        if not len(rows):
            return known.material
        part = MemoryPart(memo, rows)
        news = function.unjoined(cover.prepared, cover_places.some(self._places, rows), token, self._taps, part.memo)
        part.give_back()
        return Material(*(_with(one, rows, new) for one, new in zip(known.material, news, strict=True)))

    def _changed(
        self, cover: AskedCover, known: AskedBefore, memo: Memo, token: Token | None
    ) -> NDArray[np.bool_] | None:
        """Return the places where rules let in something else; None where what they let in before is forgotten.

        Where a rule was not asked before, something that lay above hid it; that hides it still where nothing changed.
        """
        plan, changed = cover.prepared.plan, self._stale.copy()
        spans = [*plan.spans.tolist(), *plan.worn.spans.tolist()]
        before = self._memory.kept_presences(known.names.presences)
        for k, (old, new) in enumerate(zip(known.names.presences, cover.names.presences, strict=True)):
            if k == 0 or old == new:
                continue  # the lowest layer lies wherever no other does
            was = before[k]
            if was is None:
                return None
            now = rules.presences_of(plan.tables, spans[k], cover.prepared.depth, self._places, token)
            memo.presence[memo.presence_slot[k]] = now
            changed |= (was != now) & ~np.isnan(was)
        return changed


def _with(whole: NDArray[np.float32], rows: NDArray[np.int64], new: NDArray[np.float32]) -> NDArray[np.float32]:
    """Return rows with some of them replaced."""
    if not len(whole):
        return whole
    out = whole.copy()
    out[rows] = new
    return out
