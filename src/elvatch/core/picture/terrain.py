"""A ground made ready for pictures, and what rays can meet on it."""

from __future__ import annotations

import math
from dataclasses import dataclass
from functools import cached_property

import numpy as np
from numpy.typing import NDArray

from elvatch.core import digest
from elvatch.core.document.recipe import Peg
from elvatch.core.document.water import Water
from elvatch.core.ground.heightfield import Heightfield
from elvatch.core.ground.survey import Survey, survey
from elvatch.core.ground.upright import Axes, Upright, axes_of, fall
from elvatch.core.light.water import Pool, pool
from elvatch.core.mapping.ground_image import GroundImage
from elvatch.core.parallel import Token
from elvatch.core.picture import bed, beyond, relief, scene
from elvatch.core.picture.beyond import Outer
from elvatch.core.thing import traced
from elvatch.core.thing.traced import TracedThings

_NOTHING = traced.nothing()
_BEFORE_M = 0.32
"""How far before a face the figure stands, its satchel at the stone."""


@dataclass(frozen=True)
class Terrain:
    """A ground with everything that depends on it alone."""

    ground: Heightfield
    survey: Survey
    relief: relief.TracedHeights
    name: str
    image: GroundImage | None = None
    upright: Upright | None = None

    @cached_property
    def axes(self) -> Axes:
        """Where its own axes point in the world."""
        return axes_of(self.upright)

    @cached_property
    def downhill(self) -> NDArray[np.float32]:
        """The gradient of what things run down, shape (rows, cols, 2): the ground, or a face leaned back."""
        lies = self.survey.gradient
        return lies if self.upright is None else fall(lies)


def name_of(ground: Heightfield, upright: Upright | None = None) -> str:
    """Return what names a measured ground: its heights, and the face that it is of."""
    return ground.content_name if upright is None else digest.of_json([ground.content_name, digest.of_part(upright)])


def terrain(
    ground: Heightfield, token: Token | None = None, image: GroundImage | None = None, upright: Upright | None = None
) -> Terrain:
    """Measure a ground and prepare it for rays, once."""
    return Terrain(ground, survey(ground, token), relief.prepare(ground), name_of(ground, upright), image, upright)


def strata_m(ground: Heightfield) -> float:
    """Return how thick the bands of a cut side are: some eight over the ground's rise, a round number of metres."""
    rough = max(ground.highest_m - ground.lowest_m, 0.02 * ground.width_m) / 8
    ten: float = 10.0 ** math.floor(math.log10(rough))
    return ten * (1 if rough < 2 * ten else 2 if rough < 5 * ten else 5)


def scene_of(
    land: Terrain,
    figure_at: Peg | None,
    raised: bed.Bed | None = None,
    stands_m: float = 0.0,
    outer: Outer | None = None,
    water: Pool | None = None,
    things: TracedThings | None = None,
) -> scene.Scene:
    """Return what rays can meet: the ground, its relief, and the figure at the peg unless it is left out.

    The figure stands ``stands_m`` above the plain ground. Without ``outer`` the ground is a cut block.
    """
    x, y = (figure_at.east_m, figure_at.north_m) if figure_at else (0.0, 0.0)
    ground, around = land.ground, outer or beyond.nothing()
    rise = ground.highest_m - ground.lowest_m
    return scene.Scene(
        survey=land.survey,
        ground=land.relief,
        bed=raised or bed.plain().bed,
        base_m=ground.lowest_m - max(0.12 * rise, 0.02 * ground.width_m),
        goes_on=outer is not None,
        outer=around.relief,
        plane_m=around.plane_m,
        water=water or pool(Water()),
        has_figure=figure_at is not None,
        figure_x=x,
        figure_y=y,
        figure_z=ground.elevation_at(x, y) + stands_m + (_BEFORE_M if land.upright else 0.0),
        upright=land.upright is not None,
        things=things or _NOTHING,
    )
