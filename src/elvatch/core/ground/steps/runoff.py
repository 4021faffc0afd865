"""Runoff: rain on a grid of cells joined by pipes (Mei, Decaudin & Hu 2007), and the ground it moves.

Water and what it carries cross the faces between cells, so that neither is made nor lost: what
is worn is somewhere dropped, still carried at the end (and dropped there), or left over the
border, which is counted. Every cell reads the state of the round before and writes the next one,
so the result does not depend on how rows are shared among threads.
"""

from __future__ import annotations

import functools
import math
from typing import Annotated, Literal, NamedTuple

import numpy as np
import numpy.typing as npt
from pydantic import Field

from elvatch.core.ground.rounds import AT_ONCE, Piece, fronts, halves, play
from elvatch.core.ground.shaped import Map, Shaped
from elvatch.core.ground.step import StepBase
from elvatch.core.kernel import inner, kernel
from elvatch.core.noise import hash_cell
from elvatch.core.parts import Share
from elvatch.core.run import Run
from elvatch.core.shown import Shown, share


class RunoffStep(StepBase):
    """Rain that runs off, takes ground along and drops it again."""

    title = "Runoff"
    about = "rain that runs off, wears the ground and drops what it took"
    order = 30
    cost = 0.06

    kind: Literal["runoff"] = "runoff"
    rounds: Annotated[int, Shown("Rounds", "", 1, 2_000, 10, hint="How long it rains")] = Field(
        default=220, ge=1, le=5_000
    )
    rain: Annotated[Share, share("Rain", "How hard it rains")] = Field(default=0.5, description="How hard it rains")
    carry: Annotated[Share, share("Carry", "How much the water can carry")] = Field(
        default=0.5, description="How much the water can carry"
    )
    softness: Annotated[Share, share("Softness", "How readily the ground comes loose")] = Field(
        default=0.5, description="How readily the ground comes loose"
    )

    def apply(self, shaped: Shaped, run: Run) -> Shaped:
        """Return a ground with this step done to all of it."""
        return apply(shaped, self, run)


FAN = 0.04
"""Steepness to which what the water drops may pile up."""

Sums = npt.NDArray[np.float64]


class Constants(NamedTuple):
    """The scheme's numbers: depths in metres, everything per round.

    ``pipe`` share of a difference in level that a pipe starts to carry; ``keep`` share of its
    flow that it keeps; ``rain`` depth; ``dry`` share of the water that dries up; ``carry`` metres
    of ground carried for a metre of water moved on a slope of 1; ``loosen`` and ``drop`` shares
    of what is missing or too much; ``per_x, per_y`` cells a metre.
    """

    pipe: float
    keep: float
    rain: float
    dry: float
    carry: float
    loosen: float
    drop: float
    per_x: float
    per_y: float


class State(NamedTuple):
    """Ground, its change, water depth, ground carried (all metres) and what leaves to each side."""

    ground: Map
    change: Map
    water: Map
    carried: Map
    east: Map
    west: Map
    north: Map
    south: Map


class Rain(NamedTuple):
    """Ground that rain begins on, the states before and after a round by turns, the scheme's numbers, what gathers.

    Maps have a rim of one cell that goes on as the ground ends, and is dry. The states share what leaves each cell,
    which every round rewrites from what it finds there. ``passed`` gathers the depth moved (metres), ``over`` what
    each row carried over the border (metres of a cell, float64).
    """

    base: Map
    states: tuple[State, State]
    numbers: Constants
    passed: Map
    over: Sums


def begun(base: Map, numbers: Constants) -> Rain:
    """Return rain that has not fallen yet."""
    dry = [np.zeros_like(base) for _ in range(10)]
    states = State(base.copy(), *dry[:7]), State(base.copy(), *dry[7:], *dry[3:7])
    return Rain(base, states, numbers, np.zeros_like(base), np.zeros(len(base)))


def constants(step: RunoffStep, cell_x_m: float, cell_y_m: float) -> Constants:
    """Return the numbers that a step's shares stand for on a grid."""
    cell = math.sqrt(cell_x_m * cell_y_m)
    return Constants(
        pipe=0.14,
        keep=0.82,
        rain=0.003 * cell * (0.15 + 1.7 * step.rain),
        dry=0.006,
        carry=0.1 + 1.6 * step.carry**2,
        loosen=0.05 + 0.6 * step.softness**2,
        drop=0.10,
        per_x=1.0 / cell_x_m,
        per_y=1.0 / cell_y_m,
    )


@inner
def _flow(state: State, c: Constants, row: int, over: Sums) -> None:
    """Set what leaves each cell of a row to its four sides, never more than there is.

    Turns ``carried`` from metres of ground into metres per metre of water on the way.
    """
    cols = state.ground.shape[1]
    zero, one, tiny = np.float32(0.0), np.float32(1.0), np.float32(1e-12)
    pipe, keep = np.float32(c.pipe), np.float32(c.keep)
    ground, above, below = state.ground[row], state.ground[row - 1], state.ground[row + 1]
    water, water_above, water_below = state.water[row], state.water[row - 1], state.water[row + 1]
    east, west, north, south = state.east[row], state.west[row], state.north[row], state.south[row]
    carried = state.carried[row]
    for col in range(1, cols - 1):
        depth = water[col]
        carried[col] /= max(depth, tiny)
        level = ground[col] + depth
        to_east = level - (ground[col + 1] + water[col + 1])
        to_west = level - (ground[col - 1] + water[col - 1])
        to_north = level - (above[col] + water_above[col])
        to_south = level - (below[col] + water_below[col])
        to_east = max(zero, keep * east[col] + pipe * to_east)
        to_west = max(zero, keep * west[col] + pipe * to_west)
        to_north = max(zero, keep * north[col] + pipe * to_north)
        to_south = max(zero, keep * south[col] + pipe * to_south)
        share = min(one, depth / max(to_east + to_west + to_north + to_south, tiny))
        east[col], west[col] = to_east * share, to_west * share
        north[col], south[col] = to_north * share, to_south * share
    over[row] += float(west[1]) * carried[1] + float(east[cols - 2]) * carried[cols - 2]
    if row == 1:
        over[row] += _sum_of_products(north, carried)
    if row == state.ground.shape[0] - 2:
        over[row] += _sum_of_products(south, carried)


@inner
def _sum_of_products(flux: Map, load: Map) -> float:
    total = 0.0
    for k in range(len(flux)):
        total += float(flux[k]) * load[k]
    return total


@inner
def _move(rain_on: Rain, state: State, after: State, number: int, row: int) -> None:
    """Move a row's water and what it carries by what leaves each cell, then wear and drop.

    Before it, :func:`_flow` must have gone over the row and both beside it.
    """
    c, cols = rain_on.numbers, rain_on.base.shape[1]
    zero, one = np.float32(0.0), np.float32(1.0)
    rain, wet = np.float32(c.rain), np.float32(1.0 - c.dry)
    carry, loosen, drop = np.float32(c.carry), np.float32(c.loosen), np.float32(c.drop)
    fan = np.float32(FAN / c.per_x)
    half_x, half_y = np.float32(0.5 * c.per_x), np.float32(0.5 * c.per_y)
    ground, above, below = state.ground[row], state.ground[row - 1], state.ground[row + 1]
    load_of, load_above, load_below = state.carried[row], state.carried[row - 1], state.carried[row + 1]
    east, west, north, south = state.east[row], state.west[row], state.north[row], state.south[row]
    from_north, from_south = state.south[row - 1], state.north[row + 1]
    # rows by themselves: stored by row and column, each store asks whether a row is below 0 (a third slower)
    to_water, to_carried, to_change = after.water[row], after.carried[row], after.change[row]
    to_ground, passed = after.ground[row], rain_on.passed[row]
    water, change, began = state.water[row], state.change[row], rain_on.base[row]
    for col in range(1, cols - 1):
        away = east[col] + west[col] + north[col] + south[col]
        come = east[col - 1] + west[col + 1] + from_north[col] + from_south[col]
        load = (
            load_of[col] * (water[col] - away)
            + load_of[col - 1] * east[col - 1]
            + load_of[col + 1] * west[col + 1]
            + load_above[col] * from_north[col]
            + load_below[col] * from_south[col]
        )
        chance = np.float32(hash_cell(col, row, number) & 0xFFFF) * np.float32(1.0 / 65536.0)
        to_water[col] = (water[col] - away + come) * wet + rain * (np.float32(0.4) + np.float32(1.2) * chance)
        moved = np.float32(0.5) * (away + come)
        passed[col] += moved
        here, e, w, n, s = ground[col], ground[col + 1], ground[col - 1], above[col], below[col]
        rise_x, rise_y = (e - w) * half_x, (n - s) * half_y
        steep2 = rise_x * rise_x + rise_y * rise_y
        most = carry * moved * np.sqrt(steep2 / (one + steep2))
        # a cell is neither dug out below its neighbours nor piled up above them but for a gentle fan
        room = max(zero, here - min(e, w, n, s)) * np.float32(0.3)
        gap = max(zero, max(e, w, n, s) - here + fan) * np.float32(0.3)
        lack = most - load
        turn = min(loosen * max(lack, zero), room) - min(drop * max(-lack, zero), gap)
        to_carried[col] = load + turn
        # the change by itself: added to the ground each round, little would be lost in much
        now = change[col] - turn
        to_change[col] = now
        to_ground[col] = began[col] + now
    _close(after.ground, row)


@inner
def _close(ground: Map, row: int) -> None:
    """Let the rim beside a row go on as the row ends."""
    rows, cols = ground.shape
    ground[row, 0], ground[row, cols - 1] = ground[row, 1], ground[row, cols - 2]
    for rim, beside in ((0, 1), (rows - 1, rows - 2)):
        if row == beside:
            for col in range(cols):
                ground[rim, col] = ground[row, col]


@kernel
def _rounds(rain_on: Rain, first: int, count: int, piece: Piece) -> None:
    """Play some rounds on a piece."""
    for front in range(piece.top, fronts(piece, count)):
        for k in range(count):
            row, flows, moves = halves(piece, front, k)
            # counted with the rim
            if flows:
                _flow(rain_on.states[k % 2], rain_on.numbers, row + 1, rain_on.over)
            if moves:
                _move(rain_on, rain_on.states[k % 2], rain_on.states[1 - k % 2], first + k, row)


def apply(shaped: Shaped, step: RunoffStep, run: Run) -> Shaped:
    """Let it rain for a number of rounds; keep what was worn, dropped and how much water passed."""
    shaped_to, _ = rained_on(shaped, step, run)
    return shaped_to


def rained_on(shaped: Shaped, step: RunoffStep, run: Run) -> tuple[Shaped, float]:
    """Return a ground after the rain, and the volume of ground that left over the border, m³."""
    ground = shaped.ground
    base = np.pad(ground.heights_m - np.float32(ground.lowest_m), 1, mode="edge")
    c = constants(step, ground.cell_x_m, ground.cell_y_m)
    rain_on = begun(base, c)
    # water crosses a coarser grid in fewer rounds
    rounds = max(1, round(step.rounds * run.coarse))
    for number in range(0, rounds, AT_ONCE):
        run.at(number / rounds)
        some = functools.partial(_rounds, rain_on, 7919 + number, min(AT_ONCE, rounds - number))
        play(ground.rows, some, run.token)
    ended = rain_on.states[rounds % 2]
    inside = (slice(1, -1), slice(1, -1))
    change = (ended.change + ended.carried)[inside]
    cell = ground.cell_x_m * ground.cell_y_m
    area = rain_on.passed[inside] * np.float32(cell / (rounds * c.rain))
    worn, dropped = np.maximum(-change, 0), np.maximum(change, 0)
    left_m3 = float(rain_on.over.sum()) * cell
    return shaped.with_more(ground.heights_m + change, worn, dropped, area), left_m3
