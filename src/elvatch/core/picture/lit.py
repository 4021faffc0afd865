"""What a surface sends to the eye under sun and sky: GGX with Smith masking and Schlick's Fresnel, and light that
the ground throws back."""

from __future__ import annotations

import math

import numpy as np
from numpy.typing import NDArray

from elvatch.core.gloss import AROUND, OWN, SUN_AROUND, facing, mirrored_share, sun_shape
from elvatch.core.kernel import inner
from elvatch.core.light.harmonics import irradiance
from elvatch.core.light.lighting import Lighting
from elvatch.core.light.sky import radiance


@inner
def sky_axes(light: Lighting, x: float, y: float) -> tuple[float, float]:
    """Return the level part of a direction in the sky's own axes."""
    return light.cos * x + light.sin * y, light.cos * y - light.sin * x


@inner
def lit(
    light: Lighting,
    base: NDArray[np.float32],
    metallic: float,
    roughness: float,
    open_sky: float,
    sun: float,
    nx: float,
    ny: float,
    nz: float,
    vx: float,
    vy: float,
    vz: float,
    out: NDArray[np.float32],
) -> None:
    """Fill ``out`` with the light a surface sends to the eye; ``v`` points to the eye.

    ``open_sky`` is the part that other ground leaves of what a surface that faces so would see of the sky; what it
    does not see of the sky is ground, which throws light back.
    """
    n_v = max(nx * vx + ny * vy + nz * vz, 0.02)
    n_l = nx * light.sun[0] + ny * light.sun[1] + nz * light.sun[2]
    hx, hy, hz = vx + light.sun[0], vy + light.sun[1], vz + light.sun[2]
    length = math.sqrt(hx * hx + hy * hy + hz * hz) + 1e-9
    n_h = max((nx * hx + ny * hy + nz * hz) / length, 0.0)
    v_h = max((vx * hx + vy * hy + vz * hz) / length, 0.0)
    rx, ry, rz = 2.0 * n_v * nx - vx, 2.0 * n_v * ny - vy, 2.0 * n_v * nz - vz
    # rough surfaces mirror a wide part of the sky, towards the normal
    wide = roughness * roughness
    rx, ry, rz = rx + (nx - rx) * wide, ry + (ny - ry) * wide, rz + (nz - rz) * wide
    length = math.sqrt(rx * rx + ry * ry + rz * rz) + 1e-9
    rx, ry, rz = rx / length, ry / length, rz / length
    ax, ay = sky_axes(light, nx, ny)
    bx, by = sky_axes(light, rx, ry)
    sharp, even = radiance(light.sky.table, bx, by, rz), irradiance(light.sky.falling, ax, ay, nz)
    closed = 1.0 - (0.5 + 0.5 * nz) * open_sky
    upwards = min(max(0.5 + 2.0 * rz / (0.15 + roughness), 0.0), 1.0)
    # ground that faces away from the sun tells nothing of whether the ground around it lies in the sun
    told = min(max(4.0 * n_l + 0.5, 0.0), 1.0)
    scale, more = mirrored_share(roughness, n_v)
    lit_up = n_l > 0.0 and sun > 0.0
    shape, flat = (sun_shape(roughness, n_l, n_v, n_h), facing(v_h)) if lit_up else (0.0, 0.0)
    around = (1.0 + (sun - 1.0) * told) * SUN_AROUND * max(light.sun[2], 0.0)
    for c in range(3):
        f0 = 0.04 * (1.0 - metallic) + base[c] * metallic
        mirrors = max(f0 * scale + more, 0.0)
        own = base[c] * (1.0 - metallic)
        falls = even[c] * open_sky
        ground = AROUND + (own - AROUND) * OWN
        thrown = ground * (light.sun_colour[c] * around + light.sky.level[c] * open_sky)
        diffuse = own / math.pi * (1.0 - mirrors)
        value = diffuse * (falls + thrown * closed)
        seen = sharp[c] + (even[c] / math.pi - sharp[c]) * roughness
        value += mirrors * (seen * upwards * open_sky + thrown / math.pi * (1.0 - upwards * open_sky))
        if lit_up:
            value += (diffuse + shape * (f0 + (1.0 - f0) * flat)) * light.sun_colour[c] * n_l * sun
        out[c] = value
