"""Baked things as files: a binary glTF with its textures, and the finest level's textures beside it."""

from __future__ import annotations

from pathlib import Path

import numpy as np
import pygltflib as gltf
from numpy.typing import NDArray

from elvatch.core import colour
from elvatch.core.formats import png
from elvatch.core.handoff.baked import Baked, NormalsIn
from elvatch.core.mesh.glb import Buffer, saved, textured
from elvatch.core.mesh.mesh import y_up

MAPS = ("colour", "surface", "normal")
"""Base colour, sRGB; occlusion, roughness and metal in red, green and blue; normals, green up."""
GLOW = "emission"
"""What shines by itself, sRGB, the brightest of it 1: only of what does."""


def codes(of: NDArray[np.floating], bits: int) -> NDArray[np.uint8] | NDArray[np.uint16]:
    """Return shares 0..1 as whole numbers of 8 or 16 bits."""
    most, kind = ((1 << bits) - 1), (np.uint8 if bits == 8 else np.uint16)
    out: NDArray[np.uint8] | NDArray[np.uint16] = np.rint(np.clip(of, 0, 1) * most).astype(kind)
    return out


def brightest(of: Baked) -> float:
    """Return what a baked thing's emission map is multiplied by to be what it sends out, 0 where that is nothing."""
    return float(of.glow.max(initial=0.0))


def maps(of: Baked, normal_bits: int) -> dict[str, bytes]:
    """Return a baked thing's textures as PNG, by the names of :data:`MAPS`, and of :data:`GLOW` where it shines."""
    surface = np.stack([of.open, of.rough, of.metal], 2)
    most = brightest(of)
    glow = {GLOW: png.encode(colour.srgb_bytes(of.glow / np.float32(most)))} if most > 0 else {}
    return {
        **glow,
        "colour": png.encode(colour.srgb_bytes(of.colour)),
        "surface": png.encode(codes(surface, 8)),
        "normal": png.encode(codes(0.5 + 0.5 * of.normal, normal_bits)),
    }


def write_model(path: Path, name: str, levels: list[Baked], normals_in: NormalsIn) -> None:
    """Write a baked thing, its levels of detail as nodes side by side, finest first, y up.

    Normals in its own axes stay a map beside it: a binary glTF has no place for them.
    """
    document = gltf.GLTF2(asset=gltf.Asset(version="2.0", generator="elvatch"))
    buffer = Buffer(document)
    document.samplers.append(gltf.Sampler(magFilter=gltf.LINEAR, minFilter=gltf.LINEAR_MIPMAP_LINEAR))
    for k, level in enumerate(levels):
        made = maps(level, 8)
        if normals_in == "object":
            del made["normal"]
        document.materials.append(textured(document, buffer, f"{name} level {k}", made, brightest(level)))
        solid, rows = level.unwrapped.solid, level.corners.row
        normals = solid.normals[rows] / np.maximum(np.linalg.norm(solid.normals[rows], axis=1, keepdims=True), 1e-6)
        along = np.concatenate([y_up(level.corners.tangent[:, :3]), level.corners.tangent[:, 3:]], 1)
        attributes = gltf.Attributes(
            POSITION=buffer.accessor(y_up(solid.places[rows]).astype(np.float32), "VEC3", bounds=True),
            NORMAL=buffer.accessor(y_up(normals).astype(np.float32), "VEC3"),
            TANGENT=buffer.accessor(along.astype(np.float32), "VEC4"),
            TEXCOORD_0=buffer.accessor(level.unwrapped.flat[rows], "VEC2"),
        )
        indices = buffer.accessor(level.corners.triangles.reshape(-1).astype(np.uint32), "SCALAR", indices=True)
        document.meshes.append(
            gltf.Mesh(
                primitives=[gltf.Primitive(attributes=attributes, indices=indices, material=k)],
                name=f"{name} level {k}",
            )
        )
        document.nodes.append(gltf.Node(mesh=k, name=f"level{k}"))
    document.scenes.append(gltf.Scene(nodes=list(range(len(levels)))))
    document.scene = 0
    path.write_bytes(saved(document, buffer))
