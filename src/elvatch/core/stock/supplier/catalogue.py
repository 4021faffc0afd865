"""The stand-in supplier's catalogue: packs drawn on demand, named in many ways, some of them faulty on purpose.

Places and makers are made up. What is wrong with a pack is not said here to the user: the checks find it.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field
from pathlib import Path
from typing import Literal

from elvatch.core.refusal import RefusalError
from elvatch.core.stock.description import Category
from elvatch.core.stock.generators import GENERATORS
from elvatch.core.stock.roles import Role
from elvatch.core.stock.supplier import naming
from elvatch.core.stock.supplier.naming import Convention

Fault = Literal["seam", "green-down", "gloss-named-rough", "dark-on-light", "colour-in-normal", "large-and-small"]
SIZES = (512, 1024, 2048)
SWATCHES = Path(__file__).parent / "swatches"
"""Pictures of the packs, drawn by tools/pack_swatches.py."""
_NOTHING: Mapping[str, float] = {}


@dataclass(frozen=True)
class SupplierPack:
    """One pack: what it is called, what draws it, how its files are named, and what is wrong with it."""

    id: str
    title: str
    maker: str
    category: Category
    about: str
    kind: str
    seed: int
    convention: Convention
    controls: Mapping[str, float] = field(default_factory=dict)
    faults: tuple[Fault, ...] = ()
    left_out: tuple[Role, ...] = ()

    @property
    def tile_m(self) -> float:
        """Metres that one repeat covers; a seam is made by cutting a piece out."""
        return GENERATORS[self.kind].tile_m * (0.8 if "seam" in self.faults else 1.0)

    @property
    def swatch(self) -> bytes:
        """A picture of it, WebP."""
        return (SWATCHES / f"{self.id}.webp").read_bytes()

    @property
    def is_overlay(self) -> bool:
        """Whether it is one mask and no material."""
        return self.category == "overlay"

    @property
    def roles(self) -> tuple[Role, ...]:
        """The roles its files fill."""
        if self.is_overlay:
            return ("mask",)
        every: tuple[Role, ...] = ("colour", "normal", "roughness", "occlusion", "height")
        return tuple(role for role in every if role not in self.left_out)


PACKS: tuple[SupplierPack, ...] = (
    SupplierPack(
        "hollin-slate",
        "Hollin slate face",
        "Tarnside Scans",
        "rock",
        "Cleaved slate with clean faces",
        "slate-bedrock",
        21,
        naming.LONG,
        {"stain": 0.3, "lichen": 0.4},
    ),
    SupplierPack(
        "rusty-ledges",
        "Rusty ledges",
        "Tarnside Scans",
        "rock",
        "Thick sheets, iron in every joint",
        "slate-bedrock",
        34,
        naming.SHORT,
        {"sheets": 1.5, "stain": 2.0},
        left_out=("occlusion",),
    ),
    SupplierPack(
        "mossy-crag",
        "Lichened crag",
        "Oatmeal Yard",
        "rock",
        "Old faces grown over with lichen",
        "slate-bedrock",
        52,
        naming.PACKED_ORM,
        {"lichen": 1.8},
    ),
    SupplierPack(
        "quarry-waste",
        "Quarry waste",
        "Oatmeal Yard",
        "scree and gravel",
        "Coarse fragments, hardly any soil",
        "slate-scree",
        12,
        naming.CAMEL,
        {"stones": 1.4},
    ),
    SupplierPack(
        "fine-scree",
        "Fine scree",
        "Tarnside Scans",
        "scree and gravel",
        "Small chips that slide underfoot",
        "slate-scree",
        44,
        naming.LONG_DOWN,
        {"stones": 0.7},
        faults=("green-down",),
    ),
    SupplierPack(
        "brown-scree",
        "Brown scree",
        "Penny Loft",
        "scree and gravel",
        "Weathered, rusty fragments",
        "slate-scree",
        61,
        naming.FOLDERS,
        {"rust": 2.0},
    ),
    SupplierPack(
        "lake-shingle",
        "Lake shingle",
        "Penny Loft",
        "scree and gravel",
        "Mixed pebbles at the water's edge",
        "pebbles",
        15,
        naming.SHORT,
        {"wet": 0.7, "sand": 0.2},
    ),
    SupplierPack(
        "sandy-pebbles",
        "Sandy pebbles",
        "Oatmeal Yard",
        "scree and gravel",
        "Pebbles sunk in coarse sand",
        "pebbles",
        28,
        naming.GLOSS,
        {"sand": 0.8},
    ),
    SupplierPack(
        "white-cobbles",
        "River cobbles",
        "Tarnside Scans",
        "scree and gravel",
        "Large worn stones",
        "pebbles",
        73,
        naming.PACKED_RMA,
        {"stones": 1.6},
        faults=("seam",),
    ),
    SupplierPack(
        "works-road",
        "Works road",
        "Penny Loft",
        "scree and gravel",
        "Rolled limestone with two wheel tracks",
        "gravel-track",
        18,
        naming.LONG,
        {"wheels": 1.0},
    ),
    SupplierPack(
        "loose-chippings",
        "Loose chippings",
        "Oatmeal Yard",
        "scree and gravel",
        "Fresh gravel, no dust yet",
        "gravel-track",
        37,
        naming.GLOSS_AS_ROUGH,
        {"fines": 0.05, "wheels": 0.0},
        faults=("gloss-named-rough",),
    ),
    SupplierPack(
        "rippled-silt",
        "Rippled silt",
        "Tarnside Scans",
        "soil and mud",
        "High ripples, drained",
        "wet-silt",
        19,
        naming.CAMEL,
        {"ripples": 11.0, "damp": 0.25},
    ),
    SupplierPack(
        "slick-silt",
        "Slick silt",
        "Penny Loft",
        "soil and mud",
        "Soaked and nearly flat",
        "wet-silt",
        42,
        naming.GLOSS,
        {"ripples": 2.0, "damp": 0.95},
    ),
    SupplierPack(
        "wide-cracks",
        "Wide cracks",
        "Oatmeal Yard",
        "soil and mud",
        "Old plates, curled high",
        "cracked-mud",
        9,
        naming.SPACES,
        {"cracks": 20.0, "curl": 14.0, "plates": 30.0},
    ),
    SupplierPack(
        "small-plates",
        "Small mud plates",
        "Tarnside Scans",
        "soil and mud",
        "A puddle that dried last week",
        "cracked-mud",
        58,
        naming.SHORT_DOWN,
        {"plates": 13.0, "cracks": 6.0},
        faults=("seam", "green-down"),
    ),
    SupplierPack(
        "black-peat",
        "Black peat",
        "Penny Loft",
        "soil and mud",
        "Bare peat, roots and standing damp",
        "moor-peat",
        23,
        naming.LONG,
        {"moss": 0.05, "wet": 0.8},
    ),
    SupplierPack(
        "mossy-peat",
        "Mossy peat",
        "Oatmeal Yard",
        "soil and mud",
        "Peat half grown over",
        "moor-peat",
        31,
        naming.SCRAMBLED,
        {"moss": 0.75},
        faults=("colour-in-normal",),
    ),
    SupplierPack(
        "summer-meadow",
        "Summer meadow",
        "Penny Loft",
        "grass and plants",
        "Fresh grass, few dry blades",
        "rough-grass",
        26,
        naming.CAMEL,
        {"dry": 0.15},
    ),
    SupplierPack(
        "winter-straw",
        "Winter straw",
        "Tarnside Scans",
        "grass and plants",
        "Dead grass laid over by snow",
        "rough-grass",
        47,
        naming.LONG_DOWN,
        {"dry": 1.0, "length": 13.0},
        faults=("green-down",),
    ),
    SupplierPack(
        "autumn-floor",
        "Autumn floor",
        "Oatmeal Yard",
        "grass and plants",
        "This year's leaves on last year's",
        "leaf-litter",
        17,
        naming.LONG,
        {"fresh": 0.8},
    ),
    SupplierPack(
        "wet-cushions",
        "Wet cushions",
        "Tarnside Scans",
        "grass and plants",
        "Moss that hides every stone",
        "moss",
        36,
        naming.GLOSS,
        {"bare": 0.0, "fresh": 0.9},
    ),
    SupplierPack(
        "tide-ripples",
        "Tide ripples",
        "Penny Loft",
        "sand",
        "High crests, water left between",
        "rippled-sand",
        22,
        naming.CAMEL,
        {"ripples": 18.0, "wet": 0.75},
    ),
    SupplierPack(
        "drift-crust",
        "Drift crust",
        "Oatmeal Yard",
        "snow and ice",
        "Old snow cut by the wind",
        "wind-crust",
        27,
        naming.SPACES,
        {"carved": 11.0, "grimy": 0.3},
    ),
    SupplierPack(
        "red-benches",
        "Red benches",
        "Tarnside Scans",
        "rock",
        "Slanting beds, dark varnish",
        "red-sandstone",
        33,
        naming.LONG,
        {"varnish": 0.7},
    ),
    SupplierPack(
        "grey-clints",
        "Grey clints",
        "Penny Loft",
        "rock",
        "Wide clefts full of fern",
        "limestone-pavement",
        41,
        naming.FOLDERS,
        {"clefts": 18.0, "green": 0.9},
    ),
    SupplierPack(
        "yard-bricks",
        "Yard bricks",
        "Oatmeal Yard",
        "paving",
        "Sunk and mossy",
        "brick-paving",
        24,
        naming.SHORT,
        {"settled": 9.0, "moss": 0.7},
    ),
    SupplierPack(
        "old-jetty",
        "Old jetty boards",
        "Penny Loft",
        "wood",
        "Silver boards, wide gaps",
        "boards",
        29,
        naming.SHORT_DOWN,
        {"weathered": 1.0, "gap": 10.0},
        faults=("green-down",),
    ),
    SupplierPack(
        "barn-sheets",
        "Barn sheets",
        "Tarnside Scans",
        "metal",
        "Rust from every screw",
        "corrugated-metal",
        46,
        naming.PACKED_ORM,
        {"rust": 0.8},
    ),
    SupplierPack(
        "smooth-pour",
        "Smooth pour",
        "Oatmeal Yard",
        "concrete",
        "New concrete, hardly a mark",
        "cast-concrete",
        14,
        naming.PACKED_ORM,
        {"worn": 0.0, "stain": 0.15, "boards": 0.2},
    ),
    SupplierPack(
        "old-apron",
        "Old apron",
        "Penny Loft",
        "concrete",
        "Worn to the grit, stained",
        "cast-concrete",
        39,
        naming.FOLDERS,
        {"worn": 0.9, "stain": 1.0},
        faults=("large-and-small",),
    ),
    SupplierPack(
        "drip-stains",
        "Drying stains",
        "Penny Loft",
        "overlay",
        "Where water stood and left",
        "wet-silt",
        77,
        naming.OVERLAY,
        {"damp": 0.5, "grit": 0.0},
        faults=("dark-on-light",),
    ),
    SupplierPack(
        "hairline-net",
        "Hairline net",
        "Tarnside Scans",
        "overlay",
        "Shrinkage cracks as a mask",
        "cracked-mud",
        66,
        naming.OVERLAY,
        {"plates": 40.0, "cracks": 3.0},
    ),
)


def find(text: str = "", category: str | None = None) -> list[SupplierPack]:
    """Return the packs that hold all words, of a category where one is given."""
    words = text.casefold().split()

    def fits(pack: SupplierPack) -> bool:
        said = f"{pack.title} {pack.maker} {pack.category} {pack.about}".casefold()
        return all(word in said for word in words) and category in (None, pack.category)

    return [pack for pack in PACKS if fits(pack)]


def pack(name: str) -> SupplierPack:
    """Return a pack by its id."""
    for one in PACKS:
        if one.id == name:
            return one
    raise RefusalError("pack", f"no pack {name[:40]!r}", "one of the catalogue", "choose another")
