"""What each pixel sees, before any material is known.

Each pixel looks through one or four places. Looks that end close together on the same thing
become one *fragment*, so the cover is asked once for most pixels, however fine their edges.
"""

from __future__ import annotations

import math

import numpy as np
from numpy.typing import NDArray
from scipy import ndimage

from elvatch.core.kernel import inner, kernel
from elvatch.core.parallel import Token, over_bands
from elvatch.core.picture.camera import Camera
from elvatch.core.picture.clad import clad
from elvatch.core.picture.contact import darken
from elvatch.core.picture.fragments import Fragments, GBuffer, PixelLooks, RayEnds, longer, nothing_seen
from elvatch.core.picture.kinds import FIGURE, SKY, WATER
from elvatch.core.picture.placing import mirrored, place
from elvatch.core.picture.scene import Scene, meet, see

# a rotated grid: no two looks share a row or a column of the pixel
_LOOKS = np.array([[-0.375, -0.125], [0.125, -0.375], [0.375, 0.125], [-0.125, 0.375]])
_NEAREST = 0.02
_NOT_LOOKED = 255


def _looks(*shape: int) -> RayEnds:
    return RayEnds(np.empty(shape), np.empty(shape, np.uint8), np.empty(shape, np.int64))


@inner
def _ray(
    camera: Camera, width: int, height: int, row: int, col: int, right: float, down: float
) -> tuple[float, float, float]:
    """Return the unit ray through a pixel's middle, moved by parts of a pixel."""
    sx = (col + 0.5 + right) / width * 2.0 - 1.0
    sy = 1.0 - (row + 0.5 + down) / height * 2.0
    dx = camera.forward_x + sx * camera.right_x + sy * camera.up_x
    dy = camera.forward_y + sx * camera.right_y + sy * camera.up_y
    dz = camera.forward_z + sx * camera.right_z + sy * camera.up_z
    length = math.sqrt(dx * dx + dy * dy + dz * dz)
    return dx / length, dy / length, dz / length


@kernel
def _look_rows(
    scene: Scene,
    camera: Camera,
    depth: NDArray[np.float64],
    kind: NDArray[np.uint8],
    hit: NDArray[np.int64],
    wanted: NDArray[np.bool_],
    a: int,
    b: int,
) -> None:
    """Look through the middle of each pixel that is wanted."""
    height, width = kind.shape
    for row in range(a, b):
        for col in range(width):
            if not wanted[row, col]:
                continue
            dx, dy, dz = _ray(camera, width, height, row, col, 0.0, 0.0)
            depth[row, col], kind[row, col], hit[row, col] = see(
                scene, camera.eye_x, camera.eye_y, camera.eye_z, dx, dy, dz, _NEAREST
            )


@inner
def _at_edge(once: RayEnds, row: int, col: int) -> bool:
    """Whether a neighbour of a pixel sees something else, or the same thing far away."""
    depth, kind, hit = once
    for r in range(max(0, row - 1), min(kind.shape[0], row + 2)):
        for c in range(max(0, col - 1), min(kind.shape[1], col + 2)):
            if not _together(kind[row, col], kind[r, c], depth[row, col], depth[r, c]):
                return True
            if hit[row, col] >> 32 != hit[r, c] >> 32:
                return True
    return False


@kernel
def _look_again_rows(
    scene: Scene,
    camera: Camera,
    once: RayEnds,
    looked: RayEnds,
    wanted: NDArray[np.bool_],
    a: int,
    b: int,
) -> None:
    """Look four times where one look is not enough: at edges. Elsewhere the one look stands."""
    depth, kind, hit = looked
    height, width, looks = kind.shape
    for row in range(a, b):
        for col in range(width):
            if not wanted[row, col]:
                continue
            if looks == 1 or not _at_edge(once, row, col):
                depth[row, col, 0], kind[row, col, 0] = once.depth[row, col], once.kind[row, col]
                hit[row, col, 0] = once.hit[row, col]
                for k in range(1, looks):
                    kind[row, col, k] = _NOT_LOOKED
                continue
            for k in range(looks):
                dx, dy, dz = _ray(camera, width, height, row, col, _LOOKS[k, 0], _LOOKS[k, 1])
                depth[row, col, k], kind[row, col, k], hit[row, col, k] = see(
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
    depth: NDArray[np.float64],
    kind: NDArray[np.uint8],
    counts: NDArray[np.int64],
    group: NDArray[np.int64],
    a: int,
    b: int,
) -> None:
    for row in range(a, b):
        for col in range(kind.shape[1]):
            counts[row] += _group(depth[row, col], kind[row, col], group)


@kernel
def _fill_rows(
    scene: Scene,
    camera: Camera,
    depth: NDArray[np.float64],
    kind: NDArray[np.uint8],
    hit: NDArray[np.int64],
    starts: NDArray[np.int64],
    out: Fragments,
    group: NDArray[np.int64],
    a: int,
    b: int,
) -> None:
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
                    x, y, z = camera.eye_x + t * dx, camera.eye_y + t * dy, camera.eye_z + t * dz
                    place(scene, camera, out, at, what, x, y, z, dx, dy, dz, t, hit[row, col, chosen])
                at += 1


@kernel
def _mirror_band(
    scene: Scene, camera: Camera, f: Fragments, waters: NDArray[np.int64], first: int, a: int, b: int
) -> None:
    """Fill in what water mirrors, one row for each that sees water."""
    for k in range(a, b):
        i, j = waters[k], first + k
        along = f.depth_m[i]
        x = camera.eye_x + along * f.toward[i, 0]
        y = camera.eye_y + along * f.toward[i, 1]
        z = scene.water.level_m
        dx, dy, dz = mirrored(
            f.normal[i, 0], f.normal[i, 1], f.normal[i, 2], f.toward[i, 0], f.toward[i, 1], f.toward[i, 2]
        )
        t, what, hit = meet(scene, x, y, z + 1e-4, dx, dy, dz, 0.0, True)
        f.mirror[i], f.pixel[j], f.kind[j] = j, f.pixel[i], what
        f.toward[j, 0], f.toward[j, 1], f.toward[j, 2] = dx, dy, dz
        f.depth_m[j] = t if what != SKY else 1e9
        if what != SKY:
            place(scene, camera, f, j, what, x + t * dx, y + t * dy, z + t * dz, dx, dy, dz, along + t, hit)


def _cast(
    scene: Scene,
    camera: Camera,
    shape: tuple[int, int, int],
    before: tuple[PixelLooks, NDArray[np.bool_]] | None,
    token: Token | None,
) -> PixelLooks:
    """Look through all pixels, or those that may see something else than before."""
    height, width = shape[:2]
    if before is None:
        wanted = np.ones((height, width), np.bool_)
        beside, once, looked = wanted, _looks(height, width), _looks(*shape)
    else:
        (was, were), wanted = before
        # whether a pixel lies at an edge those beside it tell
        beside = ndimage.binary_dilation(wanted, np.ones((3, 3), np.bool_))
        once, looked = was.copied(), were.copied()
    over_bands(height, lambda a, b: _look_rows(scene, camera, *once, wanted, a, b), token)
    over_bands(height, lambda a, b: _look_again_rows(scene, camera, once, looked, beside, a, b), token)
    return PixelLooks(once, looked)


def look(
    scene: Scene,
    camera: Camera,
    width_px: int,
    height_px: int,
    looks: int,
    token: Token | None = None,
    before: tuple[PixelLooks, NDArray[np.bool_]] | None = None,
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
    before : tuple, optional
        The looks of the same picture of a scene that differs little, and which pixels, (height, width), may see that.
    """
    cast = _cast(scene, camera, (height_px, width_px, looks), before, token)
    depth, kind, hit = cast.all
    counts = np.zeros(height_px, np.int64)
    over_bands(height_px, lambda a, b: _count_rows(depth, kind, counts, np.empty(looks, np.int64), a, b), token)
    starts = np.concatenate([[0], np.cumsum(counts)])
    n = int(starts[-1])
    fragments = nothing_seen(n)
    over_bands(
        height_px,
        lambda a, b: _fill_rows(scene, camera, depth, kind, hit, starts, fragments, np.empty(looks, np.int64), a, b),
        token,
    )
    waters = np.flatnonzero(fragments.kind == WATER)
    whole = longer(fragments, len(waters))
    over_bands(len(waters), lambda a, b: _mirror_band(scene, camera, whole, waters, n, a, b), token, least=1024)
    darken(scene.things, whole, token)
    return GBuffer(width_px, height_px, whole, clad(scene.things, whole, token), cast)
