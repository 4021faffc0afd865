"""A step that nobody has written yet: declared once, in one module, it is known everywhere."""

from __future__ import annotations

import json
import subprocess
import sys
from pathlib import Path

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
