"""Everything a ray can meet: the ground, what lies beyond it or its cut sides, things, the surveyor."""

from __future__ import annotations

import math
from typing import NamedTuple

from elvatch.core.ground.survey import Survey
from elvatch.core.kernel import inner
from elvatch.core.light.water import Pool
from elvatch.core.picture import figure
from elvatch.core.picture.bed import Bed, meet_relief
from elvatch.core.picture.beyond import height_at
from elvatch.core.picture.kinds import BEYOND, FIGURE, GROUND, SIDE, SKY, THING, WATER
from elvatch.core.picture.relief import TracedHeights
from elvatch.core.picture.trace import march, over_ground
from elvatch.core.thing.traced import TracedThings, meet_things

NO_HIT = -1


class Scene(NamedTuple):
    """What is there to be seen.

    ``bed`` is the relief of the cover where it is large enough to be seen; ``base_m`` is where the cut sides of the
    ground end, where it does not go on in ``outer`` and, beyond that, level at ``plane_m``; the figure stands at
    ``figure_x, figure_y, figure_z``, with its back to the ground where that is ``upright``:
    a face, with level ground at its foot.
    """

    survey: Survey
    ground: TracedHeights
    bed: Bed
    base_m: float
    goes_on: bool
    outer: TracedHeights
    plane_m: float
    water: Pool
    has_figure: bool
    figure_x: float
    figure_y: float
    figure_z: float
    upright: bool
    things: TracedThings


@inner
def _meet_beyond(
    scene: Scene, x: float, y: float, z: float, dx: float, dy: float, dz: float, near: float, far: float
) -> float:
    """Return where a ray meets the ground beyond between two distances, or infinity."""
    a, b = over_ground(scene.outer, x, y, dx, dy, near, far)
    if a < b:
        t = march(scene.outer, x, y, z, dx, dy, dz, a, b)
        if t < math.inf:
            return t
    if dz < 0.0:
        t = (scene.plane_m - z) / dz
        if near <= t <= far and (t < a or t > b or a >= b):
            return t
    return math.inf


@inner
def _meet_bare(
    scene: Scene, x: float, y: float, z: float, dx: float, dy: float, dz: float, nearest: float, beyond: bool
) -> tuple[float, int]:
    """Return what :func:`meet` does of all but things."""
    best, kind = math.inf, SKY
    a, b = over_ground(scene.ground, x, y, dx, dy, 0.0, 1e9)
    over = a < b
    goes_on = beyond and scene.goes_on
    # an eye inside a hill beyond the edge looks out of it
    if goes_on and (not over or a > 0.0) and z > height_at(scene.outer, x, y):
        t = _meet_beyond(scene, x, y, z, dx, dy, dz, 0.0, a if over else 1e9)
        if t < math.inf:
            best, kind = t, BEYOND
    if over and kind == SKY:
        t = meet_relief(scene.ground, scene.bed, x, y, z, dx, dy, dz, a, b)
        if t < math.inf:
            best, kind = t, GROUND
            if t <= a and a > 0.0:
                if goes_on:
                    kind = BEYOND
                elif z + t * dz >= scene.base_m:
                    kind = SIDE
                else:
                    best, kind = math.inf, SKY
        elif goes_on:
            t = _meet_beyond(scene, x, y, z, dx, dy, dz, b, 1e9)
            if t < math.inf:
                best, kind = t, BEYOND
    if scene.upright and beyond and dy < 0.0:
        t = -y / dy
        if 0.0 < t < best:
            best, kind = t, BEYOND
    if scene.has_figure:
        fx, fy, fz = x - scene.figure_x, y - scene.figure_y, z - scene.figure_z
        if scene.upright:
            t = figure.meet(fx, -fz, fy, dx, -dz, dy, nearest)
        else:
            t = figure.meet(fx, fy, fz, dx, dy, dz, nearest)
        if t < best:
            best, kind = t, FIGURE
    return best, kind


@inner
def meet(
    scene: Scene, x: float, y: float, z: float, dx: float, dy: float, dz: float, nearest: float, beyond: bool
) -> tuple[float, int, int]:
    """Return the distance to what a unit ray meets first, what it is, and of a thing which and where; water lets it
    through.

    Parameters
    ----------
    scene : Scene
        What is there.
    x, y, z, dx, dy, dz : float
        The ray, metres.
    nearest : float
        Distance from which the figure is looked for.
    beyond : bool
        Whether the ground beyond the edge counts.
    """
    best, kind = _meet_bare(scene, x, y, z, dx, dy, dz, nearest, beyond)
    hit = NO_HIT
    if scene.things.number.shape[0] > 0:
        t, found = meet_things(scene.things, x, y, z, dx, dy, dz, nearest, best, False)
        if found >= 0:
            best, kind, hit = t, THING, found
    return best, kind, hit


@inner
def see(
    scene: Scene, x: float, y: float, z: float, dx: float, dy: float, dz: float, nearest: float
) -> tuple[float, int, int]:
    """Return how far an eye sees along a unit ray, water too, what it sees there and of a thing which."""
    best, kind, hit = meet(scene, x, y, z, dx, dy, dz, nearest, True)
    if dz < 0.0 and z > scene.water.level_m:
        t = (scene.water.level_m - z) / dz
        if nearest < t < best:
            east, north = x + t * dx, y + t * dy
            inside = 0.0 <= east <= scene.survey.width_m and 0.0 <= north <= scene.survey.depth_m
            if kind != SKY and kind != SIDE and (inside or scene.goes_on):
                return t, WATER, NO_HIT
    return best, kind, hit


@inner
def in_sun(
    scene: Scene, x: float, y: float, z: float, sx: float, sy: float, sz: float, lift: float, beyond: bool
) -> bool:
    """Return whether a place ``lift`` metres above the surface sees the sun's direction.

    Things are met from the surface itself: from above it a place beside one that hangs over would lie inside it.
    """
    if scene.things.number.shape[0] > 0:
        _t, found = meet_things(scene.things, x, y, z, sx, sy, sz, 0.0, 1e9, True)
        if found >= 0:
            return False
    _t, kind = _meet_bare(scene, x, y, z + lift, sx, sy, sz, 0.0, beyond)
    return kind == SKY
