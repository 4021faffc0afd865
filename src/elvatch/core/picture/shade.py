"""Light on material: GGX with Smith masking and Schlick's Fresnel, sun, sky, bounce and haze."""

from __future__ import annotations

import math

import numpy as np
from numpy.typing import NDArray

from elvatch.core import colour
from elvatch.core.cover.function import Material
from elvatch.core.kernel import inner, kernel
from elvatch.core.mapping import surface
from elvatch.core.parallel import Token, over_bands
from elvatch.core.picture.gbuffer import Fragments, GBuffer
from elvatch.core.picture.light import Lighting
from elvatch.core.picture.scene import FIGURE, GROUND, SIDE, SKY

_FIGURE_TONE = 0.2
_SIDE_TONE = 0.42
_SIDE_LINE_M = 10.0


@inner
def _sky_radiance(light: Lighting, dx: float, dy: float, dz: float, channel: int) -> float:
    """Radiance of the sky in a direction; below the horizon it goes on as haze."""
    up = max(dz, 0.0)
    share = up**0.45
    toward = max(dx * light.sun[0] + dy * light.sun[1] + dz * light.sun[2], 0.0)
    glow = 0.05 * toward**8 + 0.09 * toward**80
    return float(
        light.horizon[channel] * (1.0 - share)
        + light.zenith[channel] * share
        + light.sun_colour[channel] * glow * 0.5
    )


@inner
def _sun_lobe(roughness: float, n_l: float, n_v: float, n_h: float, v_h: float, f0: float) -> float:
    """GGX distribution, height-correlated Smith masking (Heitz 2014) and Schlick's Fresnel."""
    a2 = max(roughness**4, 1e-6)
    d = n_h * n_h * (a2 - 1.0) + 1.0
    distribution = a2 / (math.pi * d * d)
    mask = n_l * math.sqrt(n_v * n_v * (1.0 - a2) + a2) + n_v * math.sqrt(n_l * n_l * (1.0 - a2) + a2)
    return float(distribution * 0.5 / max(mask, 1e-5) * (f0 + (1.0 - f0) * (1.0 - v_h) ** 5))


@inner
def _sky_lobe(roughness: float, n_v: float, f0: float) -> float:
    """How much of the sky's mean radiance is mirrored (Karis 2014's fit)."""
    r0, r1 = 1.0 - roughness, -0.0275 * roughness + 0.0425
    r2, r3 = -0.572 * roughness + 1.04, 0.022 * roughness - 0.04
    a = min(r0 * r0, 2.0 ** (-9.28 * n_v)) * r0 + r1
    result: float = max(f0 * (-1.04 * a + r2) + (1.04 * a + r3), 0.0)
    return result


@inner
def _lit(
    light: Lighting, base: NDArray[np.float32], metallic: float, roughness: float, open_sky: float, sun: float,
    nx: float, ny: float, nz: float, vx: float, vy: float, vz: float, out: NDArray[np.float32],
) -> None:  # fmt: skip
    """Fill ``out`` with the light a surface sends to the eye; ``v`` points to the eye."""
    n_v = max(nx * vx + ny * vy + nz * vz, 0.02)
    n_l = nx * light.sun[0] + ny * light.sun[1] + nz * light.sun[2]
    hx, hy, hz = vx + light.sun[0], vy + light.sun[1], vz + light.sun[2]
    length = math.sqrt(hx * hx + hy * hy + hz * hz) + 1e-9
    n_h = max((nx * hx + ny * hy + nz * hz) / length, 0.0)
    v_h = max((vx * hx + vy * hy + vz * hz) / length, 0.0)
    rx, ry, rz = 2.0 * n_v * nx - vx, 2.0 * n_v * ny - vy, 2.0 * n_v * nz - vz
    # rough surfaces mirror a wide part of the sky, towards the normal
    rx, ry, rz = rx + (nx - rx) * roughness, ry + (ny - ry) * roughness, rz + (nz - rz) * roughness
    above = 0.5 + 0.5 * nz
    for c in range(3):
        f0 = 0.04 * (1.0 - metallic) + base[c] * metallic
        diffuse = base[c] * (1.0 - metallic) / math.pi
        value = diffuse * (light.sky[c] * above + light.bounce[c] * (1.0 - above)) * open_sky
        mirrored = _sky_radiance(light, rx, ry, max(rz, 0.0), c) * above + light.bounce[c] / math.pi * (1.0 - above)
        value += mirrored * _sky_lobe(roughness, n_v, f0) * open_sky
        if n_l > 0.0 and sun > 0.0:
            lobe = _sun_lobe(roughness, n_l, n_v, n_h, v_h, f0)
            value += (diffuse + lobe) * light.sun_colour[c] * n_l * sun
        out[c] = value


@kernel
def _shade_band(
    light: Lighting, f: Fragments, m: Material, index: NDArray[np.int64], sunlit: NDArray[np.float32],
    out: NDArray[np.float32], scratch: NDArray[np.float32], a: int, b: int,
) -> None:  # fmt: skip
    base, value = scratch[0], scratch[1]
    for i in range(a, b):
        dx, dy, dz = f.toward[i, 0], f.toward[i, 1], f.toward[i, 2]
        what = f.kind[i]
        if what == SKY:
            for c in range(3):
                value[c] = _sky_radiance(light, dx, dy, dz, c)
        elif what == GROUND:
            k = index[i]
            nx, ny, nz = surface.normal(
                f.places.rise_east[i], f.places.rise_north[i], m.slope[k, 0], m.slope[k, 1]
            )  # fmt: skip
            for c in range(3):
                base[c] = m.colour[k, c]
            # the set's own occlusion and that of the relief are two measures of one thing
            open_sky = f.places.sky[i] * min(m.occlusion[k], f.hollow[i])
            _lit(light, base, m.metallic[k], m.roughness[k], open_sky, sunlit[i],
                 nx, ny, nz, -dx, -dy, -dz, value)  # fmt: skip
            if m.emission.shape[0] > 0:
                for c in range(3):
                    value[c] += m.emission[k, c] * light.noon_white
        else:
            tone, rough = (_FIGURE_TONE, 0.7) if what == FIGURE else (_SIDE_TONE, 0.9)
            if what == SIDE:
                z = f.height_m[i]
                near_line = abs(z / _SIDE_LINE_M - math.floor(z / _SIDE_LINE_M + 0.5)) * _SIDE_LINE_M
                thick = max(0.25, f.depth_m[i] * 0.0006)
                if near_line < thick:
                    tone *= 0.72
                if f.places.elevation_m[i] - z < max(0.6, f.depth_m[i] * 0.0014):
                    tone *= 0.45
            base[:] = tone
            _lit(light, base, 0.0, rough, f.places.sky[i], sunlit[i],
                 f.normal[i, 0], f.normal[i, 1], f.normal[i, 2], -dx, -dy, -dz, value)  # fmt: skip
        clear = math.exp(-light.haze_per_m * f.depth_m[i]) if what != SKY else 1.0
        for c in range(3):
            veil = _sky_radiance(light, dx, dy, 0.02, c)
            value[c] = (value[c] * clear + veil * (1.0 - clear)) * light.exposure
        r, g, bl = colour.tone(value[0], value[1], value[2])
        out[i, 0], out[i, 1], out[i, 2] = r, g, bl


def shade(
    buffer: GBuffer, material: Material, index: NDArray[np.int64], sunlit: NDArray[np.float32], light: Lighting,
    token: Token | None = None,
) -> NDArray[np.float32]:  # fmt: skip
    """Return each fragment's colour as shown, linear 0..1, shape (n, 3).

    Parameters
    ----------
    buffer : GBuffer
        What is seen.
    material : Material
        Of the ground fragments only.
    index : ndarray, shape (n,), int64
        Row in ``material`` of each fragment; ignored where it sees no ground.
    sunlit : ndarray, shape (n,), float32
        Part of the sun that each fragment sees.
    light : Lighting
        Sun, sky and air.
    token : Token, optional
        Asked between bands.
    """
    f = buffer.fragments
    out = np.empty((len(f.pixel), 3), np.float32)
    over_bands(
        len(out),
        lambda a, b: _shade_band(light, f, material, index, sunlit, out, np.empty((2, 3), np.float32), a, b),
        token,
        least=2048,
    )
    return out


@kernel
def _resolve(f: Fragments, shown: NDArray[np.float32], out: NDArray[np.float32]) -> None:
    for i in range(f.pixel.shape[0]):
        for c in range(3):
            out[f.pixel[i], c] += shown[i, c] * f.weight[i]


@kernel
def _encode_band(pixels: NDArray[np.float32], out: NDArray[np.uint8], a: int, b: int) -> None:
    for i in range(a, b):
        for c in range(3):
            out[i, c] = int(colour.srgb_code(pixels[i, c]) * 255.0 + 0.5)


def resolve(buffer: GBuffer, shown: NDArray[np.float32]) -> NDArray[np.uint8]:
    """Add fragments up to a picture and encode it, shape (height, width, 3), sRGB 8 bit."""
    count = buffer.width_px * buffer.height_px
    pixels = np.zeros((count, 3), np.float32)
    _resolve(buffer.fragments, shown, pixels)
    out = np.empty((count, 3), np.uint8)
    over_bands(count, lambda a, b: _encode_band(pixels, out, a, b), least=4096)
    return out.reshape(buffer.height_px, buffer.width_px, 3)
