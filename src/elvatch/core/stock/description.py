"""A texture set as it is kept: its maps as files, its true size, what it is called and filed under."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field, StringConstraints

from elvatch.core import digest
from elvatch.core.parts import ContentName, Name, Part
from elvatch.core.shown import Shown
from elvatch.core.stock.roles import ROLES, Role

CATEGORIES = (
    "rock",
    "scree and gravel",
    "soil and mud",
    "grass and plants",
    "sand",
    "snow and ice",
    "concrete",
    "paving",
    "wood",
    "metal",
    "overlay",
    "other",
)
Category = Literal[
    "rock",
    "scree and gravel",
    "soil and mud",
    "grass and plants",
    "sand",
    "snow and ice",
    "concrete",
    "paving",
    "wood",
    "metal",
    "overlay",
    "other",
]
Tag = Annotated[str, StringConstraints(min_length=1, max_length=40, strip_whitespace=True)]
Origin = Literal["brought", "unpacked", "derived", "made"]
LookupPx = Literal[64, 128, 256, 512, 1024, 2048, 4096]


class SetMap(Part):
    """One map: a PNG of 8 or 16 bits whose values mean what :mod:`elvatch.core.stock.roles` says.

    Normals point up the picture where green is high. ``note`` says what was done to it.
    """

    file: ContentName
    width_px: int = Field(ge=1, le=8192)
    height_px: int = Field(ge=1, le=8192)
    bits: Literal[8, 16]
    origin: Origin = "brought"
    from_name: str = Field(default="", max_length=200)
    note: str = Field(default="", max_length=400)


class MadeBy(Part):
    """How a sample set was made; the same numbers make the same set."""

    kind: str = Field(max_length=40)
    seed: Annotated[int, Shown("Seed", "", 0, 1_000_000, 1, usual=7)] = Field(ge=0, le=2**31 - 1)
    size_px: int = Field(ge=16, le=4096)
    controls: dict[str, float] = Field(default_factory=dict)


class Filed(Part):
    """What a set is called and filed under, and how large it is.

    ``tile_m`` is the length in metres that one repeat covers, ``relief_m`` the metres from the
    lowest to the highest of its height map.
    """

    title: Name
    category: Category = "other"
    tags: tuple[Tag, ...] = Field(default=(), max_length=40)
    collections: tuple[Tag, ...] = Field(default=(), max_length=40)
    notes: str = Field(default="", max_length=4000)
    tile_m: Annotated[float, Shown("Metres per repeat", "m", 0.02, 200, 0.05, 2, pixel=0.05)] = Field(ge=0.02, le=200)
    relief_m: Annotated[float, Shown("Relief", "m", 1e-4, 50, 0.001, 4, pixel=0.001)] = Field(ge=1e-6, le=50)

    def filed(self) -> dict[str, object]:
        """Return these fields alone."""
        return {name: getattr(self, name) for name in Filed.model_fields}

    def named(self) -> dict[str, object]:
        """Return these fields but for how large it is: what no map depends on."""
        return {name: value for name, value in self.filed().items() if name not in ("tile_m", "relief_m")}


class SetDescription(Filed):
    """A texture set; ``lookup_px`` is the size it is stored at for covers."""

    version: Literal[1] = 1
    lookup_px: LookupPx = 1024
    maps: dict[Role, SetMap] = Field(min_length=1)
    made_by: MadeBy | None = None

    @property
    def content(self) -> str:
        """Content name of what a cover sees of it: maps, sizes; not what it is called."""
        maps = {role: self.maps[role].file for role in ROLES if role in self.maps}
        return digest.of_json([maps, self.tile_m, self.relief_m, self.lookup_px])

    def files(self) -> list[str]:
        """Return the content names of its files."""
        return [entry.file for entry in self.maps.values()]
