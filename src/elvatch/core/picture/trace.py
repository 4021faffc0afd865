"""Rays against a ground: the first place a ray meets the bilinear surface.

A ray walks the pyramid of maxima: a cell that it passes wholly above is skipped at once, any
other is looked into. The cell walked is kept in whole numbers and only ever advanced across
the border it is left by, so no patch can be jumped over, however flat the ray.
"""

from __future__ import annotations

import math

from elvatch.core.kernel import inner, settled, unsigned
from elvatch.core.picture.relief import TracedHeights

NO_HIT = math.inf


@inner
def _meet_patch(
    relief: TracedHeights,
    col: int,
    row: int,
    u: float,
    v: float,
    z: float,
    du: float,
    dv: float,
    dz: float,
    reach: float,
) -> float:
    """Return how far along the ray, 0..reach, it meets one patch, or infinity.

    ``u, v, z`` is where the ray enters, relative to the patch's north-west sample.
    """
    h = relief.heights
    at = relief.first + row * relief.cols + col
    below = at + relief.cols
    h00, h10 = float(h[unsigned(at)]), float(h[unsigned(at + 1)])
    h01, h11 = float(h[unsigned(below)]), float(h[unsigned(below + 1)])
    hu, hv, huv = h10 - h00, h01 - h00, h11 - h10 - h01 + h00
    # clearance(s) = a s^2 + b s + c is the ray's height above the surface
    c = z - (h00 + u * hu + v * hv + u * v * huv)
    if c <= 0.0:
        return 0.0
    a = -du * dv * huv
    b = dz - du * hu - dv * hv - (u * dv + v * du) * huv
    end = (a * reach + b) * reach + c
    if end > 0.0 and (a <= 0.0 or b >= 0.0):
        return NO_HIT
    if abs(a) < 1e-12:
        return min(-c / b, reach) if b < 0.0 else NO_HIT
    under = b * b - 4.0 * a * c
    if under < 0.0:
        return NO_HIT
    q = -0.5 * (b + math.copysign(math.sqrt(under), b))
    s1, s2 = q / a, (c / q if q != 0.0 else NO_HIT)
    if s1 > s2:
        s1, s2 = s2, s1
    if 0.0 <= s1 <= reach:
        return s1
    if 0.0 <= s2 <= reach:
        return s2
    return reach if end <= 0.0 else NO_HIT


@inner
def march(
    relief: TracedHeights, x: float, y: float, z: float, dx: float, dy: float, dz: float, near: float, far: float
) -> float:
    """Return the distance at which a ray first meets the surface between ``near`` and ``far``.

    Parameters
    ----------
    relief : TracedHeights
        The prepared ground.
    x, y, z : float
        Where the ray starts, metres.
    dx, dy, dz : float
        Its direction; distances are in units of its length.
    near, far : float
        The part of the ray to look at. It must lie over the ground's rectangle.

    Returns
    -------
    float
        Distance, or infinity. A ray that enters below the surface meets it at ``near``.
    """
    rows, cols = relief.rows, relief.cols
    c0, dc = (x - relief.west_m) / relief.cell_x_m, dx / relief.cell_x_m
    r0, dr = (relief.north_m - y) / relief.cell_y_m, -dy / relief.cell_y_m
    per_col, per_row = settled(1.0 / dc if dc != 0.0 else NO_HIT), settled(1.0 / dr if dr != 0.0 else NO_HIT)
    if dz > 0.0:
        far = min(far, (relief.highest_m - z) / dz + 1e-9)
    elif dz < 0.0:
        near = max(near, (relief.highest_m - z) / dz - 1e-9)
    top = relief.starts.shape[0] - 1
    t = near
    col = min(max(math.floor(c0 + t * dc), 0), cols - 2)
    row = min(max(math.floor(r0 + t * dr), 0), rows - 2)
    level = min(top, 5)
    while t <= far:
        node_col, node_row = col >> level, row >> level
        side_col = (node_col + 1 if dc > 0.0 else node_col) << level
        side_row = (node_row + 1 if dr > 0.0 else node_row) << level
        t_col = (side_col - c0) * per_col if dc != 0.0 else NO_HIT
        t_row = (side_row - r0) * per_row if dr != 0.0 else NO_HIT
        leave = max(t, min(t_col, t_row))
        upto = min(leave, far)
        lowest = z + (upto if dz < 0.0 else t) * dz
        of = unsigned(level)
        if lowest <= relief.maxima[unsigned(relief.starts[of] + node_row * relief.widths[of] + node_col)]:
            if level > 0:
                level -= 1
                continue
            met = _meet_patch(
                relief, col, row, c0 + t * dc - col, r0 + t * dr - row, z + t * dz, dc, dr, dz, upto - t
            )
            if met < NO_HIT:
                return t + met
        if leave >= far:
            return NO_HIT
        t = leave
        if t_col <= t_row:
            col = side_col if dc > 0.0 else side_col - 1
            low = node_row << level
            row = min(max(int(r0 + t * dr), low), low + (1 << level) - 1)
            further = (col >> level) >> 1 != node_col >> 1
        else:
            row = side_row if dr > 0.0 else side_row - 1
            low = node_col << level
            col = min(max(int(c0 + t * dc), low), low + (1 << level) - 1)
            further = (row >> level) >> 1 != node_row >> 1
        if col < 0 or row < 0 or col > cols - 2 or row > rows - 2:
            return NO_HIT
        # inside the same larger cell the ray may still be under its maximum: stay as near
        if further and level < top:
            level += 1
    return NO_HIT


@inner
def over_ground(
    relief: TracedHeights, x: float, y: float, dx: float, dy: float, near: float, far: float
) -> tuple[float, float]:
    """Return the part of a ray that lies over the ground's rectangle; empty when first > second."""
    rows, cols = relief.rows, relief.cols
    east = relief.west_m + (cols - 1) * relief.cell_x_m
    south = relief.north_m - (rows - 1) * relief.cell_y_m
    for axis in range(2):
        start, step = (x, dx) if axis == 0 else (y, dy)
        low, high = (relief.west_m, east) if axis == 0 else (south, relief.north_m)
        if step == 0.0:
            if start < low or start > high:
                return 1.0, 0.0
            continue
        a, b = (low - start) / step, (high - start) / step
        near, far = max(near, min(a, b)), min(far, max(a, b))
    return near, far
