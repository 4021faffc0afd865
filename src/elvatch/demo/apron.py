"""The spillway apron: 24 x 16 m of concrete, cast in panels, with open joints and silt washed in at its low end."""

from __future__ import annotations

from elvatch.core.document.fit import Fit, NearDetail, Repeats
from elvatch.core.document.layer import Edge, Layer, Look
from elvatch.core.document.light import Light
from elvatch.core.document.marks import DrawnPath, Marks, PathPoint
from elvatch.core.document.recipe import Peg, Recipe, Stand, Stands
from elvatch.core.document.rule import OnNoise, OnPath, Rule, on
from elvatch.core.ground.clauses import between
from elvatch.core.ground.description import FlatSource, Ground
from elvatch.core.ground.steps.course import CoursePoint, CourseStep
from elvatch.demo import apron_wear

TITLE = "Spillway apron"
WIDTH_M, DEPTH_M = 24.0, 16.0
SAMPLES = 385
_FALL_M = 0.32
_PANEL_M = 4.0


def ground(samples: int = SAMPLES) -> Ground:
    """Return a slab that falls evenly from west to east, as it sheds its water."""
    ends = tuple(
        CoursePoint(east_m=east, north_m=DEPTH_M / 2, level_m=level, half_width_m=DEPTH_M)
        for east, level in ((0.0, _FALL_M), (WIDTH_M, 0.0))
    )
    fall = CourseStep(id="fall", name="Fall to the outlet", points=ends, cut=True, fill=True, soft_m=0.0)
    return Ground(width_m=WIDTH_M, depth_m=DEPTH_M, source=FlatSource(samples=samples, level_m=0.1), steps=(fall,))


def _joints() -> tuple[DrawnPath, ...]:
    """Return the joints between panels, as lines from edge to edge."""
    lines = [((east, 0.0), (east, DEPTH_M)) for east in (_PANEL_M * k for k in range(1, 6))]
    lines += [((0.0, north), (WIDTH_M, north)) for north in (_PANEL_M * k for k in range(1, 4))]
    return tuple(
        DrawnPath(
            id=f"joint{k + 1}",
            name=f"Joint {k + 1}",
            points=tuple(PathPoint(east_m=east, north_m=north) for east, north in line),
            width_m=0.036,
            soft_m=0.032,
            wobble_m=0.004,
            wobble_size_m=0.5,
            seed=k + 1,
        )
        for k, line in enumerate(lines)
    )


def _layers(sets: dict[str, str]) -> tuple[Layer, ...]:
    concrete = sets["cast-concrete"]
    joints = tuple(
        OnPath(join="or" if k else "and", path=joint.id, called=joint.name) for k, joint in enumerate(_joints())
    )
    worn = Rule(
        clauses=(
            OnNoise(size_m=3.4, seed=19, lower=0.56, soft_lower=0.12),
            OnNoise(join="break-up", size_m=0.5, strength=0.8, seed=4),
        )
    )
    washed = Rule(
        clauses=(
            on(between("elevation", upper=0.05, soft_upper=0.05)),
            OnNoise(size_m=2.2, seed=8, lower=0.5, soft_lower=0.08),
            OnNoise(join="break-up", size_m=0.4, strength=0.7, seed=3),
        )
    )
    return (
        Layer(
            id="panels",
            name="Cast panels",
            set=concrete,
            fit=Fit(
                tile_m=3.0,
                relief_m=0.009,
                repeats=Repeats(kind="second", second_scale=4.3),
                detail=NearDetail(tile_m=0.45, relief_m=0.0008, strength=0.35),
            ),
            look=Look(brightness=0.58, saturation=0.8, variation=0.16, variation_size_m=5.0, variation_colour=0.25),
        ),
        Layer(
            id="wornskin",
            name="Worn skin",
            set=concrete,
            rule=worn,
            opacity=0.85,
            fit=Fit(tile_m=2.3, turn_deg=90, relief_m=0.009, repeats=Repeats(kind="shift")),
            edge=Edge(width_m=0.004),
            look=Look(brightness=0.47, saturation=0.85, roughness_shift=0.08, variation=0.1, variation_size_m=3.0),
        ),
        Layer(
            id="jointfill",
            name="Open joints",
            set=sets["moor-peat"],
            rule=Rule(clauses=joints),
            fit=Fit(tile_m=0.5, relief_m=0.02, meets="cut in", repeats=Repeats(kind="turn")),
            edge=Edge(kind="fade"),
            look=Look(brightness=0.55, saturation=0.5, variation=0.0),
        ),
        Layer(
            id="washed",
            name="Washed-in silt",
            set=sets["wet-silt"],
            rule=washed,
            fit=Fit(tile_m=1.1, relief_m=0.008, turn_deg=90, meets="on top", repeats=Repeats(kind="shift")),
            edge=Edge(width_m=0.003),
            look=Look(brightness=0.8, variation=0.2, variation_size_m=2.5),
        ),
    )


def recipe(sets: dict[str, str], samples: int = SAMPLES) -> Recipe:
    """Return the apron's recipe, of sets by kind."""
    return Recipe(
        ground=ground(samples),
        layers=_layers(sets),
        marks=Marks(paths=(*_joints(), *apron_wear.ways())),
        peg=Peg(east_m=17.3, north_m=6.7),
        stands=Stands(
            far=Stand(bearing_deg=335, tilt_deg=30, distance_m=25.0, view_deg=40),
            mid=Stand(bearing_deg=62, tilt_deg=13, distance_m=9.0, view_deg=44),
            near=Stand(bearing_deg=320, tilt_deg=17, distance_m=3.6, view_deg=46),
        ),
        light=Light(sun_bearing_deg=255, sun_height_deg=24),
    )
