"""How a strew's things stand on the ground: turned, leaning, sunk, none floating."""

from __future__ import annotations

import math
from collections.abc import Sequence
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from elvatch.core.document.marks import DrawnPath
from elvatch.core.document.strew import Strew
from elvatch.core.ground import places as ground_places
from elvatch.core.ground.places import Places, ReliefAt
from elvatch.core.ground.survey import Survey
from elvatch.core.kernel import kernel
from elvatch.core.parallel import over_bands
from elvatch.core.rules import paths
from elvatch.core.rules.paths import PathLines, along_and_aside
from elvatch.core.strew.candidates import dice
from elvatch.core.strew.laid import BRIGHT, SUNK, TILT, TILT_WAY, TURN, VARIANT, WARM, Laid
from elvatch.core.thing.traced import Stood

Numbers = NDArray[np.float64]
_NEAR_PATH_M = 60.0


class StrewShapes(NamedTuple):
    """Shapes of a strew's things: ``first`` and ``variants`` (kinds,) rows of each kind's shapes, finest first, its
    ``levels`` one after the other for each variant; ``feet`` (kinds, variants, 8, 3) and ``height`` (kinds, variants)
    at a longest side of 1 m."""

    first: NDArray[np.int64]
    variants: NDArray[np.int64]
    levels: NDArray[np.int64]
    feet: NDArray[np.float32]
    height: NDArray[np.float32]


@kernel
def _way_band(lines: PathLines, x: Numbers, y: Numbers, out: Numbers, a: int, b: int) -> None:
    for i in range(a, b):
        _along, _aside, east, north = along_and_aside(lines, 0, x[i], y[i])
        out[i] = math.atan2(north, east)


def _headings(strew: Strew, found: Laid, at: Places, ways: Sequence[DrawnPath]) -> Numbers:
    """Return which way each thing's length points, radians from east to north."""
    stands = strew.stands
    by_chance = 2 * dice(found.number, strew.chance, TURN) - 1
    given = np.radians(found.turn_deg + stands.turn_deg)
    if stands.turned == "any":
        return by_chance * np.pi + given
    jitter = by_chance * math.radians(stands.jitter_deg)
    if stands.turned == "fall":
        return np.arctan2(-at.rise_north, -at.rise_east) + jitter + given
    path = next((one for one in ways if one.id == stands.path), None)
    if path is None:
        return jitter + given
    lines, out = paths.lay([(path, _NEAR_PATH_M)]), np.empty(len(found.x_m))
    over_bands(len(out), lambda a, b: _way_band(lines, found.x_m, found.y_m, out, a, b), least=2048)
    return out + jitter + given


def _turns(strew: Strew, found: Laid, at: Places, heading: Numbers) -> Numbers:
    """Return the matrices from each thing's axes to the world's, (n, 3, 3)."""
    lean = strew.stands.leans
    up = np.stack([-at.rise_east * lean, -at.rise_north * lean, np.ones(len(heading))], 1).astype(np.float64)
    tilt = math.radians(strew.stands.tilt_deg) * dice(found.number, strew.chance, TILT)
    way = 2 * np.pi * dice(found.number, strew.chance, TILT_WAY)
    up /= np.linalg.norm(up, axis=1, keepdims=True)
    up += np.stack([np.cos(way), np.sin(way), np.zeros(len(way))], 1) * np.tan(np.minimum(tilt, 1.5))[:, None]
    up /= np.linalg.norm(up, axis=1, keepdims=True)
    along = np.stack([np.cos(heading), np.sin(heading), np.zeros(len(heading))], 1)
    along -= up * (up * along).sum(axis=1, keepdims=True)
    along /= np.maximum(np.linalg.norm(along, axis=1, keepdims=True), 1e-9)
    return np.stack([along, np.cross(up, along), up], 2)


class Posed(NamedTuple):
    """Things that stand but for how high.

    ``stands`` as if their axes lay at height 0; ``under`` the ground below each of eight places of a foot, ``foot_m``
    (n, 8) how far these are above the axes; ``sunk_m`` (n,) how deep each sinks.
    """

    stands: Stood
    under: Places
    foot_m: Numbers
    sunk_m: Numbers

    def on(self, relief_m: NDArray[np.float32] | None) -> Stood:
        """Return them on the ground, with the cover's relief below each foot where it is given."""
        z = lowest(self.under, self.foot_m, relief_m)
        at = self.stands.at.copy()
        at[:, 2] = z - self.sunk_m
        return self.stands._replace(at=at)


def below(survey: Survey, x: Numbers, y: Numbers, ring: Numbers, wide: float) -> Places:
    """Return the ground below each thing's foot: ``ring`` (n, 8, 3) in the world, about ``x, y``."""
    flat_x, flat_y = (x[:, None] + ring[..., 0]).ravel(), (y[:, None] + ring[..., 1]).ravel()
    return ground_places.on_ground(
        survey, np.clip(flat_x, 0, survey.width_m), np.clip(flat_y, 0, survey.depth_m), wide
    )


def lowest(under: Places, foot_m: Numbers, relief_m: NDArray[np.float32] | None) -> Numbers:
    """Return how high each thing's axes may lie so that none of its foot is above the ground there."""
    height = under.elevation_m.astype(np.float64)
    if relief_m is not None:
        height = height + relief_m
    return np.asarray((height.reshape(foot_m.shape) - foot_m).min(axis=1))


def stood(
    strew: Strew,
    found: Laid,
    stock: StrewShapes,
    survey: Survey,
    ways: Sequence[DrawnPath] = (),
    relief_at: ReliefAt | None = None,
) -> Stood:
    """Return how things stand; ``shape`` is that of the finest level.

    Parameters
    ----------
    strew : Strew
        Whose things.
    found : Laid
        Which.
    stock : StrewShapes
        Their shapes.
    survey : Survey
        The ground.
    ways : sequence of DrawnPath
        Of the site.
    relief_at : callable, optional
        Returns the cover's relief at places, metres; the plain ground without.
    """
    made = posed(strew, found, stock, survey, ways)
    return made.on(relief_at(made.under) if relief_at is not None else None)


def posed(strew: Strew, found: Laid, stock: StrewShapes, survey: Survey, ways: Sequence[DrawnPath] = ()) -> Posed:
    """Return how things stand but for how high; see :func:`stood`. No edit of the cover changes it."""
    at = ground_places.on_ground(survey, found.x_m, found.y_m, 0.5)
    turn = _turns(strew, found, at, _headings(strew, found, at, ways))
    variants = stock.variants[found.kind]
    variant = np.minimum((dice(found.number, strew.chance, VARIANT) * variants).astype(np.int64), variants - 1)
    feet = stock.feet[found.kind, variant].astype(np.float64) * found.size_m[:, None, None]
    ring = np.einsum("nij,nkj->nki", turn, feet)
    wide = 0.3 * float(np.median(found.size_m)) if len(found.size_m) else 0.1
    under = below(survey, found.x_m, found.y_m, ring, wide)
    height = stock.height[found.kind, variant] * found.size_m
    stands = strew.stands
    sunk = stands.sunk_from + (stands.sunk_to - stands.sunk_from) * dice(found.number, strew.chance, SUNK)
    made = Stood(
        at=np.ascontiguousarray(np.stack([found.x_m, found.y_m, np.zeros(len(height))], 1)),
        turn=np.ascontiguousarray(turn.reshape(-1, 9), np.float32),
        size=found.size_m.astype(np.float32),
        shape=(stock.first[found.kind] + variant * stock.levels[found.kind]).astype(np.int32),
        tint=_tints(strew, found),
        ties=np.stack(
            [np.full(len(height), strew.looks.of_ground), np.full(len(height), strew.looks.foot_m), height], 1
        ).astype(np.float32),
    )
    return Posed(made, under, np.ascontiguousarray(ring[..., 2]), sunk * height)


def _tints(strew: Strew, found: Laid) -> NDArray[np.float32]:
    """Return what each thing's colour is multiplied by: brighter or darker, warmer or colder."""
    warm = strew.looks.hue * (2 * dice(found.number, strew.chance, WARM) - 1)
    bright = np.exp(strew.looks.brightness * (2 * dice(found.number, strew.chance, BRIGHT) - 1))
    tint = np.stack([1 + 0.5 * warm, np.ones(len(warm)), 1 - 0.5 * warm], 1) * bright[:, None]
    return np.ascontiguousarray(tint, np.float32)
