"""What lies beside the images of a set that was taken out: everything that their names cannot say."""

from __future__ import annotations

import io
import zipfile
from collections.abc import Callable
from typing import Literal

from pydantic import Field, ValidationError

from elvatch.core.parts import Part
from elvatch.core.refusal import RefusalError
from elvatch.core.stock import roles
from elvatch.core.stock.archive import MANIFEST
from elvatch.core.stock.description import Filed, LookupPx, MadeBy, Origin, SetDescription
from elvatch.core.stock.roles import Role

_MOST_BYTES = 1 << 20


class ManifestMap(Part):
    """One image: its name beside the manifest, and where it came from."""

    file: str = Field(min_length=1, max_length=120, pattern=r"^[^/\\\x00]+$")
    origin: Origin = "brought"
    from_name: str = Field(default="", max_length=200)
    note: str = Field(default="", max_length=400)


class SetManifest(Filed):
    """A set as its zip describes it; see docs/formats.md."""

    format: Literal["elvatch-set"] = "elvatch-set"
    version: Literal[1] = 1
    lookup_px: LookupPx = 1024
    maps: dict[Role, ManifestMap] = Field(min_length=1)
    made_by: MadeBy | None = None


def read(name: str, data: bytes) -> SetManifest:
    """Read a manifest.

    Raises
    ------
    RefusalError
        When it is none.
    """
    if len(data) > _MOST_BYTES:
        raise RefusalError(name, f"{len(data)} bytes", "a short description of a set", "leave it out")
    try:
        return SetManifest.model_validate_json(data)
    except ValidationError as error:
        first = error.errors(include_url=False)[0]
        where = ".".join(str(part) for part in first["loc"]) or "the file"
        raise RefusalError(
            name, f"{where}: {first['msg'][:80]}", "a set.json as Elvatch writes it", "leave it out or correct it"
        ) from None


def plain_name(title: str) -> str:
    """Return a title as a file name: letters and figures of any script, the rest as underscores."""
    kept = "".join(c if c.isalnum() else "_" for c in title.strip())
    return "_".join(part for part in kept.split("_") if part)[:60] or "set"


def take_out(description: SetDescription, get: Callable[[str], bytes]) -> tuple[str, bytes]:
    """Return a set as a zip with clean names, and the zip's own name.

    Parameters
    ----------
    description : SetDescription
        The set.
    get : callable
        Returns a stored file's bytes by its content name.
    """
    stem = plain_name(description.title)
    names = {role: f"{stem}_{roles.FACTS[role].tail}.png" for role in description.maps}
    manifest = SetManifest.model_validate(
        description.filed()
        | {
            "lookup_px": description.lookup_px,
            "made_by": description.made_by,
            "maps": {
                role: ManifestMap(file=names[role], origin=entry.origin, from_name=entry.from_name, note=entry.note)
                for role, entry in description.maps.items()
            },
        }
    )
    stream = io.BytesIO()
    # PNGs are packed already
    with zipfile.ZipFile(stream, "w", zipfile.ZIP_STORED) as out:
        out.writestr(f"{stem}/{MANIFEST}", manifest.model_dump_json(indent=2))
        for role, entry in description.maps.items():
            out.writestr(f"{stem}/{names[role]}", get(entry.file))
    return f"{stem}.zip", stream.getvalue()
