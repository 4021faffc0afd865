"""Things as rays meet them: two levels of bounding volumes, one over all that stand, one over each shape's triangles.

Nothing is expanded: a thing is a place, a turn and a size of a shape that many share.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from elvatch.core.kernel import inner, part
from elvatch.core.thing.solid import BARE, Solid
from elvatch.core.thing.tree import build, enter

_A_LEAF, _ONE = 4, 2
# columns of a shape's whole numbers
NODE, DEPTH, FIRST = range(3)
# columns of a vertex's numbers
NORMAL, COLOUR, ROUGH, OPEN, LEAF, UV, BEND = 0, 3, 6, 7, 8, 9, 11
VERTEX_NUMBERS = 12
_CUT_BELOW = 128
"""Alpha below which a texel is a hole."""


class Shapes(NamedTuple):
    """Solids side by side.

    ``shapes`` (s, 3) where each one's nodes and triangles begin and how deep its tree is; ``grain`` (s, 2) strength
    and size, metres at the solid's own size; ``boxes`` of all nodes; ``edges`` (t, 9) a corner and two edges of each
    triangle; ``corners`` (t, 3) rows of ``vertices``; ``image`` (t,) of each triangle; ``images`` (i, 3) where an
    image's ``texels`` begin, its width and height; ``reach`` (s, 6) box of each, ``bulk`` (s, 3) height of its
    middle, radius and how much of a ball of that radius stops light, 0..1.
    """

    shapes: NDArray[np.int64]
    grain: NDArray[np.float32]
    boxes: NDArray[np.float32]
    edges: NDArray[np.float32]
    corners: NDArray[np.int32]
    vertices: NDArray[np.float32]
    image: NDArray[np.int32]
    images: NDArray[np.int64]
    texels: NDArray[np.uint8]
    reach: NDArray[np.float32]
    bulk: NDArray[np.float32]


class Stood(NamedTuple):
    """Where things stand: ``at`` (n, 3) metres, ``turn`` (n, 9) rows of the matrix from a thing's axes to the world,
    ``size`` (n,) what a shape is multiplied by, ``shape`` (n,) which; ``tint`` (n, 3) factors on its colour; ``ties``
    (n, 3) how far it takes the ground's colour, over how many metres the ground climbs on at its foot, and its
    height, metres."""

    at: NDArray[np.float64]
    turn: NDArray[np.float32]
    size: NDArray[np.float32]
    shape: NDArray[np.int32]
    tint: NDArray[np.float32]
    ties: NDArray[np.float32]

    def some(self, rows: NDArray[np.bool_] | NDArray[np.int64]) -> Stood:
        """Return some of them."""
        return Stood(
            self.at[rows], self.turn[rows], self.size[rows], self.shape[rows], self.tint[rows], self.ties[rows]
        )


class TracedThings(NamedTuple):
    """All that stand on a ground, as compiled code takes them: in the order of a tree of ``boxes``.

    ``number`` (n,) says which of those given each is; ``about`` how far from its box things of a node darken what is
    near, metres.
    """

    depth: int
    boxes: NDArray[np.float32]
    stood: Stood
    number: NDArray[np.int64]
    shapes: Shapes
    about: NDArray[np.float32]


def shapes(solids: Sequence[Solid]) -> Shapes:
    """Return solids as rays meet them."""
    rows, boxes, edges, corners, vertices, image, texels = [], [], [], [], [], [], []
    images: list[tuple[int, int, int]] = []
    node = first = vertex = texel = 0
    for one in solids:
        a, b, c = (one.places[one.triangles[:, k]] for k in range(3))
        low, high = np.minimum(np.minimum(a, b), c), np.maximum(np.maximum(a, b), c)
        tree = build(low, high, _A_LEAF)
        order = tree.order
        rows.append((node, tree.depth, first))
        boxes.append(tree.boxes)
        edges.append(np.concatenate([a, b - a, c - a], 1)[order])
        corners.append(one.triangles[order] + vertex)
        vertices.append(
            np.concatenate(
                [
                    one.normals,
                    one.colours,
                    one.roughness[:, None],
                    one.open[:, None],
                    one.leaf[:, None],
                    one.uv,
                    (one.bend if len(one.bend) else np.zeros(len(one.places)))[:, None],
                ],
                1,
            )
        )
        image.append(np.where(one.image >= 0, one.image + len(images), BARE)[order])
        for picture in one.images:
            high_px, wide_px = picture.texels.shape[:2]
            images.append((texel, wide_px, high_px))
            texels.append(picture.texels.reshape(-1, 4))
            texel += wide_px * high_px
        node, first, vertex = node + len(tree.boxes), first + len(order), vertex + len(one.places)
    reach = [np.concatenate([one.places.min(axis=0), one.places.max(axis=0)]) for one in solids]

    def table(parts: list[NDArray[np.floating]], cols: int, kind: type[np.floating]) -> NDArray[np.floating]:
        return np.ascontiguousarray(np.concatenate([np.zeros((0, cols)), *parts]), kind)

    return Shapes(
        np.array(rows, np.int64).reshape(-1, 3),
        np.array([(one.grain, one.grain_m) for one in solids], np.float32).reshape(-1, 2),
        table(boxes, 6, np.float32),
        table(edges, 9, np.float32),
        np.concatenate([np.zeros((0, 3)), *corners]).astype(np.int32),
        table(vertices, VERTEX_NUMBERS, np.float32),
        np.concatenate([np.zeros(0), *image]).astype(np.int32),
        np.array(images, np.int64).reshape(-1, 3),
        np.concatenate([np.zeros((0, 4), np.uint8), *texels]),
        np.array(reach, np.float32).reshape(-1, 6),
        np.array([_bulk(one) for one in solids], np.float32).reshape(-1, 3),
    )


def things(stood: Stood, of: Shapes) -> TracedThings:
    """Return things ready for rays.

    Parameters
    ----------
    stood : Stood
        Where they stand.
    of : Shapes
        What they are.
    """
    low, high = bounds(stood, of)
    tree = build(low, high, _ONE)
    # boxes are 32 bit: far from the corner of a site their ends are rounded
    if len(low):
        slack = np.float32(1e-6) * np.abs(tree.boxes[1:])
        tree.boxes[1:, :3] -= slack[:, :3]
        tree.boxes[1:, 3:] += slack[:, 3:]
    in_order = stood.some(tree.order)
    return TracedThings(tree.depth, tree.boxes, in_order, tree.order, of, _about(tree.depth, in_order, of))


DARKENS = 2.0
"""Radii of a thing from its edge up to which it darkens what is near."""


@inner
def hidden_by_ball(radius: float, filled: float, away: float, towards: float) -> float:
    """Return how much of the sky a thing, taken as a ball, hides from a surface (Lambert 1760): ``filled`` how much
    of the ball it is, ``away`` how far its middle, ``towards`` the cosine to what the surface faces."""
    if away > (1.0 + DARKENS) * radius:
        return 0.0
    wide = min(radius / away, 1.0)
    # at a place beside it the upper half still rises over the horizon
    part = wide * wide * max(0.35 + 0.65 * towards, 0.0)
    fade = min(((1.0 + DARKENS) * radius - away) / (DARKENS * radius), 1.0)
    return float(part * fade * filled)


def _about(depth: int, stood: Stood, of: Shapes) -> NDArray[np.float32]:
    """Return for each node how far beyond its box its things darken what is near."""
    out = np.zeros(2 << depth, np.float32)
    count = len(stood.shape)
    if count == 0:
        return out
    radius = DARKENS * of.bulk[stood.shape, 1] * stood.size
    leaf = np.minimum(np.arange(1 << depth) * count >> depth, count - 1)
    out[1 << depth :] = np.maximum.reduceat(radius, leaf)
    for level in range(depth - 1, -1, -1):
        below = out[2 << level : 4 << level]
        out[1 << level : 2 << level] = np.maximum(below[::2], below[1::2])
    return out


def _bulk(one: Solid) -> tuple[float, float, float]:
    """Return where a solid's middle is, its radius, and how much of a ball of that radius it is by its surface."""
    a, b, c = (one.places[one.triangles[:, k]].astype(np.float64) for k in range(3))
    area = 0.5 * float(np.linalg.norm(np.cross(b - a, c - a), axis=1).sum())
    extent = one.extent_m.astype(np.float64)
    radius = float(np.cbrt(max(float(np.prod(extent)), 1e-12))) / 2
    middle = float(one.places[:, 2].mean())
    return middle, radius, min(area / (4 * np.pi * radius**2), 1.0)


def bounds(stood: Stood, of: Shapes) -> tuple[NDArray[np.float64], NDArray[np.float64]]:
    """Return the lowest and highest corners of things in the world, (n, 3) each."""
    box = of.reach[stood.shape].astype(np.float64)
    middle, half = (box[:, :3] + box[:, 3:]) / 2, (box[:, 3:] - box[:, :3]) / 2
    turn = stood.turn.reshape(-1, 3, 3).astype(np.float64)
    size = stood.size[:, None].astype(np.float64)
    at = stood.at + np.einsum("nij,nj->ni", turn, middle) * size
    reach = np.einsum("nij,nj->ni", np.abs(turn), half) * size
    return at - reach, at + reach


def nothing() -> TracedThings:
    """Return a ground with nothing on it."""
    return things(no_places(), shapes([]))


def no_places() -> Stood:
    """Return no things."""
    return Stood(
        np.zeros((0, 3)),
        np.zeros((0, 9), np.float32),
        np.zeros(0, np.float32),
        np.zeros(0, np.int32),
        np.zeros((0, 3), np.float32),
        np.zeros((0, 3), np.float32),
    )


@inner
def _hole(s: Shapes, t: int, u: float, v: float) -> bool:
    """Return whether a place of a triangle is a hole of its texture."""
    k = s.image[t]
    if k < 0:
        return False
    a, b, c = s.corners[t, 0], s.corners[t, 1], s.corners[t, 2]
    across = s.vertices[a, UV] * (1.0 - u - v) + s.vertices[b, UV] * u + s.vertices[c, UV] * v
    down = s.vertices[a, UV + 1] * (1.0 - u - v) + s.vertices[b, UV + 1] * u + s.vertices[c, UV + 1] * v
    return bool(s.texels[texel_at(s, k, across, down), 3] < _CUT_BELOW)


@inner
def texel_at(s: Shapes, k: int, across: float, down: float) -> int:
    """Return the row of the nearest texel of image ``k``; it repeats."""
    wide, high = s.images[k, 1], s.images[k, 2]
    col = min(int((across - math.floor(across)) * wide), wide - 1)
    row = min(int((down - math.floor(down)) * high), high - 1)
    return int(s.images[k, 0] + row * wide + col)


@inner
def _meet_shape(
    s: Shapes, shape: int, x: float, y: float, z: float, dx: float, dy: float, dz: float, near: float, far: float
) -> tuple[float, int]:
    """Return where a ray first meets a shape in the shape's own axes, and which triangle; infinity and -1 if none."""
    ix, iy, iz = 1.0 / dx, 1.0 / dy, 1.0 / dz
    base, depth, first = s.shapes[shape, NODE], s.shapes[shape, DEPTH], s.shapes[shape, FIRST]
    count = (s.shapes[shape + 1, FIRST] if shape + 1 < s.shapes.shape[0] else s.edges.shape[0]) - first
    best, which = far, -1
    if enter(s.boxes, base + 1, x, y, z, ix, iy, iz, near, best) == math.inf:
        return math.inf, -1
    node, level, trail = 1, 0, 0
    while True:
        go_up = True
        if level == depth:
            i = node - (1 << depth)
            for t in range(first + (count * i >> depth), first + (count * (i + 1) >> depth)):
                e = s.edges
                px, py, pz = dy * e[t, 8] - dz * e[t, 7], dz * e[t, 6] - dx * e[t, 8], dx * e[t, 7] - dy * e[t, 6]
                det = e[t, 3] * px + e[t, 4] * py + e[t, 5] * pz
                if det == 0.0:
                    continue
                over = 1.0 / det
                sx, sy, sz = x - e[t, 0], y - e[t, 1], z - e[t, 2]
                u = (sx * px + sy * py + sz * pz) * over
                if u < 0.0 or u > 1.0:
                    continue
                qx, qy, qz = sy * e[t, 5] - sz * e[t, 4], sz * e[t, 3] - sx * e[t, 5], sx * e[t, 4] - sy * e[t, 3]
                v = (dx * qx + dy * qy + dz * qz) * over
                if v < 0.0 or u + v > 1.0:
                    continue
                far_t = (e[t, 6] * qx + e[t, 7] * qy + e[t, 8] * qz) * over
                if near < far_t < best and not _hole(s, t, u, v):
                    best, which = far_t, t
        else:
            a = enter(s.boxes, base + 2 * node, x, y, z, ix, iy, iz, near, best)
            b = enter(s.boxes, base + 2 * node + 1, x, y, z, ix, iy, iz, near, best)
            if a < math.inf or b < math.inf:
                node = 2 * node + (1 if b < a else 0)
                level += 1
                trail = (trail << 1) | (1 if a < math.inf and b < math.inf else 0)
                go_up = False
        if go_up:
            # up to where a second child still waits, and into it if it may still be nearer
            while True:
                while level > 0 and trail & 1 == 0:
                    node, trail, level = node >> 1, trail >> 1, level - 1
                if level == 0:
                    return (best, which) if which >= 0 else (math.inf, -1)
                node, trail = node ^ 1, trail ^ 1
                if enter(s.boxes, base + node, x, y, z, ix, iy, iz, near, best) < math.inf:
                    break


@inner
def _away_from_zero(d: float) -> float:
    return d if abs(d) > 1e-12 else math.copysign(1e-12, d)


@inner
def into_shape(stood: Stood, i: int, x: float, y: float, z: float) -> tuple[float, float, float]:
    """Return a vector of the world in a thing's own axes, not scaled."""
    r = stood.turn
    return (
        r[i, 0] * x + r[i, 3] * y + r[i, 6] * z,
        r[i, 1] * x + r[i, 4] * y + r[i, 7] * z,
        r[i, 2] * x + r[i, 5] * y + r[i, 8] * z,
    )


@part
def meet_things(
    things: TracedThings,
    x: float,
    y: float,
    z: float,
    dx: float,
    dy: float,
    dz: float,
    near: float,
    far: float,
    any: bool,
) -> tuple[float, int]:
    """Return where a unit ray first meets a thing between two distances, and which: thing and triangle in one number.

    ``any`` returns the first that is found, wherever it lies.
    """
    depth, stood = things.depth, things.stood
    count = stood.shape.shape[0]
    best, hit = far, -1
    if count == 0:
        return math.inf, -1
    wx, wy, wz = _away_from_zero(dx), _away_from_zero(dy), _away_from_zero(dz)
    ix, iy, iz = 1.0 / wx, 1.0 / wy, 1.0 / wz
    if enter(things.boxes, 1, x, y, z, ix, iy, iz, near, best) == math.inf:
        return math.inf, -1
    node, level, trail = 1, 0, 0
    while True:
        go_up = True
        if level == depth:
            leaf = node - (1 << depth)
            for i in range(count * leaf >> depth, count * (leaf + 1) >> depth):
                ox, oy, oz = into_shape(stood, i, x - stood.at[i, 0], y - stood.at[i, 1], z - stood.at[i, 2])
                vx, vy, vz = into_shape(stood, i, dx, dy, dz)
                less = 1.0 / stood.size[i]
                t, which = _meet_shape(
                    things.shapes,
                    stood.shape[i],
                    ox * less,
                    oy * less,
                    oz * less,
                    _away_from_zero(vx),
                    _away_from_zero(vy),
                    _away_from_zero(vz),
                    near * less,
                    best * less,
                )
                if which >= 0:
                    best, hit = t * stood.size[i], (i << 32) | which
                    if any:
                        return best, hit
        else:
            a = enter(things.boxes, 2 * node, x, y, z, ix, iy, iz, near, best)
            b = enter(things.boxes, 2 * node + 1, x, y, z, ix, iy, iz, near, best)
            if a < math.inf or b < math.inf:
                node = 2 * node + (1 if b < a else 0)
                level += 1
                trail = (trail << 1) | (1 if a < math.inf and b < math.inf else 0)
                go_up = False
        if go_up:
            while True:
                while level > 0 and trail & 1 == 0:
                    node, trail, level = node >> 1, trail >> 1, level - 1
                if level == 0:
                    return (best, hit) if hit >= 0 else (math.inf, -1)
                node, trail = node ^ 1, trail ^ 1
                if enter(things.boxes, node, x, y, z, ix, iy, iz, near, best) < math.inf:
                    break


@inner
def inside(things: TracedThings, i: int, t: int, x: float, y: float, z: float) -> tuple[float, float]:
    """Return how far along both edges of triangle ``t`` of thing ``i`` a place of the world lies."""
    stood, e = things.stood, things.shapes.edges
    px, py, pz = into_shape(stood, i, x - stood.at[i, 0], y - stood.at[i, 1], z - stood.at[i, 2])
    less = 1.0 / stood.size[i]
    px, py, pz = px * less - e[t, 0], py * less - e[t, 1], pz * less - e[t, 2]
    aa = e[t, 3] * e[t, 3] + e[t, 4] * e[t, 4] + e[t, 5] * e[t, 5]
    bb = e[t, 6] * e[t, 6] + e[t, 7] * e[t, 7] + e[t, 8] * e[t, 8]
    ab = e[t, 3] * e[t, 6] + e[t, 4] * e[t, 7] + e[t, 5] * e[t, 8]
    pa = px * e[t, 3] + py * e[t, 4] + pz * e[t, 5]
    pb = px * e[t, 6] + py * e[t, 7] + pz * e[t, 8]
    det = aa * bb - ab * ab
    if det <= 0.0:
        return 0.0, 0.0
    u = min(max((pa * bb - pb * ab) / det, 0.0), 1.0)
    v = min(max((pb * aa - pa * ab) / det, 0.0), 1.0 - u)
    return u, v
