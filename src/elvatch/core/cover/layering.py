"""Layers laid upon each other at a block of places, from the bottom up, and the wear over them.

Layer by layer, each at all places of a block where it can be seen: what is to be known of a layer is then asked for
many places at once.
"""

from __future__ import annotations

import math
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from elvatch.core.blend import REPLACE
from elvatch.core.cover import plan as p
from elvatch.core.cover.boundary import lay_strip
from elvatch.core.cover.layer_material import SCRATCH_LINES, fill_materials, kept_glow
from elvatch.core.cover.material import Material
from elvatch.core.cover.memory import Memo
from elvatch.core.cover.plan import Plan, Prepared
from elvatch.core.ground.places import Places
from elvatch.core.kernel import inner, mix_values, unsigned
from elvatch.core.mapping.fit_row import LEVELLED, MEETS, RELIEF
from elvatch.core.mapping.lookup import level_of
from elvatch.core.rules import rules
from elvatch.core.stock import sheet
from elvatch.core.stock.pyramid import (
    BLUE,
    CHANNELS,
    GREEN,
    HEIGHT,
    METALLIC,
    MOST_LEVELS,
    OCCLUSION,
    RED,
    ROUGH,
    SLOPE_X,
    SLOPE_Y,
)
from elvatch.core.wear import overlaid as o
from elvatch.core.wear.overlaid import overlaid
from elvatch.core.wear.worn import EVERYWHERE, by_relief, wear_down

UNSEEN = 1e-4
"""A presence or a share that is left out."""
_MOST_TEXELS = 2.0 ** (MOST_LEVELS - 1.001)


class Scratch(NamedTuple):
    """Scratch of one thread for a block of places: presences of each layer, without the strip along its boundary,
    and each wear; which layer hides all below it; where a rule is wanted, places that something must be asked about,
    and what a rule answers; one layer's numbers, all that lies there so far, how tall its relief is, and what it
    sends out; and lines and rows for what is asked of a layer."""

    here: NDArray[np.float32]
    own: NDArray[np.float32]
    worn: NDArray[np.float32]
    lowest: NDArray[np.int64]
    wanted: NDArray[np.bool_]
    asked: NDArray[np.int64]
    left: NDArray[np.int64]
    found: NDArray[np.float32]
    rule: NDArray[np.float64]
    ones: NDArray[np.float32]
    totals: NDArray[np.float32]
    tall: NDArray[np.float64]
    glows: NDArray[np.float32]
    glow: NDArray[np.float32]
    lines: NDArray[np.float64]
    sums: NDArray[np.float32]


def scratch_of(prepared: Prepared) -> Scratch:
    """Return scratch for asking a plan."""
    layers = len(prepared.plan.layers)
    wears, block = len(prepared.plan.worn.place), rules.BLOCK
    return Scratch(
        np.zeros((layers, block), np.float32),
        np.zeros((layers, block), np.float32),
        np.zeros((wears, block), np.float32),
        np.zeros(block, np.int64),
        np.empty(block, np.bool_),
        np.empty(block, np.int64),
        np.empty(block, np.int64),
        np.empty(block, np.float32),
        rules.scratch(prepared.depth),
        np.empty((block, CHANNELS), np.float32),
        np.empty((block, CHANNELS), np.float32),
        np.empty(block, np.float64),
        np.zeros((block, 3), np.float32),
        np.zeros(3, np.float32),
        np.empty((SCRATCH_LINES, block), np.float64),
        np.empty((4, CHANNELS), np.float32),
    )


@inner
def materials_of(
    plan: Plan, memo: Memo, k: int, places: Places, start: int, count: int, taps: int, scratch: Scratch
) -> None:
    """Fill in layer ``k``'s numbers at those places of a block that are asked about."""
    fill_materials(
        plan,
        memo,
        k,
        places,
        start,
        scratch.asked,
        count,
        taps,
        scratch.ones,
        scratch.left,
        scratch.lines,
        scratch.sums,
    )


@inner
def mark_at(
    plan: Plan,
    memo: Memo,
    w: int,
    places: Places,
    i: int,
    taps: int,
    out: NDArray[np.float32],
    one: NDArray[np.float32],
    two: NDArray[np.float32],
) -> None:
    """Fill ``out`` with what wear ``w``'s overlay says at a place, from memory where it is there."""
    slot = memo.mark_slot[w]
    if slot >= 0 and not np.isnan(memo.marks[slot, i, sheet.VALUE]):
        for k in range(sheet.CHANNELS):
            out[k] = memo.marks[slot, i, k]
        return
    overlaid(plan.worn.overlays, w, places, i, taps, out, one, two)
    if slot >= 0:
        for k in range(sheet.CHANNELS):
            memo.marks[slot, i, k] = out[k]


@inner
def averaged(plan: Plan, places: Places, i: int, k: int) -> float:
    """Return how far a place shows the relief of layer ``k`` averaged, 0 not at all, 1 as one height."""
    across, lost = places.across_m[i], plan.worn.lost
    longer = math.sqrt(places.along_east_m[i] ** 2 + places.along_north_m[i] ** 2)
    texels = math.sqrt(across * (across + longer)) / plan.layers[k, p.TILE] * plan.sets[k, 1]
    fine, blend = level_of(min(max(texels, 1.0), _MOST_TEXELS))
    left = 1.0 - lost[k, fine] - (lost[k, fine + 1] - lost[k, fine]) * blend
    # a limit by height loses its detail sooner than the heights do
    return float(1.0 - left * left)


@inner
def let_through(
    plan: Plan, w: int, places: Places, i: int, shares: NDArray[np.float32], lowest: int, height: float, tall: float
) -> float:
    """Return how much relief lets wear ``w`` through at a place, 0..1.

    Where an area averages relief away, its mean height says nothing of how much of it is hollow: the more is lost,
    the more counts how much the relief of the layers there lets through on the whole. Near and Far agree by that.

    Parameters
    ----------
    plan, places, i
        What lies there.
    w : int
        Which wear of the plan.
    shares : ndarray, shape (layers,), float32
        Of the layers at that place.
    lowest : int
        The lowest of them.
    height, tall : float
        How far the relief rises there above its middle, and its height in all, metres.
    """
    numbers = plan.worn.overlays.numbers[w]
    if numbers[o.RELIEF_WAY] == EVERYWHERE:
        return 1.0
    lost, whole = 0.0, 0.0
    for k in range(lowest, plan.worn.place[w] + 1):
        if shares[k] > 0.0:
            part = shares[k] * averaged(plan, places, i, k)
            lost += part
            whole += part * plan.worn.let_in[w, k]
    return by_relief(numbers, height, tall) * (1.0 - lost) + whole


@inner
def _share_of_upper(layer: NDArray[np.float64], presence: float, height: float, below: float) -> float:
    """Return how much of a place a layer takes from those below it.

    By height, the odds of presence are tilted by the height difference over the edge's width:
    equal heights give the fade, a width towards 0 a hard choice of the higher.
    """
    if layer[p.BY_HEIGHT] == 0.0 or presence >= 1.0:
        return presence
    lead = (height - below) / max(layer[p.WIDTH], 1e-6)
    return presence / (presence + (1.0 - presence) * math.exp(min(max(-lead, -60.0), 60.0)))


@inner
def _lay_upon(
    plan: Plan, memo: Memo, places: Places, taps: int, out: Material, scratch: Scratch, k: int, i: int, j: int
) -> float:
    """Lay layer ``k``, whose material is known, on those below it at a place; return the share it takes."""
    lowest, total, one, spare = scratch.lowest[j], scratch.totals[j], scratch.ones[j], scratch.sums
    share = 1.0
    if k > lowest:
        if plan.strips[k, 1] > 0 and scratch.own[k, j] < scratch.here[k, j]:
            lay_strip(plan, k, places, i, taps, 1.0 - scratch.own[k, j] / scratch.here[k, j], one, spare[0])
        share = _share_of_upper(plan.layers[k], scratch.here[k, j], one[HEIGHT], total[HEIGHT])
        if share <= UNSEEN:
            return 0.0
        if plan.layers[k, p.FIT + MEETS] != LEVELLED:
            # it lies on what is below, or is cut into it: both have their relief
            for channel in range(HEIGHT, SLOPE_Y + 1):
                one[channel] += total[channel]
    else:
        for channel in range(CHANNELS):
            total[channel] = 0.0
    part = np.float32(share)
    mix_values(total.ctypes.data, CHANNELS, one.ctypes.data, part)
    if plan.glows.shape[0] > 0:
        kept_glow(plan, memo, k, places, i, taps, scratch.glow, spare)
        for c in range(3):
            below_it = scratch.glows[j, c] if k > lowest else np.float32(0.0)
            scratch.glows[j, c] = below_it + (scratch.glow[c] - below_it) * part
    for below in range(lowest, k):
        out.shares[i, below] *= 1.0 - share
    out.shares[i, k] = share
    return share


@inner
def _wear_on(
    plan: Plan,
    memo: Memo,
    places: Places,
    taps: int,
    out: Material,
    scratch: Scratch,
    w: int,
    i: int,
    j: int,
) -> None:
    """Let wear ``w`` do what it does to what lies under it at a place."""
    worn, here = plan.worn, scratch.worn[w, j]
    if here <= 0.0:
        return
    if worn.limited[w] > 0:
        cover = 0.0
        for k in range(scratch.lowest[j], worn.place[w] + 1):
            if worn.chosen[w, k] > 0:
                cover += out.shares[i, k]
        here *= cover
    total, mark = scratch.totals[j], scratch.sums[0]
    numbers = worn.overlays.numbers[w]
    here *= let_through(plan, w, places, i, out.shares[i], scratch.lowest[j], total[HEIGHT], scratch.tall[j])
    if here <= UNSEEN:
        return
    mark_at(plan, memo, w, places, i, taps, mark, scratch.sums[1], scratch.sums[2])
    wear_down(numbers, mark, here, total)
    if plan.glows.shape[0] > 0 and numbers[o.COLOUR_MODE] == REPLACE:
        # what lies over embers hides them
        for c in range(3):
            scratch.glows[j, c] *= 1.0 - numbers[o.COLOUR] * here * mark[sheet.VALUE]


@inner
def _lay(
    plan: Plan, memo: Memo, places: Places, taps: int, out: Material, scratch: Scratch, k: int, start: int, count: int
) -> None:
    """Lay layer ``k`` on those below it at a block of places, and the wear that lies on it."""
    wanted = 0
    for j in range(count):
        if k == scratch.lowest[j] or (k > scratch.lowest[j] and scratch.here[k, j] > UNSEEN):
            scratch.asked[wanted] = start + j
            wanted += 1
    if wanted > 0:
        materials_of(plan, memo, k, places, start, wanted, taps, scratch)
    for n in range(wanted):
        i = unsigned(scratch.asked[n])
        j = unsigned(i - start)
        share = _lay_upon(plan, memo, places, taps, out, scratch, k, i, j)
        scratch.tall[j] += (plan.layers[k, p.FIT + RELIEF] - scratch.tall[j]) * share
    for w in range(plan.worn.first[k], plan.worn.first[k + 1]):
        for j in range(count):
            if k >= scratch.lowest[j]:
                _wear_on(plan, memo, places, taps, out, scratch, w, start + j, j)


@inner
def pile_up(
    plan: Plan, memo: Memo, places: Places, taps: int, out: Material, scratch: Scratch, start: int, count: int
) -> None:
    """Lay all layers upon each other at a block of places, and write down what lies there then."""
    for j in range(count):
        scratch.tall[j] = 0.0
    for k in range(plan.layers.shape[0]):
        _lay(plan, memo, places, taps, out, scratch, k, start, count)
    for j in range(count):
        i, total = start + j, scratch.totals[j]
        out.colour[i, 0], out.colour[i, 1], out.colour[i, 2] = total[RED], total[GREEN], total[BLUE]
        out.slope[i, 0], out.slope[i, 1] = total[SLOPE_X], total[SLOPE_Y]
        out.roughness[i], out.metallic[i] = total[ROUGH], total[METALLIC]
        out.occlusion[i], out.relief_m[i] = total[OCCLUSION], total[HEIGHT]
    if plan.glows.shape[0] > 0:
        for j in range(count):
            for c in range(3):
                out.emission[start + j, c] = scratch.glows[j, c]
