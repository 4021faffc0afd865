"""The place of a thing's surface that lies closest to places beside it."""

from __future__ import annotations

import math
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from elvatch.core.kernel import inner, kernel
from elvatch.core.parallel import Token, over_bands
from elvatch.core.thing.traced import DEPTH, FIRST, NODE, NORMAL, Shapes, TracedThings, into_shape
from elvatch.core.thing.tree import outside

Numbers = NDArray[np.float64]


class ClosestPlaces(NamedTuple):
    """Of ``n`` places: ``away_m`` how far the closest place of the thing lies, infinity where none lies near enough;
    ``at`` (n, 3) that place, metres; ``triangle`` which; ``within`` whether the asked place lies inside the thing."""

    away_m: Numbers
    at: Numbers
    triangle: NDArray[np.int64]
    within: NDArray[np.bool_]

    def some(self, rows: NDArray[np.int64]) -> ClosestPlaces:
        """Return some of them."""
        return ClosestPlaces(self.away_m[rows], self.at[rows], self.triangle[rows], self.within[rows])


@inner
def _along(s: Shapes, t: int, x: float, y: float, z: float) -> tuple[float, float]:
    """Return how far along both edges of a triangle its place closest to another lies (Ericson 2005, 5.1.5)."""
    e = s.edges
    ax, ay, az = e[t, 3], e[t, 4], e[t, 5]
    bx, by, bz = e[t, 6], e[t, 7], e[t, 8]
    px, py, pz = x - e[t, 0], y - e[t, 1], z - e[t, 2]
    aa, bb, ab = ax * ax + ay * ay + az * az, bx * bx + by * by + bz * bz, ax * bx + ay * by + az * bz
    pa, pb = px * ax + py * ay + pz * az, px * bx + py * by + pz * bz
    if pa <= 0.0 and pb <= 0.0:
        return 0.0, 0.0
    if pa >= aa and pb - ab <= pa - aa:
        return 1.0, 0.0
    if pb >= bb and pa - ab <= pb - bb:
        return 0.0, 1.0
    det = aa * bb - ab * ab
    u, v = pa * bb - pb * ab, pb * aa - pa * ab
    if v <= 0.0 and 0.0 <= pa <= aa:
        return pa / max(aa, 1e-30), 0.0
    if u <= 0.0 and 0.0 <= pb <= bb:
        return 0.0, pb / max(bb, 1e-30)
    if u + v >= det:
        # along the edge across from the first corner
        w = (pb - pa + aa - ab) / max(aa - 2.0 * ab + bb, 1e-30)
        w = min(max(w, 0.0), 1.0)
        return 1.0 - w, w
    return u / max(det, 1e-30), v / max(det, 1e-30)


@inner
def _closest(s: Shapes, shape: int, x: float, y: float, z: float, reach: float) -> tuple[float, int, float, float]:
    """Return the square of how far a shape lies from a place in its own axes, the triangle and where on it; -1 if it
    lies further than ``reach``."""
    base, depth, first = s.shapes[shape, NODE], s.shapes[shape, DEPTH], s.shapes[shape, FIRST]
    count = (s.shapes[shape + 1, FIRST] if shape + 1 < s.shapes.shape[0] else s.edges.shape[0]) - first
    best, which, best_u, best_v = reach * reach, -1, 0.0, 0.0
    node, e = 1, s.edges
    while True:
        if outside(s.boxes, base + node, x, y, z) < best:
            if node < 1 << depth:
                node *= 2
                continue
            leaf = node - (1 << depth)
            for t in range(first + (count * leaf >> depth), first + (count * (leaf + 1) >> depth)):
                u, v = _along(s, t, x, y, z)
                dx = x - e[t, 0] - u * e[t, 3] - v * e[t, 6]
                dy = y - e[t, 1] - u * e[t, 4] - v * e[t, 7]
                dz = z - e[t, 2] - u * e[t, 5] - v * e[t, 8]
                away = dx * dx + dy * dy + dz * dz
                if away < best:
                    best, which, best_u, best_v = away, t, u, v
        # a second child's next is its parent's
        while node > 1 and node & 1 == 1:
            node >>= 1
        if node == 1:
            return best, which, best_u, best_v
        node += 1


@kernel
def _closest_band(
    things: TracedThings, i: int, places: Numbers, reach_m: float, out: ClosestPlaces, a: int, b: int
) -> None:
    stood, s = things.stood, things.shapes
    size, r = float(stood.size[i]), stood.turn
    for k in range(a, b):
        px, py, pz = places[k, 0] - stood.at[i, 0], places[k, 1] - stood.at[i, 1], places[k, 2] - stood.at[i, 2]
        ox, oy, oz = into_shape(stood, i, px, py, pz)
        x, y, z = ox / size, oy / size, oz / size
        away, t, u, v = _closest(s, stood.shape[i], x, y, z, reach_m / size)
        out.triangle[k], out.within[k] = t, False
        if t < 0:
            out.away_m[k] = math.inf
            continue
        e, w = s.edges, s.vertices
        cx = e[t, 0] + u * e[t, 3] + v * e[t, 6]
        cy = e[t, 1] + u * e[t, 4] + v * e[t, 7]
        cz = e[t, 2] + u * e[t, 5] + v * e[t, 8]
        # at an edge the triangle itself may face either way: its corners tell
        p, q, g = s.corners[t, 0], s.corners[t, 1], s.corners[t, 2]
        outwards = 0.0
        for c in range(3):
            n = w[p, NORMAL + c] * (1.0 - u - v) + w[q, NORMAL + c] * u + w[g, NORMAL + c] * v
            outwards += n * ((x - cx) if c == 0 else (y - cy) if c == 1 else (z - cz))
        out.within[k] = outwards < 0.0
        out.away_m[k] = math.sqrt(away) * size
        for c in range(3):
            out.at[k, c] = stood.at[i, c] + size * (r[i, 3 * c] * cx + r[i, 3 * c + 1] * cy + r[i, 3 * c + 2] * cz)


def closest(
    things: TracedThings, i: int, places: Numbers, reach_m: float, token: Token | None = None
) -> ClosestPlaces:
    """Return the places of a thing's surface closest to others, by its tree of boxes.

    Parameters
    ----------
    things : TracedThings
        All that stand.
    i : int
        Which of them.
    places : ndarray, shape (n, 3), float64
        In the world, metres.
    reach_m : float
        Nothing further away is looked for.
    token : Token, optional
        Asked between bands.
    """
    n = len(places)
    out = ClosestPlaces(np.empty(n), np.zeros((n, 3)), np.empty(n, np.int64), np.zeros(n, np.bool_))
    over_bands(n, lambda a, b: _closest_band(things, i, places, reach_m, out, a, b), token, least=512)
    return out
