"""A sheet of the hand-off: what leaves a site, for one purpose. How fine, of which part, in which tiles, as which
files.

A sheet lists *entries*; each is a file, or a family of them where a pattern gives several names. What a file of maps
holds is said value by value, so that any four numbers can share one; :mod:`.sheet_entry` has the other kinds.
"""

from __future__ import annotations

from typing import Annotated, Literal, Self, get_args

from pydantic import Field, model_validator

from elvatch.core.document.sheet_entry import GroundEntry, KitEntry, MeshEntry, SiteEntry, StillsEntry, ThingsEntry
from elvatch.core.formats.written import FormatName, SampleType
from elvatch.core.ground.measures import MeasureName
from elvatch.core.parts import Name, Part, PartId
from elvatch.core.shown import Shown

MOST_SHEETS, MOST_ENTRIES = 24, 64
MOST_PX = 32_768
"""Along the longer side of the whole site."""
MOST_TILES = 64
"""Along a side."""

MapName = Literal[
    "colour",
    "normal",
    "roughness",
    "metallic",
    "occlusion",
    "emission",
    "height",
    "relief",
    "water",
    "share",
    "shares",
    "weights",
    "strongest-layers",
    "strongest-weights",
]
ValueName = MapName | MeasureName
VALUES: tuple[ValueName, ...] = (*get_args(MapName), *get_args(MeasureName))
Encoding = Literal[
    "sRGB",
    "Linear Rec.709",
    "ACEScg",
    "ACES2065-1",
    "ACEScct",
    "ACEScc",
    "Linear Rec.2020",
    "Linear P3-D65",
    "sRGB in AP1",
    "Gamma 1.8 Rec.709",
    "Gamma 2.2 Rec.709",
    "Gamma 2.4 Rec.709",
    "Gamma 2.2 AP1",
]
FineBy = Literal["pixels", "px-per-m", "m-per-texel"]
Ranged = Literal["usual", "found", "own"]
"""Which numbers the lowest and the highest code stand for: what the value may be, what is found in the part that is
handed off, or what the sheet says."""


class Fine(Part):
    """How fine a sheet's files are: pixels along the longer side of the whole site, or a density."""

    by: FineBy = "pixels"
    value: Annotated[
        float,
        Shown("Texels", "px", 16, MOST_PX, 1, hint="Along the longer side of the whole site", usual=2048),
    ] = Field(default=2048, gt=0, le=100_000)


class Region(Part):
    """A part of the site, a rectangle from its south-west corner."""

    east_m: float = Field(ge=0, le=200_000)
    north_m: float = Field(ge=0, le=200_000)
    width_m: float = Field(gt=0, le=200_000)
    depth_m: float = Field(gt=0, le=200_000)


class Tiling(Part):
    """Into how many files the part is cut, and how many texels of their neighbours they repeat."""

    columns: Annotated[int, Shown("Tiles across", "", 1, MOST_TILES, 1)] = Field(default=1, ge=1, le=MOST_TILES)
    rows: Annotated[int, Shown("Tiles down", "", 1, MOST_TILES, 1)] = Field(default=1, ge=1, le=MOST_TILES)
    side_px: Annotated[int, Shown("Tile", "px", 0, 16_384, 1, hint="Its side; 0 goes by columns and rows")] = Field(
        default=0, ge=0, le=16_384, description="Side of a tile; 0 goes by columns and rows"
    )
    border_px: Annotated[int, Shown("Border", "px", 0, 256, 1, hint="Texels of its neighbours, repeated")] = Field(
        default=0, ge=0, le=256, description="Texels of its neighbours that a tile repeats on every side"
    )


class Slot(Part):
    """One value of a file, in one channel or three; ``layer`` is whose share it is."""

    of: ValueName
    layer: PartId | None = None
    inverted: bool = False
    range: Ranged = "usual"
    low: Annotated[float, Shown("From", "", -1e6, 1e6, 0.01, 2)] = Field(
        default=0.0, description="What the lowest code stands for, of an own range"
    )
    high: Annotated[float, Shown("To", "", -1e6, 1e6, 0.01, 2)] = Field(
        default=1.0, description="What the highest code stands for"
    )

    @model_validator(mode="after")
    def _consistent(self) -> Self:
        if self.range == "own" and not self.low < self.high:
            raise ValueError(f"a range from {self.low:g} to {self.high:g} holds nothing")
        if (self.of == "share") != (self.layer is not None):
            raise ValueError("a share is of one layer, and nothing else is")
        return self


class MapsEntry(Part):
    """Files of numbers over the ground."""

    kind: Literal["maps"] = "maps"
    id: PartId
    file: str = Field(
        min_length=1,
        max_length=120,
        description="Pattern of the name: {site}, {map}, {row}, {column}, {udim}, {k}, {layer}, {width}, {height}",
    )
    holds: tuple[Slot, ...] = Field(min_length=1, max_length=4)
    format: FormatName = "png"
    type: SampleType = "uint8"
    encoding: Encoding = Field(default="sRGB", description="Of colours; all other values go as they are")
    green: Literal["up", "down"] = Field(default="up", description="Which way a normal's second number points")
    against: Literal["ground", "whole"] = Field(
        default="ground", description="Whether a normal is the relief's on the ground's own, or that of both"
    )
    low_byte_first: bool = Field(default=True, description="Of RAW files of more than 8 bits")
    strongest: Literal[0, 4] = Field(default=0, description="Weights of only the four strongest layers; 0 of all")
    a_tile: Literal[0, 4] = Field(
        default=0, description="Shares or weights of only the four layers that cover most of each tile; 0 of all"
    )
    longer_px: Annotated[int, Shown("Own size", "px", 0, MOST_PX + 1, 1, hint="Longer side; 0 is as the sheet")] = (
        Field(default=0, ge=0, le=MOST_PX + 1, description="Its own size; 0 is as fine as the sheet")
    )
    corners: bool = Field(default=False, description="Samples stand on the corners of the site, as heights do")


Entry = MapsEntry | KitEntry | MeshEntry | GroundEntry | StillsEntry | SiteEntry | ThingsEntry


class Sheet(Part):
    """What leaves a site for one purpose."""

    id: PartId
    name: Name
    fine: Fine = Fine()
    region: Region | None = Field(default=None, description="Left out, the whole site")
    tiles: Tiling = Tiling()
    entries: tuple[Annotated[Entry, Field(discriminator="kind")], ...] = Field(default=(), max_length=MOST_ENTRIES)

    @model_validator(mode="after")
    def _consistent(self) -> Self:
        ids = [entry.id for entry in self.entries]
        if len(set(ids)) != len(ids):
            raise ValueError("two entries have the same id")
        return self

    @property
    def maps(self) -> tuple[MapsEntry, ...]:
        """Its entries of maps."""
        return tuple(entry for entry in self.entries if isinstance(entry, MapsEntry))
