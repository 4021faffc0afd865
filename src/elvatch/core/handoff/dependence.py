"""What a file depends on, as one name: an edit that does not change the name does not change the file."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import asdict
from typing import Any

from elvatch.core import digest
from elvatch.core.document.sheet import ValueName
from elvatch.core.ground.measures import KINDS as MEASURES
from elvatch.core.handoff.listing import File, Source
from elvatch.core.rules.evidence import marks_of

_BY_VALUE: dict[ValueName, tuple[str, ...]] = {
    "colour": (
        "brightness",
        "hue_deg",
        "saturation",
        "colour_lowest",
        "colour_highest",
        "variation",
        "variation_colour",
        "ground_image",
    ),
    "roughness": ("roughness_shift", "roughness_lowest", "roughness_highest"),
    "occlusion": ("occlusion",),
    "emission": ("emits", "emission_ev"),
}
_Data = dict[str, Any]
LOOK_ONLY: dict[str, frozenset[ValueName]] = {
    name: frozenset({value}) for value, names in _BY_VALUE.items() for name in names
}
"""Numbers of a layer's look that change these values and no others."""
EFFECT_ONLY: dict[str, frozenset[ValueName]] = {
    "roughness": frozenset({"roughness"}),
    "metallic": frozenset({"metallic"}),
    "colour": frozenset({"colour", "emission"}),
}
"""The same of what a wear does."""
_BARE: frozenset[ValueName] = frozenset(
    {"share", "shares", "weights", "strongest-layers", "strongest-weights", "occlusion", "emission"}
)
"""Values that no thing that is set on the ground changes."""
_OF_GROUND: frozenset[ValueName] = frozenset({*MEASURES, "water"})
"""Values that no layer changes."""


class Dependence:
    """Names what files of one site are made of.

    Parameters
    ----------
    source : Source
        The site.
    """

    def __init__(self, source: Source) -> None:
        self._source = source
        recipe = source.recipe
        self._ground = [digest.of_part(recipe.ground), recipe.water.model_dump(mode="json")]
        self._layers: list[_Data] = [layer.model_dump(mode="json", exclude={"group"}) for layer in recipe.layers]
        self._wears: list[_Data] = [wear.model_dump(mode="json", exclude={"name"}) for wear in recipe.wears]
        self._contents = source.contents
        ruled = [*(layer.rule for layer in recipe.layers), *(wear.rule for wear in recipe.wears)]
        there = source.evidence.strews if source.evidence is not None else {}
        read = sorted({mark for rule in ruled for mark in marks_of(rule)} & set(there))
        self._things = {id: there[id] for id in read}
        joining = source.evidence.joining if source.evidence is not None else None
        self._joined = joining.name if joining is not None else None
        self._known: dict[frozenset[ValueName], str] = {}

    def of(self, values: Iterable[ValueName]) -> str:
        """Return a name for all of the site that some values depend on."""
        wanted = frozenset(values)
        if wanted not in self._known:
            self._known[wanted] = digest.of_json(self._parts(wanted))
        return self._known[wanted]

    def _parts(self, wanted: frozenset[ValueName]) -> list[object]:
        if wanted <= _OF_GROUND:
            return [self._ground]
        layers = [one | {"look": _without(one["look"], LOOK_ONLY, wanted)} for one in self._layers]
        wears = [one | {"effects": _without(one["effects"], EFFECT_ONLY, wanted)} for one in self._wears]
        marks = self._source.recipe.marks
        joined = None if wanted <= _BARE else self._joined
        return [self._ground, layers, wears, digest.of_part(marks), self._contents, self._things, joined]

    def of_file(self, file: File) -> str:
        """Return a name for all that a map is: what it holds and how, and what of the site that depends on."""
        how = [
            file.name,
            file.entry.model_dump(mode="json", exclude={"id"}),
            file.image,
            file.grid,
            file.tile,
            [asdict(one) for one in file.held],
            file.first,
            file.layer,
        ]
        return digest.of_json([how, self.of(slot.of for slot in file.entry.holds)])


def _without(of: _Data, only: dict[str, frozenset[ValueName]], wanted: frozenset[ValueName]) -> _Data:
    """Return fields without those that change none of the wanted values."""
    return {name: value for name, value in of.items() if name not in only or only[name] & wanted}
