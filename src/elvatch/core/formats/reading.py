"""How the bytes of a height file are read: what cannot be told from the file itself."""

from __future__ import annotations

from typing import Literal

from pydantic import Field

from elvatch.core.parts import Part

SampleKind = Literal["u8", "i8", "u16", "i16", "u32", "i32", "f32"]


class RawLayout(Part):
    """The layout of a headerless file: its samples row by row, north first."""

    width: int = Field(ge=1, le=20_000)
    height: int = Field(ge=1, le=20_000)
    samples: SampleKind = "u16"
    big_endian: bool = False
    skip_bytes: int = Field(default=0, ge=0, le=1_000_000, description="Bytes before the first sample")


class Reading(Part):
    """How a height file is read. Flips come before quarter turns, which go clockwise."""

    page: int = Field(default=0, ge=0, le=9_999, description="Page of a TIFF with several")
    channel: str | None = Field(default=None, max_length=80, description="Channel of an EXR; None takes the first")
    raw: RawLayout | None = None
    flip_east_west: bool = False
    flip_north_south: bool = False
    quarter_turns: int = Field(default=0, ge=0, le=3)
    no_data: float | None = Field(default=None, description="Value that marks a hole, besides NaN")
    smooth_steps: bool = Field(default=False, description="Smooth quantised heights by at most half a level")
