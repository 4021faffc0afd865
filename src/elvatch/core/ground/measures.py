"""All measures of a ground by name: in physical units, float32, made when asked for and kept."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal, get_args

from elvatch.core.ground import curvature, drainage, horizon, relative, slope
from elvatch.core.ground.drainage import Network
from elvatch.core.ground.shaped import Map, Shaped, no_traces
from elvatch.core.kept import Kept
from elvatch.core.parallel import Token
from elvatch.core.refusal import RefusalError

MeasureName = Literal[
    "elevation", "slope", "aspect", "curvature-profile", "curvature-plan", "curvature-mean", "relative-height",
    "openness", "drainage", "wetness", "worn", "dropped", "flow",
]  # fmt: skip
Scale = Literal["even", "about zero", "logarithmic", "compass"]


@dataclass(frozen=True)
class Kind:
    """What a measure is: its unit, how its values are best shown, its usual radius in metres if it has one."""

    title: str
    unit: str
    scale: Scale
    about: str
    radius_m: float | None = None


KINDS: dict[MeasureName, Kind] = {
    "elevation": Kind("Elevation", "m", "even", "height of the ground"),
    "slope": Kind("Slope", "°", "even", "how steep it is (Horn 1981)"),
    "aspect": Kind("Aspect", "°", "compass", "which way it falls, 0 is north; -1 where level"),
    "curvature-profile": Kind("Profile curvature", "1/m", "about zero", "bend along the way down, convex positive"),
    "curvature-plan": Kind("Plan curvature", "1/m", "about zero", "bend across the way down, convex positive"),
    "curvature-mean": Kind("Mean curvature", "1/m", "about zero", "mean of both bends, convex positive"),
    "relative-height": Kind("Relative height", "m", "about zero", "above the mean within a radius", 20.0),
    "openness": Kind("Openness", "°", "even", "mean angle from the zenith to the ground within a radius", 250.0),
    "drainage": Kind("Drainage", "m²", "logarithmic", "area that drains through (Freeman 1991)"),
    "wetness": Kind("Wetness", "ln m", "even", "ln(area per contour / slope) (Beven & Kirkby 1979)"),
    "worn": Kind("Worn", "m", "even", "taken away by runoff, rivers and settling"),
    "dropped": Kind("Dropped", "m", "even", "laid down by runoff, rivers and settling"),
    "flow": Kind("Flow", "m²", "logarithmic", "area whose rain ran through while shaping"),
}
NAMES: tuple[MeasureName, ...] = get_args(MeasureName)
_CURVES: dict[str, curvature.Kind] = {
    "curvature-profile": "profile",
    "curvature-plan": "plan",
    "curvature-mean": "mean",
}


class Measures:
    """The measures of one shaped ground.

    Parameters
    ----------
    shaped : Shaped
        The ground and what shaping left behind.
    """

    def __init__(self, shaped: Shaped) -> None:
        self._shaped = shaped
        self._maps = Kept[Map](24)
        self._network = Kept[Network](1)
        self._reaches = Kept[tuple[float, float]](48)

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
        usual = KINDS[name].radius_m
        radius = usual if radius_m is None or usual is None else radius_m
        return self._maps.get(f"{name} {radius}", lambda: self._make(name, radius or 0.0, token))

    def reach(self, name: MeasureName, radius_m: float | None = None) -> tuple[float, float]:
        """Return the lowest and highest value that a measure has anywhere on this ground."""

        def make() -> tuple[float, float]:
            values = self.map(name, radius_m)
            return float(values.min()), float(values.max())

        return self._reaches.get(f"{name} {radius_m}", make)

    def _make(self, name: MeasureName, radius_m: float, token: Token | None) -> Map:
        ground = self._shaped.ground
        if name == "elevation":
            return ground.heights_m
        if name in ("slope", "aspect"):
            rises = slope.gradient(ground, token)
            return slope.slope_deg(rises) if name == "slope" else slope.aspect_deg(rises)
        if name in _CURVES:
            return curvature.curvature(ground, _CURVES[name], token)
        if name == "relative-height":
            return relative.relative_height(ground, radius_m, token)
        if name == "openness":
            return horizon.openness_deg(ground, radius_m, token)
        if name == "drainage":
            network = self._network.get("", lambda: drainage.fill(ground, token))
            return drainage.drainage_area(ground, network, token)
        if name == "wetness":
            return drainage.wetness(self.map("drainage", None, token), self.map("slope", None, token), ground)
        traces = self._shaped.traces or no_traces(ground)
        return {"worn": traces.worn_m, "dropped": traces.dropped_m, "flow": traces.flow_m2}[name]


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
