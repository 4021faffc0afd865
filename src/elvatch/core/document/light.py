"""What a recipe says of light: sun, sky, air, and what is seen beyond the edge of the site."""

from __future__ import annotations

import datetime
from typing import Annotated, Literal

from pydantic import Field

from elvatch.core.parts import Bearing, ContentName, Part, Share
from elvatch.core.shown import Shown, share

Colour = Annotated[str, Field(pattern=r"^#[0-9a-f]{6}$", description="sRGB, as #rrggbb")]
Beyond = Literal["ground", "block"]


class Mist(Part):
    """A layer of mist that lies in the valleys."""

    on: bool = False
    top_m: Annotated[
        float, Shown("Top at", "m", -20_000, 20_000, 0.1, 1, hint="Elevation up to which it is dense", pixel=0.2)
    ] = Field(default=0.0, ge=-20_000, le=20_000, description="Elevation up to which it is dense")
    soft_m: Annotated[
        float, Shown("Thins over", "m", 0.1, 2000, 0.1, 1, decades=True, hint="How it thins out above its top")
    ] = Field(default=10.0, gt=0, le=10_000, description="Above its top it is thinner by a factor e over so much")
    visibility_m: Annotated[
        float, Shown("Seen through", "m", 1, 50_000, 1, 0, decades=True, hint="How far one sees inside it")
    ] = Field(default=400.0, ge=1, le=500_000, description="Visibility inside it, metres")
    colour: Colour = "#ffffff"


class When(Part):
    """A latitude, a date and an hour, which say where the sun stands."""

    latitude_deg: Annotated[float, Shown("Latitude", "°", -90, 90, 0.1, 1, hint="North is positive")] = Field(
        default=54.0, ge=-90, le=90, description="North is positive"
    )
    day: datetime.date = datetime.date(2026, 6, 21)
    hour: Annotated[float, Shown("Hour", "h", 0, 24, 0.05, 2, hint="Mean solar time: near 12 it is highest")] = Field(
        default=12.0, ge=0, le=24, description="Mean solar time"
    )


class ImageLight(Part):
    """A panorama of the whole sky that lights in place of the clear sky; its sun is found and cast as one."""

    file: ContentName
    file_name: Annotated[str, Field(min_length=1, max_length=120)]
    turn_deg: Annotated[Bearing, Shown("Turned", "°", 0, 360, 1)] = Field(
        default=0.0, description="Bearing at which the image's middle stands"
    )
    shows: Literal["sharp", "blurred", "no"] = Field(default="sharp", description="How it is seen behind the ground")


class Light(Part):
    """Sun, sky and air; brightness is against a clear day's."""

    sun_bearing_deg: Annotated[Bearing, Shown("Sun from", "°", 0, 360, 1)] = 235.0
    sun_height_deg: Annotated[float, Shown("Sun height", "°", -6, 90, 1)] = Field(
        default=34.0, ge=-6, le=90, description="Over the level horizon; below 0 it has set"
    )
    when: When | None = Field(
        default=None, description="What the sun's angles were last worked out from; nothing follows from it"
    )
    sun: Annotated[float, Shown("Sun brightness", "×", 0, 4, 0.05, 2)] = Field(
        default=1.0, ge=0, le=4, description="Brightness of the sun against a clear day's"
    )
    sun_width_deg: Annotated[
        float, Shown("Sun width", "°", 0.1, 20, 0.01, 2, decades=True, hint="0.53 is the sun; wider softens shadows")
    ] = Field(default=0.53, ge=0.1, le=20, description="Across its disc")
    sky: Annotated[float, Shown("Sky brightness", "×", 0, 4, 0.05, 2)] = Field(
        default=1.0, ge=0, le=4, description="Brightness of the sky against a clear day's"
    )
    overcast: Annotated[Share, share("Overcast", "How much of the sky is cloud, even and grey")] = 0.0
    exposure_ev: Annotated[float, Shown("Exposure", "EV", -6, 6, 0.1, 1)] = Field(default=0.0, ge=-6, le=6)
    visibility_km: Annotated[
        float | None,
        Shown("Visibility", "km", 0.05, 2000, 0.05, 1, decades=True, hint="Where a black thing can just be seen"),
    ] = Field(default=None, ge=0.02, le=20_000, description="Left out: as clear as the site's size asks")
    scale_height_m: Annotated[
        float, Shown("Thins over", "m", 10, 10_000, 10, 0, decades=True, hint="How the air clears with height")
    ] = Field(default=4000.0, ge=1, le=100_000, description="Over so much height the air is thinner by a factor e")
    mist: Mist = Mist()
    image: ImageLight | None = None
    beyond: Beyond = Field(default="ground", description="Beyond the edge the ground goes on, or it is a cut block")

    def files(self) -> list[str]:
        """Return the content names of the files it needs."""
        return [self.image.file] if self.image else []
