"""Sheets that come ready, named by what they are for and by open standards."""

from __future__ import annotations

from collections.abc import Iterable
from typing import Literal

from elvatch.core.document.sheet import (
    Encoding,
    Entry,
    Fine,
    MapsEntry,
    Sheet,
    Slot,
    Tiling,
    ValueName,
)
from elvatch.core.document.sheet_entry import (
    GroundEntry,
    KitEntry,
    MeshEntry,
    SiteEntry,
    StillsEntry,
    ThingsEntry,
)
from elvatch.core.formats.written import FormatName, SampleType

_COLOURS = ("colour", "emission")


def entry(
    id: str,
    file: str,
    *values: ValueName,
    format: FormatName = "png",
    type: SampleType = "uint8",
    encoding: Encoding = "sRGB",
) -> MapsEntry:
    """Return an entry that holds these values."""
    holds = tuple(Slot(of=one) for one in values)
    return MapsEntry(id=id, file=file, holds=holds, format=format, type=type, encoding=encoding)


def plain(
    values: Iterable[ValueName],
    longer_px: int = 2048,
    raw_bits: Literal[8, 16] = 8,
    float_heights: bool = False,
    weight_bits: Literal[8, 16] = 8,
) -> Sheet:
    """Return a sheet of one file a value: PNGs of 8 or 16 bits, measures as floats.

    Parameters
    ----------
    values : iterable of str
        Maps of the cover and measures of the ground.
    longer_px : int
        Pixels along the longer side.
    raw_bits, weight_bits : int
        Of what is neither colour nor height, and of weights.
    float_heights : bool
        Whether heights and relief go as floats in metres instead of 16 bits.
    """
    return Sheet(
        id="plain",
        name="Plain maps",
        fine=Fine(value=longer_px),
        entries=tuple(_plain_entry(one, raw_bits, float_heights, weight_bits) for one in values),
    )


def begun(of: ValueName) -> MapsEntry:
    """Return the entry that a value begins with when it is added to a sheet."""
    return _plain_entry(of, 8, False, 8)


def _plain_entry(of: ValueName, raw_bits: int, float_heights: bool, weight_bits: int) -> MapsEntry:
    id = "".join(letter for letter in of if letter.isalpha())
    if of == "shares":
        return entry(id, "{site}_share_{k:02d}_{layer}", of, type="uint16")
    if of == "weights":
        return entry(id, "{site}_weights_{k:02d}", of, type="uint8" if weight_bits == 8 else "uint16")
    named = "{site}_{map}"
    if of in _COLOURS:
        return entry(id, named, of)
    if of == "normal":
        return entry(id, named, of, type="uint16")
    if of in ("height", "relief"):
        exact: tuple[FormatName, SampleType] = ("tiff", "float32") if float_heights else ("png", "uint16")
        return entry(id, named, of, format=exact[0], type=exact[1])
    if of in ("roughness", "metallic", "occlusion", "water"):
        return entry(id, named, of, type="uint8" if raw_bits == 8 else "uint16")
    return entry(id, named, of, format="tiff", type="float32")


WHOLE: dict[str, Entry] = {
    "kit": KitEntry(id="kits"),
    "mesh": MeshEntry(id="mesh"),
    "ground": GroundEntry(id="ground"),
    "stills": StillsEntry(id="stills"),
    "site": SiteEntry(id="site"),
    "things": ThingsEntry(id="things"),
}
"""How entries begin that are no maps."""


def _ready() -> tuple[Sheet, ...]:
    surface = entry("surface", "{site}_surface", "occlusion", "roughness", "metallic")
    tiled = "{site}_%s_{row}{column}"
    heights = entry("height", "{site}_height", "height", format="raw", type="uint16")
    return (
        plain(("colour", "normal", "roughness", "occlusion", "height", "shares")),
        Sheet(
            id="gltf",
            name="glTF 2.0 textures",
            fine=Fine(value=4096),
            entries=(
                entry("colour", "{site}_base_colour", "colour"),
                surface,
                entry("normal", "{site}_normal", "normal"),
                entry("emission", "{site}_emissive", "emission"),
            ),
        ),
        Sheet(
            id="film",
            name="Film: EXR tiles, ACEScg",
            fine=Fine(value=8192),
            tiles=Tiling(columns=4, rows=4),
            entries=(
                entry("colour", tiled % "colour", "colour", format="exr", type="float16", encoding="ACEScg"),
                entry("normal", tiled % "normal", "normal", format="exr", type="float16"),
                entry(
                    "surface", tiled % "surface", "roughness", "metallic", "occlusion", format="exr", type="float16"
                ),
                entry("height", tiled % "height", "height", format="exr", type="float32"),
            ),
        ),
        Sheet(
            id="weights",
            name="Weights of all layers",
            entries=(entry("weights", "{site}_weights_{k:02d}", "weights"),),
        ),
        Sheet(
            id="heights",
            name="16-bit RAW heights, 2^n+1",
            fine=Fine(value=2049),
            entries=(heights.model_copy(update={"corners": True, "longer_px": 2049}),),
        ),
        Sheet(id="layers", name="Splat weights and tiled sets", fine=Fine(value=1024), entries=(WHOLE["kit"],)),
        Sheet(
            id="mesh",
            name="glTF 2.0 mesh with baked maps",
            entries=(MeshEntry(id="mesh", maps="inside", maps_px=2048),),
        ),
        Sheet(id="site", name="Site for another machine", entries=(WHOLE["site"],)),
    )


READY = _ready()
"""The sheets that a new site has."""
