"""Numbers by which a site is looked at and worked on that are no part of its recipe."""

from __future__ import annotations

from typing import Annotated

from pydantic import Field

from elvatch.core.parts import Part
from elvatch.core.shown import Shown


class ViewNumbers(Part):
    """What is set in the page alone; what each begins with, and what it may be."""

    contour_m: Annotated[float, Shown("Contour interval", "m", 0, 1_000, 0.05, 2)] = Field(default=0.0, ge=0)
    cut_deg: Annotated[float, Shown("Transect bearing", "°", 0, 360, 1)] = Field(default=90.0, ge=0, le=360)
    cut_m: Annotated[float, Shown("Length of the cut", "m", 0.5, 30, 0.5, 1, pixel=0.02)] = Field(default=3.0, gt=0)
    relief_limit_m: Annotated[float, Shown("Limit of relief", "m", 0, 5, 0.005, 3, pixel=0.001)] = Field(
        default=0.05, ge=0
    )
    apart_m: Annotated[float, Shown("Apart along the path", "m", 0.1, 500, 0.1, 1, pixel=0.1)] = Field(
        default=4.0, gt=0
    )
    nothing_upto: Annotated[float, Shown("Nothing up to", "", -1, 1, 0.01, 2, pixel=0.005)] = 0.0
    all_from: Annotated[float, Shown("All from", "", 0, 2, 0.01, 2, pixel=0.005)] = 1.0
