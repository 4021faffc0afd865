"""Where the sun stands: by its angles, or by latitude, date and hour."""

from __future__ import annotations

import datetime
import math

Direction = tuple[float, float, float]


def direction(bearing_deg: float, height_deg: float) -> Direction:
    """Return the unit vector towards a place in the sky, x east, y north, z up."""
    bearing, height = math.radians(bearing_deg), math.radians(height_deg)
    return math.sin(bearing) * math.cos(height), math.cos(bearing) * math.cos(height), math.sin(height)


def place(latitude_deg: float, day: datetime.date, hour: float) -> tuple[float, float]:
    """Return the sun's bearing and height, degrees, without refraction.

    Parameters
    ----------
    latitude_deg : float
        North is positive.
    day : date
        At the site.
    hour : float
        Mean solar time at the site, 0..24: 12 is within a quarter of an hour of the sun's highest.

    Notes
    -----
    Low-precision ephemeris (Meeus 1998, chapter 25), within 0.01 degrees of the tables between 1950 and 2050. It
    takes mean solar time for universal time at a site on the first meridian: over a day the sun's own place moves by
    a degree, so elsewhere this is wrong by half a degree of its path at most, which no latitude, date and hour can
    tell.
    """
    return place_at(latitude_deg, 0.0, datetime.datetime.combine(day, datetime.time()), hour)


def place_at(
    latitude_deg: float, longitude_deg: float, day: datetime.datetime, hour_utc: float
) -> tuple[float, float]:
    """Return the sun's bearing and height, degrees, at a longitude (east positive) and an hour of universal time."""
    days = (day - datetime.datetime(2000, 1, 1, 12)).total_seconds() / 86_400 + hour_utc / 24
    century = (days + 69.0 / 86_400) / 36_525  # terrestrial time runs some 69 s ahead
    anomaly = math.radians(357.52911 + 35_999.05029 * century - 0.0001537 * century**2)
    centre = (
        (1.914602 - 0.004817 * century) * math.sin(anomaly)
        + (0.019993 - 0.000101 * century) * math.sin(2 * anomaly)
        + 0.000289 * math.sin(3 * anomaly)
    )
    node = math.radians(125.04 - 1934.136 * century)
    longitude = math.radians(280.46646 + 36_000.76983 * century + centre - 0.00569 - 0.00478 * math.sin(node))
    tilt = math.radians(23.439291 - 0.0130042 * century + 0.00256 * math.cos(node))
    ascension = math.atan2(math.cos(tilt) * math.sin(longitude), math.cos(longitude))
    declination = math.asin(math.sin(tilt) * math.sin(longitude))
    sidereal = 280.46061837 + 360.98564736629 * days + longitude_deg
    turn = math.radians(sidereal) - ascension
    latitude = math.radians(latitude_deg)
    east = -math.cos(declination) * math.sin(turn)
    north = math.sin(declination) * math.cos(latitude) - math.cos(declination) * math.sin(latitude) * math.cos(turn)
    up = math.sin(declination) * math.sin(latitude) + math.cos(declination) * math.cos(latitude) * math.cos(turn)
    return math.degrees(math.atan2(east, north)) % 360.0, math.degrees(math.asin(max(-1.0, min(1.0, up))))
