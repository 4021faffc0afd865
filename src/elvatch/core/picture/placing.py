"""Where what is seen lies: its place for the cover and the area that a pixel stands for there."""

from __future__ import annotations

import math

from elvatch.core.ground.places import Places
from elvatch.core.ground.survey import ground_at
from elvatch.core.kernel import inner
from elvatch.core.light.water import bent, ripples
from elvatch.core.picture import figure
from elvatch.core.picture.bed import hollow_at
from elvatch.core.picture.beyond import height_at
from elvatch.core.picture.camera import Camera
from elvatch.core.picture.clad import facing
from elvatch.core.picture.fragments import Fragments
from elvatch.core.picture.kinds import FIGURE, GROUND, SIDE, THING, WATER
from elvatch.core.picture.scene import Scene, meet
from elvatch.core.picture.trace import over_ground

_STRETCH = 16.0


@inner
def _area(camera: Camera, places: Places, i: int, dx: float, dy: float, dz: float, t: float) -> None:
    """Set the area a pixel covers on the ground, seen from above.

    The corners' rays are cut with the ground's tangent plane: moving on the picture by one pixel
    moves the ray's end by ``t * step`` and along the ray, so that it stays in that plane.
    """
    gx, gy = places.rise_east[i], places.rise_north[i]
    facing = -gx * dx - gy * dy + dz
    facing = -max(abs(facing), 0.02)
    width = camera.pixel * t
    rx, ry, rz = camera.right_x, camera.right_y, camera.right_z
    long_r = math.sqrt(rx * rx + ry * ry + rz * rz)
    long_u = math.sqrt(camera.up_x * camera.up_x + camera.up_y * camera.up_y + camera.up_z * camera.up_z)
    ax, ay, az = rx / long_r * width, ry / long_r * width, rz / long_r * width
    bx, by, bz = camera.up_x / long_u * width, camera.up_y / long_u * width, camera.up_z / long_u * width
    slide_a = -(-gx * ax - gy * ay + az) / facing
    slide_b = -(-gx * bx - gy * by + bz) / facing
    ax, ay = ax + slide_a * dx, ay + slide_a * dy
    bx, by = bx + slide_b * dx, by + slide_b * dy
    across, along = math.sqrt(ax * ax + ay * ay), math.sqrt(bx * bx + by * by)
    if across > along:
        ax, ay, bx, by = bx, by, ax, ay
        across, along = along, across
    along = max(along, 1e-9)
    narrow = max(abs(ax * by - ay * bx) / along, along / _STRETCH)
    places.across_m[i] = narrow
    stretch = max(0.0, 1.0 - narrow / along)
    places.along_east_m[i], places.along_north_m[i] = bx * stretch, by * stretch


@inner
def _on_ground(
    scene: Scene,
    camera: Camera,
    out: Fragments,
    i: int,
    x: float,
    y: float,
    dx: float,
    dy: float,
    dz: float,
    t: float,
) -> None:
    places = out.places
    places.x_m[i], places.y_m[i] = x, y
    ground_z, gx, gy, sky = ground_at(scene.survey, x, y)
    places.elevation_m[i], places.rise_east[i], places.rise_north[i] = ground_z, gx, gy
    places.sky[i] = sky
    out.hollow[i] = hollow_at(scene.bed, x, y)
    _area(camera, places, i, dx, dy, dz, t)


@inner
def _on_water(
    scene: Scene,
    camera: Camera,
    out: Fragments,
    i: int,
    x: float,
    y: float,
    dx: float,
    dy: float,
    dz: float,
    t: float,
) -> None:
    """Fill in how the water's surface faces, and the ground that is seen below it."""
    # what a pixel covers along the view: ripples shorter than that cannot be seen
    across = camera.pixel * t / math.sqrt(max(-dz, 0.02))
    east, north, lost = ripples(scene.water, x, y, across)
    length = math.sqrt(1.0 + east * east + north * north)
    out.normal[i, 0], out.normal[i, 1], out.normal[i, 2] = -east / length, -north / length, 1.0 / length
    out.rough[i] = lost
    rx, ry, rz = bent(dx, dy, dz)
    # light that comes through a slanting surface is bent by about a third of the slant
    rx, ry = rx - 0.33 * east, ry - 0.33 * north
    length = math.sqrt(rx * rx + ry * ry + rz * rz)
    rx, ry, rz = rx / length, ry / length, rz / length
    under, kind, _hit = meet(scene, x, y, scene.water.level_m, rx, ry, rz, 0.0, False)
    if kind != GROUND:
        # beyond the edge, or looking out through a side: as deep as the ground that is nearest
        depth = max(scene.water.level_m - ground_at(scene.survey, x, y)[0], 0.0)
        if scene.goes_on:
            depth = max(scene.water.level_m - height_at(scene.outer, x, y), 0.0)
        under = depth / -rz
    out.under_m[i] = under
    _on_ground(scene, camera, out, i, x + under * rx, y + under * ry, rx, ry, rz, t + under)


@inner
def place(
    scene: Scene,
    camera: Camera,
    out: Fragments,
    i: int,
    what: int,
    x: float,
    y: float,
    z: float,
    dx: float,
    dy: float,
    dz: float,
    t: float,
    hit: int,
) -> None:
    """Fill in where a fragment lies and how it faces.

    Parameters
    ----------
    scene, camera
        What is there, and what it is seen with.
    out : Fragments
        Row ``i`` of it is filled in.
    what : int
        Kind of thing seen.
    x, y, z : float
        Where, metres.
    dx, dy, dz : float
        The ray that ends there.
    t : float
        How far from the eye, metres.
    hit : int
        Of a thing, which and where.
    """
    places = out.places
    out.hit[i] = hit
    places.x_m[i], places.y_m[i] = x, y
    out.height_m[i] = z
    if what == GROUND:
        _on_ground(scene, camera, out, i, x, y, dx, dy, dz, t)
    elif what == WATER:
        _on_water(scene, camera, out, i, x, y, dx, dy, dz, t)
    elif what == THING:
        # the ground below it, whose colour it may take
        _on_ground(scene, camera, out, i, x, y, dx, dy, dz, t)
        places.across_m[i], places.along_east_m[i], places.along_north_m[i] = camera.pixel * t, 0.0, 0.0
        nx, ny, nz = facing(scene.things, hit >> 32, hit & 0xFFFFFFFF, x, y, z, dx, dy, dz, camera.pixel * t)
        out.normal[i, 0], out.normal[i, 1], out.normal[i, 2] = nx, ny, nz
    elif what == FIGURE:
        fx, fy, fz = x - scene.figure_x, y - scene.figure_y, z - scene.figure_z
        if scene.upright:
            fy, fz = -fz, fy
        nx, ny, nz = figure.normal(fx, fy, fz)
        out.tint[i] = figure.tint(fx, fy, fz)
        if scene.upright:
            ny, nz = nz, -ny
        out.normal[i, 0], out.normal[i, 1], out.normal[i, 2] = nx, ny, nz
        places.sky[i] = 1.0
    elif what == SIDE:
        survey = scene.survey
        edge_x = min(abs(x), abs(x - survey.width_m))
        edge_y = min(abs(y), abs(y - survey.depth_m))
        out.normal[i, 0] = 0.0 if edge_y < edge_x else (1.0 if x > survey.width_m / 2 else -1.0)
        out.normal[i, 1] = 0.0 if edge_y >= edge_x else (1.0 if y > survey.depth_m / 2 else -1.0)
        out.normal[i, 2] = 0.0
        places.sky[i] = 0.5
        places.elevation_m[i] = ground_at(survey, x, y)[0]
        places.across_m[i] = camera.pixel * t
    else:
        _beyond(scene, out, i, x, y, camera.pixel * t)


@inner
def _beyond(scene: Scene, out: Fragments, i: int, x: float, y: float, across: float) -> None:
    """Fill in how the ground beyond the edge faces."""
    if scene.upright:
        # level at the face's foot; of the sky the face hides more, the nearer
        out.normal[i, 0], out.normal[i, 1], out.normal[i, 2] = 0.0, 1.0, 0.0
        out.places.sky[i] = 1.0
        return
    step = max(0.5 * scene.outer.cell_x_m, across)
    a, b = over_ground(scene.outer, x, y, 1.0, 0.0, -step, step)
    out.places.sky[i] = 1.0
    out.normal[i, 0], out.normal[i, 1], out.normal[i, 2] = 0.0, 0.0, 1.0
    if b - a < 2.0 * step:
        return
    o = scene.outer
    east = (height_at(o, x + step, y) - height_at(o, x - step, y)) / (2.0 * step)
    north = (height_at(o, x, y + step) - height_at(o, x, y - step)) / (2.0 * step)
    length = math.sqrt(1.0 + east * east + north * north)
    out.normal[i, 0], out.normal[i, 1], out.normal[i, 2] = -east / length, -north / length, 1.0 / length


@inner
def mirrored(
    normal_x: float, normal_y: float, normal_z: float, dx: float, dy: float, dz: float
) -> tuple[float, float, float]:
    """Return the direction in which a surface mirrors a unit ray; never back into the water."""
    along = dx * normal_x + dy * normal_y + dz * normal_z
    x, y, z = dx - 2.0 * along * normal_x, dy - 2.0 * along * normal_y, max(dz - 2.0 * along * normal_z, 0.005)
    length = math.sqrt(x * x + y * y + z * z)
    return x / length, y / length, z / length
