"""Things as other programs take them: a table, JSON, glTF instances (EXT_mesh_gpu_instancing), OpenUSD instancers."""

from __future__ import annotations

import csv
import json
from pathlib import Path
from typing import Any, NamedTuple

import numpy as np
import pygltflib as gltf
import scipy
from numpy.typing import NDArray

from elvatch.core.formats import png
from elvatch.core.mesh.glb import Buffer, saved
from elvatch.core.mesh.mesh import y_up
from elvatch.core.thing.solid import Solid

Numbers = NDArray[np.float64]
COLUMNS = (
    "strew",
    "thing",
    "variant",
    "number",
    "east_m",
    "north_m",
    "up_m",
    "turn_x",
    "turn_y",
    "turn_z",
    "turn_w",
    "scale",
    "size_m",
    "radius_m",
    "tint_red",
    "tint_green",
    "tint_blue",
)
INSTANCING = "EXT_mesh_gpu_instancing"


class Instances(NamedTuple):
    """Things that stand: names of their strew and thing, ``variant``, ``number``; ``at`` (n, 3) metres east, north,
    up; ``turn`` (n, 4) unit quaternions x, y, z, w; ``scale`` (n,) of a model with a longest side of 1 m, which is
    ``size_m`` too; ``radius_m`` (n,) of the foot; ``tint`` (n, 3)."""

    strew: list[str]
    thing: list[str]
    variant: NDArray[np.int64]
    number: NDArray[np.int64]
    at: Numbers
    turn: Numbers
    scale: Numbers
    radius_m: Numbers
    tint: Numbers

    def some(self, rows: NDArray[np.bool_]) -> Instances:
        """Return some of them."""
        index = np.flatnonzero(rows)
        return Instances(
            [self.strew[i] for i in index],
            [self.thing[i] for i in index],
            self.variant[rows],
            self.number[rows],
            self.at[rows],
            self.turn[rows],
            self.scale[rows],
            self.radius_m[rows],
            self.tint[rows],
        )


def quaternions(turn: NDArray[np.floating]) -> Numbers:
    """Return matrices (n, 9) as unit quaternions (n, 4), x, y, z, w."""
    if len(turn) == 0:
        return np.zeros((0, 4))
    return np.asarray(
        scipy.spatial.transform.Rotation.from_matrix(turn.reshape(-1, 3, 3).astype(np.float64)).as_quat()
    )


def _rows(of: Instances) -> list[list[Any]]:
    numbers = np.column_stack([of.at, of.turn, of.scale, of.scale, of.radius_m, of.tint]).round(6).tolist()
    return [
        [strew, thing, int(variant), int(number), *values]
        for strew, thing, variant, number, values in zip(
            of.strew, of.thing, of.variant, of.number, numbers, strict=True
        )
    ]


def write_csv(path: Path, of: Instances) -> None:
    """Write things as a table, one row each; units stand in the names of its columns."""
    with path.open("w", newline="", encoding="utf-8") as out:
        writer = csv.writer(out)
        writer.writerow(COLUMNS)
        writer.writerows(_rows(of))


def write_json(path: Path, of: Instances, models: dict[str, list[str]]) -> None:
    """Write things as JSON: what its columns are, which files their models lie in, and one row each."""
    told = {
        "format": "elvatch-things",
        "version": 1,
        "axes": "east, north, up in metres from the south-west corner; turns are quaternions x, y, z, w",
        "models": models,
        "columns": COLUMNS,
        "rows": _rows(of),
    }
    path.write_text(json.dumps(told, ensure_ascii=False))


def _quaternion_y_up(turn: Numbers) -> Numbers:
    """Return turns of east, north, up as turns of x right, y up, z to the south."""
    return np.stack([turn[:, 0], turn[:, 2], -turn[:, 1], turn[:, 3]], 1)


def _mesh(document: gltf.GLTF2, buffer: Buffer, name: str, solid: Solid) -> int:
    """Add a solid as a mesh, a primitive for each of its images; return its number."""
    primitives = []
    for image in sorted(set(solid.image.tolist())):
        corners = solid.triangles[solid.image == image]
        used, index = np.unique(corners, return_inverse=True)
        attributes = gltf.Attributes(
            POSITION=buffer.accessor(y_up(solid.places[used]).astype(np.float32), "VEC3", bounds=True),
            NORMAL=buffer.accessor(y_up(_unit(solid.normals[used])).astype(np.float32), "VEC3"),
        )
        colours = np.ones((len(used), 4), np.float32)
        colours[:, :3] = np.clip(solid.colours[used], 0, 1)
        attributes.COLOR_0 = buffer.accessor(colours, "VEC4")
        if image >= 0:
            attributes.TEXCOORD_0 = buffer.accessor(np.ascontiguousarray(solid.uv[used], np.float32), "VEC2")
        indices = buffer.accessor(index.reshape(-1).astype(np.uint32), "SCALAR", indices=True)
        primitives.append(
            gltf.Primitive(
                attributes=attributes, indices=indices, material=_material(document, buffer, solid, int(image))
            )
        )
    document.meshes.append(gltf.Mesh(primitives=primitives, name=name))
    return len(document.meshes) - 1


def _unit(normals: NDArray[np.float32]) -> NDArray[np.float32]:
    length = np.linalg.norm(normals, axis=1, keepdims=True)
    unit: NDArray[np.float32] = np.where(length > 1e-6, normals / np.maximum(length, 1e-6), [0, 0, 1]).astype(
        np.float32
    )
    return unit


def _material(document: gltf.GLTF2, buffer: Buffer, solid: Solid, image: int) -> int:
    rough = gltf.PbrMetallicRoughness(metallicFactor=0.0, roughnessFactor=float(solid.roughness.mean()))
    material = gltf.Material(name="thing", pbrMetallicRoughness=rough, doubleSided=bool(solid.leaf.max() > 0))
    if image >= 0:
        texels = png.encode(solid.images[image].texels)
        document.images.append(gltf.Image(bufferView=buffer.view(texels), mimeType="image/png"))
        document.textures.append(gltf.Texture(source=len(document.images) - 1))
        rough.baseColorTexture = gltf.TextureInfo(index=len(document.textures) - 1)
        material.alphaMode, material.alphaCutoff, material.doubleSided = "MASK", 0.5, True
    document.materials.append(material)
    return len(document.materials) - 1


def write_model(path: Path, name: str, levels: tuple[Solid, ...]) -> None:
    """Write one variant of a thing as GLB, its levels of detail as nodes side by side, finest first, y up."""
    document = gltf.GLTF2(asset=gltf.Asset(version="2.0", generator="elvatch"))
    buffer = Buffer(document)
    for k, solid in enumerate(levels):
        document.nodes.append(gltf.Node(mesh=_mesh(document, buffer, f"{name} level {k}", solid), name=f"level{k}"))
    document.scenes.append(gltf.Scene(nodes=list(range(len(levels)))))
    document.scene = 0
    path.write_bytes(saved(document, buffer))


def write_glb(path: Path, of: Instances, models: dict[tuple[str, int], Solid]) -> None:
    """Write things as one GLB: a node for each model with the turns, places and sizes of all that are it
    (EXT_mesh_gpu_instancing, Khronos), y up."""
    document = gltf.GLTF2(asset=gltf.Asset(version="2.0", generator="elvatch"))
    buffer = Buffer(document)
    things = np.array(of.thing)
    for (thing, variant), solid in models.items():
        rows = (things == thing) & (of.variant == variant)
        if not rows.any():
            continue
        mesh = _mesh(document, buffer, f"{thing} {variant}", solid)
        scale = np.repeat(of.scale[rows, None], 3, axis=1).astype(np.float32)
        attributes = {
            "TRANSLATION": buffer.accessor(y_up(of.at[rows]).astype(np.float32), "VEC3", target=False),
            "ROTATION": buffer.accessor(_quaternion_y_up(of.turn[rows]).astype(np.float32), "VEC4", target=False),
            "SCALE": buffer.accessor(scale, "VEC3", target=False),
        }
        document.nodes.append(
            gltf.Node(mesh=mesh, name=f"{thing} {variant}", extensions={INSTANCING: {"attributes": attributes}})
        )
    document.extensionsUsed, document.extensionsRequired = [INSTANCING], [INSTANCING]
    document.scenes.append(gltf.Scene(nodes=list(range(len(document.nodes)))))
    document.scene = 0
    path.write_bytes(saved(document, buffer))


def read_glb(path: Path) -> list[tuple[str, NDArray[np.float32], NDArray[np.float32], NDArray[np.float32]]]:
    """Return what an instanced GLB holds: each node's name, places, turns and sizes as they stand in the file."""
    document = gltf.GLTF2().load_binary(str(path))
    blob = document.binary_blob()

    def array(number: int) -> NDArray[np.float32]:
        accessor = document.accessors[number]
        view = document.bufferViews[accessor.bufferView]
        wide = {"VEC3": 3, "VEC4": 4}[accessor.type]
        return np.frombuffer(blob, np.float32, accessor.count * wide, view.byteOffset).reshape(-1, wide)

    out = []
    for node in document.nodes:
        told = (node.extensions or {}).get(INSTANCING, {}).get("attributes", {})
        out.append((node.name, array(told["TRANSLATION"]), array(told["ROTATION"]), array(told["SCALE"])))
    return out
