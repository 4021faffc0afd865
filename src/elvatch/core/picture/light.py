"""Sun, sky and air as numbers: where the light comes from and how strong it is."""

from __future__ import annotations

import math
from typing import NamedTuple

from elvatch.core.document.recipe import Light

Colour = tuple[float, float, float]

_AIR = (0.085, 0.135, 0.235)
"""What a vertical path of clear air takes from red, green and blue light (optical depth)."""
_ZENITH = (0.38, 0.56, 0.98)
_HORIZON = (0.92, 1.00, 1.08)
_SUN_STRENGTH = 7.0
_GREY_SHOWS_AS = 0.38
_GROUND_RETURNS = 0.14


class Lighting(NamedTuple):
    """The light of a picture; radiance and irradiance in one arbitrary unit, linear Rec.709.

    ``noon_white`` is the radiance of white level ground under a clear noon, the unit of what sends out light.
    """

    sun: tuple[float, float, float]
    sun_colour: Colour
    zenith: Colour
    horizon: Colour
    sky: Colour
    bounce: Colour
    haze_per_m: float
    exposure: float
    noon_white: float


def direction(bearing_deg: float, height_deg: float) -> tuple[float, float, float]:
    """Return the unit vector towards a place in the sky, x east, y north, z up."""
    bearing, height = math.radians(bearing_deg), math.radians(height_deg)
    return math.sin(bearing) * math.cos(height), math.cos(bearing) * math.cos(height), math.sin(height)


def _scaled(colour: Colour, by: float) -> Colour:
    return colour[0] * by, colour[1] * by, colour[2] * by


def _luminance(colour: Colour) -> float:
    return 0.2126 * colour[0] + 0.7152 * colour[1] + 0.0722 * colour[2]


def _through_air(up: float, height_deg: float) -> Colour:
    """Return the sun's light after the air that it passes at a height."""
    air_mass = 1.0 / (up + 0.15 * (height_deg + 3.885) ** -1.253)  # Kasten 1965
    red, green, blue = (_SUN_STRENGTH * math.exp(-depth * air_mass) for depth in _AIR)
    return red, green, blue


def lighting(light: Light) -> Lighting:
    """Return the light that a recipe's settings mean.

    The sun is dimmed and warmed by the air it passes; exposure is metered on what falls on level
    ground, not on the picture, so that editing a material never changes how the others look.
    """
    sun = direction(light.sun_bearing_deg, light.sun_height_deg)
    sun_colour = _through_air(sun[2], light.sun_height_deg)
    # a low sun leaves a darker sky
    glow = light.sky * (0.35 + 0.65 * math.sqrt(sun[2])) * 0.40
    zenith, horizon = _scaled(_ZENITH, glow), _scaled(_HORIZON, glow)
    # irradiance of a level plane under a sky that runs from zenith to horizon colour
    sky = tuple(math.pi * (0.55 * z + 0.45 * h) for z, h in zip(zenith, horizon, strict=True))
    falling = sun_colour[0] * sun[2] + sky[0], sun_colour[1] * sun[2] + sky[1], sun_colour[2] * sun[2] + sky[2]
    return Lighting(
        sun=sun,
        sun_colour=sun_colour,
        zenith=zenith,
        horizon=horizon,
        sky=(sky[0], sky[1], sky[2]),
        bounce=(
            falling[0] * _GROUND_RETURNS,
            falling[1] * _GROUND_RETURNS * 0.93,
            falling[2] * _GROUND_RETURNS * 0.8,
        ),
        haze_per_m=5e-5 * math.exp(4.8 * light.mist),
        exposure=_GREY_SHOWS_AS / 0.18 * math.pi / _luminance(falling) * 2.0**light.exposure_ev,
        noon_white=_luminance(_through_air(1.0, 90.0)) / math.pi,
    )
