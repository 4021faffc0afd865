"""What a mesh file carries beside its mesh: which maps it is covered with, and its layers by name."""

from __future__ import annotations

from pathlib import Path
from typing import Literal, NamedTuple

ShareForm = Literal["none", "colours", "values"]


class Textures(NamedTuple):
    """Files that a mesh is covered with: names beside it, and where they lie now."""

    colour: str
    surface: str
    normal: str
    folder: Path
    inside: bool


class Carried(NamedTuple):
    """What goes with a mesh: a name, its layers' names and how their shares are kept, its maps, which axis is up."""

    title: str
    layers: tuple[str, ...]
    shares: ShareForm
    textures: Textures | None
    up: Literal["y", "z"]
