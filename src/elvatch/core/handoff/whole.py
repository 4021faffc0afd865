"""Files that are made as a whole, not texel by texel."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from pathlib import Path

from elvatch.core.handoff.manifest import MadeSaid
from elvatch.core.run import Run


@dataclass(frozen=True)
class Whole:
    """Files of one entry: their names, about how many bytes they come to, a name for what they are made of, and what
    makes them in a folder where the maps of the same hand-off lie already."""

    entry: str
    names: tuple[str, ...]
    about_bytes: int
    made_of: str
    make: Callable[[Path, Run], list[MadeSaid]]
