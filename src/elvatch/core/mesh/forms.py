"""Formats of meshes: what each is called, what it can carry, what writes it."""

from __future__ import annotations

import importlib
from pathlib import Path
from typing import TYPE_CHECKING, Literal, NamedTuple

if TYPE_CHECKING:
    from elvatch.core.mesh.carried import Carried
    from elvatch.core.mesh.mesh import Mesh

MeshFormat = Literal["glb", "obj", "ply", "usdc", "usda"]


class MeshForm(NamedTuple):
    """A format: its ending is its name. ``colours`` is how many layers' shares it keeps as colours, 0 any;
    ``values`` whether it keeps them by name; ``textures`` and ``inside`` whether it names maps, or holds them;
    ``ups`` which axes may be up; ``vertex_bytes`` and ``triangle_bytes`` about what each takes."""

    name: MeshFormat
    label: str
    colours: int
    values: bool
    textures: bool
    inside: bool
    ups: tuple[Literal["y", "z"], ...]
    vertex_bytes: int
    triangle_bytes: int
    module: str

    def write(self, path: Path, mesh: Mesh, carried: Carried) -> None:
        """Write a mesh."""
        # some of these take long to load, and are wanted seldom
        importlib.import_module(f"elvatch.core.mesh.{self.module}").write(path, mesh, carried)


MESH_FORMS: dict[MeshFormat, MeshForm] = {
    form.name: form
    for form in (
        MeshForm("glb", "glTF 2.0 (GLB)", 0, True, True, True, ("y",), 48, 12, "glb"),
        MeshForm("obj", "OBJ", 3, False, True, False, ("z", "y"), 80, 45, "obj"),
        MeshForm("ply", "PLY", 4, True, False, False, ("z", "y"), 32, 13, "ply"),
        MeshForm("usdc", "OpenUSD (binary)", 3, True, True, False, ("z", "y"), 32, 9, "usd"),
        MeshForm("usda", "OpenUSD (text)", 3, True, True, False, ("z", "y"), 90, 30, "usd"),
    )
}
