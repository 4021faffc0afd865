"""What a recipe says of its ground: where the heights come from, and the steps that shape them.

Lengths are metres, places metres from the south-west corner, angles degrees.
"""

from __future__ import annotations

from typing import Annotated, Literal, Self

from pydantic import Field, model_validator

from elvatch.core.formats.reading import Reading
from elvatch.core.ground.clauses import MeasureClause
from elvatch.core.parts import Bearing, ContentName, Elevation, Name, Part, PartId, Place, Seed, Share

MOST_SAMPLES = 8193
MOST_STEPS = 64


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
    samples: int = Field(default=1025, ge=33, le=MOST_SAMPLES, description="Along the longer side")
    level_m: Elevation = 0.0


class _Step(Part):
    id: PartId
    name: Name
    on: bool = True
    strength: Share = Field(default=1.0, description="How far towards its full effect")
    where: tuple[MeasureClause, ...] = Field(
        default=(), max_length=6, description="Only there, on the ground before it"
    )


Character = Literal["rolling", "ridged", "billowed", "cellular", "dunes", "gorges", "basin"]


class FormStep(_Step):
    """Adds a generated form; several may be added together."""

    kind: Literal["form"] = "form"
    character: Character = "rolling"
    seed: Seed = 1
    size_m: float = Field(default=400.0, gt=0, le=100_000, description="Size of its largest features")
    height_m: float = Field(default=80.0, ge=0, le=10_000, description="About, from its lowest to its highest")
    detail: int = Field(default=7, ge=1, le=12, description="How many times features of half the size are added")
    roughness: Share = Field(default=0.5, description="How strong each finer size is against the one before")
    bearing_deg: Bearing = Field(default=270.0, description="Where the wind of dunes comes from")
    east_m: Place | None = Field(default=None, description="Middle of a basin; None is the middle of the ground")
    north_m: Place | None = None
    opposite: bool = Field(default=False, description="Taken away instead of added")


class TerraceStep(_Step):
    """Cuts levels."""

    kind: Literal["terrace"] = "terrace"
    spacing_m: float = Field(default=6.0, gt=0, le=1_000, description="From one level to the next")
    offset_m: Elevation = Field(default=0.0, description="Elevation of one of the levels")
    sharpness: Share = 0.6
    irregularity: Share = Field(default=0.4, description="How far levels wander, in spacings")
    seed: Seed = 1


class SmoothStep(_Step):
    """Smooths; its opposite brings out what it would take away."""

    kind: Literal["smooth"] = "smooth"
    radius_m: float = Field(default=8.0, gt=0, le=5_000)
    opposite: bool = False


class RidgesStep(_Step):
    """Sharpens ridges and rounds valleys; its opposite sharpens valleys and rounds ridges."""

    kind: Literal["ridges"] = "ridges"
    radius_m: float = Field(default=25.0, gt=0, le=2_000)
    opposite: bool = False


class WarpStep(_Step):
    """Bends the ground sideways by noise."""

    kind: Literal["warp"] = "warp"
    amount_m: float = Field(default=25.0, ge=0, le=5_000, description="Farthest that a place is moved, about")
    size_m: float = Field(default=150.0, gt=0, le=100_000)
    detail: int = Field(default=3, ge=1, le=8)
    seed: Seed = 1


class TwistStep(_Step):
    """Turns the ground about a place, most in its middle."""

    kind: Literal["twist"] = "twist"
    turn_deg: float = Field(default=40.0, ge=-720, le=720, description="Counter-clockwise seen from above")
    radius_m: float = Field(default=300.0, gt=0, le=100_000)
    east_m: Place | None = None
    north_m: Place | None = None


class CurvePoint(Part):
    """A point of a curve of heights, as shares of the range."""

    before: Share
    after: Share


class RemapStep(_Step):
    """Maps heights by a rising curve; the range stays what it was."""

    kind: Literal["remap"] = "remap"
    curve: tuple[CurvePoint, ...] = Field(
        default=(CurvePoint(before=0, after=0), CurvePoint(before=0.5, after=0.35), CurvePoint(before=1, after=1)),
        min_length=2, max_length=12,
    )  # fmt: skip
    opposite: bool = Field(default=False, description="The curve the other way round")

    @model_validator(mode="after")
    def _rising(self) -> Self:
        for low, high in zip(self.curve, self.curve[1:], strict=False):
            if high.before - low.before < 1e-3 or high.after < low.after:
                raise ValueError("the points of the curve must rise from left to right")
        return self


class LevelStep(_Step):
    """Cuts what stands above a level and fills what lies below it."""

    kind: Literal["level"] = "level"
    level_m: Elevation = 0.0
    cut: bool = True
    fill: bool = True
    soft_m: float = Field(default=0.5, ge=0, le=500, description="Height over which it takes hold")


class CoursePoint(Part):
    """A point of a course."""

    east_m: Place
    north_m: Place
    level_m: Elevation
    half_width_m: float = Field(default=6.0, ge=0, le=10_000)


class CourseStep(_Step):
    """Cuts a valley, a channel or a bench along a line, or fills a bank or a dam along it."""

    kind: Literal["course"] = "course"
    points: tuple[CoursePoint, ...] = Field(min_length=2, max_length=64)
    side_deg: float = Field(default=30.0, ge=1, le=89, description="Steepness of its sides")
    cut: bool = True
    fill: bool = False
    soft_m: float = Field(default=1.0, ge=0, le=500)
    wander_m: float = Field(default=0.0, ge=0, le=2_000, description="How far the line strays")
    wander_size_m: float = Field(default=120.0, gt=0, le=20_000)
    seed: Seed = 1


class SettleStep(_Step):
    """Lets loose ground slide until nothing is steeper than its angle of repose."""

    kind: Literal["settle"] = "settle"
    repose_deg: float = Field(default=36.0, ge=2, le=85)


class RunoffStep(_Step):
    """Rain that runs off, takes ground along and drops it again."""

    kind: Literal["runoff"] = "runoff"
    rounds: int = Field(default=220, ge=1, le=5_000)
    rain: Share = Field(default=0.5, description="How hard it rains")
    carry: Share = Field(default=0.5, description="How much the water can carry")
    softness: Share = Field(default=0.5, description="How readily the ground comes loose")


class RiversStep(_Step):
    """Rivers that cut valleys in one go, while the ground is lifted and creeps."""

    kind: Literal["rivers"] = "rivers"
    cut: Share = Field(default=0.5, description="How deep they cut")
    branching: Share = Field(default=0.5, description="From a few large valleys to many small ones")
    rounds: int = Field(default=10, ge=1, le=200)
    lift_m: float = Field(default=0.0, ge=0, le=2_000, description="Lift of the whole ground over all rounds")
    creep_m: float = Field(default=3.0, ge=0, le=500, description="Radius over which slopes round off")
    seed: Seed = 1


class ResampleStep(_Step):
    """Changes how many samples the ground has; heights stay metres."""

    kind: Literal["resample"] = "resample"
    samples: int = Field(default=2049, ge=33, le=MOST_SAMPLES, description="Along the longer side")


class StrokePoint(Part):
    """A point of a stroke."""

    east_m: Place
    north_m: Place
    pressure: Share = 1.0


class Stroke(Part):
    """One stroke of the brush."""

    tool: Literal["raise", "lower", "smooth", "flatten"] = "raise"
    size_m: float = Field(default=20.0, gt=0, le=5_000, description="Across")
    amount_m: float = Field(default=1.0, ge=0, le=500, description="Highest that raising and lowering reach")
    strength: Share = 0.5
    soft: Share = Field(default=0.7, description="Share of the radius that is soft edge")
    points: tuple[StrokePoint, ...] = Field(min_length=1, max_length=600)


class BrushStep(_Step):
    """Strokes by hand, in their order."""

    kind: Literal["brush"] = "brush"
    strokes: tuple[Stroke, ...] = Field(default=(), max_length=2_000)


Step = Annotated[
    FormStep | TerraceStep | SmoothStep | RidgesStep | WarpStep | TwistStep | RemapStep | LevelStep | CourseStep
    | SettleStep | RunoffStep | RiversStep | ResampleStep | BrushStep,
    Field(discriminator="kind"),
]  # fmt: skip


class GroundPicture(Part):
    """A colour image over the whole ground."""

    file: ContentName
    file_name: Name


class Ground(Part):
    """A terrain or slab: its true size, where its heights come from, and what shaped them."""

    width_m: float = Field(gt=0, le=200_000, description="East-west size")
    depth_m: float = Field(gt=0, le=200_000, description="North-south size")
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
