"""Contact shade: what things that stand near leave of the sky, each taken as a ball.

A ball of radius R at a distance D hides (R / D) squared of the sky from a surface that faces it, by the cosine
(Lambert 1760); where a surface looks past it, less.
"""

from __future__ import annotations

import math

import numpy as np
from numpy.typing import NDArray

from elvatch.core.kernel import inner, kernel
from elvatch.core.mapping import surface
from elvatch.core.parallel import Token, over_bands
from elvatch.core.picture.fragments import Fragments
from elvatch.core.picture.kinds import GROUND, THING, WATER
from elvatch.core.thing.traced import TracedThings, hidden_by_ball
from elvatch.core.thing.tree import outside

_MOST = 0.75


@inner
def _hides(things: TracedThings, i: int, x: float, y: float, z: float, nx: float, ny: float, nz: float) -> float:
    """Return how much of the sky a thing hides from a place."""
    stood, bulk = things.stood, things.shapes.bulk
    shape, size = stood.shape[i], stood.size[i]
    radius = bulk[shape, 1] * size
    up = bulk[shape, 0] * size
    cx, cy = stood.at[i, 0] + stood.turn[i, 2] * up, stood.at[i, 1] + stood.turn[i, 5] * up
    cz = stood.at[i, 2] + stood.turn[i, 8] * up
    dx, dy, dz = cx - x, cy - y, cz - z
    away = math.sqrt(dx * dx + dy * dy + dz * dz) + 1e-9
    return hidden_by_ball(radius, bulk[shape, 2], away, (nx * dx + ny * dy + nz * dz) / away)


@inner
def _left(things: TracedThings, own: int, x: float, y: float, z: float, nx: float, ny: float, nz: float) -> float:
    """Return what all things near a place leave of the sky."""
    depth, count, left = things.depth, things.number.shape[0], 1.0
    node, level = 1, 0
    while True:
        near = things.about[node]
        go_down = outside(things.boxes, node, x, y, z) <= near * near
        if go_down and level == depth:
            leaf = node - (1 << depth)
            for i in range(count * leaf >> depth, count * (leaf + 1) >> depth):
                if i != own:
                    left *= 1.0 - min(_hides(things, i, x, y, z, nx, ny, nz), _MOST)
            go_down = False
        if go_down:
            node, level = 2 * node, level + 1
            continue
        while node & 1 and node > 1:
            node, level = node >> 1, level - 1
        if node <= 1:
            return left
        node += 1


@kernel
def _band(things: TracedThings, f: Fragments, rows: NDArray[np.int64], a: int, b: int) -> None:
    for k in range(a, b):
        i = rows[k]
        x, y, z = f.places.x_m[i], f.places.y_m[i], float(f.height_m[i])
        nx, ny, nz = surface.normal(f.places.rise_east[i], f.places.rise_north[i], 0.0, 0.0)
        if f.kind[i] != THING:
            if f.kind[i] == WATER:
                z = f.places.elevation_m[i]
            f.hollow[i] *= _left(things, -1, x, y, z, nx, ny, nz)
            continue
        own = f.hit[i] >> 32
        left = _left(things, own, x, y, z, f.normal[i, 0], f.normal[i, 1], f.normal[i, 2])
        # where it becomes the ground it is as dark as the ground beside it
        foot = min(things.stood.ties[own, 1], 0.5 * things.stood.ties[own, 2])
        joins = min(max(1.0 - (z - f.places.elevation_m[i]) / foot, 0.0), 1.0) if foot > 0.0 else 0.0
        if joins > 0.0:
            joins *= joins * (3.0 - 2.0 * joins)
            left += (_left(things, -1, x, y, z, nx, ny, nz) - left) * joins
        f.hollow[i] *= left


def darken(things: TracedThings, f: Fragments, token: Token | None = None) -> None:
    """Take from what fragments see of the sky (``hollow``) what things near them hide.

    Parameters
    ----------
    things : TracedThings
        All that stand.
    f : Fragments
        What is seen; changed in place.
    token : Token, optional
        Asked between bands.
    """
    if len(things.number) == 0:
        return
    rows = np.flatnonzero((f.kind == GROUND) | (f.kind == THING) | (f.kind == WATER))
    over_bands(len(rows), lambda a, b: _band(things, f, rows, a, b), token, least=2048)
