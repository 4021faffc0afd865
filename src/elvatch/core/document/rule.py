"""Rules: clauses that say where a layer lies, read one after the other like a sentence.

The first clause says where the layer may lie; each further one is joined to all before it by its
``join``: *and* both, *or* either, *except* there, *add* to what is there. A clause joined as *break-up*
lies nowhere by itself: it moves the soft edges of all others in and out.
"""

from __future__ import annotations

from typing import Annotated, Literal, Self

from pydantic import Field, model_validator

from elvatch.core.ground import clauses as c
from elvatch.core.ground.clauses import STRAIGHT, CurvePoint, Limits, MeasureClause
from elvatch.core.parts import Name, Part, PartId, Seed
from elvatch.core.shown import Shown
from elvatch.core.thing.measures import ThingMeasure

Join = Literal["and", "or", "except", "add", "break-up"]
NoiseKind = Literal["soft", "ridges", "cells", "patches"]
Channel = Literal["R", "G", "B", "A", "brightness"]
MOST_CLAUSES = 16


class _Joined(Part):
    join: Join = "and"
    strength: Annotated[float, Shown("Strength", "", 0, 4, 0.05, 2, pixel=0.01)] = Field(
        default=0.5, ge=0, le=4, description="As break-up: how far edges move, in widths of their soft ends"
    )


class OnMeasure(_Joined, MeasureClause):
    """Between two values of a measure."""


class _AsItIs(_Joined, Limits):
    """Reads a value from 0 to 1, taken as it is unless limits say otherwise."""

    lower: float | None = Field(default=1.0, ge=-1e9, le=1e9)
    soft_lower: float = Field(default=1.0, ge=0, le=1e9)
    curve: tuple[CurvePoint, ...] = Field(default=STRAIGHT, max_length=c.MOST_POINTS)


class OnNoise(_Joined, Limits):
    """Noise from about 0 to 1."""

    kind: Literal["noise"] = "noise"
    noise: NoiseKind = "soft"
    size_m: Annotated[float, Shown("Size", "m", 0.05, 5_000, 0.05, 2)] = Field(
        default=8.0, ge=0.05, le=5_000, description="Size of the noise's features"
    )
    seed: Annotated[Seed, Shown("Seed", "", 0, 1_000_000, 1)] = 1
    lower: float | None = Field(default=0.55, ge=-1e9, le=1e9)
    soft_lower: float = Field(default=0.2, ge=0, le=1e9)


class OnPainted(_AsItIs):
    """Where a mask is painted."""

    kind: Literal["painted"] = "painted"
    mask: PartId
    called: Name = Field(description="The mask's name when it was chosen, to name it should it be gone")


class OnPath(_Joined):
    """Along a drawn path; its width and edge are the path's own."""

    kind: Literal["path"] = "path"
    path: PartId
    called: Name = Field(description="The path's name when it was chosen")
    wider_m: Annotated[float, Shown("Wider", "m", -50, 200, 0.1, 1, pixel=0.05)] = Field(
        default=0.0, ge=-1_000, le=1_000, description="Added to the path's width"
    )
    opposite: bool = False


class OnImage(_AsItIs):
    """One channel of an image over the ground; beyond its edges there is nothing."""

    kind: Literal["image"] = "image"
    image: PartId
    called: Name = Field(description="The image's name when it was chosen")
    channel: Channel = "R"


class OnLayer(_AsItIs):
    """Where another layer is let in by its own rule and opacity, hidden or not."""

    kind: Literal["layer"] = "layer"
    layer: PartId
    called: Name = Field(description="The layer's name when it was chosen")


class OnNear(_Joined, Limits):
    """So far from the edge of the nearest of a strew's things, of one set by hand or of a path, metres on the map."""

    kind: Literal["near"] = "near"
    to: Literal["strew", "path", "thing"] = "strew"
    target: PartId = Field(description="Which strew or path, or which thing that is set by hand")
    called: Name = Field(description="Its name when it was chosen")
    upper: Annotated[float | None, Shown("away", "m", 0, 500, 0.05, 2, pixel=0.01)] = Field(
        default=0.5, ge=-1e9, le=1e9
    )
    soft_upper: float = Field(default=0.5, ge=0, le=1e9)

    @model_validator(mode="after")
    def _ends(self) -> Self:
        if self.every is not None:
            raise ValueError("what is near something does not repeat")
        return self

    def reach_m(self) -> float:
        """Return from which distance on nothing changes any more, metres."""
        ends = [end + soft for end, soft in ((self.lower, 0.0), (self.upper, self.soft_upper)) if end is not None]
        return max([1e-3, *ends])


class OnThing(_Joined, Limits):
    """Between two values of what a place on a thing is like; on the ground it lets nothing in."""

    kind: Literal["thing"] = "thing"
    of: ThingMeasure


Single = Annotated[
    OnMeasure | OnNoise | OnPainted | OnPath | OnImage | OnLayer | OnNear | OnThing, Field(discriminator="kind")
]


class Bracket(_Joined):
    """Clauses that are joined among themselves first."""

    kind: Literal["bracket"] = "bracket"
    clauses: tuple[Single, ...] = Field(min_length=1, max_length=12)
    opposite: bool = False


Clause = Annotated[
    OnMeasure | OnNoise | OnPainted | OnPath | OnImage | OnLayer | OnNear | OnThing | Bracket,
    Field(discriminator="kind"),
]


class Rule(Part):
    """Where a layer lies: its clauses in order; none is everywhere."""

    clauses: tuple[Clause, ...] = Field(default=(), max_length=MOST_CLAUSES)


class KeptRule(Part):
    """A rule kept under a name, to be used again."""

    id: PartId
    name: Name
    rule: Rule


def singles(rule: Rule) -> list[Single]:
    """Return a rule's clauses, those in brackets among them."""
    found: list[Single] = []
    for clause in rule.clauses:
        found.extend(clause.clauses if isinstance(clause, Bracket) else [clause])
    return found


def refers_to(clause: Clause) -> str | None:
    """Return the id of the mask, path, image, layer or strew that a clause refers to; None where to none."""
    if isinstance(clause, OnNear):
        return clause.target
    if isinstance(clause, OnPainted):
        return clause.mask
    if isinstance(clause, OnPath):
        return clause.path
    if isinstance(clause, OnImage):
        return clause.image
    return clause.layer if isinstance(clause, OnLayer) else None


def on(clause: MeasureClause, join: Join = "and") -> OnMeasure:
    """Return a limit of a measure as a clause of a rule."""
    return OnMeasure.model_validate(clause.model_dump() | {"join": join})
