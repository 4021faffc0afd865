"""A layer of a column: a texture set, where it lies, how it is laid, how it meets what lies below, how it looks."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from elvatch.core.document.fit import LEAST_TILE_M, MOST_TILE_M, Fit
from elvatch.core.document.rule import Rule
from elvatch.core.parts import ContentName, Name, Part, PartId, Share
from elvatch.core.shown import Shown, share


class Edge(Part):
    """How a layer meets what lies below it."""

    kind: Literal["fade", "height"] = "height"
    width_m: Annotated[
        float,
        Shown(
            "Edge width", "m", 0, 0.5, 0.002, 3, hint="Height difference over which the higher one wins", pixel=0.002
        ),
    ] = Field(default=0.02, ge=0, le=10, description="Height over which the higher one wins")
    fingers: Annotated[
        Share, share("Fingers", "How far the soft end of its rule breaks up into fingers and islands")
    ] = Field(default=0.0, description="How far the soft end of its rule breaks up into fingers and islands")
    fingers_m: Annotated[float, Shown("…size", "m", 0.1, 100, 0.1, 1, True, "Across a usual finger")] = Field(
        default=3.0, ge=0.05, le=5_000, description="Across a usual finger"
    )
    strip_set: ContentName | None = Field(
        default=None,
        description="What lies along its boundary, as bare soil or litter does; None: nothing of its own",
    )
    strip: Annotated[Share, share("Strip", "How much of the soft end the strip along its boundary takes")] = Field(
        default=0.25, description="How much of the soft end the strip along its boundary takes"
    )
    strip_tile_m: Annotated[float, Shown("…tile", "m", 0.25, 20, 0.05, 2, True)] = Field(
        default=2.0, ge=LEAST_TILE_M, le=MOST_TILE_M, description="Across a repeat of the strip's set"
    )


class Look(Part):
    """Adjustments of a layer's material; the defaults leave the set as it is."""

    brightness: Annotated[float, Shown("Brightness", "×", 0.1, 4, 0.01, 2, decades=True)] = Field(
        default=1.0, ge=0.1, le=4, description="Factor on base colour"
    )
    hue_deg: Annotated[
        float, Shown("Colour turn", "°", -180, 180, 1, hint="Turns its colour round the colour wheel")
    ] = Field(default=0.0, ge=-180, le=180, description="Turn of the colour wheel")
    saturation: Annotated[float, Shown("Saturation", "×", 0, 3, 0.01, 2, hint="0 is grey")] = Field(
        default=1.0, ge=0, le=3, description="0 is grey, 1 as it is"
    )
    colour_lowest: Annotated[Share, share("Darkest", "Lightness that black becomes: lifts its shadows")] = Field(
        default=0.0, description="Lightness (encoded) that black becomes"
    )
    colour_highest: Annotated[Share, share("Lightest", "Lightness that white becomes")] = Field(
        default=1.0, description="Lightness (encoded) that white becomes"
    )
    roughness_shift: Annotated[float, Shown("Roughness", "", -1, 1, 0.01, 2, hint="Added to the set's roughness")] = (
        Field(default=0.0, ge=-1, le=1)
    )
    roughness_lowest: Annotated[Share, share("Rough from", "What roughness 0 becomes")] = Field(
        default=0.0, description="What roughness 0 becomes, before the shift"
    )
    roughness_highest: Annotated[Share, share("Rough to", "What roughness 1 becomes")] = Field(
        default=1.0, description="What roughness 1 becomes, before the shift"
    )
    normal_strength: Annotated[float, Shown("Normal", "×", 0, 4, 0.05, 2)] = Field(default=1.0, ge=0, le=4)
    occlusion: Annotated[Share, share("Occlusion")] = 1.0
    emits: bool = Field(default=True, description="Whether what its set sends out by itself is seen")
    emission_ev: Annotated[
        float, Shown("Emission", "EV", -8, 8, 0.1, 1, hint="At 0 its white is as bright as white ground at noon")
    ] = Field(default=0.0, ge=-8, le=8, description="Brightness of its set's emission, 0 is white ground at noon")
    variation: Annotated[float, share("Variation", "Slow change of brightness over the ground")] = Field(
        default=0.12, ge=0, le=1, description="Slow change of brightness over the ground"
    )
    variation_colour: Annotated[Share, share("…of colour", "Slow change of warmth over the ground")] = Field(
        default=0.0, description="Slow change of warmth and saturation over the ground"
    )
    variation_offset: Annotated[
        Share, share("…of tiles", "Slow drift of the tiles, in tiles: repeats fall out of step")
    ] = Field(default=0.0, description="Slow drift of the tiles, in tiles")
    variation_size_m: Annotated[
        float, Shown("…every", "m", 0.5, 2000, 0.5, 1, True, "Distance over which they vary", 0.5)
    ] = Field(default=45.0, ge=0.5, le=5_000)
    ground_image: Annotated[
        Share, share("Ground image", "How far its colour is that of the image over the ground")
    ] = Field(default=0.0, description="How far its colour is that of the image over the ground")


class Layer(Part):
    """A texture set, laid where its rule allows."""

    id: PartId
    name: Name
    set: ContentName
    group: str = Field(default="", max_length=80, description="Name of the group it stands in; '' is none")
    on: bool = True
    opacity: Annotated[Share, share("Opacity")] = 1.0
    rule: Rule = Rule()
    fit: Fit = Fit()
    edge: Edge = Edge()
    look: Look = Look()

    def sets(self) -> tuple[ContentName, ContentName, ContentName]:
        """Return its own set, that of its steep planes and that of its near detail; its own where it has no other."""
        detail = self.fit.detail.set if self.fit.detail else None
        return self.set, self.fit.steep_set or self.set, detail or self.set

    def uses(self) -> tuple[ContentName, ...]:
        """Return every set that it is made of: :meth:`sets`, and that of the strip along its boundary."""
        return (*self.sets(), self.edge.strip_set) if self.edge.strip_set else self.sets()
