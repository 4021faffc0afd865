"""Wear: an imperfection laid over layers, where it comes from, where it lies and what it does.

Roughness and metallic are raw numbers, colours linear light; relief is millimetres. A wear lies at a place
in the column: over the layer it stands on and all below, under all above.
"""

from __future__ import annotations

from dataclasses import replace
from typing import Annotated, Literal, Self

from pydantic import Field, model_validator

from elvatch.core.blend import BlendMode, Tinting
from elvatch.core.document.fit import LEAST_TILE_M, MOST_TILE_M, Lie
from elvatch.core.document.rule import Rule
from elvatch.core.parts import ContentName, Name, Part, PartId, Seed, Share
from elvatch.core.refusal import RefusalError
from elvatch.core.shown import Shown, fine, share
from elvatch.core.stock import overlays

MOST_WEARS = 32


class Made(Part):
    """An overlay that a generator draws; the same numbers draw the same."""

    kind: Literal["made"] = "made"
    what: str = Field(max_length=40, description="Which generator")
    seed: Seed = 1
    controls: dict[str, float] = Field(default_factory=dict, max_length=12, description="Those not given are usual")

    @model_validator(mode="after")
    def _can_be_drawn(self) -> Self:
        try:
            overlays.check(self.what, self.controls)
        except RefusalError as error:
            raise ValueError(str(error)) from None
        return self


class FromStock(Part):
    """An overlay of the stock: its mask, or the brightness of what it has."""

    kind: Literal["stock"] = "stock"
    set: ContentName


Source = Annotated[Made | FromStock, Field(discriminator="kind")]


class Range(Part):
    """What of the overlay counts: values from none to full, with soft ends."""

    turned: bool = Field(default=False, description="Dark marks count, not light ones")
    none_at: Annotated[Share, Shown("None at", "", 0, 0.99, 0.01, 2, hint="Values up to this are no mark")] = Field(
        default=0.0, description="What counts as nothing, after turning"
    )
    full_at: Annotated[
        Share, Shown("Full at", "", 0.01, 1, 0.01, 2, hint="Values from this on are the mark in full")
    ] = Field(default=1.0, description="What counts in full")
    soft: Annotated[Share, share("Soft ends", "0 straight between both, 1 eased at both ends")] = Field(
        default=0.0, description="0 straight between the two, 1 eased at both ends"
    )

    @model_validator(mode="after")
    def _ordered(self) -> Self:
        if self.full_at - self.none_at < 0.001:
            raise ValueError("what counts in full must lie above what counts as nothing")
        return self


class OverGround(Part):
    """Repeated over the ground, by its lie."""

    kind: Literal["ground"] = "ground"


class AlongLevels(Part):
    """Drawn out along the levels of a measure: the overlay's top edge lies at ``from_m``."""

    kind: Literal["levels"] = "levels"
    measure: Literal["elevation", "relative-height"] = "elevation"
    radius_m: Annotated[
        float, Shown("Within", "m", 1, 500, 1, 0, True, "Radius of the surroundings that it is measured against")
    ] = Field(default=20.0, gt=0, le=20_000, description="Of relative height")
    from_m: Annotated[
        float, Shown("From", "m", -20_000, 20_000, 0.01, 2, hint="Where the overlay's lowest edge lies")
    ] = Field(default=0.0, ge=-20_000, le=20_000)
    spacing_m: Annotated[float, Shown("Over", "m", 0.01, 100, 0.01, 2, True, "Metres up over which it lies once")] = (
        Field(default=1.0, ge=0.001, le=2_000, description="Over which the overlay lies once")
    )
    once: bool = Field(default=False, description="Not repeated above and below")
    wobble_m: Annotated[float, Shown("Wanders", "m", 0, 2, 0.01, 2, hint="How far levels wander up and down")] = (
        Field(default=0.0, ge=0, le=100, description="How far levels wander up and down")
    )
    wobble_size_m: Annotated[
        float, Shown("…every", "m", 0.1, 200, 0.1, 1, True, "Distance over which they wander")
    ] = Field(default=6.0, ge=0.05, le=5_000)


class AlongPath(Part):
    """Along a drawn path: the overlay's width lies across it, its length along it."""

    kind: Literal["path"] = "path"
    path: PartId
    called: Name = Field(description="The path's name when it was chosen")
    width_m: Annotated[float, Shown("Width", "m", 0.05, 20, 0.01, 2, True, "Across the path")] = Field(
        default=2.0, ge=0.01, le=500
    )
    length_m: Annotated[float, Shown("Length", "m", 0.05, 20, 0.01, 2, True, "Along the path for one repeat")] = (
        Field(default=1.0, ge=LEAST_TILE_M, le=MOST_TILE_M, description="Metres along it for a repeat")
    )


Follows = Annotated[OverGround | AlongLevels | AlongPath, Field(discriminator="kind")]


class ByRelief(Part):
    """Lets wear through by how high the relief under it stands at a place."""

    where: Literal["everywhere", "hollows", "raised"] = "everywhere"
    level: Annotated[Share, share("Level", "Of the relief under it, from its lowest to its highest")] = Field(
        default=0.5, description="Of the relief, from its lowest to its highest"
    )
    soft: Annotated[Share, share("Soft", "Over so much of the relief it comes in")] = Field(
        default=0.3, description="Over so much of the relief it comes in"
    )


class Blend(Part):
    """How a raw number is changed: by the overlay's own values, or towards one value where it lies."""

    mode: BlendMode = "screen"
    strength: Annotated[Share, fine("Strength")] = 0.15
    towards: Annotated[Share | None, Shown("Towards", "", 0, 1, 0.01, 2, usual=0.4)] = Field(
        default=None, description="One value; None is the overlay's own"
    )


class Colouring(Part):
    """How base colour is changed where the overlay lies."""

    mode: Tinting = "multiply"
    strength: Annotated[Share, fine("Strength")] = 0.25
    colour: str = Field(default="#8a8178", pattern=r"^#[0-9a-f]{6}$", description="sRGB")


class ReliefEffect(Part):
    """What wear does to the surface, along its normal."""

    way: Literal["carve", "raise"] = "carve"
    depth_mm: Annotated[
        float,
        Shown(
            "Depth",
            "mm",
            0,
            30,
            0.001,
            2,
            pixel=0.02,
            hint="Along the normal; no more than the relief of what it lies over",
        ),
    ] = Field(default=0.2, ge=0, le=500)


class Effects(Part):
    """What a wear does; those left out it does not."""

    roughness: Blend | None = None
    metallic: Blend | None = None
    colour: Colouring | None = None
    relief: ReliefEffect | None = None
    worn_through: Annotated[Share | None, replace(fine("Removed"), usual=0.3)] = Field(
        default=None, description="How far it removes the layers it lies over, to show what is below"
    )


class WearBody(Part):
    """What a wear is wherever it is used: source, range, lie and effects; kept as a preset."""

    source: Source
    range: Range = Range()
    follows: Follows = OverGround()
    lie: Lie = Lie()
    by_relief: ByRelief = ByRelief()
    strength: Annotated[Share, fine("All of it", "Strength of all its effects")] = Field(
        default=1.0, description="Of all its effects"
    )
    effects: Effects = Effects()


class Wear(WearBody):
    """A wear of one site."""

    id: PartId
    name: Name
    on: bool = True
    place: PartId | None = Field(default=None, description="The layer right under it; None is on top of all")
    over: tuple[PartId, ...] = Field(default=(), max_length=64, description="Only these layers; none is all below")
    rule: Rule = Rule()

    def sets(self) -> list[ContentName]:
        """Return the set it is drawn from, if one."""
        return [self.source.set] if isinstance(self.source, FromStock) else []


class Preset(Part):
    """A wear kept to be used again, on any site."""

    name: Name
    laid: WearBody
    rule: Rule = Rule()
