"""What part of the sun's disc each fragment sees."""

from __future__ import annotations

import math
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from elvatch.core.ground.survey import ground_at
from elvatch.core.kernel import inner, kernel
from elvatch.core.light.sun import Direction
from elvatch.core.parallel import Token, over_bands
from elvatch.core.picture.fragments import Fragments, GBuffer
from elvatch.core.picture.kinds import BEYOND, GROUND, SKY, THING, WATER
from elvatch.core.picture.scene import Scene, in_sun

_WITHIN = np.array([[-0.375, -0.125], [0.125, -0.375], [0.375, 0.125], [-0.125, 0.375]])
_OFF_M = 0.004
_WIDE_DEG = 1.5
"""From here on a shadow's edge is wider than the pixels next to it."""


class SunSeen(NamedTuple):
    """What part of the sun's disc each fragment sees, 0..1; what part one ray to its middle does, and whether the
    whole disc was looked at."""

    part: NDArray[np.float32]
    middle: NDArray[np.float32]
    whole: NDArray[np.bool_]


class SunBefore(NamedTuple):
    """What fragments of nearly the same picture saw of the same sun, and which of them each fragment is whose rays
    meet what they met; -1 for none."""

    seen: SunSeen
    rows: NDArray[np.int64]


def disc(rays: int, width_deg: float) -> NDArray[np.float64]:
    """Return places spread evenly over the sun's disc (Vogel 1979), as slopes against its middle."""
    k = np.arange(rays)
    turn = k * math.pi * (3 - math.sqrt(5))
    out = np.sqrt((k + 0.5) / rays) * math.tan(math.radians(width_deg / 2))
    return np.stack([out * np.cos(turn), out * np.sin(turn)], axis=1)


@inner
def lift_beyond(scene: Scene) -> float:
    """Return how far above the ground beyond the edge rays start: its cells are as coarse as it is far away."""
    return 0.0 if scene.upright else 0.25 * scene.outer.cell_x_m


@inner
def _somewhere(scene: Scene, f: Fragments, i: int, p: float, q: float) -> tuple[float, float, float]:
    """Return a place of the area that a fragment covers; ``p`` along it and ``q`` across, -0.5..0.5."""
    at = f.places
    east, north, across = at.along_east_m[i], at.along_north_m[i], at.across_m[i]
    long = math.hypot(east, north)
    ex, ey = (east / long, north / long) if long > 0.0 else (1.0, 0.0)
    p, q = p * (long + across), q * across
    dx, dy = p * ex - q * ey, p * ey + q * ex
    z = f.height_m[i] + at.rise_east[i] * dx + at.rise_north[i] * dy
    x = min(max(at.x_m[i] + dx, 0.0), scene.survey.width_m)
    y = min(max(at.y_m[i] + dy, 0.0), scene.survey.depth_m)
    if scene.bed.patches.shape[0] == 0:
        z = ground_at(scene.survey, x, y)[0]
    return x, y, z


@inner
def _seen(scene: Scene, f: Fragments, i: int, sun: Direction, disc: NDArray[np.float64], lift: float) -> float:
    """Return the part of the sun's disc that one fragment sees."""
    # two directions square to the sun's span its disc
    level = math.hypot(sun[0], sun[1]) + 1e-9
    ux, uy = -sun[1] / level, sun[0] / level
    vx, vy, vz = -sun[2] * sun[0] / level, -sun[2] * sun[1] / level, level
    what = f.kind[i]
    x, y, z = f.places.x_m[i], f.places.y_m[i], float(f.height_m[i])
    if what == THING:
        # along the light: what stands thin is lit from behind too
        x, y, z = x + sun[0] * _OFF_M, y + sun[1] * _OFF_M, z + sun[2] * _OFF_M
        toward = f.normal[i, 0] * sun[0] + f.normal[i, 1] * sun[1] + f.normal[i, 2] * sun[2]
        near = 0.5 * _OFF_M if toward > 0.0 else 0.0
        x, y, z = x + f.normal[i, 0] * near, y + f.normal[i, 1] * near, z + f.normal[i, 2] * near
    elif what != GROUND and what != WATER:
        x += f.normal[i, 0] * 0.012
        y += f.normal[i, 1] * 0.012
        z += f.normal[i, 2] * 0.012
    if what == BEYOND:
        lift = lift_beyond(scene)
    elif what != GROUND:
        lift = 0.0
    elif scene.bed.patches.shape[0] > 0:
        # a relief of centimetres shades by centimetres
        lift = min(lift, 0.2 * f.places.across_m[i])
    lit = 0
    for k in range(disc.shape[0]):
        p, q = disc[k, 0], disc[k, 1]
        sx, sy, sz = sun[0] + p * ux + q * vx, sun[1] + p * uy + q * vy, sun[2] + q * vz
        east, north, up = x, y, z
        if what == GROUND and disc.shape[0] > 1:
            # a shadow's edge goes through a pixel: each ray starts at another place of what the pixel covers
            east, north, up = _somewhere(scene, f, i, _WITHIN[k % 4, 0], _WITHIN[k % 4, 1])
        if in_sun(scene, east, north, up, sx, sy, sz, lift, what == BEYOND):
            lit += 1
    return float(lit / disc.shape[0])


@kernel
def _once_band(
    scene: Scene,
    f: Fragments,
    sun: Direction,
    middle: NDArray[np.float64],
    lift: float,
    before: SunBefore,
    out: NDArray[np.float32],
    image: NDArray[np.float32],
    a: int,
    b: int,
) -> None:
    for i in range(a, b):
        row = before.rows[i]
        if row >= 0:
            out[i] = before.seen.middle[row]
        else:
            out[i] = 1.0 if f.kind[i] == SKY else _seen(scene, f, i, sun, middle, lift)
        if f.weight[i] > 0.0:
            image[f.pixel[i]] = out[i]


@kernel
def _edges_band(
    scene: Scene,
    f: Fragments,
    sun: Direction,
    disc: NDArray[np.float64],
    lift: float,
    everywhere: bool,
    width: int,
    image: NDArray[np.float32],
    before: SunBefore,
    out: SunSeen,
    a: int,
    b: int,
) -> None:
    """Look at the sun's whole disc where a neighbouring pixel is lit otherwise, or everywhere."""
    count = image.shape[0]
    for i in range(a, b):
        if f.kind[i] == SKY or f.weight[i] <= 0.0:
            continue
        pixel = f.pixel[i]
        differs = everywhere or f.weight[i] < 1.0
        for step in (-width - 1, -width, 1 - width, -1, 1, width - 1, width, width + 1):
            other = pixel + step
            if 0 <= other < count and image[other] != image[pixel]:
                differs = True
        if not differs:
            continue
        out.whole[i], row = True, before.rows[i]
        known = row >= 0 and before.seen.whole[row]
        out.part[i] = before.seen.part[row] if known else _seen(scene, f, i, sun, disc, lift)


def sunlit(
    scene: Scene,
    buffer: GBuffer,
    sun: Direction,
    width_deg: float,
    rays: int,
    lift_m: float,
    token: Token | None = None,
    before: SunBefore | None = None,
) -> SunSeen:
    """Return the part of the sun's disc that each fragment sees.

    Parameters
    ----------
    scene, buffer
        What is there, and what was seen.
    sun : tuple of float
        Unit vector towards the sun.
    width_deg : float
        Across the sun's disc, degrees.
    rays : int
        1 for a hard shadow, more for one with a penumbra.
    lift_m : float
        How far above the ground rays start, so that it does not shade itself by rounding.
    token : Token, optional
        Asked between bands.
    before : SunBefore, optional
        What is known of the same sun, looked at with as many rays.
    """
    f = buffer.fragments
    count = len(f.pixel)
    if sun[2] < -math.radians(width_deg / 2):
        dark = np.zeros(count, np.float32)
        return SunSeen(dark, dark, np.zeros(count, np.bool_))
    none = np.empty(0, np.float32)
    known = before or SunBefore(SunSeen(none, none, np.empty(0, np.bool_)), np.full(count, -1, np.int64))
    middle, image = np.empty(count, np.float32), np.empty(buffer.width_px * buffer.height_px, np.float32)
    once = np.zeros((1, 2)), lift_m, known, middle, image
    over_bands(count, lambda a, b: _once_band(scene, f, sun, *once, a, b), token, least=2048)
    if rays == 1:
        return SunSeen(middle, middle, np.zeros(count, np.bool_))
    seen, wide = SunSeen(middle.copy(), middle, np.zeros(count, np.bool_)), width_deg > _WIDE_DEG
    whole = disc(4 * rays if wide else rays, width_deg)
    at_edges = whole, lift_m, wide, buffer.width_px, image, known, seen
    over_bands(count, lambda a, b: _edges_band(scene, f, sun, *at_edges, a, b), token, least=2048)
    return seen
