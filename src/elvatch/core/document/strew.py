"""A strew: things laid out by a rule, many at a time.

Where they lie follows from rule, numbers and seed alone; only what a hand changed is kept one by one.
"""

from __future__ import annotations

import zlib
from typing import Annotated, Literal, Self

from pydantic import Field, model_validator

from elvatch.core.document.rule import Rule, singles
from elvatch.core.parts import Name, Part, PartId, Place, Seed, Share
from elvatch.core.shown import Shown, share

MOST_STREWS = 32
MOST_BY_HAND = 4_000
MOST_KINDS = 12
MOST_DENSE = 10_000.0
"""Things on 100 square metres."""


class Mixed(Part):
    """One of a strew's things and how much of the strew it is, against the others."""

    thing: PartId
    weight: Annotated[float, Shown("Weight", "", 0, 10, 0.1, 1)] = Field(default=1.0, ge=0, le=100)


class Size(Part):
    """How long the longest side of things is, metres, and how far small ones are more frequent."""

    from_m: Annotated[float, Shown("Smallest", "m", 0.02, 20, 0.01, 2, True)] = Field(default=0.3, ge=0.005, le=200)
    to_m: Annotated[float, Shown("Largest", "m", 0.02, 20, 0.01, 2, True)] = Field(default=1.2, ge=0.005, le=200)
    bias: Annotated[float, Shown("Small ones", "", 0, 4, 0.1, 1, hint="0 all sizes alike, 4 nearly all small")] = (
        Field(
            default=1.0,
            ge=0,
            le=8,
            description="Density of sizes falls as (1 - t) to this power from smallest to largest",
        )
    )
    at_foot: Annotated[Share, share("Large at the foot", "How far large ones lie low and small ones high")] = 0.0
    foot_m: Annotated[float, Shown("…from", "m", -500, 9_000, 1, 0, hint="Up to here all sizes lie")] = Field(
        default=0.0, ge=-20_000, le=20_000
    )
    top_m: Annotated[float, Shown("…to", "m", -500, 9_000, 1, 0, hint="From here on only the smallest")] = Field(
        default=100.0, ge=-20_000, le=20_000
    )

    @model_validator(mode="after")
    def _ordered(self) -> Self:
        if self.to_m < self.from_m:
            raise ValueError("the largest must not be smaller than the smallest")
        return self


class Standing(Part):
    """How a strew's things stand: sunk by a share of their height, leaning with the ground, turned."""

    sunk_from: Annotated[Share, share("Sunk from", "Of its height, at the lowest ground under its foot")] = 0.1
    sunk_to: Annotated[Share, share("Sunk to")] = 0.3
    leans: Annotated[Share, share("Leans", "0 upright, 1 square to the ground's slope")] = 0.5
    tilt_deg: Annotated[float, Shown("Tilted", "°", 0, 90, 1, hint="By chance, up to so much")] = Field(
        default=6.0, ge=0, le=90
    )
    turned: Literal["any", "fall", "path"] = Field(default="any", description="Any way, along the fall, along a path")
    path: PartId | None = Field(default=None, description="Whose direction it takes")
    turn_deg: Annotated[float, Shown("Turned by", "°", -180, 180, 1)] = Field(default=0.0, ge=-180, le=180)
    jitter_deg: Annotated[float, Shown("Give or take", "°", 0, 180, 1)] = Field(default=15.0, ge=0, le=180)

    @model_validator(mode="after")
    def _ordered(self) -> Self:
        if self.sunk_to < self.sunk_from:
            raise ValueError("sunk to must not be less than sunk from")
        return self


class Clusters(Part):
    """Things that lie in clusters."""

    clustered: Annotated[Share, share("Clustered", "How much of the strew lies in clusters")] = 0.0
    size_m: Annotated[float, Shown("…across", "m", 0.2, 200, 0.1, 1, True)] = Field(default=6.0, ge=0.05, le=5_000)
    apart_m: Annotated[float, Shown("…apart", "m", 0.2, 500, 0.1, 1, True)] = Field(default=14.0, ge=0.05, le=10_000)


class Looks(Part):
    """How a strew's things differ in colour, and what they take from the ground."""

    hue: Annotated[Share, share("Own colour", "How far their warmth differs")] = 0.12
    brightness: Annotated[Share, share("Brightness", "How far their brightness differs")] = 0.15
    of_ground: Annotated[Share, share("Ground tint", "How far they take the colour of the ground below")] = 0.15
    foot_m: Annotated[
        float, Shown("Foot joins", "m", 0, 1, 0.01, 2, hint="Over so much of their foot the ground climbs on them")
    ] = Field(default=0.06, ge=0, le=20)


class Touch(Part):
    """What a brush does to a strew where its mask is painted: more, or fewer down to none; of one thing or of all."""

    mask: PartId
    does: Literal["more", "fewer"] = "fewer"
    thing: PartId | None = None


class ByHand(Part):
    """One of a strew's things that a hand changed, by its number: where it now lies, or that it is gone.

    ``east_m, north_m`` None where it stays; ``times`` its size is multiplied by and ``turn_deg`` added to its turn.
    """

    number: int = Field(ge=-(2**62), le=2**62)
    gone: bool = False
    east_m: Place | None = None
    north_m: Place | None = None
    times: Annotated[float, Shown("size ×", "", 0.05, 20, 0.05, 2, pixel=0.01)] = Field(default=1.0, ge=0.05, le=20)
    turn_deg: Annotated[float, Shown("turned", "°", -180, 180, 1)] = Field(default=0.0, ge=-360, le=360)


class Added(Part):
    """A thing that a hand added to a strew."""

    number: int = Field(ge=0, le=2**62)
    thing: PartId
    east_m: Place
    north_m: Place
    size_m: float = Field(gt=0.004, le=200)
    turn_deg: float = Field(default=0.0, ge=-360, le=360)


class Strew(Part):
    """Things laid out by a rule."""

    id: PartId
    name: Name
    on: bool = True
    kinds: tuple[Mixed, ...] = Field(min_length=1, max_length=MOST_KINDS)
    per_100_m2: Annotated[
        float, Shown("On 100 m²", "", 0.01, 400, 0.01, 2, True, "As many on 100 m² of map where the rule lets all in")
    ] = Field(default=2.0, ge=0, le=MOST_DENSE, description="Of map; 0 where only what a hand added lies")
    apart_m: Annotated[float, Shown("At least apart", "m", 0, 20, 0.05, 2, hint="Between their middles")] = Field(
        default=0.0, ge=0, le=500
    )
    rule: Rule = Rule()
    size: Size = Size()
    stands: Standing = Standing()
    clusters: Clusters = Clusters()
    looks: Looks = Looks()
    clear_of: tuple[PartId, ...] = Field(
        default=(), max_length=MOST_STREWS, description="Strews whose things it keeps clear of"
    )
    at_most: Annotated[int, Shown("At most", "", 1, 5_000_000, 1)] = Field(
        default=200_000, ge=1, le=5_000_000, description="A ceiling, held to within a hundredth; that it cuts is told"
    )
    seed: Seed = 1
    touches: tuple[Touch, ...] = Field(default=(), max_length=8)
    by_hand: tuple[ByHand, ...] = Field(default=(), max_length=MOST_BY_HAND)
    added: tuple[Added, ...] = Field(default=(), max_length=MOST_BY_HAND)

    @property
    def chance(self) -> int:
        """Its seed among those of all strews: two with the same seed lie at different places."""
        return (self.seed * 7_919 + zlib.crc32(self.id.encode())) % (1 << 24)


def asks_for(rule: Rule) -> list[str]:
    """Return the ids of the strews that a rule asks for."""
    found = [clause.reference() for clause in singles(rule)]
    return [one.id for one in found if one is not None and one.where == "strew"]
