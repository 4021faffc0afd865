"""Which interval of a measure tells a mask best: every one between its quantiles is weighed at once, by sums of what
it lets in.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from elvatch.core.ground.measures import KINDS, MeasureName
from elvatch.core.kernel import kernel

Numbers = NDArray[np.float64]

_OPEN_END = 0.003
"""What an interval without one of its ends is preferred by."""


@dataclass(frozen=True)
class MaskWanted:
    """What a mask says at places, (n,) 0..1, and how much of them it wants and does not want in all."""

    weight: Numbers
    total: float
    none: float


@dataclass(frozen=True)
class Binned:
    """A measure at places: which of its quantiles' bins each lies in, -1 none; the bins' edges in its unit."""

    bins: NDArray[np.int32]
    edges: Numbers
    round_about: bool


def binned(name: MeasureName, values: NDArray[np.floating], count: int) -> Binned:
    """Return a measure's values, (n,) in its unit, by bins between quantiles; of a facing by bins alike in width."""
    if KINDS[name].scale == "compass":
        edges = np.linspace(0.0, 360.0, count + 1)
        bins = np.clip((values / 360.0 * count).astype(np.int32), 0, count - 1)
        return Binned(np.where(values < 0, -1, bins).astype(np.int32), edges, True)
    edges = np.unique(np.quantile(values.astype(np.float64), np.linspace(0, 1, count + 1)))
    bins = np.clip(np.searchsorted(edges, values, side="right") - 1, 0, max(len(edges) - 2, 0))
    return Binned(bins.astype(np.int32), edges, False)


@kernel
def _summed(bins: NDArray[np.int32], change: Numbers, wanted: Numbers, sums: Numbers) -> None:
    """Add to each bin the wanted and the unwanted weight by which its places change a rule."""
    for i in range(len(bins)):
        if bins[i] >= 0 and change[i] != 0.0:
            sums[0, bins[i]] += change[i] * wanted[i]
            sums[1, bins[i]] += change[i] * (1.0 - wanted[i])


@kernel
def _best(running: Numbers, count: int, round_about: bool, open_end: float, weights: Numbers, found: Numbers) -> None:
    """Find the first bin, the one after the last, and the overlap of the interval that tells best.

    ``running`` are sums up to each bin, of a facing twice round; ``weights`` the wanted and unwanted weight let in by
    what else the rule says, and all that is wanted and not.
    """
    inside, outside, total, none = weights[0], weights[1], weights[2], weights[3]
    most = -1.0
    for first in range(count):
        last = first + count - 1 if round_about else count
        for end in range(first + 1, last + 1):
            let = inside + running[0, end] - running[0, first]
            out = outside + running[1, end] - running[1, first]
            overlap = 0.5 * (let / max(total + out, 1e-9) + (none - out) / max(none + total - let, 1e-9))
            liked = overlap
            if not round_about:
                liked += open_end * ((first == 0) + (end == count))
            if liked > most:
                most = liked
                found[0], found[1], found[2] = first, end, overlap


def best(of: Binned, one: Numbers, none: Numbers, wanted: MaskWanted) -> tuple[float, int, int]:
    """Return the best overlap of an interval of a measure, its first bin and the one after its last.

    ``one`` and ``none`` are what the whole rule lets in of each place, (n,), when the clause lets it in, or not.
    """
    count = len(of.edges) - 1
    sums, found = np.zeros((2, count)), np.zeros(3)
    _summed(of.bins, one - none, wanted.weight, sums)
    turns = np.concatenate([sums, sums], axis=1) if of.round_about else sums
    running = np.concatenate([np.zeros((2, 1)), np.cumsum(turns, axis=1)], axis=1)
    inside = float(none @ wanted.weight)
    weights = np.array([inside, float(none.sum()) - inside, wanted.total, wanted.none])
    _best(running, count, of.round_about, _OPEN_END, weights, found)
    return float(found[2]), int(found[0]), int(found[1])


def both_ways(inside: float, outside: float, wanted: MaskWanted) -> float:
    """Return intersection over union, the mean of what a rule lets in and of what it keeps out: by the first alone
    *everywhere* would be good for a mask that is nearly everywhere.

    ``inside`` and ``outside`` are the wanted and unwanted weight that it lets in.
    """
    let_in = inside / max(wanted.total + outside, 1e-9)
    kept_out = (wanted.none - outside) / max(wanted.none + wanted.total - inside, 1e-9)
    return 0.5 * (let_in + kept_out)
