"""What a kit says of itself: its layers, how each lies, where its maps and weights are, how near it comes."""

from __future__ import annotations

from typing import Literal

from pydantic import BaseModel, ConfigDict


class _Said(BaseModel):
    model_config = ConfigDict(extra="forbid", frozen=True)


class MapFiles(_Said):
    """A set's maps by file: colour (sRGB), normal (tangent space), surface (red occlusion, green roughness, blue
    metallic), height (16 bit, its codes from ``low_m`` to ``high_m`` about the level of the ground)."""

    colour: str
    normal: str
    surface: str
    height: str
    low_m: float
    high_m: float
    emission: str | None = None
    emission_factor: float = 0.0


class Plane(_Said):
    """How a set is projected on one plane: how far it is turned there, degrees counter-clockwise facing the plane."""

    faces: Literal["up", "east or west", "north or south", "a side"]
    turn_deg: float


class WeightIn(_Said):
    """Where a layer's weight is: for each tile of the ground a file, and the channel in it."""

    files: tuple[str, ...]
    channel: Literal["red", "green", "blue", "alpha", "grey", "numbered"]


class KitLayer(_Said):
    """A layer from the bottom up.

    A place's texture coordinates are its metres, less ``offset_m``, across the plane and up it, turned by the plane's
    turn, over ``tile_m`` and ``tile_up_m``.
    """

    number: int
    name: str
    maps: MapFiles
    steep_maps: MapFiles | None
    tile_m: float
    tile_up_m: float
    mirrored: bool
    offset_m: tuple[float, float, float]
    planes: tuple[Plane, ...]
    side_deg: float
    plane_edge: float
    relief_m: float
    meets: str
    edge: str
    edge_width_m: float
    weight: WeightIn
    not_carried: tuple[str, ...]


class KitTile(_Said):
    """A tile of the ground: its place in 0..1 from the west and from the south, and how many layers lie on it."""

    name: str
    west: float
    south: float
    east: float
    north: float
    layers: int


class Near(_Said):
    """How near the kit comes to the cover, as CIEDE2000: mean, 19 of 20, and worst, of areas of a size."""

    across_m: float
    places: int
    mean: float
    most_of_20_in_19: float
    worst: float


class Kit(_Said):
    """All of a kit; ``dropped`` is the part of the ground whose layers are not on their tile, 0..1."""

    format: Literal["elvatch-kit"] = "elvatch-kit"
    version: Literal[1] = 1
    made_by: str
    site: str
    width_m: float
    depth_m: float
    axes: Literal["x east, y north, z up, from the south-west corner"] = (
        "x east, y north, z up, from the south-west corner"
    )
    set_px: int
    green: Literal["up", "down"]
    weights: Literal["splat", "masks", "strongest"]
    layers: tuple[KitLayer, ...]
    tiles: tuple[KitTile, ...]
    tint: tuple[str, ...]
    tint_most: float
    from_afar: Near
    from_afar_without_tint: Near
    close: Near
    dropped: float
    not_carried: tuple[str, ...]
