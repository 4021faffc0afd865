"""How a new layer begins: the set as it is, everywhere, or where it was dropped."""

from __future__ import annotations

from elvatch.core.document.clause import CALLED
from elvatch.core.document.fit import Fit, NearDetail
from elvatch.core.document.layer import Edge, Layer, Look
from elvatch.core.document.rule import OnNoise, OnThing, Rule, on
from elvatch.core.ground.begin import NEW_ID
from elvatch.core.ground.clauses import between
from elvatch.core.thing.measures import KINDS, ThingMeasure

_NO_SET = "0" * 40
_ABOUT_DEG = 6.0


def layer() -> Layer:
    """Return a new layer; whoever lays it gives it an id, a name and a set, with that set's tile and relief."""
    return Layer(id=NEW_ID, name=CALLED, set=_NO_SET, fit=Fit(), edge=Edge(fingers=0.5))


def layer_on_thing() -> Layer:
    """Return a new layer on a thing: laid from all sides, small, where it faces up."""
    return Layer(
        id=NEW_ID,
        name=CALLED,
        set=_NO_SET,
        fit=Fit(projection="triplanar", tile_m=1.0, relief_m=0.01),
        edge=Edge(fingers=0.0),
        look=Look(variation=0.0),
    )


def on_thing(of: ThingMeasure) -> OnThing:
    """Return a new clause on what a place on a thing is like."""
    kind = KINDS[of]
    return OnThing(of=of, lower=kind.lower, upper=kind.upper, soft_lower=kind.soft, soft_upper=kind.soft)


def near_detail(tile_m: float) -> NearDetail:
    """Return a new near detail of a layer with tiles of a size, metres: the layer's own set, five times as fine."""
    return NearDetail(tile_m=tile_m / 5, relief_m=tile_m / 400)


def rule_at(elevation_m: float, slope_deg: float, lowest_m: float, highest_m: float) -> Rule:
    """Return the rule that a set begins with where it was dropped: about that slope and that elevation.

    Parameters
    ----------
    elevation_m, slope_deg : float
        Of the place.
    lowest_m, highest_m : float
        Elevations between which the ground lies.
    """
    rise = max(highest_m - lowest_m, 0.1)
    reach = max(float(f"{rise / 12:.2g}"), 0.01)
    fine = 0 if rise > 40 else 1 if rise > 4 else 3
    soft = round(reach / 3, 3)
    low = round(slope_deg - _ABOUT_DEG) if slope_deg > 8 else None
    return Rule(
        clauses=(
            on(between("elevation", round(elevation_m - reach, fine), round(elevation_m + reach, fine), soft, soft)),
            on(between("slope", low, min(90, round(slope_deg + _ABOUT_DEG)))),
            OnNoise(join="break-up"),
        )
    )
