"""The stock: texture sets with their history, and their texels for covers, mapped into memory when asked for."""

from __future__ import annotations

import json
import secrets
import sqlite3
import threading
from collections.abc import Callable, Iterator, Mapping
from dataclasses import dataclass

from elvatch.core.refusal import RefusalError
from elvatch.core.stock import loaded, tone
from elvatch.core.stock.description import SetDescription
from elvatch.core.stock.facts import SetFacts
from elvatch.core.stock.pyramid import Pyramid
from elvatch.store.database import Database, now
from elvatch.store.files import Files
from elvatch.store.lookups import Lookups


@dataclass(frozen=True)
class SetState:
    """A set at the revision in force; ``undo`` and ``redo`` say what they would do, None when nothing."""

    name: str
    revision: int
    description: SetDescription
    facts: SetFacts
    swatch: str
    added_at: str
    changed_at: str
    set_aside: bool
    undo: str | None
    redo: str | None


@dataclass(frozen=True)
class Draft:
    """A set about to be stored: described, measured, with its swatch as PNG."""

    description: SetDescription
    facts: SetFacts
    swatch_png: bytes


class Stock(Mapping[str, Pyramid]):
    """All sets by name. As a mapping it gives what covers look up, of each set's content in force.

    Parameters
    ----------
    database, files
        Where they are kept.
    lookups
        Where texels for covers lie once made.
    """

    def __init__(self, database: Database, files: Files, lookups: Lookups) -> None:
        self._database, self._files, self._lookups = database, files, lookups
        self._making: dict[str, threading.Lock] = {}
        self._lock = threading.Lock()

    def add(
        self,
        draft: Draft,
        label: str,
        name: str | None = None,
        within: Callable[[sqlite3.Connection], object] | None = None,
    ) -> str:
        """Store a new set, on disk before this returns; return its name.

        ``within`` does what must happen in the same transaction, so that a kill leaves both or neither.
        """
        name = name or secrets.token_hex(20)
        swatch = self._files.put(draft.swatch_png)
        with self._database.writing() as db:
            columns = _columns(draft.description, draft.facts, swatch)
            columns |= {"name": name, "head": 1, "last_seq": 1, "added_at": now()}
            _insert(db, columns)
            _append(db, name, 1, label, draft.description, draft.facts, swatch)
            if within is not None:
                within(db)
        return name

    def edit(self, name: str, base: int, label: str, draft: Draft | SetDescription) -> SetState:
        """Store a change as a new revision; one that touches only what the set is called keeps its facts.

        Raises
        ------
        RefusalError
            When the revision in force is another than ``base``; nothing is stored.
        """
        swatch = self._files.put(draft.swatch_png) if isinstance(draft, Draft) else None
        with self._database.writing() as db:
            state = self._in_force(db, name, base)
            if isinstance(draft, SetDescription):
                if draft.content != state.description.content:
                    raise ValueError("another content needs its own facts")
                return self._next(db, state, label, draft, state.facts, state.swatch)
            return self._next(db, state, label, draft.description, draft.facts, swatch or state.swatch)

    def remake(self, name: str, base: int, label: str, draft: Draft) -> SetState:
        """Store what was made, over some time, of the content of revision ``base``.

        What the set was called or filed under meanwhile stays.

        Raises
        ------
        RefusalError
            When the content in force is another than that of ``base``; nothing is stored.
        """
        swatch = self._files.put(draft.swatch_png)
        with self._database.writing() as db:
            state = self._state(db, name)
            if state.revision != base and self._content(db, name, base) != state.description.content:
                raise _newer(state)
            description = draft.description.model_copy(update=state.description.named())
            return self._next(db, state, label, description, draft.facts, swatch)

    def step(self, name: str, base: int, by: int) -> SetState:
        """Undo (``by`` -1) or redo (+1) one revision; at either end nothing happens."""
        with self._database.writing() as db:
            self._in_force(db, name, base)
            found = _beside(db, name, base)[0 if by < 0 else 1]
            if found is not None:
                self._point(db, name, found["seq"])
            return self._state(db, name)

    def begin_history_anew(self, name: str) -> None:
        """Forget all revisions of a set but the one in force."""
        with self._database.writing() as db:
            head = self._state(db, name).revision
            db.execute("delete from set_revision where texture_set = ? and seq <> ?", (name, head))

    def set_aside(self, name: str, aside: bool) -> SetState:
        """Take a set off the wall, or put it back; layers that use it keep it either way."""
        with self._database.writing() as db:
            self._state(db, name)
            db.execute("update texture_set set set_aside_at = ? where name = ?", (now() if aside else None, name))
            return self._state(db, name)

    def remove(self, name: str) -> None:
        """Remove a set that was set aside, for good.

        Raises
        ------
        RefusalError
            When a site uses it, now or in its history, or it was not set aside.
        """
        with self._database.writing() as db:
            state = self._state(db, name)
            title = state.description.title
            if not state.set_aside:
                raise RefusalError(title, "a set on the wall", "one that was set aside", "set it aside first")
            users = db.execute(
                "select site.title from site_set join site on site.id = site_set.site where texture_set = ? "
                "union select site.title from snapshot join site on site.id = snapshot.site "
                "join snapshot_set on snapshot_set.snapshot = snapshot.id where texture_set = ? "
                "union select 'kept wear ' || name from wear_preset where texture_set = ? "
                "union select 'the suite ' || name from kept_suite join kept_suite_set on kept_suite_set.suite = id "
                "where texture_set = ? order by 1",
                (name,) * 4,
            ).fetchall()
            if users:
                listed = ", ".join(row["title"] for row in users)[:120]
                raise RefusalError(
                    title,
                    f"a set that is used in {listed} or their history",
                    "one that nothing needs",
                    "leave it set aside",
                )
            db.execute("delete from texture_set where name = ?", (name,))

    def state(self, name: str) -> SetState:
        """Return a set as it stands."""
        with self._database.reading() as db:
            return self._state(db, name)

    def find(self, wanted: str) -> str:
        """Return the name of a set by its name or by a title that only one set has."""
        with self._database.reading() as db:
            rows = db.execute(
                "select name from texture_set where name = ? or title = ? collate nocase", (wanted, wanted)
            ).fetchall()
        if len(rows) != 1:
            found = f"{len(rows)} sets called {wanted[:60]!r}"
            raise RefusalError("texture set", found, "a name or title of one set", "see elvatch stock list")
        return str(rows[0]["name"])

    def same(self, description: SetDescription) -> str | None:
        """Return the name of a set on the wall that is described just so, or None."""
        with self._database.reading() as db:
            rows = db.execute(
                "select name from texture_set where content = ? and title = ? and set_aside_at is null",
                (description.content, description.title),
            ).fetchall()
            return next(
                (row["name"] for row in rows if self._state(db, row["name"]).description == description), None
            )

    def contents(self, names: list[str]) -> list[str]:
        """Return the content in force of each of these sets, '' where there is none."""
        with self._database.reading() as db:
            found = {
                row["name"]: row["content"]
                for row in db.execute(
                    f"select name, content from texture_set where name in ({','.join('?' * len(names))})", names
                )
            }
        return [found.get(name, "") for name in names]

    def made(self) -> dict[tuple[str, int, int], str]:
        """Return sets on the wall that were made here: (kind, seed, size) to name."""
        with self._database.reading() as db:
            rows = db.execute(
                "select name, made_kind, made_seed, size_px from texture_set "
                "where made_kind is not null and set_aside_at is null"
            ).fetchall()
        return {(row["made_kind"], row["made_seed"], row["size_px"]): row["name"] for row in rows}

    def __getitem__(self, name: str) -> Pyramid:
        """Return what covers look up of a set; made from its maps when it is asked for first."""
        with self._database.reading() as db:
            row = db.execute("select content, head from texture_set where name = ?", (name,)).fetchone()
            if row is None:
                raise KeyError(name)
        content = str(row["content"])
        kept = self._lookups.get(content)
        if kept is not None:
            return kept
        with self._lock:
            making = self._making.setdefault(content, threading.Lock())
        with making:
            kept = self._lookups.get(content)
            if kept is None:
                description = self.state(name).description
                made = loaded.stored(description, self._files.get)
                kept = self._lookups.put(content, made)
        with self._lock:
            self._making.pop(content, None)
        return kept

    def __iter__(self) -> Iterator[str]:
        """Iterate over names."""
        with self._database.reading() as db:
            return iter([row["name"] for row in db.execute("select name from texture_set").fetchall()])

    def __len__(self) -> int:
        """Return how many sets there are."""
        with self._database.reading() as db:
            return int(db.execute("select count(*) from texture_set").fetchone()[0])

    def __contains__(self, name: object) -> bool:
        with self._database.reading() as db:
            return db.execute("select 1 from texture_set where name = ?", (name,)).fetchone() is not None

    def _in_force(self, db: sqlite3.Connection, name: str, base: int) -> SetState:
        state = self._state(db, name)
        if state.revision != base:
            raise _newer(state)
        return state

    def _next(
        self,
        db: sqlite3.Connection,
        state: SetState,
        label: str,
        description: SetDescription,
        facts: SetFacts,
        swatch: str,
    ) -> SetState:
        """Put a change of the set as it stands in force; one that changes nothing is none."""
        if description == state.description:
            return state
        name = state.name
        db.execute("delete from set_revision where texture_set = ? and seq > ?", (name, state.revision))
        # a number that never was another's: windows compare what they show by it
        db.execute("update texture_set set last_seq = last_seq + 1 where name = ?", (name,))
        seq = db.execute("select last_seq from texture_set where name = ?", (name,)).fetchone()["last_seq"]
        _append(db, name, seq, label, description, facts, swatch)
        self._point(db, name, seq)
        return self._state(db, name)

    @staticmethod
    def _content(db: sqlite3.Connection, name: str, seq: int) -> str | None:
        """Return the content of a revision, None when it is not there any more."""
        row = db.execute(
            "select description from set_revision where texture_set = ? and seq = ?", (name, seq)
        ).fetchone()
        return SetDescription.model_validate_json(row["description"]).content if row else None

    def _point(self, db: sqlite3.Connection, name: str, seq: int) -> None:
        """Put a revision in force."""
        row = db.execute(
            "select description, facts, swatch from set_revision where texture_set = ? and seq = ?", (name, seq)
        ).fetchone()
        description = SetDescription.model_validate_json(row["description"])
        columns = _columns(description, SetFacts.model_validate_json(row["facts"]), row["swatch"])
        columns["head"] = seq
        changes = ", ".join(f"{column} = :{column}" for column in columns)
        db.execute(f"update texture_set set {changes} where name = :name", columns | {"name": name})

    @staticmethod
    def _state(db: sqlite3.Connection, name: str) -> SetState:
        row = db.execute("select head, added_at, set_aside_at from texture_set where name = ?", (name,)).fetchone()
        if row is None:
            raise RefusalError("texture set", f"no set {name[:40]!r}", "one in the stock", "choose another")
        head = row["head"]
        here = db.execute(
            "select label, description, facts, swatch, made_at from set_revision where texture_set = ? and seq = ?",
            (name, head),
        ).fetchone()
        before, after = _beside(db, name, head)
        return SetState(
            name=name,
            revision=head,
            description=SetDescription.model_validate_json(here["description"]),
            facts=SetFacts.model_validate_json(here["facts"]),
            swatch=here["swatch"],
            added_at=row["added_at"],
            changed_at=here["made_at"],
            set_aside=row["set_aside_at"] is not None,
            undo=here["label"] if before else None,
            redo=after["label"] if after else None,
        )


def _beside(db: sqlite3.Connection, name: str, seq: int) -> tuple[sqlite3.Row | None, sqlite3.Row | None]:
    """Return the revisions before and after one."""
    before = db.execute(
        "select seq, label from set_revision where texture_set = ? and seq < ? order by seq desc limit 1", (name, seq)
    ).fetchone()
    after = db.execute(
        "select seq, label from set_revision where texture_set = ? and seq > ? order by seq limit 1", (name, seq)
    ).fetchone()
    return before, after


def _newer(state: SetState) -> RefusalError:
    return RefusalError(
        state.description.title,
        "a newer change made in another window",
        "the set as it was shown",
        "look at it again; nothing was overwritten",
    )


def _columns(description: SetDescription, facts: SetFacts, swatch: str) -> dict[str, object]:
    said = [description.title, description.category, *description.tags, *description.collections, description.notes]
    made = description.made_by
    return {
        "title": description.title,
        "category": description.category,
        "words": "\n".join(said).casefold(),
        "roles": f" {' '.join(description.maps)} ",
        "collections": json.dumps(description.collections),
        "tags": json.dumps(description.tags),
        "size_px": max(entry.width_px for entry in description.maps.values()),
        "tile_m": description.tile_m,
        "relief_m": description.relief_m,
        "seam": facts.seam,
        "repetition": facts.repetition_far,
        "tone": tone.of(facts.colour),
        "findings": len(facts.findings),
        "content": description.content,
        "swatch": swatch,
        "made_kind": made.kind if made else None,
        "made_seed": made.seed if made else None,
    }


def _insert(db: sqlite3.Connection, columns: dict[str, object]) -> None:
    listed = ", ".join(columns)
    db.execute(f"insert into texture_set ({listed}) values ({', '.join(':' + c for c in columns)})", columns)


def _append(
    db: sqlite3.Connection, name: str, seq: int, label: str, description: SetDescription, facts: SetFacts, swatch: str
) -> None:
    db.execute(
        "insert into set_revision values (?, ?, ?, ?, ?, ?, ?)",
        (
            name,
            seq,
            " ".join(label.split())[:120],
            description.model_dump_json(),
            facts.model_dump_json(),
            swatch,
            now(),
        ),
    )
    files = [(name, seq, file) for file in dict.fromkeys(description.files())]
    db.executemany("insert into set_file values (?, ?, ?)", files)
