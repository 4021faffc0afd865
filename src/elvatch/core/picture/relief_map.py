"""The relief map: the ground from straight above, shaded, with contours, in paper tones or by a measure."""

from __future__ import annotations

import math

import numpy as np
from numpy.typing import NDArray

from elvatch.core import colour
from elvatch.core.ground.survey import Survey, ground_at
from elvatch.core.kernel import inner, kernel
from elvatch.core.parallel import Token, over_bands

_PAPER = 0.66
_LIGHTS = np.array([(315.0, 0.55), (270.0, 0.18), (0.0, 0.18), (225.0, 0.09)])
_LIGHT_HEIGHT_DEG = 38.0
_BOLD = 1.5
"""Rises are drawn steeper than they are, as map makers do."""
_INK = np.array([0.10, 0.075, 0.055], np.float32)


@inner
def _shade(rise_east: float, rise_north: float, sky: float, lights: NDArray[np.float64]) -> float:
    """Return how light ground of a given lie is drawn: several lights from the north-west, less in hollows."""
    rise_east, rise_north = _BOLD * rise_east, _BOLD * rise_north
    length = math.sqrt(1.0 + rise_east * rise_east + rise_north * rise_north)
    total = 0.0
    for k in range(lights.shape[0]):
        facing = (lights[k, 2] - rise_east * lights[k, 0] - rise_north * lights[k, 1]) / length
        total += lights[k, 3] * max(facing, 0.0)
    level = 0.0
    for k in range(lights.shape[0]):
        level += lights[k, 3] * lights[k, 2]
    return (total / level) * (0.25 + 0.75 * sky)


@inner
def _near_line(elevation: float, interval: float, per_pixel: float, pixels: float) -> float:
    """Return how much of a pixel a contour covers, 0..1; lines too dense to tell apart fade."""
    if interval <= 0.0 or per_pixel <= 0.0:
        return 0.0
    level = elevation / interval
    away = abs(level - math.floor(level + 0.5)) * interval / per_pixel
    dense = min(max(interval / per_pixel / 3.5 - 0.6, 0.0), 1.0)
    return min(max(pixels + 0.5 - away, 0.0), 1.0) * dense


@kernel
def _draw_rows(
    survey: Survey,
    tint: NDArray[np.float32],
    lights: NDArray[np.float64],
    interval: float,
    metres_x: float,
    metres_y: float,
    out: NDArray[np.float32],
    a: int,
    b: int,
) -> None:
    height, width = out.shape[:2]
    for row in range(a, b):
        y = survey.depth_m * (1.0 - (row + 0.5) / height)
        for col in range(width):
            z, east, north, sky = ground_at(survey, survey.width_m * (col + 0.5) / width, y)
            light = _shade(east, north, sky, lights)
            per_pixel = math.hypot(east * metres_x, north * metres_y)
            line = max(
                0.42 * _near_line(z, interval, per_pixel, 0.55), 0.75 * _near_line(z, interval * 5.0, per_pixel, 0.9)
            )
            for channel in range(3):
                value = min(tint[row, col, channel] * light, 1.0)
                out[row, col, channel] = value + (_INK[channel] - value) * line


def _lights() -> NDArray[np.float64]:
    height = math.radians(_LIGHT_HEIGHT_DEG)
    bearing = np.radians(_LIGHTS[:, 0])
    level = np.cos(height)
    return np.stack(
        [np.sin(bearing) * level, np.cos(bearing) * level, np.full(len(_LIGHTS), math.sin(height)), _LIGHTS[:, 1]],
        axis=1,
    )


def draw(
    survey: Survey,
    width_px: int,
    height_px: int,
    contour_m: float,
    tint: NDArray[np.float32] | None = None,
    token: Token | None = None,
) -> NDArray[np.uint8]:
    """Draw a ground from above, north at the top.

    Parameters
    ----------
    survey : Survey
        The ground.
    width_px, height_px : int
        Size of the map; it shows the whole ground.
    contour_m : float
        From one contour to the next, metres; every fifth is heavier; 0 draws none.
    tint : ndarray, shape (height_px, width_px, 3), float32, optional
        Linear colours of a measure or an image; paper tones when left out.
    token : Token, optional
        Asked between bands.

    Returns
    -------
    ndarray, shape (height_px, width_px, 3), uint8
        sRGB.
    """
    if tint is None:
        tint = np.full((height_px, width_px, 3), _PAPER, np.float32)
        tint *= np.array([1.0, 0.985, 0.955], np.float32)
    colours = tint
    out = np.empty((height_px, width_px, 3), np.float32)
    metres_x, metres_y = survey.width_m / width_px, survey.depth_m / height_px
    lights = _lights()
    over_bands(
        height_px, lambda a, b: _draw_rows(survey, colours, lights, contour_m, metres_x, metres_y, out, a, b), token
    )
    return colour.srgb_bytes(out)
