"""How a texture set lies on the ground: its size, its projection, what hides its repeats, and its relief."""

from __future__ import annotations

from typing import Annotated, Literal, Self

from pydantic import Field, model_validator

from elvatch.core.parts import Bearing, ContentName, Part, Share
from elvatch.core.shown import Shown, share

LEAST_TILE_M, MOST_TILE_M = 0.01, 10_000.0
LEAST_PLANE_EDGE = 2.0
"""Below 2 a plane seen edge-on would count enough to show its smear."""

Projection = Literal["above", "triplanar", "downhill", "side"]
RepeatKind = Literal["none", "shift", "turn", "second"]
Meets = Literal["levelled", "on top", "cut in"]


class Repeats(Part):
    """What is done so that the eye does not find the tile again."""

    kind: RepeatKind = Field(
        default="none",
        description="shift keeps the texture's direction, turn does not; second mixes in a larger copy from afar",
    )
    strength: Annotated[Share, share("Strength", "Share of patches that are moved, or of the larger copy")] = Field(
        default=1.0, description="Share of patches that are moved, or of the larger copy"
    )
    second_scale: Annotated[
        float, Shown("Larger by", "×", 2, 50, 0.1, 1, True, "The larger copy's tile, in tiles")
    ] = Field(default=5.3, ge=2, le=50, description="The larger copy's tile, in tiles")


class NearDetail(Part):
    """A finer set that comes in as one gets close; its mean changes nothing."""

    set: ContentName | None = Field(default=None, description="None is the layer's own")
    tile_m: Annotated[
        float, Shown("Finer tile", "m", 0.02, 20, 0.01, 2, True, "Metres per repeat of the near detail")
    ] = Field(default=0.4, ge=LEAST_TILE_M, le=MOST_TILE_M)
    strength: Annotated[Share, share("Amount", "How far its colour, roughness and relief are added")] = 0.5
    relief_m: Annotated[
        float, Shown("Its relief", "m", 0, 0.2, 0.0005, 4, hint="Metres from the lowest to the highest of its height")
    ] = Field(default=0.004, ge=0, le=10, description="From the lowest to the highest of its height")

    @model_validator(mode="after")
    def _gentle(self) -> Self:
        if self.relief_m > self.tile_m:
            raise ValueError("the relief must not be larger than the tile it repeats over")
        return self


class Lie(Part):
    """How an image is repeated over the ground, whatever it is an image of."""

    tile_m: Annotated[float, Shown("Tile", "m", 0.05, 200, 0.05, 2, True, "Metres per repeat", 0.02)] = Field(
        default=2.0, ge=LEAST_TILE_M, le=MOST_TILE_M, description="Metres per repeat"
    )
    tile_down_m: float | None = Field(
        default=None, ge=LEAST_TILE_M, le=MOST_TILE_M, description="Down the texture; None is as across"
    )
    turn_deg: Annotated[float, Shown("Turn", "°", -180, 180, 1, hint="Counter-clockwise, facing the ground")] = Field(
        default=0.0, ge=-360, le=360, description="Counter-clockwise, facing the plane"
    )
    mirror: bool = Field(default=False, description="Left and right swapped")
    offset_east_m: Annotated[float, Shown("East", "m", -20, 20, 0.01, 2, hint="Offset eastwards", pixel=0.02)] = (
        Field(default=0.0, ge=-10_000, le=10_000)
    )
    offset_north_m: Annotated[float, Shown("North", "m", -20, 20, 0.01, 2, hint="Offset northwards", pixel=0.02)] = (
        Field(default=0.0, ge=-10_000, le=10_000)
    )
    offset_up_m: Annotated[
        float, Shown("Up", "m", -20, 20, 0.01, 2, hint="Offset up the steep planes", pixel=0.02)
    ] = Field(default=0.0, ge=-10_000, le=10_000, description="On steep planes")
    projection: Projection = "above"
    plane_edge: Annotated[
        float, Shown("Plane edge", "", 2, 64, 1, 0, True, "How sharply planes meet: low blends over more ground")
    ] = Field(
        default=8.0,
        ge=LEAST_PLANE_EDGE,
        le=64,
        description="Triplanar: how sharply planes meet (power of the normal)",
    )
    steep_turn_east_deg: Annotated[
        float, Shown("Turn E, W", "°", -180, 180, 1, hint="More turn on planes that face east or west")
    ] = Field(default=0.0, ge=-360, le=360, description="More turn of planes facing east or west")
    steep_turn_north_deg: Annotated[
        float, Shown("Turn N, S", "°", -180, 180, 1, hint="More turn on planes that face north or south")
    ] = Field(default=0.0, ge=-360, le=360, description="Of planes facing north or south")
    side_deg: Annotated[Bearing, Shown("Faces", "°", 0, 360, 1, hint="Compass direction that the wall faces")] = (
        Field(default=180.0, description="From a side: where the wall faces")
    )
    repeats: Repeats = Repeats()

    @property
    def down_m(self) -> float:
        """Metres per repeat down the texture."""
        return self.tile_m if self.tile_down_m is None else self.tile_down_m


class Fit(Lie):
    """How a texture set lies on the ground."""

    steep_set: ContentName | None = Field(default=None, description="Triplanar: another set for the steep planes")
    detail: NearDetail | None = None
    relief_m: Annotated[
        float,
        Shown(
            "Relief",
            "m",
            0,
            5,
            0.001,
            3,
            pixel=0.002,
            hint="Metres from the lowest to the highest of its height, along the ground's normal",
        ),
    ] = Field(default=0.02, ge=0, le=100, description="From the lowest to the highest of its height")
    relief_mid: Annotated[
        Share | None, share("Level at", "The height of the set that lies level with what it lies on")
    ] = Field(
        default=None,
        description="Height that lies level with the ground; None: the mean, on top the lowest, cut in the highest",
    )
    relief_curve: Annotated[
        float, Shown("Tops", "", -1, 1, 0.01, 2, hint="Below 0 rounds its tops, above 0 sharpens them")
    ] = Field(default=0.0, ge=-1, le=1, description="Above 0 sharpens its tops, below 0 rounds them")
    own_sides: bool = Field(
        default=True, description="Steep sides of its relief get the texture across them, not drawn out down them"
    )
    meets: Meets = Field(default="levelled", description="How its relief meets that of the layers below")

    @model_validator(mode="after")
    def _gentle(self) -> Self:
        if self.relief_m > min(self.tile_m, self.down_m):
            raise ValueError("the relief must not be larger than the tile it repeats over")
        return self
