"""Bounding volumes: a complete binary tree over boxes, split in the middle of their longest side.

Node 1 is the root and node k has children 2k and 2k + 1, so that a ray finds its way without a stack.
"""

from __future__ import annotations

import math
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from elvatch.core.kernel import inner, kernel, part

Boxes = NDArray[np.float32]


class Tree(NamedTuple):
    """``order`` (n,) which item lies where, leaf by leaf; ``boxes`` (2**(depth + 1), 6) lowest and highest corner of
    each node; leaf ``i`` of level ``depth`` holds items ``n * i >> depth`` to ``n * (i + 1) >> depth``."""

    order: NDArray[np.int64]
    boxes: Boxes
    depth: int


@part
def _part_off(key: NDArray[np.float32], order: NDArray[np.int64], first: int, last: int, middle: int) -> None:
    """Move items so that those before ``middle`` have keys not above those after it (Hoare 1961)."""
    low, high = first, last - 1
    while low < high:
        pivot = key[order[(low + high) >> 1]]
        i, j = low, high
        while i <= j:
            while key[order[i]] < pivot:
                i += 1
            while key[order[j]] > pivot:
                j -= 1
            if i <= j:
                order[i], order[j] = order[j], order[i]
                i += 1
                j -= 1
        if middle <= j:
            high = j
        elif middle >= i:
            low = i
        else:
            return


@kernel
def _sort(middles: NDArray[np.float32], order: NDArray[np.int64], depth: int) -> None:
    """Order items by halving each node's along the longest side of where their middles lie."""
    count = order.shape[0]
    for level in range(depth):
        for i in range(1 << level):
            first, last = count * i >> level, count * (i + 1) >> level
            axis, widest = 0, -1.0
            for k in range(3):
                low, high = math.inf, -math.inf
                for j in range(first, last):
                    value = middles[k, order[j]]
                    low, high = min(low, value), max(high, value)
                if high - low > widest:
                    axis, widest = k, high - low
            if last - first > 1:
                _part_off(middles[axis], order, first, last, count * (2 * i + 1) >> (level + 1))


@kernel
def _bound(low: Boxes, high: Boxes, order: NDArray[np.int64], depth: int, boxes: Boxes) -> None:
    count = order.shape[0]
    for i in range(1 << depth):
        node = (1 << depth) + i
        for k in range(3):
            least, most = math.inf, -math.inf
            for j in range(count * i >> depth, count * (i + 1) >> depth):
                least, most = min(least, low[order[j], k]), max(most, high[order[j], k])
            boxes[node, k], boxes[node, k + 3] = least, most
    for node in range((1 << depth) - 1, 0, -1):
        for k in range(3):
            boxes[node, k] = min(boxes[2 * node, k], boxes[2 * node + 1, k])
            boxes[node, k + 3] = max(boxes[2 * node, k + 3], boxes[2 * node + 1, k + 3])


def build(low: NDArray[np.floating], high: NDArray[np.floating], leaf: int) -> Tree:
    """Return a tree over boxes.

    Parameters
    ----------
    low, high : ndarray, shape (n, 3)
        Corners of each.
    leaf : int
        Most items in a leaf, about.
    """
    count = len(low)
    depth = max(0, math.ceil(math.log2(max(count, 1) / leaf)))
    order = np.arange(count, dtype=np.int64)
    low32, high32 = np.ascontiguousarray(low, np.float32), np.ascontiguousarray(high, np.float32)
    middles = np.ascontiguousarray(((low32 + high32) * np.float32(0.5)).T)
    boxes = np.empty((1 << (depth + 1), 6), np.float32)
    boxes[:, :3], boxes[:, 3:] = np.inf, -np.inf
    if count:
        _sort(middles, order, depth)
        _bound(low32, high32, order, depth, boxes)
    return Tree(order, boxes, depth)


@inner
def enter(
    boxes: Boxes, node: int, x: float, y: float, z: float, ix: float, iy: float, iz: float, near: float, far: float
) -> float:
    """Return where a ray enters a node's box between two distances, or infinity; ``i`` is one over its direction."""
    a, b = (boxes[node, 0] - x) * ix, (boxes[node, 3] - x) * ix
    low, high = min(a, b), max(a, b)
    a, b = (boxes[node, 1] - y) * iy, (boxes[node, 4] - y) * iy
    low, high = max(low, min(a, b)), min(high, max(a, b))
    a, b = (boxes[node, 2] - z) * iz, (boxes[node, 5] - z) * iz
    low, high = max(low, min(a, b)), min(high, max(a, b))
    if low <= high and high >= near and low <= far:
        return float(max(low, near))
    return math.inf


@inner
def outside(boxes: Boxes, node: int, x: float, y: float, z: float) -> float:
    """Return how far a place lies outside a node's box, squared."""
    dx = max(boxes[node, 0] - x, x - boxes[node, 3], 0.0)
    dy = max(boxes[node, 1] - y, y - boxes[node, 4], 0.0)
    dz = max(boxes[node, 2] - z, z - boxes[node, 5], 0.0)
    return float(dx * dx + dy * dy + dz * dz)
