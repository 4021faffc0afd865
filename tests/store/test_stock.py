"""The stock as it is kept: history, the wall, what is in use, what is kept once, and data of version 0.2."""

from __future__ import annotations

import io
import json
import sqlite3
import time
from collections.abc import Iterator
from contextlib import contextmanager
from importlib import resources
from pathlib import Path
from typing import Any

import numpy as np
import pytest

from elvatch.core import digest
from elvatch.core.document import recipe as recipes
from elvatch.core.document.fit import Fit, NearDetail
from elvatch.core.refusal import RefusalError
from elvatch.core.stock import generators
from elvatch.core.stock.description import SetDescription
from elvatch.store import database
from elvatch.store.stock import Draft
from elvatch.store.store import Store
from elvatch.store.wall import Wish
from tests.conftest import layer, put_set, recipe


@pytest.fixture
def store(tmp_path: Path) -> Store:
    return Store(tmp_path / "data")


def told(store: Store, name: str, **more: object) -> None:
    """Say something more of a set."""
    state = store.stock.state(name)
    description = SetDescription.model_validate(state.description.model_dump() | more)
    store.stock.edit(name, state.revision, "told", description)


def titles(store: Store, **wish: object) -> list[str]:
    return [line.title for line in store.wall.find(Wish(**wish)).lines]  # type: ignore[arg-type]


def test_a_change_is_a_revision_and_can_be_undone_after_a_restart(store: Store, tmp_path: Path) -> None:
    name = put_set(store)
    told(store, name, title="Bank silt", tags=["damp"])
    again = Store(tmp_path / "data")
    assert again.stock.state(name).description.title == "Bank silt"
    undone = again.stock.step(name, 2, -1)
    assert (undone.description.title, undone.undo, undone.redo) == ("Grey", None, "told")
    assert titles(again, text="damp") == []
    assert again.stock.step(name, 1, 1).description.tags == ("damp",)
    assert titles(again, text="DAMP") == ["Bank silt"]


def test_a_change_on_an_older_state_is_refused_and_overwrites_nothing(store: Store) -> None:
    name = put_set(store)
    state = store.stock.state(name)
    told(store, name, notes="first")
    later = state.description.model_copy(update={"notes": "second"})
    with pytest.raises(RefusalError, match="another window"):
        store.stock.edit(name, state.revision, "told", later)
    assert store.stock.state(name).description.notes == "first"


def test_long_work_keeps_what_the_set_was_called_meanwhile_but_not_over_another_content(store: Store) -> None:
    name = put_set(store)
    state = store.stock.state(name)
    higher = Draft(state.description.model_copy(update={"relief_m": 0.2}), state.facts, b"png")
    told(store, name, title="Peat above the dam", tags=["damp"])
    after = store.stock.remake(name, 1, "made anew", higher)
    assert (after.description.title, after.description.tags) == ("Peat above the dam", ("damp",))
    assert (after.description.relief_m, after.undo) == (0.2, "made anew")
    assert store.stock.step(name, after.revision, -1).description.title == "Peat above the dam"
    store.stock.step(name, after.revision - 1, 1)
    lower = Draft(state.description.model_copy(update={"relief_m": 0.1}), state.facts, b"png")
    with pytest.raises(RefusalError, match="another window"):
        store.stock.remake(name, 1, "made anew", lower)
    assert store.stock.state(name).description.relief_m == 0.2


def test_the_wall_is_searched_by_all_words_and_filtered(store: Store) -> None:
    grey, pale = put_set(store, 0.2, "Slate bank"), put_set(store, 0.8, "Мокрый ил", size=128)
    told(store, grey, category="rock", tags=["Reservoir"], collections=["Vellin Water"])
    told(store, pale, notes="a 50% tone, under_scored", category="soil and mud")
    assert titles(store, text="slate reserv") == ["Slate bank"]
    assert titles(store, text="мокрый") == ["Мокрый ил"]
    assert titles(store, text="50%") == ["Мокрый ил"]
    assert titles(store, text="n_e") == titles(store, text="slate мокрый") == []
    assert titles(store, category="rock") == titles(store, collection="Vellin Water") == ["Slate bank"]
    assert titles(store, tone="pale") == titles(store, least_px=100) == ["Мокрый ил"]
    assert titles(store, roles=("colour", "height")) == ["Slate bank", "Мокрый ил"]
    assert titles(store, roles=("normal",)) == []
    assert titles(store, sort="size") == ["Мокрый ил", "Slate bank"]
    found = store.wall.find(Wish(text="slate"))
    assert (found.total, found.categories["rock"], found.collections) == (2, 1, {"Vellin Water": 1})


def test_seams_sort_and_filter_the_wall(store: Store) -> None:
    put_set(store, title="Whole")
    broken = put_set(store, title="Broken")
    state = store.stock.state(broken)
    facts = state.facts.model_copy(update={"seam": 4.2})
    changed = state.description.model_copy(update={"relief_m": 0.2})
    store.stock.edit(broken, 1, "spoiled", Draft(changed, facts, b"png"))
    assert titles(store, seam="shows") == ["Broken"]
    assert titles(store, sort="seam") == ["Whole", "Broken"]


@pytest.mark.parametrize("part", ["its own", "steep planes", "near detail"])
def test_a_set_in_use_cannot_be_removed_and_says_where_it_is(store: Store, part: str) -> None:
    name = put_set(store)
    own = name if part == "its own" else put_set(store, 0.7, "Under it")
    parts: dict[str, dict[str, Any]] = {
        "steep planes": {"steep_set": name},
        "near detail": {"detail": NearDetail(set=name)},
    }
    fit = Fit().model_copy(update=parts.get(part, {}))
    laid = layer("base", 0).model_copy(update={"set": own, "name": "Bed", "fit": fit})
    height = np.linspace(0, 1, 64, dtype=np.float32).reshape(8, 8)
    stream = io.BytesIO()
    np.save(stream, height)
    made = recipe((laid,))
    source = made.ground.source.model_copy(update={"file": store.files.put(stream.getvalue())})
    site = store.sites.add(
        "Vellin", made.model_copy(update={"ground": made.ground.model_copy(update={"source": source})})
    )
    (use,) = store.sites.using(name)
    assert (use.site, use.title, use.layers) == (site.id, "Vellin", ("Bed",))
    with pytest.raises(RefusalError, match="set it aside first"):
        store.stock.remove(name)
    store.stock.set_aside(name, True)
    assert "Grey" not in titles(store)
    assert titles(store, aside=True) == ["Grey"]
    assert store.stock[name].size == 64, "layers that use it keep it"
    with pytest.raises(RefusalError, match="used in Vellin"):
        store.stock.remove(name)
    store.sites.remove(site.id)
    store.stock.remove(name)
    assert name not in store.stock


def test_equal_files_are_kept_once_and_go_with_the_last_set(store: Store, tmp_path: Path) -> None:
    def files() -> int:
        return sum(1 for path in (tmp_path / "data/files").rglob("*") if path.is_file())

    first = put_set(store)
    count = files()
    second = put_set(store, title="The same again")
    assert files() == count
    for name in (first, second):
        store.stock.set_aside(name, True)
        store.stock.remove(name)
    store.files.collect()
    assert files() == 0


def test_covers_look_up_what_is_in_force_and_a_later_start_finds_it_made(store: Store, tmp_path: Path) -> None:
    name = put_set(store, 0.2)
    before = store.stock[name]
    assert float(before.mean[0]) == pytest.approx(0.2, abs=0.002)
    state = store.stock.state(name)
    other = store.stock.state(put_set(store, 0.6, "Other")).description
    changed = state.description.model_copy(update={"maps": other.maps})
    store.stock.edit(name, 1, "files replaced", Draft(changed, state.facts, b"png"))
    assert float(store.stock[name].mean[0]) == pytest.approx(0.6, abs=0.002)
    store.stock.step(name, 2, -1)
    assert store.stock[name] is before
    made = sorted((tmp_path / "data/lookups").glob("*.arrays"))
    times = [path.stat().st_ino for path in made]
    np.testing.assert_array_equal(Store(tmp_path / "data").stock[name].texels, before.texels)
    assert [path.stat().st_ino for path in sorted((tmp_path / "data/lookups").glob("*.arrays"))] == times


@pytest.mark.parametrize("harm", ["cut short", "zeros behind its header", "one bit", "another layout", "nothing"])
def test_a_lookup_file_that_is_not_whole_is_made_anew(store: Store, tmp_path: Path, harm: str) -> None:
    name = put_set(store)
    texels = np.array(store.stock[name].texels)
    (path,) = (tmp_path / "data/lookups").glob("*.arrays")
    data = bytearray(path.read_bytes())
    if harm == "zeros behind its header":
        data[4096:] = bytes(len(data) - 4096)
    elif harm == "one bit":
        data[-5] ^= 4
    elif harm == "another layout":
        data = data.replace(b'"lookup 2', b'"lookup 1')
    path.write_bytes(data[:3000] if harm == "cut short" else data[:0] if harm == "nothing" else data)
    np.testing.assert_array_equal(Store(tmp_path / "data").stock[name].texels, texels)


def test_a_file_let_go_while_it_is_put_again_is_there_in_the_end(
    store: Store, monkeypatch: pytest.MonkeyPatch
) -> None:
    name = store.files.put(b"the same bytes")
    writing = store.database.writing

    @contextmanager
    def late() -> Iterator[sqlite3.Connection]:
        # another window's failed intake lets its copy go just before this one's row is written
        monkeypatch.setattr(store.database, "writing", writing)
        store.files.let_go([name])
        with writing() as db:
            yield db

    monkeypatch.setattr(store.database, "writing", late)
    assert store.files.put(b"the same bytes") == name
    assert store.files.get(name) == b"the same bytes"


def _version_one(folder: Path) -> tuple[str, np.ndarray]:
    """A data folder as version 0.2 left it: one set of texels, used by a site."""
    made = generators.stored(generators.draw("wet-silt", 64, 3))
    stream = io.BytesIO()
    np.save(stream, made.texels)
    (folder / "files").mkdir(parents=True)
    db = sqlite3.connect(folder / "elvatch.sqlite")
    db.executescript(resources.files("elvatch.store").joinpath("schema.sql").read_text("utf-8"))
    db.execute("pragma user_version = 1")
    names = []
    for data in (stream.getvalue(), b"swatch", b"heights"):
        names.append(digest.of_bytes(data))
        path = folder / "files" / names[-1][:2] / names[-1][2:]
        path.parent.mkdir(parents=True, exist_ok=True)
        path.write_bytes(data)
        db.execute("insert into file values (?, ?, 'then')", (names[-1], len(data)))
    name = "5" * 40
    db.execute(
        "insert into texture_set values (?, 'Wet silt', 'wet-silt', 3, 64, ?, ?, ?, ?, 'then')",
        (name, made.tile_m, made.relief_m, names[0], names[1]),
    )
    laid = recipe((layer("base", 0).model_copy(update={"set": name}),))
    db.execute("insert into site values ('s', 'Old', 1, 'then')")
    db.execute("insert into revision values ('s', 1, 'began', ?, 'then')", (recipes.write(laid),))
    db.execute("insert into revision_set values ('s', 1, ?)", (name,))
    db.commit()
    db.close()
    return name, made.texels[: 64 * 64]


def test_sets_of_an_earlier_version_are_described_by_their_maps_and_stay_in_use(tmp_path: Path) -> None:
    name, before = _version_one(tmp_path / "data")
    store = Store(tmp_path / "data")
    state = store.stock.state(name)
    assert (state.description.title, state.description.category) == ("Wet silt", "soil and mud")
    assert state.description.made_by is not None
    assert store.sites.using(name)[0].title == "Old"
    after = store.stock[name].texels[: 64 * 64].astype(int)
    # colours went through 16-bit sRGB and slopes through 16-bit normals: a few codes of 65535 apart
    assert np.abs(after - before)[:, :7].max() < 40
    assert np.abs(after - before)[:, 7:9].max() < 12
    store.files.collect()
    assert Store(tmp_path / "data").stock.state(name).revision == 1
    assert json.loads(state.description.model_dump_json())["maps"]["normal"]["bits"] == 16


def test_an_upgrade_that_was_killed_between_its_two_writes_goes_on(tmp_path: Path) -> None:
    name, _ = _version_one(tmp_path / "data")
    store = Store(tmp_path / "data")
    described = store.stock.state(name)
    # as an earlier version left it: described by its maps, and still listed as to be described
    with store.database.writing() as db:
        db.execute(
            "insert into texture_set_1 select name, 'Silt', 'wet-silt', 3, 64, 1, 1, swatch, swatch, 'then' "
            "from texture_set"
        )
    again = Store(tmp_path / "data")
    assert again.stock.state(name) == described
    with again.database.reading() as db:
        assert db.execute("select count(*) from texture_set_1").fetchone()[0] == 0


def test_an_upgrade_is_whole_or_not_at_all(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    name, _ = _version_one(tmp_path / "data")
    real, done = database.statements, 0

    def killed(sql: str) -> Iterator[str]:
        nonlocal done
        for statement in real(sql):
            done += 1
            if done == 9:
                raise KeyboardInterrupt
            yield statement

    monkeypatch.setattr(database, "statements", killed)
    with pytest.raises(KeyboardInterrupt):
        Store(tmp_path / "data")
    monkeypatch.undo()
    store = Store(tmp_path / "data")
    assert store.stock.state(name).description.title == "Wet silt"
    assert store.sites.state("s").title == "Old"


def test_a_thousand_sets_are_searched_within_fifty_milliseconds(store: Store) -> None:
    draft = store.stock.state(put_set(store))
    for k in range(999):
        description = draft.description.model_copy(
            update={"title": f"Bank {k}", "tags": (f"tag{k % 37}", "shore"), "notes": "found above the dam " * 3}
        )
        store.stock.add(Draft(description, draft.facts, b"png"), "brought in")
    quickest = 1.0
    for _ in range(5):
        began = time.perf_counter()
        found = store.wall.find(Wish(text="shore tag3 dam"))
        quickest = min(quickest, time.perf_counter() - began)
    assert len(found.lines) == sum("tag3" in f"tag{k % 37}" for k in range(999))
    assert quickest < 0.05
