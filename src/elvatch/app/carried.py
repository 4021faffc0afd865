"""Texture sets that come in a pack: those that the stock holds already are found, others are measured and added."""

from __future__ import annotations

from typing import NamedTuple

from elvatch.app.sets import Sets
from elvatch.core.handoff.pack import Packed
from elvatch.core.refusal import RefusalError
from elvatch.core.run import Run
from elvatch.store.stock import Draft
from elvatch.store.store import Store


class Read(NamedTuple):
    """Sets of a pack by their names in it: what those are called here that are ``known``, and new ones measured."""

    known: dict[str, str]
    drafts: dict[str, Draft]


class SetPacks:
    """Sets that come in packs to one store.

    Parameters
    ----------
    store : Store
        The stock.
    sets : Sets
        What measures them.
    """

    def __init__(self, store: Store, sets: Sets) -> None:
        self._store, self._sets = store, sets

    def known(self, told: Packed) -> dict[str, str]:
        """Return what sets of a pack are called here that the stock holds already, by their names in it."""
        found: dict[str, str] = {}
        for name, description in told.sets.items():
            stock = self._store.stock
            if name in stock and stock.state(name).description == description:
                found[name] = name
            elif (same := stock.same(description)) is not None:
                found[name] = same
        return found

    def read(self, told: Packed, run: Run) -> Read:
        """Measure the sets that are not in the stock yet, which reads every map of them; their files are here.

        Raises
        ------
        RefusalError
            When a map is not what its set takes it for.
        """
        known, drafts = self.known(told), {}
        new = [name for name in told.sets if name not in known]
        for k, name in enumerate(new):
            description = told.sets[name]
            maps = self._sets.load(description)
            for role, one in description.maps.items():
                found = maps.whole[role]
                if found.shape[:2] != (one.height_px, one.width_px) or found.dtype.itemsize * 8 != one.bits:
                    raise RefusalError(
                        f"{description.title}, {role}",
                        f"{found.shape[1]} x {found.shape[0]} pixels",
                        f"{one.width_px} x {one.height_px} of {one.bits} bits",
                        "pack it again",
                    )
            drafts[name] = self._sets.draft(description, maps, run.part(k / len(new), (k + 1) / len(new)))
        return Read(known, drafts)

    def put(self, read: Read, came_with: str) -> dict[str, str]:
        """Add what is new to the stock; return what each set of the pack is called here."""
        names = dict(read.known)
        for name, draft in read.drafts.items():
            taken = name in self._store.stock
            names[name] = self._store.stock.add(draft, f"came with {came_with}", None if taken else name)
        return names


def renamed(of: object, names: dict[str, str]) -> object:
    """Return a decoded JSON value in which sets have the names that they have here."""
    if isinstance(of, dict):
        return {key: renamed(value, names) for key, value in of.items()}
    if isinstance(of, list):
        return [renamed(value, names) for value in of]
    return names.get(of, of) if isinstance(of, str) else of
