"""One layer's material at a place: its set fitted onto the ground and adjusted, and what it sends out by itself."""

from __future__ import annotations

import math

import numpy as np
from numpy.typing import NDArray

from elvatch.core.cover import plan as p
from elvatch.core.cover.memory import WITH_LIGHT, Memo
from elvatch.core.cover.plan import Plan
from elvatch.core.ground.places import Places
from elvatch.core.kernel import inner, part, unsigned
from elvatch.core.mapping.fit_row import SIDES
from elvatch.core.mapping.fitting import fitted
from elvatch.core.mapping.lookup import look_up
from elvatch.core.mapping.plain import LINES, fitted_plainly, is_plain
from elvatch.core.mapping.relief_sides import has_sides, on_sides
from elvatch.core.mapping.tint import tinted
from elvatch.core.noise import add_octaves, fractal_noise
from elvatch.core.stock.pyramid import BLUE, CHANNELS, OCCLUSION, RED, ROUGH, SLOPE_RMS

SCRATCH_LINES = max(LINES, 4)


@inner
def _take_image_colour(
    plan: Plan, k: int, places: Places, i: int, taps: int, out: NDArray[np.float32], image: NDArray[np.float32]
) -> None:
    """Move a layer's colour towards that of the image over the ground; the set's own grain stays."""
    layer, width, depth = plan.layers[k], plan.extent[0], plan.extent[1]
    look_up(
        plan.image[0],
        plan.image[1],
        places.x_m[i] / width,
        (depth - places.y_m[i]) / depth,
        places.across_m[i] / max(width, depth),
        places.along_east_m[i] / width,
        -places.along_north_m[i] / depth,
        taps,
        image,
    )
    for channel in range(RED, BLUE + 1):
        grain = min(out[channel] / max(layer[p.MEAN_RED + channel], 1e-3), 3.0)
        out[channel] += (image[channel] * grain - out[channel]) * layer[p.IMAGE]


@inner
def _drift(layer: NDArray[np.float64], k: int, places: Places, i: int) -> tuple[float, float]:
    """Return how far the tiles of layer ``k`` have drifted at a place, metres east and north."""
    if layer[p.VARY_OFFSET] <= 0.0:
        return 0.0, 0.0
    # a drift over the distance of the variation: slow enough that nothing is seen to stretch
    drift, size = layer[p.VARY_OFFSET] * layer[p.TILE], max(layer[p.VARY_SIZE], 4.0 * layer[p.TILE])
    return (
        drift * fractal_noise(places.x_m[i] / size, places.y_m[i] / size, 401 + k * 31, 0, 2, 0.5),
        drift * fractal_noise(places.x_m[i] / size, places.y_m[i] / size, 577 + k * 31, 0, 2, 0.5),
    )


@part
def _glow_of_layer(
    plan: Plan, k: int, places: Places, i: int, taps: int, glow: NDArray[np.float32], spare: NDArray[np.float32]
) -> None:
    """Fill ``glow`` with what layer ``k`` sends out at a place, fitted as its material is."""
    layer = plan.layers[k]
    drift_e, drift_n = _drift(layer, k, places, i)
    fitted(
        layer,
        p.FIT,
        plan.glows[k],
        plan.glow_means[k],
        plan.fall,
        places,
        i,
        drift_e,
        drift_n,
        taps,
        spare[0],
        spare[1:],
    )
    for c in range(3):
        glow[c] = spare[0, RED + c] * layer[p.GLOW]


@inner
def kept_glow(
    plan: Plan,
    memo: Memo,
    k: int,
    places: Places,
    i: int,
    taps: int,
    glow: NDArray[np.float32],
    spare: NDArray[np.float32],
) -> None:
    """Fill ``glow`` with what layer ``k`` sends out at a place, from memory where it is there."""
    slot = memo.value_slot[k]
    if slot >= 0 and memo.done[slot, i] == WITH_LIGHT:
        for c in range(3):
            glow[c] = memo.glow[slot, i, c]
        return
    for c in range(3):
        glow[c] = 0.0
    if plan.layers[k, p.GLOW] > 0.0:
        _glow_of_layer(plan, k, places, i, taps, glow, spare)
    if slot >= 0:
        for c in range(3):
            memo.glow[slot, i, c] = glow[c]
        memo.done[slot, i] = WITH_LIGHT


@inner
def _slow_changes(
    layer: NDArray[np.float64],
    k: int,
    places: Places,
    index: NDArray[np.int64],
    count: int,
    lines: NDArray[np.float64],
) -> None:
    """Fill in how layer ``k`` changes slowly over the ground at places: times how bright, and how much warmer."""
    bright, warm, x, y = lines[0], lines[1], lines[2], lines[3]
    for n in range(count):
        bright[n], warm[n] = 1.0, 0.0
    if layer[p.VARY] <= 0.0 and layer[p.VARY_COLOUR] <= 0.0:
        return
    per = 1.0 / layer[p.VARY_SIZE]
    for n in range(count):
        bright[n], x[n], y[n] = 0.0, places.x_m[unsigned(index[n])] * per, places.y_m[unsigned(index[n])] * per
    add_octaves(x, y, count, 977 + k * 31, 3, 0.6, bright)
    for n in range(count):
        bright[n] = math.exp(layer[p.VARY] * 1.4 * bright[n])
    if layer[p.VARY_COLOUR] <= 0.0:
        return
    for n in range(count):
        x[n], y[n] = x[n] + 31.7, y[n] - 12.3
    add_octaves(x, y, count, 733 + k * 31, 3, 0.6, warm)
    for n in range(count):
        warm[n] *= 2.0 * layer[p.VARY_COLOUR]


@inner
def _adjust(layer: NDArray[np.float64], bright: float, warmth: float, out: NDArray[np.float32]) -> None:
    """Adjust a layer's numbers at a place as its look says."""
    lost = out[SLOPE_RMS]
    rough = layer[p.ROUGH_LOW] + layer[p.ROUGH_SPAN] * out[ROUGH] + layer[p.ROUGH_SHIFT]
    rough = min(max(rough, 0.03), 1.0)
    # alpha^2 of the microfacets widens by the variance of the slopes that were averaged away
    wider = np.float32(rough * rough * rough * rough) + min(lost, np.float32(0.5))
    out[ROUGH] = min(np.float32(1.0), np.sqrt(np.sqrt(wider)))
    out[OCCLUSION] = 1.0 - layer[p.OCCLUDE] * (1.0 - min(out[OCCLUSION], 1.0))
    for channel in range(RED, BLUE + 1):
        out[channel] *= bright
    tinted(layer, p.TINT, out, warmth)


@inner
def _fit(
    plan: Plan,
    k: int,
    places: Places,
    start: int,
    index: NDArray[np.int64],
    count: int,
    taps: int,
    out: NDArray[np.float32],
    lines: NDArray[np.float64],
    spare: NDArray[np.float32],
) -> None:
    """Fill in layer ``k``'s set, fitted onto the ground, at places of a block."""
    layer = plan.layers[k]
    if is_plain(layer, p.FIT) and layer[p.VARY_OFFSET] <= 0.0:
        fitted_plainly(layer, p.FIT, plan.sets[k], places, start, index, count, taps, lines, out)
    else:
        for n in range(count):
            i = unsigned(index[n])
            east, north = _drift(layer, k, places, i)
            row = out[unsigned(i - start)]
            fitted(layer, p.FIT, plan.sets[k], plan.means[k], plan.fall, places, i, east, north, taps, row, spare)
    if layer[p.FIT + SIDES] <= 0.0:
        return
    one, two = spare[0], spare[1]
    for n in range(count):
        i = unsigned(index[n])
        row = out[unsigned(i - start)]
        if has_sides(row):
            east, north = _drift(layer, k, places, i)
            on_sides(layer, p.FIT, plan.sets[k], plan.means[k], places, i, east, north, taps, row, one, two)


@part
def _materials_of_layer(
    plan: Plan,
    k: int,
    places: Places,
    start: int,
    index: NDArray[np.int64],
    count: int,
    taps: int,
    out: NDArray[np.float32],
    lines: NDArray[np.float64],
    spare: NDArray[np.float32],
) -> None:
    """Fill in layer ``k``'s ten numbers at some places of a block, fitted and adjusted."""
    layer = plan.layers[k]
    _fit(plan, k, places, start, index, count, taps, out, lines, spare)
    if layer[p.IMAGE] > 0.0 and plan.image[1] > 0:
        for n in range(count):
            _take_image_colour(plan, k, places, index[n], taps, out[unsigned(index[n] - start)], spare[0])
    _slow_changes(layer, k, places, index, count, lines)
    for n in range(count):
        _adjust(layer, lines[0, n], lines[1, n], out[unsigned(index[n] - start)])


@inner
def fill_materials(
    plan: Plan,
    memo: Memo,
    k: int,
    places: Places,
    start: int,
    index: NDArray[np.int64],
    count: int,
    taps: int,
    out: NDArray[np.float32],
    left: NDArray[np.int64],
    lines: NDArray[np.float64],
    spare: NDArray[np.float32],
) -> None:
    """Fill in layer ``k``'s ten numbers at some places of a block, from memory where they are there.

    Height comes out in metres about the layer's middle, slopes as
    :class:`~elvatch.core.cover.material.Material` has them.

    Parameters
    ----------
    plan, memo, k, places, taps
        Which layer, where, and how many lookups an area may take.
    start : int
        Where the block begins.
    index : ndarray, shape (count,), int64
        Which places of it.
    out : ndarray, shape (block, 10), float32
        The rows of those places are filled in.
    left, lines, spare : ndarray
        Scratch: ``(block,)`` int64, ``(SCRATCH_LINES, block)`` float64, ``(3, 10)`` float32.
    """
    slot, asked = memo.value_slot[k], 0
    for n in range(count):
        i = unsigned(index[n])
        if slot >= 0 and memo.done[slot, i] != 0:
            for channel in range(CHANNELS):
                out[unsigned(i - start), channel] = memo.values[slot, i, channel]
            continue
        left[asked] = i
        asked += 1
    if asked == 0:
        return
    _materials_of_layer(plan, k, places, start, left, asked, taps, out, lines, spare)
    if slot >= 0:
        for n in range(asked):
            i = unsigned(left[n])
            for channel in range(CHANNELS):
                memo.values[slot, i, channel] = out[unsigned(i - start), channel]
            memo.done[slot, i] = 1
