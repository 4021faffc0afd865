"""What each pixel sees, before any material is known.

Each pixel looks through one or four places. Looks that end close together on the same thing
become one *fragment*, so the cover is asked once for most pixels, however fine their edges.
"""

from __future__ import annotations

import math
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from elvatch.core.ground import places as cover_places
from elvatch.core.ground.places import Places
from elvatch.core.ground.survey import ground_at
from elvatch.core.kernel import inner, kernel
from elvatch.core.parallel import Token, over_bands
from elvatch.core.picture import figure
from elvatch.core.picture.bed import hollow_at
from elvatch.core.picture.camera import Camera
from elvatch.core.picture.scene import FIGURE, GROUND, SIDE, SKY, Scene, in_sun, meet

# a rotated grid: no two looks share a row or a column of the pixel
_LOOKS = np.array([[-0.375, -0.125], [0.125, -0.375], [0.375, 0.125], [-0.125, 0.375]])
_SUN_DISC = np.array([[-0.6, -0.2], [0.2, -0.6], [0.6, 0.2], [-0.2, 0.6]]) * 0.0047
_STRETCH = 16.0
_NEAREST = 0.02
_NOT_LOOKED = 255


class Fragments(NamedTuple):
    """What is seen, one row a fragment, pixel by pixel.

    ``pixel`` index in the picture; ``weight`` share of the pixel; ``kind`` as in
    :mod:`~elvatch.core.picture.scene`; ``depth_m`` distance from the eye; ``toward`` unit vector
    from the eye; ``normal`` of figure and sides (the ground's comes from its gradient);
    ``height_m`` z seen; ``hollow`` part of the sky that the cover's relief leaves open; ``places`` for the cover.
    """

    pixel: NDArray[np.int32]
    weight: NDArray[np.float32]
    kind: NDArray[np.uint8]
    depth_m: NDArray[np.float32]
    toward: NDArray[np.float32]
    normal: NDArray[np.float32]
    height_m: NDArray[np.float32]
    hollow: NDArray[np.float32]
    places: Places


class GBuffer(NamedTuple):
    """Fragments of a picture and its size."""

    width_px: int
    height_px: int
    fragments: Fragments


@inner
def _ray(
    camera: Camera, width: int, height: int, row: int, col: int, right: float, down: float
) -> tuple[float, float, float]:
    """Return the unit ray through a pixel's middle, moved by parts of a pixel."""
    sx = (col + 0.5 + right) / width * 2.0 - 1.0
    sy = 1.0 - (row + 0.5 + down) / height * 2.0
    dx = camera.forward_x + sx * camera.right_x + sy * camera.up_x
    dy = camera.forward_y + sx * camera.right_y + sy * camera.up_y
    dz = camera.forward_z + sy * camera.up_z
    length = math.sqrt(dx * dx + dy * dy + dz * dz)
    return dx / length, dy / length, dz / length


@kernel
def _look_rows(
    scene: Scene, camera: Camera, depth: NDArray[np.float64], kind: NDArray[np.uint8], a: int, b: int
) -> None:
    """Look through the middle of each pixel."""
    height, width = kind.shape
    for row in range(a, b):
        for col in range(width):
            dx, dy, dz = _ray(camera, width, height, row, col, 0.0, 0.0)
            depth[row, col], kind[row, col] = meet(
                scene, camera.eye_x, camera.eye_y, camera.eye_z, dx, dy, dz, _NEAREST
            )


@inner
def _at_edge(depth: NDArray[np.float64], kind: NDArray[np.uint8], row: int, col: int) -> bool:
    """Whether a neighbour of a pixel sees something else, or the same thing far away."""
    for r in range(max(0, row - 1), min(kind.shape[0], row + 2)):
        for c in range(max(0, col - 1), min(kind.shape[1], col + 2)):
            if not _together(kind[row, col], kind[r, c], depth[row, col], depth[r, c]):
                return True
    return False


@kernel
def _look_again_rows(
    scene: Scene, camera: Camera, once_depth: NDArray[np.float64], once_kind: NDArray[np.uint8],
    depth: NDArray[np.float64], kind: NDArray[np.uint8], a: int, b: int,
) -> None:  # fmt: skip
    """Look four times where one look is not enough: at edges. Elsewhere the one look stands."""
    height, width, looks = kind.shape
    for row in range(a, b):
        for col in range(width):
            if looks == 1 or not _at_edge(once_depth, once_kind, row, col):
                depth[row, col, 0], kind[row, col, 0] = once_depth[row, col], once_kind[row, col]
                for k in range(1, looks):
                    kind[row, col, k] = _NOT_LOOKED
                continue
            for k in range(looks):
                dx, dy, dz = _ray(camera, width, height, row, col, _LOOKS[k, 0], _LOOKS[k, 1])
                depth[row, col, k], kind[row, col, k] = meet(
                    scene, camera.eye_x, camera.eye_y, camera.eye_z, dx, dy, dz, _NEAREST
                )


@inner
def _together(kind_a: int, kind_b: int, depth_a: float, depth_b: float) -> bool:
    """Whether two looks of one pixel end on the same thing, close together."""
    if kind_a != kind_b or kind_a == FIGURE:
        return kind_a == kind_b and abs(depth_a - depth_b) < 0.02
    return kind_a == SKY or abs(depth_a - depth_b) < 0.06 * depth_a + 0.02


@inner
def _group(depth: NDArray[np.float64], kind: NDArray[np.uint8], group: NDArray[np.int64]) -> int:
    """Number the groups of one pixel's looks; return how many there are."""
    count = 0
    for k in range(kind.shape[0]):
        group[k] = -1
        if kind[k] == _NOT_LOOKED:
            continue
        for j in range(k):
            if _together(kind[j], kind[k], depth[j], depth[k]):
                group[k] = group[j]
                break
        if group[k] < 0:
            group[k] = count
            count += 1
    return count


@kernel
def _count_rows(
    depth: NDArray[np.float64], kind: NDArray[np.uint8], counts: NDArray[np.int64], group: NDArray[np.int64],
    a: int, b: int,
) -> None:  # fmt: skip
    for row in range(a, b):
        for col in range(kind.shape[1]):
            counts[row] += _group(depth[row, col], kind[row, col], group)


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
    long_r = math.sqrt(camera.right_x * camera.right_x + camera.right_y * camera.right_y)
    long_u = math.sqrt(camera.up_x * camera.up_x + camera.up_y * camera.up_y + camera.up_z * camera.up_z)
    ax, ay, az = camera.right_x / long_r * width, camera.right_y / long_r * width, 0.0
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


@kernel
def _fill_rows(
    scene: Scene, camera: Camera, depth: NDArray[np.float64], kind: NDArray[np.uint8],
    starts: NDArray[np.int64], out: Fragments, group: NDArray[np.int64], a: int, b: int,
) -> None:  # fmt: skip
    height, width, looks = kind.shape
    for row in range(a, b):
        at = starts[row]
        for col in range(width):
            groups = _group(depth[row, col], kind[row, col], group)
            once = looks == 1 or kind[row, col, 1] == _NOT_LOOKED
            for g in range(groups):
                # the nearest of the looks stands for all: unlike their mean it lies on the surface
                chosen, members = -1, 0
                for k in range(looks):
                    if group[k] == g:
                        members += 1
                        if chosen < 0 or depth[row, col, k] < depth[row, col, chosen]:
                            chosen = k
                what, t = kind[row, col, chosen], depth[row, col, chosen]
                right, down = (0.0, 0.0) if once else (_LOOKS[chosen, 0], _LOOKS[chosen, 1])
                dx, dy, dz = _ray(camera, width, height, row, col, right, down)
                out.pixel[at] = row * width + col
                out.weight[at] = 1.0 if once else members / looks
                out.kind[at] = what
                out.toward[at, 0], out.toward[at, 1], out.toward[at, 2] = dx, dy, dz
                out.depth_m[at] = t if what != SKY else 1e9
                if what != SKY:
                    _place(scene, camera, out, at, what, dx, dy, dz, t)
                at += 1


@inner
def _place(
    scene: Scene, camera: Camera, out: Fragments, i: int, what: int, dx: float, dy: float, dz: float, t: float
) -> None:
    """Fill in where a fragment lies and how it faces."""
    x, y, z = camera.eye_x + t * dx, camera.eye_y + t * dy, camera.eye_z + t * dz
    places = out.places
    places.x_m[i], places.y_m[i] = x, y
    out.height_m[i] = z
    if what == GROUND:
        ground_z, gx, gy, sky = ground_at(scene.survey, x, y)
        places.elevation_m[i], places.rise_east[i], places.rise_north[i] = ground_z, gx, gy
        out.hollow[i] = hollow_at(scene.bed, x, y)
        places.sky[i] = sky
        _area(camera, places, i, dx, dy, dz, t)
    elif what == FIGURE:
        nx, ny, nz = figure.normal(x - scene.figure_x, y - scene.figure_y, z - scene.figure_z)
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


def look(
    scene: Scene, camera: Camera, width_px: int, height_px: int, looks: int, token: Token | None = None
) -> GBuffer:
    """Trace what each pixel of a picture sees.

    Parameters
    ----------
    scene, camera
        What is there and where from.
    width_px, height_px : int
        Size of the picture.
    looks : int
        Places looked through in each pixel at an edge, 1 (while something moves) or 4 (at rest).
    token : Token, optional
        Asked between bands.
    """
    depth = np.empty((height_px, width_px, looks))
    kind = np.empty((height_px, width_px, looks), np.uint8)
    once_depth, once_kind = np.empty((height_px, width_px)), np.empty((height_px, width_px), np.uint8)
    over_bands(height_px, lambda a, b: _look_rows(scene, camera, once_depth, once_kind, a, b), token)
    over_bands(
        height_px, lambda a, b: _look_again_rows(scene, camera, once_depth, once_kind, depth, kind, a, b), token
    )
    counts = np.zeros(height_px, np.int64)
    over_bands(height_px, lambda a, b: _count_rows(depth, kind, counts, np.empty(looks, np.int64), a, b), token)
    starts = np.concatenate([[0], np.cumsum(counts)])
    n = int(starts[-1])
    fragments = Fragments(
        pixel=np.empty(n, np.int32),
        weight=np.empty(n, np.float32),
        kind=np.empty(n, np.uint8),
        depth_m=np.empty(n, np.float32),
        toward=np.empty((n, 3), np.float32),
        normal=np.zeros((n, 3), np.float32),
        height_m=np.zeros(n, np.float32),
        hollow=np.ones(n, np.float32),
        places=cover_places.zeros(n),
    )
    over_bands(
        height_px,
        lambda a, b: _fill_rows(scene, camera, depth, kind, starts, fragments, np.empty(looks, np.int64), a, b),
        token,
    )
    return GBuffer(width_px, height_px, fragments)


@inner
def _sun_seen(
    scene: Scene, fragments: Fragments, i: int, sun: tuple[float, float, float], rays: int, lift: float
) -> float:
    """Return the part of the sun's disc that one fragment sees."""
    # two directions square to the sun's span its disc
    level = math.hypot(sun[0], sun[1]) + 1e-9
    ux, uy = -sun[1] / level, sun[0] / level
    vx, vy, vz = -sun[2] * sun[0] / level, -sun[2] * sun[1] / level, level
    on_ground = fragments.kind[i] == GROUND
    x, y, z = fragments.places.x_m[i], fragments.places.y_m[i], float(fragments.height_m[i])
    if not on_ground:
        x += fragments.normal[i, 0] * 0.012
        y += fragments.normal[i, 1] * 0.012
        z += fragments.normal[i, 2] * 0.012
    if scene.bed.patches.shape[0] > 0:
        # a relief of centimetres shades by centimetres
        lift = min(lift, 0.2 * fragments.places.across_m[i])
    lit = 0
    for k in range(rays):
        p, q = (_SUN_DISC[k, 0], _SUN_DISC[k, 1]) if rays > 1 else (0.0, 0.0)
        sx, sy, sz = sun[0] + p * ux + q * vx, sun[1] + p * uy + q * vy, sun[2] + q * vz
        if in_sun(scene, x, y, z, sx, sy, sz, lift if on_ground else 0.0):
            lit += 1
    return lit / rays


@kernel
def _sun_band(
    scene: Scene, fragments: Fragments, sun: tuple[float, float, float], lift: float,
    out: NDArray[np.float32], image: NDArray[np.float32], a: int, b: int,
) -> None:  # fmt: skip
    for i in range(a, b):
        out[i] = 1.0 if fragments.kind[i] == SKY else _sun_seen(scene, fragments, i, sun, 1, lift)
        image[fragments.pixel[i]] = out[i]


@kernel
def _penumbra_band(
    scene: Scene, fragments: Fragments, sun: tuple[float, float, float], rays: int, lift: float,
    width: int, image: NDArray[np.float32], out: NDArray[np.float32], a: int, b: int,
) -> None:  # fmt: skip
    """Look at the sun's disc again where a neighbouring pixel is lit otherwise."""
    count = image.shape[0]
    for i in range(a, b):
        if fragments.kind[i] == SKY:
            continue
        pixel = fragments.pixel[i]
        differs = fragments.weight[i] < 1.0
        for step in (-width - 1, -width, 1 - width, -1, 1, width - 1, width, width + 1):
            other = pixel + step
            if 0 <= other < count and image[other] != image[pixel]:
                differs = True
        if differs:
            out[i] = _sun_seen(scene, fragments, i, sun, rays, lift)


def sunlit(
    scene: Scene, buffer: GBuffer, sun: tuple[float, float, float], rays: int, lift_m: float,
    token: Token | None = None,
) -> NDArray[np.float32]:  # fmt: skip
    """Return the part of the sun's disc that each fragment sees, 0..1.

    Parameters
    ----------
    scene, buffer
        What is there, and what was seen.
    sun : tuple of float
        Unit vector towards the sun.
    rays : int
        1 for a hard shadow, 4 for one with a penumbra at its edges.
    lift_m : float
        How far above the ground rays start, so that it does not shade itself by rounding.
    token : Token, optional
        Asked between bands.
    """
    fragments = buffer.fragments
    out = np.empty(len(fragments.pixel), np.float32)
    image = np.empty(buffer.width_px * buffer.height_px, np.float32)
    over_bands(len(out), lambda a, b: _sun_band(scene, fragments, sun, lift_m, out, image, a, b), token, least=2048)
    if rays > 1:
        over_bands(
            len(out),
            lambda a, b: _penumbra_band(scene, fragments, sun, rays, lift_m, buffer.width_px, image, out, a, b),
            token,
            least=2048,
        )
    return out
