"""Covers of the things that a picture sees: places on them, and what lies there instead of their own material."""

from __future__ import annotations

import math
from collections.abc import Iterable, Mapping
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from elvatch.core import digest
from elvatch.core.cache import Cache
from elvatch.core.cover import on_thing
from elvatch.core.cover.on_thing import Covered, Own, Points, ReadyCover
from elvatch.core.document.thing import Thing
from elvatch.core.kernel import inner, kernel
from elvatch.core.parallel import Token, over_bands
from elvatch.core.picture.clad import facing
from elvatch.core.picture.fragments import GBuffer
from elvatch.core.picture.kinds import THING
from elvatch.core.rules.evidence import Evidence
from elvatch.core.stock.pyramid import Pyramid
from elvatch.core.strew.field import Stocked
from elvatch.core.thing.measures import NAMES
from elvatch.core.thing.traced import BEND, OPEN, UV, TracedThings, inside, into_shape

_UP, _FOOT, _GROUND, _EDGE, _SKY, _RED = (NAMES.index(one) for one in ("up", "foot", "ground", "edge", "sky", "red"))
_SMOOTH = 1e9
"""A width that all grain is finer than."""


@inner
def _along_uv(things: TracedThings, i: int, t: int, out: Points, k: int) -> None:
    """Fill in the directions of the world along which a triangle's texture coordinates grow, across its normal."""
    s, r = things.shapes, things.stood.turn
    a, b, c = s.corners[t, 0], s.corners[t, 1], s.corners[t, 2]
    u1, v1 = s.vertices[b, UV] - s.vertices[a, UV], s.vertices[a, UV + 1] - s.vertices[b, UV + 1]
    u2, v2 = s.vertices[c, UV] - s.vertices[a, UV], s.vertices[a, UV + 1] - s.vertices[c, UV + 1]
    det = u1 * v2 - u2 * v1
    if abs(det) < 1e-12:
        return
    e = s.edges
    for way in range(2):
        first, second = (v2 / det, -v1 / det) if way == 0 else (-u2 / det, u1 / det)
        x, y, z = (
            e[t, 3] * first + e[t, 6] * second,
            e[t, 4] * first + e[t, 7] * second,
            e[t, 5] * first + e[t, 8] * second,
        )
        length = math.sqrt(x * x + y * y + z * z) + 1e-12
        into = out.uv_east if way == 0 else out.uv_north
        into[k, 0] = (r[i, 0] * x + r[i, 1] * y + r[i, 2] * z) / length
        into[k, 1] = (r[i, 3] * x + r[i, 4] * y + r[i, 5] * z) / length
        into[k, 2] = (r[i, 6] * x + r[i, 7] * y + r[i, 8] * z) / length


@kernel
def _points_band(
    things: TracedThings,
    buffer_hit: NDArray[np.int64],
    height_m: NDArray[np.float32],
    ground_m: NDArray[np.float32],
    toward: NDArray[np.float32],
    x_m: NDArray[np.float64],
    y_m: NDArray[np.float64],
    rows: NDArray[np.int64],
    foot_m: NDArray[np.float64],
    out: Points,
    a: int,
    b: int,
) -> None:
    s, stood = things.shapes, things.stood
    for k in range(a, b):
        j = rows[k]
        i, t = buffer_hit[j] >> 32, buffer_hit[j] & 0xFFFFFFFF
        x, y, z = x_m[j], y_m[j], float(height_m[j])
        nx, ny, nz = facing(things, i, t, x, y, z, toward[j, 0], toward[j, 1], toward[j, 2], _SMOOTH)
        out.at[k, 0], out.at[k, 1], out.at[k, 2] = x, y, z
        out.facing[k, 0], out.facing[k, 1], out.facing[k, 2] = nx, ny, nz
        ox, oy, oz = into_shape(stood, i, x - stood.at[i, 0], y - stood.at[i, 1], z - stood.at[i, 2])
        out.own[k, 0], out.own[k, 1], out.own[k, 2] = ox, oy, oz
        fx, fy, fz = into_shape(stood, i, nx, ny, nz)
        out.own_facing[k, 0], out.own_facing[k, 1], out.own_facing[k, 2] = fx, fy, fz
        u, v = inside(things, i, t, x, y, z)
        p, q, r = s.corners[t, 0], s.corners[t, 1], s.corners[t, 2]
        w, o, size = s.vertices, 1.0 - u - v, stood.size[i]
        out.uv_m[k, 0] = size * (w[p, UV] * o + w[q, UV] * u + w[r, UV] * v)
        out.uv_m[k, 1] = -size * (w[p, UV + 1] * o + w[q, UV + 1] * u + w[r, UV + 1] * v)
        _along_uv(things, i, t, out, k)
        carried = out.carried[k]
        carried[_UP] = math.degrees(math.acos(min(max(nz, -1.0), 1.0)))
        carried[_FOOT] = z - foot_m[i]
        carried[_GROUND] = z - ground_m[j]
        carried[_EDGE] = (w[p, BEND] * o + w[q, BEND] * u + w[r, BEND] * v) / size
        carried[_SKY] = w[p, OPEN] * o + w[q, OPEN] * u + w[r, OPEN] * v


def _feet_m(things: TracedThings, seen: NDArray[np.int64]) -> NDArray[np.float64]:
    """Return the elevation of the lowest place of those things that are seen, 0 of others, (n,)."""
    s, stood = things.shapes, things.stood
    out = np.zeros(len(stood.size))
    ends = np.append(s.shapes[1:, 2], len(s.edges))
    for i in seen:
        first, end = s.shapes[stood.shape[i], 2], ends[stood.shape[i]]
        edges, down = s.edges[first:end], stood.turn[i, 6:9]
        corner = edges[:, :3] @ down
        low = min(corner.min(), (corner + edges[:, 3:6] @ down).min(), (corner + edges[:, 6:9] @ down).min())
        out[i] = stood.at[i, 2] + low * stood.size[i]
    return out


def points(
    things: TracedThings, buffer: GBuffer, rows: NDArray[np.int64], stocked: Stocked, token: Token | None = None
) -> Points:
    """Return the places on things that fragments see.

    Parameters
    ----------
    things : TracedThings
        All that stand.
    buffer : GBuffer
        What is seen.
    rows : ndarray, shape (n,), int64
        Which fragments; they see things.
    stocked : Stocked
        Which shape is of which thing.
    token : Token, optional
        Asked between bands.
    """
    f, out = buffer.fragments, on_thing.no_points(len(rows))
    feet = _feet_m(things, np.unique(f.hit[rows] >> 32))
    over_bands(
        len(rows),
        lambda a, b: _points_band(
            things,
            f.hit,
            f.height_m,
            f.places.elevation_m,
            f.toward,
            f.places.x_m,
            f.places.y_m,
            rows,
            feet,
            out,
            a,
            b,
        ),
        token,
        least=2048,
    )
    out.across_m[:] = f.places.across_m[rows]
    out.carried[:, _RED : _RED + 3] = buffer.clad.colour[buffer.clad.row[rows]]
    on_thing.carry_own_place(out)
    standing = f.hit[rows] >> 32
    shape, size = things.stood.shape[standing], things.stood.size[standing, None]
    out.part[:] = out.own / (size * stocked.stretch[shape])
    out.uv[:] = out.uv_m / size * np.array([1.0, -1.0], np.float32)
    out.variant[:] = stocked.variant[shape]
    return out


class SeenThing(NamedTuple):
    """What a picture sees of one thing that is covered: rows of its fragments, places, matrices to the world."""

    rows: NDArray[np.int64]
    points: Points
    turn: NDArray[np.float32]


def dressed(buffer: GBuffer, seen: SeenThing, found: Covered) -> GBuffer:
    """Return what is seen with a cover on one of the things in it."""
    f, clad, rows = buffer.fragments, buffer.clad, buffer.clad.row[seen.rows]
    own = found.own[:, None]
    colour, rough, metal, open_sky = clad.colour.copy(), clad.rough.copy(), clad.metal.copy(), clad.open.copy()
    colour[rows], rough[rows], metal[rows] = found.colour, found.rough, found.metal
    open_sky[rows] = clad.open[rows] * found.open
    glow = clad.glow
    if len(found.glow):
        glow = clad.glow.copy() if len(clad.glow) else np.zeros((len(clad.colour), 3), np.float32)
        glow[rows] = found.glow
    normal = f.normal.copy()
    smooth = seen.points.facing
    made = smooth + own * (f.normal[seen.rows] - smooth) - found.bump
    normal[seen.rows] = made / np.maximum(np.linalg.norm(made, axis=1, keepdims=True), 1e-9)
    return buffer._replace(
        fragments=f._replace(normal=normal),
        clad=clad._replace(colour=colour, rough=rough, metal=metal, open=open_sky, glow=glow),
    )


_ready = Cache[ReadyCover](24)


def ready(thing: Thing, sets: Mapping[str, Pyramid], evidence: Evidence) -> ReadyCover:
    """Return a thing's cover made ready; kept."""
    named = {name: found for name in thing.cover.uses() if (found := sets.get(name)) is not None}
    name = on_thing.name_of(thing.cover, named, evidence)
    return _ready.get(name, lambda: on_thing.prepare(thing.cover, named, evidence))


def all_ready(things: Iterable[Thing], sets: Mapping[str, Pyramid], evidence: Evidence) -> dict[str, ReadyCover]:
    """Return the covers of those things that have one, by their ids."""
    return {thing.id: ready(thing, sets, evidence) for thing in things if thing.cover.shows}


class Coverings:
    """Covers things in pictures, and keeps what does not change.

    Parameters
    ----------
    keep : int
        How many pictures are kept.
    """

    def __init__(self, keep: int = 12) -> None:
        self._seen = Cache[dict[str, SeenThing]](keep)
        self._dressed = Cache[GBuffer](keep)

    def dressed(
        self,
        name: str,
        buffer: GBuffer,
        things: TracedThings,
        stocked: Stocked,
        covered: Mapping[str, ReadyCover],
        taps: int,
        token: Token | None = None,
    ) -> GBuffer:
        """Return what a picture sees with covers on its things.

        Parameters
        ----------
        name : str
            Of what is seen.
        buffer : GBuffer
            What is seen.
        things : TracedThings
            All that stand.
        stocked : Stocked
            Which shape is of which thing.
        covered : mapping
            Covers by the ids of things.
        taps : int
            Most lookups along an area.
        token : Token, optional
            Asked between bands.
        """
        which = sorted(set(covered) & set(stocked.things))
        seen = self._seen.get(digest.of_json([name, which]), lambda: _all_seen(buffer, things, stocked, which, token))
        if not seen:
            return buffer

        named = digest.of_json([name, taps, [(thing, covered[thing].name) for thing in seen]])
        return self._dressed.get(named, lambda: _all_dressed(buffer, seen, covered, taps, token))


def with_covers(
    buffer: GBuffer,
    things: TracedThings,
    stocked: Stocked,
    covered: Mapping[str, ReadyCover],
    taps: int,
    token: Token | None = None,
) -> GBuffer:
    """Return what is seen with covers on its things; see :meth:`Coverings.dressed`, which keeps what it finds."""
    which = sorted(set(covered) & set(stocked.things))
    return _all_dressed(buffer, _all_seen(buffer, things, stocked, which, token), covered, taps, token)


def _all_dressed(
    buffer: GBuffer, seen: Mapping[str, SeenThing], covered: Mapping[str, ReadyCover], taps: int, token: Token | None
) -> GBuffer:
    clad = buffer.clad
    for thing, one in seen.items():
        rows = clad.row[one.rows]
        own = Own(clad.colour[rows], clad.rough[rows], clad.metal[rows])
        buffer = dressed(buffer, one, on_thing.ask(covered[thing], one.points, own, one.turn, token, taps))
    return buffer


def _all_seen(
    buffer: GBuffer, things: TracedThings, stocked: Stocked, which: list[str], token: Token | None
) -> dict[str, SeenThing]:
    """Return what is seen of each of some things, of those that are seen at all."""
    f = buffer.fragments
    rows = np.flatnonzero(f.kind == THING)
    owner = stocked.owner[things.stood.shape[f.hit[rows] >> 32]]
    out = {}
    for thing in which:
        mine = rows[owner == stocked.things.index(thing)]
        if len(mine):
            turn = things.stood.turn[f.hit[mine] >> 32].reshape(-1, 3, 3)
            out[thing] = SeenThing(mine, points(things, buffer, mine, stocked, token), turn)
    return out
