"""First run: compile every kernel once, so that no user waits for it later: in two processes, one for each half."""

from __future__ import annotations

import dataclasses
import functools
import itertools
import os
import subprocess
import sys
import tempfile
import threading
import time
from collections.abc import Callable, Sequence
from pathlib import Path
from typing import Any

import numpy as np

from elvatch.app import warm_later
from elvatch.core.cache import Cache
from elvatch.core.cover import on_thing
from elvatch.core.cover.material import Material
from elvatch.core.cover.memory import Memory
from elvatch.core.document import begin_sheet
from elvatch.core.document.fit import Fit
from elvatch.core.document.layer import Layer
from elvatch.core.document.recipe import Peg, Recipe
from elvatch.core.document.rule import OnNear, OnNoise, OnThing, Rule, on
from elvatch.core.document.set_thing import SetThing
from elvatch.core.document.sheet_entry import MeshEntry
from elvatch.core.document.strew import Clusters, Mixed, Strew
from elvatch.core.document.thing import Covering, DrawnThing, Thing
from elvatch.core.document.water import Water
from elvatch.core.ground import description as d
from elvatch.core.ground import mend, places, shaping
from elvatch.core.ground.clauses import between
from elvatch.core.ground.description import FlatSource, Ground
from elvatch.core.ground.measures import NAMES, Measures
from elvatch.core.ground.shaped import Shaped
from elvatch.core.ground.steps.bend import TwistStep, WarpStep
from elvatch.core.ground.steps.brush import BrushStep, Stroke, StrokePoint
from elvatch.core.ground.steps.course import CoursePoint, CourseStep
from elvatch.core.ground.steps.form import FormStep
from elvatch.core.ground.steps.level import LevelStep
from elvatch.core.ground.steps.remap import RemapStep
from elvatch.core.ground.steps.resample import ResampleStep
from elvatch.core.ground.steps.ridges import RidgesStep
from elvatch.core.ground.steps.rivers import RiversStep
from elvatch.core.ground.steps.runoff import RunoffStep
from elvatch.core.ground.steps.settle import SettleStep
from elvatch.core.ground.steps.smooth import SmoothStep
from elvatch.core.ground.steps.terrace import TerraceStep
from elvatch.core.ground.survey import survey
from elvatch.core.handoff import job, meshes
from elvatch.core.handoff.baked import baked
from elvatch.core.handoff.listing import Source
from elvatch.core.judging import find_rule
from elvatch.core.kernel import cache_folder
from elvatch.core.mesh.seen import MeshEye
from elvatch.core.parallel import Token
from elvatch.core.picture import relief_map
from elvatch.core.picture.joint import SetThings
from elvatch.core.picture.laying import AskedCovers
from elvatch.core.picture.picture import Renderer, Setting, StandName, View, light_of
from elvatch.core.picture.remembered import Looked, same_rows
from elvatch.core.picture.swatch import swatch
from elvatch.core.picture.terrain import Terrain, terrain
from elvatch.core.refusal import RefusalError
from elvatch.core.rules import program, rules
from elvatch.core.rules.evidence import Evidence
from elvatch.core.run import Run
from elvatch.core.stock import generators, pyramid
from elvatch.core.stock.loaded import Loaded
from elvatch.core.stock.mend.seamless import seamless
from elvatch.core.stock.pyramid import Pyramid
from elvatch.core.strew import single
from elvatch.core.strew.field import Field, stocked
from elvatch.core.strew.laid import On
from elvatch.core.thing import model
from elvatch.core.thing.solid import bent


def _one_of_each_step() -> tuple[d.Step, ...]:
    bench = tuple(CoursePoint(east_m=10 + 40 * k, north_m=50, level_m=5, half_width_m=3) for k in range(2))
    strokes = tuple(
        Stroke(tool=tool, size_m=12, points=(StrokePoint(east_m=50, north_m=50),)) for tool in ("raise", "smooth")
    )
    return (
        FormStep(id="form", name="form", size_m=40, height_m=20),
        TerraceStep(id="terrace", name="terrace"),
        SmoothStep(id="smooth", name="smooth"),
        RidgesStep(id="ridges", name="ridges"),
        WarpStep(id="warp", name="warp"),
        TwistStep(id="twist", name="twist"),
        RemapStep(id="remap", name="remap"),
        LevelStep(id="level", name="level"),
        CourseStep(id="course", name="course", points=bench),
        SettleStep(id="settle", name="settle", where=(between("elevation", lower=0.0),)),
        RunoffStep(id="runoff", name="runoff", rounds=2),
        RiversStep(id="rivers", name="rivers", rounds=1),
        ResampleStep(id="resample", name="resample", samples=64),
        BrushStep(id="brush", name="brush", strokes=strokes),
    )


def _ground_shaped() -> Shaped:
    described = Ground(width_m=100, depth_m=100, source=FlatSource(samples=48))
    slope = FormStep(id="form", name="form", size_m=40, height_m=20)
    described = described.model_copy(update={"steps": (slope,)})
    return shaping.shape(described, lambda source: np.zeros((8, 8), np.float32), Cache(99), Run())


def _ground() -> None:
    described = Ground(width_m=100, depth_m=100, source=FlatSource(samples=48), steps=_one_of_each_step())
    shaped = shaping.shape(described, lambda source: np.zeros((8, 8), np.float32), Cache(99), Run())
    measures = Measures(shaped)
    for name in NAMES:
        measures.map(name)
    land = terrain(shaped.ground)
    relief_map.draw(land.survey, 32, 32, 1.0)
    hole = np.zeros(shaped.ground.heights_m.shape, bool)
    hole[9, 9] = True
    mend.fill_holes(shaped.ground.heights_m.copy(), hole)


def _sets() -> None:
    drawn = [generators.draw(kind, 64, 1) for kind in ("slate-scree", "rough-grass", "pebbles", "cracked-mud")]
    for one in drawn[:2]:
        generators.stored(one)
    whole = Loaded({kept.role: kept.values for kept in generators.kept(drawn[0])}, drawn[0].tile_m, drawn[0].relief_m)
    seamless(whole, "cut")


def _plain_site() -> tuple[Recipe, dict[str, Pyramid]]:
    """Return a site of two layers of one grey with some relief."""
    ripple = np.tile(np.linspace(0, 1, 8, dtype=np.float32), (8, 1))
    level = np.zeros((8, 8, 3), np.float32)
    level[..., 2] = 1.0
    maps = pyramid.Maps(np.full((8, 8, 3), 0.2, np.float32), level, ripple, ripple, np.ones_like(ripple))
    rule = Rule(clauses=(on(between("elevation", lower=0.0)), OnNoise(join="break-up")))
    layers = tuple(
        Layer(id=f"layer{k}", name=f"layer {k}", set=f"{k}" * 40, fit=Fit(tile_m=2.0, relief_m=0.1), rule=rule)
        for k in range(2)
    )
    ground = Ground(width_m=100, depth_m=100, source=FlatSource(samples=48))
    recipe = Recipe(ground=ground, layers=layers, peg=Peg(east_m=50, north_m=50))
    return recipe, {f"{k}" * 40: pyramid.build(maps, 1.0, 0.1) for k in range(2)}


class _Unasked(AskedCovers):
    """Says of every place that nothing special lies there."""

    def ask(self, picture: str, at: Looked, laid: Any, taps: int, token: Token | None = None) -> Material:
        """Return what is said."""
        del picture, laid, taps, token
        none = np.zeros(len(at.places.x_m), np.float32)
        two, three = np.zeros((len(none), 2), np.float32), np.zeros((len(none), 3), np.float32)
        parts = {"colour": three, "slope": two, "shares": np.ones((len(none), 2), np.float32)}
        parts["emission"] = np.empty((0, 3), np.float32)
        return Material(**{field: parts.get(field, none) for field in Material._fields})


class _Seeing(Renderer):
    """Sees a ground without asking its cover, and does not light it: all that comes with the cover's kernels."""

    def __init__(self) -> None:
        super().__init__()
        self._further = _Unasked(2)
        for kept in self._kept.values():
            kept.asked = _Unasked(2)

    def _stands(self, land: Terrain, laid: Any, peg: Peg) -> float:
        del land, laid, peg
        return 0.0

    def see(self, land: Terrain, site: Recipe, sets: dict[str, Pyramid], view: View) -> None:
        """Do what a picture does until it asks what lies there."""
        laid = self._covers.lay(land, site, sets, Evidence(image=land.image), view.solo)
        seen = self._look(land, site, laid, view, None, None)
        self._ask(seen, laid, view, None, False)
        self._sunlit(seen, land, light_of(land, site).sun, site.light.sun_width_deg, view, None)


def _pictures() -> None:
    recipe, sets = _plain_site()
    land = terrain(_ground_shaped().ground)
    half = float(np.median(land.ground.heights_m))
    flooded = recipe.model_copy(update={"water": Water(on=True, level_m=half)})
    for site, looks in ((recipe, 1), (recipe, 4), (flooded, 4)):
        _Seeing().see(land, site, sets, View("near" if site is recipe else "far", 32, 32, looks))


def _cover() -> None:
    _, sets = _plain_site()
    swatch(sets["0" * 40], 32)


def _edited(stand: StandName) -> None:
    """Take pictures of a small ground before and after a rule is edited."""
    recipe, sets = _plain_site()
    land, renderer = terrain(_ground_shaped().ground), Renderer()
    # flatter than what lies below: where it lies changes the relief as well
    flat = recipe.layers[1].model_copy(update={"fit": Fit(tile_m=2.0, relief_m=0.05)})
    for size_m in (1.0, 1.1):
        patches = OnNoise(size_m=size_m, lower=0.5)
        top = flat.model_copy(update={"rule": Rule(clauses=(patches,))})
        site = recipe.model_copy(update={"layers": (recipe.layers[0], top)})
        renderer.take(land, site, sets, View(stand, 32, 32, 4))


def _edited_ground() -> None:
    recipe, sets = _plain_site()
    land = terrain(_ground_shaped().ground)
    Renderer().take(land, recipe, sets, View("near", 32, 32, 1))
    _edited("far")
    _edited("near")
    at, pixel = places.on_grid(land.survey, 4, 4, 0, 4), np.arange(16, dtype=np.int32)
    Memory(16).carry(same_rows(at, pixel, places.some(at, np.arange(4, 9)), pixel[4:9]))


@functools.cache
def practise() -> None:
    """Edit something small, once in a process: what edits use is then read from disk."""
    _edited("far")


def _hand_off() -> None:
    """Write what uses each kernel of a hand-off."""
    recipe, sets = _plain_site()
    shaped = _ground_shaped()
    source = Source("warm", recipe, survey(shaped.ground), Measures(shaped), sets)
    sheet = begin_sheet.plain(("colour", "normal", "roughness", "weights"), 16)
    four = sheet.maps[3].model_copy(update={"id": "four", "file": "four_{k}", "strongest": 4})
    whole = sheet.maps[1].model_copy(update={"id": "whole", "file": "whole", "against": "whole"})
    mesh = MeshEntry(id="mesh", file="mesh", columns=2, skirts=True)
    regular = MeshEntry(id="regular", file="regular", by="grid", cell_m=20)
    with tempfile.TemporaryDirectory() as folder:
        more = four, whole, mesh.model_copy(update={"columns": 1})
        wanted = sheet.model_copy(update={"entries": (*sheet.entries, *more)})
        job.write(wanted, source, Path(folder) / "out")
    for one in (mesh, regular):
        meshes.look(one, sheet, source, 0, MeshEye(0.0, 30.0, 1.0, True), (32, 32), Run())


def _rules() -> None:
    recipe, _ = _plain_site()
    shaped = _ground_shaped()
    land = terrain(shaped.ground)
    programs = program.compiled([("one", recipe.layers[1].rule)], Evidence(100.0, 100.0), recipe.layers)
    rules.presences(programs, 0, places.on_grid(land.survey, 8, 8, 0, 8))
    values = np.linspace(0.0, 60.0, 600)
    find_rule.find({"slope": values, "aspect": values * 6}, (values > 30.0) * 1.0)


def _things() -> None:
    """Lay, stand, draw and count things of a site."""
    recipe, sets = _plain_site()
    land = terrain(_ground_shaped().ground)
    clauses = (on(between("elevation", lower=0.0)), OnNear(target="other", called="other"))
    strew = Strew(
        id="stones",
        name="stones",
        kinds=(Mixed(thing="stone"),),
        per_100_m2=20.0,
        apart_m=0.6,
        rule=Rule(clauses=clauses),
        clusters=Clusters(clustered=0.5),
    )
    models = {"stone": model.drawn("boulder", 1, 1, {}), "tuft": model.drawn("grass-tuft", 1, 1, {})}
    evidence = Evidence(100.0, 100.0, things=lambda id: np.array([[50.0, 50.0, 90.0]]))
    found = stocked((strew,), models)
    laid_on = On(land.survey, evidence, recipe.layers, lambda id: np.zeros((0, 3)), {"stone": 0.4})
    field = Field((strew,), ("warm",), found, laid_on, (), "warm", models, "warm")
    field.count(0)
    for looks in (1, 4):
        Renderer().take(
            land, recipe, sets, View("near", 32, 32, looks), evidence=evidence, setting=Setting(None, field)
        )
    _covered_thing(recipe, sets, land, evidence)


def _covered_thing(recipe: Recipe, sets: dict[str, Pyramid], land: Terrain, evidence: Evidence) -> None:
    """Set a thing, cover it, and bake it."""
    solid = bent(model.drawn("boulder", 1, 1, {}).variants[0][-1])
    only = model.model([solid])
    one = SetThing(id="thing", name="thing", thing="stone", east_m=50, north_m=50, size_m=20)
    on_it = recipe.layers[0].model_copy(
        update={"rule": Rule(clauses=(OnThing(of="up", upper=60.0), OnNoise(size_m=2.0)))}
    )
    cover = Covering(layers=(on_it,))
    thing = Thing(id="stone", name="stone", source=DrawnThing(what="boulder"), cover=cover)
    found = stocked((), {"stone": only}, (one,), "warm")
    laid_on = On(land.survey, evidence, recipe.layers, lambda id: np.zeros((0, 3)), {"stone": 0.4})
    field = Field((), (), found, laid_on, (), "warm, set", {"stone": only}, "warm, set")
    site = recipe.model_copy(update={"things": (thing,), "set_things": (one,)})
    joining = SetThings("warm", "warm", lambda: field, {"stone": thing}, sets, evidence)
    joined = dataclasses.replace(evidence, joining=joining)
    Renderer().take(land, site, sets, View("near", 32, 32, 1), evidence=joined, setting=Setting(None, field))
    stands = single.stood(found.singles, land.survey)
    baked(solid, stands, land.survey, on_thing.prepare(cover, sets, evidence), 64)


def _each(*of: Callable[[], None]) -> Callable[[], None]:
    def all_of_them() -> None:
        for one in of:
            one()

    return all_of_them


PARTS: dict[str, Callable[[], None]] = {
    "ground": _each(_ground, warm_later.of_grounds),
    "sets": _each(_sets, warm_later.of_sets),
    "pictures": _pictures,
    "cover": _cover,
    "rules": _each(_rules, warm_later.of_marks),
    "hand-off": _hand_off,
    "things": _each(_edited_ground, _things, warm_later.of_things),
    "looking": warm_later.of_looking,
}
_WATCHED_EVERY_S = 0.5
Halves = tuple[tuple[str, ...], tuple[str, ...]]
"""What each of two processes compiles, one part after the other: what parts share is compiled once in a process."""
_FIRST: Halves = (("cover", "rules", "things"), ("ground", "sets", "pictures"))
"""What pictures need."""
_LATER: Halves = (("hand-off",), ("looking",))
"""What is used later; asked for earlier, it is compiled where it is asked for."""

_AFTER = {"things": ("pictures",)}
"""What uses what the other process compiles: begun before that is there, it would compile it once more."""


def _marker(part: str) -> Path:
    """Return the file that says that a part is compiled."""
    return cache_folder() / f"compiled-{part}"


def _is_compiled(part: str) -> bool:
    return is_warm() or _marker(part).exists()


def is_warm() -> bool:
    """Whether every kernel of this version was compiled on this machine."""
    return (cache_folder() / "whole").exists()


def shows_pictures() -> bool:
    """Whether the kernels that pictures need were."""
    return all(map(_is_compiled, itertools.chain(*_FIRST)))


def ends_with(parent: int) -> None:
    """End this process soon after the one that started it has ended, however that was."""

    def watch() -> None:
        while os.getppid() == parent:
            time.sleep(_WATCHED_EVERY_S)
        os._exit(1)

    threading.Thread(target=watch, daemon=True).start()


def warm_parts(names: Sequence[str], tell: Callable[[str], None], beside: bool = False) -> None:
    """Compile parts one after the other, or load what was compiled before.

    Parameters
    ----------
    names : sequence of str
        Of :data:`PARTS`.
    tell : callable
        Told "begins" or "done" and the part.
    beside : bool
        Wait for what they use of the parts that another process compiles.

    Raises
    ------
    RefusalError
        When there is no such part.
    """
    for name in names:
        if name not in PARTS:
            raise RefusalError("--only", repr(name[:40]), "some of " + ", ".join(PARTS), "correct it")
    for name in names:
        for other in _AFTER.get(name, ()) if beside else ():
            while not _is_compiled(other):
                time.sleep(_WATCHED_EVERY_S / 5)
        tell(f"begins {name}")
        PARTS[name]()
        _marker(name).touch()
        tell(f"done {name}")


class Warming:
    """Compiles every kernel in two processes, unless that was done; others may wait for the part they need."""

    def __init__(self) -> None:
        self._done = {name: threading.Event() for name in PARTS}
        self._failed = ""
        self._working: list[subprocess.Popen[str]] = []
        for name, done in self._done.items():
            if _is_compiled(name):
                done.set()

    def wait_for(self, part: str) -> None:
        """Wait until a part is compiled.

        Raises
        ------
        RefusalError
            When it cannot be.
        """
        self._done[part].wait()
        if self._failed:
            raise RefusalError("compiling", self._failed, "kernels that compile", "see what it says")

    def run(self, say: Callable[[str], None]) -> None:
        """Compile all that is not compiled yet; ``say`` is told one line when a part begins."""
        self.run_first(say)
        self.run_later(say)

    def run_first(self, say: Callable[[str], None], progress: Callable[[float], None] | None = None) -> None:
        """Compile what pictures need.

        Parameters
        ----------
        say : callable
            Told one line when a part begins.
        progress : callable, optional
            Told the share of parts done.
        """
        self._compile(_FIRST, say, progress)

    def run_later(self, say: Callable[[str], None], progress: Callable[[float], None] | None = None) -> None:
        """Compile the rest; see :meth:`run_first`."""
        self._compile(_LATER, say, progress)
        compiled = sorted(path.name for path in cache_folder().rglob("*.nbi"))
        (cache_folder() / "whole").write_text("\n".join(compiled))

    def _compile(self, halves: Halves, say: Callable[[str], None], progress: Callable[[float], None] | None) -> None:
        parts = [*itertools.chain(*halves)]

        def told() -> None:
            if progress is not None:
                progress(sum(self._done[part].is_set() for part in parts) / len(parts))

        threads = [threading.Thread(target=self._half, args=(half, say, told)) for half in halves]
        for thread in threads:
            thread.start()
        for thread in threads:
            thread.join()
        self.wait_for(parts[0])

    def _half(self, parts: Sequence[str], say: Callable[[str], None], told: Callable[[], None]) -> None:
        left = [part for part in parts if not self._done[part].is_set()]
        told()
        if not left:
            return
        command = [sys.executable, "-m", "elvatch", "warm", "--under", str(os.getpid()), "--only", *left]
        with tempfile.TemporaryFile("w+") as trouble:
            child = subprocess.Popen(command, stdout=subprocess.PIPE, stderr=trouble, text=True)
            self._working.append(child)
            for line in child.stdout or ():
                how, _, part = line.strip().partition(" ")
                if how == "begins":
                    say(f"compiling: {part}")
                elif part in self._done:
                    self._done[part].set()
                    told()
            if child.wait() != 0 and not self._failed:
                trouble.seek(0)
                self._failed = f"{', '.join(left)}: {trouble.read().strip()[-400:]}"
                self._give_up()

    def _give_up(self) -> None:
        """End the other half, which may wait for this one, and let go who waits for either."""
        for child in self._working:
            child.terminate()
        for done in self._done.values():
            done.set()
