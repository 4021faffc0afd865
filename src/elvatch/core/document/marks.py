"""What is marked on a ground for rules to read: painted masks, drawn paths, images laid over it."""

from __future__ import annotations

from typing import Annotated, Literal, Self

from pydantic import Field, model_validator

from elvatch.core.parts import ContentName, Name, Part, PartId, Place, Seed, Share
from elvatch.core.shown import Shown, share

TILE = 256
"""Samples along a side of a painted mask's tile."""
MOST_TILES = 8192


class MaskTile(Part):
    """A painted square of a mask: 16-bit grey, counted in tiles from the north-west corner."""

    row: int = Field(ge=0, le=20_000)
    col: int = Field(ge=0, le=20_000)
    file: ContentName


class PaintedMask(Part):
    """A mask painted by hand over the whole ground; only what was painted is kept."""

    id: PartId
    name: Name
    sample_m: float = Field(default=0.25, gt=0, le=100, description="Metres per sample")
    tiles: tuple[MaskTile, ...] = Field(default=(), max_length=MOST_TILES)


class PathPoint(Part):
    """A point that a path goes through, metres from the south-west corner."""

    east_m: Place
    north_m: Place


class DrawnPath(Part):
    """A line across the ground: a track, a lane, a ditch."""

    id: PartId
    name: Name
    points: tuple[PathPoint, ...] = Field(min_length=2, max_length=400)
    width_m: Annotated[float, Shown("width", "m", 0.01, 2_000, 0.1, 1)] = Field(default=3.0, gt=0, le=2_000)
    soft_m: Annotated[float, Shown("soft edge", "m", 0, 2_000, 0.1, 1)] = Field(
        default=0.6, ge=0, le=2_000, description="Soft edge on either side, outwards"
    )
    wobble_m: Annotated[float, Shown("wobble", "m", 0, 200, 0.1, 1)] = Field(
        default=0.3, ge=0, le=200, description="How far it strays sideways"
    )
    wobble_size_m: Annotated[float, Shown("wobbles every", "m", 0.1, 2_000, 0.1, 1)] = Field(
        default=8.0, ge=0.1, le=5_000
    )
    seed: Seed = 1


class Placing(Part):
    """Where an image lies: from edge to edge of the ground, or by its south-west corner and size."""

    fit: Literal["ground", "corner"] = "ground"
    east_m: Annotated[Place, Shown("west edge at", "m", -200_000, 400_000, 0.1, 1, pixel=0.5)] = 0.0
    north_m: Annotated[Place, Shown("south edge at", "m", -200_000, 400_000, 0.1, 1, pixel=0.5)] = 0.0
    width_m: Annotated[float, Shown("wide", "m", 0.01, 400_000, 0.1, 1, pixel=0.5)] = Field(
        default=100.0, gt=0, le=400_000
    )
    depth_m: Annotated[float, Shown("deep", "m", 0.01, 400_000, 0.1, 1, pixel=0.5)] = Field(
        default=100.0, gt=0, le=400_000
    )
    flip_east_west: bool = False
    flip_north_south: bool = False


class MaskImage(Part):
    """An image laid over the ground whose channels rules read, raw."""

    id: PartId
    name: Name
    file: ContentName
    file_name: Name
    placing: Placing = Placing()


class Marks(Part):
    """All that is marked on a ground."""

    masks: tuple[PaintedMask, ...] = Field(default=(), max_length=64)
    paths: tuple[DrawnPath, ...] = Field(default=(), max_length=64)
    images: tuple[MaskImage, ...] = Field(default=(), max_length=64)

    @model_validator(mode="after")
    def _apart(self) -> Self:
        ids = self.ids()
        if len(set(ids)) != len(ids):
            raise ValueError("two masks, paths or images have the same id")
        return self

    def ids(self) -> list[str]:
        """Return the ids of all masks, paths and images."""
        return [one.id for kind in (self.masks, self.paths, self.images) for one in kind]

    def files(self) -> list[str]:
        """Return the content names of the files they need."""
        return [tile.file for mask in self.masks for tile in mask.tiles] + [image.file for image in self.images]


Brush = Literal["add", "take", "smooth"]


class StrokeAt(Part):
    """A place a stroke goes through, metres from the south-west corner."""

    east_m: Place
    north_m: Place
    pressure: Share = 1.0


class MaskStroke(Part):
    """One stroke of the brush on a mask."""

    tool: Brush = "add"
    size_m: Annotated[float, Shown("size", "m", 0.05, 4_000, 0.5, 1, usual=12.0)] = Field(
        gt=0, le=4_000, description="Width of the brush"
    )
    strength: Annotated[Share, share("strength", "How far a stroke goes")] = 1.0
    soft: Annotated[Share, share("soft", "How much of the brush's radius fades out")] = Field(
        default=0.5, description="How much of its radius fades out"
    )
    flow: Annotated[
        float, Shown("flow", "", 0.01, 1, 0.01, 2, hint="Below 100% a stroke gathers with the distance it goes")
    ] = Field(default=1.0, gt=0, le=1, description="Laid down each time the brush moves by a sixth of its size")
    points: tuple[StrokeAt, ...] = Field(min_length=1, max_length=1200)
