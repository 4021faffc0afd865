"""Things set by hand: how each stands, and which shapes it is."""

from __future__ import annotations

import math
from collections.abc import Sequence
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from elvatch.core.document.set_thing import SetThing
from elvatch.core.ground import places as ground_places
from elvatch.core.ground.places import ReliefAt
from elvatch.core.ground.survey import Survey
from elvatch.core.strew.standing import below, lowest
from elvatch.core.thing import traced
from elvatch.core.thing.model import Model
from elvatch.core.thing.solid import Solid, foot, stretched
from elvatch.core.thing.traced import Stood

AS_IT_IS = (1.0, 1.0, 1.0)
_FOOT = 0.25
"""How much of its height, as it is turned, counts as its foot."""


class Single(NamedTuple):
    """A thing set by hand, the row of its finest shape, and the corners of that shape at a longest side of 1 m."""

    of: SetThing
    first: int
    corners: NDArray[np.float32]


def levels_of(of: SetThing, model: Model) -> tuple[Solid, ...]:
    """Return the levels of a thing set by hand, finest first, stretched as it is."""
    levels = model.variants[min(of.variant, len(model.variants) - 1)]
    return levels if of.stretch == AS_IT_IS else tuple(stretched(level, of.stretch) for level in levels)


def placed(of: SetThing, model: Model, first: int, solids: list[Solid]) -> Single:
    """Return a thing with its shapes; a stretched one gets shapes of its own, added to ``solids``.

    Parameters
    ----------
    of : SetThing
        Which.
    model : Model
        Of its thing.
    first : int
        Row of the first shape of that model.
    solids : list of Solid
        All shapes so far.
    """
    levels = levels_of(of, model)
    if of.stretch == AS_IT_IS:
        variant = min(of.variant, len(model.variants) - 1)
        return Single(of, first + variant * len(levels), levels[0].places)
    solids.extend(levels)
    return Single(of, len(solids) - len(levels), levels[0].places)


def turn(of: SetThing, rise_east: float = 0.0, rise_north: float = 0.0) -> NDArray[np.float64]:
    """Return the matrix from a thing's axes to the world's, (3, 3), on ground that rises so: first it is rolled,
    nodded and turned, then it leans."""
    a, b, c = (math.radians(angle) for angle in (of.turn_deg, -of.nod_deg, of.roll_deg))
    about_up = np.array([[math.cos(a), -math.sin(a), 0], [math.sin(a), math.cos(a), 0], [0, 0, 1]])
    nodded = np.array([[math.cos(b), 0, math.sin(b)], [0, 1, 0], [-math.sin(b), 0, math.cos(b)]])
    rolled = np.array([[1, 0, 0], [0, math.cos(c), -math.sin(c)], [0, math.sin(c), math.cos(c)]])
    up = np.array([-rise_east * of.leans, -rise_north * of.leans, 1.0])
    up /= np.linalg.norm(up)
    # the shortest way from straight up to where it leans (Rodrigues)
    axis = np.cross([0.0, 0.0, 1.0], up)
    k = np.array([[0, -axis[2], axis[1]], [axis[2], 0, -axis[0]], [-axis[1], axis[0], 0]])
    leaning = np.eye(3) + k + k @ k / (1.0 + up[2])
    return np.asarray(leaning @ about_up @ nodded @ rolled)


def _foot_z(single: Single, turned: NDArray[np.float64], survey: Survey, relief_at: ReliefAt | None) -> float:
    """Return how high the axes of a thing may lie so that none of its foot is above the ground."""
    of = single.of
    world = single.corners.astype(np.float64) @ turned.T * of.size_m
    low = world[:, 2].min()
    standing = Solid(world.astype(np.float32) - np.array([0, 0, low], np.float32), *_NOTHING_ELSE)
    ring = foot(standing, _FOOT).astype(np.float64) + np.array([0.0, 0.0, low])
    under = below(survey, np.array([of.east_m]), np.array([of.north_m]), ring[None], 0.1 * of.size_m)
    return float(lowest(under, ring[None, :, 2], relief_at(under) if relief_at is not None else None)[0])


_NONE = np.zeros(0, np.float32)
_NOTHING_ELSE = (_NONE, _NONE, _NONE, _NONE, _NONE, _NONE, np.zeros((0, 3), np.int32), np.zeros(0, np.int32))


def stood(singles: Sequence[Single], survey: Survey, relief_at: ReliefAt | None = None) -> Stood:
    """Return how things set by hand stand, in their order; ``shape`` is that of the finest level.

    Parameters
    ----------
    singles : sequence of Single
        Which.
    survey : Survey
        The ground.
    relief_at : callable, optional
        Returns the cover's relief at places, metres; the plain ground without.
    """
    count = len(singles)
    if count == 0:
        return traced.no_places()
    x = np.array([one.of.east_m for one in singles])
    y = np.array([one.of.north_m for one in singles])
    at = ground_places.on_ground(survey, x, y, 0.5)
    turns, z, high = np.empty((count, 9), np.float32), np.empty(count), np.empty(count)
    for k, single in enumerate(singles):
        of = single.of
        turned = turn(of, float(at.rise_east[k]), float(at.rise_north[k]))
        turns[k] = turned.ravel()
        world = single.corners.astype(np.float64) @ turned[2] * of.size_m
        high[k] = world.max() - world.min()
        if of.follows:
            z[k] = _foot_z(single, turned, survey, relief_at) - of.sunk * high[k]
        else:
            z[k] = of.foot_m - world.min()
    return Stood(
        at=np.ascontiguousarray(np.stack([x, y, z], 1)),
        turn=turns,
        size=np.array([one.of.size_m for one in singles], np.float32),
        shape=np.array([one.first for one in singles], np.int32),
        tint=np.ones((count, 3), np.float32),
        ties=np.array(
            [(one.of.of_ground, one.of.joins_m, h) for one, h in zip(singles, high, strict=True)], np.float32
        ),
    )
