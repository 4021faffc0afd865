"""A set's swatch: one repeat seen from above in slanting light, through the same cover and shading."""

from __future__ import annotations

import math

import numpy as np
from numpy.typing import NDArray

from elvatch.core.cover import function, plan
from elvatch.core.document.fit import Fit
from elvatch.core.document.layer import Layer, Look
from elvatch.core.document.light import Light
from elvatch.core.ground import places
from elvatch.core.light.lighting import lighting
from elvatch.core.picture import shade
from elvatch.core.picture.beyond import no_around
from elvatch.core.picture.fragments import GBuffer, nothing_seen
from elvatch.core.picture.kinds import GROUND
from elvatch.core.stock.pyramid import Pyramid

_PALEST = 0.42
"""Mean reflectance from which a set by itself is shown darker than it is."""
_SUN = Light(sun_bearing_deg=315, sun_height_deg=36)


def usual_exposure_ev(pyramid: Pyramid) -> float:
    """Return how much darker a pale set is shown, in stops, so that its relief is not lost in white."""
    return min(0.0, math.log2(_PALEST / max(float(pyramid.mean[:3].mean()), 1e-3)))


def swatch(pyramid: Pyramid, size_px: int, sun: Light = _SUN) -> NDArray[np.uint8]:
    """Return one repeat of a set, lit from the north-west or as told.

    Parameters
    ----------
    pyramid : Pyramid
        The set.
    size_px : int
        Pixels along a side.
    sun : Light, optional
        What lights it.

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
        id="swatch",
        name="swatch",
        set="0" * 40,
        look=Look(variation=0),
        fit=Fit(tile_m=pyramid.tile_m, relief_m=min(pyramid.relief_m, pyramid.tile_m)),
    )
    material = function.ask(plan.prepare((layer,), {"0" * 40: pyramid}), at)
    fragments = nothing_seen(count)._replace(places=at)
    fragments.pixel[:], fragments.kind[:], fragments.weight[:] = np.arange(count), GROUND, 1.0
    fragments.depth_m[:], fragments.toward[:] = 1.0, (0.0, 0.0, -1.0)
    buffer = GBuffer(size_px, size_px, fragments)
    index = np.arange(count, dtype=np.int64)
    made = lighting(sun.model_copy(update={"exposure_ev": usual_exposure_ev(pyramid)}))
    radiance = shade.shade(buffer, material, index, np.ones(count, np.float32), made, no_around())
    return shade.resolve(buffer, shade.toned(radiance, made.exposure))
