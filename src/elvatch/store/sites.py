"""Sites and their history: every finished edit a revision, undo and redo a pointer."""

from __future__ import annotations

import secrets
import sqlite3
from collections.abc import Sequence
from dataclasses import dataclass

from elvatch.core.document import recipe as recipes
from elvatch.core.document.recipe import Recipe
from elvatch.core.refusal import RefusalError
from elvatch.core.results import result
from elvatch.store import history
from elvatch.store.database import Database, now, plain_title


@dataclass(frozen=True)
class SiteRow:
    """A site as the front door lists it."""

    id: str
    title: str
    changed_at: str
    revision: int
    recipe: Recipe


@result
class SiteState:
    """A site at the revision in force; labels say what undo and redo would do, None when nothing."""

    id: str
    title: str
    revision: int
    recipe: Recipe
    changed_at: str
    undo: str | None
    redo: str | None


@result
class SetUse:
    """A site that uses a texture set, and the names of its layers that do."""

    site: str
    title: str
    layers: tuple[str, ...]


class ConflictError(Exception):
    """Somebody else changed the site first; ``state`` is how it stands now."""

    def __init__(self, state: SiteState) -> None:
        super().__init__("the site was changed in another window")
        self.state = state


class SiteTable:
    """All sites of a data folder.

    Parameters
    ----------
    database : Database
        Where they are kept.
    """

    def __init__(self, database: Database) -> None:
        self._database = database

    def all(self) -> list[SiteRow]:
        """Return all sites, the last changed first."""
        with self._database.reading() as db:
            rows = db.execute("select id, title, changed_at, head from site order by changed_no desc").fetchall()
            return [
                SiteRow(r["id"], r["title"], r["changed_at"], r["head"], recipes.read(_text(db, r["id"], r["head"])))
                for r in rows
            ]

    def state(self, site: str) -> SiteState:
        """Return a site as it stands."""
        with self._database.reading() as db:
            return _state(db, site)

    def state_on(self, site: str, base: int) -> SiteState:
        """Return a site as it stands, which must be at the revision ``base``.

        Raises
        ------
        ConflictError
            When the revision in force is another.
        """
        with self._database.reading() as db:
            return _state_on(db, site, base)

    def find(self, title_or_id: str) -> SiteState:
        """Return the site with this id or this name (the last changed one)."""
        wanted = title_or_id.strip().lower()
        for line in self.all():
            if line.id == wanted or line.title.lower() == wanted:
                return self.state(line.id)
        raise RefusalError(
            "site", f"no site {title_or_id!r}", "the name or id of one", "list them with: elvatch sites"
        )

    def add(self, title: str, recipe: Recipe, label: str = "made the site") -> SiteState:
        """Add a site; on disk when this returns."""
        return self.add_with_history(title, [(label, recipe)])

    def add_with_history(
        self, title: str, line: Sequence[tuple[str, Recipe]], snapshots: Sequence[tuple[str, Recipe]] = ()
    ) -> SiteState:
        """Add a site with its history and snapshots, all of it or nothing; on disk when this returns."""
        site = secrets.token_hex(6)
        with self._database.writing() as db:
            db.execute("insert into site (id, title, changed_at) values (?, ?, ?)", (site, plain_title(title), now()))
            for label, recipe in line:
                _append(db, site, label, recipe)
            for name, recipe in snapshots:
                keep_snapshot(db, site, name, recipe)
            return _state(db, site)

    def edit(self, site: str, base: int, label: str, recipe: Recipe) -> SiteState:
        """Store a finished edit made on revision ``base``.

        Raises
        ------
        ConflictError
            When the revision in force is another; nothing is stored.
        """
        with self._database.writing() as db:
            state = _state_on(db, site, base)
            if recipe == state.recipe:
                return state
            _cut_off(db, site, base)
            _append(db, site, label, recipe)
            return _state(db, site)

    def step(self, site: str, base: int, by: int) -> SiteState:
        """Undo (``by`` -1) or redo (+1) one revision; at either end nothing happens."""
        with self._database.writing() as db:
            _state_on(db, site, base)
            found = _beside(db, site, base)[0 if by < 0 else 1]
            if found is not None:
                _touch(db, site)
                db.execute("update site set head = ? where id = ?", (found["seq"], site))
            return _state(db, site)

    def rename(self, site: str, title: str) -> SiteState:
        """Give a site another name."""
        with self._database.writing() as db:
            _state(db, site)
            _touch(db, site)
            db.execute("update site set title = ? where id = ?", (plain_title(title), site))
            return _state(db, site)

    def remove(self, site: str) -> None:
        """Remove a site with its history."""
        with self._database.writing() as db:
            _state(db, site)
            db.execute("delete from site where id = ?", (site,))

    def using(self, texture_set: str) -> list[SetUse]:
        """Return where a texture set lies now: sites by title, and their layers."""
        with self._database.reading() as db:
            rows = db.execute(
                "select id, title, head from site_set join site on id = site where texture_set = ? order by title",
                (texture_set,),
            ).fetchall()
            uses = [
                SetUse(
                    row["id"], row["title"], tuple(recipes.read(_text(db, row["id"], row["head"])).using(texture_set))
                )
                for row in rows
            ]
        return [use for use in uses if use.layers]


def _touch(db: sqlite3.Connection, site: str) -> None:
    """Make a site the last changed one, whatever the clock says."""
    db.execute(
        "update site set changed_at = ?, changed_no = (select max(changed_no) from site) + 1 where id = ?",
        (now(), site),
    )


def _cut_off(db: sqlite3.Connection, site: str, after: int) -> None:
    """Forget the revisions after one, and what only they needed."""
    db.execute("delete from revision where site = ? and seq > ?", (site, after))
    db.execute("delete from site_file where site = ? and since > ?", (site, after))
    db.execute("delete from site_set where site = ? and since > ?", (site, after))


def _append(db: sqlite3.Connection, site: str, label: str, recipe: Recipe) -> None:
    """Put a revision at the end of a history and in force, under a number that never was another's."""
    text = recipes.write(recipe)
    last = db.execute("select last_seq, head from site where id = ?", (site,)).fetchone()
    seq = last["last_seq"] + 1
    line = _line(db, site, last["head"]) if last["head"] is not None else []
    whole = not 0 < len(line) < history.WHOLE_EVERY
    body = history.packed(text) if whole else history.difference(history.last_of(line), text)
    try:
        db.execute(
            "insert into revision values (?, ?, ?, ?, ?, ?)",
            (site, seq, " ".join(label.split())[:120] or "edited", whole, body, now()),
        )
        files = [(site, name, seq) for name in recipe.files()]
        db.executemany("insert or ignore into site_file values (?, ?, ?)", files)
        db.executemany("insert or ignore into site_set values (?, ?, ?)", [(site, s, seq) for s in recipe.sets()])
    except sqlite3.IntegrityError:
        raise not_in_store() from None
    _touch(db, site)
    db.execute("update site set head = ?, last_seq = ? where id = ?", (seq, seq, site))


def not_in_store() -> RefusalError:
    """Return what is said of a recipe over what is not there."""
    return RefusalError(
        "recipe", "a file or texture set that is not in the store", "only what is there", "bring it in first"
    )


def keep_snapshot(db: sqlite3.Connection, site: str, name: str, recipe: Recipe) -> tuple[str, str]:
    """Keep a recipe under a name in a transaction; return its id and when that was.

    Raises
    ------
    RefusalError
        When the name is taken.
    """
    id, made_at = secrets.token_hex(6), now()
    try:
        db.execute(
            "insert into snapshot select ?, ?, ?, ?, ?, 1 + coalesce(max(made_no), 0) from snapshot",
            (id, site, name, recipes.write(recipe), made_at),
        )
    except sqlite3.IntegrityError:
        raise RefusalError(
            "snapshot", f"the name {name!r}, which is taken", "one of its own", "choose another name"
        ) from None
    try:
        db.executemany("insert into snapshot_file values (?, ?)", [(id, one) for one in recipe.files()])
        db.executemany("insert into snapshot_set values (?, ?)", [(id, one) for one in recipe.sets()])
    except sqlite3.IntegrityError:
        raise not_in_store() from None
    return id, made_at


def _line(db: sqlite3.Connection, site: str, seq: int) -> list[bytes]:
    """Return the bodies from the last whole revision up to this one."""
    rows = db.execute(
        "select body from revision where site = ? and seq <= ? and seq >= "
        "(select max(seq) from revision where site = ? and seq <= ? and whole) order by seq",
        (site, seq, site, seq),
    )
    return [row["body"] for row in rows]


def _text(db: sqlite3.Connection, site: str, seq: int) -> str:
    return history.last_of(_line(db, site, seq))


def _beside(db: sqlite3.Connection, site: str, seq: int) -> tuple[sqlite3.Row | None, sqlite3.Row | None]:
    """Return the revisions before and after one."""
    before = db.execute(
        "select seq, label from revision where site = ? and seq < ? order by seq desc limit 1", (site, seq)
    ).fetchone()
    after = db.execute(
        "select seq, label from revision where site = ? and seq > ? order by seq limit 1", (site, seq)
    ).fetchone()
    return before, after


def _state_on(db: sqlite3.Connection, site: str, base: int) -> SiteState:
    state = _state(db, site)
    if state.revision != base:
        raise ConflictError(state)
    return state


def _state(db: sqlite3.Connection, site: str) -> SiteState:
    row = db.execute("select id, title, head, changed_at from site where id = ?", (site,)).fetchone()
    if row is None:
        raise RefusalError("site", f"no site {site[:40]!r}", "the id of one", "go back to the list of sites")
    head = row["head"]
    before, after = _beside(db, site, head)
    label = db.execute("select label from revision where site = ? and seq = ?", (site, head)).fetchone()["label"]
    return SiteState(
        id=row["id"],
        title=row["title"],
        revision=head,
        recipe=recipes.read(_text(db, site, head)),
        changed_at=row["changed_at"],
        undo=label if before else None,
        redo=after["label"] if after else None,
    )
