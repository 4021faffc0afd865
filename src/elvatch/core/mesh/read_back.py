"""A mesh file read back and compared with what was meant."""

from __future__ import annotations

import re
from pathlib import Path
from typing import Any

import numpy as np
import pygltflib as gltf
from numpy.typing import NDArray

from elvatch.core.mesh.mesh import Mesh, y_up
from elvatch.core.refusal import RefusalError

_Read = tuple[NDArray[Any], NDArray[Any]]


def _glb(path: Path) -> _Read:
    document = gltf.GLTF2.load_binary(str(path))
    blob = document.binary_blob()

    def numbers(at: int, dtype: str, columns: int) -> NDArray[Any]:
        accessor = document.accessors[at]
        view = document.bufferViews[accessor.bufferView]
        data = blob[view.byteOffset : view.byteOffset + view.byteLength]
        return np.frombuffer(data, dtype).reshape(-1, columns)

    of = document.meshes[0].primitives[0]
    return numbers(of.attributes.POSITION, "<f4", 3), numbers(of.indices, "<u4", 3)


def _ply(path: Path) -> _Read:
    data = path.read_bytes()
    end = data.index(b"end_header\n") + len(b"end_header\n")
    header = data[:end].decode()
    found = re.findall(r"property (float|uchar) (\w+)", header)
    count = int(re.findall(r"element vertex (\d+)", header)[0])
    vertex = np.dtype([(name, "<f4" if kind == "float" else "u1") for kind, name in found])
    vertices = np.frombuffer(data, vertex, count, end)
    faces = np.frombuffer(data, np.dtype([("n", "u1"), ("of", "<i4", (3,))]), -1, end + count * vertex.itemsize)
    return np.stack([vertices[name] for name in ("x", "y", "z")], 1), faces["of"]


def _obj(path: Path) -> _Read:
    places, triangles = [], []
    with path.open(encoding="ascii") as stream:
        for line in stream:
            if line.startswith("v "):
                places.append(line.split()[1:4])
            elif line.startswith("f "):
                triangles.append([word.split("/")[0] for word in line.split()[1:]])
    return np.array(places, np.float64), np.array(triangles, np.int64) - 1


def _usd(path: Path) -> _Read:
    from pxr import Usd, UsdGeom

    stage = Usd.Stage.Open(str(path))  # held: parts of it do not hold it
    made = UsdGeom.Mesh(stage.GetPrimAtPath("/site/mesh"))
    return np.array(made.GetPointsAttr().Get()), np.array(made.GetFaceVertexIndicesAttr().Get()).reshape(-1, 3)


_READERS = {".glb": _glb, ".ply": _ply, ".obj": _obj, ".usdc": _usd, ".usda": _usd}
_AS_TEXT_M = 1e-4


def check(path: Path, mesh: Mesh, y_is_up: bool) -> None:
    """Refuse a file that holds other vertices or triangles than were meant.

    Parameters
    ----------
    path : Path
        Of a format that is written here.
    mesh : Mesh
        What was meant.
    y_is_up : bool
        Whether y is up in the file.
    """
    try:
        places, triangles = _READERS[path.suffix](path)
    except Exception as error:  # a file that is damaged on its way to the disk fails in every way there is
        raise _unlike(path, " ".join(str(error).split())[:80]) from None
    meant = y_up(mesh.places) if y_is_up else mesh.places
    near = _AS_TEXT_M if path.suffix == ".obj" else 1e-3
    same = places.shape == meant.shape and bool(np.abs(places - meant).max() <= near + 1e-6 * np.abs(meant).max())
    if not same or not np.array_equal(triangles, mesh.triangles):
        raise _unlike(path, "another mesh")


def _unlike(path: Path, found: str) -> RefusalError:
    return RefusalError(
        path.name, f"{found} when it was read back", "what was written", "write it again, to another disk"
    )
