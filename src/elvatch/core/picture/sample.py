"""A set laid on a small plane with its own relief, as one would lay a sample on a table: lit, walked round."""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from elvatch.core.cache import Cache
from elvatch.core.document.fit import Fit
from elvatch.core.document.layer import Layer, Look
from elvatch.core.document.light import ImageLight, Light
from elvatch.core.document.recipe import Peg, Recipe, Stand, Stands
from elvatch.core.ground.description import FlatSource, Ground
from elvatch.core.ground.heightfield import Heightfield
from elvatch.core.light.lamp import lamp
from elvatch.core.parallel import Token
from elvatch.core.picture.picture import Renderer, Setting, View
from elvatch.core.picture.swatch import usual_exposure_ev
from elvatch.core.picture.terrain import Terrain, terrain
from elvatch.core.stock.pyramid import HEIGHT, Pyramid

_SAMPLES = 768
_SET = "0" * 40


@dataclass(frozen=True)
class SampleView:
    """How a sample is looked at.

    ``across_m`` is how much ground is laid out, rounded up to whole repeats; with ``figure`` a
    standing figure of 1.75 m is there to judge the size by.
    """

    width_px: int
    height_px: int
    across_m: float
    sun_bearing_deg: float = 315.0
    sun_height_deg: float = 32.0
    bearing_deg: float = 350.0
    tilt_deg: float = 50.0
    figure: bool = False
    looks: int = 4


class Samples:
    """Draws samples; the last few planes are kept, so that a light that moves costs little."""

    def __init__(self) -> None:
        self._renderer = Renderer(8)
        self._lands = Cache[Terrain](6)

    def picture(self, pyramid: Pyramid, view: SampleView, token: Token | None = None) -> NDArray[np.uint8]:
        """Return a picture of a set, shape (height, width, 3), sRGB.

        Parameters
        ----------
        pyramid : Pyramid
            The set, as covers look it up.
        view : SampleView
            How it is looked at.
        token : Token, optional
            Asked between bands.
        """
        repeats = min(64, max(1, math.ceil(view.across_m / pyramid.tile_m - 1e-6)))
        # beside a figure it lies on level ground as a cover does, its relief as fine as a picture can show it
        name = f"level/{pyramid.tile_m * repeats}" if view.figure else f"{pyramid.content_name}/{repeats}"
        land = self._lands.get(
            name, lambda: terrain(_level(pyramid, repeats) if view.figure else _plane(pyramid, repeats), token)
        )
        return self._renderer.take(
            land,
            _recipe(pyramid, repeats, view),
            {_SET: pyramid},
            View("near" if view.figure else "far", view.width_px, view.height_px, view.looks),
            token,
            setting=Setting(lamp(view.sun_height_deg)),
        ).pixels


def _plane(pyramid: Pyramid, repeats: int) -> Heightfield:
    """Return the set's own relief as a ground of whole repeats."""
    size, level = pyramid.size, 0
    while size > 8 and size * repeats > _SAMPLES:
        size, level = size // 2, level + 1
    height = pyramid.heights(level)
    # samples lie between pixels: the mean of the four about each
    corner = (height + np.roll(height, 1, 0) + np.roll(height, 1, 1) + np.roll(height, (1, 1), (0, 1))) * 0.25
    index = np.arange(size * repeats + 1) % size
    metres = (corner[np.ix_(index, index)] * pyramid.relief_m).astype(np.float32)
    across = pyramid.tile_m * repeats
    return Heightfield(metres, across, across)


def _level(pyramid: Pyramid, repeats: int) -> Heightfield:
    across = pyramid.tile_m * repeats
    return Heightfield(np.zeros((33, 33), np.float32), across, across)


def _recipe(pyramid: Pyramid, repeats: int, view: SampleView) -> Recipe:
    across = pyramid.tile_m * repeats
    level = pyramid.texels[:: max(1, len(pyramid.texels) // 4096), HEIGHT]
    formed = not view.figure and int(level.max()) > int(level.min())
    layer = Layer(
        id="sample",
        name="sample",
        set=_SET,
        fit=Fit(tile_m=pyramid.tile_m, relief_m=min(pyramid.relief_m, pyramid.tile_m)),
        # where the plane has the set's relief its normals would count it twice
        look=Look(variation=0, normal_strength=0.0 if formed else 1.0),
    )
    far = Stand(bearing_deg=view.bearing_deg, tilt_deg=view.tilt_deg, distance_m=across * 0.98, view_deg=42)
    near = Stand(bearing_deg=view.bearing_deg, tilt_deg=16, distance_m=max(4.4, min(across * 0.75, 6.0)), view_deg=40)
    return Recipe(
        ground=Ground(width_m=across, depth_m=across, source=FlatSource(samples=33)),
        layers=(layer,),
        peg=Peg(east_m=across / 2, north_m=across / 2),
        stands=Stands(far=far, mid=near, near=near),
        light=Light(
            image=ImageLight(file=_SET, file_name="lamp", turn_deg=view.sun_bearing_deg % 360, shows="no"),
            beyond="block",
            exposure_ev=usual_exposure_ev(pyramid),
        ),
    )


def finest_pixel_m(near: Stand, height_px: int = 720) -> float:
    """Return how much ground a pixel covers where the near picture shows it nearest, metres.

    That is at the lower edge of a picture of the given height.
    """
    half = math.radians(near.view_deg / 2)
    tilt = math.radians(max(near.tilt_deg, 1.0))
    nearest = near.distance_m * math.sin(tilt) / math.sin(min(tilt + half, math.pi / 2))
    return nearest * 2 * math.tan(half) / height_px
