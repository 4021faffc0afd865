"""The cover as a function: places in, material out.

Everything that shows or writes a site asks here, so the far view, the near view and the
written files cannot disagree.
"""

from __future__ import annotations

import math
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from elvatch.core.blend import REPLACE
from elvatch.core.cover import plan as p
from elvatch.core.cover.boundary import broken, lay_strip
from elvatch.core.cover.layer_material import kept_glow, kept_material
from elvatch.core.cover.material import Material
from elvatch.core.cover.memory import Memo, nothing_kept
from elvatch.core.cover.plan import Plan, Prepared
from elvatch.core.ground.places import Places
from elvatch.core.kernel import inner, kernel, mix_values
from elvatch.core.mapping.fit_row import LEVELLED, MEETS, RELIEF
from elvatch.core.parallel import Token, over_bands
from elvatch.core.rules import rules
from elvatch.core.rules.joints import Touching
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

TAPS = 6
"""Most lookups along a stretched area, at rest."""

_UNSEEN = 1e-4


class _Scratch(NamedTuple):
    """Scratch of one thread for a block of places: presences of each layer, without the strip along its boundary,
    and each wear; which layer hides all below it; where a rule is wanted, places that it must be asked about, and
    what it answers; of what is sent out the sum and one layer's."""

    here: NDArray[np.float32]
    own: NDArray[np.float32]
    worn: NDArray[np.float32]
    lowest: NDArray[np.int64]
    wanted: NDArray[np.bool_]
    asked: NDArray[np.int64]
    found: NDArray[np.float32]
    rule: NDArray[np.float64]
    sums: NDArray[np.float32]
    glow: NDArray[np.float32]


def _scratch(prepared: Prepared) -> _Scratch:
    layers = len(prepared.plan.layers)
    wears, block = len(prepared.plan.worn.place), rules.BLOCK
    return _Scratch(
        np.zeros((layers, block), np.float32),
        np.zeros((layers, block), np.float32),
        np.zeros((wears, block), np.float32),
        np.zeros(block, np.int64),
        np.empty(block, np.bool_),
        np.empty(block, np.int64),
        np.empty(block, np.float32),
        rules.scratch(prepared.depth),
        np.empty((6, CHANNELS), np.float32),
        np.zeros((2, 3), np.float32),
    )


@inner
def _let_in(
    plan: Plan,
    memo: Memo,
    span: NDArray[np.int64],
    slot: int,
    opacity: float,
    places: Places,
    start: int,
    count: int,
    scratch: _Scratch,
    line: NDArray[np.float32],
) -> None:
    """Fill in what one rule lets in at those places of a block where it is wanted, and nothing elsewhere."""
    asked = 0
    for j in range(count):
        if not scratch.wanted[j]:
            line[j] = 0.0
            continue
        known = memo.presence[slot, start + j] if slot >= 0 else np.float32(np.nan)
        if np.isnan(known):
            scratch.asked[asked] = start + j
            asked += 1
        line[j] = opacity * known
    if asked > 0:
        rules.survey_block(plan.tables, places, start, count, scratch.rule)
        rules.run(plan.tables, span[0], span[1], places, scratch.asked, asked, scratch.rule, scratch.found)
        for i in range(asked):
            line[scratch.asked[i] - start] = opacity * scratch.found[i]
            if slot >= 0:
                memo.presence[slot, scratch.asked[i]] = scratch.found[i]


@inner
def _wears(plan: Plan, memo: Memo, places: Places, start: int, count: int, scratch: _Scratch, removing: bool) -> None:
    """Fill in the presence of the wears that wear layers through, or of all others, at a block of places."""
    worn = plan.worn
    for w in range(worn.place.shape[0]):
        numbers = worn.overlays.numbers[w]
        if numbers[o.STRENGTH] <= 0.0 or (numbers[o.WORN] > 0.0) != removing:
            continue  # its line of the scratch is 0 from the start
        slot = memo.presence_slot[plan.layers.shape[0] + w]
        _want(plan, w, count, scratch, worn.limited[w] > 0 and not removing)
        _let_in(plan, memo, worn.spans[w], slot, numbers[o.STRENGTH], places, start, count, scratch, scratch.worn[w])


@inner
def _want(plan: Plan, w: int, count: int, scratch: _Scratch, limited: bool) -> None:
    """Say where wear ``w`` can be seen: where no layer above hides it, and a layer may lie that it is limited to."""
    worn = plan.worn
    for j in range(count):
        scratch.wanted[j] = scratch.lowest[j] <= worn.place[w] and not limited
    if not limited:
        return
    for k in range(worn.place[w] + 1):
        if worn.chosen[w, k] > 0:
            for j in range(count):
                lowest = scratch.lowest[j]
                if k == lowest or (k > lowest and scratch.here[k, j] > _UNSEEN):
                    scratch.wanted[j] = True


@inner
def _mark(
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
def _averaged(plan: Plan, places: Places, i: int, k: int) -> float:
    """Return how far a place shows the relief of layer ``k`` averaged, 0 not at all, 1 as one height."""
    across, lost = places.across_m[i], plan.worn.lost
    longer = math.sqrt(places.along_east_m[i] ** 2 + places.along_north_m[i] ** 2)
    texels = math.sqrt(across * (across + longer)) / plan.layers[k, p.TILE] * plan.sets[k, 1]
    level = min(math.log2(max(texels, 1.0)), MOST_LEVELS - 1.001)
    fine = int(level)
    left = 1.0 - lost[k, fine] - (lost[k, fine + 1] - lost[k, fine]) * (level - fine)
    # a limit by height loses its detail sooner than the heights do
    averaged: float = 1.0 - left * left
    return averaged


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
            part = shares[k] * _averaged(plan, places, i, k)
            lost += part
            whole += part * plan.worn.let_in[w, k]
    return by_relief(numbers, height, tall) * (1.0 - lost) + whole


@inner
def _wear_through(
    plan: Plan, memo: Memo, k: int, places: Places, start: int, count: int, taps: int, scratch: _Scratch
) -> None:
    """Take away of layer ``k`` what is worn through at a block of places."""
    mark, one, two = scratch.sums[0], scratch.sums[1], scratch.sums[2:]
    for w in range(plan.worn.place.shape[0]):
        if plan.worn.removes[w, k] == 0:
            continue
        numbers = plan.worn.overlays.numbers[w]
        for j in range(count):
            here = scratch.worn[w, j]
            if here <= _UNSEEN or scratch.here[k, j] <= _UNSEEN:
                continue
            _mark(plan, memo, w, places, start + j, taps, mark, one, two[0])
            taken = here * mark[sheet.VALUE] * numbers[o.WORN]
            if taken > 0.0 and numbers[o.RELIEF_WAY] > 0.0:
                kept_material(plan, memo, k, places, start + j, taps, one, two)
                through = by_relief(numbers, one[HEIGHT], plan.layers[k, p.FIT + RELIEF])
                taken *= through + (plan.worn.let_in[w, k] - through) * _averaged(plan, places, start + j, k)
            scratch.here[k, j] *= 1.0 - taken


@inner
def _presences(plan: Plan, memo: Memo, places: Places, start: int, count: int, taps: int, scratch: _Scratch) -> None:
    """Fill in each layer's and wear's presence at a block of places, and the highest layer that hides all below."""
    for j in range(count):
        scratch.lowest[j] = 0
    _wears(plan, memo, places, start, count, scratch, True)
    for k in range(plan.layers.shape[0] - 1, 0, -1):
        opacity = plan.layers[k, p.OPACITY]
        if opacity <= 0.0:
            continue  # its line of the scratch is 0 from the start
        for j in range(count):
            scratch.wanted[j] = scratch.lowest[j] < 1
        _let_in(
            plan, memo, plan.spans[k], memo.presence_slot[k], opacity, places, start, count, scratch, scratch.here[k]
        )
        if plan.layers[k, p.FINGERS] > 0.0 or plan.layers[k, p.STRIP] > 0.0:
            for j in range(count):
                here = scratch.here[k, j]
                if 0.0 < here < 1.0:
                    scratch.here[k, j], scratch.own[k, j] = broken(plan.layers[k], places, start + j, here)
                else:
                    scratch.own[k, j] = here
        if plan.layers[k, p.WORN_THROUGH] > 0.0:
            _wear_through(plan, memo, k, places, start, count, taps, scratch)
        if plan.layers[k, p.FIT + MEETS] != LEVELLED:
            continue  # what lies below is covered, but bears it
        for j in range(count):
            if scratch.here[k, j] >= 1.0 and scratch.lowest[j] == 0:
                scratch.lowest[j] = k
    _wears(plan, memo, places, start, count, scratch, False)


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
    plan: Plan, memo: Memo, places: Places, taps: int, out: Material, scratch: _Scratch, k: int, i: int, j: int
) -> float:
    """Lay layer ``k`` on those below it at a place; return the share it takes."""
    lowest = scratch.lowest[j]
    if k > lowest and scratch.here[k, j] <= _UNSEEN:
        return 0.0
    total, one, spare = scratch.sums[0], scratch.sums[1], scratch.sums[2:]
    kept_material(plan, memo, k, places, i, taps, one, spare)
    share = 1.0
    if k > lowest:
        if plan.strips[k, 1] > 0 and scratch.own[k, j] < scratch.here[k, j]:
            lay_strip(plan, k, places, i, taps, 1.0 - scratch.own[k, j] / scratch.here[k, j], one, spare[0])
        share = _share_of_upper(plan.layers[k], scratch.here[k, j], one[HEIGHT], total[HEIGHT])
        if share <= _UNSEEN:
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
        kept_glow(plan, memo, k, places, i, taps, scratch.glow[1], spare)
        for c in range(3):
            below_it = scratch.glow[0, c] if k > lowest else np.float32(0.0)
            scratch.glow[0, c] = below_it + (scratch.glow[1, c] - below_it) * part
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
    scratch: _Scratch,
    w: int,
    tall: float,
    i: int,
    j: int,
) -> None:
    """Let wear ``w`` do what it does to what lies under it at a place; ``tall`` is the height of the relief there."""
    worn, here = plan.worn, scratch.worn[w, j]
    if here <= 0.0:
        return
    if worn.limited[w] > 0:
        cover = 0.0
        for k in range(scratch.lowest[j], worn.place[w] + 1):
            if worn.chosen[w, k] > 0:
                cover += out.shares[i, k]
        here *= cover
    total, mark = scratch.sums[0], scratch.sums[1]
    numbers = worn.overlays.numbers[w]
    here *= let_through(plan, w, places, i, out.shares[i], scratch.lowest[j], total[HEIGHT], tall)
    if here <= _UNSEEN:
        return
    _mark(plan, memo, w, places, i, taps, mark, scratch.sums[2], scratch.sums[3])
    wear_down(numbers, mark, here, total)
    if plan.glows.shape[0] > 0 and numbers[o.COLOUR_MODE] == REPLACE:
        # what lies over embers hides them
        for c in range(3):
            scratch.glow[0, c] *= 1.0 - numbers[o.COLOUR] * here * mark[sheet.VALUE]


@inner
def _pile_up(
    plan: Plan, memo: Memo, places: Places, taps: int, out: Material, scratch: _Scratch, i: int, j: int
) -> None:
    """Lay the layers that are present at place ``i``, ``j`` of its block, upon each other, from the bottom up, and
    the wear over them."""
    count, lowest, tall = plan.layers.shape[0], scratch.lowest[j], 0.0
    total = scratch.sums[0]
    for k in range(lowest, count):
        share = _lay_upon(plan, memo, places, taps, out, scratch, k, i, j)
        tall += (plan.layers[k, p.FIT + RELIEF] - tall) * share
        for w in range(plan.worn.first[k], plan.worn.first[k + 1]):
            _wear_on(plan, memo, places, taps, out, scratch, w, tall, i, j)
    out.colour[i, 0], out.colour[i, 1], out.colour[i, 2] = total[RED], total[GREEN], total[BLUE]
    out.slope[i, 0], out.slope[i, 1] = total[SLOPE_X], total[SLOPE_Y]
    out.roughness[i], out.metallic[i] = total[ROUGH], total[METALLIC]
    out.occlusion[i], out.relief_m[i] = total[OCCLUSION], total[HEIGHT]
    if plan.glows.shape[0] > 0:
        for c in range(3):
            out.emission[i, c] = scratch.glow[0, c]


@kernel
def _ask_band(
    plan: Plan, memo: Memo, places: Places, taps: int, out: Material, scratch: _Scratch, a: int, b: int
) -> None:
    for start in range(a, b, rules.BLOCK):
        count = min(rules.BLOCK, b - start)
        _presences(plan, memo, places, start, count, taps, scratch)
        for j in range(count):
            _pile_up(plan, memo, places, taps, out, scratch, start + j, j)


@kernel
def _bare_band(places: Places, out: Material, a: int, b: int) -> None:
    """A ground without layers is plain grey, so that its shape can be looked at."""
    for i in range(a, b):
        out.colour[i, :] = 0.22
        out.slope[i, :] = 0.0
        out.roughness[i], out.metallic[i], out.occlusion[i], out.relief_m[i] = 0.8, 0.0, 1.0, 0.0


def ask(
    prepared: Prepared, places: Places, token: Token | None = None, taps: int = TAPS, memo: Memo | None = None
) -> Material:
    """Return the material at places on the ground.

    Parameters
    ----------
    prepared : Prepared
        The layers, from :func:`elvatch.core.cover.plan.prepare`.
    places : Places
        Where, and for how large an area.
    token : Token, optional
        Asked between bands.
    taps : int
        Most lookups along an area that is longer than wide.
    memo : Memo, optional
        What was found before at these places; what is found now is added.

    Returns
    -------
    Material
        One row a place.

    Raises
    ------
    CancelledError
        When the token was cancelled.
    """
    return joined(prepared, places, unjoined(prepared, places, token, taps, memo), token, taps)


def unjoined(
    prepared: Prepared, places: Places, token: Token | None = None, taps: int = TAPS, memo: Memo | None = None
) -> Material:
    """Return the material at places as if nothing were set on the ground; see :func:`ask`."""
    n, layers = len(places.x_m), len(prepared.plan.layers)
    out = Material(
        colour=np.empty((n, 3), np.float32),
        slope=np.empty((n, 2), np.float32),
        roughness=np.empty(n, np.float32),
        metallic=np.empty(n, np.float32),
        occlusion=np.empty(n, np.float32),
        relief_m=np.empty(n, np.float32),
        shares=np.zeros((n, layers), np.float32),
        emission=np.empty((n if len(prepared.plan.glows) else 0, 3), np.float32),
    )
    if layers:
        kept = memo or nothing_kept(layers, len(prepared.plan.worn.place))

        def ask_band(a: int, b: int) -> None:
            _ask_band(prepared.plan, kept, places, taps, out, _scratch(prepared), a, b)

        over_bands(n, ask_band, token, least=2048)
    else:
        over_bands(n, lambda a, b: _bare_band(places, out, a, b), token, least=2048)
    return out


def joined(
    prepared: Prepared, places: Places, found: Material, token: Token | None = None, taps: int = TAPS
) -> Material:
    """Return what was found at places with what they take on of the things set beside them."""
    beside = touching(prepared, places, found, token)
    if prepared.joints is None or not beside:
        return found
    return found.with_joints(prepared.joints.joined(beside, taps, token))


def touching(prepared: Prepared, places: Places, found: Material, token: Token | None = None) -> tuple[Touching, ...]:
    """Return which places lie beside things set on the ground, where such was found."""
    if prepared.joints is None:
        return ()

    def relief_at(at: Places) -> NDArray[np.float32]:
        return borne(prepared, at, token)

    return prepared.joints.touching(places, found.relief_m, relief_at, token)


def borne(prepared: Prepared, at: Places, token: Token | None = None) -> NDArray[np.float32]:
    """Return the relief that things stand on, metres along the ground's normal: what joins the ground to them is not
    part of it."""
    return unjoined(prepared, at, token, 1).relief_m
