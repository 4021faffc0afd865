"""What a place on a thing is like, as rules of its cover ask: how it faces, how high it lies, edges, its colour."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Literal, NamedTuple

ThingMeasure = Literal["up", "foot", "ground", "edge", "sky", "red", "green", "blue"]
NAMES: tuple[ThingMeasure, ...] = ("up", "foot", "ground", "edge", "sky", "red", "green", "blue")
"""In the order of the columns that hold them."""


class ThingMeasureKind(NamedTuple):
    """A measure of things: its title, what it tells, its unit, between which values it may be limited and by which
    step; the words before a lower and an upper limit; the limits and soft ends that a new clause begins with."""

    title: str
    about: str
    unit: str
    least: float
    most: float
    step: float
    digits: int
    above: str
    below: str
    lower: float | None
    upper: float | None
    soft: float


def _own(colour: str) -> ThingMeasureKind:
    return ThingMeasureKind(
        f"Its own {colour}",
        f"How {colour} its own colour is, 0 to 1 (linear)",
        "",
        0.0,
        1.0,
        0.01,
        2,
        f"more {colour} than",
        f"less {colour} than",
        0.5,
        None,
        0.2,
    )


KINDS: Mapping[ThingMeasure, ThingMeasureKind] = {
    "up": ThingMeasureKind(
        "Faces up",
        "How far it is turned from straight up, in the world: 0° up, 90° upright, 180° hanging",
        "°",
        0.0,
        180.0,
        1.0,
        0,
        "turned from up by more than",
        "facing up within",
        None,
        55.0,
        15.0,
    ),
    "foot": ThingMeasureKind(
        "Over its foot",
        "How high it lies over the lowest place of the thing",
        "m",
        0.0,
        200.0,
        0.05,
        2,
        "over its foot by more than",
        "over its foot by less than",
        None,
        0.4,
        0.2,
    ),
    "ground": ThingMeasureKind(
        "Over the ground",
        "How high it lies over the ground below it",
        "m",
        -20.0,
        200.0,
        0.05,
        2,
        "over the ground by more than",
        "over the ground by less than",
        None,
        0.3,
        0.2,
    ),
    "edge": ThingMeasureKind(
        "Edges and hollows",
        "How it bends: above 0 an edge, below 0 a hollow, one over the radius of a ball",
        "1/m",
        -200.0,
        200.0,
        0.1,
        1,
        "edges sharper than",
        "bending less than",
        3.0,
        None,
        2.0,
    ),
    "sky": ThingMeasureKind(
        "Open to the sky",
        "What of the sky its own shape leaves, 0 to 1",
        "",
        0.0,
        1.0,
        0.01,
        2,
        "more open than",
        "less open than",
        None,
        0.7,
        0.2,
    ),
    "red": _own("red"),
    "green": _own("green"),
    "blue": _own("blue"),
}
