"""Air between the eye and what it sees: clear air that thins with height, and a mist with a top.

Visibility is the distance over which a black thing keeps 2% of its contrast against the horizon (Koschmieder 1924).
"""

from __future__ import annotations

import math
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from elvatch.core.document.light import Light
from elvatch.core.kernel import inner, kernel
from elvatch.core.light import atmosphere
from elvatch.core.light.spectrum import PRIMARIES_NM, Colour

KOSCHMIEDER = -math.log(0.02)
_LOST = 0.08
"""Most contrast that the air takes over the site's diagonal where nothing else is said."""
_CLEAR_DAY_KM = 80.0


class Air(NamedTuple):
    """What the air takes, for each channel a metre where it is densest; ``base_m`` is where that is.

    ``over_m`` is the height over which it thins by a factor e; mist lies up to ``top_m`` and thins over ``soft_m``.
    """

    takes: Colour
    base_m: float
    over_m: float
    mist: float
    top_m: float
    soft_m: float


def usual_visibility_km(diagonal_m: float) -> float:
    """Return how clear the air is unless it is told: a clear day's, or clearer where that would hide a large site."""
    return max(_CLEAR_DAY_KM, -diagonal_m / math.log(1.0 - _LOST) * KOSCHMIEDER / 1000.0)


def air(light: Light, diagonal_m: float, lowest_m: float) -> Air:
    """Return the air over a site that is so long across and whose lowest ground lies at an elevation."""
    visibility = light.visibility_km or usual_visibility_km(diagonal_m)
    whole = KOSCHMIEDER / (visibility * 1000.0)
    # what is left when there is no haze scatters like molecules, whatever its strength
    clear = min(1.0, atmosphere.RAYLEIGH_PER_M / whole)
    at = np.array(PRIMARIES_NM)
    by_colour = clear * atmosphere.molecules(at) + (1.0 - clear) * atmosphere.haze(at)
    by_colour = by_colour / by_colour[1] * whole
    mist = light.mist
    return Air(
        takes=(float(by_colour[0]), float(by_colour[1]), float(by_colour[2])),
        base_m=lowest_m,
        over_m=light.scale_height_m,
        mist=KOSCHMIEDER / mist.visibility_m if mist.on else 0.0,
        top_m=mist.top_m,
        soft_m=mist.soft_m,
    )


@inner
def _clear_below(air: Air, z: float) -> float:
    """Return the integral of the clear air's density up to a height."""
    return float(-air.over_m * math.exp(-(z - air.base_m) / air.over_m))


@inner
def _mist_below(air: Air, z: float) -> float:
    above = z - air.top_m
    return float(above if above < 0.0 else air.soft_m * (1.0 - math.exp(-above / air.soft_m)))


@inner
def passed(air: Air, from_m: float, to_m: float, distance_m: float) -> tuple[float, float]:
    """Return how much clear air and how much mist a straight way leads through, metres at their densest.

    Parameters
    ----------
    air : Air
        Clear air and mist.
    from_m, to_m : float
        Elevations of its ends, metres.
    distance_m : float
        Its length, metres.
    """
    rise = to_m - from_m
    if abs(rise) < 1e-4 * air.over_m:
        clear = math.exp(-(0.5 * (from_m + to_m) - air.base_m) / air.over_m)
    else:
        clear = (_clear_below(air, to_m) - _clear_below(air, from_m)) / rise
    misty = 0.0
    if air.mist > 0.0:
        if abs(rise) < 1e-4 * air.soft_m:
            above = 0.5 * (from_m + to_m) - air.top_m
            misty = 1.0 if above <= 0.0 else math.exp(-above / air.soft_m)
        else:
            misty = (_mist_below(air, to_m) - _mist_below(air, from_m)) / rise
    return clear * distance_m, misty * distance_m * air.mist


@kernel
def _lost(
    air: Air, from_m: float, to_m: NDArray[np.float32], distance_m: NDArray[np.float32], out: NDArray[np.float32]
) -> None:
    for i in range(out.shape[0]):
        clear, misty = passed(air, from_m, to_m[i], distance_m[i])
        out[i] = 1.0 - math.exp(-air.takes[1] * clear - misty)


def lost_over(
    air: Air, from_m: float, to_m: NDArray[np.float32], distance_m: NDArray[np.float32]
) -> NDArray[np.float32]:
    """Return what part of the light the air takes from one elevation to others, at 549 nm, 0..1."""
    out = np.empty(len(to_m), np.float32)
    _lost(air, from_m, to_m, distance_m, out)
    return out
