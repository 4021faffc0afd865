"""A thing that a hand set: one, where it was put, as it was turned and sized."""

from __future__ import annotations

from typing import Annotated

from pydantic import Field

from elvatch.core.parts import Elevation, Name, Part, PartId, Place, Share
from elvatch.core.shown import Shown, share
from elvatch.core.thing.kinds import MOST_VARIANTS

MOST_SET = 500
_Turn = Annotated[float, Field(ge=-360, le=360)]
_Times = Annotated[float, Field(ge=0.1, le=10)]


class SetThing(Part):
    """A thing set by hand. At no turn its length points east and its own up is the world's."""

    id: PartId
    name: Name
    thing: PartId
    variant: int = Field(default=0, ge=0, lt=MOST_VARIANTS, description="Which of the thing's; the last where fewer")
    on: bool = True
    east_m: Annotated[Place, Shown("East", "m", 0, 200_000, 0.05, 2)]
    north_m: Annotated[Place, Shown("North", "m", 0, 200_000, 0.05, 2)]
    size_m: Annotated[
        float, Shown("Size", "m", 0.02, 60, 0.01, 2, True, "Its longest side before it is stretched")
    ] = Field(gt=0.004, le=1_000)
    along: Annotated[_Times, Shown("Along", "×", 0.2, 5, 0.01, 2, True, "Stretched along its own length")] = 1.0
    across: Annotated[_Times, Shown("Across", "×", 0.2, 5, 0.01, 2, True, "Stretched across its length")] = 1.0
    high: Annotated[_Times, Shown("High", "×", 0.2, 5, 0.01, 2, True, "Stretched along its own height")] = 1.0
    mirrored: bool = Field(default=False, description="Its left is its right: across its length, seen in a mirror")
    turn_deg: Annotated[_Turn, Shown("Turn", "°", -180, 180, 1, hint="About its own upright")] = 0.0
    nod_deg: Annotated[_Turn, Shown("Nod", "°", -180, 180, 1, hint="Its length up or down")] = 0.0
    roll_deg: Annotated[_Turn, Shown("Roll", "°", -180, 180, 1, hint="About its own length")] = 0.0
    leans: Annotated[Share, share("Leans", "0 upright, 1 square to the ground's slope")] = 0.0
    sunk: Annotated[Share, share("Sunk", "Of its height, at the lowest ground under its foot")] = 0.15
    follows: bool = Field(default=True, description="Whether it stands on the ground, also when that changes")
    foot_m: Annotated[Elevation, Shown("Foot at", "m", -20_000, 20_000, 0.05, 2, pixel=0.05)] = Field(
        default=0.0, description="Elevation of its foot where it does not follow the ground"
    )
    joins_m: Annotated[
        float, Shown("Joins over", "m", 0, 2, 0.01, 2, hint="Over so much of its foot it becomes the ground")
    ] = Field(default=0.12, ge=0, le=20)
    of_ground: Annotated[Share, share("Ground tint", "How far it takes the colour of the ground below")] = 0.0

    @property
    def joins(self) -> bool:
        """Whether the ground about it and it go into one another."""
        return self.on and self.joins_m > 0

    @property
    def stretch(self) -> tuple[float, float, float]:
        """Factors along its own axes; below 0 where it is mirrored."""
        return self.along, -self.across if self.mirrored else self.across, self.high
