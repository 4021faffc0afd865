"""Clauses in words, as the page, the probe and messages say them."""

from __future__ import annotations

from elvatch.core.document.rule import (
    Bracket,
    Clause,
    OnImage,
    OnLayer,
    OnMeasure,
    OnNear,
    OnNoise,
    OnPainted,
    OnThing,
)
from elvatch.core.ground.measures import KINDS
from elvatch.core.thing.measures import KINDS as THING_KINDS

_COMPASS = ("north", "north-east", "east", "south-east", "south", "south-west", "west", "north-west")


def _number(value: float, unit: str) -> str:
    return f"{value:.6g}{'' if unit == '°' else ' '}{unit}"


def compass(bearing_deg: float) -> str:
    """Return the nearest of eight compass names."""
    return _COMPASS[round(bearing_deg / 45) % 8]


def _measured(clause: OnMeasure) -> str:
    above, below = KINDS[clause.measure].above, KINDS[clause.measure].below
    if clause.measure == "aspect":
        if clause.lower is None or clause.upper is None:
            return "facing anywhere"
        ends = f"{clause.lower:g}° to {clause.upper:g}°"
        return f"facing {compass(clause.lower)} through to {compass(clause.upper)} ({ends})"
    parts = []
    if clause.lower is not None:
        parts.append(f"{above} {_number(clause.lower, clause.unit)}")
    if clause.upper is not None:
        parts.append(f"{below} {_number(clause.upper, clause.unit)}")
    text = " and ".join(parts) or f"of any {clause.measure}"
    if clause.every is not None:
        text += f", again every {_number(clause.every, clause.unit)}"
    return text


def _near(clause: OnNear) -> str:
    if clause.lower is None:
        return (
            f"within {clause.upper:g} m of {clause.called}" if clause.upper is not None else f"about {clause.called}"
        )
    if clause.upper is None:
        return f"{clause.lower:g} m away from {clause.called}"
    return f"{clause.lower:g} to {clause.upper:g} m from {clause.called}"


def _on_thing(clause: OnThing) -> str:
    kind = THING_KINDS[clause.of]
    ends = ((kind.above, clause.lower), (kind.below, clause.upper))
    told = [f"{word} {_number(end, kind.unit).rstrip()}" for word, end in ends if end is not None]
    return " and ".join(told) or f"{kind.title.lower()}: any"


def words(clause: Clause) -> str:
    """Return a clause in words, without what joins it: "steeper than 32°", "not painted on Tyres"."""
    if isinstance(clause, Bracket):
        inside = ", ".join(
            words(one) if k == 0 else f"{one.join} {words(one)}" for k, one in enumerate(clause.clauses)
        )
        text = f"({inside})"
    elif isinstance(clause, OnMeasure):
        text = _measured(clause)
    elif isinstance(clause, OnNoise):
        text = f"in {clause.noise} noise of {clause.size_m:g} m"
    elif isinstance(clause, OnPainted):
        text = f"painted on {clause.called}"
    elif isinstance(clause, OnImage):
        text = f"in {clause.channel} of {clause.called}"
    elif isinstance(clause, OnLayer):
        text = f"where {clause.called} lies"
    elif isinstance(clause, OnNear):
        text = _near(clause)
    elif isinstance(clause, OnThing):
        text = _on_thing(clause)
    else:
        text = f"along {clause.called}"
    return f"not {text}" if clause.opposite else text
