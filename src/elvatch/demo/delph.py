"""Hallin Delph: an old limestone quarry, made up, laid out to learn from.

300 x 200 m: three benches with blasted faces, spoil heaped at its angle of repose on the northern rim, a flooded
sump, a haul road that climbs out of it, and scrub on the oldest tips.
"""

from __future__ import annotations

from elvatch.core.document.fit import Fit, NearDetail, Repeats
from elvatch.core.document.layer import Edge, Layer, Look
from elvatch.core.document.light import Light
from elvatch.core.document.marks import DrawnPath, Marks, PathPoint
from elvatch.core.document.recipe import Peg, Recipe, Stand, Stands
from elvatch.core.document.rule import Clause, OnNoise, OnPath, Rule, on
from elvatch.core.document.water import Water
from elvatch.core.document.wear import AlongPath, Blend, Colouring, Effects, Made, ReliefEffect, Wear
from elvatch.core.ground.clauses import between
from elvatch.core.ground.description import FlatSource, Ground, Step
from elvatch.core.ground.steps.brush import BrushStep, Stroke, StrokePoint
from elvatch.core.ground.steps.course import CoursePoint, CourseStep
from elvatch.core.ground.steps.form import FormStep
from elvatch.core.ground.steps.settle import SettleStep

TITLE = "Hallin Delph"
KINDS = ("quarried-limestone", "gravel-track", "rough-grass", "slate-scree", "moss", "leaf-litter", "wet-silt")
"""The sample sets that it needs."""
WIDTH_M, DEPTH_M, SAMPLES = 300.0, 200.0, 1025
_RIM_M, _FLOOR_M, _WATER_M = 120.0, 96.0, 95.2
_ROAD = "haulroad"

# east, north: the middle of the pit, and how wide each bench leaves it
_PIT = ((70.0, 88.0), (120.0, 96.0), (176.0, 88.0), (226.0, 94.0))
_BENCHES = ((112.0, 54.0), (104.0, 40.0), (_FLOOR_M, 27.0))
"""Level and half width, metres, from the top down."""
# east, north, level: from the floor along the southern benches to the rim in the east
_ROAD_LINE = (
    (120.0, 88.0, 96.2),
    (165.0, 74.0, 98.5),
    (205.0, 66.0, 103.0),
    (244.0, 74.0, 109.0),
    (266.0, 100.0, 115.0),
    (283.0, 132.0, 120.4),
    (299.0, 150.0, 121.0),
)
# east, north, size and height of each heap: the last are the oldest
_HEAPS = (
    (70.0, 172.0, 32.0, 13.0),
    (98.0, 177.0, 36.0, 15.0),
    (134.0, 172.0, 30.0, 12.0),
    (160.0, 179.0, 34.0, 14.0),
    (196.0, 174.0, 30.0, 11.0),
    (24.0, 162.0, 34.0, 12.0),
    (22.0, 128.0, 28.0, 9.0),
)


Points = tuple[tuple[float, float, float, float], ...]
"""East, north, level and half width, metres."""


def _course(id: str, name: str, points: Points, **more: object) -> CourseStep:
    made = tuple(CoursePoint(east_m=e, north_m=n, level_m=level, half_width_m=half) for e, n, level, half in points)
    return CourseStep.model_validate({"id": id, "name": name, "points": made, **more})


_TIPPED = BrushStep(
    id="heaps",
    name="Spoil tipped",
    strokes=tuple(
        Stroke(tool="raise", size_m=size, amount_m=high, soft=1.0, points=(StrokePoint(east_m=e, north_m=n),))
        for e, n, size, high in _HEAPS
    ),
)


def _benches() -> tuple[Step, ...]:
    return tuple(
        _course(
            f"bench{k + 1}",
            f"Bench at {level:.0f} m",
            tuple((e, n, level, half) for e, n in _PIT),
            side_deg=79.0,
            soft_m=0.4,
            wander_m=9.0,
            wander_size_m=38.0,
            seed=20 + k,
        )
        for k, (level, half) in enumerate(_BENCHES)
    )


def _steps() -> tuple[Step, ...]:
    return (
        FormStep(
            id="upland", name="Upland", character="rolling", seed=4, size_m=130, height_m=7, detail=5, roughness=0.45
        ),
        *_benches(),
        FormStep(
            id="blasted",
            name="Blasted faces",
            character="billowed",
            seed=9,
            size_m=6.0,
            height_m=0.9,
            detail=4,
            roughness=0.55,
            where=(between("slope", lower=45.0, soft_lower=12.0),),
        ),
        SettleStep(id="rubble", name="Loose rock comes down", repose_deg=71.0),
        _course(
            "sump",
            "The sump",
            ((92.0, 96.0, 92.6, 11.0), (132.0, 100.0, 92.0, 8.0)),
            side_deg=38.0,
            soft_m=1.5,
            wander_m=7.0,
            wander_size_m=24.0,
            seed=31,
        ),
        _TIPPED,
        SettleStep(
            id="repose",
            name="Spoil comes to rest",
            repose_deg=36.0,
            where=(between("elevation", lower=_RIM_M + 1.0, soft_lower=1.5),),
        ),
        _course(
            "road",
            "Haul road",
            tuple((e, n, level, 3.4) for e, n, level in _ROAD_LINE),
            cut=True,
            fill=True,
            side_deg=52.0,
            soft_m=0.5,
        ),
        FormStep(
            id="lumps",
            name="Small lumps",
            character="rolling",
            seed=44,
            size_m=6,
            height_m=0.25,
            detail=5,
            roughness=0.6,
        ),
    )


def ground(samples: int = SAMPLES) -> Ground:
    """Return the quarry's ground, described."""
    source = FlatSource(samples=samples, level_m=_RIM_M)
    return Ground(width_m=WIDTH_M, depth_m=DEPTH_M, source=source, steps=_steps())


def _noise(size_m: float, strength: float, seed: int) -> OnNoise:
    return OnNoise(join="break-up", size_m=size_m, strength=strength, seed=seed)


def _rules() -> dict[str, Rule]:
    """Where each layer lies, by its id."""
    grass: tuple[Clause, ...] = (
        on(between("elevation", lower=117.5, soft_lower=1.5)),
        on(between("slope", upper=31.0, soft_upper=7.0)),
        _noise(9.0, 0.5, 3),
    )
    spoil: tuple[Clause, ...] = (
        on(between("elevation", lower=121.5, soft_lower=0.8)),
        on(between("slope", lower=24.0, soft_lower=6.0)),
        _noise(7.0, 0.5, 5),
    )
    faces: tuple[Clause, ...] = (on(between("slope", lower=43.0, soft_lower=7.0)), _noise(4.0, 0.4, 2))
    scrub: tuple[Clause, ...] = (
        on(between("elevation", lower=119.0, soft_lower=2.0)),
        on(between("aspect", 250.0, 80.0, 40.0, 40.0)),
        on(between("slope", lower=9.0, soft_lower=4.0)),
        OnNoise(size_m=12, seed=12, lower=0.58, soft_lower=0.16),
        _noise(3.0, 0.6, 7),
    )
    wet: tuple[Clause, ...] = (
        on(between("elevation", upper=_WATER_M + 0.35, soft_upper=0.5)),
        on(between("slope", upper=30.0)),
    )
    road: tuple[Clause, ...] = (OnPath(path=_ROAD, called="Haul road"), _noise(2.0, 0.7, 4))
    clauses = {"grass": grass, "spoil": spoil, "faces": faces, "scrub": scrub, "margin": wet, "roadway": road}
    return {id: Rule(clauses=some) for id, some in clauses.items()}


_SHIFT, _TURN = Repeats(kind="shift"), Repeats(kind="turn")
_FINGER = Edge(width_m=0.03, fingers=0.6, fingers_m=2.4)


def _stone(sets: dict[str, str]) -> tuple[Layer, ...]:
    rules = _rules()
    return (
        Layer(
            id="floor",
            name="Quarry floor",
            set=sets["gravel-track"],
            fit=Fit(tile_m=2.4, relief_m=0.05, repeats=_TURN),
            look=Look(brightness=0.84, saturation=0.85, variation=0.2, variation_size_m=18, variation_colour=0.25),
        ),
        Layer(
            id="grass",
            name="Rough grass",
            set=sets["rough-grass"],
            rule=rules["grass"],
            edge=_FINGER,
            fit=Fit(tile_m=2.0, relief_m=0.06, repeats=_TURN),
            look=Look(variation=0.22, variation_size_m=22, variation_colour=0.3),
        ),
        Layer(
            id="spoil",
            name="Spoil",
            set=sets["slate-scree"],
            rule=rules["spoil"],
            edge=_FINGER,
            group="Stone",
            fit=Fit(tile_m=3.0, relief_m=0.15, projection="downhill", repeats=_SHIFT),
            look=Look(brightness=1.75, saturation=1.1, variation=0.16, variation_size_m=14),
        ),
        Layer(
            id="faces",
            name="Blasted faces",
            set=sets["quarried-limestone"],
            rule=rules["faces"],
            group="Stone",
            edge=Edge(width_m=0.12, fingers=0.4, fingers_m=2.0),
            fit=Fit(
                tile_m=5.0,
                relief_m=0.5,
                projection="triplanar",
                repeats=_SHIFT,
                detail=NearDetail(tile_m=0.9, relief_m=0.015, strength=0.5),
            ),
            look=Look(variation=0.18, variation_size_m=12, variation_colour=0.25),
        ),
    )


def _over_stone(sets: dict[str, str]) -> tuple[Layer, ...]:
    rules = _rules()
    return (
        Layer(
            id="scrub",
            name="Scrub on old tips",
            set=sets["moss"],
            rule=rules["scrub"],
            edge=Edge(
                width_m=0.05, fingers=0.7, fingers_m=3.0, strip_set=sets["leaf-litter"], strip=0.3, strip_tile_m=1.5
            ),
            fit=Fit(tile_m=2.6, relief_m=0.16, repeats=_TURN),
            look=Look(brightness=0.9, variation=0.25, variation_size_m=9, variation_colour=0.4),
        ),
        Layer(
            id="margin",
            name="Silt about the sump",
            set=sets["wet-silt"],
            rule=rules["margin"],
            edge=_FINGER,
            fit=Fit(tile_m=2.0, relief_m=0.02, repeats=_SHIFT),
            look=Look(brightness=1.3, saturation=0.8),
        ),
        Layer(
            id="roadway",
            name="Haul road",
            set=sets["gravel-track"],
            rule=rules["roadway"],
            edge=Edge(width_m=0.015),
            fit=Fit(tile_m=2.0, relief_m=0.04, repeats=_SHIFT),
            look=Look(brightness=0.95, variation=0.15, variation_size_m=10),
        ),
    )


def _layers(sets: dict[str, str]) -> tuple[Layer, ...]:
    return (*_stone(sets), *_over_stone(sets))


def _wears() -> tuple[Wear, ...]:
    along = AlongPath(path=_ROAD, called="Haul road", width_m=2.6, length_m=2.4)
    return (
        Wear(
            id="tracks",
            name="Lorry tracks",
            source=Made(what="tyres", seed=5),
            follows=along,
            effects=Effects(
                relief=ReliefEffect(depth_mm=18.0), colour=Colouring(mode="multiply", colour="#9a9184", strength=0.35)
            ),
        ),
        Wear(
            id="roaddust",
            name="Road dust",
            source=Made(what="dust", seed=3),
            rule=Rule(clauses=(OnPath(path=_ROAD, called="Haul road", wider_m=9.0),)),
            effects=Effects(
                colour=Colouring(mode="replace", colour="#cfc6b2", strength=0.35), roughness=Blend(strength=0.15)
            ),
        ),
    )


def recipe(sets: dict[str, str], samples: int = SAMPLES) -> Recipe:
    """Return the quarry's recipe, of sets by kind."""
    points = tuple(PathPoint(east_m=east, north_m=north) for east, north, _ in _ROAD_LINE)
    return Recipe(
        ground=ground(samples),
        layers=_layers(sets),
        wears=_wears(),
        marks=Marks(
            paths=(
                DrawnPath(
                    id=_ROAD,
                    name="Haul road",
                    points=points,
                    width_m=5.6,
                    soft_m=0.8,
                    wobble_m=0.4,
                    wobble_size_m=9.0,
                ),
            )
        ),
        peg=Peg(east_m=186.0, north_m=82.0),
        stands=Stands(
            far=Stand(bearing_deg=352, tilt_deg=40, distance_m=262, view_deg=40),
            mid=Stand(bearing_deg=98, tilt_deg=12, distance_m=36, view_deg=46),
            near=Stand(bearing_deg=330, tilt_deg=14, distance_m=4.6, view_deg=44),
        ),
        light=Light(sun_bearing_deg=212, sun_height_deg=38),
        water=Water(on=True, level_m=_WATER_M, clarity_m=2.2, colour="#4f8a86", wet_m=0.25),
    )
