"""A step, a clause, a measure and a blend mode that nobody has written yet: declared once, known everywhere."""

from __future__ import annotations

import json
import subprocess
import sys
from pathlib import Path

from tests import decoded

_MADE_UP = """
from typing import Annotated, Literal

import numpy as np
from pydantic import Field

from elvatch.core.ground.step import StepBase
from elvatch.core.shown import metres


class LiftStep(StepBase):
    title = "Lift"
    about = "lifts all of it"
    order = 45
    kind: Literal["lift"] = "lift"
    by_m: Annotated[float, metres("By", 500)] = Field(default=5.0, ge=0, le=1000)

    @classmethod
    def suiting(cls, extent):
        return {"by_m": extent.rise_m}

    def apply(self, shaped, run):
        return shaped.with_heights(shaped.ground.heights_m + np.float32(self.by_m))


try:
    class Nameless(StepBase):
        about = "lacks a title"
        order = 46
        kind: Literal["nameless"] = "nameless"

        def apply(self, shaped, run):
            return shaped
except TypeError as error:
    refused = str(error)
"""

_ASKED = """
import json
import sys

from elvatch import api
from elvatch.app.catalogue import catalogue
from elvatch.core.document import recipe

shop = api.open_folder(sys.argv[1])
begun = api.beginnings(api.Extent(100, 100, 0, 12)).steps["lift"].model_copy(update={"id": "lift1"})
flat = api.FlatSource(samples=33, level_m=3)
site = shop.sites.new("Lifted", api.Ground(width_m=100, depth_m=100, source=flat, steps=(begun,)))
read = recipe.read(recipe.write(site.recipe))
sheet = api.plain_sheet(("height",), 16, float_heights=True)
written = shop.handoffs.bake("Lifted", read, sheet, shop.store.folder / "out")
facts = shop.grounds.facts(read.ground)
print(json.dumps({
    "refused": refused,
    "in schema": "LiftStep" in recipe.schema()["$defs"],
    "order": [one.kind for one in catalogue().steps],
    "numbers": [(one.field, one.shown.most) for one in catalogue().steps[4].numbers],
    "heights": [facts.lowest_m, facts.highest_m],
    "written": str(written[0]),
}))
"""


def test_a_step_declared_once_is_in_the_schema_the_catalogue_the_ground_and_what_is_written(tmp_path: Path) -> None:
    import tifffile

    command = [sys.executable, "-c", _MADE_UP + _ASKED, str(tmp_path)]
    said = json.loads(subprocess.run(command, check=True, capture_output=True, text=True).stdout)
    assert said["refused"] == "Nameless lacks title"
    assert said["in schema"]
    assert said["order"][3:6] == ["settle", "lift", "terrace"]
    assert said["numbers"] == [["by_m", 500], ["strength", 1]]
    assert said["heights"] == [15, 15]
    assert tifffile.imread(said["written"]).mean() == 15


_MADE_UP_CLAUSE = """
from typing import Annotated, Literal

import numpy as np
from pydantic import Field

from elvatch.core.document.clause import ClauseBase
from elvatch.core.ground.clauses import Limits
from elvatch.core.parts import Name, PartId
from elvatch.core.shown import Shown


class OnBegin(ClauseBase, Limits):
    title = "Where a path begins"
    about = "So far from where a path begins"
    phrase = "about the {spread_m:g} m where [{called}] begins"
    reads = "distance"
    group = "near"
    offer = "Where {called} begins"
    id_field = "path"
    refers = ("path",)

    kind: Literal["begin"] = "begin"
    path: PartId
    called: Name
    spread_m: Annotated[float, Shown("Spread", "m", 0, 50, 0.1, 1)] = 2.0
    upper: float | None = 3.0


try:
    class Wordless(ClauseBase):
        title, about, reads = "Wordless", "lacks a phrase", "edge"
        kind: Literal["wordless"] = "wordless"
except TypeError as error:
    refused = str(error)
"""

_ASKED_OF_CLAUSE = """
import json
import sys

from elvatch import api
from elvatch.app.catalogue import catalogue
from elvatch.core.document import recipe
from elvatch.core.document.marks import DrawnPath, Marks, PathPoint
from elvatch.core.document.rule import Rule, words
from elvatch.core.document.layer import Layer
from elvatch.core.document.naming import renamed
from elvatch.core.ground.places import on_grid
from elvatch.core.rules import account, program, rules
from elvatch.core.rules.program import Builder


@Builder.read.register(OnBegin)
def _begin(builder: Builder, clause: OnBegin, break_reach: float) -> list[float]:
    path = next((one for one in builder.evidence.marks.paths if one.id == clause.path), None)
    if path is None:
        return builder.nothing(clause)
    first = path.points[0]
    return builder.near(np.array([[first.east_m, first.north_m, clause.spread_m]]), 100.0)


shop = api.open_folder(sys.argv[1])
flat = api.FlatSource(samples=101, level_m=3)
site = shop.sites.new("Begun", api.Ground(width_m=100, depth_m=100, source=flat))
points = (PathPoint(east_m=20, north_m=30), PathPoint(east_m=80, north_m=30))
lane = DrawnPath(id="lane1", name="Lane", points=points, width_m=2, soft_m=0.5)
rock = shop.sets.make("slate-scree", 128, seed=3)
clause = OnBegin(path="lane1", called="Lane")
with_mark = site.recipe.model_copy(update={"marks": Marks(paths=(lane,))})
low, top = (
    Layer(id=f"layer{k}", name=name, set=rock, rule=Rule(clauses=of))
    for k, (name, of) in enumerate((("Low", ()), ("Here", (clause,))))
)
read = recipe.read(recipe.write(with_mark.model_copy(update={"layers": (low, top)})))
evidence, land = shop.covers.evidence(read), shop.grounds.land(read.ground)
there = on_grid(land.survey, 100, 100, 0, 100)
in_ = rules.presences(program.compiled([("", read.layers[1].rule)], evidence, read.layers), 0, there)
away = np.hypot(there.x_m - 20, there.y_m - 30)
gone = read.model_copy(update={"marks": Marks()})
lost = account.why_nowhere(gone.layers, 1, 0.0, shop.covers.evidence(gone), there)
sheet = api.plain_sheet(("shares",), 100)
looks = [
    np.asarray(shop.pictures.take(one, api.View("far", 96, 64)).pixels, np.int64)
    for one in (read, read.model_copy(update={"layers": (low,)}))
]
written = shop.handoffs.bake("Begun", read, sheet, shop.store.folder / "out")
print(json.dumps({
    "refused": refused,
    "in schema": "OnBegin" in recipe.schema()["$defs"],
    "kind": next(one.phrase for one in catalogue().clauses if one.kind == "begin"),
    "numbers": [n.field for one in catalogue().clauses if one.kind == "begin" for n in one.numbers],
    "same": read.layers[1].rule.clauses[0] == clause,
    "words": words(clause),
    "right": bool((in_[away < 4.9] == 1).all() and (in_[away > 5.1] == 0).all()),
    "lost": lost,
    "picture": int((looks[0] != looks[1]).any(axis=2).sum()),
    "renamed": recipe.read(recipe.write(renamed(read, "lane1", "Track"))).layers[1].rule.clauses[0].called,
    "written": [str(one) for one in written],
}))
"""


def test_a_clause_declared_once_is_in_the_schema_the_catalogue_a_sentence_a_rule_and_what_is_written(
    tmp_path: Path,
) -> None:

    command = [sys.executable, "-c", _MADE_UP_CLAUSE + _ASKED_OF_CLAUSE, str(tmp_path)]
    said = json.loads(subprocess.run(command, check=True, capture_output=True, text=True).stdout)
    assert said["refused"] == "Wordless lacks phrase"
    assert said["in schema"]
    assert said["kind"] == "about the {spread_m:g} m where [{called}] begins"
    assert said["numbers"] == ["spread_m"]
    assert said["same"]
    assert said["words"] == "about the 2 m where Lane begins"
    assert said["right"]
    assert said["lost"] == "the path Lane is gone"
    assert said["renamed"] == "Track"
    # both layers are of one set: the upper shows by the edge where its relief meets the lower's
    assert 0 < said["picture"] < 96 * 64 / 4
    share = decoded.of_file(next(one for one in said["written"] if "Here" in one or "here" in one))
    assert share[69, 20] == 65535
    assert share[40, 60] == 0


_MADE_UP_NAMES = """
from typing import Literal, get_args

import numpy as np

from elvatch.core import blend
from elvatch.core.ground import measures


def _northing(of, radius_m, token):
    ground = of.shaped.ground
    down = np.linspace(ground.depth_m, 0, ground.rows, dtype=np.float32)
    return np.repeat(down[:, None], ground.cols, axis=1)


measures.MeasureName = Literal[(*get_args(measures.MeasureName), "northing")]
measures.NAMES = get_args(measures.MeasureName)
measures.KINDS["northing"] = measures.Measure(
    "Northing", "northing", "m", "even", "how far north", "further north than", "further south than",
    _northing, lambda low, high: measures.Span(0, 1000, 1, 0, 1, 5), lambda low, high: (50.0, None), soft=0.0,
)
blend.BlendMode = Literal[(*get_args(blend.BlendMode), "veil")]
blend.MODES["veil"] = blend.Blending(blend.SCREEN, "Veils")
"""

_ASKED_OF_NAMES = """
import json
import sys

from elvatch import api
from elvatch.app.catalogue import catalogue
from elvatch.core.document import recipe
from elvatch.core.document.layer import Layer
from elvatch.core.document.rule import Rule, on, words
from elvatch.core.document.wear import Blend, Effects, Made, Wear
from elvatch.core.ground.clauses import between

shop = api.open_folder(sys.argv[1])
rock = shop.sets.make("slate-scree", 128, seed=3)
site = shop.sites.new("Named", api.Ground(width_m=100, depth_m=100, source=api.FlatSource(samples=101)))
clause = on(between("northing", 50.0))
low, top = (
    Layer(id=f"layer{k}", name=name, set=rock, rule=Rule(clauses=of), look=api.Look(brightness=bright))
    for k, (name, of, bright) in enumerate((("Low", (), 1.0), ("Here", (clause,), 0.4)))
)


def worn(mode):
    effects = Effects(roughness=Blend(mode=mode, strength=0.8))
    wear = Wear(id="dust1", name="Dust", source=Made(what="scratches"), effects=effects, place="layer1")
    made = site.recipe.model_copy(update={"layers": (low, top), "wears": (wear,)})
    return recipe.read(recipe.write(made))


out = shop.store.folder / "out"
read = worn("veil")
sheet = api.plain_sheet(("roughness", "shares", "northing"), 64)
written = [shop.handoffs.bake("Named", worn(mode), sheet, out / mode) for mode in ("veil", "screen", "multiply")]
rough = [next(one for one in files if "rough" in one.name).read_bytes() for files in written]
looks = np.asarray(shop.pictures.take(read, api.View("far", 96, 64)).pixels, np.int64)
plain = np.asarray(shop.pictures.take(read.model_copy(update={"layers": (low,)}), api.View("far", 96, 64)).pixels)
print(json.dumps({
    "in schema": [name in json.dumps(recipe.schema()) for name in ('"northing"', '"veil"')],
    "measure": next(one.title for one in catalogue().measures if one.name == "northing"),
    "begins": catalogue().nominal.limits["northing"].lower,
    "blend": next(one.hint for one in catalogue().blends if one.mode == "veil"),
    "words": words(clause),
    "picture": int((looks != plain).any(axis=2).sum()),
    "as screen": rough[0] == rough[1],
    "as multiply": rough[0] == rough[2],
    "written": [str(one) for one in written[0]],
}))
"""


def test_a_measure_and_a_blend_mode_declared_once_are_known_everywhere(tmp_path: Path) -> None:

    command = [sys.executable, "-c", _MADE_UP_NAMES + _ASKED_OF_NAMES, str(tmp_path)]
    said = json.loads(subprocess.run(command, check=True, capture_output=True, text=True).stdout)
    assert said["in schema"] == [True, True]
    assert (said["measure"], said["begins"], said["blend"]) == ("Northing", 50.0, "Veils")
    assert said["words"] == "further north than 50 m"
    assert said["picture"] > 96 * 64 / 8
    assert said["as screen"]
    assert not said["as multiply"]
    shares = decoded.of_file(next(one for one in said["written"] if "share_02" in one))
    assert (shares[:31] > 0).all()
    assert (shares[34:] == 0).all()
    north = decoded.of_file(next(one for one in said["written"] if "northing" in one))
    assert north[0].mean() > 99
    assert north[-1].mean() < 1
