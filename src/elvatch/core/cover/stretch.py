"""How far a projection pulls a texture apart, and how many of its pixels are left for a metre of ground."""

from __future__ import annotations

import math

import numpy as np
from numpy.typing import NDArray

from elvatch.core.cover import plan as p
from elvatch.core.cover.plan import Plan, Prepared
from elvatch.core.ground.places import Places
from elvatch.core.kernel import inner, kernel
from elvatch.core.mapping import fitting
from elvatch.core.mapping.fit_row import (
    DOWNHILL,
    EDGE,
    OFF_EAST,
    OFF_NORTH,
    PROJECTION,
    SIDE,
    SIDE_X,
    SIDE_Y,
    SIDES,
    STEEP,
    TRIPLANAR,
)
from elvatch.core.mapping.planes import plane_weights
from elvatch.core.mapping.relief_sides import faced, side_edge, side_share, with_relief
from elvatch.core.mapping.repeats import at_corner, lattice, sharpened
from elvatch.core.parallel import Token, over_bands

MOST = 32.0
"""Where a texture is seen edge-on its stretch has no end; this is told instead."""


@inner
def _of_lie(gx: float, gy: float, nx: float, ny: float, nz: float) -> float:
    """Return how many metres of ground with a gradient lie over one metre of a plane, at most."""
    along = math.sqrt(gx * gx + gy * gy + 1.0)
    cosine = abs(-gx * nx - gy * ny + nz) / along
    return 1.0 / max(cosine, 1.0 / MOST)


@inner
def _of_runs(plan: Plan, k: int, x: float, y: float, gx: float, gy: float) -> float:
    """Return the stretch of patches that lie on the ground's own lie, each as at its middle."""
    layer, f = plan.layers[k], p.FIT
    edge = fitting.PATCH_OF_RUNS * layer[p.TILE]
    total, counted = 0.0, 0.0
    for corner in range(3):
        column, row, weight = lattice((x - layer[f + OFF_EAST]) / edge, (y - layer[f + OFF_NORTH]) / edge, corner)
        weight = sharpened(weight)
        cx, cy = at_corner(column, row)
        mx, my = fitting.fall_at(plan.fall, cx * edge + layer[f + OFF_EAST], cy * edge + layer[f + OFF_NORTH])
        up = 1.0 / math.sqrt(1.0 + mx * mx + my * my)
        total += weight * _of_lie(gx, gy, -mx * up, -my * up, up)
        counted += weight
    return total / max(counted, 1e-12)


@inner
def _with_sides(
    layer: NDArray[np.float64], f: int, gx: float, gy: float, rx: float, ry: float, planes: float
) -> float:
    """Return the stretch on relief whose sides are laid across them, ``planes`` that of what the ground asks for."""
    if layer[f + SIDES] <= 0.0:
        return planes
    edge = side_edge(layer, f)
    ground = side_share(math.sqrt(gx * gx + gy * gy), edge)
    extra = side_share(math.sqrt(rx * rx + ry * ry), edge) - ground
    if extra < 0.0:
        level = -extra / ground if layer[f + PROJECTION] == TRIPLANAR else 0.0
        return (1.0 - level) * planes + level * _of_lie(rx, ry, 0.0, 0.0, 1.0)
    extra /= max(1.0 - ground, 1e-6)
    face, after = faced(rx, ry)
    angle, further = face * math.pi / 4.0, (face + 1) * math.pi / 4.0
    side = (1.0 - after) * _of_lie(rx, ry, math.cos(angle), math.sin(angle), 0.0)
    side += after * _of_lie(rx, ry, math.cos(further), math.sin(further), 0.0)
    return (1.0 - extra) * planes + extra * side


@kernel
def _band(
    plan: Plan,
    k: int,
    places: Places,
    relief: NDArray[np.float32],
    stretch: NDArray[np.float32],
    density: NDArray[np.float32],
    a: int,
    b: int,
) -> None:
    layer, f = plan.layers[k], p.FIT
    texels = plan.sets[k, 1] / layer[p.TILE]
    steep_texels = plan.sets[k, 2 * STEEP + 1] / layer[p.TILE]
    for i in range(a, b):
        gx, gy = float(places.rise_east[i]), float(places.rise_north[i])
        rx, ry = gx, gy
        if relief.shape[0] > 0 and layer[f + SIDES] != 0.0:
            rx, ry = with_relief(layer, f, gx, gy, float(relief[i, 0]), float(relief[i, 1]))
        projection = layer[f + PROJECTION]
        if projection == TRIPLANAR:
            wx, wy, wz = plane_weights(gx, gy, layer[f + EDGE])
            sx, sy = _of_lie(rx, ry, 1.0, 0.0, 0.0), _of_lie(rx, ry, 0.0, 1.0, 0.0)
            sz = _of_lie(rx, ry, 0.0, 0.0, 1.0)
            stretch[i] = _with_sides(layer, f, gx, gy, rx, ry, wx * sx + wy * sy + wz * sz)
            density[i] = (wx / sx + wy / sy) * steep_texels + wz / sz * texels
            continue
        if projection == SIDE:
            stretch[i] = _of_lie(gx, gy, layer[f + SIDE_X], layer[f + SIDE_Y], 0.0)
        elif projection == DOWNHILL:
            stretch[i] = _of_runs(plan, k, places.x_m[i], places.y_m[i], gx, gy)
        else:
            stretch[i] = _with_sides(layer, f, gx, gy, rx, ry, _of_lie(rx, ry, 0.0, 0.0, 1.0))
        density[i] = texels / stretch[i]


def of_layer(
    prepared: Prepared,
    k: int,
    places: Places,
    token: Token | None = None,
    relief: NDArray[np.float32] | None = None,
) -> tuple[NDArray[np.float32], NDArray[np.float32]]:
    """Return a layer's stretch and texel density at places.

    Parameters
    ----------
    prepared : Prepared
        The layers.
    k : int
        Which layer of the plan.
    places : Places
        Where.
    token : Token, optional
        Asked between bands.
    relief : ndarray, shape (n, 2), float32, optional
        Slopes of the relief there, as :class:`~elvatch.core.cover.material.Material` has them, to tell its sides as
        well; else the ground alone is told.

    Returns
    -------
    stretch : ndarray, shape (n,), float32
        Metres of ground that a metre of texture is pulled over, in the worst direction; 1 is true to
        size, :data:`MOST` the most that is told. Of several planes the mean by what each counts.
    density : ndarray, shape (n,), float32
        Pixels of the set for a metre of ground in that direction, px/m.
    """
    count = len(places.x_m)
    stretch, density = np.empty(count, np.float32), np.empty(count, np.float32)
    shape = np.zeros((0, 2), np.float32) if relief is None else relief
    over_bands(count, lambda a, b: _band(prepared.plan, k, places, shape, stretch, density, a, b), token, least=4096)
    return stretch, density


def of_cover(
    prepared: Prepared,
    places: Places,
    shares: NDArray[np.float32],
    token: Token | None = None,
    relief: NDArray[np.float32] | None = None,
) -> tuple[NDArray[np.float32], NDArray[np.float32]]:
    """Return stretch and density of what lies at places, by the share of each layer; see :func:`of_layer`."""
    stretch, density = np.ones(len(places.x_m), np.float32), np.zeros(len(places.x_m), np.float32)
    if shares.shape[1]:
        stretch[:] = 0.0
    for k in range(shares.shape[1]):
        if shares[:, k].any():
            of_one, dense = of_layer(prepared, k, places, token, relief)
            stretch += shares[:, k] * of_one
            density += shares[:, k] * dense
    return stretch, density
