"""A ground that stands: a wall or face, built and kept lying down, and where its axes point in the world.

All that is done with a ground is done in its own axes: x along it, to the right of one who stands before it; y up; z
out of it. Only what asks about the world turns them: the light, the camera, and the measures of steepness, facing,
elevation and running water.
"""

from __future__ import annotations

import math
from typing import Annotated, NamedTuple

import numpy as np
from numpy.typing import NDArray
from pydantic import Field

from elvatch.core.ground.heightfield import Heightfield
from elvatch.core.parts import Bearing, Elevation, Part
from elvatch.core.shown import Shown

Vector = tuple[float, float, float]
LEANS = 1.0
"""Metres that a face is leaned back by a metre of its height where water is let run down it: its own relief, of
centimetres, then turns the water as it does on a face, and none of it falls free."""


class Upright(Part):
    """How a face stands in the world."""

    faces_deg: Annotated[Bearing, Shown("Faces", "°", 0, 360, 5, hint="Compass bearing that it looks to")] = Field(
        default=180.0, description="Compass bearing that it looks to"
    )
    foot_m: Annotated[Elevation, Shown("Foot", "m", -20_000, 20_000, 0.5, 1, hint="Elevation of its lower edge")] = (
        Field(default=0.0, description="Elevation of its lower edge")
    )


class Axes(NamedTuple):
    """Where a ground's own axes point in the world: rows of a rotation, (x, y, z) each east, north and up."""

    x: Vector
    y: Vector
    z: Vector

    def into(self, world: Vector) -> Vector:
        """Return a direction of the world in the ground's own axes."""
        along = [sum(a * b for a, b in zip(axis, world, strict=True)) for axis in self]
        return along[0], along[1], along[2]

    def matrix(self) -> NDArray[np.float64]:
        """Return the rotation (3, 3) from the world into the ground's own axes."""
        return np.array(self, np.float64)


LYING = Axes((1.0, 0.0, 0.0), (0.0, 1.0, 0.0), (0.0, 0.0, 1.0))


def axes_of(upright: Upright | None) -> Axes:
    """Return where the axes of a ground point that stands upright, or lies where that is None."""
    if upright is None:
        return LYING
    east, north = math.sin(math.radians(upright.faces_deg)), math.cos(math.radians(upright.faces_deg))
    return Axes((-north, east, 0.0), (0.0, 0.0, 1.0), (east, north, 0.0))


def elevations_m(ground: Heightfield, upright: Upright) -> NDArray[np.float32]:
    """Return how high over the sea each sample of a face stands, metres, shape (rows, cols)."""
    rows = upright.foot_m + np.linspace(ground.depth_m, 0.0, ground.rows)
    return np.ascontiguousarray(np.broadcast_to(rows[:, None], ground.heights_m.shape), np.float32)


def steepness_deg(gradient: NDArray[np.float32]) -> NDArray[np.float32]:
    """Return the angle of a face's samples to the level, degrees: 90 where it is plumb, more where it hangs over.

    Parameters
    ----------
    gradient : ndarray, shape (rows, cols, 2), float32
        How far it comes out for each metre along and up.
    """
    along, up = gradient[..., 0], gradient[..., 1]
    return np.degrees(np.arccos(-up / np.sqrt(1.0 + along * along + up * up))).astype(np.float32)


def facing_deg(gradient: NDArray[np.float32], upright: Upright) -> NDArray[np.float32]:
    """Return the compass bearing that each sample of a face looks to, degrees; see :func:`steepness_deg`."""
    # its normal is (-along, -up, 1) in its own axes
    turned = upright.faces_deg + np.degrees(np.arctan(gradient[..., 0]))
    return np.asarray(turned % 360.0, np.float32)


def leaned(ground: Heightfield) -> Heightfield:
    """Return a face leaned back, for water to run down."""
    rise = np.linspace(ground.depth_m, 0.0, ground.rows)[:, None] * LEANS
    return Heightfield((ground.heights_m + rise).astype(np.float32), ground.width_m, ground.depth_m)


def fall(gradient: NDArray[np.float32]) -> NDArray[np.float32]:
    """Return the gradient of a face leaned back, for what runs down it, shape (rows, cols, 2)."""
    return np.asarray(gradient + np.array([0.0, LEANS], np.float32))
