"""The light of a place as a ground that stands upright meets it, in that ground's own axes.

Before a face lies a hemisphere that is sky above and ground below. Both become one table; what is seen behind the
face is drawn once as an image of all directions.
"""

from __future__ import annotations

import functools
import math
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from elvatch.core.ground.upright import Axes
from elvatch.core.light import sky as skies
from elvatch.core.light.air import Air
from elvatch.core.light.directions import in_table, looked_up, toward
from elvatch.core.light.panorama import directions
from elvatch.core.light.sky import ASIDES, HEIGHTS, Sky, row_heights

Rows = NDArray[np.float64]
GROUND_BEFORE = (0.17, 0.155, 0.13)
"""Linear reflectance of the level ground before a face: dry earth and stone."""
_SEEN_ROWS = 512
_EVEN = 1e9


class Around(NamedTuple):
    """All that shines on a place, in the axes of the world: the sky, turned by ``cos`` and ``sin``, ``lies`` the
    radiance of the ground, and the image (rows, cols, 3) that is seen in the sky's stead, or none."""

    sky: Sky
    cos: float
    sin: float
    lies: tuple[float, float, float]
    image: NDArray[np.float32] | None

    def __hash__(self) -> int:
        return hash((id(self.sky.table), self.cos, self.sin, self.lies, id(self.image)))

    def __eq__(self, other: object) -> bool:
        return (
            isinstance(other, Around)
            and self.sky.table is other.sky.table
            and self.image is other.image
            and (self.cos, self.sin, self.lies) == (other.cos, other.sin, other.lies)
        )

    def seen(self, toward: Rows, pictured: bool) -> Rows:
        """Return the radiance (n, 3) from directions (n, 3) of the world; of the image itself where it is
        ``pictured`` and there is one."""
        east, north, z = toward.T
        x, y = east * self.cos + north * self.sin, north * self.cos - east * self.sin
        if pictured and self.image is not None:
            rows, cols = self.image.shape[:2]
            row = (0.5 - np.arcsin(np.clip(z, -1, 1)) / math.pi) * rows - 0.5
            return looked_up(self.image, row, ((0.5 - np.arctan2(y, x) / (2 * math.pi)) % 1.0) * cols - 0.5)
        above = in_table(self.sky.table, x, y, z)
        # the horizon is as soft as an eye would find it through air
        part = np.clip(z[:, None] / 0.004 + 0.5, 0, 1)
        return np.asarray(above * part + np.array(self.lies) * (1 - part))


def ground_before(level: Rows, direct: Rows, sun_out: float) -> tuple[float, float, float]:
    """Return the radiance of the ground before a face: of the sky's light alone where the face shades it.

    ``level`` (3,) falls on it from the sky, ``direct`` (3,) from the sun; ``sun_out`` how far out of the face the
    sun stands, -1..1.
    """
    lit = min(max(sun_out / 0.1, 0.0), 1.0)
    # the face hides half of the sky of what lies at its foot
    radiance = np.array(GROUND_BEFORE) / math.pi * (0.7 * level + direct * lit)
    return float(radiance[0]), float(radiance[1]), float(radiance[2])


@functools.lru_cache(maxsize=8)
def sky_before(around: Around, axes: Axes, sun: tuple[float, float, float]) -> Sky:
    """Return what lies before a face as a sky of its own axes; ``sun`` falls square on from the sun."""
    own = toward(row_heights(), np.arange(ASIDES, dtype=np.float64) * (2 * math.pi / ASIDES))
    table = around.seen(own.reshape(-1, 3) @ axes.matrix(), pictured=False)
    return skies.of_table(table.reshape(HEIGHTS, ASIDES, 3), np.array(sun))


@functools.lru_cache(maxsize=8)
def seen_around(around: Around, axes: Axes) -> NDArray[np.float32]:
    """Return all that is seen around a face as an image (rows, cols, 3) of its own axes."""
    rows = _SEEN_ROWS if around.image is None else max(around.image.shape[0], _SEEN_ROWS)
    own, _ = directions(rows, 2 * rows)
    found = around.seen(own.reshape(-1, 3) @ axes.matrix(), pictured=True)
    return np.ascontiguousarray(found.reshape(rows, 2 * rows, 3), np.float32)


def even(air: Air) -> Air:
    """Return air that is as dense everywhere: over the height of a face it hardly thins."""
    return air._replace(base_m=0.0, over_m=_EVEN, top_m=_EVEN)
