"""The manifest of a hand-off: what every file is, so that another program or person need not guess.

It holds no date and no place: the same recipe gives the same bytes.
"""

from __future__ import annotations

import hashlib
import os
from collections.abc import Sequence
from importlib.metadata import version
from pathlib import Path
from typing import Annotated, Literal

from pydantic import BaseModel, ConfigDict, Field

from elvatch.core import digest
from elvatch.core.document.recipe import Recipe
from elvatch.core.document.sheet import Encoding, Sheet, ValueName
from elvatch.core.formats.written import FORMS, FormatName, SampleType
from elvatch.core.handoff.listing import File, Source, type_label
from elvatch.core.handoff.values import KINDS

FILE_NAME = "hand-off.json"


class _Said(BaseModel):
    model_config = ConfigDict(extra="forbid", frozen=True)


class ChannelSaid(_Said):
    """A channel: the value, its unit, what its lowest and highest code stand for, whether that is turned about."""

    of: ValueName
    unit: str
    low: float
    high: float
    inverted: bool
    layer: str


class TileSaid(_Said):
    """Which texels of the whole site's grid a file has, without its border; row 0 is north."""

    row: int
    column: int
    first_row: int
    first_column: int
    rows: int
    columns: int
    border_px: int


class FileSaid(_Said):
    """A file of numbers over the ground: what it is, how it is to be read, and a name for all it was made of."""

    kind: Literal["map"] = "map"
    name: str
    entry: str
    bytes: int
    sha256: str
    format: FormatName
    type: SampleType
    width_px: int
    height_px: int
    grid_px: tuple[int, int]
    samples: Literal["middles of cells", "corners"]
    tile: TileSaid
    channels: tuple[ChannelSaid, ...]
    encoding: Encoding | Literal["raw"]
    normals: str
    low_byte_first: bool
    made_of: str = ""


class MadeSaid(_Said):
    """Any other file: what it is, what else is told of it in lines for people, a name for what it was made of."""

    kind: Literal["made"] = "made"
    name: str
    entry: str
    bytes: int
    sha256: str
    what: str
    told: tuple[str, ...] = ()
    made_of: str = ""


AnySaid = FileSaid | MadeSaid


class Manifest(_Said):
    """All of a hand-off."""

    format: Literal["elvatch-hand-off"] = "elvatch-hand-off"
    version: Literal[1] = 1
    made_by: str
    site: str
    width_m: float
    depth_m: float
    north: Literal["row 0"] = "row 0"
    recipe: str
    sheet: Sheet
    files: tuple[Annotated[AnySaid, Field(discriminator="kind")], ...]


def covered_by(recipe: Recipe) -> str:
    """Return a name for all of a recipe that a hand-off depends on: not its light, nor where it is looked at from."""
    parts = recipe.model_dump(
        mode="json", include={"ground", "layers", "wears", "marks", "water", "strews", "things"}
    )
    return digest.of_json(parts)


def sha256_of(path: Path) -> str:
    """Return the SHA-256 of a file, in hex."""
    with path.open("rb") as stream:
        return hashlib.file_digest(stream, "sha256").hexdigest()


def made(path: Path, entry: str, what: str, told: Sequence[str] = ()) -> MadeSaid:
    """Return what a manifest says of a file that lies there whole; it is on disk when this returns."""
    with path.open("rb") as stream:
        os.fsync(stream.fileno())
    return MadeSaid(
        name=path.name, entry=entry, bytes=path.stat().st_size, sha256=sha256_of(path), what=what, told=tuple(told)
    )


def said(file: File, bytes: int, sha256: str, made_of: str) -> FileSaid:
    """Return what a manifest says of a file that was written."""
    entry, tile, families = file.entry, file.tile, {KINDS[one.of].family for one in file.held}
    against = "against the ground (tangent space)" if entry.against == "ground" else "of the whole (world, z up)"
    return FileSaid(
        name=file.name,
        entry=entry.id,
        bytes=bytes,
        sha256=sha256,
        format=entry.format,
        type=entry.type,
        width_px=file.image.width,
        height_px=file.image.height,
        grid_px=(file.grid.width, file.grid.height),
        samples="corners" if file.grid.corners else "middles of cells",
        tile=TileSaid(
            row=tile.row,
            column=tile.column,
            first_row=tile.rows[0],
            first_column=tile.cols[0],
            rows=tile.rows[1] - tile.rows[0],
            columns=tile.cols[1] - tile.cols[0],
            border_px=tile.border,
        ),
        channels=tuple(
            ChannelSaid(of=one.of, unit=one.unit, low=one.low, high=one.high, inverted=one.inverted, layer=one.layer)
            for one in file.held
        ),
        encoding=entry.encoding if "colour" in families else "raw",
        normals=f"{against}, green {entry.green}" if "normal" in families else "",
        low_byte_first=entry.low_byte_first,
        made_of=made_of,
    )


def told_of(file: AnySaid) -> list[str]:
    """Return what a manifest says of a file, in short lines for people."""
    if isinstance(file, MadeSaid):
        return [file.what, *file.told, f"SHA-256 {file.sha256}"]
    label, bits = FORMS[file.format].label, type_label(file.type)
    order = "" if file.format != "raw" else ", low byte first" if file.low_byte_first else ", high byte first"
    tile = file.tile
    part = f"texels {tile.first_column}, {tile.first_row} on of {file.grid_px[0]} x {file.grid_px[1]}"
    border = f", border {tile.border_px} px" if tile.border_px else ""
    lines = [f"{label} {bits}{order}, {file.encoding}", f"{part}{border}, samples in the {file.samples}"]
    if file.normals:
        lines.append(f"normals {file.normals}")
    whole = file.type.startswith("uint")
    for letter, one in zip("RGBA", file.channels, strict=False):
        ends = f", codes from {one.low:.6g} to {one.high:.6g} {one.unit}" if whole and one.unit else f" {one.unit}"
        lines.append(
            f"{letter} {one.layer or KINDS[one.of].title}{', inverted' if one.inverted else ''}{ends}".strip()
        )
    return [*lines, f"SHA-256 {file.sha256}"]


def manifest_of(sheet: Sheet, source: Source, files: tuple[AnySaid, ...]) -> Manifest:
    """Return the manifest of a whole hand-off."""
    ground = source.recipe.ground
    return Manifest(
        made_by=f"elvatch {version('elvatch')}",
        site=source.title,
        width_m=ground.width_m,
        depth_m=ground.depth_m,
        recipe=covered_by(source.recipe),
        sheet=sheet,
        files=files,
    )
