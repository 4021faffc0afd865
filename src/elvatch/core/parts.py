"""What all parts of a recipe have in common."""

from __future__ import annotations

from typing import Annotated

from pydantic import BaseModel, ConfigDict, Field

ContentName = Annotated[str, Field(pattern=r"^[0-9a-f]{40}$")]
Name = Annotated[str, Field(min_length=1, max_length=80)]
Share = Annotated[float, Field(ge=0, le=1)]
Bearing = Annotated[float, Field(ge=0, le=360, description="Compass degrees, 0 is north, 90 east")]
Elevation = Annotated[float, Field(ge=-20_000, le=20_000)]
Place = Annotated[float, Field(ge=-200_000, le=400_000)]
Seed = Annotated[int, Field(ge=0, le=1_000_000)]
PartId = Annotated[str, Field(pattern=r"^[a-z0-9]{4,32}$")]


def published(model: type[BaseModel]) -> dict[str, object]:
    """Return a model's JSON Schema, as published in docs/ and turned into TypeScript types."""
    made = model.model_json_schema(mode="serialization")
    for part in (made, *made["$defs"].values()):
        for field in part.get("properties", {}).values():
            field.pop("title", None)  # titles of fields only repeat their names
    return made


class Part(BaseModel):
    """A part of a recipe: fixed once made, nothing beside its fields, all numbers finite."""

    model_config = ConfigDict(
        extra="forbid", allow_inf_nan=False, frozen=True, json_schema_serialization_defaults_required=True
    )
