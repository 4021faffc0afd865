"""First run, what is used later or seldom: painted masks, wear, water, looking modes, models brought in."""

from __future__ import annotations

import numpy as np

from elvatch.core import blend
from elvatch.core.cache import Cache
from elvatch.core.cover import alone, function, plan, stretch
from elvatch.core.document.fit import Fit
from elvatch.core.document.layer import Layer
from elvatch.core.document.light import Light
from elvatch.core.document.marks import DrawnPath, Marks, MaskStroke, PathPoint, StrokeAt
from elvatch.core.document.recipe import Peg, Recipe
from elvatch.core.document.strew import Mixed, Standing, Strew
from elvatch.core.document.water import Water
from elvatch.core.document.wear import AlongPath, ByRelief, Effects, Made, Wear
from elvatch.core.ground import mend, places, sampling, shaping
from elvatch.core.ground.description import FlatSource, Ground
from elvatch.core.ground.heightfield import Heightfield
from elvatch.core.ground.steps.form import FormStep
from elvatch.core.ground.steps.settle import SettleStep
from elvatch.core.light.air import air, lost_over
from elvatch.core.picture import pointing
from elvatch.core.picture.picture import Renderer, View
from elvatch.core.picture.terrain import Terrain, terrain
from elvatch.core.rules import crowds, painting, thing_paint
from elvatch.core.rules.evidence import Evidence
from elvatch.core.rules.mask import Mask
from elvatch.core.run import Run
from elvatch.core.stock import generators, overlay, overlays, pyramid, sheet
from elvatch.core.stock.pyramid import Pyramid
from elvatch.core.strew.field import Field, stocked
from elvatch.core.strew.laid import On
from elvatch.core.thing import model
from elvatch.core.thing.shelter import left_open

_SIDE_M = 100.0
_WAY = DrawnPath(
    id="awayaway", name="way", points=(PathPoint(east_m=10, north_m=50), PathPoint(east_m=90, north_m=50))
)


def of_grounds() -> None:
    """Let debris come to rest, mend quantised heights, read levels, and bring measures onto texels."""
    steep = (FormStep(id="steep", name="steep", size_m=20, height_m=60), SettleStep(id="rests", name="rests"))
    described = Ground(width_m=_SIDE_M, depth_m=_SIDE_M, source=FlatSource(samples=48), steps=steep)
    shaping.shape(described, lambda _: np.zeros((2, 2), np.float32), Cache(9), Run())
    steps = np.round(np.linspace(0, 9, 64 * 64)).astype(np.float32).reshape(64, 64)
    mend.smooth_steps(steps, 1.0)
    levels = mend.Levels(8)
    levels.add(steps.ravel())
    sampling.texels(steps, 32, 32, 0, 32)


def of_sets() -> None:
    """Draw leaves, and an overlay ready for lookups."""
    generators.draw("leaf-litter", 64, 1)
    drawn = overlays.draw("scratches", 1, size_px=64)
    sheet.build(drawn, overlay.table(False, 0.0, 1.0, 0.0), "warm")
    blend.over("multiply", np.zeros(4), np.ones(4))


def of_marks() -> None:
    """Paint a stroke, find what is near, lay things along a path."""
    stroke = MaskStroke(size_m=12.0, points=(StrokeAt(east_m=50, north_m=50), StrokeAt(east_m=60, north_m=50)))
    painting.paint(Mask(_SIDE_M, _SIDE_M, 1.0, {}, ""), stroke)
    along = np.array([[0.1, 0.1, 0.1, 1.0]])
    on_it = thing_paint.ThingStroke("add", along, 0.1, 0.5, 1.0, 1.0, 0)
    at, variant = np.zeros((1, 3), np.float32), np.zeros(1, np.int64)
    thing_paint.values(thing_paint.with_stroke(thing_paint.nothing(), on_it), at, variant)
    spots = np.array([[50.0, 50.0, 1.0]])
    crowds.distances(crowds.crowds([(spots, 5.0)]), spots[:, 0].copy(), spots[:, 1].copy())


def of_things() -> None:
    """Lay things along a path; find what a model's own shape leaves of the sky."""
    made = model.drawn("boulder", 1, 1, {})
    left_open(made.variants[0][-1])
    along = Strew(
        id="along",
        name="along",
        kinds=(Mixed(thing="stone"),),
        per_100_m2=4.0,
        stands=Standing(turned="path", path=_WAY.id),
    )
    land = terrain(Heightfield(np.zeros((33, 33), np.float32), _SIDE_M, _SIDE_M))
    found = stocked((along,), {"stone": made})
    on = On(land.survey, Evidence(_SIDE_M, _SIDE_M), (), lambda id: np.zeros((0, 3)), {"stone": 0.4})
    field = Field((along,), ("along",), found, on, (_WAY,), "along", {"stone": made}, "along")
    field.stands(0, (0, 0), None, "")


def _site() -> tuple[Recipe, Terrain, dict[str, Pyramid]]:
    x = np.linspace(0, 40, 48, dtype=np.float32)
    land = terrain(Heightfield(np.tile(x, (48, 1)), _SIDE_M, _SIDE_M))
    layers = tuple(
        Layer(id=f"layer{k}", name=f"layer {k}", set="0" * 40, fit=Fit(tile_m=2.0, relief_m=0.1)) for k in range(2)
    )
    wear = Wear(
        id="wear",
        name="wear",
        source=Made(what="scratches"),
        effects=Effects(worn_through=0.5),
        by_relief=ByRelief(where="hollows"),
        follows=AlongPath(path=_WAY.id, called=_WAY.name),
    )
    recipe = Recipe(
        ground=Ground(width_m=_SIDE_M, depth_m=_SIDE_M, source=FlatSource(samples=48)),
        layers=layers,
        wears=(wear,),
        marks=Marks(paths=(_WAY,)),
        peg=Peg(east_m=50, north_m=50),
        water=Water(on=True, level_m=15.0),
    )
    return recipe, land, {"0" * 40: pyramid.plain(np.full((8, 8, 3), 0.2, np.float32), 1.0)}


def of_looking() -> None:
    """Look at wear, stretch, water and air; point at places."""
    recipe, land, sets = _site()
    even = sheet.build(np.full((8, 8), 40_000, np.uint16), overlay.table(False, 0.0, 1.0, 0.0), "even")
    evidence = Evidence(_SIDE_M, _SIDE_M, marks=recipe.marks, sheet=lambda _: even)
    prepared = plan.prepare(recipe.layers, sets, evidence, wears=recipe.wears)
    at = places.on_grid(land.survey, 8, 8, 0, 8)
    material = function.ask(prepared, at)
    alone.overlay(prepared, 0, at)
    alone.mask(prepared, 0, at, material)
    stretch.of_cover(prepared, at, material.shares)
    function.ask(plan.prepare((), {}), at)
    far = View("far", 32, 32, 1)
    pointing.on_ground(land, recipe, far, [(0.5, 0.6)])
    Renderer().take(land, recipe, sets, far, evidence=evidence)
    lost_over(air(Light(), _SIDE_M, 0.0), 40.0, material.relief_m, material.relief_m)
