"""The ground of Vellin Water: a drawn-down reservoir in the hills, made up.

1.2 x 1.2 km: an inlet valley from the north-west, a bowl with a flat silt bed, old shorelines as
benches on its sides, spurs and joining gullies about it, and a dam of masonry across the south-east.
All of it is a list of steps like any other, open to change in the Ground room.
"""

from __future__ import annotations

from elvatch.core.ground.clauses import between
from elvatch.core.ground.description import FlatSource, Ground, Step
from elvatch.core.ground.steps.bend import WarpStep
from elvatch.core.ground.steps.course import CoursePoint, CourseStep
from elvatch.core.ground.steps.form import FormStep
from elvatch.core.ground.steps.ridges import RidgesStep
from elvatch.core.ground.steps.rivers import RiversStep
from elvatch.core.ground.steps.runoff import RunoffStep
from elvatch.core.ground.steps.settle import SettleStep
from elvatch.core.ground.steps.terrace import TerraceStep

SIZE_M = 1200.0
HIGH_WATER_M = 141.0
SAMPLES = 1025

# from the inlet in the north-west to the dam in the south-east: east, north, half width, floor, all metres
_THALWEG = (
    (-24, 1224, 10, 127.0),
    (168, 1104, 14, 117.0),
    (360, 1050, 26, 107.0),
    (504, 888, 62, 99.5),
    (600, 696, 112, 94.5),
    (744, 528, 128, 91.5),
    (912, 384, 92, 89.5),
    (1032, 264, 50, 87.0),
    (1152, 144, 30, 85.0),
    (1240, 60, 28, 80.0),
)


DAM = ((905, -20), (955, 50), (1010, 112), (1078, 186), (1150, 262), (1240, 345))
"""Along its crest: east, north."""
SPILLWAY = ((1116, 252), (1138, 229), (1152, 214), (1172, 180), (1192, 140))
"""From the reservoir over the sill and down: east, north."""


def _along(rise_m: float, wide: float = 1.0, least_half_m: float = 0.0) -> tuple[CoursePoint, ...]:
    """Return points along the thalweg, so much above its floor and so much wider than the floor."""
    return tuple(
        CoursePoint(east_m=east, north_m=north, level_m=floor + rise_m, half_width_m=max(half * wide, least_half_m))
        for east, north, half, floor in _THALWEG
    )


def _dam() -> tuple[CoursePoint, ...]:
    crest = HIGH_WATER_M + 4.5
    return tuple(CoursePoint(east_m=east, north_m=north, level_m=crest, half_width_m=4.0) for east, north in DAM)


def _spillway() -> tuple[CoursePoint, ...]:
    """A sill in the crest, and the apron that falls from it down the valley's side."""
    sill = HIGH_WATER_M + 1.0
    levels = (sill, sill, sill - 7.0, sill - 24.0, sill - 40.0)
    return tuple(
        CoursePoint(east_m=east, north_m=north, level_m=level, half_width_m=6.0)
        for (east, north), level in zip(SPILLWAY, levels, strict=True)
    )


def _hills() -> tuple[Step, ...]:
    return (
        FormStep(
            id="hills",
            name="Rolling hills",
            character="rolling",
            seed=12,
            size_m=520,
            height_m=104,
            detail=7,
            roughness=0.48,
        ),
        FormStep(
            id="crests",
            name="Crests",
            character="billowed",
            seed=17,
            size_m=300,
            height_m=34,
            detail=6,
            roughness=0.45,
        ),
        CourseStep(
            id="bowl",
            name="Inlet valley and bowl",
            points=_along(0.0),
            side_deg=17.0,
            soft_m=26,
            wander_m=90,
            wander_size_m=330,
            seed=5,
        ),
        RiversStep(id="valleys", name="Side valleys", cut=1.0, branching=0.4, rounds=18, creep_m=4.0, seed=3),
        RidgesStep(id="spurs", name="Sharper spurs", radius_m=18, strength=0.45),
        RiversStep(id="gullies", name="Gullies", cut=0.85, branching=0.85, rounds=6, creep_m=1.4, seed=8),
    )


def _slopes() -> tuple[Step, ...]:
    return (
        WarpStep(id="bends", name="Bends off the grid", amount_m=7.0, size_m=92, detail=4, seed=63),
        TerraceStep(
            id="ledges",
            name="Slate ledges",
            spacing_m=7.5,
            sharpness=0.6,
            irregularity=0.9,
            seed=31,
            strength=0.22,
            where=(between("slope", lower=30.0, soft_lower=9.0),),
        ),
        FormStep(
            id="crags",
            name="Crags",
            character="billowed",
            seed=33,
            size_m=16,
            height_m=1.3,
            detail=5,
            roughness=0.55,
            where=(between("slope", lower=33.0, soft_lower=9.0),),
        ),
        TerraceStep(
            id="shores",
            name="Old shorelines",
            spacing_m=6.4,
            sharpness=0.5,
            irregularity=0.5,
            seed=22,
            strength=0.5,
            where=(
                between("elevation", lower=98.0, upper=HIGH_WATER_M, soft_lower=6.0, soft_upper=3.0),
                between("slope", upper=17.0, soft_upper=8.0),
            ),
        ),
        SettleStep(id="scree", name="Scree comes to rest", repose_deg=41.0),
    )


def _bed_and_works() -> tuple[Step, ...]:
    return (
        CourseStep(
            id="siltbed",
            name="Silt bed",
            points=_along(3.4, 1.22),
            cut=False,
            fill=True,
            side_deg=1.6,
            soft_m=2.2,
            wander_m=30,
            wander_size_m=260,
            seed=41,
        ),
        CourseStep(
            id="channel",
            name="The last water's channel",
            points=_along(1.5, 0.02, 2.4),
            side_deg=13,
            soft_m=0.5,
            wander_m=34,
            wander_size_m=105,
            seed=52,
        ),
        RunoffStep(id="rain", name="Rain on the open bed", rounds=240, rain=0.5, carry=0.42, softness=0.45),
        FormStep(
            id="lumps",
            name="Small lumps",
            character="rolling",
            seed=61,
            size_m=22,
            height_m=0.45,
            detail=5,
            roughness=0.55,
        ),
        CourseStep(
            id="thedam",
            name="The dam",
            points=_dam(),
            cut=False,
            fill=True,
            side_deg=64,
            soft_m=0.3,
        ),
        CourseStep(
            id="spillway",
            name="Spillway through the dam",
            points=_spillway(),
            cut=True,
            fill=True,
            side_deg=82,
            soft_m=0.2,
        ),
    )


def steps() -> tuple[Step, ...]:
    """Return the steps that shape Vellin Water."""
    return (*_hills(), *_slopes(), *_bed_and_works())


def ground(samples: int = SAMPLES) -> Ground:
    """Return the ground of Vellin Water, described."""
    return Ground(width_m=SIZE_M, depth_m=SIZE_M, source=FlatSource(samples=samples, level_m=150.0), steps=steps())
