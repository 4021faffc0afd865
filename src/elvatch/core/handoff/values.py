"""The values that can be handed off: what each is called, its unit and range, and how a band of it becomes numbers.

Another value of the whole cover is one entry in :data:`KINDS` beside its name in
:data:`~elvatch.core.document.sheet.MapName`; measures of the ground come by themselves.
"""

from __future__ import annotations

from collections.abc import Callable, Mapping
from typing import Literal, NamedTuple

import numpy as np
from numpy.typing import NDArray

from elvatch.core.cover.material import Material
from elvatch.core.document.sheet import ValueName
from elvatch.core.ground import measures
from elvatch.core.ground.places import Places
from elvatch.core.handoff.normals import Normals
from elvatch.core.mapping import surface

Numbers = NDArray[np.float32]
Family = Literal["colour", "normal", "share", "metres", "weights", "measure"]
"""What says how a value is stored: colours are encoded, normals have signs, shares lie in 0..1, metres have a range
of their own, weights sum exactly, measures have their units."""


class Answer(NamedTuple):
    """What the cover answers at the places of a band: what lies there, up to where water stands (None for none), and
    normals where they are wanted."""

    at: Places
    material: Material
    water_m: float | None
    normals: Normals | None = None


class Band(NamedTuple):
    """A band of texels: what the cover answers, None where nothing of it is wanted, and the measures wanted."""

    answer: Answer | None
    measured: Mapping[ValueName, Numbers]


class MapValue(NamedTuple):
    """A value: its title, a word about it, its unit, how many channels it takes, and how a band of ``n`` places
    becomes numbers in that unit, shape (n,) or (n, channels); None where more than the band says them."""

    value: ValueName
    title: str
    about: str
    unit: str
    family: Family
    channels: int = 1
    numbers: Callable[[Answer], Numbers] | None = None


def lifted(at: Places, material: Material) -> Numbers:
    """Return the elevation of the ground with the relief on it, metres."""
    return surface.lifted(at.elevation_m, at.rise_east, at.rise_north, material.relief_m)


def _emission(of: Answer) -> Numbers:
    if len(of.material.emission):
        return of.material.emission
    return np.zeros((len(of.at.x_m), 3), np.float32)


def _water(of: Answer) -> Numbers:
    return np.asarray(of.at.elevation_m < (-np.inf if of.water_m is None else of.water_m), np.float32)


_COVER: dict[ValueName, MapValue] = {
    kind.value: kind
    for kind in (
        MapValue(
            "colour",
            "Base colour",
            "linear light of Rec. 709, encoded as the entry says",
            "",
            "colour",
            3,
            lambda of: of.material.colour,
        ),
        MapValue("normal", "Normal", "the gradient of the height with relief", "", "normal", 3),
        MapValue("roughness", "Roughness", "1 is fully rough", "", "share", 1, lambda of: of.material.roughness),
        MapValue("metallic", "Metallic", "1 is metal", "", "share", 1, lambda of: of.material.metallic),
        MapValue("occlusion", "Occlusion", "1 is open", "", "share", 1, lambda of: of.material.occlusion),
        MapValue("emission", "Emission", "1 is as bright as white ground at noon", "", "colour", 3, _emission),
        MapValue(
            "height",
            "Height",
            "elevation of the ground with relief",
            "m",
            "metres",
            1,
            lambda of: lifted(of.at, of.material),
        ),
        MapValue(
            "relief",
            "Relief",
            "the cover's alone, along the ground's normal",
            "m",
            "metres",
            1,
            lambda of: of.material.relief_m,
        ),
        MapValue("water", "Water", "1 where it stands", "", "share", 1, _water),
        MapValue("share", "Share of a layer", "all shares of a place sum to 1", "", "share"),
        MapValue("shares", "Shares", "a file a layer; all shares of a place sum to 1", "", "share"),
        MapValue("weights", "Weights", "four layers a file; all of a place sum to all there is", "", "weights", 4),
        MapValue(
            "strongest-layers",
            "Strongest layers",
            "numbers of the four strongest layers, 0 the lowest",
            "",
            "weights",
            4,
        ),
        MapValue(
            "strongest-weights", "Strongest weights", "of those four; they sum to all there is", "", "weights", 4
        ),
    )
}
_MEASURES: dict[ValueName, MapValue] = {
    name: MapValue(name, kind.title, kind.about, kind.unit, "measure") for name, kind in measures.KINDS.items()
}
KINDS: dict[ValueName, MapValue] = _COVER | _MEASURES
