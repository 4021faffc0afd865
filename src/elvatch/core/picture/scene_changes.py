"""Where two scenes of one picture differ after an edit of the cover, and which of its pixels may see that.

A stroke or a clause changes the relief at few places, and the surveyor stands on it. A ray that passes by all of
them meets what it met before.
"""

from __future__ import annotations

import itertools
import math

import numpy as np
from numpy.typing import NDArray

from elvatch.core.picture.bed import CELL_X, CELL_Y, COLS, FIRST, NORTH, ROWS, WEST, Bed
from elvatch.core.picture.camera import Camera
from elvatch.core.picture.figure import BOXES
from elvatch.core.picture.scene import Scene

Floats = NDArray[np.float64]
_CELLS = 16
"""Along the sides of the squares that changes are put together in."""
_MOST_BOXES = 400
_AROUND_PX = 1.5
"""Looks go through places beside the middle of a pixel."""


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


def _of_bed(before: Bed, after: Bed) -> Floats | None:
    frames = before.patches.shape == after.patches.shape and np.array_equal(before.patches, after.patches)
    if not frames or before.highest_m != after.highest_m:
        return None
    boxes: list[Floats] = []
    for patch in after.patches:
        rows, cols, first = (int(patch[one]) for one in (ROWS, COLS, FIRST))
        was, now = (one.heights[first : first + rows * cols].reshape(rows, cols) for one in (before, after))
        row, col = np.nonzero(was != now)
        square = row // _CELLS * (cols // _CELLS + 1) + col // _CELLS
        for one in np.unique(square):
            mine = square == one
            # a sample shapes the cells on all its sides
            north, south = max(row[mine].min() - 1, 0), min(row[mine].max() + 1, rows - 1)
            west, east = max(col[mine].min() - 1, 0), min(col[mine].max() + 1, cols - 1)
            part = np.s_[north : south + 1, west : east + 1]
            low, high = min(was[part].min(), now[part].min()), max(was[part].max(), now[part].max())
            x = patch[WEST] + np.array([west, east]) * patch[CELL_X]
            y = patch[NORTH] - np.array([north, south]) * patch[CELL_Y]
            boxes.append(np.array([(a, b, z) for a in x for b in y for z in (float(low), float(high))]))
    if len(boxes) > _MOST_BOXES:
        return None
    return _in_world(after, np.array(boxes).reshape(-1, 8, 3))


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
    for across, down in zip(col, row, strict=True):
        left, over = max(math.floor(across.min() - _AROUND_PX), 0), max(math.floor(down.min() - _AROUND_PX), 0)
        past, under = math.ceil(across.max() + _AROUND_PX), math.ceil(down.max() + _AROUND_PX)
        mask[over : max(under, 0), left : max(past, 0)] = True
    return mask
