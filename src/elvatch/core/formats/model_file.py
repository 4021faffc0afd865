"""Models of things from outside: GLB and glTF, OBJ with its material, PLY, STL; alone or in a zip."""

from __future__ import annotations

import io
from pathlib import PurePosixPath
from typing import Any

import numpy as np
import trimesh
from numpy.typing import NDArray
from trimesh.resolvers import Resolver

from elvatch.core.formats.model_read import MOST_TRIANGLES, ReadModel
from elvatch.core.formats.unpacked import files_of
from elvatch.core.refusal import RefusalError

ENDINGS = ("glb", "gltf", "obj", "ply", "stl")
_MOST_IMAGE_PX = 1024
_WHAT = "a model (GLB, glTF, OBJ, PLY, STL, or a zip of one)"


def _members(name: str, data: bytes) -> tuple[str, dict[str, bytes]]:
    """Return the model's name in a zip, and its files by their last name; nothing is unpacked onto a disk."""
    files = files_of(name, data)
    models = [path for path in files if PurePosixPath(path).suffix.lower().lstrip(".") in ENDINGS]
    if len(models) != 1:
        raise RefusalError(name, f"{len(models)} models", "one model in a zip", "pack them one by one")
    return models[0], {PurePosixPath(path).name: content for path, content in files.items()}


class _Beside(Resolver):
    """Answers for a model's own files: by their last name, among those that came with it and no others."""

    def __init__(self, files: dict[str, bytes], notes: list[str]) -> None:
        self._files, self._notes = files, notes

    def get(self, name: str) -> bytes:
        """Return a file's content; one that did not come is empty, and told."""
        last = PurePosixPath(str(name).replace("\\", "/")).name
        if last not in self._files:
            self._notes.append(f"{last[:60]} was not there")
            raise FileNotFoundError(last)
        return self._files[last]

    def keys(self) -> list[str]:
        """Return the names that there are."""
        return list(self._files)

    def write(self, name: str, data: bytes) -> None:
        """Refuse: nothing is written."""
        raise PermissionError(name)

    def namespaced(self, namespace: str) -> _Beside:
        """Return the same; folders do not matter."""
        del namespace
        return self


def decode(name: str, data: bytes) -> ReadModel:
    """Read a model.

    Parameters
    ----------
    name : str
        Of the file; its ending says the format.
    data : bytes
        The file, or a zip of it and what belongs to it.

    Raises
    ------
    RefusalError
        When it is no model, has no triangles or too many, or numbers that are none.
    """
    files: dict[str, bytes] = {}
    notes: list[str] = []
    if data[:4] in (b"PK\x03\x04", b"PK\x05\x06"):
        name, files = _members(name, data)
        data = files[PurePosixPath(name).name]
    ending = PurePosixPath(name).suffix.lower().lstrip(".")
    if ending not in ENDINGS:
        raise RefusalError(name, f"a file that ends in .{ending[:12]}", _WHAT, "export it as one of these")
    try:
        scene = trimesh.load_scene(
            io.BytesIO(data), file_type=ending, resolver=_Beside(files, notes), process=False, maintain_order=True
        )
        parts = [part for part in scene.dump() if isinstance(part, trimesh.Trimesh)]
    except (MemoryError, RefusalError):
        raise
    except Exception as error:  # each format's reader has errors of its own
        found = f"a model that cannot be read ({' '.join(str(error).split())[:80]})"
        raise RefusalError(name, found, "a whole one", "export it again") from None
    return _joined(name, parts, notes, ending)


def _joined(name: str, parts: list[Any], notes: list[str], ending: str) -> ReadModel:
    count = sum(len(part.faces) for part in parts)
    if count == 0:
        raise RefusalError(name, "no triangles", "a model with triangles", "export its surface")
    if count > MOST_TRIANGLES:
        raise RefusalError(
            name, f"{count:,} triangles", f"at most {MOST_TRIANGLES:,}", "reduce it before bringing it in"
        )
    images: list[NDArray[np.uint8]] = []
    columns: list[tuple[NDArray[Any], ...]] = []
    first = 0
    for part in parts:
        if ending == "stl":
            # each triangle has corners of its own there: what hangs together is put together
            part.merge_vertices()
        places = np.asarray(part.vertices, np.float64)
        triangles = np.asarray(part.faces, np.int64)
        if not np.isfinite(places).all():
            raise RefusalError(name, "places that are not numbers", "finite numbers", "export it again")
        if triangles.size and (triangles.min() < 0 or triangles.max() >= len(places)):
            raise RefusalError(name, "triangles of places that are not there", "a whole model", "export it again")
        colours, rough, uv, image = _look(part, len(places), images, notes)
        normals = np.asarray(part.vertex_normals, np.float64)
        columns.append(
            (
                places,
                np.nan_to_num(normals),
                colours,
                rough,
                uv,
                triangles + first,
                np.full(len(triangles), image, np.int64),
            )
        )
        first += len(places)
    places, normals, colours, rough, uv, triangles, which = (
        np.concatenate(one) for one in zip(*columns, strict=True)
    )
    corners = places[triangles]
    flat = np.linalg.norm(np.cross(corners[:, 1] - corners[:, 0], corners[:, 2] - corners[:, 0]), axis=1) <= 0
    if flat.all():
        raise RefusalError(name, "triangles without any area", "a model with a surface", "export it again")
    if flat.any():
        notes.append(f"{int(flat.sum()):,} triangles without any area were left out")
    gltf = ending in ("glb", "gltf")
    return ReadModel(
        places,
        normals,
        colours,
        rough,
        uv,
        triangles[~flat],
        which[~flat],
        images,
        notes,
        "y" if gltf else None,
        gltf,
    )


def _look(
    part: Any, count: int, images: list[NDArray[np.uint8]], notes: list[str]
) -> tuple[NDArray[np.float64], NDArray[np.float64], NDArray[np.float64], int]:
    """Return colours, roughness and texture coordinates of a part's vertices, and the number of its image, or -1."""
    colours: NDArray[np.float64] = np.full((count, 3), 0.4)
    uv: NDArray[np.float64] = np.zeros((count, 2))
    image, rough = -1, 0.85
    visual = part.visual
    material = getattr(visual, "material", None)
    if material is not None:
        found = getattr(visual, "uv", None)
        if found is not None and len(found) == count and np.isfinite(found).all():
            uv = np.asarray(found, np.float64)
        factor = getattr(material, "baseColorFactor", None)
        if factor is None:
            factor = getattr(material, "diffuse", None)
        if factor is not None:
            base = np.asarray(factor, np.float64)[:3]
            colours[:] = _linear(base / 255.0 if base.max() > 1 else base)
        told = getattr(material, "roughnessFactor", None)
        rough = float(told) if told is not None else rough
        texture = getattr(material, "baseColorTexture", None)
        texture = texture if texture is not None else getattr(material, "image", None)
        if texture is not None and uv.any():
            image = _kept(texture, images, notes)
            if factor is None:
                colours[:] = 1.0
    elif getattr(visual, "kind", None) == "vertex":
        colours = _linear(np.asarray(visual.vertex_colors, np.float64)[:, :3] / 255.0)
    # down in a picture is up in its coordinates
    uv[:, 1] = 1.0 - uv[:, 1]
    return colours, np.full(count, min(max(rough, 0.05), 1.0)), uv, image


def _kept(texture: Any, images: list[NDArray[np.uint8]], notes: list[str]) -> int:
    if texture.width * texture.height > 140_000_000:
        notes.append("a texture was too large")
        return -1
    if max(texture.size) > _MOST_IMAGE_PX:
        notes.append(f"a texture of {texture.width} x {texture.height} was reduced to {_MOST_IMAGE_PX} pixels a side")
        texture.thumbnail((_MOST_IMAGE_PX, _MOST_IMAGE_PX))
    images.append(np.asarray(texture.convert("RGBA"), np.uint8))
    return len(images) - 1


def _linear(codes: NDArray[np.float64]) -> NDArray[np.float64]:
    return np.where(codes <= 0.04045, codes / 12.92, ((np.clip(codes, 0, 1) + 0.055) / 1.055) ** 2.4)
