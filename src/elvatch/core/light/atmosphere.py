"""The air over the site: how it lets light through, and how it scatters it more than once.

Molecules, haze and ozone lie in spherical shells (constants of Bruneton & Neyret 2008). Light that is scattered
again and again is taken as even in all directions, which sums up as a series (Hillaire 2020). Worked out in bands
of wavelength, since three would turn the horizon green.
"""

from __future__ import annotations

import functools
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from elvatch.core.light.spectrum import NANOMETRES, Bands

Values = NDArray[np.float64]

RADIUS_M = 6.360e6
_TOP_M = 6.0e4
_MOLECULES_M, _HAZE_M = 8000.0, 1200.0
RAYLEIGH_PER_M = 1.21e-5
"""At 550 nm and sea level: a vertical path has an optical depth of 0.097 (Bodhaine et al. 1999)."""
_HAZE_SCATTERS = 0.93
_HAZE_FORWARD = 0.76
_GROUND_ALBEDO = 0.2
# absorption of ozone, 1e-21 cm2 a molecule, over wavelengths (Serdyuchenko et al. 2014, rounded); 300 Dobson units
_OZONE_NM = (390.0, 400.0, 440.0, 480.0, 520.0, 560.0, 600.0, 640.0, 680.0, 720.0)
_OZONE = (0.0, 0.01, 0.13, 0.7, 1.78, 3.9, 5.1, 2.95, 1.37, 0.64)
_OZONE_COLUMN_PER_CM2 = 8.06e18
_OZONE_MIDDLE_M, _OZONE_HALF_M = 25_000.0, 15_000.0

_ALTITUDES, _RISES = 40, 72
_LOWEST_RISE = -0.25
_WALK = 24


def molecules(nanometres: NDArray[np.float64]) -> Values:
    """Return how much more than at 550 nm molecules scatter at wavelengths (Rayleigh, with the air's dispersion)."""
    return np.asarray((550.0 / nanometres) ** 4.09)


def haze(nanometres: NDArray[np.float64]) -> Values:
    """Return how much more than at 550 nm haze scatters at wavelengths (exponent 1.3 of Ångström 1929)."""
    return np.asarray((550.0 / nanometres) ** 1.3)


def _densities(height_m: Values) -> Values:
    """Return the densities of molecules, haze and ozone at heights, 1 where each is densest; shape (..., 3)."""
    ozone = np.clip(1.0 - np.abs(height_m - _OZONE_MIDDLE_M) / _OZONE_HALF_M, 0.0, 1.0)
    return np.stack([np.exp(-height_m / _MOLECULES_M), np.exp(-height_m / _HAZE_M), ozone], axis=-1)


def _leaves_at(height_m: Values, rise: Values) -> tuple[Values, NDArray[np.bool_]]:
    """Return how far a ray goes through the air, and whether it ends on the ground; ``rise`` is its z."""
    r = RADIUS_M + height_m
    under = r * r * (rise * rise - 1.0) + RADIUS_M**2
    lands = (rise < 0.0) & (under >= 0.0)
    out = -r * rise + np.sqrt(r * r * (rise * rise - 1.0) + (RADIUS_M + _TOP_M) ** 2)
    return np.where(lands, -r * rise - np.sqrt(np.maximum(under, 0.0)), out), lands


class _Walked(NamedTuple):
    """Steps along rays: how far (m), how long each is (m), the height there, the densities, and the columns of
    molecules, haze and ozone up to there."""

    far_m: Values
    lands: NDArray[np.bool_]
    away_m: Values
    length_m: Values
    height_m: Values
    density: Values
    column: Values


def _walk(height_m: Values, rise: Values, steps: int) -> _Walked:
    far, lands = _leaves_at(height_m, rise)
    at = (np.arange(steps) + 0.5) / steps
    away, length = far[..., None] * at**2, far[..., None] * 2.0 * at / steps
    r = RADIUS_M + height_m[..., None]
    height = np.maximum(np.sqrt(r * r + away * away + 2.0 * r * rise[..., None] * away) - RADIUS_M, 0.0)
    density = _densities(height)
    pieces = density * length[..., None]
    return _Walked(far, lands, away, length, height, density, np.cumsum(pieces, axis=-2) - 0.5 * pieces)


def _between(table: Values, row: Values, col: Values) -> Values:
    """Return values of a table (rows, cols, n) between its rows and columns."""
    r = np.clip(row, 0, table.shape[0] - 1.001).astype(np.int64)
    c = np.clip(col, 0, table.shape[1] - 1.001).astype(np.int64)
    v, u = np.clip(row - r, 0, 1)[..., None], np.clip(col - c, 0, 1)[..., None]
    top = table[r, c] * (1 - u) + table[r, c + 1] * u
    return np.asarray(top * (1 - v) + (table[r + 1, c] * (1 - u) + table[r + 1, c + 1] * u) * v)


def _rise_at(col: Values) -> Values:
    level = col / (_RISES - 1) * 1.5 - 0.5
    return np.asarray(np.sign(level) * level * level)


@functools.cache
def _log_columns() -> Values:
    """Return the logarithm of the columns (m) from heights out of the air by direction; past the ground endless."""
    height = (np.arange(_ALTITUDES) / (_ALTITUDES - 1)) ** 2 * _TOP_M
    rise = _rise_at(np.arange(_RISES, dtype=np.float64))
    walked = _walk(height[:, None] + 0 * rise, rise + 0 * height[:, None], 64)
    whole = (walked.density * walked.length_m[..., None]).sum(axis=-2)
    whole[walked.lands] = 1e9
    return np.asarray(np.log(whole + 1e-3))


def columns(height_m: Values, rise: Values) -> Values:
    """Return the columns of molecules, haze and ozone (m at their densest) from places out of the air.

    Parameters
    ----------
    height_m : ndarray
        Above the ground, metres.
    rise : ndarray
        z of the direction, -1..1.

    Returns
    -------
    ndarray, shape (..., 3)
        Very large where the ground is in the way.
    """
    row = np.sqrt(np.clip(height_m / _TOP_M, 0.0, 1.0)) * (_ALTITUDES - 1)
    col = (np.sign(rise) * np.sqrt(np.abs(rise)) + 0.5) / 1.5 * (_RISES - 1)
    return np.asarray(np.exp(_between(_log_columns(), row, col)))


class Atmosphere:
    """Air of one clearness.

    Parameters
    ----------
    visibility_km : float
        Through the air at the ground (Koschmieder 1924); beyond some 300 km there is no haze left.
    """

    def __init__(self, visibility_km: float) -> None:
        whole = 3.912 / (visibility_km * 1000.0)
        hazy = max(whole - RAYLEIGH_PER_M, 1e-6) * haze(NANOMETRES)
        clear = RAYLEIGH_PER_M * molecules(NANOMETRES)
        absorbed = np.interp(NANOMETRES, _OZONE_NM, _OZONE) * 1e-21 * _OZONE_COLUMN_PER_CM2 / _OZONE_HALF_M
        self._takes = np.stack([clear, hazy, absorbed])
        self._scatters = np.stack([clear, hazy * _HAZE_SCATTERS])
        self._again = self._scattered_again()

    def _through(self, column: Values) -> Values:
        """Return what part of the light comes through columns, by band."""
        return np.asarray(np.exp(-np.minimum(column @ self._takes, 80.0)))

    def sun(self, height_deg: float) -> Bands:
        """Return what part of the sun's light reaches the ground, by band."""
        rise = np.array(np.sin(np.radians(height_deg)))
        return self._through(columns(np.zeros(()), rise))

    def _scattered_again(self) -> Values:
        """Return the radiance of light scattered more than once, over heights and the sun's rise, by band."""
        height = np.linspace(0, 1, 10)[:, None, None] ** 2 * _TOP_M * 0.8
        sun = np.linspace(_LOWEST_RISE, 1.0, 20)[None, :, None]
        k = np.arange(48) + 0.5
        rise, turn = 1.0 - 2.0 * k / 48, np.pi * (1.0 + 5.0**0.5) * k  # directions spread evenly (Vogel 1979)
        towards = rise * sun + np.sqrt(1 - rise * rise) * np.sqrt(np.maximum(1 - sun * sun, 0)) * np.cos(turn)
        walked = _walk(height + 1.0 + 0 * rise + 0 * sun, rise + 0 * sun + 0 * height, 20)
        at = ((RADIUS_M + height)[..., None] * sun[..., None] + walked.away_m * towards[..., None]) / (
            RADIUS_M + walked.height_m
        )
        kept = self._through(walked.column) * (walked.density[..., :2] @ self._scatters) * walked.length_m[..., None]
        once = (kept * self._through(columns(walked.height_m, at))).sum(axis=-2) / (4 * np.pi)
        whole = self._through((walked.density * walked.length_m[..., None]).sum(axis=-2))
        landing = ((RADIUS_M + height) * sun + walked.far_m * towards) / RADIUS_M
        lit = self._through(columns(0 * landing, landing)) * np.maximum(landing, 0)[..., None]
        once = once + np.where(walked.lands[..., None], lit * whole * (_GROUND_ALBEDO / np.pi), 0.0)
        return np.asarray(once.mean(axis=2) / (1.0 - kept.sum(axis=-2).mean(axis=2)))

    def _again_at(self, height_m: Values, sun: Values) -> Values:
        row = np.sqrt(np.clip(height_m / (_TOP_M * 0.8), 0, 1)) * (self._again.shape[0] - 1)
        col = (sun - _LOWEST_RISE) / (1.0 - _LOWEST_RISE) * (self._again.shape[1] - 1)
        return _between(self._again, row, col)

    def sky(self, sun_deg: float, height_rad: Values, aside_rad: Values) -> Values:
        """Return the radiance of the clear sky, in parts of the sun's irradiance above the air, by band.

        Parameters
        ----------
        sun_deg : float
            Height of the sun over the horizon, degrees.
        height_rad : ndarray, shape (n,)
            Over the horizon, radians.
        aside_rad : ndarray, shape (m,)
            From the sun's bearing, radians.

        Returns
        -------
        ndarray, shape (n, m, 12)
        """
        rise, up = np.maximum(np.sin(height_rad), 1e-3)[:, None], np.sin(np.radians(sun_deg))
        level = np.sqrt(1 - rise * rise) * np.cos(np.radians(sun_deg))
        towards = rise * up + level * np.cos(aside_rad)[None]
        walked = _walk(np.full_like(rise, 2.0), rise, _WALK)
        at = (RADIUS_M * up + walked.away_m * towards[..., None]) / (RADIUS_M + walked.height_m)
        height = np.broadcast_to(walked.height_m, at.shape)
        even = 3.0 / (16.0 * np.pi) * (1.0 + towards**2)
        g = _HAZE_FORWARD
        # Cornette & Shanks 1992
        forward = (
            3 / (8 * np.pi) * (1 - g * g) * (1 + towards**2) / ((2 + g * g) * (1 + g * g - 2 * g * towards) ** 1.5)
        )
        scattered = (
            walked.density[..., 0:1] * self._scatters[0] * even[..., None, None]
            + walked.density[..., 1:2] * self._scatters[1] * forward[..., None, None]
        )
        seen = scattered * self._through(columns(height, at))
        seen += (walked.density[..., :2] @ self._scatters) * self._again_at(height, at)
        return np.asarray((self._through(walked.column) * seen * walked.length_m[..., None]).sum(axis=-2))


@functools.lru_cache(maxsize=8)
def atmosphere(visibility_km: float) -> Atmosphere:
    """Return air of one clearness, made once."""
    return Atmosphere(visibility_km)
