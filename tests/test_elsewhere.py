"""Hand-offs on many machines, after crashes, and beside edits: the same bytes as one thread writes at once."""

from __future__ import annotations

import json
import os
import signal
import subprocess
import sys
import time
from collections.abc import Iterator, Sequence
from pathlib import Path

import pytest
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st

from elvatch.app.cluster import Cluster
from elvatch.app.stills import StillAsk
from elvatch.app.workshop import Workshop
from elvatch.core.document.layer import Layer
from elvatch.core.document.recipe import Recipe, Shot, Stand
from elvatch.core.document.rule import OnNoise, Rule, on
from elvatch.core.document.sheet import Fine, Sheet, Tiling
from elvatch.core.document.sheet_entry import KitEntry, MeshEntry, SiteEntry, StillsEntry
from elvatch.core.document.wear import Blend, Colouring, Effects, Made, Wear
from elvatch.core.ground.clauses import between
from elvatch.core.ground.description import FlatSource, Ground
from elvatch.core.ground.steps.form import FormStep
from elvatch.core.handoff.dependence import EFFECT_ONLY, LOOK_ONLY, Dependence
from elvatch.core.handoff.job import TileWanted
from elvatch.core.handoff.listing import files_of
from elvatch.core.refusal import RefusalError
from elvatch.core.run import Run
from elvatch.store.sites import SiteState
from elvatch.store.store import Store
from tests.conftest import layer, put_set
from tests.core.handing import entry

pytestmark = pytest.mark.filterwarnings("ignore::DeprecationWarning")


def site(shop: Workshop) -> SiteState:
    """A small shaped ground with two layers and wear."""
    ground = Ground(width_m=60, depth_m=60, source=FlatSource(samples=65), steps=(FormStep(id="form", name="Form"),))
    low, high = (
        layer(name, 0).model_copy(update={"set": put_set(shop.store, grey, name)})
        for name, grey in (("Low", 0.2), ("High", 0.6))
    )
    rule = Rule(clauses=(on(between("slope", upper=12, soft_upper=6)), OnNoise(join="break-up", size_m=7)))
    worn = Wear(
        id="wear",
        name="dust",
        source=Made(what="smears", seed=1),
        effects=Effects(roughness=Blend(), colour=Colouring()),
    )
    recipe = shop.sites.new_recipe(ground, empty=True)
    recipe = recipe.model_copy(update={"layers": (low, high.model_copy(update={"rule": rule})), "wears": (worn,)})
    return shop.store.sites.add("Made site", Recipe.model_validate(recipe.model_dump()))


def sheet(**more: object) -> Sheet:
    found = {"range": "found"}
    maps = [
        entry("colour", "colour", file="colour_{row}{column}"),
        entry("rough", "roughness", file="roughness_{row}{column}"),
        entry("surface", "occlusion", "roughness", "metallic", file="surface_{row}{column}"),
        entry("height", file="height_{row}{column}", type="uint16", holds=[{"of": "height"} | found]),
    ]
    return Sheet.model_validate(
        {"id": "test", "name": "Test", "fine": Fine(value=96), "tiles": Tiling(columns=3, rows=2), "entries": maps}
        | more
    )


def contents(folder: Path) -> dict[str, bytes]:
    return {path.name: path.read_bytes() for path in sorted(folder.iterdir())}


@pytest.fixture
def shop(tmp_path: Path) -> Workshop:
    return Workshop(Store(tmp_path / "data"))


@pytest.fixture(scope="module")
def scheduler(tmp_path_factory: pytest.TempPathFactory) -> Iterator[tuple[str, list[subprocess.Popen[bytes]]]]:
    """A scheduler and two workers, each a process of its own."""
    folder = tmp_path_factory.mktemp("dask")
    found = folder / "scheduler.json"
    environment = os.environ | {"DASK_DISTRIBUTED__WORKER__MEMORY__TERMINATE": "False"}

    def begin(*words: str) -> subprocess.Popen[bytes]:
        return subprocess.Popen(
            [sys.executable, "-m", "distributed.cli." + words[0], *words[1:]],
            cwd=folder,
            env=environment,
            stdout=subprocess.DEVNULL,
            stderr=subprocess.DEVNULL,
            start_new_session=True,
        )

    main = begin(
        "dask_scheduler",
        "--host",
        "127.0.0.1",
        "--port",
        "0",
        "--no-dashboard",
        "--no-show",
        "--scheduler-file",
        str(found),
    )
    deadline = time.monotonic() + 60
    while not found.exists() and time.monotonic() < deadline:
        time.sleep(0.05)
    address = json.loads(found.read_text())["address"]
    workers = [
        begin("dask_worker", address, "--no-dashboard", "--nthreads", "1", "--nworkers", "1", "--no-nanny")
        for _ in range(2)
    ]
    try:
        yield address, workers
    finally:
        for process in (*workers, main):
            process.kill()
            process.wait()


def test_two_workers_one_of_them_lost_write_the_same_bytes(
    shop: Workshop, tmp_path: Path, scheduler: tuple[str, list[subprocess.Popen[bytes]]]
) -> None:
    address, workers = scheduler
    state = site(shop)
    shop.handoffs.bake(state.title, state.recipe, sheet(), tmp_path / "here")
    cluster = Cluster(address, lambda path: shop.packs.pack(state.title, state.recipe, path))
    lost: list[int] = []

    def step(doing: str, done: int, of: int) -> None:
        assert of == 6
        if done == 2 and not lost:
            lost.append(done)
            workers[0].send_signal(signal.SIGKILL)

    shop.handoffs.bake(state.title, state.recipe, sheet(), tmp_path / "away", Run(step=step), cluster)
    assert lost
    assert contents(tmp_path / "away") == contents(tmp_path / "here")


def test_a_scheduler_that_is_not_there_is_said(
    shop: Workshop, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    monkeypatch.setattr("elvatch.app.cluster._CONNECT_S", 0.5)
    state = site(shop)
    away = Cluster("tcp://127.0.0.1:9", lambda path: shop.packs.pack(state.title, state.recipe, path))
    with pytest.raises(RefusalError, match="does not answer"):
        shop.handoffs.bake(state.title, state.recipe, sheet(), tmp_path / "out", None, away)
    assert not (tmp_path / "out").exists()


def _bake(data: Path, out: Path, *more: str) -> subprocess.Popen[str]:
    words = [
        "handoff",
        "Made site",
        "--sheet",
        str(data.parent / "sheet.json"),
        "--out",
        str(out),
        "--data",
        str(data),
    ]
    return subprocess.Popen(
        [sys.executable, "-m", "elvatch", *words, *more], stdout=subprocess.PIPE, stderr=subprocess.STDOUT, text=True
    )


def test_a_kill_leaves_what_resume_goes_on_with(shop: Workshop, tmp_path: Path) -> None:
    state = site(shop)
    wanted = sheet(fine=Fine(value=960), tiles=Tiling(columns=6, rows=6))
    (tmp_path / "sheet.json").write_text(wanted.model_dump_json())
    shop.handoffs.bake(state.title, state.recipe, wanted, tmp_path / "once")
    nothing = _bake(tmp_path / "data", tmp_path / "out", "--resume")
    assert "no finished file of this sheet" in nothing.communicate()[0]
    assert nothing.returncode == 2
    killed = _bake(tmp_path / "data", tmp_path / "out")
    deadline = time.monotonic() + 120
    while not list(tmp_path.glob(".part-*/done.json")) and time.monotonic() < deadline:
        time.sleep(0.005)
    killed.kill()
    killed.communicate()
    assert not (tmp_path / "out").exists()
    resumed = _bake(tmp_path / "data", tmp_path / "out", "--resume")
    said = resumed.communicate()[0]
    assert resumed.returncode == 0, said
    before = int(said.split(" file")[0].split()[-1])
    assert 4 <= before < 36 * 4
    assert contents(tmp_path / "out") == contents(tmp_path / "once")


def edited(state: SiteState, shop: Workshop, **look: object) -> SiteState:
    upper: Layer = state.recipe.layers[1]
    changed = upper.model_copy(update={"look": upper.look.model_copy(update=look)})
    recipe = state.recipe.model_copy(update={"layers": (state.recipe.layers[0], changed)})
    return shop.store.sites.edit(state.id, state.revision, "edited", recipe)


def test_watching_writes_what_an_edit_changes_and_nothing_else(shop: Workshop, tmp_path: Path) -> None:
    state = site(shop)
    whole = sheet(entries=(*sheet().maps, KitEntry(id="kits", set_px=64), MeshEntry(id="mesh")), tiles=Tiling())
    named = whole.model_copy(
        update={
            "entries": tuple(
                one.model_copy(update={"file": one.file.replace("_{row}{column}", "")}) for one in whole.entries
            )
        }
    )
    (tmp_path / "sheet.json").write_text(named.model_dump_json())
    watching = _bake(tmp_path / "data", tmp_path / "out", "--watch")
    assert watching.stdout is not None
    try:
        first = watching.stdout.readline()
        assert {"colour.png", "made-site_mesh.glb"} <= set(first.strip().replace(",", "").split()), first
        before = {name: (tmp_path / "out" / name).stat().st_mtime_ns for name in contents(tmp_path / "out")}
        state = edited(state, shop, roughness_shift=0.2)
        second = watching.stdout.readline()
        now = {name: (tmp_path / "out" / name).stat().st_mtime_ns for name in contents(tmp_path / "out")}
        changed = {name for name in now if now[name] != before[name]}
        kit = {name for name in changed if name.startswith("made-site_kit")}
        # a kit packs the roughness of its layers; its own list of files says so too
        assert changed - kit == {"roughness.png", "surface.png", "hand-off.json"}
        assert kit
        assert "roughness.png" in second
        assert "colour.png" not in second.replace("_colour.png", "")
    finally:
        watching.kill()
        watching.communicate()
    assert shop.handoffs.bake(state.title, state.recipe, named, tmp_path / "anew")
    assert contents(tmp_path / "out") == contents(tmp_path / "anew")


_MAPS = ("colour", "normal", "roughness", "metallic", "occlusion", "emission", "height", "relief", "shares")


def test_what_is_said_not_to_change_a_file_does_not(shop: Workshop, tmp_path: Path) -> None:
    state = site(shop)
    every = sheet(
        fine=Fine(value=40),
        tiles=Tiling(),
        entries=tuple(entry(name, name, type="uint16", file=name + "_{k}") for name in _MAPS),
    )

    def made(recipe: Recipe, folder: str) -> tuple[dict[str, bytes], dict[str, str]]:
        out = tmp_path / folder
        shop.handoffs.bake(state.title, recipe, every, out)
        source = shop.handoffs.source(state.title, recipe)
        dependence = Dependence(source)
        names = {file.name: dependence.of_file(file) for file in files_of(every, source)}
        return contents(out), names

    bytes_before, names_before = made(state.recipe, "before")
    values = {
        "brightness": 2.0,
        "hue_deg": 50,
        "saturation": 0.3,
        "colour_lowest": 0.3,
        "colour_highest": 0.6,
        "variation": 0.5,
        "variation_colour": 0.6,
        "ground_image": 0.5,
        "roughness_shift": 0.2,
        "roughness_lowest": 0.3,
        "roughness_highest": 0.6,
        "occlusion": 0.2,
        "emits": False,
        "emission_ev": 2.0,
    }
    assert values.keys() == LOOK_ONLY.keys()
    upper, wear = state.recipe.layers[1], state.recipe.wears[0]
    recipes = {
        name: state.recipe.model_copy(
            update={
                "layers": (
                    state.recipe.layers[0],
                    upper.model_copy(update={"look": upper.look.model_copy(update={name: value})}),
                )
            }
        )
        for name, value in values.items()
    }
    effects = {"roughness": Blend(strength=0.9), "metallic": Blend(strength=0.9), "colour": Colouring(strength=0.9)}
    assert effects.keys() == EFFECT_ONLY.keys()
    for name, effect in effects.items():
        laid = wear.model_copy(update={"effects": wear.effects.model_copy(update={name: effect})})
        recipes[f"wear {name}"] = state.recipe.model_copy(update={"wears": (laid,)})
    told = 0
    for name, recipe in recipes.items():
        bytes_after, names_after = made(recipe, name)
        for file, key in names_before.items():
            if names_after[file] == key:
                told += 1
                assert bytes_after[file] == bytes_before[file], f"{name} changes {file}"
    # most edits leave most files
    assert told > len(recipes) * len(_MAPS) * 0.7


@settings(max_examples=20, suppress_health_check=[HealthCheck.function_scoped_fixture])
@given(st.permutations(range(6)))
def test_tiles_may_come_back_in_any_order(shop: Workshop, tmp_path: Path, order: Sequence[int]) -> None:
    state = site(shop) if not shop.store.sites.all() else shop.store.sites.state(shop.store.sites.all()[0].id)
    small = sheet(fine=Fine(value=24), entries=sheet().maps[:1])

    class Shuffled:
        def tiles(self, of, found, wanted: Sequence[TileWanted], folder: Path, run: Run):  # type: ignore[no-untyped-def]
            from elvatch.core.handoff import job

            source = shop.handoffs.source(state.title, state.recipe)
            for k in order:
                yield wanted[k].number, job.one_tile(of, source, found, wanted[k], folder, run)

    out = tmp_path / "".join(map(str, order))
    shop.handoffs.bake(state.title, state.recipe, small, out, None, Shuffled())
    plain = tmp_path / "plain"
    if not plain.exists():
        shop.handoffs.bake(state.title, state.recipe, small, plain)
    assert contents(out) == contents(plain)


def test_stills_of_a_sheet_are_those_that_are_taken_alone(shop: Workshop, tmp_path: Path) -> None:
    state = site(shop)
    shot = Shot(id="shot", name="From the north", stand=Stand(bearing_deg=180, distance_m=80))
    recipe = state.recipe.model_copy(update={"shots": (shot,)})
    of = StillsEntry(id="stills", stands=("near",), width_px=96, height_px=64, rays=2)
    written = shop.handoffs.bake(state.title, recipe, sheet(entries=(of,)), tmp_path / "out")
    assert [path.name for path in written[:2]] == ["made-site_near.png", "made-site_from-the-north.png"]
    ask = StillAsk(stands=("near",), shots=("shot",), width_px=96, height_px=64, rays=2)
    alone = shop.stills.take(recipe, ask, tmp_path / "alone")
    assert {path.read_bytes() for path in written[:2]} == {path.read_bytes() for path in alone}


def test_a_whole_site_on_a_sheet_opens_again(shop: Workshop, tmp_path: Path) -> None:
    state = site(shop)
    alone = sheet(entries=(SiteEntry(id="site"),))
    written = shop.handoffs.bake(state.title, state.recipe, alone, tmp_path / "out")
    assert [path.name for path in written] == ["made-site.elvatch.zip", "hand-off.json"]
    other = Workshop(Store(tmp_path / "other"))
    assert other.packs.open(written[0]).recipe == state.recipe
