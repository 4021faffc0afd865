"""What every step that shapes a ground has, and how a new one begins.

To add a step write one module in :mod:`elvatch.core.ground.steps`: a model made from :class:`StepBase` with words,
its numbers and ``apply``. The recipe, its schema, the page's menu and panel and the shaping know it from there.
"""

from __future__ import annotations

import math
from abc import abstractmethod
from typing import Annotated, Any, ClassVar, NamedTuple, Self, get_args

from pydantic import Field, field_validator

from elvatch.core.ground.clauses import MeasureClause
from elvatch.core.ground.heightfield import Heightfield
from elvatch.core.ground.measures import KINDS
from elvatch.core.ground.shaped import Shaped
from elvatch.core.ground.upright import Upright
from elvatch.core.parts import Name, Part, PartId, Share
from elvatch.core.run import Run
from elvatch.core.shown import share


class Extent(NamedTuple):
    """How far a ground reaches in its own axes, metres, and how it stands: what a new step or limit has to suit."""

    width_m: float
    depth_m: float
    lowest_m: float
    highest_m: float
    upright: Upright | None = None

    @property
    def elevations_m(self) -> tuple[float, float]:
        """Between which it lies in the world; of a face from its foot to its upper edge."""
        if self.upright is None:
            return self.lowest_m, self.highest_m
        return self.upright.foot_m, self.upright.foot_m + self.depth_m

    @property
    def longest_m(self) -> float:
        """The longer side."""
        return max(self.width_m, self.depth_m)

    @property
    def rise_m(self) -> float:
        """From the lowest to the highest sample, never nothing."""
        return max(self.highest_m - self.lowest_m, 0.01)


def to_step(value: float, step: float) -> float:
    """Return a value in whole steps."""
    return round(math.floor(value / step + 0.5) * step, 3)


def sized(value: float, step: float) -> float:
    """Return a size in whole steps, finer where the ground is no larger than a few of them: never nothing."""
    return float(f"{value:.2g}") if value < 2 * step else to_step(value, step)


class StepBase(Part):
    """A step: a ground goes in, a ground comes out."""

    title: ClassVar[str]
    about: ClassVar[str]
    order: ClassVar[int]
    """Of the menu, in tens so that others fit between."""
    opposite_title: ClassVar[str] = ""
    """What its switch "opposite" does, where it has one."""
    cost: ClassVar[float] = 1.0
    """How long it takes against a plain one; a round, for those that have rounds."""

    id: PartId
    name: Name
    on: bool = True
    strength: Annotated[Share, share("Strength", "How far towards its full effect")] = Field(
        default=1.0, description="How far towards its full effect"
    )
    where: tuple[MeasureClause, ...] = Field(
        default=(), max_length=6, description="Only there, on the ground before it"
    )

    @field_validator("where")
    @classmethod
    def _before_any_water(cls, where: tuple[MeasureClause, ...]) -> tuple[MeasureClause, ...]:
        if any(KINDS[clause.measure].of_water for clause in where):
            raise ValueError("a step cannot ask for water, which stands on the ground that the steps make")
        return where

    @classmethod
    def __pydantic_init_subclass__(cls, **kwargs: Any) -> None:
        super().__pydantic_init_subclass__(**kwargs)
        for needed in ("title", "about", "order", "apply", "kind"):
            if needed not in cls.__dict__ and needed not in cls.model_fields:
                raise TypeError(f"{cls.__name__} lacks {needed}")

    @classmethod
    def kind_name(cls) -> str:
        """Return what tells it from other steps in a recipe."""
        kind: str = get_args(cls.model_fields["kind"].annotation)[0]
        return kind

    @abstractmethod
    def apply(self, shaped: Shaped, run: Run) -> Shaped:
        """Return a ground with this step done to all of it."""

    def make_ready(self, ground: Heightfield, run: Run) -> None:
        """Work out what this step needs on a ground of that grid whatever its heights are, where there is such."""

    @classmethod
    def suiting(cls, extent: Extent) -> dict[str, Any]:
        """Return the numbers of a new step that depend on the ground."""
        del extent
        return {}

    @classmethod
    def begun(cls, id: str, extent: Extent) -> Self:
        """Return a new step that already does something sensible on a ground."""
        return cls.model_validate({"id": id, "name": cls.title} | cls.suiting(extent))


def steps() -> tuple[type[StepBase], ...]:
    """Return all steps that there are, in the order of the menu."""
    return tuple(sorted(StepBase.__subclasses__(), key=lambda step: step.order))
