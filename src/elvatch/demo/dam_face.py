"""The dam's upstream face: 36 m of coursed masonry that stands 18 m high and leans back a little, bare since the
water was let down: limed under its joints, green up to where the water stood, silted at its foot.
"""

from __future__ import annotations

import math

from elvatch.core.document.fit import Fit, Lie, NearDetail, Repeats
from elvatch.core.document.layer import Edge, Layer, Look
from elvatch.core.document.light import Light
from elvatch.core.document.recipe import Peg, Recipe, Stand, Stands
from elvatch.core.document.rule import OnNoise, Rule, on
from elvatch.core.document.wear import AlongLevels, Blend, Colouring, Effects, Made, Range, ReliefEffect, Wear
from elvatch.core.ground.clauses import between
from elvatch.core.ground.description import FlatSource, Ground
from elvatch.core.ground.steps.course import CoursePoint, CourseStep
from elvatch.core.ground.upright import Upright
from elvatch.demo.vellin_ground import HIGH_WATER_M

TITLE = "Dam’s upstream face"
WIDTH_M, HEIGHT_M = 36.0, 18.0
SAMPLES = 721
FOOT_M = HIGH_WATER_M - 13.5
_BATTER = 1.0 / 12
_FACES_DEG = 322.0
_BAND_UP_M, _BAND_OUT_M = 14.6, 0.16


def ground(samples: int = SAMPLES) -> Ground:
    """Return a face that leans back by one in twelve, with a band of dressed stone below its crest."""
    lean = CourseStep(
        id="batter",
        name="Batter",
        cut=True,
        soft_m=0.0,
        side_deg=math.degrees(math.atan(_BATTER)),
        points=tuple(
            CoursePoint(east_m=along, north_m=HEIGHT_M, level_m=0.0, half_width_m=0.0) for along in (0.0, WIDTH_M)
        ),
    )
    level = (HEIGHT_M - _BAND_UP_M) * _BATTER + _BAND_OUT_M
    band = CourseStep(
        id="band",
        name="Band below the crest",
        cut=False,
        fill=True,
        soft_m=0.02,
        side_deg=80.0,
        points=tuple(
            CoursePoint(east_m=along, north_m=_BAND_UP_M, level_m=level, half_width_m=0.3) for along in (0.0, WIDTH_M)
        ),
    )
    return Ground(
        width_m=WIDTH_M,
        depth_m=HEIGHT_M,
        upright=Upright(faces_deg=_FACES_DEG, foot_m=FOOT_M),
        source=FlatSource(samples=samples, level_m=HEIGHT_M * _BATTER + 0.5),
        steps=(lean, band),
    )


_UNDER_WATER = Rule(
    clauses=(
        on(between("elevation", upper=HIGH_WATER_M - 0.4, soft_upper=1.6)),
        OnNoise(join="break-up", size_m=3.0, strength=0.9, seed=5),
    )
)
_GROWN = Rule(
    clauses=(
        on(between("elevation", lower=HIGH_WATER_M + 0.3, soft_lower=0.3)),
        on(between("slope", upper=62.0, soft_upper=12.0)),
        OnNoise(join="break-up", size_m=0.6, strength=0.7, seed=9),
    )
)
_SILTED = Rule(
    clauses=(
        on(between("elevation", upper=FOOT_M + 0.5, soft_upper=0.7)),
        OnNoise(join="break-up", size_m=1.4, strength=0.9, seed=2),
    )
)


def _layers(sets: dict[str, str]) -> tuple[Layer, ...]:
    masonry = sets["coursed-masonry"]
    return (
        Layer(
            id="masonry",
            name="Coursed masonry",
            set=masonry,
            fit=Fit(
                tile_m=4.8,
                relief_m=0.055,
                repeats=Repeats(kind="none"),
                detail=NearDetail(tile_m=0.6, relief_m=0.0012, strength=0.4),
            ),
            look=Look(brightness=0.92, saturation=0.8, variation=0.2, variation_size_m=5.0, variation_colour=0.3),
        ),
        Layer(
            id="stained",
            name="Stained below the water",
            set=masonry,
            rule=_UNDER_WATER,
            opacity=0.9,
            fit=Fit(tile_m=4.8, relief_m=0.055, repeats=Repeats(kind="none")),
            edge=Edge(kind="fade"),
            look=Look(
                brightness=0.5,
                saturation=1.15,
                hue_deg=18,
                roughness_shift=-0.06,
                variation=0.35,
                variation_size_m=2.2,
            ),
        ),
        Layer(
            id="mossed",
            name="Moss on the band",
            set=sets["moss"],
            rule=_GROWN,
            fit=Fit(tile_m=0.9, relief_m=0.02, meets="on top", repeats=Repeats(kind="shift")),
            edge=Edge(width_m=0.02),
            look=Look(variation=0.2, variation_size_m=1.2),
        ),
        Layer(
            id="silted",
            name="Silt at the foot",
            set=sets["wet-silt"],
            rule=_SILTED,
            fit=Fit(tile_m=1.6, relief_m=0.012, meets="on top", repeats=Repeats(kind="shift")),
            edge=Edge(width_m=0.02),
            look=Look(brightness=0.9, variation=0.2, variation_size_m=2.5),
        ),
    )


def wears() -> tuple[Wear, ...]:
    """Return what water left on the face, from the bottom up."""
    limed = Rule(
        clauses=(
            OnNoise(size_m=5.0, seed=12, lower=0.42, soft_lower=0.25),
            on(between("elevation", upper=FOOT_M + _BAND_UP_M, soft_upper=1.0)),
        )
    )
    wetted = Rule(
        clauses=(
            on(between("elevation", upper=FOOT_M + 8.0, soft_upper=5.0)),
            OnNoise(join="break-up", size_m=2.2, strength=0.8, seed=6),
        )
    )
    return (
        Wear(
            id="algae",
            name="Dried algae",
            rule=wetted,
            over=("masonry", "stained"),
            source=Made(what="film", seed=3),
            lie=Lie(tile_m=3.4, repeats=Repeats(kind="turn")),
            effects=Effects(
                colour=Colouring(mode="replace", colour="#4c5330", strength=0.55),
                roughness=Blend(mode="replace", towards=0.7, strength=0.4),
            ),
        ),
        Wear(
            id="limeruns",
            name="Lime runs",
            rule=limed,
            over=("masonry", "stained"),
            source=Made(what="runs", seed=9, controls={"length": 140.0, "width": 26.0, "amount": 0.9, "wander": 0.3}),
            lie=Lie(tile_m=4.2, projection="downhill", repeats=Repeats(kind="shift")),
            effects=Effects(
                colour=Colouring(mode="replace", colour="#d2cdbf", strength=0.62),
                roughness=Blend(strength=0.25),
                relief=ReliefEffect(way="raise", depth_mm=0.6),
            ),
        ),
        Wear(
            id="tidemarks",
            name="Marks of falling water",
            over=("masonry", "stained"),
            source=Made(what="tidemarks", seed=4),
            follows=AlongLevels(from_m=FOOT_M + 2.0, spacing_m=2.6, wobble_m=0.04),
            range=Range(none_at=0.1, full_at=1.0, soft=0.8),
            effects=Effects(
                colour=Colouring(mode="replace", colour="#bdb6a6", strength=0.4), roughness=Blend(strength=0.12)
            ),
        ),
    )


def recipe(sets: dict[str, str], samples: int = SAMPLES) -> Recipe:
    """Return the face's recipe, of sets by kind."""
    return Recipe(
        ground=ground(samples),
        layers=_layers(sets),
        peg=Peg(east_m=14.2, north_m=0.02),
        stands=Stands(
            far=Stand(bearing_deg=163, tilt_deg=3, distance_m=42.0, view_deg=36),
            mid=Stand(bearing_deg=108, tilt_deg=1, distance_m=10.5, view_deg=58),
            near=Stand(bearing_deg=112, tilt_deg=3, distance_m=3.3, view_deg=44),
        ),
        light=Light(sun_bearing_deg=262, sun_height_deg=34),
    )
