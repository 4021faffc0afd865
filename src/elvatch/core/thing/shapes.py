"""What generators of things put together: stones cut by planes, tubes along a line, blades."""

from __future__ import annotations

import functools
import math
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from elvatch.core.thing.grain import Points, noise_at
from elvatch.core.thing.solid import Solid, solid

Rng = np.random.Generator


@functools.cache
def sphere(halvings: int) -> tuple[Points, NDArray[np.int32]]:
    """Return a sphere of triangles, an icosahedron halved a few times: unit places and triangles."""
    g = (1 + math.sqrt(5)) / 2
    places = [
        (-1, g, 0),
        (1, g, 0),
        (-1, -g, 0),
        (1, -g, 0),
        (0, -1, g),
        (0, 1, g),
        (0, -1, -g),
        (0, 1, -g),
        (g, 0, -1),
        (g, 0, 1),
        (-g, 0, -1),
        (-g, 0, 1),
    ]
    faces = [
        (0, 11, 5),
        (0, 5, 1),
        (0, 1, 7),
        (0, 7, 10),
        (0, 10, 11),
        (1, 5, 9),
        (5, 11, 4),
        (11, 10, 2),
        (10, 7, 6),
        (7, 1, 8),
        (3, 9, 4),
        (3, 4, 2),
        (3, 2, 6),
        (3, 6, 8),
        (3, 8, 9),
        (4, 9, 5),
        (2, 4, 11),
        (6, 2, 10),
        (8, 6, 7),
        (9, 8, 1),
    ]
    at, triangles = np.array(places, np.float64), np.array(faces, np.int32)
    at /= np.linalg.norm(at, axis=1, keepdims=True)
    for _ in range(halvings):
        edges = np.sort(np.concatenate([triangles[:, [0, 1]], triangles[:, [1, 2]], triangles[:, [2, 0]]]), axis=1)
        known, which = np.unique(edges, axis=0, return_inverse=True)
        middles = at[known].mean(axis=1)
        ab, bc, ca = (which.reshape(3, -1) + len(at)).astype(np.int32)
        a, b, c = triangles.T
        triangles = np.concatenate([np.stack(t, 1) for t in ((a, ab, ca), (ab, b, bc), (ca, bc, c), (ab, bc, ca))])
        at = np.concatenate([at, middles / np.linalg.norm(middles, axis=1, keepdims=True)])
    return at, triangles


def stone(
    rng: Rng,
    squash: tuple[float, float, float],
    planes: int,
    sharp: float,
    rough: float,
    halvings: int = 4,
    layered: float = 0.0,
) -> tuple[Points, NDArray[np.int32]]:
    """Return a stone: a ball cut by planes, worn at its edges, with a rough surface.

    Parameters
    ----------
    rng : Generator
        Chance.
    squash : tuple of float
        Half its size along each axis.
    planes : int
        How many cut it.
    sharp : float
        0 rounded, 1 freshly broken.
    rough : float
        Height of what is finer than its cuts, as a share of its size.
    halvings : int
        Of an icosahedron's triangles.
    layered : float
        0..1, how far it breaks along beds that lie level in it.
    """
    ways, triangles = sphere(halvings)
    cuts = rng.normal(size=(planes, 3))
    cuts /= np.linalg.norm(cuts, axis=1, keepdims=True)
    if layered:
        # beds above and below, and cuts square to them
        cuts[:, 2] *= 1 - layered
        cuts[:4, :2] *= 0.12
        cuts[:4, 2] = np.array([1, -1, 1, -1])
        cuts /= np.linalg.norm(cuts, axis=1, keepdims=True)
    deep = rng.uniform(0.62, 1.0, planes)
    reach = np.maximum(ways @ cuts.T, 1e-3) / deep
    # the nearest plane in each direction, its edges as soft as a large power makes them
    power = 6 + 54 * sharp
    radius = np.minimum((reach**power).sum(axis=1) ** (-1 / power), 1.15)
    places = ways * radius[:, None]
    seed = int(rng.integers(1 << 20))
    places = (
        places
        * (1 + 0.12 * noise_at(places, seed, 0.9, 2) + rough * noise_at(places, seed + 7, 0.28, 5, 0.6))[:, None]
    )
    return places * np.array(squash), triangles


def hollows(places: Points, triangles: NDArray[np.int32]) -> Points:
    """Return how far each vertex lies out from (positive) or in below its neighbours, in lengths of its edges."""
    total, count = np.zeros_like(places), np.zeros(len(places))
    for a, b in ((0, 1), (1, 2), (2, 0)):
        np.add.at(total, triangles[:, a], places[triangles[:, b]])
        np.add.at(count, triangles[:, a], 1)
    away = places - total / np.maximum(count, 1)[:, None]
    out = places - places.mean(axis=0)
    out /= np.maximum(np.linalg.norm(out, axis=1, keepdims=True), 1e-9)
    edge = np.linalg.norm(places[triangles[:, 0]] - places[triangles[:, 1]], axis=1).mean()
    return np.asarray((away * out).sum(axis=1) / max(float(edge), 1e-9))


def tube(
    line: Points,
    radii: Points,
    sides: int,
    colour: NDArray[np.floating],
    roughness: float = 0.85,
    rng: Rng | None = None,
    uneven: float = 0.0,
    end: bool = True,
) -> Solid:
    """Return a tube along a line (k, 3) with a radius at each of its points.

    ``uneven`` moves its skin in and out by a share of its radius; ``end`` closes it. ``colour``: one, or one a point.
    """
    count = len(line)
    along = np.gradient(line, axis=0)
    along /= np.maximum(np.linalg.norm(along, axis=1, keepdims=True), 1e-9)
    first = np.cross(along[0], [0.0, 0.0, 1.0] if abs(along[0, 2]) < 0.9 else [1.0, 0.0, 0.0])
    rights = np.empty_like(line)
    for k in range(count):
        first = first - along[k] * (first @ along[k])
        first /= max(float(np.linalg.norm(first)), 1e-9)
        rights[k] = first
    ups = np.cross(along, rights)
    turn = 2 * np.pi * np.arange(sides) / sides
    ring = np.cos(turn)[None, :, None] * rights[:, None] + np.sin(turn)[None, :, None] * ups[:, None]
    wide = np.broadcast_to(radii[:, None], (count, sides)).copy()
    if rng is not None and uneven > 0:
        # ribs run along it
        ribs = rng.normal(size=sides)[None, :] * 0.6 + rng.normal(size=(count, sides)) * 0.4
        wide *= 1 + uneven * ribs
    places = (line[:, None] + ring * wide[..., None]).reshape(-1, 3)
    row, s = np.meshgrid(np.arange(count - 1), np.arange(sides), indexing="ij")
    a, b = row * sides + s, row * sides + (s + 1) % sides
    c, d = a + sides, b + sides
    triangles = [np.stack([a, b, d], -1).reshape(-1, 3), np.stack([a, d, c], -1).reshape(-1, 3)]
    colours = np.broadcast_to(np.atleast_2d(np.asarray(colour, np.float64)), (count, 3))
    tints = np.repeat(colours, sides, axis=0)
    if end:
        places = np.concatenate([places, line[:1] - along[:1] * 0, line[-1:]])
        tints = np.concatenate([tints, colours[:1], colours[-1:]])
        turns, last = np.arange(sides), (count - 1) * sides
        low, high = np.full(sides, count * sides), np.full(sides, count * sides + 1)
        triangles.append(np.stack([low, (turns + 1) % sides, turns], 1))
        triangles.append(np.stack([high, last + turns, last + (turns + 1) % sides], 1))
    return solid(places, np.concatenate(triangles), tints, roughness)


class BladeCut(NamedTuple):
    """How blades are cut: of so many ``parts``; ``roughness``; how much light comes through (``leaf``); how far each
    is folded along its middle (``fold``); where it is widest along it (``widest``): 0 a grass blade, 0.4 a leaf."""

    parts: int = 4
    roughness: float = 0.6
    leaf: float = 0.5
    fold: float = 0.25
    widest: float = 0.0


GRASS = BladeCut()


def blade(
    base: Points,
    heading: float,
    length: float,
    width: float,
    bend: float,
    colours: tuple[Points, Points],
    cut: BladeCut = GRASS,
) -> Solid:
    """Return a blade that rises from a place and bends over towards a heading (radians).

    ``colours`` are those at its foot and at its tip.
    """
    parts, roughness, leaf, fold, widest = cut
    t = np.linspace(0, 1, parts + 1)
    angle = np.pi / 2 - bend * t
    steps = np.stack([np.cos(angle), np.sin(angle)], 1) * (length / parts)
    out, up = np.cumsum(np.vstack([[0, 0], steps[:-1]]), axis=0).T
    ahead = np.array([math.cos(heading), math.sin(heading), 0.0])
    side = np.array([-math.sin(heading), math.cos(heading), 0.0])
    line = base + out[:, None] * ahead + up[:, None] * np.array([0.0, 0.0, 1.0])
    wide = (
        width / 2 * np.where(t < widest, 0.25 + 0.75 * t / max(widest, 1e-9), 1 - ((t - widest) / (1 - widest)) ** 2)
    )
    facing = np.stack([-np.sin(angle)[:, None] * ahead + np.cos(angle)[:, None] * np.array([0, 0, 1.0])], 0)[0]
    lift = facing * (wide * fold)[:, None]
    left, right = line + side * wide[:, None] + lift, line - side * wide[:, None] + lift
    places = np.stack([left, line, right], 1).reshape(-1, 3)
    normals = np.stack([-facing + side * fold, -facing, -facing - side * fold], 1).reshape(-1, 3)
    normals /= np.linalg.norm(normals, axis=1, keepdims=True)
    k = np.arange(parts)[:, None] * 3
    triangles = np.concatenate([k + np.array(t3) for t3 in ((0, 1, 4), (0, 4, 3), (1, 2, 5), (1, 5, 4))])
    mix = np.repeat(t, 3)[:, None]
    dim = np.repeat(0.35 + 0.65 * np.minimum(t * 1.6, 1.0), 3)
    return solid(
        places, triangles, colours[0] * (1 - mix) + colours[1] * mix, roughness, leaf, normals=normals, open_sky=dim
    )


def bent(rng: Rng, start: Points, way: Points, length: float, parts: int, wander: float, sag: float = 0.0) -> Points:
    """Return a line (parts + 1, 3) that sets out one way and wanders; ``sag`` pulls it down (or up, below 0)."""
    line, at, way = [start], np.array(start, np.float64), np.array(way, np.float64)
    for _ in range(parts):
        way = way + rng.normal(size=3) * wander + np.array([0, 0, -sag])
        way /= np.linalg.norm(way)
        at = at + way * (length / parts)
        line.append(at)
    return np.array(line)
