"""Everything a ray can meet: the ground, its cut sides, the figure."""

from __future__ import annotations

import math
from typing import NamedTuple

from elvatch.core.ground.survey import Survey
from elvatch.core.kernel import inner
from elvatch.core.picture import figure
from elvatch.core.picture.bed import Bed, meet_relief
from elvatch.core.picture.relief import Relief
from elvatch.core.picture.trace import over_ground

SKY, GROUND, SIDE, FIGURE = 0, 1, 2, 3


class Scene(NamedTuple):
    """What is there to be seen.

    ``bed`` is the relief of the cover where it is large enough to be seen; ``base_m`` is where the cut
    sides of the ground end; the figure stands at ``figure_x, figure_y, figure_z``.
    """

    survey: Survey
    ground: Relief
    bed: Bed
    base_m: float
    has_figure: bool
    figure_x: float
    figure_y: float
    figure_z: float


@inner
def meet(
    scene: Scene, x: float, y: float, z: float, dx: float, dy: float, dz: float, nearest: float
) -> tuple[float, int]:
    """Return the distance to the first thing a unit ray meets, and what it is.

    Parameters
    ----------
    scene : Scene
        What is there.
    x, y, z, dx, dy, dz : float
        The ray, metres.
    nearest : float
        Distance from which the figure is looked for.
    """
    best, kind = math.inf, SKY
    a, b = over_ground(scene.ground, x, y, dx, dy, 0.0, 1e9)
    if a < b:
        t = meet_relief(scene.ground, scene.bed, x, y, z, dx, dy, dz, a, b)
        if t < math.inf:
            best, kind = t, GROUND
            if t <= a and a > 0.0:
                kind = SIDE if z + t * dz >= scene.base_m else SKY
                best = t if kind == SIDE else math.inf
    if scene.has_figure:
        t = figure.meet(x - scene.figure_x, y - scene.figure_y, z - scene.figure_z, dx, dy, dz, nearest)
        if t < best:
            best, kind = t, FIGURE
    return best, kind


@inner
def in_sun(scene: Scene, x: float, y: float, z: float, sx: float, sy: float, sz: float, lift: float) -> bool:
    """Return whether a place ``lift`` metres above the surface sees the sun's direction."""
    _t, kind = meet(scene, x, y, z + lift, sx, sy, sz, 0.0)
    return kind == SKY
