"""A set's swatch: one repeat seen from above in slanting light, through the same cover and shading."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from elvatch.core.cover import function, plan
from elvatch.core.document.fit import Fit
from elvatch.core.document.recipe import Layer, Light, Look
from elvatch.core.ground import places
from elvatch.core.picture import light, shade
from elvatch.core.picture.gbuffer import Fragments, GBuffer
from elvatch.core.picture.scene import GROUND
from elvatch.core.stock.pyramid import Pyramid

_SUN = Light(sun_bearing_deg=315, sun_height_deg=36, mist=0)


def swatch(pyramid: Pyramid, size_px: int) -> NDArray[np.uint8]:
    """Return one repeat of a set, lit from the north-west.

    Parameters
    ----------
    pyramid : Pyramid
        The set.
    size_px : int
        Pixels along a side.

    Returns
    -------
    ndarray, shape (size_px, size_px, 3), uint8
        sRGB.
    """
    count = size_px * size_px
    at = places.zeros(count)
    along = (np.arange(size_px) + 0.5) * (pyramid.tile_m / size_px)
    at.x_m[:] = np.tile(along, size_px)
    at.y_m[:] = np.repeat(pyramid.tile_m - along, size_px)
    at.across_m[:], at.sky[:] = pyramid.tile_m / size_px, 1.0
    layer = Layer(
        id="swatch", name="swatch", set="0" * 40, look=Look(variation=0),
        fit=Fit(tile_m=pyramid.tile_m, relief_m=min(pyramid.relief_m, pyramid.tile_m)),
    )  # fmt: skip
    material = function.ask(plan.prepare((layer,), {"0" * 40: pyramid}), at)
    down = np.zeros((count, 3), np.float32)
    down[:, 2] = -1.0
    fragments = Fragments(
        pixel=np.arange(count, dtype=np.int32),
        weight=np.ones(count, np.float32),
        kind=np.full(count, GROUND, np.uint8),
        depth_m=np.ones(count, np.float32),
        toward=down,
        normal=np.zeros((count, 3), np.float32),
        height_m=np.zeros(count, np.float32),
        hollow=np.ones(count, np.float32),
        places=at,
    )
    buffer = GBuffer(size_px, size_px, fragments)
    index = np.arange(count, dtype=np.int64)
    shown = shade.shade(buffer, material, index, np.ones(count, np.float32), light.lighting(_SUN))
    return shade.resolve(buffer, shown)
