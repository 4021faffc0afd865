"""All measures of a ground by name: in physical units, float32, made when asked for and kept."""

from __future__ import annotations

import copy
import math
from collections.abc import Callable
from dataclasses import dataclass
from functools import cached_property
from typing import Literal, get_args

import numpy as np
from scipy.ndimage import distance_transform_edt

from elvatch.core.cache import Cache
from elvatch.core.ground import curvature, drainage, horizon, relative, slope
from elvatch.core.ground.drainage import Network
from elvatch.core.ground.heightfield import Heightfield
from elvatch.core.ground.shaped import Map, Shaped, no_traces
from elvatch.core.ground.upright import Upright, elevations_m, facing_deg, leaned, steepness_deg
from elvatch.core.parallel import Token
from elvatch.core.refusal import RefusalError
from elvatch.core.results import result

MeasureName = Literal[
    "elevation",
    "slope",
    "aspect",
    "curvature-profile",
    "curvature-plan",
    "curvature-mean",
    "relative-height",
    "openness",
    "drainage",
    "wetness",
    "worn",
    "dropped",
    "flow",
    "height-above-water",
    "distance-to-water",
    "water-depth",
]
Unit = Literal["m", "°", "1/m", "m²", "ln m"]
Start = Callable[[float, float], tuple[float | None, float | None]]
Scale = Literal["even", "about zero", "logarithmic", "compass"]


@result
class Span:
    """What a limit of a measure may be on a ground: ``least`` to ``most`` by ``step``, ``digits`` behind the point;
    dragged over a pixel by ``pixel`` or that share of itself, ``pixel_share``; usually ``soft`` over so much."""

    least: float
    most: float
    step: float
    digits: int
    pixel: float
    soft: float
    pixel_share: float = 0.0


@dataclass(frozen=True)
class Measure:
    """What a measure is, all of it.

    ``short`` within a sentence, ``above`` and ``below`` of a lower and an upper limit; ``make`` makes it of a ground,
    with its radius in metres where it has one (``radius_m`` is the usual one); ``span`` and ``start`` (a lower and an
    upper limit) are what a new clause has, of a ground between two elevations; ``soft`` a limit's soft end that is
    written without one, whatever the ground. ``of_water``: it asks where water stands, which is no part of the
    ground, so that steps cannot read it.
    """

    title: str
    short: str
    unit: Unit
    scale: Scale
    about: str
    above: str
    below: str
    make: Callable[[Measures, float, Token | None], Map]
    span: Callable[[float, float], Span]
    start: Start
    radius_m: float | None = None
    of_water: bool = False
    soft: float = 0.0


def _fixed(span: Span) -> Callable[[float, float], Span]:
    return lambda lowest_m, highest_m: span


def _from(lower: float | None, upper: float | None = None) -> Start:
    return lambda lowest_m, highest_m: (lower, upper)


def _elevations(lowest_m: float, highest_m: float) -> Span:
    rise = highest_m - lowest_m
    fine = 0.5 if rise > 40 else 0.05 if rise > 4 else 0.005
    return Span(-20_000, 20_000, fine, 3 if fine < 0.05 else 1, rise / 400, float(f"{rise / 30:.1g}"))


def _middle(lowest_m: float, highest_m: float) -> tuple[float | None, float | None]:
    return math.floor((lowest_m + highest_m) / 2 + 0.5), None


def _trace(name: Literal["worn_m", "dropped_m", "flow_m2"]) -> Callable[[Measures, float, Token | None], Map]:
    def make(measures: Measures, radius_m: float, token: Token | None) -> Map:
        traces = measures.shaped.traces or no_traces(measures.shaped.ground)
        found: Map = getattr(traces, name)
        return found

    return make


def _bend(kind: curvature.Kind) -> Callable[[Measures, float, Token | None], Map]:
    return lambda measures, radius_m, token: curvature.curvature(measures.shaped.ground, kind, token)


def _drained(measures: Measures, radius_m: float, token: Token | None) -> Map:
    return drainage.drainage_area(measures.runs_over, measures.network(token), token)


DRY_M = 1e6
"""Distance to water, and height above it, where there is none."""


def _elevation(of: Measures, radius_m: float, token: Token | None) -> Map:
    ground = of.shaped.ground
    return elevations_m(ground, of.upright) if of.upright else ground.heights_m


def _slope(of: Measures, radius_m: float, token: Token | None) -> Map:
    ground = of.shaped.ground
    return steepness_deg(slope.gradient(ground, token)) if of.upright else slope.steepness_of(ground, token)


def _aspect(of: Measures, radius_m: float, token: Token | None) -> Map:
    gradient = slope.gradient(of.shaped.ground, token)
    return facing_deg(gradient, of.upright) if of.upright else slope.aspect_deg(gradient)


def _above_water(of: Measures, radius_m: float, token: Token | None) -> Map:
    heights = _elevation(of, radius_m, token)
    return np.full_like(heights, DRY_M) if of.water_m is None else heights - np.float32(of.water_m)


def _from_water(of: Measures, radius_m: float, token: Token | None) -> Map:
    ground = of.shaped.ground
    under = _elevation(of, radius_m, token) < (-np.inf if of.water_m is None else of.water_m)
    if not under.any():
        return np.full_like(ground.heights_m, DRY_M)
    away = distance_transform_edt(~under, sampling=(ground.cell_y_m, ground.cell_x_m))
    return np.asarray(away, np.float32)


def _water_depth(of: Measures, radius_m: float, token: Token | None) -> Map:
    return np.maximum(-_above_water(of, radius_m, token), np.float32(0.0))


_STEEPNESS = Span(0, 90, 0.5, 1, 0.25, 5)
_BENDS = Span(-100, 100, 0.001, 3, 0.0005, 0.02)
_AREAS = Span(0, 1e9, 1, 0, 1, 50, 0.012)
_HEIGHTS = Span(-5000, 5000, 0.01, 2, 0.01, 0.2)
KINDS: dict[MeasureName, Measure] = {
    "elevation": Measure(
        "Elevation",
        "elevation",
        "m",
        "even",
        "height of the ground",
        "above",
        "below",
        _elevation,
        _elevations,
        _middle,
        soft=2.0,
    ),
    "slope": Measure(
        "Slope",
        "slope",
        "°",
        "even",
        "how steep it is (Horn 1981)",
        "steeper than",
        "gentler than",
        _slope,
        _fixed(_STEEPNESS),
        _from(30.0),
        soft=5.0,
    ),
    "aspect": Measure(
        "Aspect",
        "facing",
        "°",
        "compass",
        "which way it falls, 0 is north; -1 where level",
        "facing from",
        "to",
        _aspect,
        _fixed(Span(0, 360, 1, 0, 1, 20)),
        _from(315.0, 45.0),
        soft=20.0,
    ),
    "curvature-profile": Measure(
        "Profile curvature",
        "bend down",
        "1/m",
        "about zero",
        "bend along the way down, convex positive",
        "bending down its slope by more than",
        "bending down its slope by less than",
        _bend("profile"),
        _fixed(_BENDS),
        _from(0.02),
    ),
    "curvature-plan": Measure(
        "Plan curvature",
        "bend across",
        "1/m",
        "about zero",
        "bend across the way down, convex positive",
        "bending across its slope by more than",
        "bending across its slope by less than",
        _bend("plan"),
        _fixed(_BENDS),
        _from(0.02),
    ),
    "curvature-mean": Measure(
        "Mean curvature",
        "bend",
        "1/m",
        "about zero",
        "mean of both bends, convex positive",
        "more convex than",
        "more hollow than",
        _bend("mean"),
        _fixed(_BENDS),
        _from(None, -0.02),
    ),
    "relative-height": Measure(
        "Relative height",
        "relative height",
        "m",
        "about zero",
        "above the mean within a radius",
        "standing above its surroundings by",
        "standing above its surroundings by less than",
        lambda of, radius_m, token: relative.relative_height(of.shaped.ground, radius_m, token),
        _fixed(_HEIGHTS),
        _from(0.5),
        20.0,
    ),
    "openness": Measure(
        "Openness",
        "openness",
        "°",
        "even",
        "mean angle from the zenith to the ground within a radius",
        "more open than",
        "less open than",
        lambda of, radius_m, token: horizon.openness_deg(of.shaped.ground, radius_m, token),
        _fixed(Span(0, 180, 0.5, 1, 0.25, 3)),
        _from(None, 80.0),
        250.0,
    ),
    "drainage": Measure(
        "Drainage",
        "drainage",
        "m²",
        "logarithmic",
        "area that drains through (Freeman 1991)",
        "draining more than",
        "draining less than",
        _drained,
        _fixed(_AREAS),
        _from(1000.0),
    ),
    "wetness": Measure(
        "Wetness",
        "wetness",
        "ln m",
        "even",
        "ln(area per contour / slope) (Beven & Kirkby 1979)",
        "wetter than",
        "drier than",
        lambda of, radius_m, token: drainage.wetness(
            of.map("drainage", None, token), of.map("slope", None, token), of.runs_over
        ),
        _fixed(Span(-50, 50, 0.1, 1, 0.03, 0.8)),
        _from(6.0),
    ),
    "worn": Measure(
        "Worn",
        "worn",
        "m",
        "even",
        "taken away by runoff, rivers and settling",
        "worn by more than",
        "worn by less than",
        _trace("worn_m"),
        _fixed(_HEIGHTS),
        _from(0.2),
    ),
    "dropped": Measure(
        "Dropped",
        "dropped",
        "m",
        "even",
        "laid down by runoff, rivers and settling",
        "filled by more than",
        "filled by less than",
        _trace("dropped_m"),
        _fixed(_HEIGHTS),
        _from(0.2),
    ),
    "flow": Measure(
        "Flow",
        "flow",
        "m²",
        "logarithmic",
        "area whose rain ran through while shaping",
        "flowed over from more than",
        "flowed over from less than",
        _trace("flow_m2"),
        _fixed(_AREAS),
        _from(1000.0),
    ),
    "height-above-water": Measure(
        "Height above water",
        "height above water",
        "m",
        "about zero",
        "above the water's level, negative below it",
        "above the water by",
        "above the water by less than",
        _above_water,
        _fixed(_HEIGHTS),
        _from(None, 0.4),
        of_water=True,
    ),
    "distance-to-water": Measure(
        "Distance to water",
        "distance to water",
        "m",
        "logarithmic",
        "level distance to the nearest water",
        "further from water than",
        "within",
        _from_water,
        _fixed(Span(0, 1e6, 0.1, 1, 0.1, 1.0, 0.01)),
        _from(None, 4.0),
        of_water=True,
    ),
    "water-depth": Measure(
        "Depth of water",
        "depth of water",
        "m",
        "even",
        "of the ground below the water's level, 0 where it is dry",
        "under water deeper than",
        "under water less deep than",
        _water_depth,
        _fixed(Span(0, 5000, 0.01, 2, 0.01, 0.2)),
        _from(0.05),
        of_water=True,
    ),
}
NAMES: tuple[MeasureName, ...] = get_args(MeasureName)
assert set(NAMES) == set(KINDS)


class Measures:
    """The measures of one shaped ground.

    Parameters
    ----------
    shaped : Shaped
        The ground and what shaping left behind.
    upright : Upright, optional
        How it stands where it is a face.
    """

    shaped: Shaped
    upright: Upright | None
    water_m: float | None = None

    def __init__(self, shaped: Shaped, upright: Upright | None = None) -> None:
        self.shaped, self.upright = shaped, upright
        self._maps = Cache[Map](24)
        self._network = Cache[Network](1)
        self._reaches = Cache[tuple[float, float]](48)

    @cached_property
    def runs_over(self) -> Heightfield:
        """What water runs down: the ground, or a face leaned back."""
        return leaned(self.shaped.ground) if self.upright else self.shaped.ground

    def map(self, name: MeasureName, radius_m: float | None = None, token: Token | None = None) -> Map:
        """Return a measure over the ground's samples.

        Parameters
        ----------
        name : str
            One of :data:`NAMES`.
        radius_m : float, optional
            For those that have one; their usual one when left out.
        token : Token, optional
            Asked between bands.

        Returns
        -------
        ndarray, shape (rows, cols), float32
            In the unit that :data:`KINDS` names.
        """
        kind = KINDS[name]
        usual = kind.radius_m
        radius = usual if radius_m is None or usual is None else radius_m
        at = self.water_m if kind.of_water else None
        return self._maps.get(f"{name} {radius} {at}", lambda: kind.make(self, radius or 0.0, token))

    def reach(self, name: MeasureName, radius_m: float | None = None) -> tuple[float, float]:
        """Return the lowest and highest value that a measure has anywhere on this ground."""

        def make() -> tuple[float, float]:
            values = self.map(name, radius_m)
            return float(values.min()), float(values.max())

        at = self.water_m if KINDS[name].of_water else None
        return self._reaches.get(f"{name} {radius_m} {at}", make)

    def with_water(self, level_m: float | None) -> Measures:
        """Return the same measures of the same ground with water up to a level, None for none."""
        if level_m == self.water_m:
            return self
        made = copy.copy(self)
        made.water_m = level_m
        return made

    def network(self, token: Token | None = None) -> Network:
        """Return which way water runs from each sample, found once."""
        return self._network.get("", lambda: drainage.fill(self.runs_over, token))


def asked_of(water: bool) -> tuple[MeasureName, ...]:
    """Return the measures that tell something of a site, with water on it or without."""
    return tuple(name for name in NAMES if water or not KINDS[name].of_water)


def named(name: str) -> MeasureName:
    """Return a measure's name, checked.

    Raises
    ------
    RefusalError
        When there is no such measure.
    """
    for known in NAMES:
        if name == known:
            return known
    raise RefusalError("measure", repr(name[:40]), "one of " + ", ".join(NAMES), "choose one of these")
