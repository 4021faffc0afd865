"""Runoff: rain on a grid of cells joined by pipes (Mei, Decaudin & Hu 2007), and the ground it moves.

Water and what it carries cross the faces between cells, so that neither is made nor lost: what
is worn is somewhere dropped, still carried at the end (and dropped there), or left over the
border, which is counted. Every cell reads the state of the round before and writes the next one,
so the result does not depend on how rows are shared among threads.
"""

from __future__ import annotations

import math
from typing import Annotated, Literal, NamedTuple

import numpy as np
from pydantic import Field

from elvatch.core.ground.shaped import Map, Shaped
from elvatch.core.ground.step import StepBase
from elvatch.core.kernel import kernel
from elvatch.core.noise import hash_cell
from elvatch.core.parallel import over_bands, rows_worth_it
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
    """Water depth, ground carried, change of the ground (metres) and what leaves to each side."""

    water: Map
    carried: Map
    change: Map
    east: Map
    west: Map
    north: Map
    south: Map


def still(shape: tuple[int, int]) -> State:
    """Return a dry state."""
    return State(*(np.zeros(shape, np.float32) for _ in range(7)))


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


@kernel
def flow_rows(ground: Map, state: State, c: Constants, a: int, b: int) -> None:
    """Set what leaves each cell to its four sides, never more than there is.

    Turns ``carried`` from metres of ground into metres per metre of water on the way. All maps have
    a rim of one cell: the border's ground again, dry.
    """
    cols = ground.shape[1]
    zero, one, tiny = np.float32(0.0), np.float32(1.0), np.float32(1e-12)
    pipe, keep = np.float32(c.pipe), np.float32(c.keep)
    for row in range(a + 1, b + 1):
        base, above, below = ground[row], ground[row - 1], ground[row + 1]
        change, change_above, change_below = state.change[row], state.change[row - 1], state.change[row + 1]
        water, water_above, water_below = state.water[row], state.water[row - 1], state.water[row + 1]
        east, west, north, south = state.east[row], state.west[row], state.north[row], state.south[row]
        carried = state.carried[row]
        for col in range(1, cols - 1):
            depth = water[col]
            carried[col] /= max(depth, tiny)
            level = base[col] + change[col] + depth
            to_east = level - (base[col + 1] + change[col + 1] + water[col + 1])
            to_west = level - (base[col - 1] + change[col - 1] + water[col - 1])
            to_north = level - (above[col] + change_above[col] + water_above[col])
            to_south = level - (below[col] + change_below[col] + water_below[col])
            to_east = max(zero, keep * east[col] + pipe * to_east)
            to_west = max(zero, keep * west[col] + pipe * to_west)
            to_north = max(zero, keep * north[col] + pipe * to_north)
            to_south = max(zero, keep * south[col] + pipe * to_south)
            share = min(one, depth / max(to_east + to_west + to_north + to_south, tiny))
            east[col], west[col] = to_east * share, to_west * share
            north[col], south[col] = to_north * share, to_south * share


@kernel
def move_rows(ground: Map, state: State, after: State, c: Constants, number: int, flow: Map, a: int, b: int) -> None:
    """Move water and what it carries by what leaves each cell, then wear and drop.

    ``flow`` gathers the depth moved. Before it, ``carried`` must hold metres of ground per metre
    of water, as :func:`flow_rows` leaves it.
    """
    cols = ground.shape[1]
    zero, one = np.float32(0.0), np.float32(1.0)
    rain, wet = np.float32(c.rain), np.float32(1.0 - c.dry)
    carry, loosen, drop = np.float32(c.carry), np.float32(c.loosen), np.float32(c.drop)
    fan = np.float32(FAN / c.per_x)
    half_x, half_y = np.float32(0.5 * c.per_x), np.float32(0.5 * c.per_y)
    for row in range(a + 1, b + 1):
        base, above, below = ground[row], ground[row - 1], ground[row + 1]
        change, change_above, change_below = state.change[row], state.change[row - 1], state.change[row + 1]
        load_of, load_above, load_below = state.carried[row], state.carried[row - 1], state.carried[row + 1]
        east, west, north, south = state.east[row], state.west[row], state.north[row], state.south[row]
        from_north, from_south = state.south[row - 1], state.north[row + 1]
        water = state.water[row]
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
            after.water[row, col] = (water[col] - away + come) * wet + rain * (
                np.float32(0.4) + np.float32(1.2) * chance
            )
            moved = np.float32(0.5) * (away + come)
            flow[row, col] += moved
            here = base[col] + change[col]
            e, w = base[col + 1] + change[col + 1], base[col - 1] + change[col - 1]
            n, s = above[col] + change_above[col], below[col] + change_below[col]
            rise_x, rise_y = (e - w) * half_x, (n - s) * half_y
            steep2 = rise_x * rise_x + rise_y * rise_y
            most = carry * moved * np.sqrt(steep2 / (one + steep2))
            # a cell is neither dug out below its neighbours nor piled up above them but for a gentle fan
            room = max(zero, here - min(e, w, n, s)) * np.float32(0.3)
            gap = max(zero, max(e, w, n, s) - here + fan) * np.float32(0.3)
            lack = most - load
            turn = min(loosen * max(lack, zero), room) - min(drop * max(-lack, zero), gap)
            after.change[row, col] = change[col] - turn
            after.carried[row, col] = load + turn


def play_round(ground: Map, state: State, after: State, c: Constants, number: int, flow: Map) -> float:
    """Play one round from ``state`` to ``after``; return the ground that left over the border, metres of cells."""
    rows, least = len(ground) - 2, rows_worth_it(ground.shape[1])
    over_bands(rows, lambda a, b: flow_rows(ground, state, c, a, b), least=least)
    over_bands(rows, lambda a, b: move_rows(ground, state, after, c, number, flow, a, b), least=least)
    change = after.change
    change[0], change[-1] = change[1], change[-2]
    change[:, 0], change[:, -1] = change[:, 1], change[:, -2]
    edges = (
        (state.north[1], state.carried[1]),
        (state.south[-2], state.carried[-2]),
        (state.west[:, 1], state.carried[:, 1]),
        (state.east[:, -2], state.carried[:, -2]),
    )
    return sum(float(np.dot(flux.astype(np.float64), load)) for flux, load in edges)


def apply(shaped: Shaped, step: RunoffStep, run: Run) -> Shaped:
    """Let it rain for a number of rounds; keep what was worn, dropped and how much water passed."""
    shaped_to, _ = rained_on(shaped, step, run)
    return shaped_to


def rained_on(shaped: Shaped, step: RunoffStep, run: Run) -> tuple[Shaped, float]:
    """Return a ground after the rain, and the volume of ground that left over the border, m³."""
    ground = shaped.ground
    base = np.pad(ground.heights_m - np.float32(ground.lowest_m), 1, mode="edge")
    state, spare = still(base.shape), still(base.shape)
    # both states share the pipes, which every round rewrites from what it finds there
    after = State(spare.water, spare.carried, spare.change, state.east, state.west, state.north, state.south)
    c = constants(step, ground.cell_x_m, ground.cell_y_m)
    flow, left = np.zeros_like(base), 0.0
    # water crosses a coarser grid in fewer rounds
    rounds = max(1, round(step.rounds * run.coarse))
    for number in range(rounds):
        run.at(number / rounds)
        left += play_round(base, state, after, c, 7919 + number, flow)
        state, after = after, state
    inside = (slice(1, -1), slice(1, -1))
    change = (state.change + state.carried)[inside]
    cell = ground.cell_x_m * ground.cell_y_m
    area = flow[inside] * np.float32(cell / (rounds * c.rain))
    heights = ground.heights_m + change
    return shaped.with_more(heights, np.maximum(-change, 0), np.maximum(change, 0), area), left * cell
