"""What a recipe says of water that stands on the site at one level."""

from __future__ import annotations

from typing import Annotated

from pydantic import Field

from elvatch.core.document.light import Colour, Light
from elvatch.core.parts import Bearing, Name, Part
from elvatch.core.shown import Shown


class Water(Part):
    """Still water up to a level; off until it is wanted."""

    on: bool = False
    level_m: Annotated[float, Shown("Level", "m", -20_000, 20_000, 0.01, 2, pixel=0.02)] = Field(
        default=0.0, ge=-20_000, le=20_000, description="Elevation of its surface"
    )
    clarity_m: Annotated[
        float,
        Shown("Clarity", "m", 0.02, 60, 0.01, 2, decades=True, hint="Way over which white light turns to its colour"),
    ] = Field(default=1.5, ge=0.01, le=1000, description="Way through it over which white light turns to its colour")
    colour: Colour = "#7f8f6a"
    ripple_m: Annotated[
        float, Shown("Ripples", "m", 0, 0.5, 0.001, 3, hint="From trough to crest; 0 is a mirror", pixel=0.001)
    ] = Field(default=0.004, ge=0, le=5, description="Height of its ripples from trough to crest")
    ripple_bearing_deg: Annotated[Bearing, Shown("Ripples from", "°", 0, 360, 1)] = 250.0
    wet_m: Annotated[
        float, Shown("Wet band", "m", 0, 5, 0.01, 2, hint="Height above the water up to which ground is wet")
    ] = Field(default=0.12, ge=0, le=1000, description="Height above it up to which the ground is wet")

    def level(self) -> float | None:
        """Return the elevation of its surface, None where there is none."""
        return self.level_m if self.on else None


class KeptLight(Part):
    """A light kept under a name, for any site; of water only how it looks, since levels are a site's own."""

    name: Name
    light: Light
    water: Water = Water()

    def files(self) -> list[str]:
        """Return the content names of the files it needs."""
        return self.light.files()
