"""What is kept stays kept: history, conflicts, restarts, collection of files nobody needs."""

from __future__ import annotations

import itertools
import os
import signal
import subprocess
import sys
import tempfile
from pathlib import Path

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from elvatch.core.document import recipe as recipes
from elvatch.core.document.light import Light
from elvatch.core.document.recipe import Recipe
from elvatch.core.ground.description import FileSource
from elvatch.core.ground.shaped import Shaped, no_traces
from elvatch.core.parallel import Token
from elvatch.core.picture.terrain import terrain
from elvatch.core.refusal import CancelledError, RefusalError
from elvatch.core.thing import model
from elvatch.core.thing.solid import Image
from elvatch.store import history
from elvatch.store import sites as sites_of_store
from elvatch.store.blocks import Later
from elvatch.store.lock import using
from elvatch.store.made import GroundShelf
from elvatch.store.models import ModelShelf
from elvatch.store.paths import inside
from elvatch.store.shelf import Shelf
from elvatch.store.sites import ConflictError
from elvatch.store.stock import Draft
from elvatch.store.store import Store
from elvatch.store.surveys import Surveys
from tests.conftest import file_ground, layer, plane, put_set, recipe
from tests.core.handing import rolling


@pytest.fixture
def store(tmp_path: Path) -> Store:
    return Store(tmp_path / "data")


def stored(store: Store, exposure: float = 0.0) -> Recipe:
    """A recipe whose file and set are in the store."""
    file = store.files.put(b"heights")
    kept = put_set(store)
    made = recipe((layer("base", 0).model_copy(update={"set": kept}),))
    ground = file_ground(plane(0), file)
    return made.model_copy(update={"ground": ground, "light": Light(exposure_ev=exposure)})


def test_undo_and_redo_walk_the_history_and_survive_a_restart(store: Store) -> None:
    state = store.sites.add("Hill", stored(store))
    for exposure in (1.0, 2.0, 3.0):
        state = store.sites.edit(state.id, state.revision, f"exposure {exposure:g}", stored(store, exposure))
    assert (state.undo, state.redo) == ("exposure 3", None)
    state = store.sites.step(state.id, state.revision, -1)
    state = store.sites.step(state.id, state.revision, -1)
    again = Store(store.folder).sites.state(state.id)
    assert again == state
    assert (again.undo, again.redo, again.recipe.light.exposure_ev) == ("exposure 1", "exposure 2", 1.0)
    redone = store.sites.step(state.id, state.revision, 1)
    assert redone.recipe.light.exposure_ev == 2.0
    changed = store.sites.edit(state.id, redone.revision, "another way", stored(store, -1.0))
    assert changed.redo is None
    assert store.sites.step(state.id, changed.revision, 1).revision == changed.revision, "nothing to redo"


def test_undo_stops_at_the_beginning(store: Store) -> None:
    state = store.sites.add("Hill", stored(store))
    assert state.undo is None
    assert store.sites.step(state.id, state.revision, -1) == state


def test_the_second_of_two_windows_gets_the_newer_state(store: Store) -> None:
    state = store.sites.add("Hill", stored(store))
    first = store.sites.edit(state.id, state.revision, "first", stored(store, 1.0))
    with pytest.raises(ConflictError) as conflict:
        store.sites.edit(state.id, state.revision, "second", stored(store, 2.0))
    assert conflict.value.state == first
    assert store.sites.state(state.id).recipe.light.exposure_ev == 1.0


def test_an_edit_that_changes_nothing_makes_no_step(store: Store) -> None:
    state = store.sites.add("Hill", stored(store))
    assert store.sites.edit(state.id, state.revision, "nothing", state.recipe) == state


def test_a_recipe_over_what_is_not_there_is_refused_and_leaves_nothing(store: Store) -> None:
    with pytest.raises(RefusalError, match="not in the store"):
        store.sites.add("Ghost", recipe())
    assert store.sites.all() == []


@pytest.mark.parametrize("title", ["", "   ", "x" * 81])
def test_a_site_needs_a_name(store: Store, title: str) -> None:
    with pytest.raises(RefusalError, match="characters"):
        store.sites.add(title, stored(store))


def test_files_are_kept_once_and_collected_when_nothing_needs_them(store: Store) -> None:
    made = stored(store)
    assert isinstance(made.ground.source, FileSource)
    needed = made.ground.source.file
    loose = store.files.put(b"uploaded and then forgotten")
    assert store.files.put(b"heights") == needed
    state = store.sites.add("Hill", made)
    (store.files.path(needed).parent / ".new-half").write_bytes(b"half")
    assert store.files.collect() == 1
    assert store.files.get(needed) == b"heights"
    assert not store.files.path(loose).exists()
    assert not list((store.folder / "files").glob("*/.new-*"))
    store.sites.remove(state.id)
    assert store.files.collect() == 1
    assert not store.files.path(needed).exists()


def test_a_snapshot_keeps_its_files_and_sets_when_the_history_forgets_them(store: Store) -> None:
    first = store.sites.add("Hill", stored(store))
    other = first.recipe.model_copy(update={"ground": file_ground(plane(0), store.files.put(b"other heights"))})
    state = store.sites.edit(first.id, first.revision, "other", other)
    kept = store.snapshots.keep(state.id, "  As  it was ", state.recipe)
    # undone and edited over, nothing but the snapshot knows of the other heights
    state = store.sites.step(state.id, state.revision, -1)
    store.sites.edit(state.id, state.revision, "on", stored(store, 1.0))
    assert store.files.collect() == 0
    again = Store(store.folder)
    assert [one.name for one in again.snapshots.all(state.id)] == ["As it was"]
    assert again.files.get(again.snapshots.recipe(state.id, kept.id).files()[0]) == b"other heights"
    again.snapshots.remove(state.id, kept.id)
    assert again.files.collect() == 1


def test_a_number_of_a_revision_is_never_given_twice(store: Store) -> None:
    start = store.sites.add("Hill", stored(store))
    of_b = store.sites.edit(start.id, start.revision, "window B", stored(store, 1.0))
    undone = store.sites.step(start.id, of_b.revision, -1)
    of_a = store.sites.edit(start.id, undone.revision, "window A", stored(store, 2.0))
    with pytest.raises(ConflictError) as conflict:
        store.sites.edit(start.id, of_b.revision, "B again", stored(store, 3.0))
    assert conflict.value.state == of_a == store.sites.state(start.id)
    name = store.stock.add(_draft(store, "Silt"), "brought in")
    titled = _draft(store, "Silt of B").description
    of_b_set = store.stock.edit(name, 1, "window B", titled)
    store.stock.step(name, of_b_set.revision, -1)
    store.stock.edit(name, 1, "window A", titled.model_copy(update={"title": "Silt of A"}))
    with pytest.raises(RefusalError, match="another window"):
        store.stock.edit(name, of_b_set.revision, "B again", titled.model_copy(update={"title": "Silt of B, again"}))
    assert store.stock.state(name).description.title == "Silt of A"


def _draft(store: Store, title: str) -> Draft:
    state = store.stock.state(put_set(store))
    return Draft(state.description.model_copy(update={"title": title}), state.facts, b"\x89PNG swatch")


def test_a_long_history_stays_small_reads_back_exactly_and_gives_its_room_back(store: Store) -> None:
    base = stored(store)
    layers = tuple(base.layers[0].model_copy(update={"id": f"layer{k:03d}", "name": f"Layer {k}"}) for k in range(24))
    site = store.sites.add("Hill", base.model_copy(update={"layers": layers}))
    whole = len(recipes.write(site.recipe))
    assert whole > 20_000, "a recipe as large as the demo's"
    kept = {site.revision: site.recipe}
    for k in range(400):
        changed = list(site.recipe.layers)
        changed[k % 24] = changed[k % 24].model_copy(update={"opacity": (k % 97) / 97})
        light = Light(exposure_ev=(k % 10) / 10)
        edited = site.recipe.model_copy(update={"layers": tuple(changed), "light": light})
        site = store.sites.edit(site.id, site.revision, f"edit {k}", edited)
        kept[site.revision] = site.recipe
    store.database.give_back()
    with store.database.reading() as db:
        held = db.execute("select sum(length(body)) from revision").fetchone()[0]
    assert held / len(kept) < 4_000, "5,000 revisions are under 20 MB"
    for _ in range(len(kept) - 1):
        assert site.recipe == kept[site.revision]
        site = store.sites.step(site.id, site.revision, -1)
    assert (site.recipe, site.undo) == (kept[site.revision], None)
    before = (store.folder / "elvatch.sqlite").stat().st_size
    with store.database.writing() as db:
        db.execute("insert into file values ('x', 1, ?)", ("x" * (24 << 20),))
        db.execute("delete from file where name = 'x'")
    assert store.database.give_back() > 20 << 20
    assert (store.folder / "elvatch.sqlite").stat().st_size < before + (1 << 20)


def test_sites_and_snapshots_keep_their_order_when_the_clock_goes_back(
    store: Store, monkeypatch: pytest.MonkeyPatch
) -> None:
    clock = iter(f"2031-01-{day:02d}T00:00:00.000+00:00" for day in range(28, 0, -1))
    monkeypatch.setattr(sites_of_store, "now", lambda: next(clock))
    first, second = store.sites.add("First", stored(store)), store.sites.add("Second", stored(store))
    assert [line.title for line in store.sites.all()] == ["Second", "First"]
    store.sites.rename(first.id, "First again")
    assert [line.title for line in store.sites.all()] == ["First again", "Second"]
    for name in ("one", "two", "three"):
        store.snapshots.keep(second.id, name, second.recipe)
    assert [one.name for one in store.snapshots.all(second.id)] == ["one", "two", "three"]


@given(st.lists(st.text(alphabet='ab{}"é0', max_size=60), min_size=2, max_size=9))
def test_any_line_of_documents_comes_back_from_its_differences(texts: list[str]) -> None:
    bodies = [history.packed(texts[0]), *(history.difference(a, b) for a, b in itertools.pairwise(texts))]
    for k in range(1, len(texts) + 1):
        assert history.last_of(bodies[:k]) == texts[k - 1]


@pytest.mark.parametrize("name", ["../../etc/passwd", "a" * 39, "A" * 40, "a" * 40 + "\n", ""])
def test_no_name_from_outside_becomes_a_path(store: Store, name: str) -> None:
    with pytest.raises(RefusalError, match="40 hex digits"):
        store.files.get(name)


@given(
    st.lists(
        st.text(max_size=12) | st.sampled_from(["..", ".", "a", "link", "%2e%2e", "a/b", "a\\b", ".part-1"]),
        min_size=1,
        max_size=3,
    )
)
def test_whatever_name_is_asked_for_stays_inside_its_folder(names: list[str]) -> None:
    with tempfile.TemporaryDirectory() as outer:
        folder = Path(outer) / "folder"
        (folder / "a").mkdir(parents=True)
        (folder / "link").symlink_to(outer)
        (folder / "a" / "link").symlink_to("/etc")
        try:
            found = inside(folder, *names)
        except RefusalError:
            return
        assert found.resolve().is_relative_to(folder.resolve())
        assert not any(part.startswith(".") for part in names)
        assert names[0] != "link"
        assert names[:2] != ["a", "link"], "nor through a link that is there"


def test_a_start_clears_away_what_kills_left(store: Store) -> None:
    source = stored(store).ground.source
    assert isinstance(source, FileSource)
    needed = store.files.path(source.file)
    site = store.sites.add("Hill", stored(store))
    orphan = store.files.path(needed.parent.name + needed.name[:-1] + "0")
    orphan.write_bytes(b"on disk, never known")
    left = [orphan, needed.parent / ".new-1"]
    for shelf in ("made", "lookups", "overlays"):
        (store.folder / shelf).mkdir(exist_ok=True)
        left += [store.folder / shelf / ".new-2", store.folder / shelf / f"{'1' * 40}.npy"]
    for path in left[1:]:
        path.write_bytes(b"half")
    command = using(store.folder)
    assert not store.sweep(), "not while a command works on the folder"
    assert all(path.exists() for path in left)
    command.release()
    assert store.sweep()
    assert not any(path.exists() for path in left)
    assert needed.read_bytes() == b"heights"
    assert store.sites.state(site.id) == site


def test_a_data_folder_that_cannot_be_written_is_named(tmp_path: Path) -> None:
    (tmp_path / "file").write_text("")
    with pytest.raises(RefusalError, match="expected a data folder to write to; choose another with --data"):
        Store(tmp_path / "file" / "data")


def test_a_later_database_is_refused(store: Store) -> None:
    with store.database.writing() as db:
        db.execute("pragma user_version = 99")
    with pytest.raises(RefusalError, match="database version 99"):
        Store(store.folder)


WRITER = """
import sys
import tempfile
from pathlib import Path
from elvatch.core.document.light import Light
from elvatch.store.store import Store
store = Store(Path(sys.argv[1]))
state = store.sites.all()[0]
state = store.sites.state(state.id)
for k in range(1, 100000):
    light = Light(exposure_ev=(k % 1000) / 500)
    state = store.sites.edit(state.id, state.revision, f"edit {k}", state.recipe.model_copy(update={"light": light}))
    print(k, state.revision, light.exposure_ev, flush=True)
"""


def test_kill_9_in_the_middle_of_edits_loses_nothing_acknowledged(store: Store) -> None:
    site = store.sites.add("Hill", stored(store)).id
    for _ in range(3):
        writer = subprocess.Popen(
            [sys.executable, "-c", WRITER, str(store.folder)], stdout=subprocess.PIPE, text=True
        )
        assert writer.stdout is not None
        told = [writer.stdout.readline() for _ in range(12)]
        os.kill(writer.pid, signal.SIGKILL)
        told += writer.stdout.readlines()
        writer.wait()
        last = [line.split() for line in told if line.endswith("\n") and len(line.split()) == 3][-1]
        found = Store(store.folder).sites.state(site)
        assert found.revision >= int(last[1])
        assert found.revision <= int(last[1]) + 1, "at most the one that was not yet acknowledged"
        if found.revision == int(last[1]):
            assert found.recipe.light.exposure_ev == float(last[2])


def test_shaped_grounds_are_kept_whole_or_not_at_all_and_the_oldest_makes_room(tmp_path: Path) -> None:
    made = GroundShelf(tmp_path / "made", most_bytes=40_000)
    shaped = {f"{k}" * 40: Shaped(plane(10 + k), no_traces(plane(10))) for k in range(4)}
    for k, (name, one) in enumerate(shaped.items()):
        made.put(name, one)
        os.utime(tmp_path / "made" / f"{name}.arrays", (k, k))
    assert made.get("0" * 40) is None, "four grounds of 68 kB are more than is kept"
    last = made.get("3" * 40)
    assert last is not None
    np.testing.assert_array_equal(last.ground.heights_m, shaped["3" * 40].ground.heights_m)
    assert last.traces is not None
    assert made.get("f" * 40) is None
    with pytest.raises(ValueError, match="no content name"):
        made.get("../../etc/passwd")
    plain = Shaped(plane(5))
    made.put("5" * 40, plain)
    again = made.get("5" * 40)
    assert again is not None
    assert again.traces is None
    assert not list((tmp_path / "made").glob(".new-*"))


def test_a_place_that_cannot_be_written_keeps_no_shaped_ground_and_harms_nothing(tmp_path: Path) -> None:
    (tmp_path / "made").write_text("in the way")
    made = GroundShelf(tmp_path / "made")
    made.put("1" * 40, Shaped(plane(5)))
    assert made.get("1" * 40) is None


def test_a_measured_ground_is_kept_part_by_part_and_is_what_measuring_it_whole_gives(tmp_path: Path) -> None:
    surveys, ground, name = Surveys(tmp_path / "surveys"), rolling(), "7" * 40
    assert not surveys.has(name)
    assert surveys.measure(name, ground, None, None)
    found, whole = surveys.get(name, None), terrain(ground)
    assert found is not None
    assert found.name == whole.name
    for one, other in zip((*found.survey[:3], *found.relief), (*whole.survey[:3], *whole.relief), strict=True):
        np.testing.assert_array_equal(one, other)
    # cancelled in the middle, or with a wrong array, it leaves nothing
    token = Token()
    token.cancel()
    with pytest.raises(CancelledError):
        surveys.measure("8" * 40, ground, None, token)
    shelf = Shelf(tmp_path / "shelf", "numbers 1", 1 << 20)
    wrong = Later((3,), np.dtype(np.float32), lambda: np.zeros(4, np.float32))
    with pytest.raises(ValueError, match=r"told was float32 \(3,\)"):
        shelf.put("9" * 40, {"numbers": wrong}, {})
    assert [*(tmp_path / "shelf").iterdir()] == []
    assert [path.name for path in (tmp_path / "surveys").iterdir()] == [f"{name}.arrays"]
    # a byte that flips anywhere in it is found
    path = tmp_path / "surveys" / f"{name}.arrays"
    data = bytearray(path.read_bytes())
    data[len(data) // 2] ^= 1
    path.write_bytes(data)
    assert surveys.get(name, None) is None


def test_models_come_back_from_disk_as_they_were_or_not_at_all(tmp_path: Path) -> None:
    drawn = model.drawn("fence-post", 3, 3, {})
    leaf = Image(np.arange(64, dtype=np.uint8).reshape(4, 4, 4))
    textured = tuple(tuple(one._replace(images=(leaf,)) for one in levels) for levels in drawn.variants[:1])
    name = "a" * 40
    for of in (drawn, model.drawn("boulder", 1, 1, {}), drawn._replace(variants=textured)):
        ModelShelf(tmp_path / "models").put(name, of)
        back = ModelShelf(tmp_path / "models").get(name)
        assert back is not None
        assert back.wide == of.wide
        assert back.triangles == of.triangles
        for found, wanted in zip((back.feet, back.height, *back.crowd), (of.feet, of.height, *of.crowd), strict=True):
            np.testing.assert_array_equal(found, wanted)
        for there, here in zip(back.variants, of.variants, strict=True):
            for one, other in zip(there, here, strict=True):
                for part, like in zip(one[:-4] + one[-1:], other[:-4] + other[-1:], strict=True):
                    np.testing.assert_array_equal(part, like)
                assert (one.grain, one.grain_m, len(one.images)) == (other.grain, other.grain_m, len(other.images))
    assert back is not None
    np.testing.assert_array_equal(back.variants[0][0].images[0].texels, leaf.texels)
    path = tmp_path / "models" / f"{name}.arrays"
    data = bytearray(path.read_bytes())
    data[-10] ^= 1
    path.write_bytes(data)
    assert ModelShelf(tmp_path / "models").get(name) is None
    assert not path.exists()
