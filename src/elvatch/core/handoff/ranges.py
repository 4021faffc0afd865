"""Ranges that are found: what a value really is in the part that is handed off, looked at before it is written."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import replace

import numpy as np
from numpy.typing import NDArray

from elvatch.core.document.sheet import ValueName
from elvatch.core.handoff.bands import Asking, Inside
from elvatch.core.handoff.codes import values_of
from elvatch.core.handoff.listing import File, Held
from elvatch.core.handoff.values import KINDS

Span = tuple[float, float]
_Key = tuple[str, ValueName, str]
_RANGED = ("metres", "measure", "share")


class FoundRanges:
    """The ranges of values of entries that want them found."""

    def __init__(self, spans: Mapping[_Key, Span]) -> None:
        self._spans = dict(spans)

    def of(self, file: File) -> tuple[Held, ...]:
        """Return what a file holds, with its ranges as they were found."""
        return tuple(self._one(file, one) for one in file.held)

    def _one(self, file: File, held: Held) -> Held:
        span = self._spans.get((file.entry.id, held.of, held.layer))
        return replace(held, low=span[0], high=span[1]) if span else held


def _wants(file: File) -> list[int]:
    """Return which slots of a file want their range found."""
    return [
        k for k, slot in enumerate(file.entry.holds) if slot.range == "found" and KINDS[slot.of].family in _RANGED
    ]


def found(files: Sequence[File], asking: Asking, layers: Mapping[str, int]) -> FoundRanges:
    """Look at all texels of the entries whose range is to be found.

    Parameters
    ----------
    files : sequence of File
        All of a hand-off.
    asking : Asking
        Asks the cover and the ground.
    layers : mapping
        Which column of the shares a layer's id has.
    """
    spans: dict[_Key, Span] = {}
    wanting = [file for file in files if _wants(file)]
    for grid in dict.fromkeys(file.grid for file in wanting):
        here = [file for file in wanting if file.grid == grid]
        where = Inside(
            (min(file.tile.rows[0] for file in here), max(file.tile.rows[1] for file in here)),
            (min(file.tile.cols[0] for file in here), max(file.tile.cols[1] for file in here)),
        )
        # files of one entry differ in their tile, which does not matter, and in their layer, which does
        each = {(file.entry.id, file.layer): file for file in here}.values()
        kinds = [KINDS[file.entry.holds[k].of] for file in each for k in _wants(file)]
        for _rows, band in asking.bands(grid, where, kinds):
            for file in each:
                for k in _wants(file):
                    key = file.entry.id, file.entry.holds[k].of, _layer_of(file, k)
                    _widen(spans, key, values_of(file, k, band, layers))
    return FoundRanges({key: (low, high if high > low else low + 1.0) for key, (low, high) in spans.items()})


def _layer_of(file: File, k: int) -> str:
    channel = sum(KINDS[slot.of].channels for slot in file.entry.holds[:k])
    return file.held[channel].layer


def _widen(spans: dict[_Key, Span], key: _Key, values: NDArray[np.float32]) -> None:
    low, high = float(values.min()), float(values.max())
    before = spans.get(key, (low, high))
    spans[key] = min(before[0], low), max(before[1], high)
