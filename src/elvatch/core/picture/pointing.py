"""From a picture to the ground and back: where a spot of a picture lies, where a place is seen."""

from __future__ import annotations

import math
from collections.abc import Sequence

import numpy as np
from numpy.typing import NDArray

from elvatch.core.document.recipe import Recipe
from elvatch.core.kernel import kernel
from elvatch.core.parallel import over_bands
from elvatch.core.picture import camera
from elvatch.core.picture.camera import Camera
from elvatch.core.picture.kinds import GROUND
from elvatch.core.picture.picture import View
from elvatch.core.picture.scene import Scene, meet
from elvatch.core.picture.terrain import Terrain, scene_of

_NEAREST = 0.02
_RING = 32


def camera_of(land: Terrain, recipe: Recipe, view: View) -> Camera:
    """Return the camera that a picture is taken with."""
    stand = getattr(recipe.stands, view.stand)
    return camera.of_stand(view.stand, stand, recipe.peg, view.width_px, view.height_px, land.ground, land.axes)


@kernel
def _meet_spots(
    scene: Scene, eye: Camera, spots: NDArray[np.float64], out: NDArray[np.float64], a: int, b: int
) -> None:
    for i in range(a, b):
        sx, sy = spots[i, 0] * 2.0 - 1.0, 1.0 - spots[i, 1] * 2.0
        dx = eye.forward_x + sx * eye.right_x + sy * eye.up_x
        dy = eye.forward_y + sx * eye.right_y + sy * eye.up_y
        dz = eye.forward_z + sx * eye.right_z + sy * eye.up_z
        length = math.sqrt(dx * dx + dy * dy + dz * dz)
        dx, dy, dz = dx / length, dy / length, dz / length
        distance, what, _hit = meet(scene, eye.eye_x, eye.eye_y, eye.eye_z, dx, dy, dz, _NEAREST, False)
        if what == GROUND:
            out[i, 0], out[i, 1] = eye.eye_x + distance * dx, eye.eye_y + distance * dy
        else:
            out[i, 0], out[i, 1] = math.nan, math.nan


def on_ground(
    land: Terrain, recipe: Recipe, view: View, spots: Sequence[tuple[float, float]]
) -> list[tuple[float, float] | None]:
    """Return the places under spots of a picture, east and north in metres; None where no ground is seen.

    Parameters
    ----------
    land : Terrain
        The ground.
    recipe : Recipe
        Its stands and peg.
    view : View
        Which picture, and its size.
    spots : sequence of (float, float)
        0..1 from left and top.
    """
    out = np.empty((len(spots), 2))
    given = np.array(spots, np.float64).reshape(-1, 2)
    eye, scene = camera_of(land, recipe, view), scene_of(land, None)
    over_bands(len(given), lambda a, b: _meet_spots(scene, eye, given, out, a, b), least=64)
    return [None if math.isnan(x) else (float(x), float(y)) for x, y in out]


def in_picture(
    land: Terrain, recipe: Recipe, view: View, places: Sequence[tuple[float, float]]
) -> list[tuple[float, float] | None]:
    """Return where places on the ground lie in a picture, 0..1 from left and top, hidden or not; None behind it."""
    eye = camera_of(land, recipe, view)
    return [camera.project(eye, (x, y, land.ground.elevation_at(x, y))) for x, y in places]


def ring(
    land: Terrain, recipe: Recipe, view: View, at: tuple[float, float], size_m: float
) -> list[tuple[float, float] | None]:
    """Return a circle that lies on the ground about a place, as spots of a picture."""
    turns = (2 * math.pi * k / _RING for k in range(_RING))
    about = [(at[0] + size_m / 2 * math.cos(t), at[1] + size_m / 2 * math.sin(t)) for t in turns]
    return in_picture(land, recipe, view, about)
