"""Rules: clauses that say where a layer lies, read one after the other like a sentence.

The first clause says where the layer may lie; each further one is joined to all before it by its
``join``: *and* both, *or* either, *except* there, *add* to what is there. A clause joined as *break-up*
lies nowhere by itself: it moves the soft edges of all others in and out.
"""

from __future__ import annotations

from typing import TYPE_CHECKING, Annotated, Literal, Self, Union

from pydantic import Field, model_validator

from elvatch.core.document.clause import ClauseBase, Join, kinds, number_words
from elvatch.core.ground import clauses as c
from elvatch.core.ground.clauses import STRAIGHT, CurvePoint, Limits, MeasureClause
from elvatch.core.ground.measures import KINDS
from elvatch.core.parts import Name, Part, PartId, Seed
from elvatch.core.shown import Choice, Option, Shown
from elvatch.core.thing.measures import KINDS as THING_KINDS
from elvatch.core.thing.measures import ThingMeasure

NoiseKind = Literal["soft", "ridges", "cells", "patches"]
Channel = Literal["R", "G", "B", "A", "brightness"]
MOST_CLAUSES = 16
_COMPASS = ("north", "north-east", "east", "south-east", "south", "south-west", "west", "north-west")


def _compass(bearing_deg: float) -> str:
    """Return the nearest of eight compass names."""
    return _COMPASS[round(bearing_deg / 45) % 8]


class OnMeasure(ClauseBase, MeasureClause):
    """Between two values of a measure."""

    title = "Measure"
    about = "Between two values of a measure"
    phrase = "of any [{measure}]"
    reads = "measure"

    def said(self) -> str:
        """Return its words: "steeper than 32°"."""
        above, below = KINDS[self.measure].above, KINDS[self.measure].below
        if self.measure == "aspect":
            if self.lower is None or self.upper is None:
                return "facing anywhere"
            ends = f"{self.lower:g}° to {self.upper:g}°"
            return f"facing {_compass(self.lower)} through to {_compass(self.upper)} ({ends})"
        told = [(above, self.lower), (below, self.upper)]
        text = " and ".join(f"{word} {number_words(end, self.unit)}" for word, end in told if end is not None)
        text = text or super().said()
        return text if self.every is None else f"{text}, again every {number_words(self.every, self.unit)}"


class _AsItIs(ClauseBase, Limits):
    """Reads a value from 0 to 1, taken as it is unless limits say otherwise."""

    lower: float | None = Field(default=1.0, ge=-1e9, le=1e9)
    soft_lower: float = Field(default=1.0, ge=0, le=1e9)
    curve: tuple[CurvePoint, ...] = Field(default=STRAIGHT, max_length=c.MOST_POINTS)


class OnNoise(ClauseBase, Limits):
    """Noise from about 0 to 1."""

    title = "Noise"
    about = "Lies in the noise's patches"
    phrase = "in [{noise} noise] of {size_m:g} m"
    reads = "value"
    short = "noise"

    kind: Literal["noise"] = "noise"
    noise: Annotated[
        NoiseKind,
        Choice(
            "Kind of noise",
            (
                Option("soft", "Soft", "Clouds"),
                Option("ridges", "Ridges", "Thin winding lines"),
                Option("cells", "Cells", "Rounded blotches"),
                Option("patches", "Patches", "Areas that differ as a whole"),
            ),
        ),
    ] = "soft"
    size_m: Annotated[float, Shown("Size", "m", 0.05, 5_000, 0.05, 2)] = Field(
        default=8.0, ge=0.05, le=5_000, description="Size of the noise's features"
    )
    seed: Annotated[Seed, Shown("Seed", "", 0, 1_000_000, 1)] = 1
    lower: float | None = Field(default=0.55, ge=-1e9, le=1e9)
    soft_lower: float = Field(default=0.2, ge=0, le=1e9)


class OnPainted(_AsItIs):
    """Where a mask is painted."""

    title = "Painted"
    about = "Where a mask is painted"
    phrase = "painted on [{called}]"
    reads = "value"
    group = "hand"
    id_field = "mask"
    refers = ("mask",)
    drawn = True

    kind: Literal["painted"] = "painted"
    mask: PartId
    called: Name = Field(description="The mask's name when it was chosen, to name it should it be gone")


class OnPath(ClauseBase):
    """Along a drawn path; its width and edge are the path's own."""

    title = "Along a path"
    about = "Along a drawn path; its width and edge are the path's own"
    phrase = "along [{called}]"
    reads = "edge"
    group = "hand"
    id_field = "path"
    refers = ("path",)

    kind: Literal["path"] = "path"
    path: PartId
    called: Name = Field(description="The path's name when it was chosen")
    wider_m: Annotated[float, Shown("Wider than the path by", "m", -50, 200, 0.1, 1, pixel=0.05)] = Field(
        default=0.0, ge=-1_000, le=1_000, description="Added to the path's width"
    )
    opposite: bool = False


class OnImage(_AsItIs):
    """One channel of an image over the ground; beyond its edges there is nothing."""

    title = "Image"
    about = "One channel of an image; another can be chosen once it is there"
    phrase = "in [channel {channel} of {called}]"
    reads = "value"
    group = "image"
    offer = "{called}, {channel}"
    id_field = "image"
    refers = ("image",)
    drawn = True

    kind: Literal["image"] = "image"
    image: PartId
    called: Name = Field(description="The image's name when it was chosen")
    channel: Annotated[
        Channel,
        Choice("Channel", (*(Option(one, one) for one in ("R", "G", "B", "A")), Option("brightness", "Brightness"))),
    ] = "R"


class OnLayer(_AsItIs):
    """Where another layer is let in by its own rule and opacity, hidden or not."""

    title = "Layer"
    about = "Where its own rule lets it in"
    phrase = "where [{called}] lies"
    reads = "value"
    group = "layer"
    id_field = "layer"
    refers = ("layer",)
    breaks_up = False

    kind: Literal["layer"] = "layer"
    layer: PartId
    called: Name = Field(description="The layer's name when it was chosen")


class OnNear(ClauseBase, Limits):
    """So far from the edge of the nearest of a strew's things, of one set by hand or of a path, metres on the map."""

    title = "Near"
    about = "So far from its edge: of the nearest of a strew's things, of a thing's foot, of a path"
    phrase = "about [{called}]"
    reads = "distance"
    group = "near"
    offer = "Near {called}"
    short = "near {called}"
    id_field = "target"
    refers = ("strew", "thing", "path")
    where_field = "to"

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

    def said(self) -> str:
        """Return its words: "within 2 m of Boulders"."""
        if self.lower is None:
            return super().said() if self.upper is None else f"within {self.upper:g} m of {self.called}"
        if self.upper is None:
            return f"{self.lower:g} m away from {self.called}"
        return f"{self.lower:g} to {self.upper:g} m from {self.called}"

    def reach_m(self) -> float:
        """Return from which distance on nothing changes any more, metres."""
        ends = [end + soft for end, soft in ((self.lower, 0.0), (self.upper, self.soft_upper)) if end is not None]
        return max([1e-3, *ends])


class OnThing(ClauseBase, Limits):
    """Between two values of what a place on a thing is like; on the ground it lets nothing in."""

    title = "Place on the thing"
    about = "Between two values of what a place on a thing is like"
    phrase = "[{of}]: any"
    reads = "place on a thing"

    kind: Literal["thing"] = "thing"
    of: ThingMeasure

    def said(self) -> str:
        """Return its words: "facing up within 55°"."""
        kind = THING_KINDS[self.of]
        ends = ((kind.above, self.lower), (kind.below, self.upper))
        told = [f"{word} {number_words(end, kind.unit).rstrip()}" for word, end in ends if end is not None]
        return " and ".join(told) or f"{kind.title.lower()}: any"


if TYPE_CHECKING:
    Single = ClauseBase
else:
    Single = Annotated[Union[kinds()], Field(discriminator="kind")]  # noqa: UP007  (made of what there is)


class Bracket(ClauseBase):
    """Clauses that are joined among themselves first."""

    title = "Brackets"
    about = "Clauses that are joined among themselves first"
    phrase = "[(]{clauses})"
    reads = "clauses"
    short = "brackets"
    breaks_up = False

    kind: Literal["bracket"] = "bracket"
    clauses: tuple[Single, ...] = Field(min_length=1, max_length=12)
    opposite: bool = False

    @classmethod
    def begun(cls) -> Self:
        """Return new brackets round a noise."""
        return cls(clauses=(OnNoise(),))

    def said(self) -> str:
        """Return the words of all that it holds."""
        inside = (words(one) if k == 0 else f"{one.join} {words(one)}" for k, one in enumerate(self.clauses))
        return f"({', '.join(inside)})"


if TYPE_CHECKING:
    Clause = ClauseBase
else:
    Clause = Annotated[Union[kinds()], Field(discriminator="kind")]  # noqa: UP007  (made of what there is)


class Rule(Part):
    """Where a layer lies: its clauses in order; none is everywhere."""

    clauses: tuple[Clause, ...] = Field(default=(), max_length=MOST_CLAUSES)


class KeptRule(Part):
    """A rule kept under a name, to be used again."""

    id: PartId
    name: Name
    rule: Rule


def words(clause: Clause) -> str:
    """Return a clause in words, without what joins it: "steeper than 32°", "not painted on Tyres"."""
    return f"not {clause.said()}" if clause.opposite else clause.said()


def singles(rule: Rule) -> list[Single]:
    """Return a rule's clauses, those in brackets among them."""
    found: list[Single] = []
    for clause in rule.clauses:
        found.extend(clause.clauses if isinstance(clause, Bracket) else [clause])
    return found


def refers_to(clause: Clause) -> str | None:
    """Return the id of the mask, path, image, layer, strew or thing that a clause refers to; None where to none."""
    found = clause.reference()
    return found.id if found else None


def on(clause: MeasureClause, join: Join = "and") -> OnMeasure:
    """Return a limit of a measure as a clause of a rule."""
    return OnMeasure.model_validate(clause.model_dump() | {"join": join})
