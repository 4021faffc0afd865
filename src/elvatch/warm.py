"""First run: compile every kernel once, with a line of progress, so that no user waits for it later."""

from __future__ import annotations

import tempfile
from collections.abc import Callable
from pathlib import Path

import numpy as np

from elvatch.core.clauses import between
from elvatch.core.cover.fit import Fit
from elvatch.core.cover.recipe import HandOff, Layer, Peg, Recipe
from elvatch.core.cover.rule import OnNoise, Rule, on
from elvatch.core.formats import mend
from elvatch.core.ground import description as d
from elvatch.core.ground import shaping
from elvatch.core.ground.description import FlatSource, Ground
from elvatch.core.ground.measures import NAMES, Measures
from elvatch.core.handoff import bake
from elvatch.core.kept import Kept
from elvatch.core.picture import relief_map
from elvatch.core.picture.picture import Booth, View, terrain
from elvatch.core.picture.swatch import swatch
from elvatch.core.run import Run
from elvatch.core.stock import generators
from elvatch.core.stock.loaded import Loaded
from elvatch.core.stock.mend.seamless import seamless


def _one_of_each_step() -> tuple[d.Step, ...]:
    bench = tuple(d.CoursePoint(east_m=10 + 40 * k, north_m=50, level_m=5, half_width_m=3) for k in range(2))
    strokes = tuple(
        d.Stroke(tool=tool, size_m=12, points=(d.StrokePoint(east_m=50, north_m=50),)) for tool in ("raise", "smooth")
    )
    return (
        d.FormStep(id="form", name="form", size_m=40, height_m=20),
        d.TerraceStep(id="terrace", name="terrace"), d.SmoothStep(id="smooth", name="smooth"),
        d.RidgesStep(id="ridges", name="ridges"), d.WarpStep(id="warp", name="warp"),
        d.TwistStep(id="twist", name="twist"), d.RemapStep(id="remap", name="remap"),
        d.LevelStep(id="level", name="level"), d.CourseStep(id="course", name="course", points=bench),
        d.SettleStep(id="settle", name="settle", where=(between("elevation", lower=0.0),)),
        d.RunoffStep(id="runoff", name="runoff", rounds=2), d.RiversStep(id="rivers", name="rivers", rounds=1),
        d.ResampleStep(id="resample", name="resample", samples=64),
        d.BrushStep(id="brush", name="brush", strokes=strokes),
    )  # fmt: skip


def warm_up(say: Callable[[str], None]) -> None:
    """Compile every kernel, or load it when it was compiled before."""
    say("compiling 1 of 4: ground")
    described = Ground(width_m=100, depth_m=100, source=FlatSource(samples=48), steps=_one_of_each_step())
    shaped = shaping.shape(described, lambda source: np.zeros((8, 8), np.float32), Kept(99), Run())
    measures = Measures(shaped)
    for name in NAMES:
        measures.map(name)
    land = terrain(shaped.ground)
    relief_map.draw(land.survey, 32, 32, 1.0)
    hole = np.zeros(shaped.ground.heights_m.shape, bool)
    hole[9, 9] = True
    mend.fill_holes(shaped.ground.heights_m, hole)
    say("compiling 2 of 4: sample sets")
    drawn = [generators.draw(kind, 64, 1) for kind in ("slate-scree", "rough-grass", "pebbles", "cracked-mud")]
    made = [generators.stored(one) for one in drawn[:2]]
    whole = Loaded({kept.role: kept.values for kept in generators.kept(drawn[0])}, drawn[0].tile_m, drawn[0].relief_m)
    seamless(whole, "cut")
    say("compiling 3 of 4: cover and pictures")
    swatch(made[0], 32)
    layers = tuple(
        Layer(
            id=f"layer{k}", name=f"layer {k}", set=f"{k}" * 40, fit=Fit(tile_m=2.0, relief_m=0.1),
            rule=Rule(clauses=(on(between("elevation", lower=0.0)), OnNoise(join="break-up"))),
        )
        for k in range(2)
    )  # fmt: skip
    recipe = Recipe(
        ground=described, layers=layers, peg=Peg(east_m=50, north_m=50), hand_off=HandOff(size_px=16),
    )  # fmt: skip
    sets = {f"{k}" * 40: pyramid for k, pyramid in enumerate(made)}
    booth = Booth()
    for looks in (1, 4):
        booth.take(land, recipe, sets, View("near", 32, 32, looks))
    say("compiling 4 of 4: hand-off")
    with tempfile.TemporaryDirectory() as folder:
        bake.bake("warm", recipe, land.survey, measures, sets, Path(folder) / "out")
