"""What a thing's own shape leaves of the sky at each of its corners, found with rays."""

from __future__ import annotations

import math

import numpy as np
from numpy.typing import NDArray

from elvatch.core.kernel import kernel
from elvatch.core.parallel import over_bands
from elvatch.core.thing import traced
from elvatch.core.thing.solid import Solid
from elvatch.core.thing.traced import Stood, TracedThings, meet_things

_RAYS, _MOST_RAYS = 192, 4_000_000
"""From each place, and in all."""
_TURN = 2.399963229728653
"""The golden angle: directions beside each other never line up."""


@kernel
def _open_band(
    things: TracedThings,
    places: NDArray[np.float64],
    normals: NDArray[np.float64],
    lift: float,
    rays: int,
    out: NDArray[np.float32],
    a: int,
    b: int,
) -> None:
    for i in range(a, b):
        nx, ny, nz = normals[i, 0], normals[i, 1], normals[i, 2]
        # two directions across the normal (Duff et al. 2017)
        sign = math.copysign(1.0, nz)
        s = -1.0 / (sign + nz)
        t = nx * ny * s
        ux, uy, uz = 1.0 + sign * nx * nx * s, sign * t, -sign * nx
        vx, vy, vz = t, sign + ny * ny * s, -ny
        free = 0
        for k in range(rays):
            out_by = math.sqrt((k + 0.5) / rays)
            up, turn = math.sqrt(1.0 - out_by * out_by), _TURN * k
            c, d = out_by * math.cos(turn), out_by * math.sin(turn)
            dx, dy, dz = c * ux + d * vx + up * nx, c * uy + d * vy + up * ny, c * uz + d * vz + up * nz
            _far, met = meet_things(
                things,
                places[i, 0] + lift * nx,
                places[i, 1] + lift * ny,
                places[i, 2] + lift * nz,
                dx,
                dy,
                dz,
                0.0,
                1e9,
                True,
            )
            if met < 0:
                free += 1
        out[i] = free / rays


def left_open(of: Solid) -> NDArray[np.float32]:
    """Return what of the half of space before each corner, by the cosine, a solid's own shape leaves, (n,), 0..1."""
    return left_open_at(of, of.places.astype(np.float64), of.normals.astype(np.float64))


def left_open_at(of: Solid, places: NDArray[np.float64], normals: NDArray[np.float64]) -> NDArray[np.float32]:
    """Return :func:`left_open` at any places of a solid, shapes (n, 3), with unit normals."""
    alone = Stood(
        np.zeros((1, 3)),
        np.eye(3, dtype=np.float32).reshape(1, 9),
        np.ones(1, np.float32),
        np.zeros(1, np.int32),
        np.ones((1, 3), np.float32),
        np.zeros((1, 3), np.float32),
    )
    things = traced.things(alone, traced.shapes([of]))
    lift = 1e-4 * float(of.extent_m.max())
    rays = int(np.clip(_MOST_RAYS / max(len(places), 1), 24, _RAYS))
    out = np.empty(len(places), np.float32)
    over_bands(len(places), lambda a, b: _open_band(things, places, normals, lift, rays, out, a, b), least=64)
    return out
