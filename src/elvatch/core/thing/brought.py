"""Things brought in: a model turned upright, sized, reduced where it must be, and kept as our own arrays."""

from __future__ import annotations

import io
import zipfile
from typing import Any, Literal, NamedTuple

import numpy as np

from elvatch.core.formats.model_read import MOST_KEPT, ReadModel
from elvatch.core.refusal import RefusalError
from elvatch.core.thing.levels import simplified
from elvatch.core.thing.shelter import left_open
from elvatch.core.thing.solid import Image, Solid, stood

Up = Literal["y", "z"]
UNITS = {"m": 1.0, "cm": 0.01, "mm": 0.001, "in": 0.0254, "ft": 0.3048}
_MOST_UNPACKED, _MOST_TRIANGLES = 512 << 20, 2 * MOST_KEPT
_COLUMNS = ("places", "normals", "colours", "roughness", "open", "leaf", "uv", "triangles", "image")


class Brought(NamedTuple):
    """A thing that was brought in: its solid with a longest side of 1 m, how long that is, and what is told."""

    solid: Solid
    longest_m: float
    triangles: int
    notes: list[str]


def upright(found: ReadModel, up: Up, unit: str) -> Brought:
    """Return a model standing on height 0 with z up, in metres, with at most so many triangles as are kept.

    Parameters
    ----------
    found : ReadModel
        As it was read.
    up : "y" or "z"
        Which of its axes is up.
    unit : str
        A key of :data:`UNITS`: what its numbers are.
    """
    places, normals = found.places * UNITS[unit], found.normals
    if up == "y":
        places, normals = (np.stack([v[:, 0], -v[:, 2], v[:, 1]], 1) for v in (places, normals))
    count = len(places)
    made = Solid(
        np.ascontiguousarray(places - places.mean(axis=0), np.float32),
        np.ascontiguousarray(normals, np.float32),
        np.ascontiguousarray(found.colours, np.float32),
        found.roughness.astype(np.float32),
        np.ones(count, np.float32),
        np.zeros(count, np.float32),
        np.ascontiguousarray(found.uv, np.float32),
        np.ascontiguousarray(found.triangles, np.int32),
        found.image.astype(np.int32),
        tuple(Image(np.ascontiguousarray(one)) for one in found.images),
    )
    notes, came = list(found.notes), len(made.triangles)
    if came > MOST_KEPT:
        made = simplified(made, MOST_KEPT / came)
        notes.append(f"reduced from {came:,} to {len(made.triangles):,} triangles")
    made = made._replace(open=left_open(made))
    longest = float(made.extent_m.max())
    if not 1e-4 < longest < 1e4:
        raise RefusalError(
            "the model", f"{longest:g} m across", "1 mm to 1 km", "choose the unit that its numbers are in"
        )
    return Brought(stood(made, 1.0), longest, came, notes)


def packed(of: Solid) -> bytes:
    """Return a solid as bytes; :func:`unpacked` gives it back."""
    out = io.BytesIO()
    images = {f"image_{k}": one.texels for k, one in enumerate(of.images)}
    arrays: dict[str, Any] = {name: getattr(of, name) for name in _COLUMNS} | images
    np.savez_compressed(out, **arrays)
    return out.getvalue()


def unpacked(data: bytes) -> Solid:
    """Return a solid of bytes that :func:`packed` made; they may have come in a pack, and are believed nothing.

    Raises
    ------
    RefusalError
        When they are no solid.
    """
    damaged = RefusalError("thing", "a kept model that is damaged", "a whole one", "bring it in again")
    try:
        with zipfile.ZipFile(io.BytesIO(data)) as archive:
            if sum(one.file_size for one in archive.infolist()) > _MOST_UNPACKED:
                raise damaged
        with np.load(io.BytesIO(data), allow_pickle=False) as found:
            columns: list[Any] = [np.ascontiguousarray(found[name]) for name in _COLUMNS]
            images = [
                Image(np.ascontiguousarray(found[name])) for name in sorted(found.files) if name[:6] == "image_"
            ]
    except (OSError, ValueError, KeyError, EOFError, zipfile.BadZipFile):
        raise damaged from None
    places, normals, colours, rough, open_sky, leaf, uv, triangles, image = columns
    made = Solid(places, normals, colours, rough, open_sky, leaf, uv, triangles, image, tuple(images))
    if not _is_whole(made):
        raise damaged
    return made


def _is_whole(of: Solid) -> bool:
    """Return whether all of a solid fits together, as compiled code takes for granted."""
    n, m = len(of.places), len(of.triangles)
    floats = {
        "places": (n, 3),
        "normals": (n, 3),
        "colours": (n, 3),
        "roughness": (n,),
        "open": (n,),
        "leaf": (n,),
        "uv": (n, 2),
    }
    for name, shape in floats.items():
        values = getattr(of, name)
        if values.dtype != np.float32 or values.shape != shape or not np.isfinite(values).all():
            return False
    if of.triangles.dtype != np.int32 or of.triangles.shape != (m, 3) or not 0 < m <= _MOST_TRIANGLES:
        return False
    if of.image.dtype != np.int32 or of.image.shape != (m,):
        return False
    if any(
        one.texels.dtype != np.uint8 or one.texels.ndim != 3 or one.texels.shape[2] != 4 or one.texels.size == 0
        for one in of.images
    ):
        return False
    inside = bool(of.triangles.min() >= 0 and of.triangles.max() < n)
    return inside and bool(of.image.min() >= -1 and of.image.max() < len(of.images))
