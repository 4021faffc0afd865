"""The rule that says best where a mask lies: few clauses over the ground's measures, found by search.

Clause after clause is joined to the best rules so far (a beam search, Lowerre 1976); of each measure every interval
between its quantiles is weighed at once by sums of what it lets in. How many clauses there are is decided on places
that the search has not seen.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from typing import Literal, NamedTuple

import numpy as np
from numpy.typing import NDArray

from elvatch.core.document.rule import OnMeasure, Rule, words
from elvatch.core.ground.measures import KINDS, MeasureName
from elvatch.core.judging.intervals import Binned, MaskWanted, Numbers, best, binned, both_ways
from elvatch.core.parallel import Token
from elvatch.core.refusal import RefusalError
from elvatch.core.results import result

Join = Literal["and", "or", "except"]
JOINS: tuple[Join, ...] = ("and", "or", "except")
MOST_CLAUSES = 5
_BEAM, _COARSE, _FINE, _ROUNDS = 8, 48, 320, 3
_WORTH = 0.012
"""Intersection over union that a further clause must gain, of what is let in and of what is not."""
_SOFT = (0.0, 0.01, 0.02, 0.04, 0.08, 0.16)
"""Widths of soft ends that are tried, of what a measure spans."""
_HELD_BACK = 3
_LEAST_PLACES = 60
_LEAST_TOLD = 0.2
"""Of what could be told apart; less is no better than chance."""


class Interval(NamedTuple):
    """Between two values of a measure; an end of infinity is none. Of a facing clockwise from the first."""

    measure: MeasureName
    low: float
    high: float
    join: Join


@result
class More:
    """A clause that could be added, in words with its join, and what intersection over union it gains."""

    words: str
    join: str
    gain: float


@result
class FoundRule:
    """A rule that was found.

    ``rule`` and its ``sentence``; on places held back the share that it gets right, 0..1, intersection over union,
    and ``told``, how much of what could be told apart it tells (0 chance, 1 all); ``explained`` whether that is more
    than chance; ``share`` the mask's share of the ground; ``gains`` of its clauses one after the other; ``more``
    clauses with what each would gain.
    """

    rule: Rule
    sentence: str
    right: float
    overlap: float
    told: float
    explained: bool
    share: float
    gains: list[float]
    more: list[More]


def _interval(name: MeasureName, of: Binned, first: int, end: int, join: Join) -> Interval:
    count = len(of.edges) - 1
    if of.round_about:
        last = end % count
        return Interval(name, float(of.edges[first]), float(of.edges[last]) if last else 360.0, join)
    low = -np.inf if first == 0 else float(of.edges[first])
    return Interval(name, low, np.inf if end == count else float(of.edges[end]), join)


def _lets_in(clause: Interval, values: NDArray[np.floating]) -> NDArray[np.bool_]:
    if KINDS[clause.measure].scale == "compass":
        width = (clause.high - clause.low) % 360.0 or 360.0
        return np.asarray((values >= 0) & ((values - clause.low) % 360.0 <= width))
    return np.asarray((values >= clause.low) & (values <= clause.high))


def _joined(before: Numbers, part: Numbers, join: Join, first: bool) -> Numbers:
    if first:
        return 1.0 - part if join == "except" else part
    if join == "and":
        return before * part
    return before + part - before * part if join == "or" else before * (1.0 - part)


def _whole(
    clauses: Sequence[Interval],
    values: Mapping[MeasureName, NDArray[np.floating]],
    count: int,
    but: int = -1,
    instead: float = 0.0,
) -> Numbers:
    """Return what a rule lets in, 0 or 1; with one of its clauses that lets all in or nothing instead."""
    found = np.ones(count)
    for k, clause in enumerate(clauses):
        part = np.full(count, instead) if k == but else _lets_in(clause, values[clause.measure]).astype(np.float64)
        found = _joined(found, part, clause.join, k == 0)
    return found


def _apart(ranked: list[tuple[Interval, ...]]) -> list[tuple[Interval, ...]]:
    """Return the best rules that differ in more than their limits."""
    kept: dict[tuple[tuple[str, str], ...], tuple[Interval, ...]] = {}
    for clauses in ranked:
        kept.setdefault(tuple((one.measure, one.join) for one in clauses), clauses)
        if len(kept) == _BEAM:
            break
    return list(kept.values())


def _wanted(target: NDArray[np.floating]) -> MaskWanted:
    weight = target.astype(np.float64)
    return MaskWanted(weight, float(weight.sum()), float((1.0 - weight).sum()))


class Search:
    """A search for the rule of one mask.

    Parameters
    ----------
    values : mapping
        Measures at places, (n,) each, in their units.
    target : ndarray, shape (n,), 0..1
        What the mask says there.
    token : Token, optional
        Asked between steps.
    """

    def __init__(
        self,
        values: Mapping[MeasureName, NDArray[np.floating]],
        target: NDArray[np.floating],
        token: Token | None = None,
    ) -> None:
        held = np.arange(len(target)) % _HELD_BACK == 0
        self._seen = {name: one[~held] for name, one in values.items()}
        self._held = {name: one[held] for name, one in values.items()}
        self._wanted, self._judged = (_wanted(target[part]) for part in (~held, held))
        self._coarse = {name: binned(name, one, _COARSE) for name, one in self._seen.items()}
        self._fine = {name: binned(name, one, _FINE) for name, one in self._seen.items()}
        self._token = token

    def _better(self, clauses: tuple[Interval, ...]) -> list[tuple[float, tuple[Interval, ...]]]:
        """Return rules with one clause more, anywhere among the others, and their overlap: the best of each measure,
        join and place."""
        out = []
        for at in range(len(clauses) + 1):
            for join in JOINS if at else ("and",):
                before, after = clauses[:at], clauses[at:]
                if at == 0 and after and after[0].join != "and":
                    continue
                new = Interval("elevation", -np.inf, np.inf, join)
                tried = (*before, new, *after)
                one, none = (_whole(tried, self._seen, len(self._wanted.weight), at, let) for let in (1.0, 0.0))
                out += [
                    (overlap, (*before, clause, *after)) for overlap, clause in self._best_of_each(one, none, join)
                ]
        return out

    def _best_of_each(self, one: Numbers, none: Numbers, join: Join) -> list[tuple[float, Interval]]:
        out = []
        for name, of in self._coarse.items():
            if len(of.edges) < 3:
                continue
            overlap, first, end = best(of, one, none, self._wanted)
            out.append((overlap, _interval(name, of, first, end, join)))
        return out

    def _refined(self, clauses: tuple[Interval, ...]) -> tuple[Interval, ...]:
        """Return the same clauses with limits between finer quantiles, each in turn as best beside the others."""
        now = list(clauses)
        for _ in range(_ROUNDS):
            before = tuple(now)
            for k, clause in enumerate(now):
                one, none = (_whole(now, self._seen, len(self._wanted.weight), k, let) for let in (1.0, 0.0))
                of = self._fine[clause.measure]
                _, first, end = best(of, one, none, self._wanted)
                now[k] = _interval(clause.measure, of, first, end, clause.join)
            if tuple(now) == before:
                break
        return tuple(now)

    def _overlap(self, clauses: Sequence[Interval]) -> float:
        """Return intersection over union, of what is let in and of what is not, on the places held back."""
        found, wanted = _whole(clauses, self._held, len(self._judged.weight)), self._judged.weight
        return both_ways(float(found @ wanted), float(found @ (1 - wanted)), self._judged)

    def clauses(self) -> tuple[tuple[Interval, ...], list[float]]:
        """Return the clauses that are worth it, and the overlap on places held back after each."""
        beam: list[tuple[Interval, ...]] = [()]
        best_of: list[tuple[float, tuple[Interval, ...]]] = []
        for _depth in range(MOST_CLAUSES):
            if self._token is not None:
                self._token.check()
            found = [one for clauses in beam for one in self._better(clauses)]
            found.sort(key=lambda one: -one[0])
            beam = [self._refined(clauses) for clauses in _apart([clauses for _, clauses in found])]
            best_of.append(max((self._overlap(clauses), clauses) for clauses in beam))
        most = max(overlap for overlap, _ in best_of)
        kept = next(k for k, (overlap, _) in enumerate(best_of) if overlap >= most - _WORTH)
        return best_of[kept][1], [overlap for overlap, _ in best_of[: kept + 1]]

    def more(self, clauses: tuple[Interval, ...]) -> list[tuple[float, Interval]]:
        """Return the best further clause of each measure with what it gains on places held back, best first."""
        here, out = self._overlap(clauses), []
        for _, one in self._better(clauses):
            gain = self._overlap(one) - here
            new = [clause for clause in one if clause not in clauses]
            if gain > 0.002 and new:
                out.append((gain, new[0]))
        kinds: dict[str, tuple[float, Interval]] = {}
        for gain, clause in sorted(out, key=lambda one: -one[0]):
            kinds.setdefault(clause.measure, (gain, clause))
        return list(kinds.values())[:6]

    def softened(self, clauses: tuple[Interval, ...]) -> Rule:
        """Return clauses with soft ends as wide as the mask's are: half is let in where the limit was found."""
        soft = [[0.0, 0.0] for _ in clauses]
        for k, clause in enumerate(clauses):
            values = self._seen[clause.measure]
            low, high = (float(end) for end in np.quantile(values, (0.02, 0.98)))
            span = 360.0 if KINDS[clause.measure].scale == "compass" else high - low
            for end in (0, 1):
                if not np.isfinite((clause.low, clause.high)[end]):
                    continue
                errors = []
                for part in _SOFT:
                    soft[k][end] = part * span
                    errors.append(self._error(clauses, soft))
                soft[k][end] = _SOFT[int(np.argmin(errors))] * span
        return Rule(clauses=tuple(_clause(one, *ends) for one, ends in zip(clauses, soft, strict=True)))

    def _error(self, clauses: Sequence[Interval], soft: Sequence[Sequence[float]]) -> float:
        found = np.ones(len(self._wanted.weight))
        for k, (clause, ends) in enumerate(zip(clauses, soft, strict=True)):
            part = _soft_part(clause, self._seen[clause.measure], ends[0], ends[1])
            found = _joined(found, part, clause.join, k == 0)
        return float(((found - self._wanted.weight) ** 2).mean())

    def judged(self, clauses: Sequence[Interval]) -> tuple[float, float, float]:
        """Return of places held back the share that a rule gets right, intersection over union, and how much of what
        can be told it tells."""
        found, wanted = _whole(clauses, self._held, len(self._judged.weight)) > 0.5, self._judged.weight > 0.5
        right, either = float((found == wanted).mean()), float((found | wanted).sum())
        overlap = float((found & wanted).sum()) / max(either, 1.0)
        if wanted.all() or not wanted.any():
            return right, overlap, 0.0
        return right, overlap, float(found[wanted].mean() - found[~wanted].mean())


def _soft_part(clause: Interval, values: NDArray[np.floating], low_soft: float, high_soft: float) -> Numbers:
    def ramp(inside: Numbers, soft: float) -> Numbers:
        t = np.clip(inside / soft + 0.5, 0, 1) if soft > 0 else (inside >= 0).astype(np.float64)
        return np.asarray(t * t * (3 - 2 * t))

    if KINDS[clause.measure].scale == "compass":
        width = (clause.high - clause.low) % 360.0 or 360.0
        past = (values.astype(np.float64) - clause.low + 180.0 - width / 2) % 360.0 - 180.0 + width / 2
        return np.minimum(ramp(past, low_soft), ramp(width - past, high_soft)) * (values >= 0)
    of = values.astype(np.float64)
    low = ramp(of - clause.low, low_soft) if np.isfinite(clause.low) else np.ones(len(of))
    return np.minimum(low, ramp(clause.high - of, high_soft)) if np.isfinite(clause.high) else low


def _clause(one: Interval, low_soft: float, high_soft: float) -> OnMeasure:
    """Return an interval as a clause: soft ends reach outwards, and half is let in at the limits found."""
    kind = KINDS[one.measure]
    low, high = one.low + low_soft / 2, one.high - high_soft / 2
    if kind.scale == "compass":
        low, high = low % 360.0, high % 360.0
    elif low > high:
        low = high = (one.low + one.high) / 2
    ends = [None if not np.isfinite(end) else _round(end) for end in (low, high)]
    return OnMeasure(
        measure=one.measure,
        unit=kind.unit,
        lower=ends[0],
        upper=ends[1],
        soft_lower=_round(low_soft),
        soft_upper=_round(high_soft),
        join=one.join,
    )


def _round(value: float) -> float:
    """Return a number with four digits that count."""
    return float(f"{value:.4g}")


def find(
    values: Mapping[MeasureName, NDArray[np.floating]], target: NDArray[np.floating], token: Token | None = None
) -> FoundRule:
    """Return the rule of few clauses that says best where a mask lies.

    Parameters
    ----------
    values : mapping
        Measures at places, (n,) each, in their units.
    target : ndarray, shape (n,), 0..1
        What the mask says there.
    token : Token, optional
        Asked between steps.

    Raises
    ------
    RefusalError
        When the mask is the same everywhere: there is nothing to be told.
    """
    share = float(target.mean())
    if float(np.ptp(target)) < 0.02 or not (target > 0.5).any() or (target > 0.5).all():
        raise RefusalError(
            "mask",
            f"one that lies everywhere alike ({share:.1%})",
            "more than half in some places, less in others",
            "choose another mask or channel",
        )
    meant = int((target > 0.5).sum())
    if min(meant, len(target) - meant) < _LEAST_PLACES:
        raise RefusalError(
            "mask",
            f"one that means {meant:,} of {len(target):,} places",
            f"at least {_LEAST_PLACES} in and out of it",
            "choose a mask of more of this ground",
        )
    search = Search(values, target, token)
    clauses, overlaps = search.clauses()
    right, overlap, told = search.judged(clauses)
    rule = search.softened(clauses)
    text = ", ".join(
        f"{'' if k == 0 and clause.join == 'and' else clause.join + ' '}{words(clause)}"
        for k, clause in enumerate(rule.clauses)
    )
    more = [More(words(_clause(one, 0, 0)), one.join, gain) for gain, one in search.more(clauses)]
    gains = [b - a for a, b in zip([0.0, *overlaps], overlaps, strict=False)]
    return FoundRule(rule, text, right, overlap, told, told >= _LEAST_TOLD, share, gains, more)
