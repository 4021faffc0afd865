"""Where two scenes of one picture differ after an edit of the cover, and which of its pixels may see that.

A stroke or a clause changes the relief at few places, and the surveyor stands on it. A ray that passes by all of
them meets what it met before.
"""

from __future__ import annotations

import itertools
import math
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray
from scipy import ndimage

from elvatch.core.kernel import kernel
from elvatch.core.light.sun import Direction
from elvatch.core.parallel import Token, over_bands
from elvatch.core.picture.bed import CELL_X, CELL_Y, COLS, FIRST, NORTH, ROWS, WEST, Bed
from elvatch.core.picture.camera import Camera
from elvatch.core.picture.figure import BOXES
from elvatch.core.picture.fragments import Fragments
from elvatch.core.picture.kinds import BEYOND
from elvatch.core.picture.scene import Scene
from elvatch.core.picture.sunlit import lift_beyond

Floats = NDArray[np.float64]
Floats32 = NDArray[np.float32]
_CORNERS = list(itertools.product((0, 1), repeat=3))
_CELLS = 16
"""Along the sides of the squares that changes are put together in."""
_MOST_BOXES = 400
_AROUND_PX = 1.5
"""Looks go through places beside the middle of a pixel."""
_SHADE_CELLS = 160
"""Along the longer side of a map of what lies towards the sun."""
_OFF_M = 0.03
"""No ray towards the sun begins further from what is seen."""


class Shade(NamedTuple):
    """Boxes as the sun sees them: ``away_m`` (rows, cols) at least so far each cell of a map square to the sun lies
    from all of them; the map begins at ``u_m, v_m``, and nothing of them is nearer to the sun than ``last_m``."""

    away_m: Floats
    u_m: float
    v_m: float
    cell_m: float
    last_m: float


def changed_boxes(before: Scene, after: Scene) -> Floats | None:
    """Return boxes that hold all that differs between two scenes.

    Parameters
    ----------
    before, after : Scene
        Of one picture: their beds may differ, and how high the surveyor stands.

    Returns
    -------
    ndarray, shape (n, 8, 3), float64, optional
        Their corners, metres; None where the beds have other patches, or are so high that rays begin elsewhere.
    """
    boxes = _of_bed(before.bed, after.bed)
    if boxes is None or before.figure_z == after.figure_z:
        return boxes
    return np.concatenate([boxes, _of_figure(before), _of_figure(after)])


def _of_figure(scene: Scene) -> Floats:
    """Return the boxes of the surveyor's parts."""
    parts = [zip(box[:3], box[3:], strict=True) for box in BOXES.tolist()]
    corners = np.array([list(itertools.product(*part)) for part in parts])
    if scene.upright:
        # with its back to the ground
        corners = np.stack([corners[..., 0], corners[..., 2], -corners[..., 1]], axis=-1)
    placed: Floats = corners + np.array([scene.figure_x, scene.figure_y, scene.figure_z])
    return placed


@kernel
def _spread(was: Floats32, now: Floats32, spans: NDArray[np.int64]) -> None:
    """Fill in where samples differ, square by square: from and to which row and column; to -1 where none does."""
    across = was.shape[1] // _CELLS + 1
    spans[:, 0], spans[:, 1], spans[:, 2], spans[:, 3] = was.shape[0], -1, was.shape[1], -1
    for row in range(was.shape[0]):
        for col in range(was.shape[1]):
            if was[row, col] != now[row, col]:
                mine = spans[row // _CELLS * across + col // _CELLS]
                mine[0], mine[1] = min(mine[0], row), max(mine[1], row)
                mine[2], mine[3] = min(mine[2], col), max(mine[3], col)


@kernel
def _bounded(was: Floats32, now: Floats32, spans: NDArray[np.int64], out: Floats) -> None:
    """Fill in the lowest and the highest of both in each span."""
    for k in range(spans.shape[0]):
        low, high = np.inf, -np.inf
        for row in range(spans[k, 0], spans[k, 1] + 1):
            for col in range(spans[k, 2], spans[k, 3] + 1):
                low = min(low, was[row, col], now[row, col])
                high = max(high, was[row, col], now[row, col])
        out[k, 0], out[k, 1] = low, high


def _of_bed(before: Bed, after: Bed) -> Floats | None:
    frames = before.patches.shape == after.patches.shape and np.array_equal(before.patches, after.patches)
    if not frames or before.highest_m != after.highest_m:
        return None
    boxes: list[Floats] = [np.empty((0, 8, 3))]
    for patch in after.patches:
        rows, cols, first = (int(patch[one]) for one in (ROWS, COLS, FIRST))
        was, now = (one.heights[first : first + rows * cols].reshape(rows, cols) for one in (before, after))
        spans = np.empty(((rows // _CELLS + 1) * (cols // _CELLS + 1), 4), np.int64)
        _spread(was, now, spans)
        # a sample shapes the cells on all its sides
        spans = np.clip(spans[spans[:, 1] >= 0] + [-1, 1, -1, 1], 0, [rows - 1, rows - 1, cols - 1, cols - 1])
        heights = np.empty((len(spans), 2))
        _bounded(was, now, spans, heights)
        x = patch[WEST] + spans[:, 2:] * patch[CELL_X]
        y = patch[NORTH] - spans[:, :2] * patch[CELL_Y]
        boxes.append(np.stack([np.stack([x[:, a], y[:, b], heights[:, c]], -1) for a, b, c in _CORNERS], 1))
    if sum(map(len, boxes)) > _MOST_BOXES:
        return None
    return _in_world(after, np.concatenate(boxes))


def _in_world(bed: Bed, corners: Floats) -> Floats:
    """Return corners in the bed's own axes as places in the world."""
    x, y = corners[..., 0], corners[..., 1]
    east = bed.east_m + bed.cos * x - bed.sin * y
    north = bed.north_m + bed.sin * x + bed.cos * y
    return np.stack([east, north, corners[..., 2]], axis=-1)


def pixels_of(boxes: Floats, camera: Camera, width_px: int, height_px: int) -> NDArray[np.bool_] | None:
    """Return the pixels, (height, width), whose rays may pass through boxes; None where one lies behind the eye."""
    mask = np.zeros((height_px, width_px), np.bool_)
    if not len(boxes):
        return mask
    c = camera
    away = boxes - np.array([c.eye_x, c.eye_y, c.eye_z])
    ahead = away @ np.array([c.forward_x, c.forward_y, c.forward_z])
    if ahead.min() <= 1e-3:
        return None
    right, up = np.array([c.right_x, c.right_y, c.right_z]), np.array([c.up_x, c.up_y, c.up_z])
    col = (0.5 + 0.5 * (away @ right) / (right @ right) / ahead) * width_px
    row = (0.5 - 0.5 * (away @ up) / (up @ up) / ahead) * height_px
    _cover(mask, row, col, _AROUND_PX)
    return mask


def _cover(mask: NDArray[np.bool_], row: Floats, col: Floats, around: float) -> None:
    """Set what lies within the frames of points (n, 8), and around these."""
    starts = [np.maximum(np.floor(one.min(axis=1) - around), 0).astype(int) for one in (row, col)]
    ends = [np.maximum(np.ceil(one.max(axis=1) + around), 0).astype(int) for one in (row, col)]
    for over, left, under, past in zip(*starts, *ends, strict=True):
        mask[over:under, left:past] = True


@kernel
def _past_band(
    scene: Scene,
    f: Fragments,
    sun: Direction,
    aside: Direction,
    shade: Shade,
    spread: float,
    lift: float,
    clear: NDArray[np.bool_],
    a: int,
    b: int,
) -> None:
    """Say whose rays towards the sun's disc pass by."""
    ux, uy = aside[0], aside[1]
    vx, vy, vz = -sun[2] * uy, sun[2] * ux, sun[0] * uy - sun[1] * ux
    far = shade.away_m
    for i in range(a, b):
        x, y, z = f.places.x_m[i], f.places.y_m[i], float(f.height_m[i])
        reach = shade.last_m - (x * sun[0] + y * sun[1] + z * sun[2])
        at = f.places
        long = math.hypot(at.along_east_m[i], at.along_north_m[i]) + 2.0 * at.across_m[i]
        steep = 1.0 + abs(at.rise_east[i]) + abs(at.rise_north[i])
        # rays begin anywhere in what the pixel covers, a little above it
        around = long * steep + (lift_beyond(scene) if f.kind[i] == BEYOND else lift) + _OFF_M
        if reach < -around:
            clear[i] = True
            continue
        col = (x * ux + y * uy - shade.u_m) / shade.cell_m
        row = (x * vx + y * vy + z * vz - shade.v_m) / shade.cell_m
        # what lies beside the map is at least as far away as the map is
        beside_col = max(-col, col - far.shape[1], 0.0)
        beside_row = max(-row, row - far.shape[0], 0.0)
        c, r = min(max(int(col), 0), far.shape[1] - 1), min(max(int(row), 0), far.shape[0] - 1)
        away = far[r, c] if beside_col + beside_row == 0.0 else math.hypot(beside_col, beside_row) * shade.cell_m
        clear[i] = away > around + spread * max(reach, 0.0)


def _shade_of(boxes: Floats, sun: Direction, aside: Direction) -> Shade:
    ux, uy = aside[0], aside[1]
    ways = np.array([[ux, uy, 0.0], [-sun[2] * uy, sun[2] * ux, sun[0] * uy - sun[1] * ux], sun])
    u, v, toward = (boxes @ way for way in ways)
    cell = max(np.ptp(u), np.ptp(v), 1e-3) / _SHADE_CELLS
    cols, rows = (math.ceil(np.ptp(one) / cell) + 1 for one in (u, v))
    mask = np.zeros((rows, cols), np.bool_)
    _cover(mask, (v - v.min()) / cell, (u - u.min()) / cell, 0.0)
    # from the middle of a cell to the middle of one that is covered
    away = np.maximum(ndimage.distance_transform_edt(~mask) - math.sqrt(2.0), 0.0) * cell
    return Shade(away, float(u.min()), float(v.min()), float(cell), float(toward.max()))


def sunny_still(
    boxes: Floats,
    scene: Scene,
    f: Fragments,
    sun: Direction,
    width_deg: float,
    lift_m: float,
    token: Token | None = None,
) -> NDArray[np.bool_]:
    """Return which fragments' rays towards the sun's disc pass by all boxes, (n,).

    Parameters
    ----------
    boxes : ndarray, shape (m, 8, 3), float64
        Their corners, metres.
    scene, f
        What is there, and what is seen of it.
    sun : tuple of float
        Unit vector towards the sun.
    width_deg : float
        Across the sun's disc, degrees.
    lift_m : float
        How far above the ground rays start at most.
    token : Token, optional
        Asked between bands.
    """
    clear = np.ones(len(f.pixel), np.bool_)
    if not len(boxes):
        return clear
    level = math.hypot(sun[0], sun[1])
    aside = (-sun[1] / level, sun[0] / level, 0.0) if level > 1e-9 else (1.0, 0.0, 0.0)
    shade, spread = _shade_of(boxes, sun, aside), math.tan(math.radians(width_deg / 2))
    over_bands(
        len(clear),
        lambda a, b: _past_band(scene, f, sun, aside, shade, spread, lift_m, clear, a, b),
        token,
        least=8192,
    )
    return clear
