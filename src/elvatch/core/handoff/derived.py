"""Maps that another kind of entry stands for: what covers a mesh, and the weights of a kit."""

from __future__ import annotations

from elvatch.core.document.sheet import Entry, MapsEntry, Sheet, Slot, Tiling
from elvatch.core.document.sheet_entry import KitEntry, MeshEntry


def _bare(pattern: str, *fields: str) -> str:
    """Return a pattern without some of its fields, and without what joined them on."""
    for field in fields:
        pattern = pattern.replace("{" + field + "}", "")
    return pattern.rstrip("_-.")


def textures(entry: MeshEntry, sheet: Sheet) -> list[tuple[Sheet, MapsEntry]]:
    """Return the maps that cover a mesh, of all that the sheet covers in one piece."""
    if entry.maps == "none":
        return []
    whole = sheet.model_copy(update={"tiles": Tiling()})
    bare = _bare(entry.file, "row", "column", "level", "udim")

    def one(name: str, *values: str, type: str = "uint8") -> tuple[Sheet, MapsEntry]:
        holds = tuple(Slot.model_validate({"of": value}) for value in values)
        made = MapsEntry.model_validate(
            {"id": entry.id, "file": f"{bare}_{name}", "holds": holds, "type": type, "longer_px": entry.maps_px}
        )
        return whole, made

    return [one("colour", "colour"), one("surface", "occlusion", "roughness", "metallic"), one("normal", "normal")]


_WEIGHTS = {"splat": ("weights", "weights_{k:02d}"), "masks": ("shares", "mask_{k:02d}_{layer}")}


def weights(entry: KitEntry, sheet: Sheet) -> list[MapsEntry]:
    """Return the maps that say where each layer of a kit lies, in the sheet's tiles."""
    cut = sheet.tiles
    tile = "_{row}{column}" if cut.side_px or cut.columns * cut.rows > 1 else ""
    values = {"id": entry.id, "type": entry.weight_type, "a_tile": entry.most_a_tile}
    kinds = (
        [_WEIGHTS[entry.weights]]
        if entry.weights != "strongest"
        else [
            ("strongest-layers", "layers"),
            ("strongest-weights", "weights"),
        ]
    )
    return [
        MapsEntry.model_validate(
            values
            | {"file": f"{entry.file}_{name}{tile}", "holds": [{"of": of}]}
            | ({"type": "uint8"} if of == "strongest-layers" else {})
        )
        for of, name in kinds
    ]


def maps_of(sheet: Sheet, entry: Entry) -> list[tuple[Sheet, MapsEntry]]:
    """Return the maps that an entry stands for, and the sheet whose part and tiles they have."""
    if isinstance(entry, MapsEntry):
        return [(sheet, entry)]
    if isinstance(entry, MeshEntry):
        return textures(entry, sheet)
    if isinstance(entry, KitEntry):
        return [(sheet, one) for one in weights(entry, sheet)]
    return []
