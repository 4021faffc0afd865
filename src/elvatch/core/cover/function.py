"""The cover as a function: places in, material out.

Everything that shows or writes a site asks here, so the far view, the near view and the
written files cannot disagree.
"""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from elvatch.core.cover import plan as p
from elvatch.core.cover.boundary import broken
from elvatch.core.cover.layering import UNSEEN, Scratch, averaged, mark_at, materials_of, pile_up, scratch_of
from elvatch.core.cover.material import Material
from elvatch.core.cover.memory import Memo, nothing_kept
from elvatch.core.cover.plan import Plan, Prepared
from elvatch.core.ground.places import Places
from elvatch.core.kernel import inner, kernel, unsigned
from elvatch.core.mapping.fit_row import LEVELLED, MEETS, RELIEF
from elvatch.core.parallel import Token, over_bands
from elvatch.core.rules import rules
from elvatch.core.rules.joints import Touching
from elvatch.core.stock import sheet
from elvatch.core.stock.pyramid import HEIGHT
from elvatch.core.wear import overlaid as o
from elvatch.core.wear.worn import by_relief

TAPS = 6
"""Most lookups along a stretched area, at rest."""


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
    scratch: Scratch,
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
def _wears(plan: Plan, memo: Memo, places: Places, start: int, count: int, scratch: Scratch, removing: bool) -> None:
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
def _want(plan: Plan, w: int, count: int, scratch: Scratch, limited: bool) -> None:
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
                if k == lowest or (k > lowest and scratch.here[k, j] > UNSEEN):
                    scratch.wanted[j] = True


@inner
def _wear_through(
    plan: Plan, memo: Memo, k: int, places: Places, start: int, count: int, taps: int, scratch: Scratch
) -> None:
    """Take away of layer ``k`` what is worn through at a block of places."""
    mark, one, two = scratch.sums[0], scratch.sums[1], scratch.sums[2]
    for w in range(plan.worn.place.shape[0]):
        if plan.worn.removes[w, k] == 0:
            continue
        numbers = plan.worn.overlays.numbers[w]
        by_height, wanted = numbers[o.RELIEF_WAY] > 0.0, 0
        for j in range(count):
            if scratch.worn[w, j] > UNSEEN and scratch.here[k, j] > UNSEEN:
                scratch.asked[wanted] = start + j
                wanted += 1
        if by_height and wanted > 0:
            materials_of(plan, memo, k, places, start, wanted, taps, scratch)
        for n in range(wanted):
            i = unsigned(scratch.asked[n])
            j = unsigned(i - start)
            mark_at(plan, memo, w, places, i, taps, mark, one, two)
            taken = scratch.worn[w, j] * mark[sheet.VALUE] * numbers[o.WORN]
            if taken > 0.0 and by_height:
                through = by_relief(numbers, scratch.ones[j, HEIGHT], plan.layers[k, p.FIT + RELIEF])
                taken *= through + (plan.worn.let_in[w, k] - through) * averaged(plan, places, i, k)
            scratch.here[k, j] *= 1.0 - taken


@inner
def _presences(plan: Plan, memo: Memo, places: Places, start: int, count: int, taps: int, scratch: Scratch) -> None:
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


@kernel
def _ask_band(
    plan: Plan, memo: Memo, places: Places, taps: int, out: Material, scratch: Scratch, a: int, b: int
) -> None:
    for start in range(a, b, rules.BLOCK):
        count = min(rules.BLOCK, b - start)
        _presences(plan, memo, places, start, count, taps, scratch)
        pile_up(plan, memo, places, taps, out, scratch, start, count)


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
            _ask_band(prepared.plan, kept, places, taps, out, scratch_of(prepared), a, b)

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
