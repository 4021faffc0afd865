"""First run: compile every kernel once, with a line of progress, so that no user waits for it later."""

from __future__ import annotations

import math
import tempfile
from collections.abc import Callable
from pathlib import Path

import numpy as np

from elvatch.core import noise
from elvatch.core.cover.recipe import BreakUp, ElevationClause, Fit, Ground, HandOff, Layer, Peg, Recipe, Rule
from elvatch.core.ground import rivers
from elvatch.core.ground.heightfield import Heightfield
from elvatch.core.handoff import bake
from elvatch.core.picture.picture import Booth, View, terrain
from elvatch.core.picture.swatch import swatch
from elvatch.core.stock import generators

_CONTENT = "0" * 40


def warm_up(say: Callable[[str], None]) -> None:
    """Compile every kernel, or load it when it was compiled before."""
    say("compiling 1 of 4: ground")
    hills = (noise.periodic(64, 2, 1) * 8.0).astype(np.float32)
    ground = Heightfield(hills, 100.0, 100.0)
    rivers.carve(ground, 0.01, 1, np.zeros_like(hills))
    land = terrain(ground)
    say("compiling 2 of 4: sample sets")
    made = [generators.make(kind, 64, 1) for kind in ("slate-scree", "rough-grass")]
    say("compiling 3 of 4: cover and pictures")
    swatch(made[0], 32)
    layers = tuple(
        Layer(
            id=f"layer{k}", name=f"layer {k}", set=f"{k}" * 40, fit=Fit(tile_m=2.0, relief_m=0.1),
            rule=Rule(clauses=(ElevationClause(lower_m=0.0),), break_up=BreakUp(strength=0.5)),
        )
        for k in range(2)
    )  # fmt: skip
    recipe = Recipe(
        ground=Ground(
            file=_CONTENT, file_name="warm", width_m=100, depth_m=100,
            lowest_m=math.floor(ground.lowest_m), highest_m=math.ceil(ground.highest_m),
        ),
        layers=layers, peg=Peg(east_m=50, north_m=50), hand_off=HandOff(size_px=16),
    )  # fmt: skip
    sets = {f"{k}" * 40: pyramid for k, pyramid in enumerate(made)}
    booth = Booth()
    for looks in (1, 4):
        booth.take(land, recipe, sets, View("near", 32, 32, looks))
    say("compiling 4 of 4: hand-off")
    with tempfile.TemporaryDirectory() as folder:
        bake.bake("warm", recipe, land.survey, sets, Path(folder) / "out")
