"""Light on what each fragment sees, the air before it, and the picture that comes of it."""

from __future__ import annotations

import math
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from elvatch.core import colour
from elvatch.core.cover.material import Material
from elvatch.core.gloss import facing, sun_shape
from elvatch.core.kernel import inner, kernel
from elvatch.core.light.air import passed
from elvatch.core.light.harmonics import irradiance
from elvatch.core.light.lighting import IMAGE, PLAIN, Lighting
from elvatch.core.light.sky import radiance
from elvatch.core.light.water import INDEX, fresnel, wetness, wetted
from elvatch.core.mapping import surface
from elvatch.core.parallel import Token, over_bands
from elvatch.core.picture import figure
from elvatch.core.picture.beyond import BeyondColours, colour_at
from elvatch.core.picture.crowded import Crowded
from elvatch.core.picture.crowded import none as nobody
from elvatch.core.picture.fragments import Clad, Fragments, GBuffer
from elvatch.core.picture.kinds import FIGURE, GROUND, SIDE, SKY, THING, WATER
from elvatch.core.picture.lit import lit, sky_axes

_NO_CROWD = nobody()
_SIDE_TONE = 0.3
_MIST_FORWARD = 0.6
_NOTHING = 2e-4
"""Of light that the air takes: not seen."""


class LitParts(NamedTuple):
    """What light falls on: what is seen, the material at its rows, which row each fragment has, the part of the sun
    that each sees, the colours beyond the edge, and what things too small to be shapes do at the material's rows."""

    buffer: GBuffer
    material: Material
    row: NDArray[np.int64]
    sunlit: NDArray[np.float32]
    around: BeyondColours
    crowded: Crowded


@inner
def _behind(image: NDArray[np.float32], x: float, y: float, z: float, out: NDArray[np.float32]) -> None:
    """Fill ``out`` with an image of the whole sky in a direction of its axes."""
    rows, cols = image.shape[0], image.shape[1]
    row = min(max((0.5 - math.asin(min(max(z, -1.0), 1.0)) / math.pi) * rows - 0.5, 0.0), rows - 1.001)
    turn = 0.5 - math.atan2(y, x) / (2.0 * math.pi)
    col = (turn - math.floor(turn)) * cols - 0.5
    r, c = int(row), math.floor(col)
    v, u = row - r, col - c
    left, right = (c + cols) % cols, (c + 1) % cols
    for k in range(3):
        top = image[r, left, k] * (1 - u) + image[r, right, k] * u
        low = image[r + 1, left, k] * (1 - u) + image[r + 1, right, k] * u
        out[k] = top * (1 - v) + low * v


@inner
def _sky(light: Lighting, dx: float, dy: float, dz: float, disc: bool, out: NDArray[np.float32]) -> None:
    """Fill ``out`` with the sky in a direction, with the sun's disc in it or without."""
    ax, ay = sky_axes(light, dx, dy)
    if light.shows == IMAGE:
        _behind(light.behind, ax, ay, dz, out)
        return
    seen = radiance(light.sky.table, ax, ay, dz)
    if light.shows == PLAIN:
        seen = radiance(light.sky.table, 0.0, 0.0, 1.0)
    toward = dx * light.sun[0] + dy * light.sun[1] + dz * light.sun[2]
    for c in range(3):
        out[c] = seen[c] + (light.disc[c] if disc and toward > light.disc_cos and dz > 0.0 else 0.0)


@inner
def _through_air(
    light: Lighting, z: float, dx: float, dy: float, dz: float, distance: float, value: NDArray[np.float32]
) -> None:
    """Dim what is seen along a ray that ends at elevation ``z``, and add what the air scatters into it."""
    clear, misty = passed(light.air, z - dz * distance, z, distance)
    if light.air.takes[2] * clear + misty < _NOTHING:
        return
    ax, ay = sky_axes(light, dx, dy)
    veil = radiance(light.sky.table, ax, ay, 0.02)
    for c in range(3):
        kept = math.exp(-light.air.takes[c] * clear)
        value[c] = value[c] * kept + veil[c] * (1.0 - kept)
    if misty <= 0.0:
        return
    toward = dx * light.sun[0] + dy * light.sun[1] + dz * light.sun[2]
    g = _MIST_FORWARD
    away = 1.0 + g * g - 2.0 * g * toward
    glow = 0.3 * (1.0 - g * g) / (4.0 * math.pi * away * math.sqrt(away))
    left = math.exp(-misty)
    for c in range(3):
        value[c] = value[c] * left + (light.mist[c] + light.sun_colour[c] * glow) * (1.0 - left)


@inner
def _bare(
    light: Lighting, f: Fragments, m: Material, i: int, k: int, base: NDArray[np.float32]
) -> tuple[float, float, float, float, float]:
    """Fill ``base`` with the ground's colour; return its normal, roughness, and how much of the sky is left open."""
    east, north = f.places.rise_east[i], f.places.rise_north[i]
    nx, ny, nz = surface.normal(east, north, m.slope[k, 0], m.slope[k, 1])
    for c in range(3):
        base[c] = m.colour[k, c]
    rough = float(m.roughness[k])
    wet = wetness(light.water, f.height_m[i])
    if wet > 0.0:
        rough = wetted(wet, m.metallic[k], rough, base)
    # of the sky a plane that lies so would see, other ground leaves this; the hollow of the cover's relief and the
    # set's own occlusion are two measures of one thing
    flat = 0.5 + 0.5 / math.sqrt(1.0 + east * east + north * north)
    return nx, ny, nz, rough, min(f.places.sky[i] / flat, 1.0) * min(m.occlusion[k], f.hollow[i])


@inner
def _ground(
    light: Lighting,
    f: Fragments,
    m: Material,
    crowded: Crowded,
    i: int,
    k: int,
    sun: float,
    base: NDArray[np.float32],
    value: NDArray[np.float32],
) -> None:
    nx, ny, nz, rough, open_sky = _bare(light, f, m, i, k, base)
    if crowded.hides.shape[0] == 0:
        lit(
            light,
            base,
            m.metallic[k],
            rough,
            open_sky,
            sun,
            nx,
            ny,
            nz,
            -f.toward[i, 0],
            -f.toward[i, 1],
            -f.toward[i, 2],
            value,
        )
    else:
        lit(
            light,
            base,
            m.metallic[k],
            rough,
            open_sky * crowded.open[k],
            sun * crowded.sun[k],
            nx,
            ny,
            nz,
            -f.toward[i, 0],
            -f.toward[i, 1],
            -f.toward[i, 2],
            value,
        )
        for c in range(3):
            small = crowded.lit[k, c] * sun * light.sun_colour[c] + crowded.skied[k, c] * f.places.sky[i]
            value[c] = value[c] * (1.0 - crowded.hides[k]) + small / math.pi
    if m.emission.shape[0] > 0:
        for c in range(3):
            value[c] += m.emission[k, c] * light.noon_white


@inner
def _water(
    light: Lighting,
    f: Fragments,
    m: Material,
    i: int,
    k: int,
    sun: float,
    mirror: NDArray[np.float32],
    base: NDArray[np.float32],
    value: NDArray[np.float32],
) -> None:
    """Fill ``value`` with what water sends to the eye: what it mirrors, the ground below it, and its own colour."""
    nx, ny, nz, _rough, open_sky = _bare(light, f, m, i, k, base)
    dx, dy, dz = f.toward[i, 0], f.toward[i, 1], f.toward[i, 2]
    wx, wy, wz = f.normal[i, 0], f.normal[i, 1], f.normal[i, 2]
    n_v = max(-(dx * wx + dy * wy + dz * wz), 0.02)
    mirrors = fresnel(n_v)
    up = max(light.sun[2], 0.0)
    # light comes down bent towards the upright, and loses what the surface mirrors
    down = math.sqrt(1.0 - (1.0 - up * up) / (INDEX * INDEX))
    sx, sy = light.sun[0] / INDEX, light.sun[1] / INDEX
    n_l = max(nx * sx + ny * sy + nz * down, 0.0)
    deep = max(f.height_m[i] - f.places.elevation_m[i], 0.0)
    ax, ay = sky_axes(light, nx, ny)
    spread = min(0.5 * f.rough[i] + 0.00012, 0.2)
    hx, hy, hz = light.sun[0] - dx, light.sun[1] - dy, light.sun[2] - dz
    length = math.sqrt(hx * hx + hy * hy + hz * hz) + 1e-9
    n_h = max((hx * wx + hy * wy + hz * wz) / length, 0.0)
    v_h = max(-(dx * hx + dy * hy + dz * hz) / length, 0.0)
    s_l = max(light.sun[0] * wx + light.sun[1] * wy + light.sun[2] * wz, 0.0)
    glint = 0.0
    if s_l > 0.0:
        glint = sun_shape(spread**0.25, s_l, n_v, n_h) * (0.02 + 0.98 * facing(v_h)) * s_l * sun
    even = irradiance(light.sky.falling, ax, ay, nz)
    for c in range(3):
        takes = light.water.takes[c]
        falls = even[c] * open_sky * math.exp(-takes * deep * 1.2)
        falls += light.sun_colour[c] * n_l * sun * (1.0 - fresnel(up)) * math.exp(-takes * deep / down)
        left = math.exp(-takes * f.under_m[i])
        around = light.sky.level[c] * f.places.sky[i] + light.sun_colour[c] * up * sun
        below = base[c] / math.pi * falls * left + light.water.deep[c] * around / math.pi * (1.0 - left)
        value[c] = below * (1.0 - mirrors) + mirror[c] * mirrors + glint * light.sun_colour[c]


@inner
def _band(z: float, spacing: float, across: float) -> float:
    """Return the tone of the strata that a cut side shows at a height, evened out over ``across`` metres."""
    at = z / spacing
    low = math.floor(at)
    here, below, above = _tone_of(low), _tone_of(low - 1.0), _tone_of(low + 1.0)
    soft = min(max(across / spacing, 0.02), 1.0)
    inside = at - low
    mean = (
        here + (below - here) * max(0.5 - inside / soft, 0.0) + (above - here) * max(0.5 - (1.0 - inside) / soft, 0.0)
    )
    # bands finer than pixels are one tone
    return float(mean + (_SIDE_TONE - mean) * min(max(1.6 * soft - 0.4, 0.0), 1.0))


@inner
def _tone_of(number: float) -> float:
    dice = math.sin(number * 12.9898 + 4.1414) * 43758.5453
    return _SIDE_TONE * (0.8 + 0.4 * (dice - math.floor(dice)))


@inner
def _other(
    light: Lighting,
    f: Fragments,
    around: BeyondColours,
    strata_m: float,
    i: int,
    sun: float,
    base: NDArray[np.float32],
    value: NDArray[np.float32],
) -> None:
    """Light the figure, the cut sides, and what lies beyond the edge."""
    what, rough = f.kind[i], 0.8
    open_sky = float(f.places.sky[i])
    if what == FIGURE:
        for c in range(3):
            base[c] = figure.COLOURS[f.tint[i], c]
    elif what == SIDE:
        z = f.height_m[i]
        base[:] = _band(z, strata_m, f.places.across_m[i])
        base[2] *= 0.9
        # the soil on top
        top = f.places.across_m[i]
        soil = min(max((0.12 * strata_m + top - (f.places.elevation_m[i] - z)) / top, 0.0), 1.0)
        for c in range(3):
            base[c] *= 1.0 - 0.55 * soil
        open_sky = 1.0
    else:
        colour_at(around, f.places.x_m[i], f.places.y_m[i], base)
        rough = around.roughness
        wet = wetness(light.water, f.height_m[i])
        if wet > 0.0:
            rough = wetted(wet, 0.0, rough, base)
    lit(
        light,
        base,
        0.0,
        rough,
        open_sky,
        sun,
        f.normal[i, 0],
        f.normal[i, 1],
        f.normal[i, 2],
        -f.toward[i, 0],
        -f.toward[i, 1],
        -f.toward[i, 2],
        value,
    )


@inner
def _thing(
    light: Lighting,
    f: Fragments,
    m: Material,
    i: int,
    k: int,
    clad: Clad,
    sun: float,
    base: NDArray[np.float32],
    value: NDArray[np.float32],
) -> None:
    """Fill ``value`` with what a thing sends to the eye; the ground climbs on at its foot."""
    j = clad.row[i]
    nx, ny, nz, ground_rough, ground_open = _bare(light, f, m, i, k, base)
    up = f.height_m[i] - f.places.elevation_m[i] - m.relief_m[k]
    foot = 0.0
    if clad.foot_m[j] > 0.0:
        t = min(max(1.0 - up / clad.foot_m[j], 0.0), 1.0)
        foot = t * t * (3.0 - 2.0 * t)
    takes = 1.0 - (1.0 - clad.of_ground[j]) * (1.0 - foot)
    wet = wetness(light.water, f.height_m[i])
    for c in range(3):
        base[c] = clad.colour[j, c] + (base[c] - clad.colour[j, c]) * takes
    rough = clad.rough[j] + (ground_rough - clad.rough[j]) * foot
    metal = clad.metal[j] + (m.metallic[k] - clad.metal[j]) * foot
    if wet > 0.0:
        rough = wetted(wet, metal, rough, base)
    # where they meet it is the ground in all things: its colour, its relief, what of the sky is open
    nx = f.normal[i, 0] + (nx - f.normal[i, 0]) * foot
    ny = f.normal[i, 1] + (ny - f.normal[i, 1]) * foot
    nz = f.normal[i, 2] + (nz - f.normal[i, 2]) * foot
    length = math.sqrt(nx * nx + ny * ny + nz * nz) + 1e-9
    nx, ny, nz = nx / length, ny / length, nz / length
    sky = f.places.sky[i] * clad.open[j] * f.hollow[i]
    sky += (ground_open - sky) * foot
    lit(light, base, metal, rough, sky, sun, nx, ny, nz, -f.toward[i, 0], -f.toward[i, 1], -f.toward[i, 2], value)
    leaf = clad.leaf[j]
    if leaf > 0.0:
        n_l = nx * light.sun[0] + ny * light.sun[1] + nz * light.sun[2]
        ax, ay = sky_axes(light, -nx, -ny)
        even = irradiance(light.sky.falling, ax, ay, -nz)
        for c in range(3):
            # what comes through is greener and darker than what is thrown back
            through = leaf * base[c] * (1.0 if c < 2 else 0.6) / math.pi
            value[c] = value[c] * (1.0 - 0.4 * leaf) + through * (
                max(-n_l, 0.0) * sun * light.sun_colour[c] + 0.5 * even[c] * sky
            )
    if clad.glow.shape[0] > 0:
        for c in range(3):
            value[c] += clad.glow[j, c] * light.noon_white * (1.0 - foot)


@kernel
def _shade_band(
    light: Lighting,
    f: Fragments,
    m: Material,
    index: NDArray[np.int64],
    clad: Clad,
    crowded: Crowded,
    around: BeyondColours,
    strata_m: float,
    sunlit: NDArray[np.float32],
    changed: NDArray[np.bool_],
    out: NDArray[np.float32],
    base: NDArray[np.float32],
    a: int,
    b: int,
) -> None:
    """Fill in the radiance that comes to the eye, or to the water that mirrors it, where it changed."""
    for i in range(a, b):
        what = f.kind[i]
        if not changed[i] and not (what == WATER and changed[f.mirror[i]]):
            continue
        dx, dy, dz = f.toward[i, 0], f.toward[i, 1], f.toward[i, 2]
        value = out[i]
        if what == SKY:
            _sky(light, dx, dy, dz, f.weight[i] > 0.0, value)
            continue
        if what == GROUND:
            _ground(light, f, m, crowded, i, index[i], sunlit[i], base, value)
        elif what == WATER:
            _water(light, f, m, i, index[i], sunlit[i], out[f.mirror[i]], base, value)
        elif what == THING:
            _thing(light, f, m, i, index[i], clad, sunlit[i], base, value)
        else:
            _other(light, f, around, strata_m, i, sunlit[i], base, value)
        _through_air(light, f.height_m[i], dx, dy, dz, f.depth_m[i], value)


@kernel
def _tone_band(exposure: float, radiance: NDArray[np.float32], out: NDArray[np.float32], a: int, b: int) -> None:
    for i in range(a, b):
        r, g, bl = colour.tone(radiance[i, 0] * exposure, radiance[i, 1] * exposure, radiance[i, 2] * exposure)
        out[i, 0], out[i, 1], out[i, 2] = r, g, bl


def shade(
    buffer: GBuffer,
    material: Material,
    index: NDArray[np.int64],
    sunlit: NDArray[np.float32],
    light: Lighting,
    around: BeyondColours,
    strata_m: float = 10.0,
    token: Token | None = None,
    crowded: Crowded | None = None,
) -> NDArray[np.float32]:
    """Return the radiance of each fragment, linear Rec.709, shape (n, 3).

    Parameters
    ----------
    buffer : GBuffer
        What is seen.
    material : Material
        Of the fragments only that the cover is asked about.
    index : ndarray, shape (n,), int64
        Row in ``material`` of each fragment; ignored where it sees no ground.
    sunlit : ndarray, shape (n,), float32
        Part of the sun that each fragment sees.
    light : Lighting
        Sun, sky, air and water.
    around : BeyondColours
        Colours beyond the edge.
    strata_m : float
        From one band of a cut side to the next, metres.
    token : Token, optional
        Asked between bands.
    crowded : Crowded, optional
        What things too small to be shapes do at the rows of ``material``.
    """
    count = len(buffer.fragments.pixel)
    parts = LitParts(buffer, material, index, sunlit, around, crowded or _NO_CROWD)
    return again(parts, light, strata_m, np.zeros((count, 3), np.float32), np.ones(count, np.bool_), token)


def again(
    parts: LitParts,
    light: Lighting,
    strata_m: float,
    out: NDArray[np.float32],
    changed: NDArray[np.bool_],
    token: Token | None = None,
) -> NDArray[np.float32]:
    """Return the radiance of each fragment, of which all is known but where something changed; see :func:`shade`.

    Parameters
    ----------
    parts, light, strata_m
        What light falls on, and the light.
    out : ndarray, shape (n, 3), float32
        What is known; filled in.
    changed : ndarray, shape (n,), bool
        Where it is to be found anew.
    token : Token, optional
        Asked between bands.
    """
    f, small = parts.buffer.fragments, parts.crowded
    # what water mirrors comes last and is wanted first
    seen = len(out) - int((f.mirror >= 0).sum())
    of = f, parts.material, parts.row, parts.buffer.clad, small, parts.around
    asked = (light, *of, strata_m, parts.sunlit, changed, out)

    def over(first: int, last: int) -> None:
        over_bands(
            last - first,
            lambda a, b: _shade_band(*asked, np.empty(3, np.float32), first + a, first + b),
            token,
            least=2048,
        )

    over(seen, len(out))
    over(0, seen)
    return out


def toned(radiance: NDArray[np.float32], exposure: float) -> NDArray[np.float32]:
    """Return radiance as it is shown, linear 0..1, through the pictures' tone curve."""
    out = np.empty_like(radiance)
    over_bands(len(out), lambda a, b: _tone_band(exposure, radiance, out, a, b), least=8192)
    return out


@kernel
def _resolve(f: Fragments, shown: NDArray[np.float32], out: NDArray[np.float32]) -> None:
    for i in range(f.pixel.shape[0]):
        for c in range(3):
            out[f.pixel[i], c] += shown[i, c] * f.weight[i]


def resolve(buffer: GBuffer, shown: NDArray[np.float32]) -> NDArray[np.uint8]:
    """Add fragments up to a picture and encode it, shape (height, width, 3), sRGB 8 bit."""
    count = buffer.width_px * buffer.height_px
    pixels = np.zeros((count, 3), np.float32)
    _resolve(buffer.fragments, shown, pixels)
    return colour.srgb_bytes(pixels).reshape(buffer.height_px, buffer.width_px, 3)
