"""All light of a picture as numbers, from what a recipe says of it."""

from __future__ import annotations

import functools
import math
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from elvatch.core.document.light import ImageLight, Light
from elvatch.core.document.water import Water
from elvatch.core.ground.upright import LYING, Axes
from elvatch.core.light import sky as skies
from elvatch.core.light import turned
from elvatch.core.light.air import Air, air, usual_visibility_km
from elvatch.core.light.panorama import Panorama
from elvatch.core.light.sky import Sky
from elvatch.core.light.spectrum import LUMINANCE, Colour, encoded
from elvatch.core.light.sun import Direction, direction
from elvatch.core.light.water import Pool, pool

_GREY_SHOWS_AS = 0.28
_WHITE_AT_DEG = 35.0
"""The sun's height for which level grey ground is grey; the eye follows some of the way to others."""
_EYE_FOLLOWS = 0.5
_CLEAREST_SKY_KM, _DULLEST_SKY_KM = 200.0, 8.0
"""A sky is that of some real air, however clear or thick the air of the picture is."""


TABLE, IMAGE, PLAIN = range(3)
_SHOWS = {"sharp": IMAGE, "blurred": TABLE, "no": PLAIN}
_NOTHING = np.zeros((1, 1, 3), np.float32)


class Lighting(NamedTuple):
    """The light of a picture; radiance and irradiance in one unit, linear Rec.709, white on the grey card.

    ``sun`` the direction to it; ``sky`` what comes from above, in its own axes, turned by ``cos`` and ``sin``;
    ``level`` what falls on open level ground from sun and sky; ``mist`` the radiance of endless mist but for the sun;
    ``disc`` the sun's own radiance and ``disc_cos`` the cosine of half its width. ``noon_white`` is the radiance of
    white level ground under a clear noon, the unit of what sends out light. ``behind`` (rows, cols, 3) is the image
    seen behind the ground where ``shows`` says so.
    """

    sun: Direction
    sun_colour: Colour
    sky: Sky
    cos: float
    sin: float
    level: Colour
    mist: Colour
    disc: Colour
    disc_cos: float
    air: Air
    water: Pool
    exposure: float
    noon_white: float
    behind: NDArray[np.float32]
    shows: int


def _luminance(colour: Colour) -> float:
    return float(np.dot(colour, LUMINANCE))


def _level(sky: Sky, up: float) -> np.ndarray[tuple[int], np.dtype[np.float64]]:
    return np.array(sky.level) + np.array(sky.sun) * max(up, 0.0)


@functools.lru_cache(maxsize=64)
def _balance(height_deg: float, visibility_km: float) -> Colour:
    """Return the factors that make grey ground grey for the eye: it follows the light's colour some of the way."""
    gains = np.ones(3)
    for height, how in ((_WHITE_AT_DEG, 1.0 - _EYE_FOLLOWS), (height_deg, _EYE_FOLLOWS)):
        falls = np.maximum(_level(skies.clear(height, visibility_km), math.sin(math.radians(height))), 1e-9)
        gains *= (falls @ LUMINANCE / falls) ** how
    return float(gains[0]), float(gains[1]), float(gains[2])


def _balanced(sky: Sky, gains: Colour) -> Sky:
    by = np.array(gains)
    level, sun = np.array(sky.level) * by, np.array(sky.sun) * by
    by32 = by.astype(np.float32)
    return Sky(sky.table * by32, sky.falling * by32, tuple(level.tolist()), tuple(sun.tolist()))


@functools.lru_cache(maxsize=64)
def _sky(height_deg: float, visibility_km: float, overcast: float, sun: float, sky: float) -> Sky:
    made = skies.with_cloud(height_deg, visibility_km, overcast, sun, sky)
    return _balanced(made, _balance(height_deg, visibility_km))


def lighting(
    light: Light,
    diagonal_m: float = 1000.0,
    lowest_m: float = 0.0,
    water: Water | None = None,
    panorama: Panorama | None = None,
    axes: Axes = LYING,
) -> Lighting:
    """Return the light that a recipe's settings mean over a site, in the ground's own axes.

    Exposure is metered on what falls on level ground, or on a face that stands upright, not on the picture, so that
    editing a material never changes how the others look.

    Parameters
    ----------
    light : Light
        Of the recipe.
    diagonal_m : float
        Of the site, for the air that is not told.
    lowest_m : float
        Elevation of the lowest ground.
    water : Water, optional
        That stands on the site.
    panorama : Panorama, optional
        That lights in place of the sky.
    axes : Axes
        Where the ground's own axes point in the world.
    """
    visibility = light.visibility_km or usual_visibility_km(diagonal_m)
    clear_km = float(f"{min(max(visibility, _DULLEST_SKY_KM), _CLEAREST_SKY_KM):.2g}")
    if light.image is not None and panorama is not None:
        sky, sun, cos, sin = _of_image(light, light.image, panorama)
        noon_white = _luminance(_three(_level(sky, sun[2]))) / math.pi
        shows = _SHOWS[light.image.shows]
    else:
        sky, sun, cos, sin = _of_day(light, clear_km)
        noon_white = _luminance(_three(_level(skies.clear(90.0, clear_km), 1.0))) / math.pi
        shows = TABLE
    falls = _level(sky, sun[2])
    half = math.radians(light.sun_width_deg / 2)
    # an image shows its own sun
    disc = np.array(sky.sun) / (math.pi * math.sin(half) ** 2) * (light.image is None)
    made = Lighting(
        sun=sun,
        sun_colour=sky.sun,
        sky=sky,
        cos=cos,
        sin=sin,
        level=_three(falls),
        mist=_three(falls / math.pi * 0.6 * np.array(encoded(light.mist.colour))),
        disc=_three(disc),
        disc_cos=math.cos(half),
        air=air(light, diagonal_m, lowest_m),
        water=pool(water or Water()),
        exposure=_exposure(light, falls),
        noon_white=noon_white,
        behind=panorama.image if shows == IMAGE and panorama else _NOTHING,
        shows=shows,
    )
    return made if axes is LYING else _before_face(made, light, axes)


def _before_face(world: Lighting, light: Light, axes: Axes) -> Lighting:
    """Return the light of the world as a face meets it."""
    sun = axes.into(world.sun)
    direct = np.array(world.sun_colour) * max(world.sun[2], 0.0)
    lies = turned.ground_before(np.array(world.sky.level), direct, sun[2])
    around = turned.Around(world.sky, world.cos, world.sin, lies, world.behind if world.shows == IMAGE else None)
    sky = turned.sky_before(around, axes, world.sun_colour)
    falls = _level(sky, sun[2])
    shows = PLAIN if world.shows == PLAIN else IMAGE
    return world._replace(
        sun=sun,
        sky=sky,
        cos=1.0,
        sin=0.0,
        level=_three(falls),
        air=turned.even(world.air),
        exposure=_exposure(light, falls),
        behind=turned.seen_around(around, axes) if shows == IMAGE else _NOTHING,
        shows=shows,
    )


def _exposure(light: Light, falls: np.ndarray[tuple[int], np.dtype[np.float64]]) -> float:
    metered = max(_luminance(_three(falls)), 1e-9)
    return float(_GREY_SHOWS_AS / 0.18 * math.pi / metered * 2.0**light.exposure_ev)


class _Content:
    """A panorama that is the same as another of its content."""

    def __init__(self, panorama: Panorama) -> None:
        self.panorama = panorama

    def __hash__(self) -> int:
        return hash(self.panorama.name)

    def __eq__(self, other: object) -> bool:
        return isinstance(other, _Content) and other.panorama.name == self.panorama.name


@functools.lru_cache(maxsize=8)
def _image_sky(of: _Content, sun: float, sky: float) -> Sky:
    return skies.of_table(of.panorama.table * sky, of.panorama.sun_colour * sun)


def _of_day(light: Light, clear_km: float) -> tuple[Sky, Direction, float, float]:
    """Return the sky of a time of day, where its sun stands, and how its axes are turned."""
    sky = _sky(light.sun_height_deg, clear_km, light.overcast, light.sun, light.sky)
    sun = direction(light.sun_bearing_deg, light.sun_height_deg)
    turn = math.hypot(sun[0], sun[1])
    cos, sin = (sun[0] / turn, sun[1] / turn) if turn > 1e-6 else (0.0, 1.0)
    return sky, sun, cos, sin


def _of_image(light: Light, image: ImageLight, panorama: Panorama) -> tuple[Sky, Direction, float, float]:
    """Return the sky of an image, where its sun stands, and how its axes are turned."""
    made = _image_sky(_Content(panorama), light.sun, light.sky)
    bearing = math.radians(image.turn_deg)
    cos, sin = math.sin(bearing), math.cos(bearing)
    if panorama.sun is None:
        # nothing is cast: what falls from it is none
        return made, direction(image.turn_deg, 45.0), cos, sin
    x, y, z = panorama.sun
    return made, (cos * x - sin * y, sin * x + cos * y, z), cos, sin


def _three(values: np.ndarray[tuple[int], np.dtype[np.float64]]) -> Colour:
    return float(values[0]), float(values[1]), float(values[2])
