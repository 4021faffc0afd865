"""What a sheet can list beside maps: the layers themselves, the ground as a mesh or as heights, the whole site."""

from __future__ import annotations

from typing import Annotated, Literal, Self

from pydantic import Field, model_validator

from elvatch.core.formats.written import SampleType
from elvatch.core.mesh.carried import ShareForm
from elvatch.core.mesh.forms import MeshFormat
from elvatch.core.parts import Part, PartId
from elvatch.core.shown import Shown

MOST_STILL_PX = 16_384
StandName = Literal["far", "mid", "near"]
MOST_MESH_TILES, MOST_MESH_LEVELS = 16, 8
HeightFormat = Literal["png", "tiff", "exr", "raw", "npy", "asc"]
HEIGHT_TYPES: dict[HeightFormat, tuple[SampleType, ...]] = {
    "png": ("uint16", "uint8"),
    "tiff": ("float32", "uint16", "uint8", "float16"),
    "exr": ("float32", "float16"),
    "raw": ("uint16", "float32", "uint8"),
    "npy": ("float32", "uint16"),
    "asc": ("float32",),
}
HEIGHT_LABELS: dict[HeightFormat, str] = {
    "png": "PNG",
    "tiff": "TIFF",
    "exr": "EXR",
    "raw": "RAW",
    "npy": "NPY",
    "asc": "ASCII grid",
}
KitSize = Literal[64, 128, 256, 512, 1024, 2048, 4096]
_Name = Annotated[str, Field(min_length=1, max_length=120, description="Pattern of the name")]


class KitEntry(Part):
    """The layers themselves: their maps, how they lie, and their weights over the ground."""

    kind: Literal["kit"] = "kit"
    id: PartId
    file: _Name = "{site}_kit"
    set_px: KitSize = Field(default=1024, description="Pixels along a side of each layer's maps")
    weights: Literal["splat", "masks", "strongest"] = Field(
        default="splat",
        description="Four layers a file; a mask a layer; the strongest four by number, with their weights",
    )
    weight_type: Literal["uint8", "uint16"] = "uint8"
    most_a_tile: Literal[0, 4] = Field(default=0, description="Layers on a tile of the ground; 0 is all")
    tint: bool = Field(
        default=True,
        description="A map of what tiled sets cannot carry: slow variation, wear, an image over the ground",
    )
    material: bool = Field(default=True, description="A MaterialX document for each tile")
    green: Literal["up", "down"] = "up"

    @model_validator(mode="after")
    def _fits(self) -> Self:
        if self.material and self.weights == "strongest":
            raise ValueError("a MaterialX document mixes by masks: choose splat or masks, or leave it out")
        return self


class MeshEntry(Part):
    """The ground as triangles."""

    kind: Literal["mesh"] = "mesh"
    id: PartId
    file: _Name = "{site}_mesh"
    format: MeshFormat = "glb"
    by: Literal["error", "grid"] = Field(default="error", description="By greatest error, or a regular grid")
    greatest_error_m: Annotated[
        float, Shown("Greatest error", "m", 0.01, 20, 0.01, 2, True, "No place lies further from the ground")
    ] = Field(default=0.5, ge=0.001, le=1000)
    cell_m: Annotated[float, Shown("Cell", "m", 0.05, 100, 0.05, 2, True, "Of a regular grid")] = Field(
        default=2.0, ge=0.01, le=10_000
    )
    relief: bool = Field(default=False, description="With the relief of the cover, on the sheet's texels")
    columns: Annotated[int, Shown("Tiles across", "", 1, MOST_MESH_TILES, 1)] = Field(
        default=1, ge=1, le=MOST_MESH_TILES
    )
    rows: Annotated[int, Shown("Tiles down", "", 1, MOST_MESH_TILES, 1)] = Field(default=1, ge=1, le=MOST_MESH_TILES)
    levels: Annotated[
        int, Shown("Levels of detail", "", 1, MOST_MESH_LEVELS, 1, hint="Each with twice the error of the one before")
    ] = Field(default=1, ge=1, le=MOST_MESH_LEVELS)
    skirts: bool = Field(default=False, description="Walls down from tiles' borders, which hide gaps between levels")
    shares: ShareForm = Field(default="none", description="Layers' shares at its vertices, as colours or by name")
    maps: Literal["none", "linked", "inside"] = Field(default="none", description="Baked maps that cover it")
    maps_px: Annotated[int, Shown("Maps", "px", 16, 16_384, 1, hint="Longer side of its maps")] = Field(
        default=2048, ge=16, le=16_384
    )
    up: Literal["y", "z"] = Field(default="z", description="Which axis is up, where the format does not say")


class GroundEntry(Part):
    """The heights of the ground alone, with its true size beside them."""

    kind: Literal["ground"] = "ground"
    id: PartId
    file: _Name = "{site}_ground"
    format: HeightFormat = "raw"
    type: SampleType = "uint16"
    longer_px: Annotated[int, Shown("Samples", "", 0, 16_385, 1, hint="Longer side; 0 is the ground's own")] = Field(
        default=0, ge=0, le=16_385, description="Samples along the longer side, on corners; 0 is the ground's own"
    )
    low_byte_first: bool = Field(default=True, description="Of RAW files of more than 8 bits")
    flip_north_south: bool = Field(default=False, description="The first row is the southern one")
    flip_east_west: bool = Field(default=False, description="The first column is the eastern one")
    traces: bool = Field(default=False, description="What shaping wore, dropped and let flow, as floats beside it")

    @model_validator(mode="after")
    def _fits(self) -> Self:
        if self.type not in HEIGHT_TYPES[self.format]:
            known = ", ".join(HEIGHT_TYPES[self.format])
            raise ValueError(f"{self.format} of {self.type}: it takes {known}")
        return self


class StillsEntry(Part):
    """Pictures of the site, taken with many rays."""

    kind: Literal["stills"] = "stills"
    id: PartId
    file: _Name = "{site}_{view}"
    stands: tuple[StandName, ...] = Field(default=("far",), max_length=3)
    all_shots: bool = Field(default=True, description="Every shot that the site keeps, too")
    width_px: Annotated[int, Shown("Width", "px", 16, MOST_STILL_PX, 1)] = Field(
        default=1920, ge=16, le=MOST_STILL_PX
    )
    height_px: Annotated[int, Shown("Height", "px", 16, MOST_STILL_PX, 1)] = Field(
        default=1080, ge=16, le=MOST_STILL_PX
    )
    rays: Annotated[int, Shown("Rays a pixel", "", 1, 256, 1)] = Field(default=16, ge=1, le=256)


class SiteEntry(Part):
    """The whole site: its recipe and all that it needs, to be opened elsewhere."""

    kind: Literal["site"] = "site"
    id: PartId
    file: _Name = "{site}.elvatch"


ThingsForm = Literal["csv", "json", "glb", "usd"]
ModelForm = Literal["glb", "usd"]
MOST_THINGS_TILES = 32


class ThingsEntry(Part):
    """What is strewn over the site: where each thing stands, their models, and how densely they lie."""

    kind: Literal["things"] = "things"
    id: PartId
    file: _Name = "{site}_{map}"
    forms: tuple[ThingsForm, ...] = Field(default=("csv", "glb"), max_length=4)
    models: bool = Field(default=True, description="Each variant of each thing, with its levels of detail")
    model_forms: tuple[ModelForm, ...] = Field(
        default=("glb",),
        min_length=1,
        max_length=2,
        description="Levels lie side by side in a GLB, as variants in an OpenUSD file",
    )
    density_px: Annotated[
        int, Shown("Densities", "px", 0, 8_192, 1, hint="Longer side of a map of each strew; 0 is none")
    ] = Field(default=0, ge=0, le=8_192, description="Longer side of a map of each strew's density; 0 for none")
    bake_px: Annotated[
        int,
        Shown("Bake", "px", 0, 4_096, 256, hint="Side of each model's textures, with its cover; 0 is none"),
    ] = Field(default=0, ge=0, le=4_096, description="Side of each model's textures; 0: colours of its corners alone")
    bake_normals: Literal["tangent", "object"] = Field(
        default="tangent", description="Axes of baked normals: the texture's at each place, or the model's own"
    )
    columns: Annotated[int, Shown("Tiles across", "", 1, MOST_THINGS_TILES, 1)] = Field(
        default=1, ge=1, le=MOST_THINGS_TILES
    )
    rows: Annotated[int, Shown("Tiles down", "", 1, MOST_THINGS_TILES, 1)] = Field(
        default=1, ge=1, le=MOST_THINGS_TILES
    )
