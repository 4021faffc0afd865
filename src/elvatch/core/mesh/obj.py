"""A mesh as OBJ text with its MTL beside it; three layers' shares as colours behind each vertex, where wanted."""

from __future__ import annotations

from pathlib import Path
from typing import TextIO

import numpy as np
from numpy.typing import NDArray

from elvatch.core.mesh.carried import Carried
from elvatch.core.mesh.mesh import Mesh, y_up

_AT_ONCE = 100_000


def _lines(stream: TextIO, pattern: str, values: NDArray[np.generic]) -> None:
    for first in range(0, len(values), _AT_ONCE):
        stream.writelines([pattern % tuple(row) for row in values[first : first + _AT_ONCE].tolist()])


def material_name(path: Path) -> Path:
    """Return where the material of a mesh stands."""
    return path.with_suffix(".mtl")


def write(path: Path, mesh: Mesh, carried: Carried) -> None:
    """Write a mesh, metres; its material too where it is covered with maps."""
    places, normals = (y_up(of) if carried.up == "y" else of for of in (mesh.places, mesh.normals))
    with path.open("w", encoding="ascii", errors="replace", newline="\n") as stream:
        stream.write(f"# {carried.title}: metres, {carried.up} is up\n")
        if carried.shares == "colours":
            stream.writelines(f"# colour {k + 1} is the share of {name}\n" for k, name in enumerate(carried.layers))
            colours = np.zeros((len(places), 3))
            colours[:, : mesh.shares.shape[1]] = mesh.shares
            _lines(stream, "v %.4f %.4f %.4f %.4f %.4f %.4f\n", np.concatenate([places, colours], 1))
        else:
            _lines(stream, "v %.4f %.4f %.4f\n", places)
        _lines(stream, "vt %.6f %.6f\n", np.stack([mesh.uv[:, 0], 1 - mesh.uv[:, 1]], 1))
        _lines(stream, "vn %.4f %.4f %.4f\n", normals)
        if carried.textures is not None:
            stream.write(f"mtllib {material_name(path).name}\nusemtl ground\n")
        _lines(stream, "f %d/%d/%d %d/%d/%d %d/%d/%d\n", np.repeat(mesh.triangles + 1, 3, axis=1))
    if carried.textures is not None:
        of = carried.textures
        material_name(path).write_text(
            f"newmtl ground\nKd 1 1 1\nmap_Kd {of.colour}\nnorm {of.normal}\n"
            f"# {of.surface}: red occlusion, green roughness, blue metallic\n",
            encoding="ascii",
            errors="replace",
            newline="\n",
        )
