"""Rules turned into rows of numbers that compiled code runs through: a program per rule.

Brackets, and rules of other layers that a rule asks for, become rows that open and close; a clause
whose mask, path, image or layer is gone becomes one that lets nothing in, and is told.
"""

from __future__ import annotations

import functools
from dataclasses import dataclass
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from elvatch.core.addresses import Addresses
from elvatch.core.document.clause import ClauseBase, Join
from elvatch.core.document.layer import Layer
from elvatch.core.document.marks import DrawnPath
from elvatch.core.document.rule import (
    Bracket,
    Clause,
    OnImage,
    OnLayer,
    OnMeasure,
    OnNear,
    OnNoise,
    OnPainted,
    OnPath,
    OnThing,
    Rule,
)
from elvatch.core.ground import clauses as c
from elvatch.core.ground.clauses import CurvePoint, Limits
from elvatch.core.ground.measures import MeasureName
from elvatch.core.refusal import RefusalError
from elvatch.core.rules import mask_image, paths
from elvatch.core.rules.crowds import Crowds, crowds
from elvatch.core.rules.evidence import Evidence, Map, channel_name
from elvatch.core.rules.mask import Mask
from elvatch.core.rules.mask_image import ChannelPlane
from elvatch.core.rules.paths import PathLines
from elvatch.core.thing import measures as of_things

(ELEVATION, SLOPE, FACING, MAP, NOISE, PAINTED, PATH, PLANE, NOTHING, OPEN, CLOSE, NEAR, CARRIED) = range(13)
CARRIED_NUMBERS = len(of_things.NAMES) + 3
OWN_PLACE = len(of_things.NAMES)
"""Of what places on things carry, the first column of where they lie in the thing's own axes, metres."""
AND, OR, EXCEPT, ADD = range(4)
_JOINS: dict[Join, int] = {"and": AND, "or": OR, "except": EXCEPT, "add": ADD}
NOISES = {"soft": 0, "ridges": 1, "cells": 2, "patches": 3}
_OWN: dict[MeasureName, int] = {"elevation": ELEVATION, "slope": SLOPE, "aspect": FACING}
_MOST_ROWS = 4096


class Tables(NamedTuple):
    """Programs and all they read, as compiled code takes them.

    ``rows`` and those of break-ups, ``breaks``, (n, ROW_NUMBERS); ``curves`` (n, MOST_POINTS, 2);
    ``maps`` addresses of measures, ``grid`` their (rows, cols, cell_x_m, cell_y_m, depth_m);
    ``mask_table`` addresses of all masks' tiles, ``masks`` (n, 3) where a mask's begin, its rows and
    cols, ``mask_numbers`` (n, 2) sample and depth, metres; ``planes`` (n, 3) address, width and height,
    ``plane_numbers`` where they lie; ``lines`` the paths; ``crowds`` the things of strews; ``carried``
    (n, CARRIED_NUMBERS and more) what each of the places that are asked about carries where they lie on things, after
    what all things have the paint and images of its own; without rows where they lie on the ground.
    """

    rows: NDArray[np.float64]
    breaks: NDArray[np.float64]
    curves: NDArray[np.float64]
    maps: NDArray[np.int64]
    grid: NDArray[np.float64]
    mask_table: NDArray[np.int64]
    masks: NDArray[np.int64]
    mask_numbers: NDArray[np.float64]
    planes: NDArray[np.int64]
    plane_numbers: NDArray[np.float64]
    lines: PathLines
    crowds: Crowds
    carried: NDArray[np.float32]


@dataclass(frozen=True)
class Programs:
    """Rules ready to be run. ``spans`` first and last row of each; ``depth`` of the deepest."""

    tables: Tables
    spans: list[tuple[int, int]]
    depth: int
    addresses: Addresses


class Builder:
    """Puts rules' rows together.

    A kind of clause says what it reads by a reader, :meth:`read`: one more is registered for its class, from wherever
    it stands.
    """

    def __init__(self, evidence: Evidence, layers: tuple[Layer, ...]) -> None:
        self.evidence, self._layers = evidence, {layer.id: layer for layer in layers}
        self._rows: list[list[float]] = []
        self._break_rows: list[list[float]] = []
        self._into = self._rows
        self._curves: list[tuple[CurvePoint, ...]] = []
        self._maps: dict[tuple[MeasureName, float | None], Map] = {}
        self._masks: dict[str, Mask] = {}
        self._planes: dict[tuple[str, str], tuple[ChannelPlane, list[float]]] = {}
        self._paths: list[tuple[DrawnPath, float]] = []
        self._crowds: list[tuple[NDArray[np.float64], float]] = []
        self._depth = 0
        self._for = ""

    def rule(self, rule: Rule, of: str) -> tuple[int, int]:
        """Add a rule's program; return its first row and the one after its last."""
        self._for = of
        breaks = self._breaks(rule)
        first = len(self._rows)
        self._run(rule.clauses, breaks, 1)
        return first, len(self._rows)

    def _breaks(self, rule: Rule) -> tuple[int, int, float]:
        """Add the rows of a rule's break-up, apart from its program; return their span and reach."""
        first, reach = len(self._break_rows), 0.0
        self._into = self._break_rows
        for clause in rule.clauses:
            if clause.join == "break-up" and clause.strength > 0 and clause.breaks_up:
                self._single(clause, (0, 0, 0.0))[c.STRENGTH] = clause.strength
                reach += clause.strength
        self._into = self._rows
        return first, len(self._break_rows), reach

    def _run(self, clauses: tuple[Clause, ...], breaks: tuple[int, int, float], depth: int) -> None:
        """Add the rows of clauses at one depth, and where to go on once nothing is left."""
        self._depth = max(self._depth, depth)
        joined = [clause for clause in clauses if clause.join != "break-up"]
        ends: list[int] = []
        for clause in joined:
            self._add(clause, breaks, depth)
            ends.append(len(self._rows) - 1)
        only_less = True
        for k in range(len(joined) - 1, -1, -1):
            # once nothing is let in, clauses that can only take away change nothing
            self._rows[ends[k]][c.SKIP] = float(len(self._rows)) if only_less else -1.0
            only_less = only_less and joined[k].join in ("and", "except")

    def _add(self, clause: Clause, breaks: tuple[int, int, float], depth: int) -> None:
        if len(self._rows) > _MOST_ROWS:
            raise RefusalError(
                self._for,
                "a rule that asks for too many others",
                f"at most {_MOST_ROWS} clauses in all",
                "ask for fewer layers' presence",
            )
        if isinstance(clause, Bracket):
            self.row(OPEN)
            self._run(clause.clauses, breaks, depth + 1)
            self._close(clause.join, clause.opposite, None, 1.0)
        elif isinstance(clause, OnLayer):
            asked = self._layers.get(clause.layer)
            if asked is None:
                self.nothing(clause)
                return
            self.row(OPEN)
            self._run(asked.rule.clauses, self._breaks(asked.rule), depth + 1)
            self._close(clause.join, clause.opposite, clause, asked.opacity)
        else:
            self._single(clause, breaks)[c.JOIN] = float(_JOINS[clause.join])

    def row(self, source: int) -> list[float]:
        """Add a row that reads a source, and return it."""
        row = [0.0] * c.ROW_NUMBERS
        row[c.SOURCE], row[c.CURVE], row[c.SKIP] = float(source), -1.0, -1.0
        row[c.LOWER], row[c.UPPER] = -np.inf, np.inf
        self._into.append(row)
        return row

    def _close(self, join: Join, opposite: bool, limits: Limits | None, opacity: float) -> None:
        row = self.row(CLOSE)
        row[c.JOIN], row[c.A] = float(_JOINS.get(join, AND)), opacity
        if limits is not None:
            self._limit(row, limits)
            row[c.B] = 1.0
        row[c.OPPOSITE] = float(opposite)

    def nothing(self, clause: ClauseBase) -> list[float]:
        """Add the row of a clause whose mask, path, image, layer or thing is gone: it lets nothing in."""
        row = self.row(NOTHING)
        row[c.JOIN], row[c.OPPOSITE] = float(_JOINS.get(clause.join, AND)), float(clause.opposite)
        return row

    def _limit(self, row: list[float], limits: Limits) -> None:
        row[c.LOWER : c.IRREGULAR + 1] = c.limit_numbers(limits)
        if limits.curve:
            self._curves.append(limits.curve)
            row[c.CURVE] = float(len(self._curves) - 1)

    def _single(self, clause: ClauseBase, breaks: tuple[int, int, float]) -> list[float]:
        """Add the row of a clause that reads one thing, and return it."""
        row = self.read(clause, breaks[2])
        if isinstance(clause, Limits) and row[c.SOURCE] != NOTHING:
            self._limit(row, clause)
        row[c.BREAK_FIRST : c.BREAK_REACH + 1] = [float(breaks[0]), float(breaks[1]), breaks[2]]
        return row

    @functools.singledispatchmethod
    def read(self, clause: ClauseBase, break_reach: float) -> list[float]:
        """Add the row that reads what a clause asks for, and return it; ``break_reach`` is how far break-ups move its
        edges, in widths of its soft ends."""
        raise TypeError(f"nothing reads {type(clause).__name__}")

    @read.register
    def _noise(self, clause: OnNoise, _: float) -> list[float]:
        row = self.row(NOISE)
        row[c.A : c.D] = [clause.size_m, float(NOISES[clause.noise]), float(clause.seed)]
        return row

    @read.register
    def _on_thing(self, clause: OnThing, _: float) -> list[float]:
        return self.carried(of_things.NAMES.index(clause.of))

    @read.register
    def _measure(self, clause: OnMeasure, _: float) -> list[float]:
        face = self.evidence.upright
        source = _OWN.get(clause.measure, MAP) if face is None else MAP
        row = self.row(source)
        if source == MAP:
            key = (clause.measure, clause.radius_m)
            if key not in self._maps:
                self._maps[key] = self._map(*key)
            row[c.A] = float(list(self._maps).index(key))
            row[c.B] = float(clause.measure == "aspect")
        return row

    def _map(self, name: MeasureName, radius_m: float | None) -> NDArray[np.float32]:
        found, face = self.evidence.measure(name, radius_m), self.evidence.upright
        if name == "aspect" and face is not None:
            # what a face looks to lies about one bearing: between samples it must not go round by the other side
            found = face.faces_deg + (found - face.faces_deg + 180.0) % 360.0 - 180.0
        return np.ascontiguousarray(found, np.float32)

    def carried(self, column: int) -> list[float]:
        """Add a row that reads what places on things carry, and return it."""
        row = self.row(CARRIED)
        row[c.A] = float(column)
        return row

    @read.register
    def _painted(self, clause: OnPainted, _: float) -> list[float]:
        if clause.mask in self.evidence.carried:
            return self.carried(self.evidence.carried[clause.mask])
        mask = self.evidence.masks.get(clause.mask)
        if mask is None:
            return self.nothing(clause)
        self._masks[clause.mask] = mask
        row = self.row(PAINTED)
        row[c.A] = float(list(self._masks).index(clause.mask))
        return row

    @read.register
    def _image(self, clause: OnImage, _: float) -> list[float]:
        on_thing = self.evidence.carried.get(channel_name(clause.image, clause.channel))
        if on_thing is not None:
            return self.carried(on_thing)
        image = next((one for one in self.evidence.marks.images if one.id == clause.image), None)
        if image is None:
            return self.nothing(clause)
        key = (clause.image, clause.channel)
        if key not in self._planes:
            plane = self.evidence.plane(image.file, image.file_name, clause.channel)
            size = self.evidence.width_m, self.evidence.depth_m
            self._planes[key] = plane, mask_image.place_numbers(plane, image.placing, *size)
        row = self.row(PLANE)
        row[c.A] = float(list(self._planes).index(key))
        return row

    @read.register
    def _path(self, clause: OnPath, break_reach: float) -> list[float]:
        path = next((one for one in self.evidence.marks.paths if one.id == clause.path), None)
        if path is None:
            return self.nothing(clause)
        half = max((path.width_m + clause.wider_m) / 2, 0.0)
        row = self.row(PATH)
        row[c.A] = float(len(self._paths))
        row[c.LOWER : c.OPPOSITE + 1] = [-np.inf, half, 0.0, path.soft_m, float(clause.opposite)]
        self._paths.append((path, half + path.soft_m * (1.0 + break_reach) + 0.01))
        return row

    @read.register
    def _near(self, clause: OnNear, break_reach: float) -> list[float]:
        """Add the row of a clause that asks how far the edge of a path or of a thing is."""
        reach = clause.reach_m() + clause.soft_upper * break_reach + 0.01
        if clause.to == "path":
            path = next((one for one in self.evidence.marks.paths if one.id == clause.target), None)
            if path is None:
                return self.nothing(clause)
            row = self.row(NEAR)
            row[c.A : c.D] = [float(len(self._paths)), 0.0, path.width_m / 2]
            self._paths.append((path, path.width_m / 2 + reach))
            return row
        there = self.evidence.things(clause.target)
        if there is None:
            return self.nothing(clause)
        return self.near(there, reach)

    def near(self, spots: NDArray[np.float64], reach_m: float) -> list[float]:
        """Add a row that reads how far the edge of the nearest of some spots is, (n, 3): east, north, radius, metres;
        beyond a reach it is far off."""
        row = self.row(NEAR)
        row[c.A : c.C] = [float(len(self._crowds)), 1.0]
        self._crowds.append((spots, reach_m))
        return row

    def done(self, spans: list[tuple[int, int]]) -> Programs:
        """Return everything added so far."""
        some_map = next(iter(self._maps.values()), None)
        rows, cols = some_map.shape if some_map is not None else (2, 2)
        width, depth = self.evidence.width_m, self.evidence.depth_m
        planes = [plane for plane, _ in self._planes.values()]
        masks = list(self._masks.values())
        addresses = Addresses()
        for mask in masks:
            addresses.hold(mask)
        tables = Tables(
            rows=np.array(self._rows, np.float64).reshape(-1, c.ROW_NUMBERS),
            breaks=np.array(self._break_rows, np.float64).reshape(-1, c.ROW_NUMBERS),
            curves=c.curve_table(self._curves),
            maps=np.array([addresses.of(one) for one in self._maps.values()], np.int64),
            grid=np.array([rows, cols, width / (cols - 1), depth / (rows - 1), depth]),
            mask_table=np.concatenate([np.zeros(0, np.int64), *(m.table for m in masks)]),
            masks=np.array(
                [(sum(len(one.table) for one in masks[:k]), *m.grid) for k, m in enumerate(masks)], np.int64
            ).reshape(-1, 3),
            mask_numbers=np.array([(m.sample_m, m.depth_m) for m in masks], np.float64).reshape(-1, 2),
            planes=np.array(
                [(addresses.of(p.codes), p.codes.shape[1], p.codes.shape[0]) for p in planes], np.int64
            ).reshape(-1, 3),
            plane_numbers=np.array([n for _, n in self._planes.values()], np.float64).reshape(
                -1, mask_image.PLANE_NUMBERS
            ),
            lines=paths.lay(self._paths),
            crowds=crowds(self._crowds),
            carried=np.zeros((0, CARRIED_NUMBERS), np.float32),
        )
        return Programs(tables, spans, self._depth, addresses)


def compiled(rules: list[tuple[str, Rule]], evidence: Evidence, layers: tuple[Layer, ...] = ()) -> Programs:
    """Return rules as programs.

    Parameters
    ----------
    rules : list of (str, Rule)
        Each with the name of the layer it is of, for messages.
    evidence : Evidence
        What they read.
    layers : tuple of Layer
        The whole column, for clauses on another layer's presence.

    Raises
    ------
    RefusalError
        When an image cannot be read, or rules ask for each other too often.
    """
    builder = Builder(evidence, layers)
    return builder.done([builder.rule(rule, of) for of, rule in rules])


def nowhere(rule: Rule, evidence: Evidence) -> bool:
    """Whether a rule surely lets nothing in anywhere on this ground, told by its limits alone.

    Only clauses that everything else is narrowed by are looked at: what no clause adds to.
    """
    standing = [clause for clause in rule.clauses if clause.join != "break-up"]
    broken_up = sum(clause.strength for clause in rule.clauses if clause.join == "break-up")
    for k, clause in enumerate(standing):
        if any(later.join in ("or", "add") for later in standing[k + 1 :]):
            continue
        if (clause.join == "and" or (k == 0 and clause.join != "except")) and _misses(clause, evidence, broken_up):
            return True
    return False


def _misses(clause: Clause, evidence: Evidence, broken_up: float) -> bool:
    """Whether a clause lets nothing in: a limit beyond all that there is, or a mask that was never painted."""
    if isinstance(clause, Bracket) or clause.opposite:
        return False
    if isinstance(clause, OnPainted):
        if clause.mask in evidence.carried:
            return False
        mask = evidence.masks.get(clause.mask)
        as_it_is = clause.lower is not None and clause.lower > 0 and clause.lower - clause.soft_lower >= 0
        return (mask is None or not mask.tiles) and as_it_is and not (clause.curve and clause.curve[0].share > 0)
    if (
        not isinstance(clause, OnMeasure)
        or clause.measure == "aspect"
        or evidence.reach is None
        or clause.curve
        or clause.every
    ):
        return False
    low, high = evidence.reach(clause.measure, clause.radius_m)
    reach = 1.0 + broken_up
    return (clause.lower is not None and clause.lower - clause.soft_lower * reach > high) or (
        clause.upper is not None and clause.upper + clause.soft_upper * reach < low
    )
