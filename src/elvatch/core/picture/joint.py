"""The ground's side of where it meets things set on it: at their foot it takes on what they are made of, and climbs.

How far a place lies from a thing is asked of the thing's own shape; what it takes on is what the thing shows at its
closest place, its cover with it. At the foot things are the ground in turn (``shade``), so both sides agree there
whatever lies on either.
"""

from __future__ import annotations

import functools
import threading
from collections.abc import Callable, Mapping
from dataclasses import dataclass, field

import numpy as np
from numpy.typing import NDArray

from elvatch.core.cover.on_thing import ReadyCover
from elvatch.core.document.thing import Thing
from elvatch.core.ground import places as ground_places
from elvatch.core.ground.places import Places, ReliefAt
from elvatch.core.mapping import surface
from elvatch.core.parallel import Token
from elvatch.core.picture.clad import clad
from elvatch.core.picture.covering import all_ready, with_covers
from elvatch.core.picture.fragments import GBuffer, nothing_seen
from elvatch.core.picture.kinds import THING
from elvatch.core.rules import crowds
from elvatch.core.rules.crowds import Crowds
from elvatch.core.rules.evidence import Evidence
from elvatch.core.rules.joints import RISE, Joined, Touching
from elvatch.core.stock.pyramid import Pyramid
from elvatch.core.strew import single
from elvatch.core.strew.field import Field
from elvatch.core.thing import traced
from elvatch.core.thing.closest import closest
from elvatch.core.thing.traced import TracedThings

Numbers = NDArray[np.float32]
_MOST = 0.5
"""How much of the thing's material the ground takes on right at its foot."""
_UNSEEN = 0.002


@dataclass(frozen=True)
class SetThings:
    """Things set by hand, all of which the ground is joined to; see :class:`elvatch.core.rules.joints.Joining`.

    ``field`` returns what stands on the site, ``things`` by their ids with their covers, which look up ``sets`` and
    read ``evidence``.
    """

    name: str
    shape: str
    field: Callable[[], Field]
    things: Mapping[str, Thing]
    sets: Mapping[str, Pyramid]
    evidence: Evidence

    def on(self) -> JointsOnCover:
        """Return the joints with one cover: things stand on its relief."""
        return JointsOnCover(self)

    @functools.cached_property
    def covers(self) -> dict[str, ReadyCover]:
        """Return the covers of those things that have one, by their ids."""
        return all_ready(self.things.values(), self.sets, self.evidence)

    @functools.cached_property
    def spots(self) -> NDArray[np.float64]:
        """Return where each stands and how far from there the ground may be joined to it, (n, 3) metres."""
        singles = self.field().stocked.singles
        longest = [float(np.linalg.norm(one.corners, axis=1).max()) * one.of.size_m for one in singles]
        at = [(of.east_m, of.north_m, far + of.joins_m) for far, (of, *_) in zip(longest, singles, strict=True)]
        return np.array(at, np.float64).reshape(-1, 3)

    @functools.cached_property
    def crowd(self) -> Crowds:
        """Return them as what tells where none is near."""
        return crowds.crowds([(self.spots, 0.0)])


@dataclass(frozen=True)
class JointsOnCover:
    """Joints of one cover with the things on it; see :class:`elvatch.core.rules.joints.Joints`."""

    of: SetThings
    _stands: dict[int, TracedThings] = field(default_factory=dict)
    _lock: threading.Lock = field(default_factory=threading.Lock)

    def touching(
        self, places: Places, relief_m: Numbers, relief_at: ReliefAt, token: Token | None
    ) -> tuple[Touching, ...]:
        """Return which of places that have such relief lie beside things."""
        away = crowds.distances(self.of.crowd, places.x_m, places.y_m)
        near = np.flatnonzero(away <= 0.0)
        found = []
        for k, (east, north, reach) in enumerate(self.of.spots if len(near) else ()):
            away_2 = (places.x_m[near] - east) ** 2 + (places.y_m[near] - north) ** 2
            rows = near[away_2 < reach * reach]
            if len(rows):
                at = ground_places.some(places, rows)
                height = surface.lifted(at.elevation_m, at.rise_east, at.rise_north, relief_m[rows])
                found.append(self._beside(k, self._standing(k, relief_at), rows, at, height, token))
        return tuple(one for one in found if len(one.rows))

    def _beside(
        self,
        k: int,
        things: TracedThings,
        rows: NDArray[np.int64],
        at: Places,
        height: Numbers,
        token: Token | None,
    ) -> Touching:
        """Return those of the places about a thing that lie beside it."""
        joins_m = self.of.field().stocked.singles[k].of.joins_m
        spots = np.stack([at.x_m, at.y_m, height.astype(np.float64)], 1)
        met = closest(things, 0, spots, joins_m, token)
        some = np.flatnonzero(met.triangle >= 0)
        met, at, spots = met.some(some), ground_places.some(at, some), spots[some]
        nearness = np.where(met.within, 1.0, 1.0 - met.away_m / joins_m)
        # an area much wider than the joint has only so much of it
        held = np.minimum(1.0, joins_m / np.maximum(at.across_m, 1e-6))
        share = _MOST * held * nearness * nearness * (3.0 - 2.0 * nearness)
        falls = np.where(met.within, 0.0, -2.0 * RISE * held * nearness)
        along, up = _along_ground((spots - met.at) / np.maximum(met.away_m, 1e-9)[:, None], at)
        told = share, RISE * held * joins_m * nearness**2, falls[:, None] * along, falls * up
        return Touching(k, things, rows[some], at, met, *(one.astype(np.float32) for one in told))

    def joined(self, touching: tuple[Touching, ...], taps: int, token: Token | None) -> Joined:
        """Return what places beside things take on: of two things what is more."""
        rows = np.unique(np.concatenate([one.rows for one in touching]))
        out = _nothing(rows)
        for one in touching:
            into = np.searchsorted(rows, one.rows)
            some = np.flatnonzero((one.share > _UNSEEN) & (one.share > out.share[into]))
            if len(some) == 0:
                continue
            shows, into = self._shown(one, some, taps, token).clad, into[some]
            # nothing gathers at leaves
            solid = 1.0 - shows.leaf
            out.share[into] = one.share[some] * solid
            out.colour[into], out.rough[into], out.metal[into] = shows.colour, shows.rough, shows.metal
            out.rise_m[into], out.slope[into] = one.rise_m[some] * solid, one.slope[some] * solid[:, None]
            out.bends[into] = one.bends[some] * solid
        return out.some(np.flatnonzero(out.share > 0))

    def _standing(self, k: int, relief_at: ReliefAt) -> TracedThings:
        """Return one of the things ready to be measured from."""
        with self._lock:
            if k not in self._stands:
                known = self.of.field()
                stands = single.stood([known.stocked.singles[k]], known.on.survey, relief_at)
                self._stands[k] = traced.things(stands, known.shapes)
            return self._stands[k]

    def _shown(self, of: Touching, some: NDArray[np.int64], taps: int, token: Token | None) -> GBuffer:
        """Return what a thing shows at the places of it that lie closest to some of those beside it."""
        f, met, at = nothing_seen(len(some)), of.met.some(some), ground_places.some(of.at, some)
        f.kind[:], f.weight[:], f.toward[:] = THING, 1.0, 0.0
        f.hit[:], f.height_m[:] = met.triangle, met.at[:, 2]
        x, y = np.ascontiguousarray(met.at[:, 0]), np.ascontiguousarray(met.at[:, 1])
        f = f._replace(places=at._replace(x_m=x, y_m=y))
        seen = GBuffer(len(some), 1, f, clad(of.things, f, token))
        known = self.of.field().stocked
        thing = known.singles[of.thing].of.thing
        if thing not in self.of.covers:
            return seen
        return with_covers(seen, of.things, known, {thing: self.of.covers[thing]}, taps, token)


def _nothing(rows: NDArray[np.int64]) -> Joined:
    """Return places that take on nothing, to be filled in."""
    n = len(rows)
    one, two, three = (np.zeros(shape, np.float32) for shape in ((5, n), (n, 2), (n, 3)))
    return Joined(rows, one[0], three, one[1], one[2], one[3], two, one[4])


def _along_ground(away: NDArray[np.float64], at: Places) -> tuple[NDArray[np.float64], NDArray[np.float64]]:
    """Return how much further from a thing one comes along the ground, per metre east and north (the horizontal parts
    of a gradient along the surface), and along its normal: by that, times its own gradient, its relief adds to it."""
    facing = np.stack([-at.rise_east, -at.rise_north, np.ones(len(at.x_m))], 1).astype(np.float64)
    facing /= np.linalg.norm(facing, axis=1, keepdims=True)
    up = (away * facing).sum(axis=1)
    return (away - up[:, None] * facing)[:, :2], up
