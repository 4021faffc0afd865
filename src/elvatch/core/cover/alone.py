"""A wear looked at alone: what its overlay says on the ground, and where it is let in."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from elvatch.core.cover import function
from elvatch.core.cover import plan as p
from elvatch.core.cover.layering import let_through
from elvatch.core.cover.material import Material
from elvatch.core.cover.plan import Plan, Prepared
from elvatch.core.ground.places import Places
from elvatch.core.kernel import kernel
from elvatch.core.mapping.fit_row import RELIEF
from elvatch.core.parallel import Token, over_bands
from elvatch.core.rules import rules
from elvatch.core.rules.program import Programs
from elvatch.core.stock import sheet
from elvatch.core.wear.overlaid import FOLLOWS, ON_PATH, STRENGTH, Overlays, beside_path, overlaid


@kernel
def _overlay_band(
    over: Overlays,
    w: int,
    places: Places,
    taps: int,
    scratch: NDArray[np.float32],
    out: NDArray[np.float32],
    a: int,
    b: int,
) -> None:
    for i in range(a, b):
        overlaid(over, w, places, i, taps, scratch[0], scratch[1], scratch[2])
        out[i] = scratch[0, sheet.VALUE]


def overlay(
    prepared: Prepared, w: int, places: Places, token: Token | None = None, taps: int = function.TAPS
) -> NDArray[np.float32]:
    """Return what the overlay of wear ``w`` of the plan says at places, shape (n,), 0..1."""
    out = np.empty(len(places.x_m), np.float32)
    over = prepared.plan.worn.overlays

    def band(a: int, b: int) -> None:
        _overlay_band(over, w, places, taps, np.empty((3, sheet.CHANNELS), np.float32), out, a, b)

    over_bands(len(out), band, token, least=2048)
    return out


@kernel
def _by_relief_band(
    plan: Plan,
    w: int,
    places: Places,
    shares: NDArray[np.float32],
    height_m: NDArray[np.float32],
    tall_m: NDArray[np.float32],
    out: NDArray[np.float32],
    a: int,
    b: int,
) -> None:
    for i in range(a, b):
        out[i] *= let_through(plan, w, places, i, shares[i], 0, height_m[i], tall_m[i])


@kernel
def _beside_band(over: Overlays, w: int, places: Places, out: NDArray[np.float32], a: int, b: int) -> None:
    for i in range(a, b):
        if not beside_path(over, w, places, i):
            out[i] = 0.0


def mask(
    prepared: Prepared, w: int, places: Places, material: Material, token: Token | None = None
) -> NDArray[np.float32]:
    """Return how far wear ``w`` of the plan is let in at places, shape (n,), 0..1: rule, relief, layers, strength.

    Parameters
    ----------
    prepared : Prepared
        The plan.
    w : int
        Which of its wears.
    places : Places
        Where.
    material : Material
        What lies there.
    token : Token, optional
        Asked between bands.
    """
    plan = prepared.plan
    first, last = plan.worn.spans[w].tolist()
    programs = Programs(plan.tables, [(first, last)], prepared.depth, prepared.addresses)
    out = rules.presences(programs, 0, places, token)
    numbers = plan.worn.overlays.numbers[w]
    if numbers[FOLLOWS] == ON_PATH:
        over = plan.worn.overlays
        over_bands(len(out), lambda a, b: _beside_band(over, w, places, out, a, b), token, least=2048)
    tall = (material.shares @ plan.layers[:, p.FIT + RELIEF]).astype(np.float32)
    shares, height = material.shares, material.relief_m
    over_bands(
        len(out), lambda a, b: _by_relief_band(plan, w, places, shares, height, tall, out, a, b), token, least=2048
    )
    cover = material.shares @ plan.worn.chosen[w].astype(np.float32)
    result: NDArray[np.float32] = (out * cover * numbers[STRENGTH]).astype(np.float32)
    return result
