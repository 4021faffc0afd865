"""Where a picture is taken from, and the rays of its pixels."""

from __future__ import annotations

import math
from typing import NamedTuple

from elvatch.core.document.recipe import Peg, Stand
from elvatch.core.ground.heightfield import Heightfield
from elvatch.core.ground.upright import LYING, Axes

FIGURE_ASIDE = 0.11
"""Share of the distance by which Near and Mid look past the figure, so that it does not hide the ground."""


_CLEAR_M = 0.25


class Camera(NamedTuple):
    """A pinhole camera: eye and axes in metres of the ground's own axes.

    ``right`` and ``up`` are scaled so that ``forward + sx * right + sy * up`` is the ray of a
    place on the picture, with ``sy`` from -1 (bottom) to 1 (top) and ``sx`` likewise from left to
    right. ``pixel`` is how far the ray's end moves from one pixel to the next.
    """

    eye_x: float
    eye_y: float
    eye_z: float
    forward_x: float
    forward_y: float
    forward_z: float
    right_x: float
    right_y: float
    right_z: float
    up_x: float
    up_y: float
    up_z: float
    pixel: float


def from_stand(
    stand: Stand,
    target: tuple[float, float, float],
    width_px: int,
    height_px: int,
    ground: Heightfield,
    axes: Axes = LYING,
) -> Camera:
    """Return the camera of a stand that looks at a target.

    Parameters
    ----------
    stand : Stand
        Bearing, tilt, distance and angle of view.
    target : tuple of float
        What it looks at, metres in the ground's own axes.
    width_px, height_px : int
        Size of the picture.
    ground : Heightfield
        The eye is kept at least 0.25 m above it.
    axes : Axes
        Where the ground's axes point in the world.
    """
    bearing, tilt = math.radians(stand.bearing_deg), math.radians(stand.tilt_deg)
    fx, fy, fz = axes.into((math.sin(bearing) * math.cos(tilt), math.cos(bearing) * math.cos(tilt), -math.sin(tilt)))
    wanted = target[0] - fx * stand.distance_m, target[1] - fy * stand.distance_m, target[2] - fz * stand.distance_m
    eye_x, eye_y, eye_z = _lifted(wanted, ground, axes)
    if (eye_x, eye_y, eye_z) != wanted:
        dx, dy, dz = target[0] - eye_x, target[1] - eye_y, target[2] - eye_z
        length = math.sqrt(dx * dx + dy * dy + dz * dz)
        fx, fy, fz = dx / length, dy / length, dz / length
    half = math.tan(math.radians(stand.view_deg) / 2)
    # level in the world, also of an eye that was lifted and looks along what is left of its bearing
    wx, wy, wz = axes.into((0.0, 0.0, 1.0))
    rx, ry, rz = fy * wz - fz * wy, fz * wx - fx * wz, fx * wy - fy * wx
    level = max(math.sqrt(rx * rx + ry * ry + rz * rz), 1e-6)
    rx, ry, rz = rx / level, ry / level, rz / level
    ux, uy, uz = ry * fz - rz * fy, rz * fx - rx * fz, rx * fy - ry * fx
    wide = half * width_px / height_px
    return Camera(
        eye_x,
        eye_y,
        eye_z,
        fx,
        fy,
        fz,
        rx * wide,
        ry * wide,
        rz * wide,
        ux * half,
        uy * half,
        uz * half,
        2 * half / height_px,
    )


def _lifted(eye: tuple[float, float, float], ground: Heightfield, axes: Axes) -> tuple[float, float, float]:
    """Return an eye that is kept off the ground, and off the level at the foot of a face."""
    x, y, z = eye
    if axes is not LYING:
        y = max(y, _CLEAR_M)
    if 0 <= x <= ground.width_m and 0 <= y <= ground.depth_m:
        z = max(z, ground.elevation_at(x, y) + _CLEAR_M)
    return x, y, z


def project(camera: Camera, place: tuple[float, float, float]) -> tuple[float, float] | None:
    """Return where a place lies on the picture, 0..1 from left and top, or None behind the eye."""
    x, y, z = place[0] - camera.eye_x, place[1] - camera.eye_y, place[2] - camera.eye_z
    ahead = x * camera.forward_x + y * camera.forward_y + z * camera.forward_z
    if ahead <= 1e-6:
        return None
    right2 = camera.right_x**2 + camera.right_y**2 + camera.right_z**2
    up2 = camera.up_x**2 + camera.up_y**2 + camera.up_z**2
    sx = (x * camera.right_x + y * camera.right_y + z * camera.right_z) / right2 / ahead
    sy = (x * camera.up_x + y * camera.up_y + z * camera.up_z) / up2 / ahead
    return 0.5 + 0.5 * sx, 0.5 - 0.5 * sy


def far_target(ground: Heightfield, axes: Axes = LYING) -> tuple[float, float, float]:
    """Return what Far looks at: the middle of the site, a third up its height; of a face its very middle."""
    if axes is not LYING:
        return ground.width_m / 2, ground.depth_m / 2, ground.elevation_at(ground.width_m / 2, ground.depth_m / 2)
    low, high = ground.lowest_m, ground.highest_m
    return ground.width_m / 2, ground.depth_m / 2, low + 0.3 * (high - low)


def of_stand(
    name: str, stand: Stand, peg: Peg, width_px: int, height_px: int, ground: Heightfield, axes: Axes = LYING
) -> Camera:
    """Return the camera of a picture: Far looks at the site, the others at the peg."""
    target = far_target(ground, axes) if name == "far" else peg_target(stand, peg, ground, axes)
    return from_stand(stand, target, width_px, height_px, ground, axes)


def peg_target(stand: Stand, peg: Peg, ground: Heightfield, axes: Axes = LYING) -> tuple[float, float, float]:
    """Return what Mid and Near look at: a little beside the figure that stands at the peg."""
    bearing = math.radians(stand.bearing_deg)
    aside = FIGURE_ASIDE * min(stand.distance_m, 12.0)
    up = 0.62 if stand.distance_m < 20 else 0.0
    x, y, z = axes.into((-math.cos(bearing) * aside, math.sin(bearing) * aside, up))
    return peg.east_m + x, peg.north_m + y, ground.elevation_at(peg.east_m, peg.north_m) + z
