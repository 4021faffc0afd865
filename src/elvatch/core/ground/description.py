"""What a recipe says of its ground: where the heights come from, and the steps that shape them.

Lengths are metres, places metres from the south-west corner, angles degrees.
"""

from __future__ import annotations

from typing import TYPE_CHECKING, Annotated, Literal, Self, Union

from pydantic import Field, model_validator

from elvatch.core.formats.reading import Reading
from elvatch.core.ground import steps as _known
from elvatch.core.ground.sampling import MOST_SAMPLES
from elvatch.core.ground.step import StepBase, steps
from elvatch.core.ground.upright import Upright
from elvatch.core.parts import ContentName, Elevation, Name, Part
from elvatch.core.shown import Shown

MOST_STEPS = 64
assert _known  # every step has to be there before the union of them is made


class FileSource(Part):
    """Heights read from a file, kept as it came; its lowest and highest value get their elevations."""

    kind: Literal["file"] = "file"
    file: ContentName
    file_name: Name
    reading: Reading = Reading()
    lowest_m: Elevation
    highest_m: Elevation

    @model_validator(mode="after")
    def _ordered(self) -> Self:
        if self.highest_m <= self.lowest_m:
            raise ValueError("the highest elevation must lie above the lowest")
        return self


class FlatSource(Part):
    """A level slab, to be left flat or shaped by steps."""

    kind: Literal["flat"] = "flat"
    samples: Annotated[int, Shown("Samples", "", 33, MOST_SAMPLES, 1)] = Field(
        default=1025, ge=33, le=MOST_SAMPLES, description="Along the longer side"
    )
    level_m: Annotated[Elevation, Shown("Level", "m", -20_000, 20_000, 0.5, 1)] = 0.0


if TYPE_CHECKING:
    Step = StepBase
else:
    Step = Annotated[Union[steps()], Field(discriminator="kind")]  # noqa: UP007  (made of what there is)


class GroundPicture(Part):
    """A colour image over the whole ground."""

    file: ContentName
    file_name: Name


class Ground(Part):
    """A terrain, slab or face: its true size, where its heights come from, and what shaped them."""

    width_m: float = Field(gt=0, le=200_000, description="East-west size; of a face that along it")
    depth_m: float = Field(gt=0, le=200_000, description="North-south size; of a face its height")
    upright: Upright | None = Field(default=None, description="How it stands where it is a face; else it lies")
    source: Annotated[FileSource | FlatSource, Field(discriminator="kind")]
    steps: tuple[Step, ...] = Field(default=(), max_length=MOST_STEPS)
    picture: GroundPicture | None = None

    def files(self) -> list[str]:
        """Return the content names of the files that it refers to."""
        named = [self.source.file] if isinstance(self.source, FileSource) else []
        return named + ([self.picture.file] if self.picture is not None else [])

    @model_validator(mode="after")
    def _told_apart(self) -> Self:
        ids = [step.id for step in self.steps]
        if len(set(ids)) != len(ids):
            raise ValueError("two steps have the same id")
        return self
