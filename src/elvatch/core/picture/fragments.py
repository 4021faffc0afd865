"""What each pixel of a picture sees, as rows."""

from __future__ import annotations

from typing import Any, NamedTuple, cast

import numpy as np
from numpy.typing import NDArray

from elvatch.core.ground import places as cover_places
from elvatch.core.ground.places import Places
from elvatch.core.picture.kinds import GROUND, THING, WATER


class Fragments(NamedTuple):
    """What is seen, one row a fragment, pixel by pixel; what water mirrors comes after all others, with weight 0.

    ``pixel`` index in the picture; ``weight`` share of the pixel; ``kind`` as in
    :mod:`~elvatch.core.picture.scene`; ``depth_m`` distance from the eye, or from the water that mirrors it;
    ``toward`` unit vector from there; ``normal`` of all but the ground (whose comes from its gradient);
    ``height_m`` z seen; ``hollow`` part of the sky that the cover's relief leaves open; ``mirror`` the row of what
    water mirrors there, -1 elsewhere; ``under_m`` the way through water to the ground below it; ``rough`` the mean
    square slope of ripples too small to be seen; ``tint`` what part of the figure is seen; ``hit`` which
    thing and where, -1 elsewhere; ``places`` for the cover,
    under water those of the ground below.
    """

    pixel: NDArray[np.int32]
    weight: NDArray[np.float32]
    kind: NDArray[np.uint8]
    depth_m: NDArray[np.float32]
    toward: NDArray[np.float32]
    normal: NDArray[np.float32]
    height_m: NDArray[np.float32]
    hollow: NDArray[np.float32]
    mirror: NDArray[np.int32]
    under_m: NDArray[np.float32]
    rough: NDArray[np.float32]
    tint: NDArray[np.uint8]
    hit: NDArray[np.int64]
    places: Places

    def on_ground(self) -> NDArray[np.bool_]:
        """Return which of them the cover is asked about: ground, and what lies below water and things."""
        return np.asarray((self.kind == GROUND) | (self.kind == WATER) | (self.kind == THING))


class Clad(NamedTuple):
    """What things look like at the fragments that see them.

    ``row`` (n,) of each fragment of the picture, -1 where it sees no thing; ``colour`` (m, 3) linear; ``rough``,
    ``open``, ``leaf`` as of a solid; ``metal``; ``of_ground`` how far they take the ground's colour, ``foot_m`` over
    how much of their foot the ground climbs on; ``glow`` (m, 3) linear what they send out, 1 as bright as white
    ground at noon, without rows where none of them does.
    """

    row: NDArray[np.int64]
    colour: NDArray[np.float32]
    rough: NDArray[np.float32]
    open: NDArray[np.float32]
    leaf: NDArray[np.float32]
    of_ground: NDArray[np.float32]
    foot_m: NDArray[np.float32]
    metal: NDArray[np.float32]
    glow: NDArray[np.float32]


def bare() -> Clad:
    """Return what no thing looks like."""
    none = np.empty(0, np.float32)
    three = np.empty((0, 3), np.float32)
    return Clad(np.empty(0, np.int64), three, none, none, none, none, none, none, three)


class RayEnds(NamedTuple):
    """Looks through pixels: how far each ends, on what kind of thing, and of a thing that stands which and where."""

    depth: NDArray[np.float64]
    kind: NDArray[np.uint8]
    hit: NDArray[np.int64]

    def copied(self) -> RayEnds:
        """Return the same, to be written over."""
        return RayEnds(self.depth.copy(), self.kind.copy(), self.hit.copy())


class PixelLooks(NamedTuple):
    """Looks through the pixels of a picture: ``once`` through the middle of each, ``all`` with more at edges."""

    once: RayEnds
    all: RayEnds


class GBuffer(NamedTuple):
    """Fragments of a picture, its size, what the things in it look like, and the looks that they come of."""

    width_px: int
    height_px: int
    fragments: Fragments
    clad: Clad = bare()
    looks: PixelLooks | None = None


def nothing_seen(count: int) -> Fragments:
    """Return rows to be filled in."""
    return Fragments(
        pixel=np.empty(count, np.int32),
        weight=np.zeros(count, np.float32),
        kind=np.empty(count, np.uint8),
        depth_m=np.empty(count, np.float32),
        toward=np.empty((count, 3), np.float32),
        normal=np.zeros((count, 3), np.float32),
        height_m=np.zeros(count, np.float32),
        hollow=np.ones(count, np.float32),
        mirror=np.full(count, -1, np.int32),
        under_m=np.zeros(count, np.float32),
        rough=np.zeros(count, np.float32),
        tint=np.zeros(count, np.uint8),
        hit=np.full(count, -1, np.int64),
        places=cover_places.zeros(count),
    )


def longer(fragments: Fragments, by: int) -> Fragments:
    """Return the same rows with more at their end, to be filled in."""
    if by == 0:
        return fragments
    more = nothing_seen(by)
    a, b = fragments, more
    columns: list[Any] = [np.concatenate(pair) for pair in zip(cast(Any, a.places), cast(Any, b.places), strict=True)]
    at = Places(*columns)
    return Fragments(
        pixel=np.concatenate([a.pixel, b.pixel]),
        weight=np.concatenate([a.weight, b.weight]),
        kind=np.concatenate([a.kind, b.kind]),
        depth_m=np.concatenate([a.depth_m, b.depth_m]),
        toward=np.concatenate([a.toward, b.toward]),
        normal=np.concatenate([a.normal, b.normal]),
        height_m=np.concatenate([a.height_m, b.height_m]),
        hollow=np.concatenate([a.hollow, b.hollow]),
        mirror=np.concatenate([a.mirror, b.mirror]),
        under_m=np.concatenate([a.under_m, b.under_m]),
        rough=np.concatenate([a.rough, b.rough]),
        tint=np.concatenate([a.tint, b.tint]),
        hit=np.concatenate([a.hit, b.hit]),
        places=at,
    )
