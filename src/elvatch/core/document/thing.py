"""A thing of a site: a shape with a material that stands on its ground, in a few variants."""

from __future__ import annotations

from typing import Annotated, Literal, Self

from pydantic import Field, model_validator

from elvatch.core.document.layer import Layer
from elvatch.core.document.wear import AlongLevels, AlongPath, Wear
from elvatch.core.parts import ContentName, Name, Part, PartId, Seed
from elvatch.core.refusal import RefusalError
from elvatch.core.shown import Shown
from elvatch.core.thing import kinds

MOST_THINGS = 32
MOST_ON_IT = 16
MOST_WEAR_ON_IT = 8
MOST_MARKS_ON_IT = 8


class DrawnThing(Part):
    """Drawn by code: a kind, its controls, and how many variants from which seed on."""

    kind: Literal["drawn"] = "drawn"
    what: str = Field(max_length=40, description="Which kind")
    seed: Seed = 1
    variants: Annotated[int, Shown("Variants", "", 1, kinds.MOST_VARIANTS, 1, hint="How many that differ")] = Field(
        default=4, ge=1, le=kinds.MOST_VARIANTS
    )
    controls: dict[str, float] = Field(default_factory=dict, max_length=12, description="Those not given are usual")

    @model_validator(mode="after")
    def _can_be_drawn(self) -> Self:
        try:
            kinds.check(self.what, self.controls)
        except RefusalError as error:
            raise ValueError(str(error)) from None
        return self


class BroughtThing(Part):
    """Brought in: a model that was read, reduced to levels of detail and kept."""

    kind: Literal["brought"] = "brought"
    file: ContentName
    file_name: Name
    longest_m: float = Field(gt=0, le=1_000, description="Its longest side at its own size, metres")


class PaintOnThing(Part):
    """A mask painted on a thing's own surface; it has no file until something was painted."""

    id: PartId
    name: Name
    file: ContentName | None = None


class ImageOnThing(Part):
    """An image laid over a thing's own texture coordinates, whose channels rules read, raw."""

    id: PartId
    name: Name
    file: ContentName
    file_name: Name


class Covering(Part):
    """Layers that lie on a thing's own material, from the bottom up, wear over them or over it alone, and in whose
    axes all of it is laid."""

    axes: Literal["thing", "world", "uv"] = Field(
        default="thing",
        description="thing: textures turn with it; world: they stay; uv: laid over its own texture coordinates",
    )
    layers: tuple[Layer, ...] = Field(default=(), max_length=MOST_ON_IT)
    wears: tuple[Wear, ...] = Field(
        default=(),
        max_length=MOST_WEAR_ON_IT,
        description="From the bottom up; levels are heights above the thing's own foot unless axes are the world's",
    )

    masks: tuple[PaintOnThing, ...] = Field(
        default=(), max_length=MOST_MARKS_ON_IT, description="Painted on it; rules of its layers and wear read them"
    )
    images: tuple[ImageOnThing, ...] = Field(
        default=(), max_length=MOST_MARKS_ON_IT, description="Over its texture coordinates; rules read their channels"
    )

    @model_validator(mode="after")
    def _marks_apart(self) -> Self:
        ids = self.mark_ids()
        if len(set(ids)) != len(ids):
            raise ValueError("two masks or images on a thing have the same id")
        return self

    @model_validator(mode="after")
    def _wear_can_lie_here(self) -> Self:
        for wear in self.wears:
            follows = wear.follows
            if isinstance(follows, AlongPath):
                raise ValueError(f"{wear.name} follows a path, which only wear of the ground can")
            if isinstance(follows, AlongLevels) and follows.measure != "elevation":
                raise ValueError(f"{wear.name} follows levels of {follows.measure}, on a thing only elevation's")
        return self

    @property
    def shows(self) -> bool:
        """Whether any of it is to be seen."""
        return any(layer.on for layer in self.layers) or any(wear.on for wear in self.wears)

    def mark_ids(self) -> list[PartId]:
        """Return the ids of what is painted on it and laid over it for rules to read."""
        return [*(one.id for one in self.masks), *(one.id for one in self.images)]

    def files(self) -> list[ContentName]:
        """Return the content names of the files that its rules need."""
        painted = [one.file for one in self.masks if one.file is not None]
        return [*painted, *(one.file for one in self.images)]

    def uses(self) -> list[ContentName]:
        """Return the names of all texture sets it needs, each once."""
        layers = [name for layer in self.layers for name in layer.uses()]
        return list(dict.fromkeys([*layers, *(name for wear in self.wears for name in wear.sets())]))


class Thing(Part):
    """A thing under a name."""

    id: PartId
    name: Name
    source: Annotated[DrawnThing | BroughtThing, Field(discriminator="kind")]
    cover: Covering = Covering()

    def files(self) -> list[ContentName]:
        """Return the content names of the files it needs."""
        model = [self.source.file] if isinstance(self.source, BroughtThing) else []
        return [*model, *self.cover.files()]
