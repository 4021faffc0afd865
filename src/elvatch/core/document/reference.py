"""Reference photographs of a site: pinned beside the pictures, with the patch that is looked at."""

from __future__ import annotations

from typing import Self

from pydantic import Field, model_validator

from elvatch.core.parts import ContentName, Name, Part, PartId, Share

MOST_REFERENCES = 24


class Patch(Part):
    """A part of a photograph, 0..1 from its left and top."""

    left: Share
    top: Share
    right: Share
    bottom: Share

    @model_validator(mode="after")
    def _has_an_inside(self) -> Self:
        if self.left >= self.right or self.top >= self.bottom:
            raise ValueError("a patch has its left before its right and its top before its bottom")
        return self


class Reference(Part):
    """A photograph that is kept with a site."""

    id: PartId
    name: Name
    file: ContentName = Field(description="PNG, sRGB of 8 bits")
    patch: Patch | None = Field(default=None, description="What is looked at; left out, all of it")
