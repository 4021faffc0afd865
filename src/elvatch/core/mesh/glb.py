"""A mesh as glTF 2.0 in one binary file (Khronos 2021)."""

from __future__ import annotations

from collections.abc import Mapping
from pathlib import Path
from typing import Any

import numpy as np
import pygltflib as gltf
from numpy.typing import NDArray

from elvatch.core.mesh.carried import Carried, Textures
from elvatch.core.mesh.mesh import Mesh, y_up

_A_SET = 4


class Buffer:
    """The one buffer, filled view by view."""

    def __init__(self, document: gltf.GLTF2) -> None:
        self._document, self._size = document, 0
        self._parts: list[bytes] = []

    def view(self, data: bytes, target: int | None = None) -> int:
        """Add bytes; return the number of their view."""
        view = gltf.BufferView(buffer=0, byteOffset=self._size, byteLength=len(data), target=target)
        self._document.bufferViews.append(view)
        padded = data + b"\0" * (-len(data) % 4)
        self._parts.append(padded)
        self._size += len(padded)
        return len(self._document.bufferViews) - 1

    def accessor(
        self, values: NDArray[Any], kind: str, bounds: bool = False, indices: bool = False, target: bool = True
    ) -> int:
        """Add numbers, one row a vertex (or, without ``target``, one row of something else); return the number of
        their accessor."""
        types = {"f": gltf.FLOAT, "u2": gltf.UNSIGNED_SHORT, "u4": gltf.UNSIGNED_INT}
        component = types["f" if values.dtype.kind == "f" else values.dtype.str[1:]]
        of_what = gltf.ELEMENT_ARRAY_BUFFER if indices else gltf.ARRAY_BUFFER
        view = self.view(np.ascontiguousarray(values).tobytes(), of_what if target else None)
        accessor = gltf.Accessor(
            bufferView=view,
            componentType=component,
            count=len(values),
            type=kind,
            normalized=True if values.dtype == np.uint16 else None,
            min=values.min(axis=0).tolist() if bounds else None,
            max=values.max(axis=0).tolist() if bounds else None,
        )
        self._document.accessors.append(accessor)
        return len(self._document.accessors) - 1

    def joined(self) -> bytes:
        """Return all of it."""
        return b"".join(self._parts)


def saved(document: gltf.GLTF2, buffer: Buffer) -> bytes:
    """Return a document with its buffer as the bytes of a binary file."""
    blob = buffer.joined()
    document.buffers.append(gltf.Buffer(byteLength=len(blob)))
    document.set_binary_blob(blob)
    return b"".join(document.save_to_bytes())


def _texture(document: gltf.GLTF2, buffer: Buffer, of: bytes | str) -> int:
    """Add a texture: a PNG file's bytes, or its name beside the file."""
    if isinstance(of, bytes):
        document.images.append(gltf.Image(bufferView=buffer.view(of), mimeType="image/png"))
    else:
        document.images.append(gltf.Image(uri=of))
    document.textures.append(gltf.Texture(sampler=0, source=len(document.images) - 1))
    return len(document.textures) - 1


_STRENGTH = "KHR_materials_emissive_strength"


def textured(
    document: gltf.GLTF2, buffer: Buffer, name: str, maps: Mapping[str, bytes | str], emission: float = 0.0
) -> gltf.Material:
    """Return a material of maps: ``colour``, ``surface`` (occlusion, roughness, metal) and, where they are given,
    ``normal`` and ``emission``, which is multiplied by so much; each a PNG file's bytes, or its name beside the file.
    """
    shining = "emission" in maps
    if shining and _STRENGTH not in (document.extensionsUsed or []):
        document.extensionsUsed = [*(document.extensionsUsed or []), _STRENGTH]
    number = {word: _texture(document, buffer, of) for word, of in maps.items()}
    return gltf.Material(
        name=name,
        pbrMetallicRoughness=gltf.PbrMetallicRoughness(
            baseColorTexture=gltf.TextureInfo(index=number["colour"]),
            metallicRoughnessTexture=gltf.TextureInfo(index=number["surface"]),
            metallicFactor=1.0,
            roughnessFactor=1.0,
        ),
        occlusionTexture=gltf.OcclusionTextureInfo(index=number["surface"]),
        normalTexture=gltf.NormalMaterialTexture(index=number["normal"]) if "normal" in number else None,
        emissiveTexture=gltf.TextureInfo(index=number["emission"]) if shining else None,
        emissiveFactor=[1.0, 1.0, 1.0] if shining else None,
        extensions={_STRENGTH: {"emissiveStrength": emission}} if shining else {},
    )


def _material(document: gltf.GLTF2, buffer: Buffer, textures: Textures | None) -> gltf.Material:
    if textures is None:
        grey = [0.5, 0.5, 0.5, 1.0]
        plain = gltf.PbrMetallicRoughness(baseColorFactor=grey, metallicFactor=0.0, roughnessFactor=0.9)
        return gltf.Material(name="ground", pbrMetallicRoughness=plain)
    document.samplers.append(
        gltf.Sampler(
            magFilter=gltf.LINEAR,
            minFilter=gltf.LINEAR_MIPMAP_LINEAR,
            wrapS=gltf.CLAMP_TO_EDGE,
            wrapT=gltf.CLAMP_TO_EDGE,
        )
    )
    names = {"colour": textures.colour, "surface": textures.surface, "normal": textures.normal}
    read = {word: (textures.folder / name).read_bytes() for word, name in names.items()} if textures.inside else names
    return textured(document, buffer, "ground", read)


def _shares(mesh: Mesh, carried: Carried, buffer: Buffer, attributes: gltf.Attributes) -> None:
    if carried.shares == "colours":
        count = -(-mesh.shares.shape[1] // _A_SET) * _A_SET
        wide = np.zeros((len(mesh.shares), count), np.float32)
        wide[:, : mesh.shares.shape[1]] = mesh.shares
        whole = np.rint(np.clip(wide, 0, 1) * 65535).astype(np.uint16)
        for k in range(count // _A_SET):
            setattr(attributes, f"COLOR_{k}", buffer.accessor(whole[:, k * _A_SET : (k + 1) * _A_SET], "VEC4"))
    elif carried.shares == "values":
        for k in range(mesh.shares.shape[1]):
            # a name with a line before it is an application's own: viewers leave it alone
            setattr(attributes, f"_SHARE_{k}", buffer.accessor(mesh.shares[:, k], "SCALAR"))


def write(path: Path, mesh: Mesh, carried: Carried) -> None:
    """Write a mesh; y is up, metres, x to the east and z to the south."""
    document = gltf.GLTF2(asset=gltf.Asset(version="2.0", generator="elvatch"))
    buffer = Buffer(document)
    places = y_up(mesh.places).astype(np.float32)
    attributes = gltf.Attributes(
        POSITION=buffer.accessor(places, "VEC3", bounds=True),
        NORMAL=buffer.accessor(y_up(mesh.normals).astype(np.float32), "VEC3"),
    )
    if carried.textures is not None:
        tangents = np.ones((len(places), 4), np.float32)
        tangents[:, :3] = y_up(mesh.tangents())
        attributes.TANGENT = buffer.accessor(tangents, "VEC4")
        attributes.TEXCOORD_0 = buffer.accessor(mesh.uv, "VEC2")
    _shares(mesh, carried, buffer, attributes)
    indices = buffer.accessor(mesh.triangles.reshape(-1).astype(np.uint32), "SCALAR", indices=True)
    document.materials.append(_material(document, buffer, carried.textures))
    named = {"layers": list(carried.layers), "unit": "m"} if carried.shares != "none" else {"unit": "m"}
    primitive = gltf.Primitive(attributes=attributes, indices=indices, material=0)
    document.meshes.append(gltf.Mesh(primitives=[primitive], name=carried.title, extras=named))
    document.nodes.append(gltf.Node(mesh=0, name=carried.title))
    document.scenes.append(gltf.Scene(nodes=[0]))
    document.scene = 0
    path.write_bytes(saved(document, buffer))
