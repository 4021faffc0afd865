"""Making a set seamless: its edges overlap, and one cut through the overlap serves all maps.

A strip along the left edge is laid over the same strip beyond the right edge, so that the set
becomes smaller by the strip and repeats without a step; then the same from top to bottom. Nothing
is shown twice. Either the strips are blended, the higher ground coming through first, or they are
cut along the line on which they differ least (Efros & Freeman 2001).
"""

from __future__ import annotations

from typing import Literal

import numpy as np
import scipy.ndimage
from numpy.typing import NDArray

from elvatch.core.kernel import kernel
from elvatch.core.refusal import RefusalError
from elvatch.core.run import Run
from elvatch.core.stock import periodic, resize
from elvatch.core.stock.loaded import Loaded, whole
from elvatch.core.stock.roles import Role

Map = NDArray[np.float32]
Way = Literal["blend", "cut"]
_WORK_PX = 1024
_FEATHER = 0.006
"""Half the width over which a cut is softened, as a share of the set's size."""


def seamless(loaded: Loaded, way: Way, overlap: float = 0.15, run: Run | None = None) -> Loaded:
    """Return a set made seamless; it covers less ground by the overlap, at the same scale.

    Parameters
    ----------
    loaded : Loaded
        All its maps.
    way : str
        "blend": by height, the higher first; "cut": along the least difference.
    overlap : float
        Share of the set's size that is laid over itself, 0.02 to 0.5.
    run : Run, optional
        Told how far it is.

    Raises
    ------
    RefusalError
        When the overlap is out of range.
    """
    run = run or Run()
    if not 0.02 <= overlap <= 0.5:
        raise RefusalError("overlap", f"{overlap:g}", "0.02 to 0.5 of the set's size", "choose a smaller strip")
    maps = {role: _blendable(role, loaded) for role in loaded.whole}
    for number, axis in enumerate((1, 0)):
        share = _weights(maps, way, overlap, axis)
        for role in maps:
            run.at(0.1 + 0.4 * number)
            maps[role] = _lay_over(maps[role], share, overlap, axis)
    run.at(0.9)
    out = {role: _whole(role, values, loaded.bits[role]) for role, values in maps.items()}
    return Loaded(out, loaded.tile_m * (1 - overlap), loaded.relief_m)


def _blendable(role: Role, loaded: Loaded) -> Map:
    """Return a map in the form in which it may be averaged; normals as slopes."""
    values = loaded.numbers(role)
    return resize.slopes_of(values) if role == "normal" else values


def _whole(role: Role, values: Map, bits: int) -> NDArray[np.uint8] | NDArray[np.uint16]:
    return whole(role, resize.normals_of(values) if role == "normal" else values, bits)


def _strips(values: Map, overlap: float, axis: int) -> tuple[Map, Map]:
    """Return the strip before the left edge's own, seen from the other side, and the left edge's own."""
    n = values.shape[axis]
    wide = max(1, round(overlap * n))
    moved = np.moveaxis(values, axis, 1)
    return moved[:, n - wide :], moved[:, :wide]


def _lay_over(values: Map, share: Map, overlap: float, axis: int) -> Map:
    """Lay the far strip over the near one by its share, and leave the far one out."""
    far, near = _strips(values, overlap, axis)
    rows, wide = near.shape[:2]
    fitted = scipy.ndimage.zoom(share, (rows / share.shape[0], wide / share.shape[1]), order=1, mode="nearest")
    if values.ndim == 3:
        fitted = fitted[..., None]
    moved = np.moveaxis(values, axis, 1).copy()
    moved[:, :wide] = far * fitted + near * (1 - fitted)
    kept = moved[:, : moved.shape[1] - wide]
    return np.ascontiguousarray(np.moveaxis(kept, 1, axis)).astype(np.float32)


def _weights(maps: dict[Role, Map], way: Way, overlap: float, axis: int) -> Map:
    """Return the far strip's share (rows, width of the strip) at working size: 1 at the edge, 0 inside."""
    small = {role: _small(values) for role, values in maps.items()}
    guide: Role = "height" if "height" in small else next(iter(small))
    far, near = _strips(small[guide], overlap, axis)
    rows, wide = near.shape[:2]
    across = (np.arange(wide, dtype=np.float32) + 0.5) / wide
    if way == "blend":
        lift = (_flat(far) - _flat(near)) / max(float(np.abs(_flat(small[guide])).std()), 1e-5)
        position = 0.5 - (across - 0.5) * 2.2 + 0.22 * np.clip(lift, -2, 2) * (1 - np.abs(2 * across - 1))
        blended: Map = np.clip(position, 0, 1).astype(np.float32)
        return blended
    cost = np.zeros((rows, wide), np.float32)
    for values in small.values():
        away, own = _strips(values, overlap, axis)
        spread = max(float(values.std()), 1e-5)
        gap = ((away - own) / spread) ** 2
        cost += gap.mean(axis=2) if gap.ndim == 3 else gap
    path = _round_path(cost)
    feather = max(1.0, _FEATHER * rows)
    here = np.arange(wide, dtype=np.float32)[None, :]
    soft = np.clip(0.5 - (here - path[:, None]) / (2 * feather), 0, 1)
    # the outermost columns must be the far strip alone and the near strip alone
    limit = np.clip(np.minimum(here + 0.5, wide - here - 0.5) / feather, 0, 1)
    hard = (across < 0.5).astype(np.float32)[None, :]
    share: Map = (soft * limit + hard * (1 - limit)).astype(np.float32)
    return share


def _small(values: Map) -> Map:
    while values.shape[0] > _WORK_PX:
        rows, cols = values.shape[0] // 2 * 2, values.shape[1] // 2 * 2
        values = periodic.halve(values[:rows, :cols])
    return values


def _flat(values: Map) -> Map:
    return values if values.ndim == 2 else values.mean(axis=2)


@kernel
def _cheapest(cost: Map, best: Map, step: NDArray[np.int8]) -> None:
    """Fill in the cheapest way to reach each place from the first row, and the step that came there."""
    rows, cols = cost.shape
    for col in range(cols):
        best[0, col] = cost[0, col]
    for row in range(1, rows):
        for col in range(cols):
            low, way = best[row - 1, col], 0
            if col > 0 and best[row - 1, col - 1] < low:
                low, way = best[row - 1, col - 1], -1
            if col < cols - 1 and best[row - 1, col + 1] < low:
                low, way = best[row - 1, col + 1], 1
            best[row, col] = low + cost[row, col]
            step[row, col] = way


def _path(cost: Map) -> NDArray[np.int64]:
    best, step = np.empty_like(cost), np.zeros(cost.shape, np.int8)
    _cheapest(np.ascontiguousarray(cost), best, step)
    out = np.empty(len(cost), np.int64)
    out[-1] = int(np.argmin(best[-1]))
    for row in range(len(cost) - 1, 0, -1):
        out[row - 1] = out[row] + step[row, out[row]]
    return out


def _round_path(cost: Map) -> Map:
    """Return the cheapest line down the strip that ends where it began, so that it goes on in the next repeat."""
    rows, cols = cost.shape
    cost = cost + np.float32(1e-4 * float(cost.mean()))
    # found in the middle of two rounds, a place to pass through is as good as any
    through = int(_path(np.concatenate([cost, cost]))[rows])
    held = cost.copy()
    barred = np.float32(1e6 * (1 + float(cost.max())))
    held[0, np.arange(cols) != through] = barred
    held[-1, np.abs(np.arange(cols) - through) > 1] = barred
    return _path(held).astype(np.float32)
