"""A mesh as PLY, binary (Turk 1994): vertices with normals, texture coordinates and what shares are wanted."""

from __future__ import annotations

from pathlib import Path
from typing import Any

import numpy as np
from numpy.typing import NDArray

from elvatch.core.mesh.carried import Carried
from elvatch.core.mesh.mesh import Mesh, y_up

_COLOURS = ("red", "green", "blue", "alpha")


def write(path: Path, mesh: Mesh, carried: Carried) -> None:
    """Write a mesh, metres; z is up unless ``carried`` says otherwise."""
    places, normals = (y_up(of) if carried.up == "y" else of for of in (mesh.places, mesh.normals))
    columns: list[tuple[str, NDArray[Any]]] = [("x", places[:, 0]), ("y", places[:, 1]), ("z", places[:, 2])]
    columns += [("nx", normals[:, 0]), ("ny", normals[:, 1]), ("nz", normals[:, 2])]
    columns += [("s", mesh.uv[:, 0]), ("t", 1 - mesh.uv[:, 1])]
    fields = [(name, "<f4") for name, _ in columns]
    if carried.shares == "values":
        columns += [(f"share_{k}", mesh.shares[:, k]) for k in range(mesh.shares.shape[1])]
        fields += [(f"share_{k}", "<f4") for k in range(mesh.shares.shape[1])]
    elif carried.shares == "colours":
        whole = np.rint(np.clip(mesh.shares, 0, 1) * 255).astype(np.uint8)
        for k, name in enumerate(_COLOURS):
            columns.append((name, whole[:, k] if k < whole.shape[1] else np.zeros(len(whole), np.uint8)))
            fields.append((name, "|u1"))
    vertices = np.empty(len(places), fields)
    for name, values in columns:
        vertices[name] = values
    faces = np.empty(len(mesh.triangles), [("count", "|u1"), ("corners", "<i4", (3,))])
    faces["count"], faces["corners"] = 3, mesh.triangles
    kinds = {"<f4": "float", "|u1": "uchar"}
    layers = carried.layers if carried.shares != "none" else ()
    told = [f"comment share_{k} is {name}" for k, name in enumerate(layers)]
    header = [
        "ply",
        "format binary_little_endian 1.0",
        f"comment {carried.title}: metres, {carried.up} is up",
        *told,
        f"element vertex {len(vertices)}",
        *(f"property {kinds[kind]} {name}" for name, kind in fields),
        f"element face {len(faces)}",
        "property list uchar int vertex_indices",
        "end_header",
    ]
    with path.open("wb") as stream:
        stream.write(("\n".join(header) + "\n").encode("ascii", "replace"))
        stream.write(vertices.tobytes())
        stream.write(faces.tobytes())
