"""A recipe's wear made ready: numbers, overlays, where in the column each lies, and how deep it may go."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from elvatch.core import blend, digest
from elvatch.core import colour as colours
from elvatch.core.addresses import Addresses
from elvatch.core.columns import Columns, beginning_at, row
from elvatch.core.document.layer import Layer
from elvatch.core.document.marks import DrawnPath
from elvatch.core.document.wear import AlongLevels, AlongPath, Blend, Wear
from elvatch.core.mapping import fit_row
from elvatch.core.mapping.fitting import Fall
from elvatch.core.rules import paths
from elvatch.core.rules.evidence import Evidence, Map
from elvatch.core.rules.program import nowhere
from elvatch.core.stock.pyramid import HEIGHT, MOST_LEVELS, Pyramid
from elvatch.core.stock.sheet import OverlaySheet
from elvatch.core.wear import overlaid as o
from elvatch.core.wear.overlaid import Overlays
from elvatch.core.wear.worn import EVERYWHERE, HOLLOWS, RAISED, on_the_whole

LEAST_LIMIT_M = 0.002
"""So deep wear may go on any layer, however smooth."""
_RELIEF_WAYS = {"everywhere": EVERYWHERE, "hollows": HOLLOWS, "raised": RAISED}


class Worn(NamedTuple):
    """Wear as compiled code takes it, from the bottom of the column up.

    ``spans`` (n, 2) first and last row of each rule's program; ``first`` (layers + 1,) where the wears that stand
    on a layer begin; ``place`` (n,) the layer each stands on; ``chosen`` (n, layers) 1 for layers that it changes,
    ``limited`` (n,) whether these are not all; ``removes`` (n, layers) 1 for layers that it wears through;
    ``let_in`` (n, layers) how much the relief of each layer lets it through on the whole, 0..1; ``lost`` (layers,
    MOST_LEVELS) the part of that relief's variance that a texel of each level of its set averages away.
    """

    overlays: Overlays
    spans: NDArray[np.int64]
    first: NDArray[np.int64]
    place: NDArray[np.int64]
    chosen: NDArray[np.uint8]
    limited: NDArray[np.uint8]
    removes: NDArray[np.uint8]
    let_in: NDArray[np.float64]
    lost: NDArray[np.float64]


@dataclass(frozen=True)
class Depth:
    """How deep a wear goes, and why not deeper where it was limited to the relief of what it lies over."""

    asked_mm: float
    given_mm: float
    reason: str | None


@dataclass(frozen=True)
class FittedWears:
    """The wears of a recipe that are shown, fitted into its column; ``positions`` says which of them each of the
    recipe's is, -1 when it is off or lies on nothing that is shown."""

    wears: tuple[Wear, ...]
    places: tuple[int, ...]
    positions: tuple[int, ...]


def fit_in(wears: Sequence[Wear], layers: Sequence[Layer], positions: Sequence[int]) -> FittedWears:
    """Return which wears are shown and on which layer of the plan each stands.

    Parameters
    ----------
    wears : sequence of Wear
        The recipe's, from the bottom up.
    layers : sequence of Layer
        The whole column.
    positions : sequence of int
        For each layer of the column which of the plan it is, -1 when off.
    """
    at = {layer.id: k for k, layer in enumerate(layers)}
    found: list[tuple[int, int]] = []
    for number, wear in enumerate(wears):
        k = at.get(wear.place, len(layers) - 1) if wear.place else len(layers) - 1
        # on a layer that is off it lies on the one below
        while k >= 0 and positions[k] < 0:
            k -= 1
        if wear.on and k >= 0:
            found.append((positions[k], number))
    found.sort()
    places = {number: n for n, (_, number) in enumerate(found)}
    return FittedWears(
        tuple(wears[number] for _, number in found),
        tuple(place for place, _ in found),
        tuple(places.get(number, -1) for number in range(len(wears))),
    )


def _chosen(wear: Wear, place: int, shown: Sequence[Layer]) -> list[int]:
    """Return the layers of the plan that a wear changes: those chosen, of those under it."""
    return [k for k in range(place + 1) if not wear.over or shown[k].id in wear.over]


def _removed(wear: Wear, place: int, shown: Sequence[Layer]) -> list[int]:
    """Return the layers that a wear wears through: those chosen, or the one right under it; never the lowest."""
    if not wear.effects.worn_through:
        return []
    return [k for k in (_chosen(wear, place, shown) if wear.over else [place]) if k > 0]


def depth_of(wear: Wear, place: int, shown: Sequence[Layer]) -> Depth:
    """Return how deep a wear goes: as asked, but no deeper than the relief of what it lies over."""
    relief = wear.effects.relief
    if relief is None:
        return Depth(0.0, 0.0, None)
    under = [shown[k] for k in _chosen(wear, place, shown)]
    tallest = max(under, key=lambda layer: layer.fit.relief_m, default=None)
    limit_mm = 1000 * max(tallest.fit.relief_m if tallest else 0.0, LEAST_LIMIT_M)
    if relief.depth_mm <= limit_mm:
        return Depth(relief.depth_mm, relief.depth_mm, None)
    told = f"the relief of {tallest.name}" if tallest and tallest.fit.relief_m > LEAST_LIMIT_M else "what is smooth"
    reason = f"{relief.depth_mm:g} mm is limited to {limit_mm:g} mm, {told}: deeper would tear the surface under it"
    return Depth(relief.depth_mm, limit_mm, reason)


def shown_with(layers: Sequence[Layer], wears: Sequence[Wear]) -> tuple[FittedWears, list[Layer]]:
    """Return the wears of a recipe fitted into those of its layers that are on, and these."""
    on = [layer for layer in layers if layer.on]
    at = {layer.id: k for k, layer in enumerate(on)}
    return fit_in(wears, layers, [at.get(layer.id, -1) for layer in layers]), on


def depths_m(wears: Sequence[Wear], layers: Sequence[Layer]) -> list[float]:
    """Return how far each wear that is shown raises the surface, metres; below 0 where it carves."""
    fitted, on = shown_with(layers, wears)
    out = []
    for wear, place in zip(fitted.wears, fitted.places, strict=True):
        sign = -1.0 if wear.effects.relief and wear.effects.relief.way == "carve" else 1.0
        out.append(sign * wear.strength * depth_of(wear, place, on).given_mm / 1000)
    return out


def _blend_columns(effect: Blend | None, strength: int, mode: int, to: int) -> Columns:
    """Return how a raw number is changed, in the columns named."""
    if effect is None:
        return {strength: 0.0, mode: 0.0, to: -1.0}
    towards = -1.0 if effect.towards is None else effect.towards
    return {strength: effect.strength, mode: blend.MODES[effect.mode].code, to: towards}


def _linear(colour: str) -> list[float]:
    """Return an sRGB colour ``#rrggbb`` as linear light."""
    codes = np.array([int(colour[k : k + 2], 16) / 255 for k in (1, 3, 5)], np.float32)
    return [float(v) for v in colours.to_linear(codes)]


def _follow_columns(wear: Wear, line: int) -> Columns:
    follows = wear.follows
    nowhere = {
        o.FOLLOWS: o.ON_GROUND,
        o.FROM: 0.0,
        o.SPACING: 1.0,
        o.ONCE: 0.0,
        o.WOBBLE: 0.0,
        o.WOBBLE_SIZE: 1.0,
        o.SEED: 0.0,
        o.LINE: 0.0,
        o.WIDTH: 1.0,
        o.LENGTH: 1.0,
    }
    if isinstance(follows, AlongLevels):
        return nowhere | {
            o.FOLLOWS: o.ON_LEVELS,
            o.FROM: follows.from_m,
            o.SPACING: follows.spacing_m,
            o.ONCE: float(follows.once),
            o.WOBBLE: follows.wobble_m,
            o.WOBBLE_SIZE: follows.wobble_size_m,
            o.SEED: int(digest.of_json(wear.id)[:4], 16),
        }
    if isinstance(follows, AlongPath):
        lying = {o.LINE: float(line), o.WIDTH: follows.width_m, o.LENGTH: follows.length_m}
        return nowhere | lying | {o.FOLLOWS: o.ON_PATH}
    return nowhere


def _row(wear: Wear, depth_mm: float, line: int, sheet: OverlaySheet) -> list[float]:
    effects, way, colour = wear.effects, wear.by_relief, wear.effects.colour
    red, green, blue = _linear(colour.colour) if colour else (0.0, 0.0, 0.0)
    own = {
        o.STRENGTH: wear.strength,
        o.COLOUR: colour.strength if colour else 0.0,
        o.COLOUR_MODE: blend.TINTINGS[colour.mode].code if colour else 0.0,
        o.RED: red,
        o.GREEN: green,
        o.BLUE: blue,
        o.DEPTH: depth_mm / 1000 * (-1.0 if effects.relief and effects.relief.way == "carve" else 1.0),
        o.WORN: effects.worn_through or 0.0,
        o.RELIEF_WAY: _RELIEF_WAYS[way.where],
        o.RELIEF_LEVEL: way.level,
        o.RELIEF_SOFT: way.soft,
    }
    # an overlay rises by so much a texel; a metre has so many of them
    gains = {fit_row.GAIN_ACROSS: sheet.size / wear.lie.tile_m, fit_row.GAIN_DOWN: sheet.size / wear.lie.down_m}
    return row(
        o.NUMBERS,
        own,
        _blend_columns(effects.roughness, o.ROUGH, o.ROUGH_MODE, o.ROUGH_TO),
        _blend_columns(effects.metallic, o.METAL, o.METAL_MODE, o.METAL_TO),
        _follow_columns(wear, line),
        beginning_at(o.FIT, {**fit_row.lie_columns(wear.id, wear.lie), **gains}),
    )


class _Paths:
    """The paths that wears follow, each with the width it needs."""

    def __init__(self, evidence: Evidence) -> None:
        self._known = {path.id: path for path in evidence.marks.paths}
        self.lines: list[tuple[DrawnPath, float]] = []

    def line(self, wear: Wear) -> int:
        """Return which line a wear follows, 0 when none; -1 when its path is gone."""
        if not isinstance(wear.follows, AlongPath):
            return 0
        path = self._known.get(wear.follows.path)
        if path is None:
            return -1
        self.lines.append((path, 0.5 * wear.follows.width_m + 0.01))
        return len(self.lines) - 1


def laid(
    fitted: FittedWears,
    shown: Sequence[Layer],
    sets: Sequence[Pyramid],
    spans: Sequence[tuple[int, int]],
    fall: Fall,
    evidence: Evidence,
    addresses: Addresses,
) -> Worn:
    """Return wear as compiled code takes it.

    Parameters
    ----------
    fitted : FittedWears
        From :func:`fit_in`.
    shown : sequence of Layer
        The layers of the plan, from the bottom up.
    sets : sequence of Pyramid
        The set of each.
    spans : sequence of (int, int)
        First and last row of each wear's program.
    fall : Fall
        Where the ground falls.
    evidence : Evidence
        Gives overlays, paths and measures.
    addresses : Addresses
        Holds what it takes.
    """
    overlays = _overlays(fitted, shown, fall, evidence, addresses)
    chosen, removes = _over(fitted, shown)
    let_in, lost = _by_relief(overlays.numbers, shown, sets)
    return Worn(
        overlays=overlays,
        spans=np.array(spans, np.int64).reshape(-1, 2),
        first=np.searchsorted(np.array(fitted.places, np.int64), np.arange(len(shown) + 1)),
        place=np.array(fitted.places, np.int64),
        chosen=chosen,
        limited=np.array([bool(wear.over) for wear in fitted.wears], np.uint8),
        removes=removes,
        let_in=let_in,
        lost=lost,
    )


def _overlays(
    fitted: FittedWears, shown: Sequence[Layer], fall: Fall, evidence: Evidence, addresses: Addresses
) -> Overlays:
    """Return the images of wear, each with its numbers and what it follows."""
    ways, sheets, maps = _Paths(evidence), [], []
    numbers, found = [], []
    for wear, place in zip(fitted.wears, fitted.places, strict=True):
        sheet, line = evidence.sheet(wear), ways.line(wear)
        sheets.append(sheet)
        row = _row(wear, depth_of(wear, place, shown).given_mm, max(line, 0), sheet)
        if line < 0 or nowhere(wear.rule, evidence):
            row[o.STRENGTH] = 0.0
        numbers.append(row)
        address, follows = 0, wear.follows
        if isinstance(follows, AlongLevels) and follows.measure != "elevation":
            maps.append(np.ascontiguousarray(evidence.measure(follows.measure, follows.radius_m), np.float32))
            address = addresses.of(maps[-1])
        found.append([addresses.of(sheet.texels), sheet.size, address])
    return Overlays(
        np.array(numbers, np.float64).reshape(-1, o.NUMBERS),
        np.array(found, np.int64).reshape(-1, 3),
        np.array([sheet.mean for sheet in sheets], np.float32).reshape(-1, 4),
        paths.lay(ways.lines),
        _with_grid(fall, maps, evidence),
    )


def _over(fitted: FittedWears, shown: Sequence[Layer]) -> tuple[NDArray[np.uint8], NDArray[np.uint8]]:
    """Return over which layers each wear lies, and which it wears through."""
    chosen = np.zeros((len(fitted.wears), len(shown)), np.uint8)
    removes = np.zeros_like(chosen)
    for w, (wear, place) in enumerate(zip(fitted.wears, fitted.places, strict=True)):
        chosen[w, _chosen(wear, place, shown)] = 1
        removes[w, _removed(wear, place, shown)] = 1
    return chosen, removes


def _by_relief(
    table: NDArray[np.float64], shown: Sequence[Layer], sets: Sequence[Pyramid]
) -> tuple[NDArray[np.float64], NDArray[np.float64]]:
    """Return :class:`Worn`'s ``let_in`` and ``lost``."""
    let_in, lost = np.ones((len(table), len(shown))), np.zeros((len(shown), MOST_LEVELS))
    limited = np.flatnonzero(table[:, o.RELIEF_WAY] != EVERYWHERE)
    for k, (layer, stored) in enumerate(zip(shown, sets, strict=True) if len(limited) else ()):
        fit, spread = layer.fit, stored.relief
        lost[k] = spread.lost
        heights = fit_row.risen_m(fit, spread.heights, float(stored.mean[HEIGHT]))
        for w in limited:
            let_in[w, k] = on_the_whole(table[w], heights, spread.shares, fit.relief_m)
    return let_in, lost


def _with_grid(fall: Fall, maps: list[Map], evidence: Evidence) -> Fall:
    if not maps or fall.gradient:
        return fall
    rows, cols = maps[0].shape
    return Fall(0, rows, cols, evidence.width_m / (cols - 1), evidence.depth_m / (rows - 1), float(evidence.depth_m))


def runs_downhill(wear: Wear) -> bool:
    """Whether a wear needs to know where the ground falls."""
    return wear.follows.kind == "ground" and wear.lie.projection == "downhill"


def overlay_name(wear: Wear, evidence: Evidence) -> str:
    """Return what names what a wear's overlay says at places, whatever it does there."""
    follows = wear.follows
    path = evidence.names().get(follows.path) if isinstance(follows, AlongPath) else None
    ground = evidence.lie() if evidence.lie and (runs_downhill(wear) or isinstance(follows, AlongLevels)) else None
    sheet = evidence.sheet(wear).name
    return digest.of_json([wear.id, sheet, digest.of_part(follows), digest.of_part(wear.lie), path, ground])


def relief_name(wear: Wear, place: int, overlay: str) -> str | None:
    """Return what names a wear's part in the relief, beside where it lies; None when it has none."""
    effects = wear.effects
    if not effects.worn_through and (effects.relief is None or effects.relief.depth_mm == 0):
        return None
    does = [digest.of_part(effects.relief) if effects.relief else None, effects.worn_through]
    return digest.of_json([overlay, place, wear.over, wear.strength, digest.of_part(wear.by_relief), does])
