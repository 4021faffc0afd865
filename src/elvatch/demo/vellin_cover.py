"""What lies on Vellin Water: silt and cracked mud on the open bed, shore bands, slate, grass, peat, ways."""

from __future__ import annotations

import numpy as np

from elvatch.core.curve import through
from elvatch.core.document.fit import Fit, NearDetail, Repeats
from elvatch.core.document.layer import Edge, Layer, Look
from elvatch.core.document.marks import DrawnPath, Marks, MaskStroke, PaintedMask, PathPoint, StrokeAt
from elvatch.core.document.rule import Bracket, Clause, OnNoise, OnPainted, OnPath, Rule, on
from elvatch.core.ground.clauses import between
from elvatch.demo import vellin_ground

TYRES = "tyres"
_TRACK, _LANE, _DAM, _SPILLWAY = "workstrack", "drownedlane", "damline", "spillline"
TRACK = (_TRACK, "Works track")
"""The path that carts take, and its name."""

# east, north, metres: along the bed's eastern margin from the dam to the inlet
_TRACK_LINE = (
    (1085, 318),
    (1010, 420),
    (960, 500),
    (880, 600),
    (812, 672),
    (740, 752),
    (672, 812),
    (590, 905),
    (505, 985),
    (385, 1052),
    (200, 1092),
    (30, 1150),
)
# from the southern bank down a gully, over the river at a ford, up the other side
_LANE_LINE = (
    (300, 380),
    (392, 436),
    (470, 496),
    (560, 528),
    (660, 566),
    (760, 610),
    (838, 662),
    (905, 735),
    (985, 800),
    (1060, 905),
)
# where the carts turned: the middle between two wheels
_CART = (
    ((985, 452), (930, 440), (868, 470), (822, 528), (800, 590), (822, 640)),
    ((868, 470), (800, 452), (742, 486), (720, 540)),
)
_GAUGE_M = 1.7
# what has a direction keeps it, what has none is turned
_SHIFT, _TURN = Repeats(kind="shift"), Repeats(kind="turn")


def _noise(size_m: float, strength: float, seed: int) -> OnNoise:
    return OnNoise(join="break-up", size_m=size_m, strength=strength, seed=seed)


def marks() -> Marks:
    """Return the works track, the drowned lane, and a mask for tyre marks, not painted yet."""

    def path(id: str, name: str, line: tuple[tuple[float, float], ...], width_m: float, wobble_m: float) -> DrawnPath:
        points = tuple(PathPoint(east_m=east, north_m=north) for east, north in line)
        return DrawnPath(
            id=id, name=name, points=points, width_m=width_m, soft_m=0.9, wobble_m=wobble_m, wobble_size_m=14
        )

    return Marks(
        masks=(PaintedMask(id=TYRES, name="Tyre marks"),),
        paths=(
            path(_TRACK, "Works track", _TRACK_LINE, 4.2, 0.6),
            path(_LANE, "Drowned lane", _LANE_LINE, 3.0, 1.2),
            path(_DAM, "The dam", vellin_ground.DAM, 84.0, 0.0),
            path(_SPILLWAY, "Spillway", vellin_ground.SPILLWAY, 12.6, 0.0),
        ),
    )


def tyre_marks() -> tuple[MaskStroke, ...]:
    """Return the strokes of two carts, a stroke a wheel."""
    strokes = []
    for corners in _CART:
        line = [(float(east), float(north)) for east, north in through(np.array(corners, np.float64))]
        for side in (-0.5, 0.5):
            points = []
            for k, (east, north) in enumerate(line):
                (ax, ay), (bx, by) = line[max(0, k - 1)], line[min(len(line) - 1, k + 1)]
                length = ((bx - ax) ** 2 + (by - ay) ** 2) ** 0.5
                aside = side * _GAUGE_M
                points.append(
                    StrokeAt(east_m=east - (by - ay) / length * aside, north_m=north + (bx - ax) / length * aside)
                )
            strokes.append(MaskStroke(size_m=0.75, strength=0.9, soft=0.6, points=tuple(points)))
    return tuple(strokes)


def _bed(sets: dict[str, str]) -> tuple[Layer, ...]:
    dry: tuple[Clause, ...] = (
        on(between("elevation", upper=103.0, soft_upper=3.0)),
        on(between("slope", upper=6.0, soft_upper=4.0)),
        OnNoise(size_m=95, seed=11, lower=0.46, soft_lower=0.12),
        on(between("drainage", lower=16000.0, soft_lower=6000.0), "except"),
        _noise(11.0, 0.8, 5),
    )
    shores: tuple[Clause, ...] = (
        # old stands of the water: one band again and again, none above the last
        on(between("elevation", 101.0, 103.2, 0.7, 0.7).model_copy(update={"every": 6.4, "irregular": 0.45})),
        on(between("elevation", 99.0, 131.0, 1.0, 1.0)),
        on(between("slope", upper=20.0, soft_upper=6.0)),
        _noise(16.0, 0.9, 21),
    )
    return (
        Layer(
            id="silt",
            name="Wet silt",
            set=sets["wet-silt"],
            group="The bed",
            fit=Fit(tile_m=2.0, relief_m=0.019, repeats=_SHIFT),
            look=Look(variation=0.22, variation_size_m=60, variation_colour=0.2),
        ),
        Layer(
            id="drymud",
            name="Cracked mud",
            set=sets["cracked-mud"],
            group="The bed",
            rule=Rule(clauses=dry),
            fit=Fit(tile_m=2.5, relief_m=0.045, repeats=_TURN),
            edge=Edge(width_m=0.012, fingers=0.6, fingers_m=9.0),
            look=Look(brightness=0.8, saturation=0.8, variation=0.2, variation_size_m=55),
        ),
        Layer(
            id="shore",
            name="Shore bands",
            set=sets["pebbles"],
            group="The bed",
            rule=Rule(clauses=shores),
            fit=Fit(tile_m=1.5, relief_m=0.029, repeats=_TURN),
            edge=Edge(width_m=0.01, fingers=0.5, fingers_m=5.0),
            look=Look(variation=0.16, variation_size_m=35, brightness=1.08),
        ),
    )


_SHADY = Bracket(
    join="except",
    clauses=(on(between("aspect", 325.0, 55.0, 25.0, 25.0)), on(between("slope", lower=24.0, soft_lower=8.0))),
)
_GRASS: tuple[Clause, ...] = (
    on(between("elevation", lower=134.0, soft_lower=10.0)),
    on(between("slope", upper=36.0, soft_upper=9.0)),
    _SHADY,
    _noise(26.0, 0.55, 4),
)
_PEAT: tuple[Clause, ...] = (
    on(between("elevation", lower=146.0, soft_lower=6.0)),
    on(between("wetness", lower=6.6, soft_lower=1.2)),
    on(between("slope", upper=17.0, soft_upper=6.0)),
    _noise(12.0, 0.7, 8),
)
_SCREE: tuple[Clause, ...] = (
    on(between("slope", lower=21.0, soft_lower=8.0)),
    on(between("elevation", lower=97.0, soft_lower=6.0)),
    _noise(14.0, 0.6, 9),
)
_ROCK: tuple[Clause, ...] = (
    on(between("slope", lower=31.0, soft_lower=5.0)),
    on(between("elevation", lower=96.0, soft_lower=4.0)),
    _noise(8.0, 0.5, 2),
)


def _hills(sets: dict[str, str]) -> tuple[Layer, ...]:
    return (
        Layer(
            id="grass",
            name="Rough grass",
            set=sets["rough-grass"],
            rule=Rule(clauses=_GRASS),
            fit=Fit(tile_m=2.0, relief_m=0.064, repeats=_TURN),
            edge=Edge(width_m=0.012, fingers=0.65, fingers_m=7.0, strip_set=sets["moor-peat"], strip=0.2),
            look=Look(variation=0.24, variation_size_m=70, variation_colour=0.35),
        ),
        Layer(
            id="peat",
            name="Moor peat",
            set=sets["moor-peat"],
            rule=Rule(clauses=_PEAT),
            fit=Fit(tile_m=2.0, relief_m=0.076, repeats=_TURN),
            edge=Edge(width_m=0.02, fingers=0.6, fingers_m=5.0),
            look=Look(variation=0.2, variation_size_m=40),
        ),
        Layer(
            id="scree",
            name="Slate scree",
            set=sets["slate-scree"],
            group="Slate",
            rule=Rule(clauses=_SCREE),
            fit=Fit(tile_m=3.0, relief_m=0.16, projection="downhill", repeats=_SHIFT),
            edge=Edge(width_m=0.05, fingers=0.6, fingers_m=6.0),
            look=Look(variation=0.16, variation_size_m=40),
        ),
        Layer(
            id="bedrock",
            name="Slate bedrock",
            set=sets["slate-bedrock"],
            group="Slate",
            rule=Rule(clauses=_ROCK),
            fit=Fit(
                tile_m=4.0,
                relief_m=0.30,
                projection="triplanar",
                repeats=_SHIFT,
                detail=NearDetail(tile_m=0.7, relief_m=0.012, strength=0.6),
            ),
            edge=Edge(width_m=0.08, fingers=0.5, fingers_m=6.0),
            look=Look(variation=0.14, variation_size_m=30),
        ),
    )


def _ways(sets: dict[str, str]) -> tuple[Layer, ...]:
    def way(id: str, name: str, look: Look, tile_m: float) -> Layer:
        rule = Rule(clauses=(OnPath(path=id, called=name), _noise(2.2, 0.9, 3)))
        fit = Fit(tile_m=tile_m, relief_m=0.042, repeats=_SHIFT)
        return Layer(
            id=f"{id}layer",
            name=name,
            set=sets["gravel-track"],
            group="Ways",
            rule=rule,
            fit=fit,
            edge=Edge(width_m=0.02),
            look=look,
        )

    wheels = Rule(
        clauses=(OnPainted(mask=TYRES, called="Tyre marks"), OnNoise(size_m=1.4, seed=6, lower=0.42, soft_lower=0.3))
    )
    return (
        way(_LANE, "Drowned lane", Look(brightness=0.6, saturation=0.6, variation=0.3, variation_size_m=12), 2.6),
        way(_TRACK, "Works track", Look(brightness=0.74, saturation=0.75, variation=0.2, variation_size_m=25), 2.0),
        Layer(
            id="tyresilt",
            name="Tyre marks",
            set=sets["wet-silt"],
            group="Ways",
            rule=wheels,
            opacity=0.9,
            fit=Fit(tile_m=0.9, relief_m=0.01, turn_deg=35),
            edge=Edge(kind="fade"),
            look=Look(brightness=0.62, roughness_shift=-0.1, variation=0.1, normal_strength=1.3),
        ),
    )


def _works(sets: dict[str, str]) -> tuple[Layer, ...]:
    """The dam's masonry, and the apron of its spillway as the apron's own site shows it."""
    steep_or_crest = Bracket(
        clauses=(
            on(between("slope", lower=50.0, soft_lower=4.0)),
            on(
                between(
                    "elevation",
                    lower=vellin_ground.HIGH_WATER_M + 3.9,
                    upper=vellin_ground.HIGH_WATER_M + 5.2,
                    soft_lower=0.2,
                    soft_upper=0.2,
                ),
                "or",
            ),
        )
    )
    masonry = Rule(clauses=(OnPath(path=_DAM, called="The dam"), steep_or_crest))
    return (
        Layer(
            id="masonry",
            name="Dam masonry",
            set=sets["coursed-masonry"],
            group="Works",
            rule=masonry,
            fit=Fit(
                tile_m=4.8,
                relief_m=0.055,
                projection="triplanar",
                repeats=Repeats(kind="shift"),
                detail=NearDetail(tile_m=0.6, relief_m=0.0012, strength=0.4),
            ),
            edge=Edge(width_m=0.05),
            look=Look(saturation=0.7, brightness=0.95, variation=0.25, variation_size_m=14),
        ),
        Layer(
            id="spillway",
            name="Spillway apron",
            set=sets["cast-concrete"],
            group="Works",
            rule=Rule(clauses=(OnPath(path=_SPILLWAY, called="Spillway"),)),
            fit=Fit(tile_m=3.0, relief_m=0.009, projection="triplanar", repeats=Repeats(kind="shift")),
            edge=Edge(width_m=0.01),
            look=Look(brightness=0.58, saturation=0.8, variation=0.16, variation_size_m=5.0, variation_colour=0.25),
        ),
    )


def layers(sets: dict[str, str]) -> tuple[Layer, ...]:
    """Return the layers from the bottom of the column up, of sets by kind."""
    return (*_bed(sets), *_hills(sets), *_works(sets), *_ways(sets))
