"""The bed: the cover's relief as true geometry, as fine as a picture can show it.

Relief is far finer than the ground's samples, and only what is near is seen as shape. So it is asked for
where the picture looks, in patches that lie one behind the other: each begins where a pixel covers twice as
much as where the one before began, and its cells are twice as large. Patches meet along lines on which both
have the same heights, and end where their relief is smaller than a pixel; a ray goes from patch to patch and
on to the plain ground, and where it would slip between two it meets the edge of the next.
"""

from __future__ import annotations

import math
from collections.abc import Callable
from dataclasses import dataclass
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from elvatch.core import digest
from elvatch.core.ground import places as cover_places
from elvatch.core.ground.heightfield import Heightfield
from elvatch.core.ground.horizon import sky_view
from elvatch.core.ground.places import Places
from elvatch.core.ground.survey import Survey
from elvatch.core.kernel import inner
from elvatch.core.mapping import surface
from elvatch.core.parallel import Token
from elvatch.core.picture.camera import Camera
from elvatch.core.picture.relief import TracedHeights, maxima_over
from elvatch.core.picture.trace import march

_PIXELS_A_CELL = 3.6
"""At the near edge of a patch, at rest; at its far edge a cell is half as many wide. And while something moves:"""
_PIXELS_MOVING = 5.4
_SEEN = 0.3
"""Relief lower than so many cells is not seen as shape."""
_BOUND_M = 0.125
"""Patches are said to be as high as a whole number of these: rays begin at the same height after most edits."""
_MOST_PATCHES = 9
_DEEPEST = 14
_FADE = 6

# columns of a patch's numbers
ROWS, COLS, FIRST, FIRST_MAXIMUM, TOP, WEST, NORTH, CELL_X, CELL_Y, HIGHEST = range(10)


class Bed(NamedTuple):
    """Patches as compiled code takes them.

    Their own axes are turned so that y runs away from the eye at ``east_m, north_m``; nothing of them, nor
    of the plain ground under them, lies above ``highest_m``. ``patches`` (n, 10) numbers of each; ``heights``,
    ``hollow`` (part of the sky that the relief leaves open) and ``maxima`` of all, one after the other.
    """

    heights: NDArray[np.float32]
    hollow: NDArray[np.float32]
    maxima: NDArray[np.float32]
    starts: NDArray[np.int64]
    widths: NDArray[np.int64]
    patches: NDArray[np.float64]
    east_m: float
    north_m: float
    cos: float
    sin: float
    highest_m: float


@dataclass(frozen=True)
class NamedBed:
    """A bed, named by its content."""

    bed: Bed
    name: str


def plain() -> NamedBed:
    """Return a bed without patches: the ground as it is."""
    empty = np.empty(0, np.float32)
    none = np.empty((0, _DEEPEST), np.int64)
    return NamedBed(Bed(empty, empty, empty, none, none, np.empty((0, 10)), 0.0, 0.0, 1.0, 0.0, 0.0), "")


@inner
def _patch(bed: Bed, k: int) -> TracedHeights:
    p = bed.patches
    return TracedHeights(
        bed.heights,
        int(p[k, FIRST]),
        int(p[k, ROWS]),
        int(p[k, COLS]),
        bed.maxima[int(p[k, FIRST_MAXIMUM]) :],
        bed.starts[k, : int(p[k, TOP])],
        bed.widths[k, : int(p[k, TOP])],
        p[k, WEST],
        p[k, NORTH],
        p[k, CELL_X],
        p[k, CELL_Y],
        -math.inf,
        p[k, HIGHEST],
    )


@inner
def _turned(bed: Bed, x: float, y: float) -> tuple[float, float]:
    return bed.cos * x + bed.sin * y, bed.cos * y - bed.sin * x


@inner
def _within(
    bed: Bed, k: int, x: float, y: float, dx: float, dy: float, near: float, far: float
) -> tuple[float, float]:
    """Return the part of a ray over a patch, in the patches' own axes; empty when first > second."""
    p = bed.patches
    west, north = p[k, WEST], p[k, NORTH]
    east, south = west + (p[k, COLS] - 1.0) * p[k, CELL_X], north - (p[k, ROWS] - 1.0) * p[k, CELL_Y]
    if dx != 0.0:
        a, b = (west - x) / dx, (east - x) / dx
        near, far = max(near, min(a, b)), min(far, max(a, b))
    elif x < west or x > east:
        return 1.0, 0.0
    if dy != 0.0:
        a, b = (south - y) / dy, (north - y) / dy
        near, far = max(near, min(a, b)), min(far, max(a, b))
    elif y < south or y > north:
        return 1.0, 0.0
    return near, far


@inner
def meet_relief(
    ground: TracedHeights,
    bed: Bed,
    x: float,
    y: float,
    z: float,
    dx: float,
    dy: float,
    dz: float,
    near: float,
    far: float,
) -> float:
    """Return the distance at which a ray first meets the ground with its relief.

    Its parameters and its answer are those of :func:`~elvatch.core.picture.trace.march`.
    """
    count = bed.patches.shape[0]
    # above all relief there is only ground that is higher still
    begin, end = near, far
    if count == 0 or (dz >= 0.0 and z + near * dz > bed.highest_m):
        end = near
    elif dz > 0.0:
        end = min(far, (bed.highest_m - z) / dz)
    elif dz < 0.0:
        begin = min(max(near, (bed.highest_m - z) / dz), far)
    px, py = _turned(bed, x - bed.east_m, y - bed.north_m)
    pdx, pdy = _turned(bed, dx, dy)
    t = near
    for _ in range(2 * count + 4):
        least = 1e-9 * max(1.0, t)
        inside, leave, enter = -1, far, far
        if t < begin - least:
            enter = begin
        elif t < end - least:
            for k in range(count):
                a, b = _within(bed, k, px, py, pdx, pdy, t, end)
                if b - a <= least:
                    continue
                if a <= t + least:
                    if inside < 0:
                        inside, leave = k, b
                else:
                    enter = min(enter, a)
        if inside >= 0:
            met = march(_patch(bed, inside), px, py, z, pdx, pdy, dz, t, leave)
            t = leave
        else:
            met = march(ground, x, y, z, dx, dy, dz, t, enter)
            t = enter
        if met < math.inf:
            return met
        if t >= far - least:
            return math.inf
    return math.inf


@inner
def hollow_at(bed: Bed, x: float, y: float) -> float:
    """Return the part of the sky that the relief itself leaves open at a place, 0..1; 1 beside the bed."""
    px, py = _turned(bed, x - bed.east_m, y - bed.north_m)
    p = bed.patches
    for k in range(p.shape[0]):
        col, row = (px - p[k, WEST]) / p[k, CELL_X], (p[k, NORTH] - py) / p[k, CELL_Y]
        if 0.0 <= col <= p[k, COLS] - 1.0 and 0.0 <= row <= p[k, ROWS] - 1.0:
            c, r = min(int(col), int(p[k, COLS]) - 2), min(int(row), int(p[k, ROWS]) - 2)
            u, v = col - c, row - r
            at, wide = int(p[k, FIRST]) + r * int(p[k, COLS]) + c, int(p[k, COLS])
            h = bed.hollow
            top = h[at] + (h[at + 1] - h[at]) * u
            low = h[at + wide] + (h[at + wide + 1] - h[at + wide]) * u
            return float(top + (low - top) * v)
    return 1.0


class _Frame(NamedTuple):
    """A patch before it is filled: half its columns, where its rows begin and end before the eye, and how far to
    each side the picture sees at both, metres."""

    half: int
    near_side: float
    far_side: float
    begin: float
    end: float
    rows: int
    cell_x: float
    cell_y: float


def _ahead(camera: Camera) -> tuple[float, float, float]:
    """Return which way a camera looks along the ground, and how far along it for each metre."""
    level = math.hypot(camera.forward_x, camera.forward_y)
    if level < 1e-6:
        return 0.0, 1.0, 1e-6
    return camera.forward_x / level, camera.forward_y / level, level


def _frames(camera: Camera, ground: Heightfield, pixels: float) -> list[_Frame]:
    """Return the patches that a picture can show, from near to far."""
    fx, fy, level = _ahead(camera)
    tilt = math.atan2(-camera.forward_z, level)
    high = math.sqrt(camera.up_x**2 + camera.up_y**2 + camera.up_z**2)
    wide = math.hypot(camera.right_x, camera.right_y, camera.right_z)
    if abs(camera.right_z) > 1e-9:
        # its upper edge is not level in the ground's own axes: what holds it whichever way it is turned
        high = wide = math.hypot(high, wide)
    half_up = math.atan(high)

    def over(y: float) -> float:
        return max(camera.eye_z - ground.elevation_at(camera.eye_x + fx * y, camera.eye_y + fy * y), 0.15)

    def slant(y: float) -> float:
        return math.hypot(y, over(y))

    under = over(0.0)
    steep = tilt + half_up
    if steep <= 0.0:
        return []
    begin = under / math.tan(steep) if abs(steep - math.pi / 2) > 1e-6 else 0.0
    # ground that rises towards the eye is seen nearer
    begin -= 0.35 * abs(begin) + 0.1
    upper = tilt - half_up
    last = math.inf if upper < 0.03 else under / math.tan(upper) * 1.3 + 1.0
    frames: list[_Frame] = []
    cell = slant(max(begin, 0.0)) * camera.pixel * pixels
    while begin < last and len(frames) < _MOST_PATCHES:
        reach = slant(max(begin, 0.0))
        end = begin + 0.2 * reach
        while slant(end) < 2.0 * reach and end < last:
            end += 0.06 * reach
        grazing = min(max(0.6 * reach / over(begin), 1.0), 3.0)
        depths = [y * math.cos(tilt) + over(y) * math.sin(tilt) for y in (begin, end)]
        sides = [max(depth, 0.0) * wide * 1.12 + 0.1 * reach + _FADE * cell for depth in depths]
        half = math.ceil(max(sides) / cell)
        rows = max(4, math.ceil((end - begin) / (cell * grazing)) + 1)
        frames.append(_Frame(half, sides[0], sides[1], begin, end, rows, cell, (end - begin) / (rows - 1)))
        begin, cell = end, cell * 2.0
    return frames


def _places(frame: _Frame, camera: Camera, survey: Survey) -> Places:
    """Return the places of a patch's samples, row 0 the farthest."""
    fx, fy, _ = _ahead(camera)
    right = np.arange(-frame.half, frame.half + 1) * frame.cell_x
    ahead = np.linspace(frame.end, frame.begin, frame.rows)
    x = camera.eye_x + ahead[:, None] * fx + right[None] * fy
    y = camera.eye_y + ahead[:, None] * fy - right[None] * fx
    return cover_places.on_ground(survey, x.ravel(), y.ravel(), math.sqrt(frame.cell_x * frame.cell_y))


def _inside(frame: _Frame) -> NDArray[np.float32]:
    """Return how much of the relief counts at a patch's samples: 1 where the picture looks, 0 beside it."""
    right = np.abs(np.arange(-frame.half, frame.half + 1)) * frame.cell_x
    side = np.linspace(frame.far_side, frame.near_side, frame.rows)[:, None]
    result: NDArray[np.float32] = np.clip((side - right[None]) / (_FADE * frame.cell_x), 0, 1).astype(np.float32)
    return result


def _ended(relief: NDArray[np.float32], far_too: bool, near_too: bool) -> NDArray[np.float32]:
    """Let relief end before the first row of the bed and after its last, where the plain ground goes on."""
    at = np.arange(len(relief), dtype=np.float32)
    ramp = np.ones(len(relief), np.float32)
    if far_too:
        ramp = np.minimum(ramp, at / _FADE)
    if near_too:
        ramp = np.minimum(ramp, at[::-1] / _FADE)
    return relief * ramp[:, None]


class _Patch(NamedTuple):
    frame: _Frame
    base: NDArray[np.float32]
    relief: NDArray[np.float32]


def _meet_patches(patches: list[_Patch]) -> list[NDArray[np.float32]]:
    """Return relief on its ground, patch by patch, with the same heights where two meet."""
    heights = []
    for k, patch in enumerate(patches):
        heights.append(patch.base + _ended(patch.relief, k == len(patches) - 1, k == 0))
    for k in range(len(patches) - 1):
        # every second sample of the nearer is one of the farther; between them both are straight
        half, wide = patches[k].frame.half, patches[k + 1].frame.half
        fine, coarse = np.arange(-half, half + 1), np.arange(-wide, wide + 1) * 2
        heights[k][0] = np.interp(fine, coarse, heights[k + 1][-1]).astype(np.float32)
    return heights


class _Site(NamedTuple):
    """A patch of which it is known where its samples are, but not what lies there."""

    frame: _Frame
    base: NDArray[np.float32]
    seen: NDArray[np.int64]
    counts: NDArray[np.float32]
    places: Places


class PatchPlan:
    """Where the patches of a picture are; the same for all covers of its ground.

    Parameters
    ----------
    camera : Camera
        What the picture is taken with.
    survey, ground
        The ground without relief.
    moving : bool
        Coarser, while something moves.
    """

    def __init__(self, camera: Camera, survey: Survey, ground: Heightfield, moving: bool = False) -> None:
        self.camera, self._survey = camera, survey
        self.frames = _frames(camera, ground, _PIXELS_MOVING if moving else _PIXELS_A_CELL)
        self._known: dict[int, _Site] = {}

    def site(self, k: int) -> _Site:
        """Return patch ``k``, found when it is first asked for."""
        if k not in self._known:
            frame = self.frames[k]
            at, counts = _places(frame, self.camera, self._survey), _inside(frame)
            seen = np.flatnonzero(counts)
            asked = cover_places.some(at, seen)
            # how far up a metre of relief goes, and how much of it counts
            share = surface.lifts(asked.rise()) * counts.ravel()[seen]
            self._known[k] = _Site(frame, at.elevation_m.reshape(counts.shape), seen, share, asked)
        return self._known[k]


def lay(
    sites: PatchPlan,
    relief_at: Callable[[int, Places], NDArray[np.float32]],
    token: Token | None = None,
    known: Callable[[str, Callable[[], Bed]], Bed] | None = None,
) -> NamedBed:
    """Build the bed of a picture.

    Parameters
    ----------
    sites : PatchPlan
        Where its patches are.
    relief_at : callable
        Returns the relief along the normal (m) at the places of patch number ``k``.
    token : Token, optional
        Asked between bands.
    known : callable, optional
        Returns the bed of a name, made only where it is not known.

    Returns
    -------
    NamedBed
        Without patches where all relief is smaller than a pixel.
    """
    patches: list[_Patch] = []
    for k in range(len(sites.frames)):
        site = sites.site(k)
        relief = np.zeros(site.base.size, np.float32)
        relief[site.seen] = relief_at(k, site.places) * site.counts
        patches.append(_Patch(site.frame, site.base, relief.reshape(site.base.shape)))
        if float(np.abs(relief).max()) < _SEEN * site.frame.cell_x:
            break
    if not patches or all(float(np.abs(p.relief).max()) < _SEEN * p.frame.cell_x for p in patches):
        return plain()
    eye = sites.camera
    name = digest.of_json([[digest.of_array(patch.relief) for patch in patches], list(eye)])

    def make() -> Bed:
        return _joined(patches, _meet_patches(patches), eye, token)

    return NamedBed(known(name, make) if known else make(), name)


def _joined(patches: list[_Patch], heights: list[NDArray[np.float32]], camera: Camera, token: Token | None) -> Bed:
    numbers, starts, widths, maxima, hollow = [], [], [], [], []
    first = first_maximum = 0
    for patch, height in zip(patches, heights, strict=True):
        frame = patch.frame
        levels = maxima_over(height)
        begins, wide = levels.starts.tolist(), levels.widths.tolist()
        rows, cols = height.shape
        numbers.append(
            [
                rows,
                cols,
                first,
                first_maximum,
                len(begins),
                -frame.half * frame.cell_x,
                frame.end,
                frame.cell_x,
                frame.cell_y,
                math.ceil(float(height.max()) / _BOUND_M) * _BOUND_M,
            ]
        )
        pad = [0] * (_DEEPEST - len(begins))
        starts.append(begins + pad)
        widths.append(wide + pad)
        maxima.append(levels.maxima)
        alone = Heightfield(height - patch.base, frame.cell_x * (cols - 1), frame.cell_y * (rows - 1))
        hollow.append(sky_view(alone, token).ravel())
        first, first_maximum = first + height.size, first_maximum + levels.maxima.size
    flat = np.concatenate([height.ravel() for height in heights])
    east, north, _ = _ahead(camera)
    cos, sin = north, -east
    frames = np.array(numbers)
    base = max(float(patch.base.max()) for patch in patches)
    return Bed(
        flat,
        np.concatenate(hollow),
        np.concatenate(maxima),
        np.array(starts, np.int64),
        np.array(widths, np.int64),
        frames,
        camera.eye_x,
        camera.eye_y,
        cos,
        sin,
        max(float(frames[:, HIGHEST].max()), base),
    )
