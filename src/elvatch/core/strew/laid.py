"""What a strew comes to in a part of the ground: which things lie where, and how large each is."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import replace
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from elvatch.core.document.layer import Layer
from elvatch.core.document.rule import OnMeasure, OnNear, OnPainted, Rule
from elvatch.core.document.strew import Strew
from elvatch.core.ground import places as ground_places
from elvatch.core.ground.measures import MeasureName
from elvatch.core.ground.places import Places
from elvatch.core.ground.survey import Survey
from elvatch.core.parallel import Token
from elvatch.core.rules import crowds, paths, program, rules
from elvatch.core.rules.evidence import Evidence
from elvatch.core.strew.candidates import FULLEST, Box, candidates, clustered, dice, peak, turn_for

Numbers = NDArray[np.float64]
_KIND, SIZE, TURN, TILT, TILT_WAY, SUNK, VARIANT, WARM, BRIGHT = range(9)
_ADDED = -1
"""Things added by hand have numbers from here downwards: none that a candidate has."""


class Laid(NamedTuple):
    """Things of a strew, bigger first where turns are alike: ``number``, middle ``x_m, y_m``, index ``kind`` in the
    strew's list, ``size_m`` of the longest side, ``turn_deg`` added by hand, ``turn`` at which each was taken."""

    number: NDArray[np.int64]
    x_m: Numbers
    y_m: Numbers
    kind: NDArray[np.int64]
    size_m: Numbers
    turn_deg: Numbers
    turn: Numbers

    def some(self, rows: NDArray[np.bool_] | NDArray[np.int64]) -> Laid:
        """Return some of them."""
        return Laid(
            self.number[rows],
            self.x_m[rows],
            self.y_m[rows],
            self.kind[rows],
            self.size_m[rows],
            self.turn_deg[rows],
            self.turn[rows],
        )


class On(NamedTuple):
    """What a strew is laid on: ``survey`` of the ground, ``evidence`` that rules read, all ``layers`` of the column;
    ``others`` returns places and radii (n, 3) of another strew's things; ``foot`` how wide a thing's foot is against
    its longest side, half of it, by the thing's id."""

    survey: Survey
    evidence: Evidence
    layers: tuple[Layer, ...]
    others: Callable[[str], Numbers]
    foot: Mapping[str, float]


class Density(NamedTuple):
    """How densely a strew's things lie at places, per m²: ``whole`` (n,) and the part of each kind (n, kinds)."""

    whole: Numbers
    kinds: Numbers


def sizes(strew: Strew, chance: Numbers, elevation_m: NDArray[np.float32] | None = None) -> Numbers:
    """Return sizes in metres for chances from 0 to 1: density falls as (1 - t) ** bias from smallest to largest."""
    size = strew.size
    t = 1 - (1 - chance) ** (1 / (size.bias + 1))
    if size.at_foot > 0 and elevation_m is not None:
        up = (elevation_m - size.foot_m) / max(size.top_m - size.foot_m, 1e-6)
        t = t * (1 - size.at_foot * np.clip(up, 0, 1))
    return np.asarray(size.from_m + (size.to_m - size.from_m) * t, np.float64)


def densities(strew: Strew, on: On, at: Places, token: Token | None = None) -> Density:
    """Return how densely a strew lies at places by its rule, its clusters and its brush; not yet held to what its
    spacing lets in."""
    touched = [(touch, Rule(clauses=(OnPainted(mask=touch.mask, called="brush"),))) for touch in strew.touches]
    programs = program.compiled(
        [(strew.name, strew.rule), *((strew.name, rule) for _, rule in touched)], on.evidence, on.layers
    )
    full = strew.per_100_m2 / 100
    base = full * rules.presences(programs, 0, at, token).astype(np.float64)
    if strew.clusters.clustered > 0:
        share, size = strew.clusters.clustered, strew.clusters
        there = np.flatnonzero(base)
        bunched = clustered(at.x_m[there], at.y_m[there], strew.chance * 64 + 63, size.apart_m, size.size_m)
        base[there] *= 1 - share + share * bunched
    weights = np.array([one.weight for one in strew.kinds], np.float64)
    weights = weights / weights.sum() if weights.sum() > 0 else np.full(len(weights), 0.0)
    kinds = base[:, None] * weights
    for k, (touch, _) in enumerate(touched, start=1):
        painted = rules.presences(programs, k, at, token).astype(np.float64)[:, None]
        of = np.array([touch.thing in (None, one.thing) for one in strew.kinds])
        changed = kinds * (1 - painted) if touch.does == "fewer" else kinds + full * weights * painted
        kinds = np.where(of, changed, kinds)
    return Density(kinds.sum(axis=1), kinds)


def most(strew: Strew) -> float:
    """Return how densely a strew's things can lie anywhere, per m²."""
    full = strew.per_100_m2 / 100
    if strew.clusters.clustered > 0:
        # clusters may lie over one another: twice as dense as the middle of one is rare, and what is more is cut
        bunched = 2 * peak(strew.clusters.apart_m, strew.clusters.size_m)
        full *= 1 - strew.clusters.clustered + strew.clusters.clustered * max(1.0, bunched)
    more = sum(1 for touch in strew.touches if touch.does == "more")
    full += more * strew.per_100_m2 / 100
    return min(full, FULLEST / strew.apart_m**2) if strew.apart_m > 0 else full


def laid(strew: Strew, on: On, box: Box | None = None, upto: float = np.inf, token: Token | None = None) -> Laid:
    """Return a strew's things in a part of the ground.

    Parameters
    ----------
    strew : Strew
        What is laid.
    on : On
        What it lies on.
    box : Box, optional
        Where; the whole ground otherwise. Things that a hand moved count where they now lie.
    upto : float
        Turn from which on things are left out, per m²: a ceiling.
    token : Token, optional
        Asked between parts.

    Returns
    -------
    Laid
        The same things whatever part is asked for.
    """
    whole = Box(0.0, 0.0, on.survey.width_m, on.survey.depth_m)
    where = _within(box, whole) if box else whole
    bound = most(strew)
    last = min(float(turn_for(np.array([bound]), strew.apart_m)[0]), upto)
    empty = _empties(strew, on)
    found = candidates(strew.chance, last, strew.apart_m, where, token, empty)
    at = ground_places.on_ground(on.survey, found.x_m, found.y_m, 0.5)
    density = densities(strew, on, at, token)
    reached = found.turn < turn_for(np.minimum(density.whole, bound), strew.apart_m)
    found, kinds = found.some(reached), density.kinds[reached]
    elevation = at.elevation_m[reached]
    made = Laid(
        found.number,
        found.x_m,
        found.y_m,
        _chosen(kinds, dice(found.number, strew.chance, _KIND)),
        sizes(strew, dice(found.number, strew.chance, SIZE), elevation),
        np.zeros(len(found.number)),
        found.turn,
    )
    made = _kept_clear(strew, on, made)
    return by_hand(strew, made, on.survey, where)


def _empties(strew: Strew, on: On) -> Callable[[Box], bool]:
    """Return what says of parts of the ground that a strew's rule lets nothing in there: limits of measures that lie
    beyond all values that the measure has there."""
    survey, evidence = on.survey, on.evidence
    painted = any(touch.does == "more" for touch in strew.touches)
    paths_near = _along(strew, evidence)
    # made before any part is worked on: making them shares the threads that work on parts
    maps: dict[tuple[MeasureName, float | None], NDArray[np.float32]] = {}
    for one in strew.rule.clauses:
        if isinstance(one, OnMeasure) and one.measure != "aspect":
            known = one.measure == "elevation"
            maps[one.measure, one.radius_m] = survey.heights if known else evidence.measure(one.measure, one.radius_m)

    def empty(box: Box) -> bool:
        if painted:
            return False
        rows, cols = survey.heights.shape
        left, right = (int(x / survey.cell_x_m) for x in (box.west, box.east))
        top, low = (int((survey.depth_m - y) / survey.cell_y_m) for y in (box.north, box.south))
        window = np.s_[max(top - 1, 0) : min(low + 3, rows), max(left - 1, 0) : min(right + 3, cols)]

        def reach(name: MeasureName, radius_m: float | None) -> tuple[float, float]:
            there = maps[name, radius_m][window]
            # between samples a slope may be less than at all of them: where they face each other
            return 0.0 if name == "slope" else float(there.min()), float(there.max())

        return program.nowhere(strew.rule, replace(evidence, reach=reach)) or _far_from(paths_near, box)

    return empty


def _along(strew: Strew, evidence: Evidence) -> list[tuple[Numbers, float]]:
    """Return the paths that all of a strew lies near, each as a line with how far from it anything can lie."""
    found = []
    standing = [one for one in strew.rule.clauses if one.join != "break-up"]
    broken = 1.0 + sum(one.strength for one in strew.rule.clauses if one.join == "break-up")
    for k, one in enumerate(standing):
        narrows = one.join == "and" or (k == 0 and one.join != "except")
        if not narrows or any(later.join in ("or", "add") for later in standing[k + 1 :]):
            continue
        if isinstance(one, OnNear) and one.to == "path" and one.upper is not None and not one.opposite:
            path = next((path for path in evidence.marks.paths if path.id == one.target), None)
            if path is not None:
                reach = one.upper + one.soft_upper * broken + path.width_m / 2 + 2 * path.wobble_m
                found.append((paths.line_of(path), reach))
    return found


def _far_from(lines: list[tuple[Numbers, float]], box: Box) -> bool:
    """Return whether a part lies wholly further from one of some lines than anything can."""
    x, y = (box.west + box.east) / 2, (box.south + box.north) / 2
    half = float(np.hypot(box.east - box.west, box.north - box.south)) / 2
    for line, reach in lines:
        a, way = line[:-1], line[1:] - line[:-1]
        t = ((x - a[:, 0]) * way[:, 0] + (y - a[:, 1]) * way[:, 1]) / np.maximum((way**2).sum(axis=1), 1e-12)
        nearest = a + np.clip(t, 0, 1)[:, None] * way
        if np.hypot(nearest[:, 0] - x, nearest[:, 1] - y).min() - half > reach:
            return True
    return False


def _lies_in(x: float, y: float, where: Box, whole: Box) -> bool:
    """Return whether a place lies in a part of the ground, whose last edges belong to it at the ground's own."""
    east = x < where.east or (where.east == whole.east and x <= where.east)
    north = y < where.north or (where.north == whole.north and y <= where.north)
    return where.west <= x and east and where.south <= y and north


def _within(box: Box, whole: Box) -> Box:
    return Box(
        max(box.west, whole.west), max(box.south, whole.south), min(box.east, whole.east), min(box.north, whole.north)
    )


def _chosen(kinds: Numbers, chance: Numbers) -> NDArray[np.int64]:
    """Return which kind each is, by how densely each kind lies there."""
    upto = np.cumsum(kinds, axis=1)
    return np.asarray((chance[:, None] * upto[:, -1:] >= upto).sum(axis=1).clip(0, kinds.shape[1] - 1), np.int64)


def radii(strew: Strew, found: Laid, foot: Mapping[str, float]) -> Numbers:
    """Return half the width of each thing's foot, metres."""
    shares = np.array([foot.get(one.thing, 0.4) for one in strew.kinds])
    return np.asarray(shares[found.kind] * found.size_m)


def _kept_clear(strew: Strew, on: On, made: Laid) -> Laid:
    """Take away what would stand in a thing of a strew that it keeps clear of."""
    for other in strew.clear_of:
        there = on.others(other)
        if len(there) and len(made.number):
            away = crowds.distances(crowds.crowds([(there, float(made.size_m.max()))]), made.x_m, made.y_m)
            made = made.some(away >= radii(strew, made, on.foot))
    return made


def by_hand(strew: Strew, made: Laid, survey: Survey, where: Box) -> Laid:
    """Return things with what hands changed: gone, moved, turned, sized, added.

    What a hand moved or sized stays whatever the rule says by now; what is gone stays gone.
    """
    if not strew.by_hand and not strew.added:
        return made
    touched = {one.number: one for one in strew.by_hand}
    made = made.some(~np.isin(made.number, np.array([*touched], np.int64)))
    kept = [one for one in strew.by_hand if not one.gone and one.east_m is not None and one.north_m is not None]
    rows: list[tuple[int, float, float, int, float, float]] = []
    if kept:
        number = np.array([one.number for one in kept], np.int64)
        chance = dice(number, strew.chance, _KIND)
        east, north = (np.array([getattr(one, side) or 0.0 for one in kept]) for side in ("east_m", "north_m"))
        at = ground_places.on_ground(survey, east, north, 0.5)
        size = sizes(strew, dice(number, strew.chance, SIZE), at.elevation_m)
        weights = np.array([[one.weight for one in strew.kinds]]) * np.ones((len(kept), 1))
        kind = _chosen(weights, chance)
        rows += [
            (one.number, one.east_m or 0.0, one.north_m or 0.0, int(k), float(s) * one.times, one.turn_deg)
            for one, k, s in zip(kept, kind, size, strict=True)
        ]
    order = {one.thing: k for k, one in enumerate(strew.kinds)}
    rows += [
        (_ADDED - one.number, one.east_m, one.north_m, order[one.thing], one.size_m, one.turn_deg)
        for one in strew.added
        if one.thing in order
    ]
    whole = Box(0.0, 0.0, survey.width_m, survey.depth_m)
    rows = [row for row in rows if _lies_in(row[1], row[2], where, whole)]
    numbers, kinds = (np.array([row[k] for row in rows], np.int64) for k in (0, 3))
    x, y, size, turned = (np.array([row[k] for row in rows], np.float64) for k in (1, 2, 4, 5))
    return Laid(
        np.concatenate([made.number, numbers]),
        np.concatenate([made.x_m, x]),
        np.concatenate([made.y_m, y]),
        np.concatenate([made.kind, kinds]),
        np.concatenate([made.size_m, size]),
        np.concatenate([made.turn_deg, turned]),
        np.concatenate([made.turn, np.zeros(len(rows))]),
    )


def ceiling(strew: Strew, density: Numbers, area_m2: float) -> float:
    """Return the turn from which on things are left out so that no more than a strew's ceiling lie on the ground.

    Parameters
    ----------
    strew : Strew
        Whose ceiling.
    density : ndarray, shape (n,)
        Of its things at places spread evenly over the ground, per m².
    area_m2 : float
        Of the ground.
    """
    held = np.minimum(density, most(strew))
    if held.mean() * area_m2 <= strew.at_most:
        return float(np.inf)
    low, high = 0.0, float(held.max())
    for _ in range(40):
        middle = (low + high) / 2
        low, high = (middle, high) if np.minimum(held, middle).mean() * area_m2 <= strew.at_most else (low, middle)
    return float(turn_for(np.array([low]), strew.apart_m)[0])
