"""What is kept stays kept: history, conflicts, restarts, collection of files nobody needs."""

from __future__ import annotations

import os
import signal
import subprocess
import sys
from pathlib import Path

import numpy as np
import pytest

from elvatch.core.cover.recipe import Light, Recipe
from elvatch.core.ground.shaped import Shaped, no_traces
from elvatch.core.refusal import RefusalError
from elvatch.store.made import Made
from elvatch.store.sites import ConflictError
from elvatch.store.store import Store
from tests.conftest import file_ground, layer, plane, put_set, recipe


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
    state = store.sites.add("Hill", stored(store))
    kept = store.snapshots.keep(state.id, "  As  it was ", state.recipe)
    other = state.recipe.model_copy(update={"ground": file_ground(plane(0), store.files.put(b"other heights"))})
    # undone and edited over, nothing but the snapshot knows of the first heights
    state = store.sites.edit(store.sites.step(state.id, state.revision, -1).id, state.revision, "other", other)
    with store.database.writing() as db:
        db.execute("delete from revision where seq < ?", (state.revision,))
    assert store.files.collect() == 0
    again = Store(store.folder)
    assert [one.name for one in again.snapshots.all(state.id)] == ["As it was"]
    assert again.files.get(again.snapshots.recipe(state.id, kept.id).files()[0]) == b"heights"
    again.snapshots.remove(state.id, kept.id)
    assert again.files.collect() == 1


@pytest.mark.parametrize("name", ["../../etc/passwd", "a" * 39, "A" * 40, "a" * 40 + "\n", ""])
def test_no_name_from_outside_becomes_a_path(store: Store, name: str) -> None:
    with pytest.raises(RefusalError, match="40 hex digits"):
        store.files.get(name)


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
from pathlib import Path
from elvatch.core.cover.recipe import Light
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
    made = Made(tmp_path / "made", most_bytes=40_000)
    shaped = {f"{k}" * 40: Shaped(plane(10 + k), no_traces(plane(10))) for k in range(4)}
    for k, (name, one) in enumerate(shaped.items()):
        made.put(name, one)
        os.utime(tmp_path / "made" / f"{name}.npz", (k, k))
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
    made = Made(tmp_path / "made")
    made.put("1" * 40, Shaped(plane(5)))
    assert made.get("1" * 40) is None
